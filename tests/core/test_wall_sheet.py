"""The elevation of a wall laid out, and its openings arranged: piers, heads, sills, copies."""

from __future__ import annotations

from fractions import Fraction

import pytest

from ashfell.core.audit.site import audit_scene
from ashfell.core.base.document import dump
from ashfell.core.base.lengths import Style
from ashfell.core.base.refusal import Refusal
from ashfell.core.drawing.wall_sheet import wall_sheet
from ashfell.core.site.arrange import arrange, move
from ashfell.core.site.document.site import read_site
from ashfell.core.site.edit import add_room
from ashfell.core.site.scene import build_scene
from ashfell.services.documents import change_site

UNIT = {"width": "1000", "height": "1200", "frame": {"depth": "90"}}


def site(*placements, **wall):
    wall = {"id": "w", "name": "Quay", "length": "9000", "height": "3000"} | wall
    placed = [{"id": f"p{n}", "wall": "w", "unit": "u"} | own for n, own in enumerate(placements)]
    return dump(read_site({"walls": [wall], "placements": placed, "units": {"u": UNIT}}))


def laid(data, picked="", looks="outside"):
    document = read_site(data)
    return wall_sheet(build_scene(document), Style(), "w", picked, looks)


def offsets(data):
    return [float(opening.x) for opening in build_scene(read_site(data)).openings.values()]


def done(data, address):
    return arrange(data, build_scene(read_site(data)), address)


THREE = ({"offset": "500"}, {"offset": "2000", "sill": "700"}, {"offset": "6000", "sill": "1000"})


def test_piers_and_openings_add_up_to_the_wall():
    sheet = laid(site(*THREE))
    assert [box.kind for box in sheet.boxes] == ["pier", "light"] * 3 + ["pier"]
    assert sum(box.width for box in sheet.boxes) == pytest.approx(9000 * sheet.paper.scale, abs=0.02)
    shown = {figure.entry: figure.value for figure in sheet.figures if figure.entry}
    assert [shown[f"placements.p{n}.before"] for n in range(3)] == ["500", "500", "3000"]
    assert shown["placements.p2.behind"] == "2000"
    assert (shown["walls.w.length"], shown["walls.w.height"]) == ("9000", "3000")


def test_from_inside_left_and_right_change_places():
    outside, inside = laid(site(*THREE)), laid(site(*THREE), looks="inside")
    first, mirror = outside.holes[0].points, inside.holes[0].points
    middle = outside.paper.x(4500)
    assert sorted(2 * middle - x for x, _ in first) == pytest.approx(sorted(x for x, _ in mirror), abs=0.01)
    assert len(outside.drawings) == len(inside.drawings) == 1
    assert [one.over for one in inside.placed] == [False] * 3


def test_what_is_worked_on_shows_its_heights():
    sheet = laid(site(*THREE), "placements.p1")
    shown = {figure.entry: figure.value for figure in sheet.figures}
    own = [shown[f"placements.p1.{name}"] for name in ("sill", "height", "head")]
    assert own == ["700", "1200", "1900"]
    assert [hole.picked for hole in sheet.holes] == [False, True, False]


def test_openings_above_each_other_are_not_in_one_row():
    sheet = laid(
        site({"offset": "500", "sill": "200"}, {"offset": "600", "sill": "1600"}, {"offset": "3000", "sill": "200"})
    )
    assert [box.about for box in sheet.boxes if box.kind == "light"] == ["placements.p0", "placements.p2"]


def test_a_mirrored_unit_is_drawn_turned_over_where_it_stands():
    plain, over = (laid(site({"offset": "1000", "mirrored": way})) for way in (False, True))
    assert (plain.placed[0].over, over.placed[0].over) == (False, True)
    assert over.placed[0].x - plain.placed[0].x == pytest.approx(1000 * plain.paper.scale, abs=0.01)


