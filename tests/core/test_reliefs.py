"""Bars that are cut to curves: what is cut in plan is what booleans between solids leave."""

from __future__ import annotations

import random
from itertools import pairwise, product

import numpy as np
import pytest
from manifold3d import Manifold, OpType
from shapely.geometry import Point, Polygon, box

from ashfell.core.audit.solids import audit_overlaps
from ashfell.core.solid.boolean import of_manifold
from ashfell.core.solid.plate import plate
from ashfell.core.solid.relief import Stem, relief
from ashfell.core.unit import read_unit, solve
from ashfell.core.unit.build import build
from ashfell.core.unit.members import cut_bar

ROUND = [
    {"kind": "ellipse"},
    {"kind": "segmental", "rise": "300"},
    {"kind": "pointed"},
    {"kind": "semicircular"},
    {"kind": "star", "points": 7},
]


def by_booleans(lines, heights, region, floor, stem):
    """The same from hulls of what stands over each quadrilateral, and blocks."""
    hulls = []
    for (right, left), (low, high) in zip(pairwise(lines), pairwise(heights), strict=True):
        for (a, b), (d, c) in zip(pairwise(right), pairwise(left), strict=True):
            corners = [(*a, low), (*b, low), (*c, high), (*d, high), *((*p, floor) for p in (a, b, c, d))]
            hulls.append(Manifold.hull_points(np.array(corners)))
    made = Manifold.batch_boolean(hulls, OpType.Add) ^ plate(region, floor - 1, max(heights) + 1).manifold()
    return made + plate(stem.region, stem.low, floor).manifold() if stem else made


@pytest.mark.parametrize("seed", range(60))
def test_a_relief_is_what_booleans_leave(seed):
    """A path along an arc, a section that rises and falls, a round region that parts it, a narrower stem that reaches
    further."""
    pick = random.Random(seed)
    radius, half = pick.uniform(400, 2000), pick.uniform(10, 60)
    turns = np.linspace(-1.2, 1.2, pick.choice([2, 3, 24, 60])) * pick.uniform(0.6, 0.8)
    places = sorted(pick.uniform(-half, half) for _ in range(pick.choice([0, 1, 2, 4])))
    heights = [pick.uniform(20, 40) for _ in range(len(places) + 2)]
    mitre = np.cos((turns[1] - turns[0]) / 2)
    lines = (
        np.stack([np.stack([np.sin(turns), 1 - np.cos(turns)], axis=1) * radius for _ in (*places, -half, half)])
        + np.stack([np.stack([-np.sin(turns), np.cos(turns)], axis=1) * at for at in (-half, *places, half)]) / mitre
    )
    middle = lines[:, [(len(turns) - 1) // 2, len(turns) // 2]].mean(axis=(0, 1))
    x, y = middle
    disc = Point(x + pick.uniform(-30, 30), y + pick.uniform(-30, 30)).buffer(half + pick.uniform(40, 120), 24)
    stem = Stem(_between(lines, 0.3).intersection(disc.buffer(12)), -pick.uniform(5, 30)) if seed % 3 else None
    made = relief(lines, heights, disc, 0.0, stem)
    wanted = by_booleans(lines, heights, disc, 0.0, stem)
    assert made is not None
    assert made.is_closed
    assert made.volume == pytest.approx(wanted.volume(), rel=1e-6)
    assert (made.manifold() - wanted).volume() + (wanted - made.manifold()).volume() < 1e-6 * made.volume


def _between(lines, share):
    low, high = (lines[0] * (1 - at) + lines[-1] * at for at in (share, 1 - share))
    return Polygon([*low, *high[::-1]])


def test_what_is_no_single_piece_is_left_to_booleans():
    lines = np.array([[[-500, -20], [500, -20]], [[-500, 20], [500, 20]]], dtype=float)
    two = box(-100, -50, -50, 50).union(box(50, -50, 100, 50))
    assert relief(lines, [10, 10], two, 0.0, None) is None
    assert relief(lines, [10, 10], box(-100, 200, 100, 300), 0.0, None) is None
    assert relief(lines, [10, 10], Point(0, 0).buffer(200).difference(Point(0, 0).buffer(8)), 0.0, None) is None
    assert relief(lines, [10, 10], box(-100, -50, 100, 50), 0.0, Stem(box(-100, -20, 100, 20), -5)) is None
    folded = lines[::-1]
    assert relief(folded, [10, 10], box(-100, -50, 100, 50), 0.0, None) is None


@pytest.mark.parametrize("outline", ROUND, ids=lambda outline: outline["kind"])
def test_bars_of_units_are_what_booleans_leave(outline, monkeypatch):
    """Arcs between curved edges; of a moulding with steps nothing is made in plan."""
    seen = 0
    for kind, bulge in product(("square", "chamfer"), (0.3, 0.2, -0.15)):
        arc = {"x1": "300", "y1": "700", "x2": "1200", "y2": "750", "bulge": bulge, "face": "46"}
        bars = {"edge": {"kind": kind, "size": "6"}}
        unit = {"width": "1500", "height": "1700", "outline": outline, "bars": bars, "angled": [arc]}
        for run in solve(read_unit(unit)).body.bars:
            made = cut_bar._as_relief(run)
            with monkeypatch.context() as without:
                without.setattr(cut_bar, "_as_relief", lambda _: None)
                (wanted,) = cut_bar._cut_to_region(run)
            seen += 1
            assert made.is_closed
            assert made.volume == pytest.approx(wanted.volume, rel=1e-6)
            for a, b in ((made, wanted), (wanted, made)):
                assert sum(piece.volume for piece in of_manifold(a.manifold() - b.manifold())) < 1e-2
            assert made.manifold().volume() == pytest.approx(made.volume, rel=1e-9)  # no side is folded
    assert seen >= 6
    stepped = unit | {"bars": {"edge": {"kind": "ovolo", "size": "6"}}}
    assert [cut_bar._as_relief(run) for run in solve(read_unit(stepped)).body.bars] == [None]


def test_a_bar_whose_end_all_but_touches_itself_is_left_to_booleans():
    """In a hollow corner a hair of its face goes on along its side."""
    arc = {"x1": "0", "y1": "100", "x2": "900", "y2": "700", "bulge": 0.2, "face": "60"}
    unit = {
        "width": "1200",
        "height": "1200",
        "outline": {"kind": "star", "points": 5, "inner": 0.57},
        "frame": {"face": "49.25", "depth": "30", "edge": {"kind": "ovolo", "size": '1/8"'}},
        "bars": {"setback": "3", "edge": {"kind": "cove", "size": "3.25"}},
        "angled": [arc],
        "glazing": {"thickness": "10", "setback": "10", "cover": "7.25", "clearance": "3.25"}
        | {"gasket": {"thickness": "10", "shows": "3"}, "bead": {"edge": {"kind": "ogee", "size": "4"}}},
        "fill": {"kind": "glass", "thickness": "6", "gasket": {"thickness": "3", "shows": "4"}},
    }
    document = read_unit(unit)
    assert not [*audit_overlaps(build(document, solve(document)))]
