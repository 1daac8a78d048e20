// Measuring: two points, snapped by the server to the nearest edge, centre or corner, answered exactly.

import { byId, csrfToken, drawing, drawn, on, within } from "./page.js";
import { inUnit, onSheet, pointOn } from "./sheets.js";

/** @typedef {import("./sheets.js").Place} Place */

const REACH = 9; // CSS pixels from the pointer to what a point snaps to

/**
 * @param {import("./entries.js").Entries} entries
 * @param {HTMLElement} bench the element that says where measuring is answered
 * @returns {() => boolean} whether a click on the drawing measures
 */
export function measuring(entries, bench) {
  /** @type {{ on: boolean, points: Place[] }} */
  const state = { on: false, points: [] };
  const show = () => {
    byId("measure")?.setAttribute("aria-pressed", String(state.on));
    drawing()?.classList.toggle("measuring", state.on);
  };
  /** @param {boolean} turned */
  const turn = (turned) => {
    state.on = turned;
    state.points = [];
    show();
    if (!turned) byId("measured")?.replaceChildren();
  };

  on("click", "#measure", () => turn(!state.on));
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || within(event.target, "input, select, textarea") || !byId("measure")) return;
    if (event.key === "m") turn(!state.on);
    if (event.key === "Escape" && state.on) turn(false);
  });
  on("click", "#elevation, #plan", async (_, event) => {
    if (!state.on || within(event.target, "foreignObject")) return;
    event.preventDefault();
    const sheet = drawing();
    state.points = [...(state.points.length === 2 ? [] : state.points), inUnit(sheet, pointOn(sheet, event))];
    const reach = REACH / (Number(sheet.dataset.scale) * /** @type {DOMMatrix} */ (sheet.getScreenCTM()).a);
    const { at = "", side = "", host = "" } = byId("workspace").dataset;
    const body = new URLSearchParams({ points: JSON.stringify(state.points), reach: String(reach), at, side, host });
    const response = await fetch(bench.dataset.measureUrl || "", { method: "POST", headers: { "X-CSRFToken": csrfToken() }, body });
    if (!response.ok) return;
    const { snapped, text } = await response.json();
    state.points = snapped;
    draw(snapped, text);
  });
  // What is drawn afresh may be another wall, or another storey.
  entries.onShown(() => {
    state.points = [];
    if (state.on) show();
  });
  return () => state.on;
}

/**
 * @param {Place[]} points
 * @param {string} text the distance between two of them
 */
function draw(points, text) {
  const placed = points.map((place) => onSheet(drawing(), place));
  const group = byId("measured");
  group.replaceChildren(...placed.map(([cx, cy]) => drawn("circle", { cx, cy, r: 3.5 })));
  if (placed.length < 2) return;
  const [[a, b], [c, d]] = placed;
  group.append(drawn("line", { x1: a, y1: b, x2: c, y2: d }), drawn("text", { x: (a + c) / 2 + 8, y: (b + d) / 2 - 8 }, text));
}
