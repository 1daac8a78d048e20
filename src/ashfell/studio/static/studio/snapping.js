// Where a point on the plan snaps to: the ends of walls, what is in line with one, angles, round lengths.

import { drawing } from "./page.js";
import { inUnit, pointOn } from "./sheets.js";

/** @typedef {import("./sheets.js").Place} Place */

const NEAR = 12; // CSS pixels within which a point snaps to an end
const IN_LINE = 7; // and to what is in line with one
const TURN = 15; // degrees that angles snap to
const WITHIN = 2.5; // degrees
const GRIDS = { "1 mm": [10, 50, 100, 500, 1000, 5000], "1/16 in": [25.4, 76.2, 152.4, 304.8, 1524] };
const LEAST = 6; // CSS pixels of a step of the grid

/**
 * @param {MouseEvent} event
 * @param {Place | null} from what angle and length are told from
 * @param {Place[]} [others] the ends it snaps to; those drawn now when nothing is said
 * @returns {Place}
 */
export function snapped(event, from, others = ends()) {
  const here = inUnit(drawing(), pointOn(drawing(), event));
  const end = others.find((one) => apart(one, here) < NEAR / scale());
  if (end) return end;
  const near = IN_LINE / scale();
  if (from) {
    const { length, angle } = run(from, here);
    const straight = Math.round(angle / TURN) * TURN;
    if (Math.abs(angle - straight) < WITHIN) {
      const way = /** @type {Place} */ ([Math.cos((straight * Math.PI) / 180), Math.sin((straight * Math.PI) / 180)]);
      const along = others.map((one) => inLine(one, from, way)).find((one) => one !== null && Math.abs(one - length) < near);
      const by = along ?? round(length, gridStep());
      return [tidy(from[0] + by * way[0]), tidy(from[1] + by * way[1])];
    }
  }
  const [x, y] = [0, 1].map((axis) => {
    const found = others.find((one) => Math.abs(one[axis] - here[axis]) < near);
    return found ? found[axis] : round(here[axis], gridStep());
  });
  return [x, y];
}

/**
 * How far along a line across or up it is level with a point; null for lines that are neither.
 * @param {Place} point
 * @param {Place} from
 * @param {Place} way
 */
function inLine(point, from, way) {
  if (Math.abs(way[1]) < 1e-6) return (point[0] - from[0]) / way[0];
  return Math.abs(way[0]) < 1e-6 ? (point[1] - from[1]) / way[1] : null;
}

/** The step of the grid that can still be seen, in mm. */
function gridStep() {
  const steps = GRIDS[/** @type {keyof typeof GRIDS} */ (drawing().dataset.step)];
  return steps.find((step) => step * scale() >= LEAST) || steps[steps.length - 1];
}

/** CSS pixels of a millimetre. */
const scale = () => Number(drawing().dataset.scale) * /** @type {DOMMatrix} */ (drawing().getScreenCTM()).a;
/** The ends of the walls that are shown, in mm. */
export const ends = () => /** @type {HTMLElement[]} */ ([...document.querySelectorAll("[data-end]")]).map(spotOf);
/** Where the wall that was added last ends. */
export const lastEnd = () => ends().at(-1) || null;
/** @param {Place | null} place */
export const isClosed = (place) => place !== null && ends().filter((end) => apart(end, place) < 1).length > 1;
/** @type {(a: Place, b: Place) => number} */
export const apart = (a, b) => Math.hypot(a[0] - b[0], a[1] - b[1]);
/** @type {(value: number, step: number) => number} */
const round = (value, step) => tidy(Math.round(value / step) * step);
/** @param {number} value */
const tidy = (value) => Math.round(value * 1e6) / 1e6;
/** @param {Place} place */
export const point = ([x, y]) => `${x} mm; ${y} mm`;

/**
 * @param {HTMLElement | SVGElement} handle
 * @returns {Place}
 */
export function spotOf(handle) {
  const [x, y] = (handle.dataset.spot || "0 0").split(" ").map(Number);
  return [x, y];
}

/** @type {(from: Place, to: Place) => { length: number, angle: number }} */
export function run([ax, ay], [bx, by]) {
  const angle = (Math.atan2(by - ay, bx - ax) * 180) / Math.PI;
  return { length: Math.hypot(bx - ax, by - ay), angle: (angle + 360) % 360 };
}

/** @param {number} length in mm */
export function shown(length) {
  if (drawing().dataset.step === "1/16 in") return `${Math.round((length / 25.4) * 16) / 16} in`;
  return String(Math.round(length * 1000) / 1000);
}
