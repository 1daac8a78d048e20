// The panes of the page: how wide the list and the side are, and whether the drawing fills it all. Kept in the browser.

import { onArrows, onDrag } from "./gestures.js";
import { byId, on, within } from "./page.js";

const KEPT = "ashfell-panes";
const LEAST = 200; // px
const MOST = 0.45; // of the window
const STEP = 16;

/**
 * @typedef {"list" | "side"} Pane
 * @typedef {{ list?: number, side?: number, filled?: boolean }} Widths
 */

/** @param {HTMLElement} bench */
export function panes(bench) {
  const widths = kept();
  const apply = () => {
    for (const pane of /** @type {Pane[]} */ (["list", "side"])) {
      const width = widths[pane];
      if (width) bench.style.setProperty(`--${pane}`, `${width}px`);
      else bench.style.removeProperty(`--${pane}`);
      splitterOf(pane)?.setAttribute("aria-valuenow", String(Math.round(widthOf(bench, pane))));
    }
    bench.classList.toggle("filled", Boolean(widths.filled));
    byId("fill")?.setAttribute("aria-pressed", String(Boolean(widths.filled)));
  };
  const set = (/** @type {Widths} */ changed) => {
    Object.assign(widths, changed);
    localStorage.setItem(KEPT, JSON.stringify(widths));
    apply();
  };
  const resize = (/** @type {Pane} */ pane, /** @type {number} */ width) =>
    set({ [pane]: Math.round(Math.min(Math.max(width, LEAST), window.innerWidth * MOST)) });
  const fill = () => set({ filled: !widths.filled });

  onDrag(".splitter", {
    start: (splitter, event) => {
      const pane = /** @type {Pane} */ (/** @type {HTMLElement} */ (splitter).dataset.pane);
      return { pane, from: event.clientX, width: widthOf(bench, pane) };
    },
    move: ({ pane, from, width }, event) => resize(pane, width + (event.clientX - from) * (pane === "list" ? 1 : -1)),
  });
  onArrows(".splitter", (splitter, [across]) => {
    const pane = /** @type {Pane} */ (splitter.dataset.pane);
    if (across) resize(pane, widthOf(bench, pane) + across * STEP * (pane === "list" ? 1 : -1));
    return Boolean(across);
  });
  on("dblclick", ".splitter", (splitter) => set({ [splitter.dataset.pane || ""]: undefined }));
  on("click", "#fill", fill);
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || within(event.target, "input, select, textarea")) return;
    if (event.key.toLowerCase() === "f") fill();
  });
  apply();
  return apply;
}

/** @returns {Widths} */
function kept() {
  try {
    return JSON.parse(localStorage.getItem(KEPT) || "{}");
  } catch {
    return {};
  }
}

/** @param {Pane} pane */
const splitterOf = (pane) => /** @type {HTMLElement | null} */ (document.querySelector(`.splitter[data-pane="${pane}"]`));

/**
 * @param {HTMLElement} bench
 * @param {Pane} pane
 */
const widthOf = (bench, pane) => (bench.querySelector(`.${pane}`)?.getBoundingClientRect().width || 0);
