"""Pairs of sashes that meet with a gap, in rebates, or under a planted stile."""

from __future__ import annotations

import pytest

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit import make, read_unit

KINDS = ("gap", "rebated", "planted")


def pair(kind, **more):
    fill = {"kind": "sash", "opening": "side-hung-pair", "depth": "70", "clearance": "10", "meeting": {"kind": kind}}
    return {"width": "1500", "height": "1500", "frame": {"depth": "120"}, "fill": fill | more}


def sash_solid(unit, key):
    return next(part.solid for part in unit.parts if part.id == key)


@pytest.mark.parametrize("outline", [{"kind": "rectangle"}, {"kind": "segmental", "rise": "200"}])
@pytest.mark.parametrize("swing", ["out", "in"])
@pytest.mark.parametrize("hand", ["left", "right"])
@pytest.mark.parametrize("kind", KINDS)
def test_a_pair_opens_without_its_leaves_meeting(kind, hand, swing, outline):
    for opened in (0, 4, 15, 45, 100):
        unit = make(read_unit(pair(kind, hand=hand, swing=swing, opened=opened) | {"outline": outline}))
        assert audit_unit(unit) == [], opened


@pytest.mark.parametrize("hand", ["left", "right"])
@pytest.mark.parametrize("swing", ["out", "in"])
def test_the_stiles_lap_by_what_is_asked_over_half_their_depth(hand, swing):
    """1500 less frame 50 and clearance 10 on both sides leaves 1380 for both; with 10 between and a lap of 12 each is
    (1380 - 10 + 12) / 2 = 691 wide. The one that opens first reaches over the other on the face they swing to."""
    unit = make(read_unit(pair("rebated", hand=hand, swing=swing)))
    left, right = (sash_solid(unit, f"sash.c1r1.{one}") for one in ("left.right", "right.left"))
    assert left.bounds[1][0] - right.bounds[0][0] == pytest.approx(12 - 10)
    first, other = (left, right) if hand == "left" else (right, left)
    edge = first.bounds[1][0] if hand == "left" else first.bounds[0][0]
    lip = first.vertices[abs(first.vertices[:, 0] - edge) < 2.5][:, 2]
    assert lip.max() - lip.min() == pytest.approx(35, abs=2.1)
    outside = lip.mean() > first.bounds[:, 2].mean()
    assert outside == (swing == "out")
    assert other.volume == pytest.approx(first.volume, rel=0.01)


def test_the_other_waits_until_the_first_is_out_of_its_way():
    def moving(opened):
        return [
            sash.motion is not None for sash in make(read_unit(pair("planted", opened=opened))).layout.lights[0].sashes
        ]

    assert moving(5) == [True, False]
    assert moving(60) == [True, True]
    both = make(read_unit(pair("gap", opened=5))).layout.lights[0].sashes
    assert all(sash.motion is not None for sash in both)


def test_a_planted_stile_covers_the_gap_on_the_face_they_swing_to():
    unit = make(read_unit(pair("planted", hand="right")))
    stile = sash_solid(unit, "sash.c1r1.right.planted")
    assert stile.bounds[:, 0].tolist() == pytest.approx([750 - 20, 750 + 20])
    assert stile.bounds[:, 2].tolist() == pytest.approx([0, 12])
    assert stile.volume == pytest.approx(40 * 12 * (1500 - 2 * 60))


def test_a_lap_without_a_web_beside_it_is_refused():
    """A stile of 45 less a rebate of 15 and a web of 4."""
    with pytest.raises(Refusal) as refused:
        make(read_unit(pair("rebated", meeting={"kind": "rebated", "lap": "30"})))
    assert (refused.value.entry, refused.value.nearest) == ("fill.meeting.lap", 26)


@pytest.mark.parametrize("opened", [20, 30, 42])
def test_a_planted_stile_goes_through_no_leaf_of_another_light(opened):
    """Two pairs of leaves beside each other, the stile on the edge of one that swings by a leaf of the other: at 42 %
    its leaf passes and it does not."""
    leaf = {"kind": "leaf", "opening": "side-hung-pair", "hand": "right", "swing": "in", "turns": 135, "face": "70"}
    leaf |= {"depth": "62", "clearance": "18", "meeting": {"kind": "planted", "width": "40", "thickness": "12"}}
    first = leaf | {"opened": 100, "each": {"right": {"opened": opened}}}
    cells = {"c1r1": {"fill": first}, "c2r1": {"fill": leaf | {"opened": 100}}}
    columns = {"lights": [{"size": "568"}, {}], "bars": ["48"]}
    data = {"width": "1955", "height": "900", "frame": {"face": "40", "depth": "167"}, "columns": columns}
    if opened == 42:
        with pytest.raises(Refusal, match="goes through that in c1r1, opened by 42 %"):
            make(read_unit(data | {"cells": cells}))
    else:
        assert audit_unit(make(read_unit(data | {"cells": cells}))) == []
