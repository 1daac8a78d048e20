"""Curved walls between straight ones: a room whose front has a bay, or is rounded at its corners, with the areas that
circles and rectangles have."""

from __future__ import annotations

from math import atan2, cos, pi, radians, sin, sqrt

import numpy as np
import pytest
import shapely

from ashfell.core.audit.site import audit_scene
from ashfell.core.site.document.site import read_site
from ashfell.core.site.plan import plan
from ashfell.core.site.scene import build_scene
from ashfell.core.site.traced.faces import Rules
from ashfell.core.site.traced.walls import Heights, traced

WIDE, DEEP, MIDDLE = 6000.0, 4000.0, 3000.0


def room(rise, thick, half=1000.0, inwards=False, gap=None):
    """Lines and arcs of a room whose front has a bay: both faces of it about one centre; ``gap`` is open in both."""
    radius = (half**2 + rise**2) / (2 * rise)
    cy = rise - radius if inwards else radius - rise
    other = radius + thick if inwards else radius - thick

    def left(r, y):
        return MIDDLE - sqrt(r * r - (y - cy) ** 2)

    def arcs(r, x, y):
        first, last = atan2(y - cy, x - MIDDLE) % (2 * pi), atan2(y - cy, MIDDLE - x) % (2 * pi)
        low, high = (last, first) if inwards else (first, last)
        high += 2 * pi if high < low else 0
        spans = [(low, gap[0]), (gap[1], high)] if gap else [(low, high)]
        return [(MIDDLE, cy, r, *span) for span in spans]

    t, outer, inner = thick, left(radius, 0.0), left(other, thick)
    lines = [
        (0, 0, outer, 0), (WIDE - outer, 0, WIDE, 0), (WIDE, 0, WIDE, DEEP), (WIDE, DEEP, 0, DEEP), (0, DEEP, 0, 0),
        (t, t, inner, t), (WIDE - inner, t, WIDE - t, t), (WIDE - t, t, WIDE - t, DEEP - t),
        (WIDE - t, DEEP - t, t, DEEP - t), (t, DEEP - t, t, t),
    ]  # fmt: skip
    curves = [*arcs(radius, outer, 0.0), *arcs(other, inner, t)]
    more, less = (_segment(r, high - low) for _, _, r, low, high in (curves[0], curves[-1]))
    sign = -1 if inwards else 1
    area = WIDE * DEEP + sign * more - (WIDE - 2 * t) * (DEEP - 2 * t) - sign * less
    return np.array(lines, dtype=float), np.array(curves), area


def _segment(radius, angle):
    """The area between an arc and its chord."""
    return radius**2 * (angle - sin(angle)) / 2


def turned(lines, arcs, way):
    """The plan turned about its zero."""
    c, s = cos(way), sin(way)
    turn = np.array([[c, -s], [s, c]])
    lines = np.hstack([lines[:, :2] @ turn.T, lines[:, 2:] @ turn.T])
    return lines, np.hstack([arcs[:, :2] @ turn.T, arcs[:, 2:3], arcs[:, 3:] + way])


def built(lines, arcs):
    found = traced(lines, np.empty((0, 3)), Rules(), Heights(), arcs)
    scene = build_scene(read_site({"walls": found.walls, "placements": found.placements}))
    assert scene.refused == ()
    assert [finding for finding in audit_scene(scene) if finding.level == "fault"] == []
    return found, scene


def covered(scene):
    """The area of its walls on the plan; they share nothing."""
    pieces = [shapely.Polygon(piece) for host in plan(scene) for piece in host.solid]
    whole = shapely.union_all([piece.buffer(0.01, join_style="mitre") for piece in pieces])
    assert sum(piece.area for piece in pieces) == pytest.approx(whole.area, rel=1e-3)
    return whole