def test_piers_made_equal_leave_the_same_everywhere():
    """9000 less three of 1000 leaves four piers of 1500."""
    data = done(site(*THREE), "placements.p0.equal")
    assert offsets(data) == [1500, 4000, 6500]
    ends = done(
        site({"offset": "10", "measured": "end"}, {"measured": "centre", "offset": "-900"}), "placements.p1.equal"
    )
    assert sorted(offsets(ends)) == pytest.approx([7000 / 3, 7000 / 3 * 2 + 1000])
    assert [one["measured"] for one in ends["placements"]] == ["end", "centre"]


def test_heads_and_sills_are_brought_into_line():
    heads = done(site(*THREE), "placements.p1.heads")
    assert {opening.head for opening in build_scene(read_site(heads)).openings.values()} == {1900}
    sills = done(heads, "placements.p2.sills")
    assert {opening.z for opening in build_scene(read_site(sills)).openings.values()} == {700}


def test_a_copy_stands_as_far_behind_as_it_stands_before():
    data = done(site({"offset": "700", "mirrored": True}), "placements.p0.copied")
    assert offsets(data) == [700, 2400]
    assert data["placements"][1]["mirrored"] is True
    with pytest.raises(Refusal) as refused:
        done(site({"offset": "7500"}), "placements.p0.copied")
    assert "500 mm" in refused.value.message


@pytest.mark.parametrize("measured", ["start", "centre", "end"])
def test_a_distance_is_kept_however_it_is_measured(measured):
    data = site({"offset": "500", "measured": measured})
    scene = build_scene(read_site(data))
    for address, value, wanted in (("before", "1234", 1234), ("behind", "1 m", 7000), ("moved", "10 mm; 0 mm", None)):
        moved = move(data, scene, f"placements.p0.{address}", value)
        assert offsets(moved) == [wanted if wanted is not None else offsets(data)[0] + 10]
        assert moved["placements"][0]["measured"] == measured


def test_a_change_that_leaves_the_wall_is_refused_with_what_would_fit():
    data = site({"offset": "500"})
    held = {"units": data.pop("units"), "finishes": data.pop("finishes")}
    with pytest.raises(Refusal) as refused:
        change_site(data, held, {"entry": "placements.p0.moved", "value": "9 m; 0"})
    assert (refused.value.entry, refused.value.nearest) == ("placements.p0.offset", Fraction(8000))


@pytest.mark.parametrize(
    ("placements", "words"),
    [
        ([{"offset": "20"}], "20 mm of wall is left before it"),
        ([{"offset": "7970"}], "30 mm of wall is left behind it"),
        ([{"offset": "3000", "sill": "1760"}], "40 mm of wall is left above it"),
        ([{"offset": "3000"}, {"offset": "4025"}], "25 mm of wall is left between it and the next opening"),
    ],
)
def test_little_wall_beside_an_opening_is_told(placements, words):
    document = read_site(site(*placements))
    found = audit_scene(build_scene(document))
    assert any(words in finding.reason for finding in found)
    assert {finding.level for finding in found} == {"warning"}


def test_none_left_or_enough_is_not():
    for own in ({"offset": "0"}, {"offset": "50"}, {"offset": "3000", "sill": "1800"}):
        document = read_site(site(own))
        assert audit_scene(build_scene(document)) == []


def test_a_room_is_four_mitred_walls_with_a_floor_and_a_doorway():
    """5 m by 4 m outside, walls of 300 and 2700 high: its shell is the difference of two boxes."""
    empty = dump(read_site({}))
    data = add_room(empty, {"thickness": "300"})
    document = read_site(data)
    scene = build_scene(document)
    assert audit_scene(scene) == []
    walls = sum(part.solid.volume for part in scene.parts if part.role == "wall")
    assert walls == pytest.approx((5000 * 4000 - 4400 * 3400) * 2700 - 1000 * 2100 * 300)
    feet = read_site(add_room(empty, {}, "in"))
    assert (feet.walls[0].length.text, feet.walls[1].length.text) == ("16'", "13'")
    assert audit_scene(build_scene(feet)) == []


