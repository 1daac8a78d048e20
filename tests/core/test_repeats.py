"""Placements along their wall: from each other, equally, and again and again as one entry."""

from __future__ import annotations

from fractions import Fraction

import pytest

from ashfell.core.audit.site import audit_scene
from ashfell.core.base.document import dump
from ashfell.core.base.lengths import parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.site.arrange import arrange, move
from ashfell.core.site.document.site import read_site
from ashfell.core.site.edit import change
from ashfell.core.site.scene import build_scene

STOREYS = [{"id": "ground", "height": "3000"}, {"id": "first", "height": "2800"}, {"id": "second", "height": "2600"}]
WALL = {"id": "w", "length": "12 m", "thickness": "300", "up_to": "second"}
UNITS = {"a": {"width": "1000", "height": "1200"}, "b": {"width": "600", "height": "600"}}
ROOM = {"wall": "w", "unit": "a", "offset": "1000", "sill": "900"}


def data(*placements, **site):
    placed = [ROOM | {"id": f"p{n}"} | own for n, own in enumerate(placements)]
    whole = {"storeys": STOREYS, "walls": [WALL], "placements": placed, "units": UNITS} | site
    return dump(read_site(whole))


def built(*placements, **site):
    return build_scene(read_site(data(*placements, **site)))


def starts(scene):
    assert scene.refused == ()
    return [one.x for one in sorted(scene.openings.values(), key=lambda one: (one.z, one.x))]


@pytest.mark.parametrize(
    ("measured", "expected"),
    [("start", [1000, 2500, 4000]), ("end", [7000, 8500, 10000]), ("centre", [5000, 6500, 8000])],
)
def test_a_row_stands_as_it_is_measured(measured, expected):
    """Three of 1000 with 500 between them are 4000 long, in a wall of 12 m."""
    assert starts(built({"measured": measured, "repeat": {"along": 3, "gap": "500"}})) == expected


def test_piers_alike_close_exactly():
    """Four of 1000 leave 8000 for five piers."""
    found = starts(built({"measured": "equal", "repeat": {"along": 4}}))
    assert found == [1600 + n * 2600 for n in range(4)]
    seven = starts(built({"measured": "equal", "repeat": {"along": 7}}))
    assert seven[0] == Fraction(5000, 8)
    assert 12000 - seven[-1] - 1000 == Fraction(5000, 8)


def test_an_opening_stands_between_others():
    scene = built(
        {"offset": "1000"},
        {"measured": "end", "offset": "1000"},
        {"measured": "centre", "offset": "0", "after": "p0", "until": "p1"},
        {"offset": "250", "after": "p0", "unit": "b"},
        {"measured": "end", "offset": "250", "until": "p1", "unit": "b"},
    )
    assert scene.refused == ()
    assert {key: one.x for key, one in scene.openings.items()} == {
        "p0": 1000, "p1": 10000, "p2": 5500, "p3": 2250, "p4": 9150,
    }  # fmt: skip
    moved = built({"offset": "2000"}, {"offset": "250", "after": "p0"})
    assert moved.openings["p1"].x == 3250


def test_openings_that_stand_on_each_other_are_refused():
    scene = built({"after": "p1"}, {"after": "p0"})
    assert {refusal.rule for _, refusal in scene.refused} == {
        "openings that stand on something",
        "an opening that is there",
    }
    ((_, lost),) = built({"after": "gone"}).refused
    assert (lost.entry, lost.rule) == ("after", "a known opening")


def test_ten_thousand_openings_each_behind_the_one_before():
    """No recursion, and as long as the wall."""
    placed = [{"offset": "20"}] + [{"offset": "20", "after": f"p{n}"} for n in range(9999)]
    row = [{"unit": None, "width": "70", "height": "500"} | one for one in placed]
    scene = built(*row, walls=[WALL | {"length": "1 km"}])
    assert starts(scene)[-1] == 20 + 9999 * 90


def test_a_rhythm_goes_up_the_storeys():
    scene = built({"repeat": {"along": 3, "gap": "500", "up": 3, "then": ["b"], "mirrored": "every second"}})
    assert scene.refused == ()
    heights = sorted({one.z for one in scene.openings.values()})
    assert heights == [900, 3900, 6700]
    assert starts(scene)[:3] == [1000, 2500, 3600]
    placed = scene.site.placements
    assert [one.unit for one in placed] == ["a", "b", "a"] * 3
    assert [one.mirrored for one in placed] == [False, True, False] * 3
    assert [one for one in audit_scene(scene) if one.level == "fault"] == []


