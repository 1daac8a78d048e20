// The opening that is worked on, drawn along its wall in 3D: it follows the pointer in whole steps, and stays where it is let go.

import { Plane, Vector3 } from "../vendor/three.js";
import { byId, drawing } from "./page.js";
import { hitThing } from "./primitives.js";
import { MM } from "./sheets.js";

/** @typedef {{ entry: string, wall: Plane, from: Vector3, along: Vector3, up: Vector3, right: number, high: number }} Held */

/**
 * @param {import("./view.js").View} view
 * @param {import("./entries.js").Entries} entries
 */
export function hauling(view, entries) {
  const step = () => /** @type {keyof typeof MM} */ (drawing().dataset.step);
  /** @param {number} steps */
  const length = (steps) => step().replace(/^1/, String(steps));
  /** @type {{ held: Held | null, moved: boolean }} */
  const state = { held: null, moved: false };
  /** @param {string} keep */
  const send = (keep) => {
    const { entry, right, high } = /** @type {Held} */ (state.held);
    return entries.send({ entry: `${entry}.moved`, value: `${length(right)}; ${length(high)}`, keep }, view.canvas);
  };

  // Before what turns the view hears of it.
  view.canvas.addEventListener("pointerdown", (event) => {
    state.moved = false;
    const hit = event.button === 0 ? view.under(event) : null;
    state.held = hit && taken(hit, byId("workspace").dataset.at || "");
    if (!state.held) return;
    event.stopImmediatePropagation();
    view.canvas.setPointerCapture(event.pointerId);
  }, { capture: true });
  view.canvas.addEventListener("pointermove", (event) => {
    if (!state.held) return;
    const { wall, from, along, up } = state.held;
    const now = view.ray(event).intersectPlane(wall, new Vector3());
    if (!now) return;
    const [right, high] = [along, up].map((way) => Math.round((now.clone().sub(from).dot(way) * 1000) / MM[step()]));
    if (right === state.held.right && high === state.held.high) return;
    Object.assign(state.held, { right, high });
    state.moved = true;
    void send("0");
  });
  view.canvas.addEventListener("pointerup", () => {
    if (state.held && state.moved) void send("1");
    state.held = null;
  });
  document.addEventListener("keydown", (event) => {
    if (!state.held || event.key !== "Escape") return;
    state.held = null;
    void entries.send({ entry: "", value: "", keep: "0" }, view.canvas);
  });
  // The click that ends it picks nothing.
  view.canvas.addEventListener("click", (event) => state.moved && event.stopImmediatePropagation(), { capture: true });
}

/**
 * What is taken hold of, when it is what is worked on and stands in a wall.
 * @param {import("../vendor/three.js").Intersection} hit
 * @param {string} at
 * @returns {Held | null}
 */
function taken(hit, at) {
  const thing = /** @type {import("./primitives.js").Standing | null} */ (hitThing(hit));
  if (!at || !thing?.host || thing.entry !== at) return null;
  const axis = (/** @type {number} */ index) => new Vector3().setFromMatrixColumn(thing.host.matrixWorld, index).normalize();
  const wall = new Plane().setFromNormalAndCoplanarPoint(axis(2), hit.point);
  return { entry: at, wall, from: hit.point.clone(), along: axis(0), up: axis(1), right: 0, high: 0 };
}
