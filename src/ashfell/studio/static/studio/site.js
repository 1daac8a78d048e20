// @ts-check
// The project page: plan, list and 3D view show one site.

import { Entries } from "./entries.js";
import { following } from "./following.js";
import { pointing } from "./pointing.js";

const bench = /** @type {HTMLElement} */ (document.querySelector(".bench"));
const workspace = () => /** @type {HTMLElement} */ (document.getElementById("workspace"));
const entries = new Entries(bench, "workspace");

// The numbers can be typed while the 3D view is still on its way.
const { View } = await import("./view.js");
const canvas = /** @type {HTMLCanvasElement} */ (document.querySelector("#view canvas"));
const view = new View(canvas, { from: [-0.55, 0.55, 1], whole: true });
following(view, bench, entries);
entries.onShown(pointing(view, workspace));

// What is picked in 3D is told, and its sentence comes into sight.
view.on("pick", (part, place) => {
  const picked = /** @type {HTMLElement} */ (document.getElementById("picked"));
  picked.textContent = part ? `${part.entry} · ${place}` : "";
  const sentences = /** @type {HTMLElement[]} */ ([...document.querySelectorAll(".build-up li")]);
  const sentence = sentences.find((one) => one.dataset.about === part?.entry);
  sentence?.scrollIntoView({ block: "nearest" });
});
