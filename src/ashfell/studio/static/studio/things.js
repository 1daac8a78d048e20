// What an element, a part or a sentence stands for, and whether two of them stand for the same. Addresses and keys are compared as
// they are; none is taken apart.

/**
 * A part as the core tells it, or what an element on the page says in its data attributes.
 * @typedef {object} Thing
 * @property {string} [part] id of a part
 * @property {string} [entry] address of the entry that made it
 * @property {string} [role]
 * @property {string} [finish] key of its finish
 * @property {string} [light] key of the light that it is in
 * @property {string} [within] the columns and rows that it is in, with spaces between
 * @property {string} [stretch] a column or row
 * @property {string} [about] address of the parts that something speaks of
 * @property {string} [aboutRole] role of the parts that something speaks of
 */

/** @type {(keyof Thing)[]} */
const TOLD = ["part", "light", "stretch", "aboutRole", "about"];

/**
 * Whether an address is another, or below it.
 * @param {string | undefined} address
 * @param {string} other
 */
export function isBelow(address, other) {
  return Boolean(address) && (address === other || /** @type {string} */ (address).startsWith(`${other}.`));
}

/**
 * A test of parts: whether one lights up when something is pointed at.
 * @param {Thing} pointed
 * @returns {(part: Thing) => boolean}
 */
export function lights({ part, light, stretch, aboutRole, about }) {
  if (part) return (other) => other.part === part;
  if (light) return (other) => isBelow(other.light, light);
  if (stretch) return (other) => (other.within || "").split(" ").includes(stretch);
  if (aboutRole) return (other) => other.role === aboutRole;
  if (about) return (other) => isBelow(other.entry, about);
  return () => false;
}

/**
 * Whether an element stands for what is pointed at: a sentence for the parts it speaks of, a stretch for the lights in it.
 * @param {Thing} pointed
 * @param {Thing} element
 */
export function standsFor(pointed, element) {
  if (element.light) return isBelow(pointed.light, element.light);
  if (element.stretch) return pointed.stretch === element.stretch || (pointed.within || "").split(" ").includes(element.stretch);
  if (element.aboutRole) return pointed.role === element.aboutRole || pointed.aboutRole === element.aboutRole;
  if (!element.about) return false;
  return isBelow(pointed.entry, element.about) || pointed.about === element.about;
}

/**
 * What an element stands for: what it says itself, or what it is in says.
 * @param {Element | null} element
 * @returns {Thing | null}
 */
export function thingOf(element) {
  const found = element?.closest("[data-part], [data-light], [data-stretch]:not([data-stretch='']), [data-about-role], [data-about]");
  return found instanceof HTMLElement || found instanceof SVGElement ? /** @type {Thing} */ ({ ...found.dataset }) : null;
}

/** @param {Thing} thing */
export function isTold(thing) {
  return TOLD.some((name) => thing[name]);
}
