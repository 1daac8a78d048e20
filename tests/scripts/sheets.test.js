// Places on a drawing, in the millimetres of what is drawn, and back.
import assert from "node:assert/strict";
import { test } from "node:test";

import { MM, inUnit, onSheet } from "../../src/ashfell/studio/static/studio/sheets.js";

const sheet = (mirrored) => ({ dataset: { scale: "0.5", left: "100", foot: "400", mirrored } });

test("from the outside u grows to the right, and v upwards", () => {
  assert.deepEqual(inUnit(sheet("0"), [100, 400]), [0, 0]);
  assert.deepEqual(inUnit(sheet("0"), [350, 150]), [500, 500]);
});

test("from the inside u grows to the left", () => {
  assert.deepEqual(inUnit(sheet("1"), [50, 400]).map((value) => value + 0), [100, 0]);
});

test("there and back is the same place", () => {
  for (const mirrored of ["0", "1"]) {
    for (const place of [[0, 0], [123.25, 987.5], [-40, 12]]) {
      assert.deepEqual(inUnit(sheet(mirrored), onSheet(sheet(mirrored), place)).map((value) => value + 0), place);
    }
  }
});

test("a step is a millimetre or a sixteenth of an inch", () => {
  assert.equal(MM["1 mm"], 1);
  assert.equal(MM["1/16 in"], 1.5875);
});
