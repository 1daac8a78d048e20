// What is on the page: elements by their id, the element that an event is in, the token that a request needs.

/**
 * The element with an id. Where the page may lack it, ask with ``?.``.
 * @param {string} id
 */
export const byId = (id) => /** @type {HTMLInputElement} */ (document.getElementById(id));

/** The drawing that is shown: a unit, a wall, or the plan. */
export const drawing = () => /** @type {SVGSVGElement} */ (/** @type {unknown} */ (document.querySelector("#elevation, #plan")));

/** Whether a press on the drawing is taken for something else than what is pressed: drawing walls, putting a unit, measuring. */
export const isTaken = () => ["drawing", "measuring"].some((use) => drawing().classList.contains(use));

/** The drawing of the unit. */
export const elevation = () => /** @type {SVGSVGElement} */ (/** @type {unknown} */ (document.getElementById("elevation")));

/**
 * The element that an event is in and that matches a selector.
 * @param {EventTarget | null} target
 * @param {string} selector
 * @returns {HTMLInputElement | null}
 */
export function within(target, selector) {
  return target instanceof Element ? target.closest(selector) : null;
}

/**
 * Listen for an event anywhere inside elements that match a selector.
 * @template {keyof DocumentEventMap} Name
 * @param {Name} name
 * @param {string} selector
 * @param {(element: HTMLInputElement, event: DocumentEventMap[Name]) => unknown} listener
 * @param {AddEventListenerOptions} [options]
 */
export function on(name, selector, listener, options) {
  document.addEventListener(name, (event) => {
    const element = within(event.target, selector);
    if (element) listener(element, event);
  }, options);
}

/**
 * An element of a drawing.
 * @param {string} name
 * @param {Record<string, string | number>} attributes
 * @param {string} [words]
 */
export function drawn(name, attributes, words = "") {
  const element = document.createElementNS("http://www.w3.org/2000/svg", name);
  Object.entries(attributes).forEach(([key, value]) => element.setAttribute(key, String(value)));
  element.textContent = words;
  return element;
}

/** @returns {string} */
export function csrfToken() {
  return JSON.parse(document.body.getAttribute("hx-headers") || "{}")["X-CSRFToken"];
}
