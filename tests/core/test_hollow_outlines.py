"""Outlines with hollow sides and arcs, and triangles with bars: closed, outward, disjoint, without empty triangles."""

from __future__ import annotations

import random
from collections import Counter
from math import cos, pi, sin
from typing import Any

import numpy as np
import pytest

from ashfell.core.audit.solids import audit_overlaps
from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.outline import Outline
from ashfell.core.unit import make, read_unit, solve
from ashfell.core.unit.build import build
from tests.core.any_unit import any_unit
from tests.core.remedied import remedied

Data = dict[str, Any]


def hollow(draw: random.Random) -> Data:
    """A path round a centre whose arcs bend either way, divided or not."""
    count, nodes = draw.randint(4, 9), []
    for k in range(count):
        turn, reach = 2 * pi * k / count + draw.uniform(-0.2, 0.2), draw.uniform(350, 650)
        bulge = draw.choice([0, 0, 0.2, -0.2, 0.4, -0.4])
        nodes.append((round(600 + reach * cos(turn), 1), round(700 + reach * sin(turn), 1), bulge))
    left, foot, right, head = Outline.of(nodes).bounds
    unit: Data = {
        "outline": {"kind": "path", "nodes": [{"x": str(x), "y": str(y), "bulge": bulge} for x, y, bulge in nodes]},
        "width": f"{right - left:.4f}",
        "height": f"{head - foot:.4f}",
    }
    if draw.random() < 0.4:
        unit["columns"] = {"lights": [{}, {}], "bars": ["60"]}
    if draw.random() < 0.2:
        unit["fill"] = {"kind": draw.choice(["panel", "louvres", "sash"])}
    return unit


def triangle(draw: random.Random) -> Data:
    """A triangle of any proportion with bars both ways."""
    unit: Data = {"outline": {"kind": "polygon", "points": 3}}
    unit |= {side: str(draw.randint(700, 1600)) for side in ("width", "height")}
    for axis, most in (("rows", 4), ("columns", 3)):
        lights = draw.randint(1, most)
        bars = [str(draw.randint(34, 80)) for _ in range(lights - 1)]
        unit[axis] = {"lights": [{}] * lights, "bars": bars}
    return unit


def told(make_one, seeds) -> Counter[str]:
    """How often units were sound, refused, or what was wrong with them."""
    found: Counter[str] = Counter()
    for seed in seeds:
        try:
            unit = make(read_unit(make_one(random.Random(seed))))
        except Refusal as refusal:
            found[f"refused: {refusal.rule}"] += 1
            continue
        faults = [finding.reason for finding in audit_unit(unit) if finding.level == "fault"]
        bare = [part.id for part in unit.parts if (np.linalg.norm(part.solid.normals, axis=1) < 0.5).any()]
        found[f"seed {seed}: {(faults + bare)[0]}" if faults or bare else "sound"] += 1
    return found


def test_hollow_outlines_are_sound():
    found = told(hollow, range(45))
    assert [key for key in found if key.startswith("seed")] == []
    assert found["sound"] >= 36


def test_triangles_with_bars_are_sound():
    found = told(triangle, range(45))
    assert [key for key in found if key.startswith("seed")] == []
    assert found["sound"] >= 39


def test_an_inset_is_the_same_whichever_way_it_is_reached():
    """In and back again, edges that vanish on the way included, is where one goes at once."""
    for seed in range(40):
        loop = Outline.of(
            [(float(n["x"]), float(n["y"]), n["bulge"]) for n in hollow(random.Random(seed))["outline"]["nodes"]]
        ).facets()
        deep = loop.moved(60.0)
        at_once = loop.moved(45.0)
        if deep is not None and at_once is not None:
            assert np.allclose(loop.inset(60.0, "offset").inset(-15.0, "offset").points, at_once, atol=1e-6)


def test_a_bar_that_a_point_parts_only_before_the_glass_is_refused():
    """In a star of nine a point between two arms comes nearer to a bar than its rebates are deep."""
    data, met = remedied(any_unit(200043))
    assert data["outline"]["kind"] == "star"
    assert "pieces of a bar that stay apart" in [refusal.rule for refusal in met]
    assert audit_unit(make(read_unit(data))) == []


@pytest.mark.parametrize("kind", ["glass", "flush"])
def test_a_light_that_ends_just_beside_a_hollow_corner_keeps_within_the_rebate(kind):
    """In front it is a rectangle and touches no corner; behind the bar it goes on into the frame there."""
    corners = [{"kind": "square"}] * 2 + [{"kind": "scooped", "size": "189.25", "radius": "532.25"}, {"kind": "square"}]
    unit: Data = {
        "width": "1201",
        "height": "602",
        "outline": {"kind": "rectangle", "corners": corners},
        "frame": {"face": "49.5", "depth": "136"},
        "rows": {"lights": [{}, {}], "bars": ["50"]},
        "glazing": {"thickness": "10.75", "setback": "25", "cover": "11.5", "bar_cover": "9", "clearance": "2.75"},
        "cells": {"c1r2": {"fill": {"kind": kind}}},
    }
    near = read_unit(unit | {"columns": {"lights": [{"size": "934.35"}, {}], "bars": ["36.5"]}})
    with pytest.raises(Refusal, match=r"leave the rebate by 9\.82") as caught:
        solve(near)
    assert caught.value.entry == "cells.c1r2"
    further = read_unit(unit | {"columns": {"lights": [{"size": "935"}, {}], "bars": ["36.5"]}})
    assert not [*audit_overlaps(build(further, solve(further)))]
