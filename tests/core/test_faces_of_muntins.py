"""Muntins that differ on both faces, sections of their own for muntins, beads, sills and boards."""

from __future__ import annotations

import pytest

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.document import dump
from ashfell.core.base.lengths import Style
from ashfell.core.base.refusal import Refusal
from ashfell.core.drawing.points import points_sheet
from ashfell.core.unit import make, read_unit
from ashfell.core.unit.edit.change import change


def points(*places):
    return [{"x": str(x), "y": str(y)} for x, y in places]


HOUSE = points((0, -8), (0, -6), (9, 0), (18, -6), (18, -8))
"""18 wide and 8 high under a gable from 2 to 8: an area of 18 * 2 + 18 * 6 / 2 = 90."""
GRID = {"columns": {"lights": [{}, {}], "bars": ["18"]}}


def unit_with(muntins, **more):
    return {
        "frame": {"depth": "100"},
        "glazing": {"setback": "40"},
        "fill": {"kind": "glass", "muntins": muntins},
    } | more


def areas(unit):
    """Volume over length of the straight muntins on both faces."""
    found = {}
    for part in unit.parts:
        if part.role == "muntin":
            low, high = part.solid.bounds
            found[part.id.split(".")[2]] = part.solid.volume / (high[1] - low[1])
    return found


def test_each_face_has_its_own_section_and_proud():
    unit = make(read_unit(unit_with(GRID | {"section": HOUSE, "inner": {"proud": "5", "edge": {"kind": "square"}}})))
    assert audit_unit(unit) == []
    assert areas(unit) == pytest.approx({"outer": 90, "inner": 18 * 5})


def test_the_inner_face_stands_proud_inwards():
    unit = make(read_unit(unit_with(GRID | {"inner": {"proud": "11"}})))
    inner = next(part.solid.bounds for part in unit.parts if part.id.startswith("muntin.c1r1.inner"))
    outer = next(part.solid.bounds for part in unit.parts if part.id.startswith("muntin.c1r1.outer"))
    assert inner[:, 2].tolist() == pytest.approx([-64 - 11, -64])
    assert outer[:, 2].tolist() == pytest.approx([-40, -40 + 8])


@pytest.mark.parametrize(
    "muntins",
    [
        {"kind": "radial", "circles": ["200", "400"], "spokes": 3},
        {"kind": "radial", "circles": ["250"], "spokes": 5, "centre": ["550", "550"]},
        {"kind": "perimeter"},
        {"kind": "diamond"},
    ],
)
@pytest.mark.parametrize("outline", [{"kind": "rectangle"}, {"kind": "ellipse"}])
def test_every_pattern_is_worked(muntins, outline):
    for worked in ({"section": HOUSE}, {"edge": {"kind": "ovolo", "size": "4"}}):
        unit = make(read_unit(unit_with(muntins | worked, outline=outline)))
        assert audit_unit(unit) == []
        square = make(read_unit(unit_with(muntins, outline=outline)))
        less = [sum(p.solid.volume for p in one.parts if p.role == "muntin") for one in (unit, square)]
        assert less[0] < 0.97 * less[1]


def test_a_round_muntin_has_the_volume_of_its_section_on_its_way_round():
    """Pappus: the middle of the section goes round, here about the middle of the light."""
    muntins = {
        "kind": "radial",
        "circles": ["250"],
        "spokes": 1,
        "centre": ["550", "550"],
        "section": HOUSE,
        "faces": "outer",
    }
    unit = make(read_unit(unit_with(muntins)))
    ring = max((part for part in unit.parts if part.role == "muntin"), key=lambda part: part.solid.volume)
    assert ring.solid.volume == pytest.approx(90 * 2 * 3.14159265 * 250, rel=2e-3)


def test_muntins_that_stand_out_inside_are_refused_there():
    with pytest.raises(Refusal) as refused:
        make(read_unit(unit_with(GRID | {"inner": {"proud": "60"}})))
    assert refused.value.entry == "fill.muntins.inner.proud"


def test_a_bead_of_its_own_section():
    """15 by 28 with a bevel of 9 by 12 off its inner corner."""
    section = points((0, -28), (0, 0), (6, 0), (15, -12), (15, -28))
    unit = make(read_unit({"glazing": {"bead": {"section": section}}}))
    assert audit_unit(unit) == []
    left = next(part.solid for part in unit.parts if part.id == "bead.c1r1.left")
    middle = (left.bounds[1][1] - left.bounds[0][1]) - 15
    assert left.volume == pytest.approx((15 * 28 - 9 * 12 / 2) * middle, rel=0.02)


def test_a_sill_and_an_apron_of_their_own():
    sill = points((-60, -50), (70, -50), (70, -20), (0, 0), (-60, 0))
    trim = {"sill": {"section": sill, "horns": "30"}, "apron": {"section": points((0, 0), (20, 10), (20, 80), (0, 80))}}
    unit = make(read_unit({"trim": trim}))
    assert audit_unit(unit) == []
    parts = {part.id: part.solid for part in unit.parts}
    assert parts["sill"].volume == pytest.approx((130 * 50 - 70 * 20 / 2) * (1200 + 60))
    assert parts["apron"].volume == pytest.approx((20 * 80 - 20 * 10 / 2) * (1200 + 80))
    assert parts["apron"].bounds[1][1] == pytest.approx(0)


@pytest.mark.parametrize(
    ("trim", "rule"),
    [
        ({"sill": {"section": points((0, 0), (50, -40), (50, 10))}}, "a sill below the frame"),
        ({"apron": {"section": points((-5, 0), (20, 0), (20, 50))}}, "a section off the wall"),
    ],
)
def test_a_section_in_the_way_is_refused(trim, rule):
    with pytest.raises(Refusal) as refused:
        make(read_unit({"trim": trim}))
    assert refused.value.rule == rule


@pytest.mark.parametrize(
    ("unit", "entry"),
    [
        (unit_with(GRID), "fill.muntins.section"),
        (unit_with(GRID | {"inner": {}}), "fill.muntins.inner.section"),
        ({}, "glazing.bead.section"),
        ({"trim": {"sill": {}}}, "trim.sill.section"),
        ({"trim": {"apron": {}}}, "trim.apron.section"),
        ({"trim": {"head_drip": {}}}, "trim.head_drip.section"),
    ],
)
def test_a_section_is_begun_from_what_is_there(unit, entry):
    """Drawn without a change it makes about the same solids, and it can be drawn on its sheet."""
    data = dump(read_unit(unit))
    drawn = change(data, f"{entry}.drawn", "")
    before, after = (make(read_unit(one)) for one in (data, drawn))
    assert audit_unit(after) == []
    volumes = [sum(part.solid.volume for part in one.parts) for one in (before, after)]
    assert volumes[0] == pytest.approx(volumes[1], rel=5e-3)
    sheet = points_sheet(after, Style(), entry)
    assert sheet is not None
    assert len(sheet.points) >= 3
