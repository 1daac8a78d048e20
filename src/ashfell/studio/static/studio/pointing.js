// Point at a part, a number or a sentence, and the same thing lights up everywhere.

import { isTold, lights, standsFor, thingOf } from "./things.js";

/** @typedef {import("./things.js").Thing} Thing */

const LIT = "[data-part], .box, .build-up li[data-about], .lock, .crowded, .pick, .plan path, .hole";

/**
 * @param {import("./view.js").View} view
 * @param {() => HTMLElement} host what is lit up on the page
 * @returns {() => void} lights up again what is held, after the page was drawn anew
 */
export function pointing(view, host) {
  /** @type {{ thing: Thing | null }} */
  const held = { thing: null };
  /** @param {Thing | null} thing */
  const lightUp = (thing) => {
    const told = thing && isTold(thing) ? thing : null;
    const test = told ? lights(told) : () => false;
    host().querySelectorAll(LIT).forEach((element) => {
      const own = /** @type {Thing} */ ({ .../** @type {HTMLElement} */ (element).dataset });
      element.classList.toggle("lit", own.part ? test(own) : Boolean(told && standsFor(told, own)));
    });
    view.highlight(test);
  };
  /** @param {Event} event */
  const under = (event) => (event.target instanceof Element && host().contains(event.target) ? event.target : null);
  document.addEventListener("mouseover", (event) => {
    const element = under(event);
    if (element) lightUp(thingOf(element) || held.thing);
  });
  document.addEventListener("focusin", (event) => {
    const element = under(event);
    if (element) lightUp((held.thing = thingOf(element)));
  });
  view.on("over", (part) => lightUp(part || held.thing));
  view.on("pick", (part) => lightUp((held.thing = part)));
  return () => lightUp(held.thing);
}
