// Bars moved on their strip: dragged, or with the arrow keys; the lights beside them take it up.

import { MM } from "./sheets.js";

export function dragging(entries, host) {
  let drag = null;
  const sheet = () => host().querySelector("#elevation");
  const step = () => sheet().dataset.step;
  const shift = (bar, steps, keep) =>
    entries.send({ entry: `${bar.dataset.moveEntry}.shift`, value: step().replace(/^1/, String(steps)), keep }, bar);

  // Whole steps between where the bar was taken hold of and where the pointer is.
  function stepsTo(event) {
    const across = sheet().dataset.mirrored === "1" ? drag.x - event.clientX : event.clientX - drag.x;
    const pixels = drag.bar.dataset.bar === "columns" ? across : drag.y - event.clientY;
    return Math.round(pixels / (sheet().getScreenCTM().a * Number(sheet().dataset.scale)) / MM[step()]);
  }

  document.addEventListener("pointerdown", (event) => {
    const bar = event.target.closest?.("[data-bar]");
    if (!bar || event.button !== 0) return;
    event.preventDefault();
    bar.focus();
    bar.setPointerCapture(event.pointerId);
    drag = { bar, x: event.clientX, y: event.clientY, steps: 0 };
  });
  document.addEventListener("pointermove", (event) => {
    if (!drag) return;
    const steps = stepsTo(event);
    if (steps === drag.steps) return;
    drag.steps = steps;
    shift(drag.bar, steps, "0");
  });
  document.addEventListener("pointerup", () => {
    if (drag?.steps) shift(drag.bar, drag.steps, "1");
    drag = null;
  });
  document.addEventListener("keydown", (event) => {
    const bar = event.target.closest?.("[data-bar]");
    const keys = bar?.dataset.bar === "columns" ? ["ArrowLeft", "ArrowRight"] : ["ArrowDown", "ArrowUp"];
    if (event.key === "Escape" && drag) {
      drag = null;
      return entries.send({ entry: "", value: "", keep: "0" }, event.target);
    }
    if (!bar || !keys.includes(event.key)) return;
    event.preventDefault();
    shift(bar, (event.key === keys[1] ? 1 : -1) * (event.shiftKey ? 10 : 1), "1");
  });
}
