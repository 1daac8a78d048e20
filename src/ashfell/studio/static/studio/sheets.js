// Where things are on a drawing: pointer, sheet and unit, and the steps that dragging goes in.

export const MM = { "1 mm": 1, "1/16 in": 25.4 / 16 };

/** @typedef {[number, number]} Place */

/**
 * Where the pointer is on a sheet, in the sheet's own units.
 * @param {SVGGraphicsElement} sheet
 * @param {MouseEvent} event
 * @returns {Place}
 */
export function pointOn(sheet, event) {
  const onto = /** @type {DOMMatrix} */ (sheet.getScreenCTM()).inverse();
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(onto);
  return [point.x, point.y];
}

/** @param {{ dataset: DOMStringMap }} sheet */
const facing = (sheet) => (sheet.dataset.mirrored === "1" ? -1 : 1);

/**
 * A place on a sheet in the millimetres of what is drawn.
 * @param {{ dataset: DOMStringMap }} sheet
 * @param {Place} place
 * @returns {Place}
 */
export function inUnit(sheet, [x, y]) {
  const { scale, left, foot } = numbers(sheet);
  return [((x - left) / scale) * facing(sheet), (foot - y) / scale];
}

/**
 * And back.
 * @param {{ dataset: DOMStringMap }} sheet
 * @param {Place} place
 * @returns {Place}
 */
export function onSheet(sheet, [u, v]) {
  const { scale, left, foot } = numbers(sheet);
  return [left + facing(sheet) * u * scale, foot - v * scale];
}

/** @param {{ dataset: DOMStringMap }} sheet */
function numbers({ dataset }) {
  return { scale: Number(dataset.scale), left: Number(dataset.left), foot: Number(dataset.foot) };
}
