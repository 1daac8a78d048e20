"""Strips whose ends are cut in plan, against booleans of the same solids by manifold3d."""

from __future__ import annotations

import random
from math import cos, pi, sin

import numpy as np
import pytest
import shapely
from shapely.geometry import LineString, Point, Polygon

from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import polygons
from ashfell.core.solid.ended import bent, straight
from ashfell.core.solid.form import Sweep
from ashfell.core.solid.plate import plate
from ashfell.core.solid.ring import ring_corners
from ashfell.core.solid.stepped import cut
from ashfell.core.solid.sweep import tidy
from ashfell.core.unit import read_unit
from ashfell.core.unit.build import build
from ashfell.core.unit.members import cut_bar

SECTIONS = {
    "square": ((-10, -8), (10, -8), (10, 0), (-10, 0)),
    "chamfered": ((-10, -8), (10, -8), (10, -2), (8, 0), (-8, 0), (-10, -2)),
    "uneven": ((-10, -8), (10, -8), (10, -5), (3, -1), (1, 0), (-6, -3), (-10, -4)),
    "undercut": ((-10, -8), (10, -8), (10, -6), (4, -5), (9, -2), (0, 0), (-10, -3)),
}


def differ(one, other) -> float:
    """What only one of two solids takes up, mm³."""
    return float((one - other).volume() + (other - one).volume())


def region(pick: random.Random) -> Polygon:
    """Something a strip along x from -300 to 300 is cut to: its ends straight, bent in or out, or a curve."""
    far = []
    for side in (1, -1):
        count = pick.randint(0, 5)
        across = sorted([-20.0, 20.0, *(pick.uniform(-12, 12) for _ in range(count))])
        lean = pick.uniform(-2, 2)
        end = [(side * (150 + pick.uniform(0, 30) * (count > 0)) + lean * at, at) for at in across]
        far.append(end if side > 0 else end[::-1])
    whole = Polygon([*far[0], *far[1]])
    return whole.intersection(Point(0, 0).buffer(pick.uniform(120, 200), 16)) if pick.random() < 0.4 else whole


@pytest.mark.parametrize("section", SECTIONS)
def test_a_straight_strip_is_cut_as_booleans_cut_it(section):
    pick, laid, made = random.Random(section), tidy(SECTIONS[section]), 0
    for _ in range(60):
        turn = pick.uniform(0, 2 * pi)
        along, left = np.array([cos(turn), sin(turn)]), np.array([-sin(turn), cos(turn)])
        corners = np.array([[(*(far * along + x * left), w) for x, w in laid] for far in (-300.0, 300.0)])
        strip = LineString([(-300, 0), (300, 0)]).buffer(10, cap_style="flat")
        (piece,) = polygons(strip.intersection(region(pick)))
        turned = Polygon([x * along + y * left for x, y in piece.exterior.coords[:-1]])
        form = straight(turned, corners, laid)
        if form is None:
            continue
        (solid,) = form.solids()
        wanted = Sweep(corners, laid).solids()[0].manifold() ^ plate(turned, -20, 10).manifold()
        assert solid.is_closed
        assert differ(solid.manifold(), wanted) < 1e-4
        assert len(solid.topology.first_triangles) == len(laid) + 2
        made += 1
    assert made > 45


@pytest.mark.parametrize("section", SECTIONS)
def test_a_strip_round_a_loop_is_cut_as_booleans_cut_it(section):
    pick, laid, made = random.Random(section), tidy(SECTIONS[section]), 0
    for _ in range(40):
        count, radius = pick.choice((4, 12, 48, 96)), pick.uniform(60, 300)
        points = [
            (radius * cos(2 * pi * (k + 0.5) / count), radius * sin(2 * pi * (k + 0.5) / count)) for k in range(count)
        ]
        loop = Loop.through(np.array(points), ["round"] * count, [True] * count)
        corners = ring_corners([loop], np.zeros(count), [(0.0, x, w) for x, w in laid])[0]
        ring = Polygon(loop.inset(-10, "outer").points, [loop.inset(10, "inner").points])
        low = pick.choice((0.0, pick.uniform(-0.8, 0.8) * radius))
        pieces = polygons(ring.intersection(shapely.box(-1000, low, 1000, 1000)))
        if len(pieces) != 1:
            continue
        form = bent(pieces[0], corners, laid, True)
        if form is None:
            continue
        (solid,) = form.solids()
        wanted = Sweep(corners, laid, True).solids()[0].manifold() ^ plate(pieces[0], -20, 10).manifold()
        assert solid.is_closed
        assert differ(solid.manifold(), wanted) < 1e-3
        made += 1
    assert made > 18


@pytest.mark.parametrize("outline", ["semicircular", "pointed", "elliptical", "segmental", "raked"])
@pytest.mark.parametrize("edge", [{"kind": "square"}, {"kind": "chamfer", "size": "4"}, {"kind": "ogee", "size": "6"}])
def test_bars_that_end_on_curves_and_slopes_are_cut_as_booleans_cut_them(outline, edge, monkeypatch):
    document = read_unit(
        {
            "width": "1700",
            "height": "2300",
            "outline": {"kind": outline},
            "columns": {"lights": [{}, {}, {}], "bars": ["60", "44"]},
            "rows": {"lights": [{"size": "500"}, {}], "bars": ["52"]},
            "bars": {"edge": edge},
            "angled": [],
        }
    )
    made = {part.id: part.solid for part in build(document) if part.role == "bar"}
    direct: list[bool] = []
    monkeypatch.setattr(cut_bar, "_straight", lambda run: direct.append(True))
    cut_by_booleans = [part for part in build(document) if part.role == "bar"]
    assert direct
    assert {part.id for part in cut_by_booleans} == {*made}
    for part in cut_by_booleans:
        assert made[part.id].is_closed
        assert differ(made[part.id].manifold(), part.solid.manifold()) < 1e-3


def test_what_is_cut_otherwise_is_left_to_booleans():
    laid = tidy(SECTIONS["chamfered"])
    corners = np.array([[(far, x, w) for x, w in laid] for far in (-300.0, 300.0)])
    narrower = shapely.box(-100, -10, 100, 6)
    notched = Polygon([(-100, -10), (100, -10), (100, 2), (90, 0), (100, -2 + 5), (100, 10), (-100, 10)])
    tip = Polygon([(-100, -10), (100, -10), (-100, 10)])
    holed = shapely.box(-100, -10, 100, 10).difference(Point(0, 0).buffer(4))
    for piece in (narrower, notched, tip, holed):
        assert straight(piece, corners, laid) is None
    tee = (
        (-6.0, -20.0),
        (-6.0, -60.0),
        (6.0, -60.0),
        (6.0, -20.0),
        (10.0, -20.0),
        (10.0, 0.0),
        (-10.0, 0.0),
        (-10.0, -20.0),
    )
    line = np.array([(-300.0, 0.0), (300.0, 0.0)])
    face, stem = shapely.box(-100, -10, 100, 10), shapely.box(-110, -6, 110, 6)
    made = cut(face, stem, line, tee, 4)
    assert made is not None
    assert made.volume == pytest.approx(200 * 20 * 20 + 220 * 12 * 40)
    assert cut(face, shapely.box(-110, -6, 100, 6), line, tee, 4) is None
