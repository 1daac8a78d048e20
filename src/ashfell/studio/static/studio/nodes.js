// Points of a path moved on their sheet: dragged, or with the arrow keys, in whole steps.

import { MM, inUnit, pointOn } from "./sheets.js";

export function nodes(entries) {
  let drag = null;
  const sheet = () => document.getElementById("points");
  const step = () => MM[sheet().dataset.step];
  const place = (node, x, y, keep) =>
    entries.send({ entry: `${node.dataset.node}.placed`, value: `${round(x)} mm; ${round(y)} mm`, keep }, node);
  const round = (value) => String(Math.round(value * 1e6) / 1e6);
  // The nearest whole step to where the pointer is.
  const under = (event) => inUnit(sheet(), pointOn(sheet(), event)).map((mm) => Math.round(mm / step()) * step());

  document.addEventListener("pointerdown", (event) => {
    const node = event.target.closest?.("[data-node]");
    if (!node || event.button !== 0) return;
    event.preventDefault();
    node.focus();
    sheet().setPointerCapture(event.pointerId);
    drag = { node, at: null };
  });
  document.addEventListener("pointermove", (event) => {
    if (!drag || !sheet()) return;
    const at = under(event);
    if (drag.at && at[0] === drag.at[0] && at[1] === drag.at[1]) return;
    drag.at = at;
    place(drag.node, ...at, "0");
  });
  document.addEventListener("pointerup", () => {
    if (drag?.at) place(drag.node, ...drag.at, "1");
    drag = null;
  });
  document.addEventListener("keydown", (event) => {
    if (event.key === "Escape" && drag) {
      drag = null;
      return entries.send({ entry: "", value: "", keep: "0" }, event.target);
    }
    const node = event.target.closest?.("[data-node]");
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
    if (!node || !way) return;
    event.preventDefault();
    const by = step() * (event.shiftKey ? 10 : 1);
    place(node, Number(node.dataset.x) + way[0] * by, Number(node.dataset.y) + way[1] * by, "1");
  });
}
