"""The list and the plan of a large site show what is picked and not everything at once."""

from __future__ import annotations

from ashfell.core.base.lengths import Style
from ashfell.core.drawing.plan_sheet import plan_sheet
from ashfell.core.site.document.site import SiteDocument, read_site
from ashfell.core.site.listing import PAGE, listing
from ashfell.core.site.scene import build_scene


def a_row_of(count: int) -> SiteDocument:
    """One wall of so many windows, 2 m apart, and a short one without."""
    walls = [{"id": "long", "length": str(2000 * count + 1000)}, {"id": "short", "y": "9 m"}]
    placed = [{"id": f"p{n}", "wall": "long", "unit": "window", "offset": str(500 + 2000 * n)} for n in range(count)]
    units = {"window": {"width": "1000", "height": "1000"}}
    return read_site({"walls": walls, "plates": [{"id": "floor"}], "placements": placed, "units": units})


def test_the_first_wall_is_open_until_something_is_picked() -> None:
    site = a_row_of(3)
    for nothing in ("", "walls.gone", "placements.gone", "nonsense", "walls"):
        listed = listing(site, nothing)
        assert listed.picked == "walls.long"
        assert [row.opened for row in listed.rows] == [True, False]
        assert [one.id for one in listed.rows[0].placements] == ["p0", "p1", "p2"]
    assert listing(site, "walls.short").rows[1].opened
    floor = listing(site, "plates.floor")
    assert floor.picked == "plates.floor"
    assert not any(row.opened for row in floor.rows)
    assert listing(read_site({}), "walls.a").picked == ""


def test_every_placement_is_on_the_page_that_picking_it_shows() -> None:
    site = a_row_of(2 * PAGE + 5)
    for number in (0, 1, PAGE - 1, PAGE, 2 * PAGE, 2 * PAGE + 4):
        row = listing(site, f"placements.p{number}").rows[0]
        assert f"p{number}" in [one.id for one in row.placements]
        assert len(row.placements) == min(PAGE, row.count - row.first)
        assert (row.before == "") == (number < PAGE)
        assert (row.after == "") == (number >= 2 * PAGE)


def test_going_from_page_to_page_passes_every_placement_once() -> None:
    site = a_row_of(2 * PAGE + 5)
    seen, at = [], "walls.long"
    while at:
        row = listing(site, at).rows[0]
        seen += [one.id for one in row.placements]
        assert row.last == len(seen)
        at = row.after
    assert seen == [f"p{n}" for n in range(2 * PAGE + 5)]


def test_a_full_wall_is_dimensioned_beside_what_is_picked() -> None:
    site = a_row_of(30)
    scene = build_scene(site)
    bare = plan_sheet(scene, Style())
    assert bare is not None
    assert [size.label for size in bare.sizes] == ["Length of Wall", "Length of Wall"]
    picked = plan_sheet(scene, Style(), "placements.p7")
    assert picked is not None
    assert [size.text for size in picked.sizes if size.label.startswith("Width of p")] == ["1000"] * 3
    assert {size.label for size in picked.sizes} >= {"Width of p6", "Width of p7", "Width of p8", "Before p7"}
    assert {size.entry for size in picked.sizes} >= {"placements.p7.before", "placements.p8.before"}
    first = plan_sheet(scene, Style(), "placements.p0")
    assert first is not None
    assert [size.text for size in first.sizes if size.entry == "placements.p0.before"] == ["500"]


def test_units_too_small_to_tell_apart_are_one_shape() -> None:
    few, many = a_row_of(4), a_row_of(400)
    shapes = {}
    for site in (few, many):
        sheet = plan_sheet(build_scene(site), Style())
        assert sheet is not None
        units = [area for area in sheet.areas if area.kind == "unit"]
        shapes[len(site.placements)] = [(area.entry, len(area.outlines)) for area in units]
    assert shapes[4] == [(f"placements.p{n}", 1) for n in range(4)]
    assert shapes[400] == [("walls.long", 400)]
