// Points of a path moved on their sheet: dragged, or with the arrow keys, in whole steps.

import { onArrows, onDrag } from "./gestures.js";
import { MM, inUnit, pointOn } from "./sheets.js";

/** @param {import("./entries.js").Entries} entries */
export function nodes(entries) {
  const sheet = () => /** @type {SVGSVGElement | null} */ (/** @type {unknown} */ (document.getElementById("points")));
  const step = () => MM[/** @type {keyof typeof MM} */ (sheet()?.dataset.step)];
  /** @param {number} value */
  const round = (value) => String(Math.round(value * 1e6) / 1e6);
  /** @type {(node: any, x: number, y: number, keep: string) => void} */
  const place = (node, x, y, keep) =>
    void entries.send({ entry: `${node.dataset.node}.placed`, value: `${round(x)} mm; ${round(y)} mm`, keep }, node);

  onDrag("[data-node]", {
    start: (element, event) => {
      const node = /** @type {SVGElement} */ (element);
      node.focus();
      sheet()?.setPointerCapture(event.pointerId);
      return { node, at: /** @type {number[] | null} */ (null) };
    },
    // The nearest whole step to where the pointer is.
    move: (held, event) => {
      const drawn = sheet();
      if (!drawn) return;
      const at = inUnit(drawn, pointOn(drawn, event)).map((mm) => Math.round(mm / step()) * step());
      if (held.at && at[0] === held.at[0] && at[1] === held.at[1]) return;
      held.at = at;
      place(held.node, at[0], at[1], "0");
    },
    end: (held) => held.at && place(held.node, held.at[0], held.at[1], "1"),
    cancel: (held) => void entries.send({ entry: "", value: "", keep: "0" }, held.node),
  });
  onArrows("[data-node]", (node, [right, up]) =>
    place(node, Number(node.dataset.x) + right * step(), Number(node.dataset.y) + up * step(), "1"));
}
