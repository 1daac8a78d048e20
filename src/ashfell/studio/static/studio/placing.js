// @ts-check
// Openings moved on the elevation of their wall: dragged along and up, or with the arrow keys.

import { onArrows, onDrag } from "./gestures.js";
import { elevation } from "./page.js";
import { MM } from "./sheets.js";

/** @typedef {{ hole: SVGElement, x: number, y: number, across: number, up: number }} Held */

/**
 * @param {import("./entries.js").Entries} entries
 * @param {import("./looking.js").Look} look
 */
export function placing(entries, look) {
  const step = () => /** @type {keyof typeof MM} */ (elevation().dataset.step);
  const facing = () => (elevation().dataset.mirrored === "1" ? -1 : 1);
  /** @type {(hole: SVGElement, across: number, up: number, keep: string) => Promise<void>} */
  const move = (hole, across, up, keep) => {
    const by = [across * facing(), up].map((steps) => step().replace(/^1/, String(steps))).join("; ");
    return entries.send({ entry: `${hole.dataset.place}.moved`, value: by, keep }, hole);
  };

  /** @type {import("./gestures.js").Drag<Held>} */
  const drag = {
    start: (element, event) => {
      const hole = /** @type {SVGElement} */ (element);
      hole.focus();
      return { hole, x: event.clientX, y: event.clientY, across: 0, up: 0 };
    },
    move: (held, event) => {
      const scale = /** @type {DOMMatrix} */ (elevation().getScreenCTM()).a * Number(elevation().dataset.scale) * MM[step()];
      const [across, up] = [(event.clientX - held.x) / scale, (held.y - event.clientY) / scale].map(Math.round);
      if (across === held.across && up === held.up) return;
      Object.assign(held, { across, up });
      void move(held.hole, across, up, "0");
    },
    // What was moved is kept and worked on; a press that moved nothing picks it.
    end: ({ hole, across, up }) => {
      if (across || up) void move(hole, across, up, "1").then(() => look({ at: hole.dataset.place }));
    },
    cancel: ({ hole }) => void entries.send({ entry: "", value: "", keep: "0" }, hole),
  };
  onDrag("[data-place]", drag);
  onArrows("[data-place]", (hole, [right, up]) => void move(/** @type {any} */ (hole), right, up, "1"));
}
