// What a camera's film sees: kept upright by shift, rolled, with nothing nearer than it should be, in a frame of its
// own proportion; round the frame is what the canvas has room for.

/** @typedef {import("../vendor/three.js").Vector3} Vector3 */
/** @typedef {import("../vendor/three.js").PerspectiveCamera} PerspectiveCamera */
/** @typedef {{ lens: number, upright: boolean, roll: number, clip: number, ratio: number }} Film lens in mm for a frame
 * 36 mm wide, roll in degrees clockwise, clip in m, ratio of width to height */

const HALF = 18; // mm, of the frame's width
const STEEPEST = 80; // degrees: a camera that looks more steeply cannot be kept upright
const NEAREST = 0.05;
const FARTHEST = 2000;

/**
 * How far above level ahead the middle of the frame is, by its tangent; nothing where the camera is tilted.
 * @param {{ x: number, y: number, z: number }} ahead
 * @param {boolean} upright
 */
export function shiftOf({ x, y, z }, upright) {
  const flat = Math.hypot(x, z);
  return upright && (Math.atan2(Math.abs(y), flat) * 180) / Math.PI < STEEPEST ? y / flat : 0;
}

/**
 * The frame as large as it has room in a canvas of a proportion: what half of the canvas sees, by its tangent.
 * @param {Film} film
 * @param {number} aspect
 * @returns {[number, number]} across and up
 */
export function halves({ lens, ratio }, aspect) {
  const across = (HALF / lens) * Math.max(1, aspect / ratio);
  return [across, across / aspect];
}

/**
 * Stand where a camera stands and see what its film sees.
 * @param {PerspectiveCamera} shown
 * @param {Vector3} place
 * @param {Vector3} target
 * @param {Film} film
 */
export function expose(shown, place, target, film) {
  const ahead = target.clone().sub(place);
  const shift = shiftOf(ahead, film.upright);
  if (shift) ahead.setY(0);
  shown.position.copy(place);
  shown.up.set(0, 1, 0);
  shown.lookAt(place.clone().add(ahead));
  shown.rotateZ((-film.roll * Math.PI) / 180);
  shown.updateMatrixWorld();
  const near = Math.max(NEAREST, film.clip);
  const [across, up] = halves(film, shown.aspect);
  const [top, bottom] = [(shift + up) * near, (shift - up) * near];
  shown.projectionMatrix.makePerspective(-across * near, across * near, top, bottom, near, FARTHEST);
  shown.projectionMatrixInverse.copy(shown.projectionMatrix).invert();
}
