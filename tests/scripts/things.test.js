// What an element or a part stands for, and what lights up when something is pointed at.
import assert from "node:assert/strict";
import { test } from "node:test";

import { isBelow, isTold, lights, standsFor } from "../../src/ashfell/studio/static/studio/things.js";

const bar = { part: "mullion.1", entry: "columns.bars.0", role: "bar", light: "", within: "" };
const pane = { part: "glass.c1r1", entry: "cells.c1r1.fill", role: "glass", light: "c1r1", within: "c1 r1" };
const sash = { part: "sash.c1r1.left", entry: "cells.c1r1.fill", role: "sash", light: "c1r1.sash", within: "c1 r1" };
const far = { part: "glass.c1r10", entry: "cells.c1r10.fill", role: "glass", light: "c1r10", within: "c1 r10" };
const all = [bar, pane, sash, far];
const lit = (thing) => all.filter(lights(thing)).map(({ part }) => part);

test("an address is below another by whole steps only", () => {
  assert.ok(isBelow("cells.c1r1.fill", "cells.c1r1"));
  assert.ok(isBelow("cells.c1r1", "cells.c1r1"));
  assert.ok(!isBelow("cells.c1r10", "cells.c1r1"));
  assert.ok(!isBelow(undefined, ""));
});

test("a part lights itself, a light all that is in it, a column what stands in it", () => {
  assert.deepEqual(lit({ part: "mullion.1" }), ["mullion.1"]);
  assert.deepEqual(lit({ light: "c1r1" }), ["glass.c1r1", "sash.c1r1.left"]);
  assert.deepEqual(lit({ stretch: "r10" }), ["glass.c1r10"]);
});

test("a sentence lights the parts of its entry, or of its role", () => {
  assert.deepEqual(lit({ about: "columns" }), ["mullion.1"]);
  assert.deepEqual(lit({ aboutRole: "glass" }), ["glass.c1r1", "glass.c1r10"]);
  assert.deepEqual(lit({}), []);
});

test("a picked part is spoken of by the sentence, the strip and the light that hold it", () => {
  assert.ok(standsFor(pane, { about: "cells.c1r1.fill" }));
  assert.ok(!standsFor(far, { about: "cells.c1r1.fill" }));
  assert.ok(standsFor(pane, { stretch: "c1" }));
  assert.ok(standsFor(sash, { light: "c1r1" }));
  assert.ok(standsFor({ aboutRole: "glass" }, { aboutRole: "glass" }));
  assert.ok(!standsFor(pane, {}));
});

test("only what says something is told", () => {
  assert.ok(isTold(pane));
  assert.ok(!isTold({ entry: "frame" }));
});
