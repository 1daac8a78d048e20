// A region of a picture that is to be traced again: drawn on it, or typed in percent.

import { onDrag } from "./gestures.js";
import { byId, on } from "./page.js";

const EDGES = ["left", "top", "right", "bottom"];

/**
 * @param {HTMLElement} frame what holds the picture
 * @param {HTMLImageElement} image
 * @returns {() => boolean} whether presses on the picture draw a region now
 */
export function regioning(frame, image) {
  const form = /** @type {HTMLFormElement} */ (document.getElementById("again"));
  const button = byId("draw-region"), shown = byId("region");
  const field = (/** @type {string} */ name) => /** @type {HTMLInputElement} */ (form.elements.namedItem(name));
  const isDrawn = () => button.getAttribute("aria-pressed") === "true";

  /** @param {PointerEvent} event */
  function at(event) {
    const box = image.getBoundingClientRect();
    const shares = [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
    return shares.map((share) => Math.min(100, Math.max(0, share * 100)));
  }

  /** What is typed, on the picture. */
  function show() {
    const [left, top, right, bottom] = EDGES.map((name) => Number(field(name).value.replace(",", ".")));
    shown.hidden = !(left < right && top < bottom);
    Object.assign(shown.style, { left: `${left}%`, top: `${top}%`, width: `${right - left}%`, height: `${bottom - top}%` });
  }

  button.addEventListener("click", () => {
    button.setAttribute("aria-pressed", String(!isDrawn()));
    frame.classList.toggle("drawing", isDrawn());
    if (isDrawn()) show();
    else shown.hidden = true;
  });
  on("input", "#again input", show);
  onDrag("#frame", {
    start: (element, event) => (isDrawn() ? at(event) : null),
    move(from, event) {
      const to = at(event);
      const edges = [0, 1].map((k) => Math.min(from[k], to[k])).concat([0, 1].map((k) => Math.max(from[k], to[k])));
      EDGES.forEach((name, k) => (field(name).value = edges[k].toFixed(1)));
      show();
    },
  });
  return isDrawn;
}
