"""What stands clear of each other in units of many sashes: looked for near each, and refused with what helps."""

from __future__ import annotations

import re

import pytest

from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.fillings import over
from ashfell.core.unit import apart, make, read_unit
from ashfell.core.unit.edit.change import change
from ashfell.core.unit.solve.unit import laid_out


def sashes(count: int, **fill):
    """So many times so many side-hung sashes."""
    bars = {"lights": [{}] * count, "bars": ["100"] * (count - 1)}
    own = {"kind": "sash", "opening": "side-hung", "depth": "60", "swing": "in", **fill}
    size = {"width": f"{count} m", "height": f"{count} m", "frame": {"face": "60", "depth": "110"}}
    return size | {"columns": bars, "rows": bars, "fill": own}


LEVER = {"kind": "lever", "height": "450", "faces": "inside"}


@pytest.mark.parametrize(
    "fill", [{"opened": 30, "hinges": {}}, {"opened": 30, "hardware": [LEVER]}, {"hardware": [LEVER], "hinges": {}}]
)
def test_what_is_near_a_sash_is_looked_at_and_nothing_else(fill, monkeypatch):
    """Of nine times as many sashes about nine times as much is compared."""
    looked: list[int] = []
    meets = apart._meet

    def counted(one, other):
        looked.append(1)
        return meets(one, other)

    monkeypatch.setattr(apart, "_meet", counted)
    compared = []
    for count in (4, 12):
        document = read_unit(sashes(count, **fill))
        looked.clear()
        apart.check_apart(document, laid_out(document))
        compared.append(len(looked))
    assert compared[1] <= 12 * max(compared[0], 16)


@pytest.mark.parametrize(("most", "tries"), [(apart.MOST, 3), (3 * 144, 3), (144, 1)])
def test_an_amount_that_is_clear_is_found_in_units_of_any_size(most, tries, monkeypatch):
    """Two sashes hinged on the bar between them go through each other beyond a right angle; the more there is to lay
    out, the coarser the amounts that are tried. Nine sashes count as 144 pieces."""
    laid = []
    monkeypatch.setattr(apart, "MOST", most)
    monkeypatch.setattr(apart, "laid_out", lambda document: laid.append(document) or laid_out(document))
    data = sashes(3)
    for key, hand in (("c1r1", "right"), ("c2r1", "left")):
        data.setdefault("cells", {})[key] = {"fill": data["fill"] | {"hand": hand, "turns": 180.0, "opened": 70}}
    with pytest.raises(Refusal) as refused:
        make(read_unit(data))
    amount = re.search(r"Open it by (\d+) % at most", refused.value.remedy)
    assert amount
    assert 0 < int(amount[1]) < 70
    assert len(laid) <= 2 * tries
    make(read_unit(change(data, refused.value.entry, amount[1])))


def domes(count: int, lap: str, **cells):
    """So many times so many rooflights over frames 60 mm wide."""
    bars = {"lights": [{}] * count, "bars": ["60"] * (count - 1)}
    size = {"width": f"{count} m", "height": f"{count} m", "frame": {"face": "60", "depth": "110"}}
    return size | {"columns": bars, "rows": bars, "fill": {"kind": "dome", "lap": lap}, **cells}


def test_rooflights_that_lie_apart_are_not_measured_against_each_other(monkeypatch):
    measured = []
    monkeypatch.setattr(over, "_room_beside", lambda *_: measured.append(1))
    laid_out(read_unit(domes(6, "29")))
    assert not measured


def test_rooflights_that_would_lie_on_each_other_are_refused():
    """Two laps of 31 mm have no room on a bar 60 mm wide; 30 have, and 25 beside 35 as well."""
    with pytest.raises(Refusal) as refused:
        laid_out(read_unit(domes(3, "31")))
    assert refused.value.entry == "cells.c1r1.fill.lap"
    assert refused.value.nearest is not None
    assert 29.9 < refused.value.nearest <= 30
    laid_out(read_unit(change(domes(3, "31"), "fill.lap", str(float(refused.value.nearest)))))
    wider = {"fill": {"kind": "dome", "lap": "35"}}
    laid_out(read_unit(domes(3, "24", cells={"c2r2": wider})))
    with pytest.raises(Refusal) as refused:
        laid_out(read_unit(domes(3, "26", cells={"c2r2": wider})))
    assert refused.value.entry == "cells.c2r2.fill.lap"
    assert refused.value.nearest is not None
    laid_out(read_unit(domes(3, "26", cells={"c2r2": {"fill": wider["fill"] | {"lap": f"{refused.value.nearest}"}}})))
