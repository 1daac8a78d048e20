// Where things are on a drawing: pointer, sheet and unit, and the steps that dragging goes in.

export const MM = { "1 mm": 1, "1/16 in": 25.4 / 16 };

// Where the pointer is on a sheet, in the sheet's own units.
export function pointOn(sheet, event) {
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(sheet.getScreenCTM().inverse());
  return [point.x, point.y];
}

const facing = (sheet) => (sheet.dataset.mirrored === "1" ? -1 : 1);

// A place on a sheet in the millimetres of what is drawn, and back.
export function inUnit(sheet, [x, y]) {
  const { scale, left, foot } = sheet.dataset;
  return [((x - left) / scale) * facing(sheet), (foot - y) / scale];
}

export function onSheet(sheet, [u, v]) {
  const { scale, left, foot } = sheet.dataset;
  return [Number(left) + facing(sheet) * u * scale, Number(foot) - v * scale];
}
