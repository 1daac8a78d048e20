"""Curved walls from the arcs of a plan: rings whose areas and chords are those of circles."""

from __future__ import annotations

from math import cos, pi, radians, sin

import numpy as np
import pytest
import shapely
from shapely.geometry import Polygon

from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.core.site.traced.bows import bows
from ashfell.core.site.traced.faces import Rules
from ashfell.core.site.traced.walls import Heights, traced

NONE = np.empty((0, 4))
CENTRE = (5000.0, 4000.0)
INNER, OUTER = 3000.0, 3250.0


def ring(*spans, centre=CENTRE, radii=(INNER, OUTER)):
    return [(*centre, radius, radians(start), radians(end)) for radius in radii for start, end in spans]


def made(arcs, swings=()):
    found = traced(NONE, np.array(swings, dtype=float).reshape(-1, 3), Rules(), Heights(), np.array(arcs))
    scene = build_scene(read_site({"walls": found.walls, "placements": found.placements}))
    assert scene.refused == ()
    return found, scene


@pytest.mark.parametrize(("start", "end"), [(0, 90), (300, 400), (-45, 45), (100, 340)])
def test_two_arcs_about_a_centre_are_a_wall(start, end):
    """As large as a piece of a ring, and where it is; a chord of 5 degrees is off its arc by 0.1 %."""
    found, scene = made(ring((start, end)))
    (wall,) = found.walls
    assert wall["thickness"] == "250"
    radius, half = (INNER + OUTER) / 2, radians(end - start) / 2
    assert float(wall["length"]) == pytest.approx(2 * radius * sin(half), abs=0.01)
    assert float(wall["curve"]["rise"]) == pytest.approx(radius * (1 - cos(half)), abs=0.01)
    pieces = [Polygon(piece) for piece in scene.standing["wall-1"].host.plan([])]
    area = half * (OUTER**2 - INNER**2)
    assert sum(piece.area for piece in pieces) == pytest.approx(area, rel=3e-3)
    turns = np.radians(np.linspace(start, end, 400))
    rims = [np.array(CENTRE) + r * np.column_stack([np.cos(way), np.sin(way)])
            for r, way in ((INNER, turns), (OUTER, turns[::-1]))]  # fmt: skip
    true = Polygon(np.concatenate(rims) - found.origin)
    assert shapely.union_all(pieces).symmetric_difference(true).area < 0.02 * area


def test_gaps_in_both_are_openings_and_an_arc_beside_one_is_a_door():
    """Two gaps: one of 20 degrees in the middle, one of 16; a leaf of that width turns about the second."""
    spans = (0, 30), (50, 80), (96, 120)
    radius = (INNER + OUTER) / 2
    hinge = np.array(CENTRE) + OUTER * np.array([cos(radians(80)), sin(radians(80))])
    found, scene = made(ring(*spans), [(*hinge, radians(16) * radius)])
    window, door = found.placements
    assert (window["sill"], door["sill"]) == ("900", "0")
    assert float(window["offset"]) == pytest.approx(radians(30) * radius, rel=1e-3)
    assert float(window["width"]) == pytest.approx(radians(20) * radius, rel=1e-3)
    assert float(door["width"]) == pytest.approx(radians(16) * radius, rel=1e-3)
    assert len(scene.openings) == 2


def test_a_gap_that_is_too_wide_parts_two_walls():
    found, _ = made(ring((0, 30), (150, 180)))
    assert len(found.walls) == 2
    assert found.placements == []


def test_what_is_no_wall_is_counted_and_nothing_is_made_of_it():
    single = ring((0, 90), radii=(INNER,))
    apart = ring((0, 90), radii=(INNER, INNER + 900))
    closed = ring((0, 180), (180, 360))
    leaf = ring((0, 90), radii=(900,))
    for arcs, left in ((single, 1), (apart, 2), (closed, 4), (leaf, 0)):
        found = traced(NONE, np.empty((0, 3)), Rules(), Heights(), np.array(arcs))
        assert (found.walls, found.arcs_left) == ([], left)


def test_arcs_of_other_centres_are_not_mixed():
    found, _ = made([*ring((0, 90)), *ring((200, 260), centre=(20_000.0, 4000.0), radii=(2000.0, 2100.0))])
    assert sorted(wall["thickness"] for wall in found.walls) == ["100", "250"]


def test_thousands_of_rings_are_read_in_time_that_grows_with_their_number():
    """By count of comparisons: arcs about one centre are only looked at among themselves."""
    many = [one for n in range(2000) for one in ring((0, 90), centre=(n * 50_000.0, 0.0))]
    walls, left = bows(np.array(many), Rules())
    assert (len(walls), left) == (2000, 0)
    crowd = [(0.0, 0.0, 1000.0 + n, 0.0, pi / 2) for n in range(20_000)]
    assert bows(np.array(crowd), Rules())[0] == []
