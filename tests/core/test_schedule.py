"""The schedule as a table, and a façade made from one: all of it or nothing, each error at its row."""

from __future__ import annotations

import pytest

from ashfell.core.base.document import dump
from ashfell.core.site import schedule
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.services.documents import load_site, scene_of, table_taken
from tests.conftest import DEMO

SITE = {
    "storeys": [{"id": "ground", "name": "Ground", "height": "3000"}, {"id": "first", "name": "First"}],
    "walls": [{"id": "front", "name": "Street front", "length": "20 m", "up_to": "first"}, {"id": "back", "y": "9 m"}],
}
UNITS = {"units": {"a": {"name": "Alpha", "width": "1000", "height": "1200"}, "b": {"width": "600", "height": "600"}}}


def data(**more):
    return dump(read_site(SITE | more))


def taken(lines, site=None):
    return table_taken(site or data(), UNITS, lines)


HEAD = ["Mark", "Wall", "Unit", "Offset", "Sill", "Storey"]


def test_a_facade_is_made_from_a_table():
    lines = [HEAD] + [
        [f"W{storey}.{n}", "Street front", "alpha", str(500 + 1800 * n), "900", storey]
        for storey in ("Ground", "first")
        for n in range(10)
    ]
    found, built = taken(lines)
    assert (found.faults, len(found.added), found.changed) == ((), 20, {})
    assert built.scene.refused == ()
    assert {one.z for one in built.scene.openings.values()} == {900, 3900}
    assert [one.mark for one in built.site.placements][:2] == ["WGround.0", "WGround.1"]
    assert built.site.placements[0].id == "wground-0"


def test_a_mark_that_is_there_is_changed_and_empty_cells_leave_what_is():
    site = data(placements=[{"id": "p", "mark": "W1", "wall": "front", "unit": "a", "offset": "2 m", "recess": "70"}])
    found, built = taken([["mark", "wall", "unit", "sill"], ["W1", "front", "", "500"]], site)
    assert (found.added, found.changed) == ({}, {"p": 2})
    own = built.site.placements[0]
    assert (own.sill.mm, own.offset.mm, own.recess.mm, own.unit) == (500, 2000, 70, "a")


def test_every_row_that_cannot_be_is_told_with_its_heading():
    lines = [
        HEAD,
        ["A", "Nowhere", "a", "100", "", ""],
        ["B", "front", "none", "100", "", ""],
        ["C", "front", "a", "far", "", ""],
        ["D", "", "a", "100", "", ""],
        ["", "", "", "", "", ""],
        ["E", "front", "a", "19500", "", ""],
        ["F", "front", "a", "1 m", "900", "second"],
    ]
    found, built = taken(lines)
    told = {(one.row, one.heading) for one in found.faults}
    assert told == {(2, "wall"), (3, "unit"), (4, "offset"), (5, "wall"), (7, "offset"), (8, "storey")}
    assert all(one.refusal.remedy for one in found.faults if one.row in (2, 3, 7))
    assert len(built.data["placements"]) == 1  # what cannot be kept is for the one who keeps: nothing is


def test_what_is_refused_of_others_is_told_too():
    site = data(placements=[{"id": "p", "wall": "front", "unit": "a", "offset": "2 m"}])
    found, _ = taken([HEAD, ["N", "front", "a", "1500", "900", ""]], site)
    ((fault),) = found.faults
    assert fault.heading in ("placements.p", "offset")


@pytest.mark.parametrize(
    ("headings", "rule"),
    [
        (["mark", "unit"], "a column of walls"),
        (["wall", "colour"], "a known heading"),
        (["wall", "wall"], "a heading once"),
        ([], "a column of walls"),
    ],
)
def test_headings_are_checked(headings, rule):
    found, _ = taken([headings, ["x"] * len(headings)])
    assert rule in {fault.refusal.rule for fault in found.faults}
    assert found.added == {}


def test_names_that_are_not_alone_need_an_id():
    site = data(walls=[{"id": "a", "name": "Wall"}, {"id": "b", "name": "Wall", "y": "9 m"}])
    ((fault),) = taken([["wall", "unit"], ["Wall", "a"]], site)[0].faults
    assert "a, b" in fault.refusal.remedy


def test_a_repeat_is_one_row():
    row = ["R", "front", "a", "500", "900", "3", "400", "2"]
    found, built = taken([["mark", "wall", "unit", "offset", "sill", "along", "apart", "up"], row])
    assert found.faults == ()
    ((line),) = schedule.rows(built.scene)
    assert (line.count, line.placement.repeat.gap.mm) == (6, 400)
    ((used),) = schedule.uses(built.scene)
    assert (used.unit, used.width, used.height, used.count) == ("a", 1000, 1200, 6)


