// The finish page: its sentences, and how it looks, traced anew when somebody has stopped typing.

import { Entries } from "./entries.js";
import { byId } from "./page.js";
import { panes } from "./panes.js";
import { together } from "./together.js";

const LOOK_AFTER = 250; // ms of quiet before it is traced
const bench = /** @type {HTMLElement} */ (document.querySelector(".bench"));
const entries = new Entries(bench, "workspace");
together(entries, bench);
entries.onShown(panes(bench));
let timer = 0;

/** What was traced before stays until the next is there. */
function look() {
  for (const [id, name] of [["still", "src"], ["board", "href"]]) {
    const image = document.getElementById(id);
    const wanted = image?.getAttribute("data-src") || "";
    if (!image || image.getAttribute(name) === wanted) continue;
    image.closest("figure")?.classList.add("tracing");
    const next = new Image();
    next.onload = () => {
      const here = document.getElementById(id);
      if (here?.getAttribute("data-src") !== wanted) return;
      here.setAttribute(name, wanted);
      here.closest("figure")?.classList.remove("tracing");
    };
    next.src = wanted;
  }
}

entries.onShown(() => {
  clearTimeout(timer);
  timer = window.setTimeout(look, LOOK_AFTER);
  const name = byId("list-name")?.getAttribute("value");
  const here = document.querySelector(".trail .here");
  if (here && name && here.textContent !== name) here.textContent = name;
});
look();
