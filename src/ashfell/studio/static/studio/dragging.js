// Bars moved on their strip: dragged, or with the arrow keys; the lights beside them take it up.

import { onArrows, onDrag } from "./gestures.js";
import { MM } from "./sheets.js";

/** @param {import("./entries.js").Entries} entries */
export function dragging(entries) {
  const sheet = () => /** @type {SVGSVGElement} */ (document.querySelector("#elevation"));
  const step = () => /** @type {keyof typeof MM} */ (sheet().dataset.step);
  /** @type {(bar: SVGElement, steps: number, keep: string) => void} */
  const shift = (bar, steps, keep) =>
    void entries.send({ entry: `${bar.dataset.moveEntry}.shift`, value: step().replace(/^1/, String(steps)), keep }, bar);

  onDrag("[data-bar]", {
    start: (element, event) => {
      const bar = /** @type {SVGElement} */ (element);
      bar.focus();
      bar.setPointerCapture(event.pointerId);
      return { bar, x: event.clientX, y: event.clientY, steps: 0 };
    },
    // Whole steps between where the bar was taken hold of and where the pointer is.
    move: (held, event) => {
      const across = sheet().dataset.mirrored === "1" ? held.x - event.clientX : event.clientX - held.x;
      const pixels = held.bar.dataset.bar === "columns" ? across : held.y - event.clientY;
      const scale = /** @type {DOMMatrix} */ (sheet().getScreenCTM()).a * Number(sheet().dataset.scale);
      const steps = Math.round(pixels / scale / MM[step()]);
      if (steps === held.steps) return;
      held.steps = steps;
      shift(held.bar, steps, "0");
    },
    end: (held) => held.steps && shift(held.bar, held.steps, "1"),
    cancel: (held) => void entries.send({ entry: "", value: "", keep: "0" }, held.bar),
  });
  onArrows("[data-bar]", (bar, [right, up]) => {
    const steps = bar.dataset.bar === "columns" ? right : up;
    if (!steps) return false;
    shift(/** @type {any} */ (bar), steps, "1");
    return true;
  });
}
