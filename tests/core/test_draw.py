"""Walls drawn on the plan, their ends moved, shifted, split, joined and turned over; floors and roofs that follow."""

from __future__ import annotations

import itertools

import pytest

from ashfell.core.audit.site import audit_scene
from ashfell.core.base.document import dump
from ashfell.core.base.refusal import Refusal
from ashfell.core.site.document.site import read_site
from ashfell.core.site.draw import add_wall, redrawn
from ashfell.core.site.edit import add_room, change, remove
from ashfell.core.site.enclosed import add_plate, add_roof, closed_chains, within
from ashfell.core.site.scene import build_scene

EMPTY = dump(read_site({}))


def drawn(*points, data=EMPTY):
    for a, b in itertools.pairwise(points):
        data = add_wall(data, {"from": f"{a[0]}; {a[1]}", "to": f"{b[0]}; {b[1]}"})
    return data


def at(data, address, value=""):
    return redrawn(data, build_scene(read_site(data)), address, value)


def lines(data):
    """From where to where each wall runs, rounded to a thousandth of a millimetre."""
    from ashfell.core.site.course import end_point, start_point

    walls = read_site(data).walls
    return [tuple(round(float(v), 3) for v in (*start_point(wall), *end_point(wall))) for wall in walls]


def outline(data):
    scene = build_scene(read_site(data))
    assert scene.refused == ()
    assert [one for one in audit_scene(scene) if one.level == "fault"] == []
    return scene


CORNERS = [(0, 0), (6000, 0), (6000, 4000), (0, 4000), (0, 0)]


def test_walls_run_from_point_to_point_with_exact_lengths():
    data = drawn(*CORNERS)
    assert [wall["length"] for wall in data["walls"]] == ["6000 mm", "4000 mm", "6000 mm", "4000 mm"]
    assert [wall["angle"] for wall in data["walls"]] == [0, 90, 180, 270]
    assert [len(chain) for chain in closed_chains(read_site(data).walls)] == [4]
    outline(data)


def test_a_ring_drawn_clockwise_has_its_outside_out():
    clockwise = drawn(*reversed(CORNERS))
    assert sorted(lines(clockwise)) == sorted(lines(drawn(*CORNERS)))
    volume = sum(part.solid.volume for part in outline(clockwise).parts)
    assert volume == pytest.approx((6 * 4 - 5.4 * 3.4) * 2.7e9)


def test_lengths_and_angles_are_typed_while_drawing():
    data = add_wall(EMPTY, {"from": "1 m; 1 m", "length": "14' 9\"", "angle": "30"}, "in")
    assert (data["walls"][0]["length"], data["walls"][0]["angle"]) == ("14' 9\"", 30)
    for given, entry in (({"length": "long"}, "length"), ({"angle": "steep"}, "angle"), ({"to": "5"}, "to")):
        with pytest.raises(Refusal) as caught:
            add_wall(data, given)
        assert caught.value.entry == entry
    with pytest.raises(Refusal, match="end where it begins"):
        add_wall(EMPTY, {"from": "1; 1", "to": "1; 1"})


def test_an_end_takes_the_walls_that_meet_it_along():
    data = at(drawn(*CORNERS), "walls.wall-1.end", "7 m; -500")
    assert lines(data)[:2] == [(0, 0, 7000, -500), (7000, -500, 6000, 4000)]
    assert lines(data)[2:] == lines(drawn(*CORNERS))[2:]
    outline(data)
    with pytest.raises(Refusal):
        at(data, "walls.wall-1.end", "0; 0")
    with pytest.raises(Refusal):
        at(data, "walls.gone.end", "0; 0")


def test_a_wall_shifted_outwards_takes_its_corners_along():
    data = at(drawn(*CORNERS), "walls.wall-2.shifted", "500")
    assert lines(data)[0] == (0, 0, 6500, 0)
    assert lines(data)[1] == (6500, 0, 6500, 4000)
    assert [wall["angle"] for wall in data["walls"]] == [0, 90, 180, 270]


def placed(data, **own):
    opening = {"id": "p", "wall": "wall-1", "width": "900", "height": "1200"} | own
    return dump(read_site(data | {"placements": [opening]}))


@pytest.mark.parametrize(("measured", "offset"), [("start", "4000"), ("end", "1100"), ("centre", "1450")])
def test_splitting_leaves_openings_where_they_are(measured, offset):
    before = placed(drawn(*CORNERS), measured=measured, offset=offset)
    was = build_scene(read_site(before)).openings["p"].x
    after = at(before, "walls.wall-1.split", "2500")
    assert [wall["length"] for wall in after["walls"]][:2] == ["2500 mm", "3500 mm"]
    scene = outline(after)
    assert scene.openings["p"].x + 2500 == was
    with pytest.raises(Refusal) as caught:
        at(before, "walls.wall-1.split", "4500")
    mended = at(before, "walls.wall-1.split", f"{float(caught.value.nearest)}")
    outline(mended)


