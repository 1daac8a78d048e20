"""Units that a generator found: each stands for a class of them, and is built as strange as it is."""

import pytest

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit import read_unit, solve
from ashfell.core.unit.make import make
from tests.core.any_unit import any_unit
from tests.core.remedied import remedied

DOME = {"kind": "dome", "rise": "130", "thickness": "8", "lap": "28"}
GRID = {"lights": [{}, {}], "bars": ["40"]}


def faults(data):
    return [finding for finding in audit_unit(make(read_unit(data))) if finding.level == "fault"]


def test_domes_corner_to_corner_leave_each_other_room():
    """Their laps have corners: as far apart as two laps along both sides is not enough by the diagonal."""
    whole = {"width": "2400", "height": "2400", "frame": {"face": "40"}, "columns": GRID, "rows": GRID}
    cells = {"c1r2": {"fill": DOME}, "c2r1": {"fill": DOME}}
    with pytest.raises(Refusal, match="cannot lie on 28 mm") as refused:
        solve(read_unit(whole | {"cells": cells}))
    nearest = str(float(refused.value.nearest))
    fitted = {key: {"fill": DOME | {"lap": nearest}} for key in cells}
    assert float(nearest) == pytest.approx(20, abs=0.02)
    assert faults(whole | {"cells": fitted}) == []


def test_a_dome_asks_for_a_frame_all_round():
    with pytest.raises(Refusal, match="no member for it to lie on"):
        solve(read_unit({"frame": {"sides": {"sill": "0"}}, "fill": DOME}))


@pytest.mark.parametrize("fill", [{"kind": "lantern", "slope": 56.0, "lap": "5"}, DOME | {"rise": "400"}])
def test_what_rises_in_a_sash_that_pivots_strikes_nothing(fill):
    sash = {"kind": "sash", "opening": "pivot-horizontal", "setback": "0", "opened": 100, "content": {"fill": fill}}
    data = {"width": "1200", "height": "1000", "frame": {"face": "60", "depth": "120"}, "fill": sash}
    with pytest.raises(Refusal, match="strikes what is beside"):
        solve(read_unit(data))
    assert faults(data | {"fill": sash | {"opened": 0}}) == []


def test_a_curved_head_narrower_than_its_jambs_bounds_their_section():
    section = [("0", "-94"), ("0", "-6"), ("9", "-6"), ("23", "-4"), ("31", "-8"), ("60", "-7"), ("60", "-94")]
    frame = {"face": "81", "depth": "116", "sides": {"head": "46"}}
    frame["section"] = [{"x": x, "y": y} for x, y in section]
    assert (
        faults({"width": "2110", "height": "2278", "outline": {"kind": "segmental", "rise": "214"}, "frame": frame})
        == []
    )


def test_members_butted_at_half_a_right_angle_are_parted():
    """Neither of two that run through is a jamb: the second is cut by the first."""
    nodes = [("0", "0"), ("80", "0"), ("700", "620"), ("0", "620")]
    outline = {"kind": "path", "nodes": [{"x": x, "y": y} for x, y in nodes]}
    data = {"width": "700", "height": "620", "outline": outline, "frame": {"face": "47.5", "joint": "head"}}
    assert faults(data) == []


@pytest.mark.parametrize("seed", [50198, 50256, 70113, 70536, 71218, 71474, 80064, 80318])
def test_seeds_that_were_found_stay_sound(seed):
    data, _ = remedied(any_unit(seed))
    assert faults(data) == []


def test_a_plate_as_wide_as_its_leaf_keeps_clear_of_the_hinges():
    plate = {"kind": "plate", "width": "908", "tall": "2000", "edge": "5", "height": "20", "faces": "inside"}
    leaf = {"kind": "leaf", "swing": "in", "content": {"fill": {"kind": "flush"}}, "hinges": {"count": 3}}
    leaf["hardware"] = [plate]
    data = {"width": "1000", "height": "2150", "frame": {"face": "40", "sides": {"sill": "0"}}, "fill": leaf}
    with pytest.raises(Refusal, match="what is free of this face"):
        solve(read_unit(data))
    assert faults(data | {"fill": leaf | {"hardware": [plate | {"width": "800"}]}}) == []
