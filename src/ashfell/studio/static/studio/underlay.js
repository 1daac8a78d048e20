// The image or drawing under the elevation: laid there from a file, moved, and scaled by two points and their true distance.

import { inUnit, onSheet, pointOn } from "./sheets.js";

export function underlay(entries, bench) {
  const field = (id) => document.getElementById(id);
  const sheet = () => field("elevation");
  let mode = ""; // "move" or "scale"
  let points = [];
  let drag = null;

  document.addEventListener("change", (event) => {
    const { id, files } = event.target;
    if (id === "trace" && files[0]) {
      const form = new FormData();
      form.append("file", files[0]);
      entries.post(bench.dataset.underlayUrl, { keep: "1" }, event.target, form);
      event.target.value = "";
    }
    if (id === "underlay-length" && points.length === 2) {
      const value = [...points.flat().map((mm) => `${mm} mm`), event.target.value].join("; ");
      set("");
      entries.send({ entry: "underlay.scaled", value, keep: "1" }, event.target);
    }
  });
  document.addEventListener("click", (event) => {
    if (event.target.id === "underlay-move") return set(mode === "move" ? "" : "move");
    if (event.target.id === "underlay-scale") return set(mode === "scale" ? "" : "scale");
    if (mode !== "scale" || !event.target.closest?.("#elevation")) return;
    event.preventDefault();
    event.stopPropagation();
    points = points.length === 2 ? [] : points;
    points.push(under(event));
    mark();
    field("underlay-true").hidden = points.length < 2;
    if (points.length === 2) field("underlay-length").focus();
  }, { capture: true });
  document.addEventListener("pointerdown", (event) => {
    if (mode !== "move" || event.button !== 0 || !event.target.closest?.("#elevation")) return;
    event.preventDefault();
    event.stopPropagation();
    drag = { at: under(event), by: [0, 0], x: pointOn(sheet(), event) };
  }, { capture: true });
  document.addEventListener("pointermove", (event) => {
    if (!drag) return;
    const [now, x] = [under(event), pointOn(sheet(), event)];
    drag.by = [Math.round(now[0] - drag.at[0]), Math.round(now[1] - drag.at[1])];
    field("traced").setAttribute("transform", `translate(${x[0] - drag.x[0]} ${x[1] - drag.x[1]})`);
  });
  document.addEventListener("pointerup", () => {
    if (!drag) return;
    const [across, up] = drag.by;
    drag = null;
    field("traced").removeAttribute("transform");
    if (across || up) entries.send({ entry: "underlay.moved", value: `${across} mm; ${up} mm`, keep: "1" }, sheet());
  });
  document.addEventListener("keydown", (event) => {
    if (event.key === "Escape" && mode) set("");
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
    if (event.target.id !== "underlay-move" || !way) return;
    event.preventDefault();
    const by = event.shiftKey ? 10 : 1;
    entries.send({ entry: "underlay.moved", value: `${way[0] * by} mm; ${way[1] * by} mm`, keep: "1" }, event.target);
  });

  const under = (event) => inUnit(sheet(), pointOn(sheet(), event));
  function set(next) {
    mode = next;
    points = [];
    field("measured")?.replaceChildren();
    if (field("underlay-true")) field("underlay-true").hidden = true;
    shown();
  }
  function mark() {
    const circles = points.map((point) => {
      const circle = document.createElementNS("http://www.w3.org/2000/svg", "circle");
      const [cx, cy] = onSheet(sheet(), point);
      Object.entries({ cx, cy, r: 3.5 }).forEach(([key, value]) => circle.setAttribute(key, value));
      return circle;
    });
    field("measured").replaceChildren(...circles);
  }
  function shown() {
    if (!field("underlay-move")) return (mode = "");
    field("underlay-move").setAttribute("aria-pressed", String(mode === "move"));
    field("underlay-scale").setAttribute("aria-pressed", String(mode === "scale"));
    sheet().classList.toggle("placing", Boolean(mode));
  }
  entries.onShown(shown);
}
