// The page of one picture: developed anew while its numbers change, looked into, compared.

import { byId, on } from "./page.js";
import { regioning } from "./regioning.js";

const SOON = 60; // ms of quiet before it is developed
const bench = /** @type {HTMLElement} */ (document.querySelector(".developing"));
const image = /** @type {HTMLImageElement} */ (document.getElementById("developed"));
const form = /** @type {HTMLFormElement | null} */ (document.getElementById("look"));
let timer = 0;
let wanted = "";

/** What is typed, as the server reads it. */
function look() {
  const found = { layers: /** @type {Record<string, Record<string, string>>} */ ({}) };
  const nested = /** @type {Record<string, Record<string, string>>} */ ({});
  for (const [name, value] of new FormData(/** @type {HTMLFormElement} */ (form))) {
    const [what, layer] = [name.split(" ")[0], name.slice(name.indexOf(" ") + 1)];
    if (typeof value !== "string") continue;
    if (name.includes(".")) (nested[name.split(".")[0]] ??= {})[name.split(".")[1]] = value;
    else if (name.includes(" ")) (found.layers[layer] ??= {})[what] = String(value);
    else if (name !== "csrfmiddlewaretoken") Object.assign(found, { [name]: String(value) });
  }
  return JSON.stringify({ ...found, ...nested });
}

async function develop() {
  const text = look();
  if (text === wanted) return;
  wanted = text;
  const response = await fetch(`${bench.dataset.lookUrl}?look=${encodeURIComponent(text)}`, { headers: { "HX-Request": "true" } });
  if (text !== wanted) return;
  byId("message").innerHTML = response.ok ? "" : await response.text();
  if (!response.ok) return;
  const shown = image.src;
  image.src = URL.createObjectURL(await response.blob());
  if (shown.startsWith("blob:")) URL.revokeObjectURL(shown);
}

function soon() {
  clearTimeout(timer);
  timer = window.setTimeout(() => void develop(), SOON);
}

on("input", "#look input, #look select", (input) => {
  const of = input.dataset.of;
  const twin = of ? form?.elements.namedItem(of) : document.querySelector(`[data-of="${input.name}"]`);
  if (twin instanceof HTMLInputElement) twin.value = input.value;
  if (input.name === "backdrop.kind") showBackdrop();
  soon();
});
function showBackdrop() {
  const beyond = /** @type {HTMLElement | null} */ (document.querySelector(".beyond"));
  if (beyond) beyond.dataset.kind = /** @type {HTMLSelectElement} */ (beyond.querySelector("select")).value;
}
on("click", "#plain", () => {
  const usual = { exposure: "0", white: "6504", contrast: "0", curve: "soft", metered: "traced", "backdrop.kind": "sky" };
  for (const field of /** @type {any} */ (form).elements) {
    const name = field.dataset.of || field.name || "";
    const of = name.split(" ")[0];
    const value = of === "strength" ? "1" : of === "colour" ? "#ffffff" : usual[/** @type {keyof typeof usual} */ (name)];
    if (value !== undefined) field.value = value;
  }
  showBackdrop();
  soon();
});

/**
 * What is seen at a place of the picture, shares of its width and height.
 * @param {number} x
 * @param {number} y
 */
async function see(x, y) {
  const spot = byId("spot");
  Object.assign(spot.style, { left: `${x * 100}%`, top: `${y * 100}%` });
  spot.hidden = false;
  const response = await fetch(`${bench.dataset.seenUrl}?x=${x}&y=${y}`);
  if (response.ok) byId("seen").innerHTML = await response.text();
}
/** @param {number} share */
const inside = (share) => Math.min(Math.max(share, 0), 0.9999);
if (form) {
  const frame = byId("frame");
  let at = [0.5, 0.5];
  frame.tabIndex = 0;
  frame.setAttribute("aria-label", "The picture; click, or use the arrow keys and Enter, to see what is there");
  const isDrawn = regioning(frame, image);
  frame.addEventListener("click", (event) => {
    if (isDrawn()) return;
    const box = image.getBoundingClientRect();
    at = [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height].map(inside);
    void see(at[0], at[1]);
  });
  frame.addEventListener("keydown", (event) => {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1], Enter: [0, 0] }[event.key];
    if (!way) return;
    event.preventDefault();
    const step = event.shiftKey ? 0.05 : 0.01;
    at = at.map((share, k) => inside(share + way[k] * step));
    void see(at[0], at[1]);
  });
}

// Two pictures: one over the other as far as the slider says, beside it, or what differs.
const beside = document.getElementById("beside");
function compare() {
  if (!beside) return;
  const way = byId("way").value;
  const share = Number(byId("share").value);
  byId("frame").dataset.way = way;
  beside.style.clipPath = way === "slide" ? `inset(0 0 0 ${share}%)` : "";
  byId("curtain").style.left = `${share}%`;
}
on("input", "#way, #share", compare);
compare();
