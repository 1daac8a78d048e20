// The unit page: the drawing, the strips, the list and the 3D view show one unit.

import { dragging } from "./dragging.js";
import { Entries } from "./entries.js";
import { following } from "./following.js";
import { looking } from "./looking.js";
import { nodes } from "./nodes.js";
import { pointing } from "./pointing.js";
import { isBelow } from "./things.js";
import { underlay } from "./underlay.js";

const bench = document.querySelector(".bench");
const workspace = () => document.getElementById("workspace");
const field = (id) => document.getElementById(id);
const entries = new Entries(bench, "workspace");
dragging(entries);
nodes(entries);
const { look } = looking(entries, bench);
underlay(entries, bench);

// The numbers can be typed while the 3D view is still on its way.
const { View } = await import("./view.js");
const view = new View(document.querySelector("#view canvas"));
const opened = () => (Number(field("view-open").value) ? { opened: field("view-open").value } : {});
const refresh = following(view, bench, entries, opened);
entries.onShown(pointing(view, workspace));

field("view-lines").addEventListener("click", (event) => {
  const on = event.target.getAttribute("aria-pressed") !== "true";
  event.target.setAttribute("aria-pressed", String(on));
  view.asLines(on);
});
field("view-open").addEventListener("input", () => refresh({}));
field("view-explode").addEventListener("input", (event) => view.explode(Number(event.target.value) / 100));
field("view-cut").addEventListener("input", (event) => view.cut(Number(event.target.value) / 100));

// A picked part says what it is, how large, and where; its light is looked at, and its sentence comes into sight.
view.on("pick", (part, place) => {
  field("picked").textContent = part ? `${part.part} · ${place}` : "";
  if (!part) return;
  const pick = part.light && document.querySelector(`#elevation [data-light="${part.light}"]`);
  if (pick && pick.dataset.at !== workspace().dataset.at) look({ at: pick.dataset.at });
  sentenceOf(part.entry)?.scrollIntoView({ block: "nearest" });
});

// The sentence that speaks of a part most closely.
function sentenceOf(entry) {
  const about = [...document.querySelectorAll(".build-up > li[data-about]")].filter((one) => isBelow(entry, one.dataset.about));
  return about.sort((a, b) => b.dataset.about.length - a.dataset.about.length)[0] || null;
}

document.addEventListener("click", (event) => {
  const shape = event.target.closest("#elevation .drawn [data-part]");
  if (shape) sentenceOf(shape.dataset.entry)?.querySelector("input, select")?.focus();
});
