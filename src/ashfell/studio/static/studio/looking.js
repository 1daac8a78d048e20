// What is looked at: which cell the strips show, which side is drawn, whose points are shown, where it is cut.

import { onArrows, onDrag } from "./gestures.js";
import { byId, elevation, on } from "./page.js";
import { pointOn } from "./sheets.js";

/** @typedef {(values: Record<string, string | undefined>, field?: Element) => Promise<void>} Look */

/**
 * @param {import("./entries.js").Entries} entries
 * @param {() => boolean} measuring whether a click on the drawing measures
 * @returns {Look}
 */
export function looking(entries, measuring) {
  const workspace = () => byId("workspace");
  /** @type {Look} */
  const look = (values, field = workspace()) => {
    Object.assign(workspace().dataset, values);
    return entries.send({ entry: "", value: "", keep: "0", look: "1" }, field);
  };

  // Before anything is sent: what a button sets, if anything, is shown with the points it asks for.
  on("click", "[data-points]:not(#workspace)", (press) => {
    workspace().dataset.points = press.dataset.points;
    if (!press.dataset.set) void look({});
  }, { capture: true });
  on("click", "[data-look], [data-at]:not(#workspace)", (press) => {
    if (press.dataset.look) void look({ [press.dataset.look]: press.dataset.value });
    else if (!measuring()) void look({ at: press.dataset.at });
  });
  on("keydown", "path.pick, path.hole, path.beside-it", (pick, event) => {
    if (event.key !== "Enter" && event.key !== " ") return;
    event.preventDefault();
    void look({ at: pick.dataset.at });
  });
  cutting(look);
  return look;
}

/**
 * The line of a section, on the key elevation: typed, dragged, or moved with the arrow keys.
 * @param {Look} look
 */
function cutting(look) {
  /** @type {{ asked: string | null }} */
  const state = { asked: null }; // where the section is to be taken, while an earlier place is on its way
  /** @param {number} share */
  async function cutAt(share) {
    const waiting = state.asked !== null;
    state.asked = String(Math.min(0.99, Math.max(0.01, share)));
    if (waiting) return;
    while (state.asked !== null) {
      const now = /** @type {string} */ (state.asked);
      await look({ cut: now });
      if (state.asked === now) state.asked = null;
    }
  }

  on("change", "[data-look-typed]", (typed) => {
    state.asked = null;
    void look({ [typed.dataset.lookTyped || ""]: `@${typed.value}` }, typed);
  });
  onDrag("#cut-line", {
    start: (line, event) => {
      /** @type {SVGElement} */ (line).focus();
      elevation().setPointerCapture(event.pointerId);
      return line;
    },
    move: (line, event) => {
      const [x, y] = pointOn(elevation(), event);
      const { keyAxis, ...told } = /** @type {HTMLElement} */ (document.querySelector(".key")).dataset;
      const [left, top, width, height] = [told.keyLeft, told.keyTop, told.keyWidth, told.keyHeight].map(Number);
      void cutAt(keyAxis === "rows" ? 1 - (y - top) / height : (x - left) / width);
    },
  });
  onArrows("#cut-line", (line, [right, up]) => void cutAt(Number(byId("workspace").dataset.cut) + (right + up) * 0.01));
}
