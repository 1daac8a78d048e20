// What a camera's film sees.

import assert from "node:assert/strict";
import { test } from "node:test";
import { PerspectiveCamera, Vector3 } from "../../src/ashfell/studio/static/vendor/three.js";
import { expose, halves, shiftOf } from "../../src/ashfell/studio/static/studio/film.js";

const FILM = { lens: 36, upright: true, roll: 0, clip: 0, ratio: 1.5 };
const near = (/** @type {number} */ a, /** @type {number} */ b) => assert.ok(Math.abs(a - b) < 1e-6, `${a} is not ${b}`);

/** Where a point is on the canvas, -1 to 1, through a camera at the origin that looks at `target`. */
function seen(point, target, film, aspect = 1.5) {
  const camera = new PerspectiveCamera();
  camera.aspect = aspect;
  expose(camera, new Vector3(), new Vector3(...target), film);
  const at = new Vector3(...point).project(camera);
  return [at.x, at.y];
}

test("a lens of 36 mm sees half as far aside as ahead", () => {
  near(seen([1, 0, -2], [0, 0, -5], FILM)[0], 1);
  near(seen([0, 2 / 3, -2], [0, 0, -5], FILM)[1], 1);
});

test("kept upright, what is looked at is in the middle and what is upright stays so", () => {
  assert.deepEqual(seen([0, 3, -4], [0, 3, -4], FILM).map((value) => Math.abs(value) < 1e-9), [true, true]);
  const [foot, head] = [seen([1, 0, -4], [0, 3, -4], FILM), seen([1, 5, -4], [0, 3, -4], FILM)];
  near(foot[0], head[0]);
  const tilted = { ...FILM, upright: false };
  const [low, high] = [seen([1, 0, -4], [0, 3, -4], tilted), seen([1, 5, -4], [0, 3, -4], tilted)];
  assert.ok(low[0] - high[0] > 0.05);
});

test("what is looked at steeply is tilted at", () => {
  near(shiftOf({ x: 0, y: 1, z: -1 }, true), 1);
  assert.equal(shiftOf({ x: 0, y: 10, z: -1 }, true), 0);
  assert.equal(shiftOf({ x: 0, y: 1, z: -1 }, false), 0);
});

test("the frame is as large as it has room", () => {
  assert.deepEqual(halves(FILM, 1.5), [0.5, 1 / 3]);
  assert.deepEqual(halves(FILM, 3), [1, 1 / 3]);
  assert.deepEqual(halves(FILM, 0.75), [0.5, 2 / 3]);
});

test("a camera that is rolled clockwise sees all turned the other way", () => {
  const [x, y] = seen([0, 1, -4], [0, 0, -4], { ...FILM, roll: 90 });
  assert.ok(x < -0.1 && Math.abs(y) < 1e-9);
});

test("nothing nearer than it should be is seen", () => {
  const camera = new PerspectiveCamera();
  expose(camera, new Vector3(), new Vector3(0, 0, -1), { ...FILM, clip: 2 });
  near(new Vector3(0, 0, -2).project(camera).z, -1);
});