def test_joining_undoes_splitting():
    before = placed(drawn(*CORNERS), measured="start", offset="4000")
    again = at(at(before, "walls.wall-1.split", "2500"), "walls.wall-1.joined")
    assert lines(again) == lines(before)
    assert build_scene(read_site(again)).openings["p"].x == 4000
    with pytest.raises(Refusal, match="goes on"):
        at(before, "walls.wall-1.joined")


@pytest.mark.parametrize("measured", ["start", "end", "centre"])
def test_turning_over_leaves_openings_where_they_are(measured):
    data = placed(drawn((0, 0), (6000, 0)), measured=measured, offset="1000")

    def middle(one):
        scene = build_scene(read_site(one))
        opening = scene.openings["p"]
        frame = scene.standing["wall-1"].host.frame()
        return (frame @ (float(opening.x + opening.width / 2), 0, 0, 1))[:2]

    over = at(data, "walls.wall-1.reversed")
    assert middle(over) == pytest.approx(middle(data))
    assert lines(over) == [(6000, 0, 0, 0)]
    again = at(over, "walls.wall-1.reversed")
    assert (middle(again).tolist(), lines(again)) == (middle(data).tolist(), lines(data))
    assert again["placements"][0]["measured"] == measured


def test_turning_over_keeps_a_curve_where_it_is():
    for curve in (
        {"kind": "arc", "rise": "800"},
        {"kind": "radius", "radius": "5 m"},
        {"kind": "free", "points": [{"along": "1 m", "out": "400"}, {"along": "4 m", "out": "-200"}]},
    ):
        data = drawn((0, 0), (6000, 0))
        data["walls"][0]["curve"] = dump(read_site({"walls": [{"id": "w", "curve": curve}]}))["walls"][0]["curve"]
        over = at(data, "walls.wall-1.reversed")

        def line(one):
            from ashfell.core.site.course import facets_of

            facets = facets_of(read_site(one).walls[0])
            return sorted((round(f.x), round(f.y)) for f in facets[1:])

        assert line(over) == line(data)


def test_what_is_curved_is_not_split_and_says_so():
    data = change(drawn((0, 0), (6000, 0)), "walls.wall-1.curve.kind", "arc")
    with pytest.raises(Refusal, match="straight"):
        at(data, "walls.wall-1.split", "1000")
    assert change(data, "walls.wall-1.curve.kind", "")["walls"][0]["curve"] is None


def test_a_floor_is_laid_within_the_walls_and_a_roof_over_them():
    data = add_plate(drawn(*CORNERS))
    assert data["plates"][0]["walls"] == ["wall-1", "wall-2", "wall-3", "wall-4"]
    assert add_plate(data)["plates"][1]["walls"] == []
    roofed = add_roof(add_roof(data, "wall-1"), "wall-3")
    assert [roof["run"] for roof in roofed["roofs"]] == ["2000 mm"] * 2
    assert build_scene(read_site(roofed)).refused == ()
    bare = change(data, "plates.plate-1.walls", "[]")
    assert within(bare, "plate-1", "plates.plate-1.within")["plates"][0]["walls"] == data["plates"][0]["walls"]
    assert remove(data, "walls", "wall-2")["plates"][0]["walls"] == []
    with pytest.raises(Refusal, match="close round"):
        within(dump(read_site({"plates": [{"id": "p"}]})), "p", "plates.p.within")


def test_a_storey_taken_away_leaves_what_stood_on_it():
    data = dump(read_site({"storeys": [{"id": "a"}], "walls": [{"id": "w", "storey": "a", "up_to": "a"}]}))
    after = remove(data, "storeys", "a")
    assert (after["walls"][0]["storey"], after["walls"][0]["up_to"]) == (None, None)
    assert build_scene(read_site(after)).refused == ()


def test_a_height_of_its_own_ends_reaching_up_to_a_storey():
    data = dump(read_site({"storeys": [{"id": "a"}], "walls": [{"id": "w", "up_to": "a"}]}))
    assert change(data, "walls.w.height", "2500")["walls"][0]["up_to"] is None


def test_lists_of_a_wall_grow_and_shrink():
    data = add_room(EMPTY, {})
    more = change(data, "walls.wall-1.leaves.added", "")
    assert more["walls"][0]["leaves"] == [{"thickness": "50", "finish": None}]
    assert change(more, "walls.wall-1.leaves.0.removed", "") == data
    for address in ("walls.wall-1.leaves.3.removed", "walls.wall-1.name.added", "walls.wall-1.gone.added"):
        with pytest.raises(Refusal):
            change(more, address, "")