@pytest.mark.parametrize("way", [0.0, 37.0, 180.0])
@pytest.mark.parametrize("inwards", [False, True])
@pytest.mark.parametrize(("rise", "thick"), [(600, 300), (250, 200), (900, 150), (400, 400)])
def test_a_bay_is_met_by_the_front_on_both_sides(rise, thick, inwards, way):
    """Nothing is open, nothing twice: what walls cover is the room's outline less its inside, and what they enclose is
    one room. A face in facets is off by the segments between these and its arc."""
    lines, arcs, area = room(rise, thick, inwards=inwards)
    found, scene = built(*turned(lines, arcs, radians(way)))
    assert found.placements == []
    assert len(found.left) == found.arcs_left == 0
    assert [wall["reference"] for wall in found.walls] == ["outside"] * 6
    whole = covered(scene)
    assert whole.geom_type == "Polygon"
    assert len(whole.interiors) == 1
    (curved,) = [wall for wall in found.walls if "curve" in wall]
    count = curved["curve"]["facets"]
    lost = [count * _segment(radius, (high - low) / count) for _, _, radius, low, high in arcs]
    assert whole.area == pytest.approx(area, abs=max(lost) + 1000)
    assert float(curved["length"]) == pytest.approx(2000, abs=0.01)
    assert float(curved["curve"]["rise"]) == pytest.approx(-rise if inwards else rise, abs=0.01)


@pytest.mark.parametrize("inwards", [False, True])
def test_an_opening_in_a_bay_stays_where_it_is(inwards):
    lines, arcs, _ = room(600, 300, inwards=inwards)
    cx, cy, radius = arcs[0, :3]
    middle = (arcs[0, 3] + arcs[0, 4]) / 2
    gap = (middle - 0.3, middle + 0.2)
    lines, arcs, _ = room(600, 300, inwards=inwards, gap=gap)
    found, scene = built(lines, arcs)
    (opening,) = found.placements
    host = scene.standing[opening["wall"]].host
    at = float(opening["offset"]) + float(opening["width"]) / 2
    place = (host.frame(at) @ (at, 0.0, 0.0, 1.0))[:2] + found.origin
    true = np.array([cx, cy]) + radius * np.array([cos(middle - 0.05), sin(middle - 0.05)])
    assert np.hypot(*(place - true)) < 0.02 * radius
    assert float(opening["width"]) == pytest.approx(0.5 * radius, rel=0.01)


@pytest.mark.parametrize("corner", [800.0, 1500.0])
def test_rounded_corners_run_on_from_the_straight(corner):
    """Four quarters of a ring between four straight walls: as much wall as the perimeter of the middle by its
    thickness."""
    t, r = 200.0, corner
    lines, arcs = [], []
    for offset in (0.0, t):
        a, b, c, d = offset, r, WIDE - r, DEEP - r
        lines += [(b, a, c, a), (WIDE - a, b, WIDE - a, d), (c, DEEP - a, b, DEEP - a), (a, d, a, b)]
        for x, y, start in ((r, r, pi), (c, r, 1.5 * pi), (c, d, 0.0), (r, d, 0.5 * pi)):
            arcs.append((x, y, r - offset, start, start + pi / 2))
    found, scene = built(np.array(lines), np.array(arcs))
    assert len(found.walls) == 8
    perimeter = 2 * (WIDE - 2 * r) + 2 * (DEEP - 2 * r) + 2 * pi * (r - t / 2)
    assert covered(scene).area == pytest.approx(perimeter * t, rel=0.005)


def test_a_straight_wall_with_a_true_opening_beside_a_bay_keeps_it():
    lines, arcs, _ = room(600, 300)
    lines = [tuple(line) for line in lines]
    lines = [line for line in lines if line not in {(0, 0, 2000, 0), (300, 300, lines[5][2], 300)}]
    inner = room(600, 300)[0][5][2]
    lines += [(0, 0, 600, 0), (1400, 0, 2000, 0), (300, 300, 600, 300), (1400, 300, inner, 300)]
    found, _ = built(np.array(lines, dtype=float), arcs)
    (opening,) = found.placements
    assert (opening["offset"], opening["width"]) == ("600", "800")
    assert len(found.walls) == 6
