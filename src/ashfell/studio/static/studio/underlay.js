// The image or drawing under the elevation: laid there from a file, moved, and scaled by two points and their true distance.

import { onArrows, onDrag } from "./gestures.js";
import { inUnit, onSheet, pointOn } from "./sheets.js";

export function underlay(entries, bench) {
  const field = (id) => document.getElementById(id);
  const sheet = () => field("elevation");
  let mode = ""; // "move" or "scale"
  let points = [];

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
  onDrag("#elevation", {
    first: true,
    start: (drawn, event) => (mode === "move" ? { at: under(event), by: [0, 0], x: pointOn(sheet(), event) } : null),
    move: (held, event) => {
      const [now, x] = [under(event), pointOn(sheet(), event)];
      held.by = [Math.round(now[0] - held.at[0]), Math.round(now[1] - held.at[1])];
      field("traced").setAttribute("transform", `translate(${x[0] - held.x[0]} ${x[1] - held.x[1]})`);
    },
    end: ({ by: [across, up] }) => {
      field("traced").removeAttribute("transform");
      if (across || up) moveBy([across, up], sheet());
    },
    cancel: () => field("traced").removeAttribute("transform"),
  });
  document.addEventListener("keydown", (event) => event.key === "Escape" && mode && set(""));
  onArrows("#underlay-move", (button, way) => moveBy(way, button));

  const moveBy = ([across, up], from) =>
    entries.send({ entry: "underlay.moved", value: `${across} mm; ${up} mm`, keep: "1" }, from);
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