def test_a_room_without_room_is_refused_with_what_would_do():
    with pytest.raises(Refusal) as refused:
        add_room(dump(read_site({})), {"width": "500"})
    assert (refused.value.entry, refused.value.nearest) == ("room.width", 1600)
    with pytest.raises(Refusal) as refused:
        add_room(dump(read_site({})), {"length": "long"})
    assert refused.value.entry == "room.length"


def test_a_row_is_given_one_unit_fitted_to_each_opening():
    empty = {"unit": None, "width": "1400", "height": "1500", "sill": "800"}
    data = site(
        {"offset": "300", "recess": "60", "gap": "5"},
        {"offset": "2500", **empty},
        {"offset": "5000", **empty, "width": "900"},
    )
    before = {key: (one.width, one.height) for key, one in build_scene(read_site(data)).openings.items()}
    document = read_site(done(data, "placements.p0.alike"))
    scene = build_scene(document)
    assert {key: (one.width, one.height) for key, one in scene.openings.items()} == before
    assert [float(scene.units[key].layout.outer.width) for key in ("p0", "p1", "p2")] == [1000, 1390, 890]
    assert {placement.recess.text for placement in document.placements} == {"60"}
    assert audit_scene(scene) == []


def room():
    """Four walls round 6 by 4 m, a window 1 m along each of the first two; the second stands 200 higher."""
    corners = [
        ("0", "0", 0.0, "6000"),
        ("6000", "0", 90.0, "4000"),
        ("6000", "4000", 180.0, "6000"),
        ("0", "4000", 270.0, "4000"),
    ]
    walls = [
        {"id": f"w{n}", "x": x, "y": y, "angle": angle, "length": length, "base": "200" if n == 1 else "0"}
        for n, (x, y, angle, length) in enumerate(corners)
    ]
    placed = [{"id": f"p{n}", "wall": f"w{n}", "unit": "u", "offset": "1000", "sill": "900"} for n in (0, 1)]
    return build_scene(read_site({"walls": walls, "placements": placed, "units": {"u": UNIT}}))


@pytest.mark.parametrize("looks", ["outside", "inside"])
def test_a_ring_of_walls_is_laid_out_flat(looks):
    """The lengths of the walls before it are how far along each begins: 0, 6, 10, 16 m; whichever is worked on."""
    for at, own in enumerate((0, 6000, 10000, 16000)):
        sheet = wall_sheet(room(), Style(), f"w{at}", looks=looks, unrolled=True)
        scale, way = sheet.paper.scale, 1 if looks == "outside" else -1
        begins = {
            entry: points[0][0]
            for points, entry in [(sheet.wall, f"walls.w{at}")] + [(one.points, one.entry) for one in sheet.beside]
        }
        for n, reached in enumerate((0, 6000, 10000, 16000)):
            assert way * (begins[f"walls.w{n}"] - sheet.start) / scale == pytest.approx(reached - own, abs=0.5)
        holes = {hole.entry: hole.points for hole in sheet.holes}
        apart = [sum(x for x, _ in holes[f"placements.p{n}"]) / 4 for n in (0, 1)]
        assert way * (apart[1] - apart[0]) / scale == pytest.approx(6000, abs=0.5)
        high = [min(y for _, y in holes[f"placements.p{n}"]) for n in (0, 1)]
        assert (high[0] - high[1]) / scale == pytest.approx(200, abs=0.5)
        assert sum(box.width for box in sheet.boxes) / scale == pytest.approx(sheet.length, abs=0.5)


def test_a_wall_by_itself_has_none_beside_it():
    assert laid(site(*THREE)).beside == ()
    assert wall_sheet(room(), Style(), "w0").beside == ()
    assert len(wall_sheet(room(), Style(), "w0", unrolled=True).beside) == 3
