"""Outlines of lines and arcs."""

from math import pi, sqrt

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.outline import Outline
from ashfell.core.plane.points import left_of
from ashfell.core.plane.segment import CHORD, arch, bulge_of
from ashfell.core.solid.ring import ring_corners
from ashfell.core.solid.sweep import strip

CIRCLE = Outline.of([(-500, 0, 1), (500, 0, 1)])
D_SHAPE = Outline.of([(0, 0, 0), (800, 0, 0), (800, 600, bulge_of(pi)), (0, 600, 0)])


def test_areas_and_lengths_of_known_shapes():
    assert CIRCLE.area == pytest.approx(pi * 500**2)
    assert CIRCLE.length == pytest.approx(pi * 1000)
    assert D_SHAPE.area == pytest.approx(800 * 600 + pi * 400**2 / 2)
    assert D_SHAPE.bounds == pytest.approx((0, 0, 800, 1000))


def test_turned_round_it_is_the_same():
    clockwise = Outline.of([(0, 0), (0, 600), (800, 600), (800, 0)])
    assert clockwise.area == 480_000


def test_facets_stay_within_the_chord_tolerance():
    points = CIRCLE.facets().points
    middles = (points + np.roll(points, -1, axis=0)) / 2
    assert np.hypot(*points.T) == pytest.approx(500)
    assert 500 - np.hypot(*middles.T).min() <= CHORD


@given(st.floats(1, 280), st.sampled_from([CIRCLE, D_SHAPE, Outline.rectangle(900, 600)]))
def test_inset_and_back_is_the_same(by, outline):
    loop = outline.facets()
    assert loop.inset(by, "offset").inset(-by, "offset").points == pytest.approx(loop.points, abs=1e-6)


def test_inset_of_a_circle_is_a_circle():
    assert CIRCLE.facets(0.001).inset(100, "offset").area == pytest.approx(pi * 400**2, rel=1e-4)


def test_edges_of_an_inset_are_opposite_each_other():
    loop = D_SHAPE.facets()
    moved = loop.inset(40, "offset")
    apart = ((moved.points - loop.points) * left_of(loop.along)).sum(axis=1)
    assert apart == pytest.approx(40, abs=1e-6)


def test_a_section_goes_round_any_outline_as_a_closed_ring():
    """Volume by the theorem of Pappus for the arc, and by length for the lines: a 30 x 20 ring inside a D."""
    section = ((0.0, 0.0), (30.0, 0.0), (30.0, 20.0), (0.0, 20.0))
    loop = D_SHAPE.facets()
    corners = ring_corners([loop], np.full(len(loop.tags), 30.0), [(across / 30, 0.0, w) for across, w in section])
    ring = strip(corners[0], section, closed=True, bent=True)
    assert ring.is_closed
    assert ring.volume == pytest.approx((loop.area - loop.inset(30, "offset").area) * 20, rel=1e-9)


def test_too_large_an_inset_says_the_largest_that_works():
    with pytest.raises(Refusal, match=r"299\.99 mm|300 mm"):
        Outline.rectangle(900, 600).facets().inset(301, "offset")
    with pytest.raises(Refusal, match="leaves nothing"):
        CIRCLE.facets().inset(600, "offset")


def test_concave_corners_are_mitred_too():
    corner = Outline.of([(0, 0), (600, 0), (600, 300), (300, 300), (300, 600), (0, 600)])
    assert corner.facets().inset(50, "offset").area == pytest.approx(corner.area - corner.length * 50 + 4 * 50**2)


def test_nothing_inside_is_refused():
    with pytest.raises(Refusal, match="no area"):
        Outline.of([(0, 0), (100, 0), (200, 0)])


def test_segmental_arch():
    assert arch(1000, 500) == 500
    rise, radius = 200.0, arch(1200, 200)
    assert radius - sqrt(radius**2 - 600**2) == pytest.approx(rise)