def test_the_demo_comes_back_from_its_own_table():
    """Written and read again nothing changes, and nothing is refused."""
    site = load_site(DEMO / "site.json")
    built = scene_of(site)
    lines = list(schedule.table(built.scene))
    assert len(lines) == len(built.site.placements) + 1
    kept = dump(built.site) | {"units": {}, "finishes": {}}
    found, again = table_taken(kept, {"units": site["units"], "finishes": {}}, lines)
    assert found.faults == ()
    assert (found.added, found.changed, len(found.named)) == ({}, {}, len(built.site.placements))
    assert found.data == kept

    def size(scene):
        return sorted((one.placement, one.x, one.z, one.width, one.height) for one in scene.openings.values())

    assert size(again.scene) == size(built.scene)


@pytest.mark.parametrize("bare", ["mm", "cm", "m", "in", "ft"])
def test_a_table_says_the_same_in_every_unit_of_a_project(bare):
    """A length typed without a unit in millimetres is written with it where a bare number is something else."""
    placed = {"id": "p", "wall": "front", "unit": "a", "offset": "2 m", "sill": "700", "recess": "70"}
    site = data(placements=[placed | {"repeat": {"along": 2, "gap": "400"}}])
    lines = list(schedule.table(scene_of(site | UNITS).scene, bare))
    row = dict(zip(lines[0], lines[1], strict=True))
    assert (row["offset"], row["sill"], row["apart"]) == (
        "2 m",
        *(("700", "400") if bare == "mm" else ("700 mm", "400 mm")),
    )
    found, again = table_taken(site, UNITS, lines, bare)
    assert (found.added, found.changed, found.faults) == ({}, {}, ())
    moved = [lines[0], ["6.5" if heading == "sill" else cell for heading, cell in zip(*lines, strict=True)]]
    found, again = table_taken(site, UNITS, moved, bare)
    per = {"mm": 1, "cm": 10, "m": 1000, "in": 25.4, "ft": 304.8}[bare]
    assert again.site.placements[0].sill.mm == pytest.approx(6.5 * per)
    assert (found.changed, found.named) == ({"p": 2}, {"p": 2})


def test_a_row_that_says_what_is_there_is_named_where_it_is_refused():
    """Nothing of it is changed; what the rows before it do to it is told by its own row."""
    placed = [{"id": key, "wall": "front", "unit": "a", "offset": offset} for key, offset in (("p", "0"), ("q", "3 m"))]
    site = data(placements=placed)
    lines = [["mark", "wall", "unit", "offset"], ["p", "front", "a", "3500"], ["q", "front", "a", "3 m"]]
    found, _ = taken(lines, site)
    assert (found.changed, found.named) == ({"p": 2}, {"p": 2, "q": 3})
    assert {fault.row for fault in found.faults} <= {2, 3}
    assert found.faults


def test_ten_thousand_rows():
    """Read one after the other, none looked for among all the others."""
    lines = [["mark", "wall", "offset", "width", "height"]]
    lines += [[f"o{n}", "long", str(50 + 90 * n), "70", "500"] for n in range(10_000)]
    found, built = taken(lines, data(walls=[{"id": "long", "length": "1 km"}]))
    assert (len(found.added), found.faults) == (10_000, ())
    assert len(built.scene.openings) == 10_000
    assert [row.placement.id for row in schedule.rows(built.scene, 9_990, 40)] == [
        f"o{n}" for n in range(9_990, 10_000)
    ]


def test_more_rows_than_are_read_are_told():
    lines = [["wall"]] + [["front"]] * (schedule.MOST_ROWS + 1)
    ((fault),) = taken(lines)[0].faults
    assert fault.refusal.rule == "a number of rows"


def test_sizes_are_told_exactly():
    site = data(placements=[{"id": "p", "wall": "front", "unit": "a", "offset": "1/3 m", "gap": "1/8 in"}])
    lines = list(schedule.table(scene_of(site | UNITS).scene))
    row = dict(zip(lines[0], lines[1], strict=True))
    assert row["offset"] == "1/3 m"
    assert row["opening width"] == "1006.35 mm"
    assert build_scene(read_site(site | UNITS)).refused == ()


def test_a_site_without_walls_gets_those_that_a_table_names():
    lines = [
        ["mark", "wall", "unit", "offset", "width", "height", "along"],
        ["A", "Street side", "Alpha", "1 m", "", "", "3"],
        ["B", "Street side", "", "12 m", "800", "900", ""],
        ["C", "Yard", "b", "500", "", "", ""],
    ]
    found, built = taken(lines, data(walls=[], storeys=[]))
    assert found.faults == ()
    assert [(wall.name, wall.length.mm) for wall in built.site.walls] == [("Street side", 13300), ("Yard", 1600)]
    assert len(built.scene.openings) == 5
    assert built.findings == []
