// Openings moved on the elevation of their wall or on the plan, lamps before it, walls shifted there: dragged, or with the arrow keys.

import { onArrows, onDrag } from "./gestures.js";
import { drawing, isTaken } from "./page.js";
import { MM } from "./sheets.js";

/** @typedef {{ thing: SVGElement, x: number, y: number, right: number, up: number }} Held */

/**
 * @param {import("./entries.js").Entries} entries
 * @param {import("./looking.js").Look} look
 */
export function placing(entries, look) {
  const step = () => /** @type {keyof typeof MM} */ (drawing().dataset.step);
  const facing = () => (drawing().dataset.mirrored === "1" ? -1 : 1);
  /** @param {number} steps */
  const length = (steps) => step().replace(/^1/, String(steps));

  /**
   * What is sent of a move to the right and up, in steps: on the plan a thing goes the one way that it can.
   * @param {SVGElement} thing
   * @param {number} right
   * @param {number} up
   */
  function asked(thing, right, up) {
    const { place, shift, along, hung } = thing.dataset;
    if (hung) {
      const [east, north] = hung.split(" ").map((share) => length(Number((right * facing() * Number(share)).toFixed(6))));
      return { entry: `${place}.moved`, value: `${east}; ${north}; ${length(up)}` };
    }
    if (!along) return { entry: `${place}.moved`, value: `${length(right * facing())}; ${length(up)}` };
    const [across, upwards] = along.split(" ").map(Number);
    const by = length(Math.round(right * across + up * upwards));
    return shift ? { entry: `${shift}.shifted`, value: by } : { entry: `${place}.moved`, value: `${by}; 0` };
  }
  /** @type {(thing: SVGElement, right: number, up: number, keep: string) => Promise<void>} */
  const move = (thing, right, up, keep) => entries.send({ ...asked(thing, right, up), keep }, thing);

  /** @type {import("./gestures.js").Drag<Held>} */
  const drag = {
    start: (element, event) => {
      if (isTaken()) return null;
      const thing = /** @type {SVGElement} */ (element);
      thing.focus();
      return { thing, x: event.clientX, y: event.clientY, right: 0, up: 0 };
    },
    move: (held, event) => {
      const scale = /** @type {DOMMatrix} */ (drawing().getScreenCTM()).a * Number(drawing().dataset.scale) * MM[step()];
      const [right, up] = [(event.clientX - held.x) / scale, (held.y - event.clientY) / scale].map(Math.round);
      if (right === held.right && up === held.up) return;
      Object.assign(held, { right, up });
      void move(held.thing, right, up, "0");
    },
    // What was moved is kept and worked on; a press that moved nothing picks it.
    end: ({ thing, right, up }) => {
      if (right || up) void move(thing, right, up, "1").then(() => look({ at: thing.dataset.place || thing.dataset.shift }));
    },
    cancel: ({ thing }) => void entries.send({ entry: "", value: "", keep: "0" }, thing),
  };
  onDrag("[data-place], [data-shift]", drag);
  onArrows("[data-place]", (thing, [right, up]) => void move(/** @type {any} */ (thing), right, up, "1"));
}
