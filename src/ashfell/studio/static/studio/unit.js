// The unit page: the drawing, the strips, the list and the 3D view show one unit.

import { dragging } from "./dragging.js";
import { Entries } from "./entries.js";
import { following } from "./following.js";
import { looking } from "./looking.js";
import { measuring } from "./measuring.js";
import { nodes } from "./nodes.js";
import { painting } from "./painting.js";
import { byId, on } from "./page.js";
import { panes } from "./panes.js";
import { placing } from "./placing.js";
import { pointing } from "./pointing.js";
import { isBelow } from "./things.js";
import { together } from "./together.js";
import { underlay } from "./underlay.js";
import { zooming } from "./zooming.js";

const bench = /** @type {HTMLElement} */ (document.querySelector(".bench"));
const entries = new Entries(bench, "workspace");
together(entries, bench);
dragging(entries);
nodes(entries);
const look = looking(entries, measuring(entries, bench));
placing(entries, async () => {}); // hardware stays in the light that is looked at
zooming(entries);
entries.onShown(panes(bench));
underlay(entries, bench);

// The numbers can be typed while the 3D view is still on its way.
const { View } = await import("./view.js");
const view = new View(/** @type {HTMLCanvasElement} */ (document.querySelector("#view canvas")));
/** @returns {Record<string, string>} */
const opened = () => (Number(byId("view-open").value) ? { opened: byId("view-open").value } : {});
const refresh = following(view, bench, entries, opened);
entries.onShown(pointing(view, () => byId("workspace")));
const show = painting(entries, bench);

on("click", "#view-lines", (button) => {
  const lines = button.getAttribute("aria-pressed") !== "true";
  button.setAttribute("aria-pressed", String(lines));
  view.asLines(lines);
});
on("input", "#view-open", () => void refresh({}));
on("input", "#view-explode", (slider) => view.explode(Number(slider.value) / 100));
on("input", "#view-cut", (slider) => view.cut(Number(slider.value) / 100));

// The page is called what the unit is called.
entries.onShown(() => {
  const here = document.querySelector(".trail .here");
  const name = byId("list-name")?.getAttribute("value");
  if (!here || !name || here.textContent === name) return;
  document.title = document.title.replace(here.textContent || "", name);
  here.textContent = name;
});

// A picked part says what it is, how large, and where; its light is looked at, and its sentence comes into sight.
view.on("pick", (part, place) => {
  byId("picked").textContent = part ? `${part.part} · ${place}` : "";
  byId("turn-grain").hidden = !part;
  byId("turn-grain").dataset.value = part ? part.part : "";
  show(part);
  if (!part) return;
  const pick = part.light && /** @type {HTMLElement | null} */ (document.querySelector(`#elevation [data-light="${part.light}"]`));
  if (pick && pick.dataset.at !== byId("workspace").dataset.at) void look({ at: pick.dataset.at });
  sentenceOf(part.entry)?.scrollIntoView({ block: "nearest" });
});
on("click", "#elevation .drawn [data-part]", (shape) =>
  /** @type {HTMLElement | null | undefined} */ (sentenceOf(shape.dataset.entry)?.querySelector("input, select"))?.focus());

/**
 * The sentence that speaks of a part most closely.
 * @param {string | undefined} entry
 */
function sentenceOf(entry) {
  const all = /** @type {HTMLElement[]} */ ([...document.querySelectorAll(".build-up > li[data-about]")]);
  const about = (/** @type {HTMLElement} */ one) => one.dataset.about || "";
  return all.filter((one) => isBelow(entry, about(one))).sort((a, b) => about(b).length - about(a).length)[0] || null;
}
