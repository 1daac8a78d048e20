// The image or drawing under the drawing: laid there from a file, moved, and scaled by two points and their true distance.

import { onArrows, onDrag } from "./gestures.js";
import { byId, drawing, drawn, on, within } from "./page.js";
import { inUnit, onSheet, pointOn } from "./sheets.js";

/** @typedef {import("./sheets.js").Place} Place */
/** @typedef {import("./entries.js").Entries} Entries */

/** @param {MouseEvent} event */
const under = (event) => inUnit(drawing(), pointOn(drawing(), event));

/**
 * @param {Entries} entries
 * @param {HTMLElement} bench the element that says where an underlay is laid
 */
export function underlay(entries, bench) {
  /** @type {{ mode: "" | "move" | "scale", points: Place[] }} */
  const state = { mode: "", points: [] };
  const shown = () => {
    if (!byId("underlay-move")) {
      state.mode = "";
      return;
    }
    byId("underlay-move").setAttribute("aria-pressed", String(state.mode === "move"));
    byId("underlay-scale").setAttribute("aria-pressed", String(state.mode === "scale"));
    drawing().classList.toggle("placing", Boolean(state.mode));
  };
  /** @param {"" | "move" | "scale"} mode */
  const set = (mode) => {
    Object.assign(state, { mode: state.mode === mode ? "" : mode, points: [] });
    byId("measured")?.replaceChildren();
    if (byId("underlay-true")) byId("underlay-true").hidden = true;
    shown();
  };

  on("change", "#trace", (field) => {
    if (!field.files?.[0]) return;
    const form = new FormData();
    form.append("file", field.files[0]);
    void entries.post(bench.dataset.underlayUrl || "", { keep: "1" }, field, form);
    field.value = "";
  });
  on("change", "#underlay-length", (field) => {
    if (state.points.length !== 2) return;
    const value = [...state.points.flat().map((mm) => `${mm} mm`), field.value].join("; ");
    set("");
    void entries.send({ entry: "underlay.scaled", value, keep: "1" }, field);
  });
  document.addEventListener("click", (event) => {
    if (within(event.target, "#underlay-move")) return set("move");
    if (within(event.target, "#underlay-scale")) return set("scale");
    if (state.mode !== "scale" || !within(event.target, "#elevation, #plan")) return;
    event.preventDefault();
    event.stopPropagation();
    state.points = [...(state.points.length === 2 ? [] : state.points), under(event)];
    mark(state.points);
  }, { capture: true });
  document.addEventListener("keydown", (event) => event.key === "Escape" && state.mode && set(""));
  moving(entries, () => state.mode === "move");
  entries.onShown(shown);
}

/**
 * Moved by hand on the drawing, or with the arrow keys.
 * @param {Entries} entries
 * @param {() => boolean} isOn whether a drag moves it
 */
function moving(entries, isOn) {
  /** @type {(way: [number, number], from: Element) => void} */
  const moveBy = ([across, up], from) =>
    void entries.send({ entry: "underlay.moved", value: `${across} mm; ${up} mm`, keep: "1" }, from);
  onArrows("#underlay-move", (button, way) => moveBy(way, button));
  onDrag("#elevation, #plan", {
    first: true,
    start: (sheet, event) =>
      isOn() ? { at: under(event), by: /** @type {Place} */ ([0, 0]), x: pointOn(drawing(), event) } : null,
    move: (held, event) => {
      const [now, x] = [under(event), pointOn(drawing(), event)];
      held.by = [Math.round(now[0] - held.at[0]), Math.round(now[1] - held.at[1])];
      byId("traced").setAttribute("transform", `translate(${x[0] - held.x[0]} ${x[1] - held.x[1]})`);
    },
    end: ({ by }) => {
      byId("traced").removeAttribute("transform");
      if (by[0] || by[1]) moveBy(by, drawing());
    },
    cancel: () => byId("traced").removeAttribute("transform"),
  });
}

/**
 * The points whose true distance is asked for.
 * @param {Place[]} points
 */
function mark(points) {
  const placed = points.map((point) => onSheet(drawing(), point));
  byId("measured").replaceChildren(...placed.map(([cx, cy]) => drawn("circle", { cx, cy, r: 3.5 })));
  byId("underlay-true").hidden = points.length < 2;
  if (points.length === 2) byId("underlay-length").focus();
}
