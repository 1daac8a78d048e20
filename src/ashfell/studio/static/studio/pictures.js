// The picture page: the 3D view is the viewfinder.

import { Vector3 } from "../vendor/three.js";
import { byId, on, within } from "./page.js";
import { View } from "./view.js";

const room = /** @type {HTMLElement} */ (document.querySelector(".darkroom"));
const canvas = /** @type {HTMLCanvasElement} */ (document.querySelector("#view canvas"));
const view = new View(canvas, { from: [-0.45, 0.3, 1], whole: true });
const AXES = ["x", "y", "z"];

// The view is in glTF's axes (y up, metres), the site has z up.
const toSite = (/** @type {Vector3} */ { x, y, z }) => [x, -z, y];
const toView = (/** @type {number[]} */ [x, y, z]) => new Vector3(x, z, -y);

function write() {
  toSite(view.eye.camera.position).forEach((value, k) => (byId(`eye_${AXES[k]}`).value = value.toFixed(2)));
  toSite(view.eye.controls.target).forEach((value, k) => (byId(`target_${AXES[k]}`).value = value.toFixed(2)));
}

function take() {
  const at = (/** @type {string} */ name) => AXES.map((axis) => Number(byId(`${name}_${axis}`).value));
  if (![...at("eye"), ...at("target")].every(Number.isFinite)) return;
  settle(at("eye"), at("target"));
}

/**
 * @param {number[]} eye in the site, m
 * @param {number[]} target
 */
function settle(eye, target) {
  view.eye.camera.position.copy(toView(eye));
  view.eye.controls.target.copy(toView(target));
  see();
  view.eye.controls.update();
}

const frame = byId("framed");

// What the film would see; what is no number is as it was.
function see() {
  const asked = new FormData(/** @type {HTMLFormElement} */ (/** @type {unknown} */ (byId("taking"))));
  const typed = (/** @type {string} */ name) => Number(String(asked.get(name)).replace(",", "."));
  const [width, height] = (byId("size").value.match(/\d+/g) || [16, 10]).map(Number);
  view.eye.film = {
    lens: Math.min(400, Math.max(8, typed("lens") || 38.6)),
    upright: asked.get("upright") === "yes",
    roll: typed("roll") || 0,
    clip: Math.max(0, typed("clip") || 0),
    ratio: width / height,
  };
  frame.style.setProperty("--ratio", String(width / height));
  view.draw();
}

async function open() {
  const response = await fetch(room.dataset.viewUrl || "");
  if (response.ok) await view.show(await response.arrayBuffer());
  take();
  view.eye.controls.addEventListener("change", write);
}

open();
on("change", "#taking input", ({ id }) => {
  if (/^(eye|target)_/.test(id)) take();
  else see();
});
on("change", "#taking select", see);

// Below the viewfinder stands the newest picture, or the one that was chosen.
/** @type {string | undefined} */
let chosen;
function display() {
  const thumbs = /** @type {HTMLElement[]} */ ([...document.querySelectorAll("#gallery .picture:has(.thumb)")]);
  const figure = thumbs.find((one) => one.dataset.picture === chosen) || thumbs[0];
  const shown = /** @type {HTMLImageElement} */ (document.getElementById("shown"));
  shown.hidden = !figure;
  if (!figure) return;
  const { src, alt } = /** @type {HTMLImageElement} */ (figure.querySelector("img"));
  if (shown.src !== src) Object.assign(shown, { src, alt });
  thumbs.forEach((one) => one.classList.toggle("chosen", one === figure));
}

on("click", ".thumb", (thumb, event) => {
  if (event.ctrlKey || event.metaKey) return;
  event.preventDefault();
  chosen = within(thumb, ".picture")?.dataset.picture;
  display();
});
document.body.addEventListener("htmx:afterSettle", (event) => {
  const { elt, requestConfig } = /** @type {CustomEvent} */ (event).detail;
  if (![event.target, elt].some((one) => one instanceof Element && one.id === "gallery")) return;
  if (requestConfig?.verb === "post") {
    byId("message").innerHTML = "";
    chosen = undefined;
  }
  display();
});
display();
