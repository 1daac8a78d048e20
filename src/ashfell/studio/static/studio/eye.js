// Where one looks from: round the whole, at a node square on, or as one who walks.

import { OrbitControls, PerspectiveCamera, Vector3 } from "../vendor/three.js";
import { expose } from "./film.js";

/** @typedef {import("../vendor/three.js").Box3} Box3 */

const HEAD = 0.01; // m before the eye, what a turn of the head goes round
const UP = new Vector3(0, 1, 0);

export class Eye {
  /**
   * @param {HTMLCanvasElement} canvas
   * @param {number[]} from the direction to look from first
   * @param {() => void} moved called after every step
   */
  constructor(canvas, from, moved) {
    this.canvas = canvas;
    this.from = new Vector3(...from);
    this.camera = new PerspectiveCamera(32, 1, 0.01, 5000);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.addEventListener("change", moved);
    /** @type {import("./film.js").Film | null} */
    this.film = null; // what is seen as a picture would see it
    this.finder = new PerspectiveCamera();
  }

  /** What is looked through: the camera, or its film. */
  get seen() {
    if (!this.film) return this.camera;
    this.finder.aspect = this.camera.aspect;
    expose(this.finder, this.camera.position, this.controls.target, this.film);
    return this.finder;
  }

  /**
   * Stand at a height beside something and look into its middle; turning then turns the head.
   * @param {Box3} box
   * @param {number} height
   */
  stand({ min, max }, height) {
    const middle = min.clone().add(max).multiplyScalar(0.5);
    const away = new Vector3(this.from.x, 0, this.from.z).normalize().multiplyScalar(max.distanceTo(min) * 0.55);
    this.look(middle.clone().add(away).setY(height), middle.setY(height));
  }

  /**
   * Look from a place at another, as one who walks.
   * @param {Vector3} place
   * @param {Vector3} at
   */
  look(place, at) {
    const ahead = at.clone().sub(place).normalize();
    this.camera.position.copy(place);
    this.turnTo(place.clone().addScaledVector(ahead, HEAD), 0.02);
    this.canvas.dataset.at = place.toArray().map((value) => value.toFixed(3)).join(" ");
  }

  /**
   * Walk ahead and to the right, m, and turn to the left.
   * @param {number} ahead
   * @param {number} right
   * @param {number} left radians
   */
  walk(ahead, right, left) {
    const way = this.controls.target.clone().sub(this.camera.position).setY(0).normalize();
    way.applyAxisAngle(UP, left);
    const aside = way.clone().cross(UP);
    const place = this.camera.position.clone().addScaledVector(way, ahead).addScaledVector(aside, right);
    this.look(place, place.clone().add(way));
  }

  /**
   * Look at something square on.
   * @param {Box3} box
   * @param {Vector3} out of length 1: the way that its face is turned
   */
  face(box, out) {
    const [middle, size] = [box.getCenter(new Vector3()), box.getSize(new Vector3())];
    const tall = Math.tan((this.camera.fov * Math.PI) / 360);
    const away = Math.max(size.y / 2 / tall, Math.hypot(size.x, size.z) / 2 / tall / this.camera.aspect) * 1.15;
    this.camera.position.copy(middle).addScaledVector(out, away);
    this.turnTo(middle, 0.02);
  }

  /**
   * Stand back along the first direction until all corners of something are within the picture.
   * @param {Box3} box
   */
  frame({ min, max }) {
    const centre = min.clone().add(max).multiplyScalar(0.5);
    const towards = this.from.clone().normalize();
    const right = UP.clone().cross(towards).normalize();
    const up = towards.clone().cross(right);
    const high = Math.tan((this.camera.fov * Math.PI) / 360);
    const wide = high * this.camera.aspect;
    let away = 0;
    for (let k = 0; k < 8; k += 1) {
      const corner = new Vector3(k & 1 ? max.x : min.x, k & 2 ? max.y : min.y, k & 4 ? max.z : min.z).sub(centre);
      const near = corner.dot(towards);
      away = Math.max(away, near + Math.abs(corner.dot(right)) / wide, near + Math.abs(corner.dot(up)) / high);
    }
    away *= 1.08;
    this.camera.position.copy(centre).addScaledVector(towards, away);
    this.camera.far = away * 50;
    this.turnTo(centre, away / 200);
  }

  /**
   * Keep the direction of view while what is looked at grows, shrinks or moves.
   * @param {Box3} old
   * @param {Box3} now
   */
  follow(old, now) {
    const size = (/** @type {Box3} */ box) => box.getSize(new Vector3()).length();
    const offset = this.camera.position.clone().sub(this.controls.target).multiplyScalar(size(now) / size(old));
    this.controls.target.add(now.getCenter(new Vector3()).sub(old.getCenter(new Vector3())));
    this.camera.position.copy(this.controls.target).add(offset);
    this.controls.update();
  }

  /**
   * @param {Vector3} target
   * @param {number} near from where on something is seen, m
   */
  turnTo(target, near) {
    this.camera.near = near;
    this.camera.updateProjectionMatrix();
    this.controls.target.copy(target);
    this.controls.update();
  }
}
