"""Whatever is asked for is sound, once what was refused is mended as the refusal says: thousands of units from seeds,
every outline, filling and pattern among them.

manifold3d judges closedness and overlaps, trimesh volumes and bounds, shapely areas.
"""

from collections import Counter

import numpy as np
import pytest
import shapely
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import BaseModel, RootModel

from ashfell.core.audit.solids import audit_overlaps, audit_solids
from ashfell.core.base.document import dump
from ashfell.core.kinds.filling import FILLINGS
from ashfell.core.kinds.opening import TURNINGS
from ashfell.core.kinds.outline import OUTLINES
from ashfell.core.kinds.pattern import PATTERNS
from ashfell.core.unit import read_unit
from ashfell.core.unit.build import build
from tests.core.any_unit import any_unit
from tests.core.likely_unit import calm_unit, likely_unit
from tests.core.remedied import remedied, solved_at_last
from tests.core.varied import entries

IN_THE_LONG_RUN = settings.default is not None and settings.default.max_examples >= 1000
BATCHES, BATCH = (400, 50) if IN_THE_LONG_RUN else (30, 50)
"""Seeds of a run: batches that can be tried side by side."""
COMPARED = 1 if IN_THE_LONG_RUN else 5
"""Of every so many units the pairs of parts are compared, which takes as long as all else: in the long run of all."""
AT_ONCE = 0.7
"""How many of a batch can be built as they are, at least; of all it is nine of ten."""
MENDED_BATCHES, MENDED_BATCH = (4, 500) if IN_THE_LONG_RUN else (2, 40)


def examined(seed: int) -> tuple[str, bool]:
    """What is wrong with unit number ``seed`` once every remedy it was told is applied, empty when it is sound; and
    whether it was built as it is."""
    try:
        made = solved_at_last(likely_unit(seed))
        parts = build(made.document, made.layout)
    except Exception as error:  # whatever it is, it is a defect of this unit, and the others are still to be seen
        return f"{seed}: {error!r}", False
    return _wrong(seed, made.layout, parts), not made.met


def _wrong(seed, layout, parts) -> str:
    found = [*audit_solids(parts), *(() if seed % COMPARED else audit_overlaps(parts))]
    if found:
        return f"{seed}: {found[0].place}: {found[0].reason}"
    if len({part.id for part in parts}) != len(parts):
        return f"{seed}: two parts of one name"
    return measured(seed, layout, parts) if seed % 10 == 0 else ""


def measured(seed, layout, parts) -> str:
    """The same solids by another mesh library, and the lights' area by a planar one."""
    for part in parts:
        other = trimesh.Trimesh(part.solid.vertices, part.solid.triangles, process=False)
        if not other.is_watertight or not other.is_winding_consistent:
            return f"{seed}: {part.id} is not watertight"
        if abs(other.volume - part.solid.volume) > 1e-6 * max(1.0, part.solid.volume):
            return f"{seed}: {part.id} has another volume"
    inside = shapely.Polygon(layout.body.ring.clear.points)
    lights = shapely.union_all([shapely.Polygon(light.loop.points).buffer(0) for light in layout.body.lights])
    total = sum(light.loop.area for light in layout.body.lights)
    if abs(lights.area - total) > 1e-6 * inside.area or lights.difference(inside.buffer(1e-4)).area > 1e-3:
        return f"{seed}: lights overlap or leave the frame"
    return ""


@pytest.mark.parametrize("batch", range(BATCHES))
def test_units_of_every_kind_are_sound(batch):
    """Every one of them, most as they are: what is refused first is mended by what the refusal says."""
    found = [examined(seed) for seed in range(batch * BATCH, (batch + 1) * BATCH)]
    assert [wrong for wrong, _ in found if wrong] == []
    assert sum(at_once for _, at_once in found) >= AT_ONCE * BATCH


