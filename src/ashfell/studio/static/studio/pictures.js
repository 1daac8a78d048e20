// The picture page: the 3D view is the viewfinder.

import { View } from "./view.js";

const room = document.querySelector(".darkroom");
const view = new View(document.querySelector("#view canvas"), { from: [-0.45, 0.3, 1], whole: true });
const field = (id) => document.getElementById(id);
const AXES = ["x", "y", "z"];

// The view is in glTF's axes (y up, metres), the site has z up.
const toSite = ({ x, y, z }) => [x, -z, y];
const toView = ([x, y, z]) => [x, z, -y];

function write() {
  toSite(view.camera.position).forEach((value, k) => (field(`eye_${AXES[k]}`).value = value.toFixed(2)));
  toSite(view.controls.target).forEach((value, k) => (field(`target_${AXES[k]}`).value = value.toFixed(2)));
}

function take() {
  const at = (name) => AXES.map((axis) => Number(field(`${name}_${axis}`).value));
  if (![...at("eye"), ...at("target")].every(Number.isFinite)) return;
  settle(at("eye"), at("target"));
}

function settle(eye, target) {
  view.camera.position.set(...toView(eye));
  view.controls.target.set(...toView(target));
  see();
  view.controls.update();
}

// The picture's angle is across, the view's is up and down.
function see() {
  const lens = Math.min(400, Math.max(8, Number(field("lens").value) || 38.6));
  const across = (2 * Math.atan(18 / lens) * 180) / Math.PI;
  view.camera.fov = (2 * Math.atan(Math.tan((across * Math.PI) / 360) / view.camera.aspect) * 180) / Math.PI;
  view.camera.near = 0.05;
  view.camera.far = 2000;
  view.camera.updateProjectionMatrix();
  view.draw();
}

async function open() {
  const response = await fetch(room.dataset.viewUrl);
  if (response.ok) await view.show(await response.arrayBuffer());
  take();
  view.controls.addEventListener("change", write);
}

open();
field("taking").addEventListener("change", (event) => {
  if (/^(eye|target)_/.test(event.target.id)) take();
  if (event.target.id === "lens") see();
});

// Below the viewfinder stands the newest picture, or the one that was chosen.
let chosen = null;
function display() {
  const thumbs = [...document.querySelectorAll("#gallery .picture:has(.thumb)")];
  const figure = thumbs.find((one) => one.dataset.picture === chosen) || thumbs[0];
  const shown = field("shown");
  shown.hidden = !figure;
  if (!figure) return;
  const { src, alt } = figure.querySelector("img");
  if (shown.src !== src) Object.assign(shown, { src, alt });
  thumbs.forEach((one) => one.classList.toggle("chosen", one === figure));
}

document.addEventListener("click", (event) => {
  const thumb = event.target.closest(".thumb");
  if (!thumb || event.ctrlKey || event.metaKey) return;
  event.preventDefault();
  chosen = thumb.closest(".picture").dataset.picture;
  display();
});
document.body.addEventListener("htmx:afterSettle", (event) => {
  if (event.target.id !== "gallery" && event.detail.elt?.id !== "gallery") return;
  if (event.detail.requestConfig?.verb === "post") {
    field("message").innerHTML = "";
    chosen = null;
  }
  display();
});
display();
