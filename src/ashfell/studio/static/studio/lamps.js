// Lamps in 3D: where they hang, and the one that is worked on drawn along with the pointer, on its level or up and down.

import { Mesh, MeshBasicMaterial, Plane, SphereGeometry, Vector3 } from "../vendor/three.js";
import { byId, drawing } from "./page.js";
import { MM } from "./sheets.js";

/** @typedef {{ entry: string, on: Plane, from: Vector3, upright: boolean, steps: number[] }} Held */
/** @typedef {Mesh<SphereGeometry, MeshBasicMaterial>} Ball */

const LEAST = 0.24; // m across, so that a small bulb can be seen and taken hold of
const GLOW = "#e9a23b";
const SHALLOW = 0.25; // of a line of sight, by its sine
const UP = new Vector3(0, 1, 0);

/**
 * What the page says hangs where.
 * @returns {Ball[]}
 */
function told() {
  return /** @type {HTMLElement[]} */ ([...document.querySelectorAll("#hung [data-entry]")]).map(({ dataset }) => {
    const radius = Math.max(Number(dataset.across), LEAST) / 2;
    const ball = new Mesh(new SphereGeometry(radius, 16, 12), new MeshBasicMaterial({ color: GLOW }));
    ball.position.fromArray((dataset.middle || "").split(" ").map(Number));
    const parts = [{ part: dataset.name, first: 0, count: Infinity }];
    ball.userData = { thing: { entry: dataset.entry }, plain: GLOW, parts };
    return ball;
  });
}

/**
 * The lamp that is worked on, when it is under the pointer.
 * @param {import("./view.js").View} view
 * @param {PointerEvent} event
 * @returns {Held | null}
 */
function taken(view, event) {
  const hit = event.button === 0 ? view.under(event) : null;
  const ball = view.marked.find((one) => one === hit?.object);
  const entry = ball?.userData.thing.entry;
  if (!hit || !ball || entry !== byId("workspace").dataset.at) return null;
  // Looked at on the level, its level is a line: it goes along a plane that faces whoever looks.
  const sight = view.ray(event).direction.clone();
  const out = event.shiftKey || Math.abs(sight.y) < SHALLOW ? sight.setY(0).normalize() : UP;
  const on = new Plane().setFromNormalAndCoplanarPoint(out, hit.point);
  return { entry, on, from: hit.point.clone(), upright: event.shiftKey, steps: [0, 0, 0] };
}

/**
 * @param {import("./view.js").View} view
 * @param {import("./entries.js").Entries} entries
 */
export function lamps(view, entries) {
  const step = () => /** @type {keyof typeof MM} */ (drawing()?.dataset.step || "1 mm");
  /** @type {{ held: Held | null, moved: boolean }} */
  const state = { held: null, moved: false };
  /** @param {string} keep */
  const send = (keep) => {
    const { entry, steps } = /** @type {Held} */ (state.held);
    const value = steps.map((one) => step().replace(/^1/, String(one))).join("; ");
    return entries.send({ entry: `${entry}.moved`, value, keep }, view.canvas);
  };
  const show = () => view.mark(told());
  entries.onShown(show);
  show();

  // Before what turns the view hears of it.
  view.canvas.addEventListener("pointerdown", (event) => {
    Object.assign(state, { held: taken(view, event), moved: false });
    if (!state.held) return;
    event.stopImmediatePropagation();
    view.canvas.setPointerCapture(event.pointerId);
  }, { capture: true });
  view.canvas.addEventListener("pointermove", (event) => {
    const now = state.held && view.ray(event).intersectPlane(state.held.on, new Vector3());
    if (!now || !state.held) return;
    const metres = now.sub(state.held.from).toArray();
    const [east, up, south] = metres.map((value) => Math.round((value * 1000) / MM[step()]));
    const steps = state.held.upright ? [0, 0, up] : [east, -south, 0];
    if (steps.join() === state.held.steps.join()) return;
    state.held.steps = steps;
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
