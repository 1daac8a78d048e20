"""Mitres that bend where facets of a curve end within a section: what has sections of its own round one light ends on
the same mitres."""

from __future__ import annotations

from math import radians, sqrt, tan

import numpy as np
import pytest
import shapely
from shapely.geometry import Polygon

from ashfell.core.audit.solids import audit_overlaps, audit_solids
from ashfell.core.plane.inset import vanishings
from ashfell.core.plane.loop import Loop
from ashfell.core.solid.sweep import cap_triangles, strip_topology
from ashfell.core.unit import make, read_unit
from ashfell.core.unit.members.mitres import APART, following_bends

FACE, COVER, CLEARANCE = 36.0, 10.5, 3.0
GLAZING = {
    "thickness": "24",
    "setback": "21.5",
    "cover": str(COVER),
    "clearance": str(CLEARANCE),
    "panes": 2,
    "pane": "4",
    "gasket": {"thickness": "4.5", "shows": "3"},
    "bead": {"edge": {"kind": "rebate", "size": "2.25"}},
}


def tip(x: int, y: int, bulge: float, y2: int):
    """A half-round unit with an arc bar that all but follows its head: sashes whose lights end in long tips."""
    bar = {"x1": str(x), "y1": str(y), "x2": "900", "y2": str(y2), "bulge": bulge, "face": "60"}
    sash = {"kind": "sash", "face": str(FACE), "depth": "60", "clearance": "14", "stop": "10", "opening": "fixed"}
    return {
        "width": "1876",
        "height": "938",
        "outline": {"kind": "half-round"},
        "frame": {"face": "61.25", "depth": "146.5"},
        "fill": sash,
        "angled": [bar],
        "glazing": GLAZING,
    }


TIPS = [(0, 100, -0.4, 700), (0, 160, -0.4, 700), (0, 40, -0.4, 600), (0, 40, -0.5, 700), (30, 0, -0.3, 700)]
TIPS += [(30, 0, -0.45, 600), (30, 0, -0.5, 700)]


@pytest.mark.parametrize("at", TIPS)
def test_what_ends_in_a_tip_is_beside_each_other(at):
    parts = make(read_unit(tip(*at))).parts
    assert not [*audit_solids(parts), *audit_overlaps(parts)]


@pytest.mark.parametrize("at", TIPS[::3])
def test_beads_fill_their_rebate_without_a_gap(at):
    """A slice through them is what shapely finds between two mitred insets of the edge of their sash."""
    unit = make(read_unit(tip(*at)))
    for sash in (sash for light in unit.layout.body.lights for sash in light.sashes):
        (light,) = sash.body.lights
        beads = [part.solid for part in unit.parts if part.id.startswith(f"bead.{light.key}.")]
        back = min(solid.bounds[0, 2] for solid in beads)
        # What the worked edge leaves whole lies from its size on.
        slices = [solid.manifold().slice(back + 2.25 + 1.0) for solid in beads]
        found = [shapely.union_all([Polygon(loop) for loop in one.to_polygons()]) for one in slices]
        edge, rebated = (
            sash.body.ring.loop.polygon.buffer(-by, join_style="mitre", mitre_limit=1e4)
            for by in (FACE, FACE - COVER - CLEARANCE)
        )
        rebate = rebated.difference(edge)
        assert sum(one.area for one in found) == pytest.approx(rebate.area, rel=1e-6)
        assert shapely.union_all(found).symmetric_difference(rebate).area < 1e-5 * rebate.area


def test_a_member_all_round_has_no_mitre_to_bend():
    """Facets at the tips of a flat ellipse end within its frame, and its section needs no more points for that than
    that of a circle."""
    ratios = []
    for width, height in (("1800", "300"), ("900", "900")):
        unit = make(read_unit({"width": width, "height": height, "outline": {"kind": "ellipse"}}))
        (frame,) = (part for part in unit.parts if part.role == "frame")
        assert not [*audit_solids(unit.parts), *audit_overlaps(unit.parts)]
        ratios.append(len(frame.solid.vertices) / len(unit.layout.outermost.loop.points))
    assert ratios[0] <= ratios[1] == int(ratios[1])  # corners that meet are one


def octagon(cuts: tuple[float, float, float, float], side: float = 100.0) -> Loop:
    """A square whose corners are cut off at 45°, by so much along both sides."""
    a, b, c, d = cuts
    points = [(a, 0), (side - b, 0), (side, b), (side, side - c), (side - c, side), (d, side), (0, side - d), (0, a)]
    return Loop.through(np.array(points, dtype=float), [str(k) for k in range(8)], [k % 2 == 1 for k in range(8)])


def test_facets_vanish_where_their_length_is_used_up():
    """A side between two corners of 135° is shorter by twice the tangent of 22.5° for each mm of an inset (plane
    geometry)."""
    cuts = (8.0, 3.0, 5.0, 12.0)
    found = vanishings(octagon(cuts), np.zeros(8), np.full(8, 20.0))
    each = sorted(cut * sqrt(2) / (2 * tan(radians(22.5))) / 20 for cut in cuts)
    assert [share for share, _ in found] == pytest.approx([share for share in each if share < 1])


def test_points_are_known_where_a_facet_vanishes():
    loop = octagon((8.0, 3.0, 5.0, 6.0))
    for share, points in vanishings(loop, np.full(8, -2.0), np.full(8, 30.0)):
        inset = loop.polygon.buffer(2.0 - 32.0 * share, join_style="mitre", mitre_limit=100)
        assert points is not None
        assert Polygon(points).symmetric_difference(inset).area < 1e-6


def test_nothing_vanishes_from_a_rectangle_or_outwards():
    rectangle = Loop.rectangle(0.0, 0.0, 100.0, 50.0, ["a", "b", "c", "d"])
    assert not [*vanishings(rectangle, np.zeros(4), np.full(4, 20.0))]
    assert not [*vanishings(octagon((8.0, 3.0, 5.0, 6.0)), np.zeros(8), np.full(8, -20.0))]


def test_a_bend_that_is_met_from_both_sides_is_one():
    """Found on the way inwards and on the way back it differs by rounding alone; its section is closed by slabs."""
    pick = np.random.default_rng(7)
    bent = 0
    for _ in range(400):
        loop, face = octagon(tuple(pick.uniform(2, 16, 4))), float(pick.uniform(15, 30))
        back = float(pick.uniform(5, face - 5))
        profile = [(0.0, 0.0, 0.0), (0.0, back, -20.0), (1.0, 0.0, -20.0), (1.0, 0.0, 0.0)]
        _, section = following_bends(loop, np.full(8, face), profile, face)
        levels = np.unique([x for x, _ in section])
        bent += len(levels) - 3
        assert np.diff(levels).min() > APART / 2
        assert len(cap_triangles(section)) == len(section) - 2
    assert bent > 400


def test_points_at_bends_part_no_face():
    """A section with points between leaves as many faces as without: the drawing shows no line there."""
    loop, face = octagon((8.0, 3.0, 5.0, 12.0)), 25.0
    profile = [(0.0, 0.0, 0.0), (0.0, 10.0, -20.0), (1.0, 0.0, -20.0), (1.0, 0.0, 0.0)]
    _, section = following_bends(loop, np.full(8, face), profile, face)
    assert len(section) > 4
    topology = strip_topology(section, 2, False)
    assert len(topology.first_triangles) == 4 + 2
    assert len(strip_topology(section, 2, False, each=True).first_triangles) == len(section) + 2
