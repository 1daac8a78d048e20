// The project page: plan, list and 3D view show one site.

import { drafting } from "./drafting.js";
import { movingEnds } from "./ends.js";
import { Entries } from "./entries.js";
import { following } from "./following.js";
import { hauling } from "./hauling.js";
import { looking } from "./looking.js";
import { measuring } from "./measuring.js";
import { byId } from "./page.js";
import { panes } from "./panes.js";
import { placing } from "./placing.js";
import { pointing } from "./pointing.js";
import { putting } from "./putting.js";
import { together } from "./together.js";
import { underlay } from "./underlay.js";
import { walking } from "./walking.js";
import { zooming } from "./zooming.js";

const bench = /** @type {HTMLElement} */ (document.querySelector(".bench"));
const workspace = () => byId("workspace");
const entries = new Entries(bench, "workspace");
together(entries, bench);
const look = looking(entries, measuring(entries, bench));
entries.onShown(panes(bench));
placing(entries, look);
drafting(entries);
movingEnds(entries);
zooming(entries);
underlay(entries, bench);
putting(entries);

// The numbers can be typed while the 3D view is still on its way.
const [{ View }, { lamps }, { hanging }] = await Promise.all(
  [import("./view.js"), import("./lamps.js"), import("./hanging.js")],
);
const canvas = /** @type {HTMLCanvasElement} */ (document.querySelector("#view canvas"));
const view = new View(canvas, { from: [-0.55, 0.55, 1], whole: true });
/** @returns {Record<string, string>} */
const opened = () => (Number(byId("view-opened").value) ? { opened: byId("view-opened").value } : {});
const refresh = following(view, bench, entries, opened);
walking(view, () => refresh({}));
hanging(view, entries);
lamps(view, entries);
hauling(view, entries);
entries.onShown(pointing(view, workspace));

// What is picked comes into view in the list.
let picked = "";
function intoView() {
  const at = workspace().dataset.at || "";
  if (at === picked) return;
  picked = at;
  document.querySelector(`.list li[data-entry="${CSS.escape(at)}"]`)?.scrollIntoView({ block: "nearest" });
}
entries.onShown(intoView);
intoView();

// What is picked in 3D is told, and its sentence opened.
view.on("pick", (part, place) => {
  byId("picked").textContent = part ? `${part.entry} · ${place}` : "";
  if (part?.entry && part.entry !== workspace().dataset.at) void look({ at: part.entry });
});