@pytest.mark.parametrize("batch", range(MENDED_BATCHES))
def test_the_remedy_of_every_refusal_works_when_it_is_applied(batch):
    """Every refused unit can be built after what its refusals say was done."""
    told: Counter[str] = Counter()
    for seed in range(1000 + batch * MENDED_BATCH, 1000 + (batch + 1) * MENDED_BATCH):
        _, met = remedied(any_unit(seed))
        told.update(refusal.rule for refusal in met)
        assert all(refusal.entry and refusal.message and refusal.remedy for refusal in met), seed
    assert len(told) >= 10
    assert sum(told.values()) >= 30


@settings(max_examples=2000 if IN_THE_LONG_RUN else 20)
@given(st.integers(10**6, 10**9))
def test_fresh_units_are_sound_too(seed):
    """In the long run with fresh seeds and thousands of examples."""
    assert examined(seed)[0] == ""


@pytest.mark.parametrize("unit_of", [any_unit, calm_unit])
def test_the_units_do_hold_every_kind(unit_of):
    """The seeds reach every registered outline, filling, opening and pattern: a new kind must be among them."""
    seen: Counter[str] = Counter()

    def look(cell):
        fill = cell.get("fill") or {}
        seen[fill.get("kind", "none")] += 1
        seen[fill.get("opening", "")] += 1
        seen[(fill.get("muntins") or {}).get("kind", "")] += 1
        seen[(fill.get("lead") or {}).get("pattern", "")] += 1
        for inner in [*cell.get("cells", {}).values(), *([fill["content"]] if fill.get("content") else [])]:
            look(inner)

    for seed in range(400):
        data = unit_of(seed)
        seen[data["outline"]["kind"]] += 1
        look(data)
    wanted = {*OUTLINES, *FILLINGS, *TURNINGS, *PATTERNS, "brick", "shards"}
    assert wanted - seen.keys() == set()


THROWN_OTHERWISE = {
    *("format", "name", "kind", "tags", "source", "painted", "grain"),  # no shape
    *("outline", "cells", "columns", "rows", "angled", "span", "fill", "content", "lights", "bars", "rings", "infill"),
    *("hardware", "muntins", "lead", "circles", "nodes", "corners", "path", "section", "grooves", "view", "heights"),
}
"""Entries that the units are made of, or that are none of their shape."""
NOT_TRIED = {"of", "centre", "tracks", "profile"}


def test_any_entry_of_the_schema_may_be_another():
    """Of everything that the units hold each entry is thrown by the generator, or may be varied; these few are not."""
    held: dict[str, set[str]] = {}
    offered: set[tuple[str, str]] = set()

    def look(value):
        if isinstance(value, BaseModel) and not isinstance(value, RootModel):
            own = {name: getattr(value, name) for name in type(value).model_fields}
            sizes = {name for name, one in own.items() if not isinstance(one, BaseModel)}
            held.setdefault(type(value).__name__, set()).update(sizes)
            value = own
        for one in value.values() if isinstance(value, dict) else value if isinstance(value, list | tuple) else ():
            look(one)

    for seed in range(500):
        document = read_unit(any_unit(seed))
        look(document)
        offered |= {(owner, entry[2]) for owner, entry in entries(document, dump(document))}
    assert len(held) >= 60
    left = {(owner, name) for owner, names in held.items() for name in names - THROWN_OTHERWISE} - offered
    assert {name for _, name in left} == NOT_TRIED


def test_bounds_of_a_plain_unit_are_its_overall_size():
    for seed in range(30):
        data = any_unit(seed) | {"trim": {}, "cells": {}, "fill": None, "angled": []}
        data["frame"] = data["frame"] | {"rings": []}
        document = read_unit(remedied(data)[0])
        parts = build(document)
        low = np.min([part.solid.bounds[0] for part in parts], axis=0)
        high = np.max([part.solid.bounds[1] for part in parts], axis=0)
        assert (high - low)[:2] == pytest.approx([float(document.width.mm), float(document.height.mm)], abs=0.2)
