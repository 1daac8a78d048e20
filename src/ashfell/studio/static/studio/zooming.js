// Zoom and pan of the drawing: the sheet's view box. Numbers, locks and lines keep their size (--nearer in the styles);
// those that have no room are shown when one goes nearer, or points at what they measure.

import { onDrag } from "./gestures.js";
import { byId, drawing, on, within } from "./page.js";
import { pointOn } from "./sheets.js";

const STEP = 1.25;
const WHEEL_STEP = 1.12;
const NEAREST = 1 / 40; // of the whole sheet
const FARTHEST = 1.5;

/** @param {import("./entries.js").Entries} entries */
export function zooming(entries) {
  /** @type {{ box: number[] | null }} */
  const state = { box: null }; // while null the whole sheet is shown
  const full = () => (drawing().dataset.full || "").split(" ").map(Number);
  const show = () => {
    if (!drawing()) return;
    const box = state.box || full();
    drawing().setAttribute("viewBox", box.join(" "));
    const by = full()[2] / box[2];
    drawing().style.setProperty("--nearer", String(by));
    drawing().querySelectorAll("[data-zoom]").forEach((one) =>
      one.classList.toggle("crowded", Number(/** @type {HTMLElement} */ (one).dataset.zoom) > Math.max(1, by)));
  };
  /** @type {(by: number, at?: number[]) => void} */
  function zoom(by, at) {
    const [x, y, width, height] = state.box || full();
    const centre = at || [x + width / 2, y + height / 2];
    const share = Math.min(full()[2] * FARTHEST, Math.max(full()[2] * NEAREST, width * by)) / width;
    state.box = [centre[0] + (x - centre[0]) * share, centre[1] + (y - centre[1]) * share, width * share, height * share];
    show();
  }
  const nearer = () => zoom(1 / STEP);
  const farther = () => zoom(STEP);
  const whole = () => {
    state.box = null;
    show();
    if (!document.getElementById("plan")) return;
    byId("workspace").dataset.frame = ""; // a plan is laid out anew
    void entries.send({ entry: "", value: "", keep: "0", look: "1" }, byId("workspace"));
  };

  on("wheel", "#elevation, #plan", (sheet, event) => {
    event.preventDefault();
    zoom(event.deltaY > 0 ? WHEEL_STEP : 1 / WHEEL_STEP, pointOn(drawing(), event));
  }, { passive: false });
  onDrag("#elevation, #plan", {
    buttons: [0, 1],
    start: (sheet, event) => (event.button === 1 || event.target === sheet ? { at: pointOn(drawing(), event) } : null),
    move: (held, event) => {
      const now = pointOn(drawing(), event);
      const [x, y, width, height] = state.box || full();
      state.box = [x + held.at[0] - now[0], y + held.at[1] - now[1], width, height];
      show();
    },
  });
  on("click", "#zoom-in", nearer);
  on("click", "#zoom-out", farther);
  on("click", "#zoom-fit", whole);
  /** @type {Record<string, () => void>} */
  const keys = { "+": nearer, "=": nearer, "-": farther, 0: whole };
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || within(event.target, "input, select, textarea")) return;
    if (drawing()) keys[event.key]?.();
  });
  entries.onShown(show);
}
