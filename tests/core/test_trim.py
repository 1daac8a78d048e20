"""Trim goes where there is room for it."""

from __future__ import annotations

import pytest

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit import make, read_unit
from tests.core.remedied import remedied

POINTS = (("0", "0"), ("130", "0"), ("130", "20"), ("60", "40"), ("0", "25"))
WIDE = [{"x": x, "y": y} for x, y in POINTS]
"""A section that is much wider than a casing's width."""


def bounds_of(unit, key):
    return next(part.solid.bounds for part in unit.parts if part.id == key)


def test_a_casing_round_a_unit_with_a_sill_ends_above_it():
    unit = make(read_unit({"trim": {"outside": {}, "sill": {}}}))
    assert audit_unit(unit) == []
    assert not any(part.id == "casing.outside.sill" for part in unit.parts)
    assert bounds_of(unit, "casing.outside.left")[0][1] == bounds_of(unit, "sill")[1][1] == 0


def test_a_casing_inside_ends_above_a_sill_that_comes_through():
    short, through = (make(read_unit({"trim": {"inside": {}, "sill": {"under": under}}})) for under in ("80", "120"))
    assert any(part.id == "casing.inside.sill" for part in short.parts)
    assert not any(part.id == "casing.inside.sill" for part in through.parts)
    assert audit_unit(short) == audit_unit(through) == []


@pytest.mark.parametrize("side", ["outside", "inside"])
def test_a_casing_all_round_is_refused_where_a_sill_stands(side):
    trim = {side: {"sides": "all"}, "sill": {"under": "120"}}
    with pytest.raises(Refusal) as refused:
        make(read_unit({"trim": trim}))
    assert (refused.value.entry, refused.value.rule) == (f"trim.{side}.sides", "a casing that ends above the sill")
    assert audit_unit(make(read_unit(remedied({"trim": trim})[0]))) == []


def test_boards_stand_clear_of_a_casing_of_any_section():
    trim = {"outside": {"section": WIDE}, "inside": {"section": WIDE}, "apron": {}, "head_drip": {}}
    unit = make(read_unit({"height": "1200", "trim": trim}))
    assert audit_unit(unit) == []
    # Sections run 130 mm outwards from an edge that laps the frame by 10.
    assert bounds_of(unit, "apron")[1][1] == pytest.approx(-120)
    assert bounds_of(unit, "head-drip")[0][1] == pytest.approx(1320)
