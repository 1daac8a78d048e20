// What is worked on, drawn along with the pointer in 3D: it follows in whole steps, and stays where it is let go.

import { Plane, Vector3 } from "../vendor/three.js";
import { byId, drawing } from "./page.js";
import { hitThing } from "./primitives.js";
import { MM } from "./sheets.js";

/**
 * What is held: the address of what goes along, the plane that it goes in, where it was taken, and what its way is told by.
 * @typedef {object} Held
 * @property {string} entry
 * @property {Plane} on
 * @property {Vector3} from
 * @property {(away: Vector3) => number[]} ways how far it has come from there, in metres along each way that is told
 */

/**
 * @param {import("./view.js").View} view
 * @param {import("./entries.js").Entries} entries
 * @param {(event: PointerEvent) => Held | null} taken what a press takes hold of, if anything
 */
export function onHaul(view, entries, taken) {
  const step = () => /** @type {keyof typeof MM} */ (drawing()?.dataset.step || "1 mm");
  /** @type {{ held: Held | null, moved: boolean, value: string }} */
  const state = { held: null, moved: false, value: "" };
  /** @param {string} keep */
  const send = (keep) => {
    const { entry } = /** @type {Held} */ (state.held);
    return entries.send({ entry: `${entry}.moved`, value: state.value, keep }, view.canvas);
  };

  // Before what turns the view hears of it.
  view.canvas.addEventListener("pointerdown", (event) => {
    Object.assign(state, { held: event.button === 0 ? taken(event) : null, moved: false, value: "" });
    if (!state.held) return;
    event.stopImmediatePropagation();
    view.canvas.setPointerCapture(event.pointerId);
  }, { capture: true });
  view.canvas.addEventListener("pointermove", (event) => {
    const now = state.held && view.ray(event).intersectPlane(state.held.on, new Vector3());
    if (!now || !state.held) return;
    const steps = state.held.ways(now.sub(state.held.from)).map((metres) => Math.round((metres * 1000) / MM[step()]));
    const value = steps.map((one) => step().replace(/^1/, String(one))).join("; ");
    if (value === state.value || (!state.moved && !steps.some(Boolean))) return;
    Object.assign(state, { moved: true, value });
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
 * The opening that is worked on goes along its wall, and up and down.
 * @param {import("./view.js").View} view
 * @param {import("./entries.js").Entries} entries
 */
export function hauling(view, entries) {
  onHaul(view, entries, (event) => {
    const hit = view.under(event);
    const thing = /** @type {import("./primitives.js").Standing | null} */ (hitThing(hit));
    if (!hit || !thing?.host || !thing.entry || thing.entry !== byId("workspace").dataset.at) return null;
    const axis = (/** @type {number} */ index) => new Vector3().setFromMatrixColumn(thing.host.matrixWorld, index).normalize();
    const [along, up] = [axis(0), axis(1)];
    const on = new Plane().setFromNormalAndCoplanarPoint(axis(2), hit.point);
    return { entry: thing.entry, on, from: hit.point.clone(), ways: (away) => [away.dot(along), away.dot(up)] };
  });
}
