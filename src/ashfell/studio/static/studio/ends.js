// The ends of walls, dragged on the plan or moved with the arrow keys; walls that meet there go with them.

import { onArrows, onDrag } from "./gestures.js";
import { drawing, isTaken } from "./page.js";
import { MM } from "./sheets.js";
import { apart, ends, point, snapped, spotOf } from "./snapping.js";

/** @param {import("./entries.js").Entries} entries */
export function movingEnds(entries) {
  onDrag("[data-end]", {
    first: true,
    start: (element) => {
      if (isTaken()) return null;
      const handle = /** @type {SVGElement} */ (element);
      handle.focus();
      const from = spotOf(handle);
      return { handle, from, to: from, others: ends().filter((end) => apart(end, from) > 1) };
    },
    move: (held, event) => {
      const to = snapped(event, null, held.others);
      if (to[0] === held.to[0] && to[1] === held.to[1]) return;
      held.to = to;
      void entries.send({ entry: held.handle.dataset.end || "", value: point(to), keep: "0" }, held.handle);
    },
    end: ({ handle, from, to }) => {
      if (to[0] === from[0] && to[1] === from[1]) return;
      void entries.send({ entry: handle.dataset.end || "", value: point(to), keep: "1" }, handle);
    },
    cancel: (held) => void entries.send({ entry: "", value: "", keep: "0" }, held.handle),
  });
  onArrows("[data-end]", (element, [right, up]) => {
    const handle = /** @type {any} */ (element);
    const [x, y] = spotOf(handle);
    const by = MM[/** @type {keyof typeof MM} */ (drawing().dataset.step)];
    void entries.send({ entry: handle.dataset.end, value: point([x + right * by, y + up * by]), keep: "1" }, handle);
  });
}
