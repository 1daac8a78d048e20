"""Thick gaskets that hold the glass without a stop before it, or without a bead behind."""

from __future__ import annotations

import pytest

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit import make, read_unit

THICK = {"thickness": "10", "setback": "10", "cover": "12", "gasket": {"thickness": "10", "shows": "4"}}
GRID = {"columns": {"lights": [{}, {}], "bars": ["50"]}, "rows": {"lights": [{}, {}], "bars": ["50"]}}
OUTLINES = [{"kind": "rectangle"}, {"kind": "segmental", "rise": "150"}, {"kind": "ellipse"}]


def box(unit, key):
    return next(part.solid.bounds for part in unit.parts if part.id == key)


@pytest.mark.parametrize("outline", OUTLINES)
@pytest.mark.parametrize("depth", ["30", "45"])
@pytest.mark.parametrize("cells", [{}, GRID, GRID | {"bars": {"through": "rows"}}])
def test_ten_on_both_faces_of_ten_in_thirty(outline, depth, cells):
    """10 + 10 + 10 fill a member 30 deep: no stop, and no bead; 45 deep it has a bead of 15."""
    unit = make(read_unit({"outline": outline, "frame": {"depth": depth}, "glazing": THICK} | cells))
    assert audit_unit(unit) == []
    outer, inner = (box(unit, f"gasket.c1r1.{face}")[:, 2].tolist() for face in ("outer", "inner"))
    assert outer == pytest.approx([-10, 0])
    assert inner == pytest.approx([-30, -20])
    assert any(part.role == "bead" for part in unit.parts) == (depth == "45")


def test_the_gasket_fills_the_rebate_from_its_bottom():
    """It begins 15 mm behind the sight line (12 of cover, 3 clear) and shows 4 before it."""
    unit = make(read_unit({"frame": {"depth": "30"}, "glazing": THICK}))
    assert box(unit, "gasket.c1r1.outer")[0][0] == pytest.approx(50 - 15)
    assert box(unit, "frame.left")[1][0] == pytest.approx(50 - 15)
    assert box(unit, "glass.c1r1")[0][0] == pytest.approx(50 - 12)


def test_with_a_stop_the_same_gaskets_need_more():
    """A stop of 5 before 30."""
    unit = make(read_unit({"frame": {"depth": "35"}, "glazing": THICK | {"setback": "15"}}))
    assert audit_unit(unit) == []
    assert box(unit, "frame.left")[1][0] == pytest.approx(50)
    assert not any(part.role == "bead" for part in unit.parts)


def test_a_sash_of_thirty():
    sash = {"kind": "sash", "depth": "30", "clearance": "6", "glazing": THICK, "opened": 40}
    assert audit_unit(make(read_unit({"frame": {"depth": "80"}, "fill": sash}))) == []


def test_a_bar_without_a_stop_is_plain_and_as_wide_as_its_stem():
    unit = make(read_unit({"frame": {"depth": "30"}, "glazing": THICK} | GRID))
    bars = [part.solid.bounds for part in unit.parts if part.id == "mullion.1"]
    assert bars[0][1][0] - bars[0][0][0] == pytest.approx(50 - 2 * 15)


def test_a_little_stop_is_still_refused():
    with pytest.raises(Refusal) as refused:
        make(read_unit({"glazing": THICK | {"setback": "10.5"}}))
    assert refused.value.rule == "a stop before the glass"
    assert "for no stop" in refused.value.remedy


def test_bars_too_shallow_for_a_bead_behind_thick_gaskets_are_told_and_not_the_frame():
    """The stop ends at 25 less 2; behind it are a gasket of 9, glass of 6, a gasket of 9 and the bead, a chamfer of 2
    and 1 behind that: 50 in all, which bars set back by 3 reach when they are 47 deep, however deep the frame is."""
    own = {"kind": "glass", "gasket": {"thickness": "9", "shows": "1"}}
    glazing = {"thickness": "6", "setback": "25", "gasket": {"thickness": "2", "shows": "2"}}
    columns = {"lights": [{}, {}], "bars": [{"face": "60", "depth": "38", "setback": "3"}]}
    frame = {"face": "60", "depth": "120"}
    unit = {"frame": frame, "glazing": glazing, "columns": columns, "cells": {"c2r1": {"fill": own}}}
    with pytest.raises(Refusal) as told:
        make(read_unit(unit))
    refused = told.value
    assert (refused.rule, refused.entry) == ("a bead behind the glass", "columns.bars.0.depth")
    assert refused.nearest == 25 - 2 + 9 + 6 + 9 + 3 - 3
    mended = unit | {"columns": {"lights": [{}, {}], "bars": [{"face": "60", "depth": "47", "setback": "3"}]}}
    assert audit_unit(make(read_unit(mended))) == []
