// The unit page: the drawing, the strips, the list and the 3D view show one unit.

import { dragging } from "./dragging.js";
import { Entries } from "./entries.js";
import { following } from "./following.js";
import { pointing } from "./pointing.js";

const bench = document.querySelector(".bench");
const workspace = () => document.getElementById("workspace");
const entries = new Entries(bench, "workspace");
dragging(entries, workspace);

// The numbers can be typed while the 3D view is still on its way.
const { View } = await import("./view.js");
const view = new View(document.querySelector("#view canvas"));
following(view, bench, entries);
pointing(view, workspace);

view.on("pick", (part) => {
  document.getElementById("picked").textContent = part ? part.part : "";
  const sentence = part && document.querySelector(`.build-up > li[data-entry="${part.entry.replace(/\.bars\.\d+$/, "")}"]`);
  sentence?.scrollIntoView({ block: "nearest" });
});

document.addEventListener("click", (event) => {
  const shape = event.target.closest("#elevation [data-part]");
  if (!shape) return;
  const entry = shape.dataset.entry.replace(/\.bars\.\d+$/, ".count");
  const input = document.querySelector(`.build-up input[data-entry="${shape.dataset.entry}"], .build-up input[data-entry^="${entry}"]`);
  input?.focus();
});
