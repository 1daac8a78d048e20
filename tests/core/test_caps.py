"""The ends of sections: closed by triangles that cover them once, whatever their shape."""

from __future__ import annotations

import random

import numpy as np
import pytest
from shapely.geometry import Polygon

from ashfell.core.solid.sweep import cap_triangles
from ashfell.core.unit import read_unit, solve
from ashfell.core.unit.members.ring import ring_profile

RECTANGLE = ((0.0, -60.0), (40.0, -60.0), (40.0, 0.0), (0.0, 0.0))
REBATED = ((0.0, -60.0), (28.0, -60.0), (28.0, -20.0), (40.0, -20.0), (40.0, 0.0), (28.0, 0.0), (0.0, 0.0))
"""With a point on its front over the rebate."""
CHANNEL = ((0.0, -9.0), (2.0, -9.0), (2.0, -2.0), (8.0, -2.0), (8.0, -9.0), (10.0, -9.0))
CHANNEL = (*CHANNEL, (10.0, 0.0), (8.0, 0.0), (2.0, 0.0), (0.0, 0.0))


def areas(section):
    corners = np.array(section)[cap_triangles(section)]
    (ax, ay), (bx, by) = (corners[:, 1] - corners[:, 0]).T, (corners[:, 2] - corners[:, 0]).T
    return (ax * by - ay * bx) / 2


def covers(section):
    found = areas(section)
    assert len(found) == len(section) - 2
    assert found.min() > 0
    assert found.sum() == pytest.approx(Polygon(section).area, rel=1e-12)


@pytest.mark.parametrize("section", [RECTANGLE, REBATED, CHANNEL])
def test_a_section_is_covered_once(section):
    for turned in range(len(section)):
        covers((*section[turned:], *section[:turned]))


def test_no_triangle_of_a_section_in_slabs_goes_over_a_point():
    """Between two upright lines through its points every triangle has a side on one of them."""
    for section in (REBATED, CHANNEL):
        points = np.array(section)
        for triangle in cap_triangles(section).tolist():
            assert len(set(points[triangle, 0])) == 2


def slabs(seed):
    """Two lines of points over each other, with an upright row of points at either end."""
    pick = random.Random(f"slabs {seed}")
    across = sorted(pick.sample(range(100), pick.randint(2, 9)))
    under = [(float(x), -pick.uniform(1, 50)) for x in across]
    over = [(float(x), pick.uniform(1, 50)) for x in across]
    up = sorted(pick.uniform(under[-1][1], over[-1][1]) for _ in range(pick.randint(0, 4)))
    down = sorted((pick.uniform(under[0][1], over[0][1]) for _ in range(pick.randint(0, 4))), reverse=True)
    right, left = [(float(across[-1]), y) for y in up], [(float(across[0]), y) for y in down]
    return (*under, *right, *reversed(over), *left)


def test_random_slabs_are_covered_once():
    for seed in range(200):
        covers(slabs(seed))


@pytest.mark.parametrize("edge", ["square", "chamfer", "round", "cove", "ogee", "rebate", "stepped"])
def test_worked_sections_are_covered_once(edge):
    unit = {"width": "900", "height": "900", "frame": {"face": "60", "edge": {"kind": edge, "size": "6"}}}
    _, section = ring_profile(solve(read_unit(unit)).body.ring)
    covers(section)
