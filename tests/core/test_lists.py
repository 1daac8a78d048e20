"""Glass list, cutting list, areas of finishes: by hand for a window whose sizes are round."""

import numpy as np
import pytest
import trimesh

from ashfell.core.site.document.site import read_site
from ashfell.core.site.lists import finish_rows, finish_table, glass_table, made_on, member_rows, pane_rows
from ashfell.core.site.scene import build_scene

WINDOW = {
    "name": "Plain",
    "width": "1000",
    "height": "800",
    "frame": {"face": "50", "depth": "70"},
    "columns": {"lights": [{}, {}], "bars": ["40"]},
    "glazing": {"thickness": "24", "cover": "12"},
}


def scene(*placements, units=None, walls=None):
    wall = {"id": "w", "length": "9 m", "height": "3 m", "thickness": "200", "lining": "0"}
    placed = [
        {"id": f"p{n}", "wall": "w", "unit": "plain", "offset": f"{500 + 1500 * n}", "sill": "900"} | one
        for n, one in enumerate(placements)
    ]
    site = {"walls": walls or [wall], "units": units or {"plain": WINDOW}, "placements": placed}
    return build_scene(read_site(site))


def test_panes_are_as_large_as_their_light_and_its_cover():
    """(1000 - 2 · 50 - 40) / 2 = 430 clear, 700 high; with a cover of 12 all round 454 by 724. Two in a unit."""
    (row,) = pane_rows(scene({}, {}, {"mark": "W3"}))
    assert (row.width, row.height, row.thickness) == (454, 724, 24)
    assert (row.count, row.rectangular, row.finish) == (6, True, "clear-glass")
    assert row.marks == "p0, p1, W3"
    assert row.area == pytest.approx(6 * 0.454 * 0.724)


def test_members_are_told_with_their_mitres():
    """A mitred frame: two of 1000 and two of 800, cut at 45 degrees; a mullion between them."""
    rows = [row for row in member_rows(scene({}, {})) if row.role in ("Frame", "Bars")]
    told = {(row.role, row.length, row.cuts): (row.count, row.breadth, row.depth) for row in rows}
    assert told["Frame", 1000, (45, 45)] == (4, 50, 70)
    assert told["Frame", 800, (45, 45)] == (4, 50, 70)
    mullion = next(value for key, value in told.items() if key[0] == "Bars")
    assert mullion[:2] == (2, 40)


def test_a_bent_member_has_no_breadth_of_its_box():
    arch = WINDOW | {"columns": {}, "outline": {"kind": "semicircular"}}
    rows = [row for row in member_rows(scene({}, units={"plain": arch})) if row.role == "Frame"]
    bent = [row for row in rows if row.breadth == 0]
    assert len(bent) == 1
    assert bent[0].length == pytest.approx(np.pi * 500, rel=0.02)


def test_finishes_are_measured_as_another_library_does():
    built = scene({}, {"mirrored": True})
    parts = [part for part in built.parts if part.finish == "clear-glass"]
    meshes = [trimesh.Trimesh(part.solid.vertices, part.solid.triangles) for part in parts]
    row = next(row for row in finish_rows(built) if row.finish == "Clear glass")
    assert row.area == pytest.approx(sum(mesh.area for mesh in meshes) / 1e6, rel=1e-9)
    assert row.volume == pytest.approx(sum(mesh.volume for mesh in meshes) / 1e9, rel=1e-9)
    assert row.parts == 4
    assert row.roles == "Glass"


def test_a_unit_in_another_size_or_finish_is_another_row():
    built = scene({}, {"width": "1200", "height": "800", "fits": True}, {"finishes": {"frame": "ash-timber"}})
    made = made_on(built)
    assert [one.count for one in made] == [1, 1, 1]
    assert {row.width for row in pane_rows(built)} == {454, 554}
    assert "ash-timber" in {row.finish for row in member_rows(built)}


def test_tables_have_a_cell_for_each_heading():
    built = scene({})
    for table in (glass_table(built, {}), finish_table(built, {})):
        lines = [*table]
        assert len({len(line) for line in lines}) == 1
        assert len(lines) > 1


def test_a_site_without_units_has_empty_lists():
    built = build_scene(read_site({"walls": [{"id": "w", "length": "3 m"}]}))
    assert pane_rows(built) == member_rows(built) == []
    assert [row.roles for row in finish_rows(built)] == ["Wall"] * len(finish_rows(built))


def test_ten_thousand_openings_are_a_row():
    walls = [{"id": "w", "length": "950 m", "height": "30 m", "thickness": "200", "lining": "0"}]
    many = {"repeat": {"along": 620, "gap": "500", "up": 8, "rise": "3 m"}, "sill": "500", "offset": "100"}
    built = scene(many, walls=walls)
    (row,) = pane_rows(built)
    assert row.count == 2 * len(built.units) >= 2000