def test_a_rise_is_told_where_there_are_no_storeys():
    scene = built({"repeat": {"along": 1, "up": 2}}, storeys=[], walls=[WALL | {"up_to": None, "height": "8 m"}])
    ((place, refusal),) = scene.refused
    assert (place, refusal.entry, refusal.nearest) == ("placements.p0", "repeat.up", 1)
    tall = [WALL | {"up_to": None, "height": "8 m"}]
    scene = built({"repeat": {"along": 1, "up": 2, "rise": "2500"}}, storeys=[], walls=tall)
    assert sorted(one.z for one in scene.openings.values()) == [900, 3400]


@pytest.mark.parametrize("measured", ["start", "equal"])
def test_a_row_too_long_is_told_how_many_there_can_be(measured):
    ((_, refusal),) = built({"measured": measured, "repeat": {"along": 20, "gap": "0"}}).refused
    assert (refusal.entry, refusal.nearest) == ("repeat.along", 12)
    offset = {"offset": "0"}
    assert built({"measured": measured, "repeat": {"along": 12, "gap": "0"}} | offset).refused == ()


def test_a_row_above_the_wall_is_told_how_many_there_can_be():
    ((_, refusal),) = dict.fromkeys(built({"sill": "2500", "repeat": {"along": 2, "up": 3}}).refused)  # fmt: skip
    assert (refusal.entry, refusal.nearest) == ("repeat.up", 2)


def test_breaking_up_leaves_everything_where_it_is():
    before = data({"measured": "equal", "repeat": {"along": 3, "up": 2, "then": ["b"], "mirrored": "second half"}})
    scene = build_scene(read_site(before))
    after = arrange(before, scene, "placements.p0.single")
    again = build_scene(read_site(after))
    assert len(after["placements"]) == 6
    assert all(one["repeat"] is None for one in after["placements"])
    assert sorted((one.x, one.z, one.width) for one in again.openings.values()) == sorted(
        (one.x, one.z, one.width) for one in scene.openings.values()
    )


def test_the_pier_between_two_of_a_row_sets_their_gap():
    before = data({"repeat": {"along": 3, "gap": "500"}})
    after = move(before, build_scene(read_site(before)), "placements.p0:2.before", "750")
    assert after["placements"][0]["repeat"]["gap"] == "750 mm"
    assert starts(build_scene(read_site(after))) == [1000, 2750, 4500]


def test_moving_one_between_piers_alike_measures_it_from_the_start():
    before = data({"measured": "equal", "repeat": {"along": 2}})
    after = move(before, build_scene(read_site(before)), "placements.p0.moved", "100; 0")
    placed = after["placements"][0]
    assert placed["measured"] == "start"
    assert parse(placed["offset"]) == Fraction(10000, 3) + 100
    assert starts(build_scene(read_site(after)))[1] == Fraction(10000, 3) * 2 + 1100


def test_openings_of_a_repeat_are_not_arranged_alone():
    before = data({"repeat": {"along": 2}}, {"offset": "6 m"})
    with pytest.raises(Refusal, match="repeated"):
        arrange(before, build_scene(read_site(before)), "placements.p1.equal")


def test_a_repeat_is_begun_and_ended_in_the_sentence():
    before = data({})
    begun = change(before, "placements.p0.repeat", "1")
    more = change(change(begun, "placements.p0.repeat.along", "4"), "placements.p0.repeat.then.added", "b")
    assert more["placements"][0]["repeat"]["then"] == ["b"]
    assert len(build_scene(read_site(more)).openings) == 4
    assert change(more, "placements.p0.repeat", "") == before


def test_each_opening_in_the_middle_of_an_equal_bay():
    before = data({"offset": "1 m"}, {"offset": "3 m", "unit": "b"}, {"offset": "8 m"})
    after = arrange(before, build_scene(read_site(before)), "placements.p1.bays")
    found = build_scene(read_site(after)).openings
    assert [one.x + one.width / 2 for one in found.values()] == [2000, 6000, 10000]


def test_a_locked_pier_keeps_its_size_until_it_is_let_go():
    before = data({"offset": "1 m"}, {"offset": "3 m"}, {"offset": "8 m"})
    locked = arrange(before, build_scene(read_site(before)), "placements.p1.locked")
    assert (locked["placements"][1]["after"], locked["placements"][1]["offset"]) == ("p0", "1000 mm")
    moved = change(locked, "placements.p0.offset", "1500")
    assert starts(build_scene(read_site(moved))) == [1500, 3500, 8000]
    free = arrange(moved, build_scene(read_site(moved)), "placements.p1.locked")
    assert starts(build_scene(read_site(change(free, "placements.p0.offset", "1 m")))) == [1000, 3500, 8000]
    even = arrange(locked, build_scene(read_site(locked)), "placements.p0.equal")
    assert starts(build_scene(read_site(even))) == [2250, 5500, 8750]
    with pytest.raises(Refusal, match="No opening stands before"):
        arrange(before, build_scene(read_site(before)), "placements.p0.locked")
