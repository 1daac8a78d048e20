// The project page: plan, list and 3D view show one site.

import { Entries } from "./entries.js";
import { following } from "./following.js";

const bench = document.querySelector(".bench");
const entries = new Entries(bench, "workspace");

// The numbers can be typed while the 3D view is still on its way.
const { View } = await import("./view.js");
const view = new View(document.querySelector("#view canvas"), { from: [-0.55, 0.55, 1] });
following(view, bench, entries);

// A wall, a plate or a placement lights up in plan, list and 3D together.
function lightUp(entry) {
  document.querySelectorAll("#plan [data-entry], .build-up [data-entry]:is(li)").forEach((element) =>
    element.classList.toggle("lit", Boolean(entry) && element.dataset.entry === entry));
  const id = entry?.split(".")[1];
  view.highlight((part) => Boolean(id) && part.part?.startsWith(`${id}/`));
}

document.addEventListener("mouseover", (event) => {
  if (document.getElementById("workspace").contains(event.target)) {
    lightUp(event.target.closest("#plan polygon, .build-up li")?.dataset.entry);
  }
});
view.on("over", (part) => lightUp(ownerOf(part)));
view.on("pick", (part) => {
  document.getElementById("picked").textContent = part ? part.part : "";
  document.querySelector(`.build-up li[data-entry="${ownerOf(part)}"]`)?.scrollIntoView({ block: "nearest" });
});

function ownerOf(part) {
  const id = part?.part?.split("/")[0];
  return id && ["walls", "placements", "plates"].map((table) => `${table}.${id}`)
    .find((entry) => document.querySelector(`.build-up li[data-entry="${entry}"]`));
}
