"""What lies clear of a curved outline is as in a rectangle: it is the same as when it is cut."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from ashfell.core.solid.boolean import of_manifold
from ashfell.core.unit import read_unit, solve
from ashfell.core.unit.build import build
from ashfell.core.unit.solve import bars, cell

OUTLINES = [
    {"kind": "ellipse"},
    {"kind": "segmental", "rise": "400"},
    {"kind": "half-round"},
    {"kind": "polygon", "points": 7},
    {"kind": "star", "points": 5, "inner": 0.7},
    {"kind": "rectangle", "corners": [{"kind": "scooped", "size": "200"}]},
]


@pytest.mark.parametrize("through", ["columns", "rows"])
@pytest.mark.parametrize("outline", OUTLINES, ids=lambda outline: outline["kind"])
def test_what_is_clear_of_the_outline_is_what_cutting_leaves(outline, through, monkeypatch):
    unit = {
        "width": "2600",
        "height": "2300",
        "outline": outline,
        "columns": {"lights": [{}, {"share": "2"}, {}, {}, {}], "bars": ["44", "50", "60", "44"]},
        "rows": {"lights": [{}] * 5, "bars": ["50"] * 4},
        "bars": {"through": through, "edge": {"kind": "chamfer", "size": "5"}},
        "cells": {"c3r3": {"columns": {"lights": [{}, {}], "bars": ["40"]}}},
    }
    inside, told = cell.is_inside, []
    monkeypatch.setattr(cell, "is_inside", lambda *asked: told.append(inside(*asked)) or told[-1])
    made = solve(read_unit(unit))
    assert any(told) or not made.root.loop.is_convex  # in a hollow outline every light is cut
    square = sum(run.face_region is None for run in made.body.bars)
    with monkeypatch.context() as without:
        for module in (bars, cell):
            without.setattr(module, "is_inside", lambda *_: False)
        cut = solve(read_unit(unit))
    assert square > sum(run.face_region is None for run in cut.body.bars)
    for one, other in zip(made.body.lights, cut.body.lights, strict=True):
        assert (one.key, one.clear, one.is_rectangle) == (other.key, other.clear, other.is_rectangle)
        assert shapely.symmetric_difference(one.loop.polygon, other.loop.polygon).area < 1e-6
    wanted = {part.id: part for part in build(read_unit(unit), cut)}
    parts = build(read_unit(unit), made)
    assert {part.id for part in parts} == {*wanted}
    for part in parts:
        other = wanted[part.id]
        assert part.solid.volume == pytest.approx(other.solid.volume, rel=1e-9, abs=1e-3)
        assert np.abs(part.solid.bounds - other.solid.bounds).max() < 1e-6
        if part.role == "bar":
            left = part.solid.manifold() - other.solid.manifold()
            assert sum(piece.volume for piece in of_manifold(left)) < 1e-3
