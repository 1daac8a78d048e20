"""Bars along arcs: they go on to the edges, and nothing of them stands in what they part."""

from __future__ import annotations

import random
from math import asin, sqrt, tan
from typing import Any

import pytest

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit import make, read_unit
from tests.core.remedied import remedied
from tests.core.test_any_unit import IN_THE_LONG_RUN

OUTLINES = ("rectangle", "segmental", "ellipse", "pointed", "semicircular", "polygon", "raked", "star")


def with_arcs(seed: int) -> dict[str, Any]:
    """A unit with one or two arcs anywhere in it, or beside it."""
    draw = random.Random(seed)
    arcs = [
        {
            **{f"x{k}": str(draw.randint(-50, 1200)) for k in (1, 2)},
            **{f"y{k}": str(draw.randint(-50, 1300)) for k in (1, 2)},
            "bulge": round(draw.uniform(-1, 1), 2),
            "face": str(draw.randint(34, 80)),
        }
        for _ in range(draw.choice([1, 1, 2]))
    ]
    return {"width": "1200", "height": "1400", "outline": {"kind": draw.choice(OUTLINES)}, "angled": arcs}


def segment_area(radius: float, half: float) -> float:
    """The area under a circular arc between -half and half, from its centre line: the integral of sqrt(r² - x²)."""
    return half * sqrt(radius**2 - half**2) + radius**2 * asin(half / radius)


def test_an_arc_goes_on_to_both_jambs_and_ends_on_them():
    """Its face between the jambs is a ring of two circles cut by two upright lines (textbook integral)."""
    frame, radius, face = 50.0, 900.0, 60.0
    # A crown 600 over the sill; the two points lie 200 and 300 mm from the middle, well within the jambs.
    rise = [sqrt(radius**2 - x**2) - radius + 600 for x in (-200, 300)]
    turned = asin(300 / radius) + asin(200 / radius)
    arc = {
        "x1": "700",
        "y1": str(rise[1]),
        "x2": "200",
        "y2": str(rise[0]),
        "bulge": tan(turned / 4),
        "face": str(face),
    }
    arc["x1"] = "850"
    arc["x2"] = "350"
    document = {
        "width": "1200",
        "height": "1000",
        "frame": {"face": str(frame)},
        "angled": [arc],
        "bars": {"edge": {"kind": "square"}},
    }
    unit = make(read_unit(document))
    assert audit_unit(unit) == []
    bar = next(part for part in unit.parts if part.role == "bar")
    low, high = bar.solid.bounds
    front = [run for run in unit.layout.members if run.role == "bar"]
    assert len(front) == 1
    half = (1200 - 2 * frame) / 2
    area = segment_area(radius + face / 2, half) - segment_area(radius - face / 2, half)
    stop = float(front[0].form.run.stop)
    face_part = bar.solid.manifold().slice(-stop / 2).area()
    assert face_part == pytest.approx(area, rel=2e-4)
    assert (low[0], high[0]) == pytest.approx((frame - 15, 1200 - frame + 15), abs=1e-6)


def test_the_arc_that_crossed_itself_is_sound():
    arc = {"x1": "0", "y1": "300", "x2": "900", "y2": "300", "bulge": 0.3, "face": "40"}
    unit = make(read_unit({"width": "1000", "height": "1000", "angled": [arc]}))
    assert audit_unit(unit) == []
    assert len(unit.layout.lights) == 2


@pytest.mark.parametrize("tens", range(10 if IN_THE_LONG_RUN else 5))
def test_arcs_anywhere_are_sound_or_refused_with_a_remedy(tens):
    built = 0
    for seed in range(tens * 10, tens * 10 + 10):
        document = with_arcs(seed)
        try:
            unit = make(read_unit(document))
        except Refusal:
            unit = make(read_unit(remedied(document)[0]))
        else:
            built += 1
        assert [found for found in audit_unit(unit) if found.level == "fault"] == [], seed
    assert built >= 2


def test_a_bar_wider_than_its_curve_is_refused_with_the_widest_that_works():
    arc = {"x1": "500", "y1": "300", "x2": "560", "y2": "300", "bulge": 1.0, "face": "80"}
    with pytest.raises(Refusal) as refused:
        make(read_unit({"angled": [arc]}))
    assert (refused.value.rule, refused.value.entry) == ("a bar narrower than its curve", "angled.0.face")
    assert refused.value.nearest == 59
