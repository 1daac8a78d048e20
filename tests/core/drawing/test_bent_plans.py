"""Walls that bend, dimensioned on a plan."""

from math import asin, hypot, pi, sin

import pytest

from ashfell.core.base.lengths import Style
from ashfell.core.drawing.drafts import plan_drafts
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene

OPENING = {"id": "o", "wall": "w", "offset": "1000", "width": "1200", "height": "1000", "sill": "900"}


def drawn(length, curve, *placements, **wall):
    walls = [{"id": "w", "length": length, "height": "2600", "thickness": "200", "curve": curve} | wall]
    scene = build_scene(read_site({"walls": walls, "placements": list(placements)}))
    assert scene.refused == ()
    (draft,) = plan_drafts(scene, Style()).values()
    return draft


def test_a_wall_of_two_stretches_is_measured_along_each():
    """Two stretches of 5000, by 3, 4 and 5; what is measured is as long as its figure, and lies along its stretch."""
    draft = drawn("8000", {"kind": "bent", "points": [{"along": "4000", "out": "3000"}]}, OPENING)
    assert [size.text for size in draft.sizes] == ["1000", "1200", "2800", "5000", "5000"]
    for size in draft.sizes:
        (ax, ay), (bx, by) = size.start, size.end
        assert size.length == pytest.approx(float(size.text), abs=1e-3)
        assert abs((by - ay) / (bx - ax)) == pytest.approx(3 / 4)
    assert {word.text for word in draft.words} == {"o", "10000 along"}
    first, second = (size for size in draft.sizes if size.text == "5000")
    assert second.off == pytest.approx(first.off / 2)  # there is no chain between it and the wall


def test_their_figures_stand_outside():
    """The corner is out towards y below zero: so are the lines of all dimensions, from their wall."""
    draft = drawn("8000", {"kind": "bent", "points": [{"along": "4000", "out": "3000"}]}, OPENING)
    for size in draft.sizes:
        middle = [(a + b) / 2 for a, b in zip(*size.line, strict=True)]
        foot = [(a + b) / 2 for a, b in zip(size.start, size.end, strict=True)]
        away = [m - f for m, f in zip(middle, foot, strict=True)]
        assert hypot(*away) == pytest.approx(abs(size.off))
        assert away[1] < 0


@pytest.mark.parametrize("curve", [{"kind": "arc", "rise": "3000"}, {"kind": "radius", "radius": "3000"}])
def test_a_half_circle_has_its_radius_and_the_straight_of_what_is_in_it(curve):
    draft = drawn("6000", curve | {"facets": 60}, OPENING)
    radius, spans = 3000.0, (1000.0, 1200.0, pi * 3000 - 2200)
    straight = [2 * radius * sin(span / 2 / radius) for span in spans]
    assert [float(size.text) for size in draft.sizes] == pytest.approx(straight, rel=2e-3)
    assert [size.length for size in draft.sizes] == pytest.approx([float(size.text) for size in draft.sizes], abs=0.05)
    (told,) = (word.text for word in draft.words if "along" in word.text)
    assert told.startswith("R 3000, 942")


def test_the_radius_of_a_flat_arc_is_that_of_its_chord_and_rise():
    """By the intersecting chords: 2000² = 500 (2 r - 500), r = 4250; its arc is 2 r asin(2000 / r)."""
    draft = drawn("4000", {"kind": "arc", "rise": "500", "facets": 90})
    (word,) = draft.words
    radius, _, along = word.text.partition(", ")
    assert radius == "R 4250"
    assert float(along.removesuffix(" along")) == pytest.approx(2 * 4250 * asin(2000 / 4250), rel=1e-4)
    assert [size.text for size in draft.sizes] == ["4000"]
