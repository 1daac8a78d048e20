// Gestures: something taken hold of and drawn along, or moved step by step with the arrow keys. The one place that listens for them.

import { within } from "./page.js";

/**
 * What a drag does. `start` answers what is held while it goes on, or null when this press starts nothing.
 * @template Held
 * @typedef {object} Drag
 * @property {(element: Element, event: PointerEvent) => Held | null} start
 * @property {(held: Held, event: PointerEvent) => void} move
 * @property {(held: Held, event: PointerEvent) => void} [end]
 * @property {(held: Held, event: KeyboardEvent) => void} [cancel] on Escape
 * @property {number[]} [buttons] which buttons start it; the first one when nothing is said
 * @property {boolean} [first] whether it comes before what else listens for the press
 */

/**
 * Listen for drags of elements that match a selector.
 * @template Held
 * @param {string} selector
 * @param {Drag<Held>} drag
 */
export function onDrag(selector, drag) {
  /** @type {{ held: Held } | null} */
  let going = null;
  const stop = () => {
    const { held } = /** @type {{ held: Held }} */ (going);
    going = null;
    return held;
  };

  document.addEventListener("pointerdown", (event) => {
    const element = within(event.target, selector);
    if (!element || !(drag.buttons || [0]).includes(event.button)) return;
    const held = drag.start(element, event);
    if (held === null) return;
    event.preventDefault();
    if (drag.first) event.stopPropagation();
    going = { held };
  }, { capture: Boolean(drag.first) });
  document.addEventListener("pointermove", (event) => going && drag.move(going.held, event));
  document.addEventListener("pointerup", (event) => {
    if (!going) return;
    const held = stop();
    drag.end?.(held, event);
  });
  document.addEventListener("keydown", (event) => {
    if (going && drag.cancel && event.key === "Escape") drag.cancel(stop(), event);
  });
}

/** @type {Record<string, [number, number]>} */
const ARROWS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };

/**
 * Listen for arrow keys on elements that match a selector: `step` is called with the way to the right and up, ten times as far with
 * Shift. It answers false where a way means nothing.
 * @param {string} selector
 * @param {(element: HTMLElement, way: [number, number], event: KeyboardEvent) => boolean | void} step
 */
export function onArrows(selector, step) {
  document.addEventListener("keydown", (event) => {
    const element = within(event.target, selector);
    const way = ARROWS[event.key];
    if (!element || !way) return;
    const by = event.shiftKey ? 10 : 1;
    if (step(/** @type {HTMLElement} */ (element), [way[0] * by, way[1] * by], event) !== false) event.preventDefault();
  });
}
