"""Leaves that slide along a wall or into it, and curtains that roll up: where they are, and what is in their way."""

from math import hypot

import numpy as np
import pytest
import shapely

from ashfell.core.audit.site import audit_scene
from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.document import dump
from ashfell.core.base.lengths import Style
from ashfell.core.base.refusal import Refusal
from ashfell.core.drawing.wall_sheet import wall_sheet
from ashfell.core.site.document.site import read_site
from ashfell.core.site.edit import place_unit
from ashfell.core.site.scene import build_scene
from ashfell.core.unit import read_unit, solve
from ashfell.core.unit.make import make

FLUSH = {"fill": {"kind": "flush"}}


def door(sides=(), width="1800", **own):
    fill = {"content": FLUSH, "joint": "mitred"} | own
    frame = {"face": "50", "depth": "120", "sides": {"sill": "0"} | dict.fromkeys(sides, "0")}
    return {"width": width, "height": "2200", "frame": frame, "fill": fill}


def sliding(runs, hand="left", leaves=1, **own):
    sides = () if runs != "pocket" else ("left", "right") if leaves == 2 else (hand,)
    return door(sides, kind="sliding-leaf", runs=runs, hand=hand, leaves=leaves, **own)


def bounds_of(unit, *beginning):
    found = [part.solid.bounds for part in unit.parts if part.id.startswith(beginning)]
    return np.min([low for low, _ in found], axis=0), np.max([high for _, high in found], axis=0)


@pytest.mark.parametrize("runs", ["outside", "inside", "pocket"])
@pytest.mark.parametrize(("hand", "leaves"), [("left", 1), ("right", 1), ("left", 2)])
def test_open_it_leaves_the_light_clear_and_touches_nothing_on_the_way(runs, hand, leaves):
    for opened in (0, 35, 100):
        unit = make(read_unit(sliding(runs, hand, leaves, opened=opened)))
        assert audit_unit(unit) == []
    jamb = 40 if runs == "pocket" else 0
    left, right = (0, 1800) if runs == "pocket" else (50, 1750)
    if runs == "pocket" and leaves == 1:
        left, right = (left, 1750) if hand == "left" else (50, right)
    clear = shapely.box(
        left + jamb if hand == "left" or leaves == 2 else left,
        0,
        right - jamb if hand == "right" or leaves == 2 else right,
        2150,
    )
    for sash in unit.layout.body.lights[0].sashes:
        low, foot, high, head = sash.body.ring.loop.bounds
        moved = shapely.box(low + sash.motion[0, 3], foot, high + sash.motion[0, 3], head)
        assert moved.intersection(clear).area < 1e-6
        assert moved.distance(clear) < 4 + 1e-9


def test_on_the_wall_it_laps_the_light_and_hangs_before_the_frame():
    low, high = bounds_of(make(read_unit(sliding("outside", lap="40", clearance="8"))), "leaf.", "panel.")
    assert (low[0], high[0], high[1]) == pytest.approx((10, 1790, 2190))
    assert (low[2], high[2]) == pytest.approx((8, 52))


def test_in_a_pocket_it_goes_between_two_halves_of_the_jamb():
    unit = make(read_unit(sliding("pocket", clearance="8", jamb="40")))
    outside, inside = (bounds_of(unit, f"frame.c1r1.left.{face}") for face in ("outside", "inside"))
    leaf = bounds_of(unit, "leaf.", "panel.")
    assert outside[0][2] - leaf[1][2] == pytest.approx(8)
    assert leaf[0][2] - inside[1][2] == pytest.approx(8)
    assert outside[1][0] - outside[0][0] == pytest.approx(40)
    assert leaf[0][0] == pytest.approx(0)


def site(thickness="200", length="6000", offset="3000", **own):
    wall = {"id": "north", "name": "North", "length": length, "height": "2600", "thickness": thickness, "lining": "0"}
    placed = {"id": "door", "wall": "north", "unit": "door", "offset": offset, "sill": "0", "recess": "20"} | own
    units = {"door": sliding("pocket")}
    return build_scene(read_site({"name": "Site", "walls": [wall], "placements": [placed], "units": units}))


def test_the_wall_has_a_pocket_as_large_as_the_leaf_needs():
    """Its volume is what the wall lacks besides the opening: shapely and the sum of the boxes say the same."""
    scene = site()
    assert scene.refused == ()
    left_over = sum(part.solid.volume for one in scene.standing.values() for part in one.parts)
    travel = (1800 - 50 - 4) - 40
    pocket = (travel + 8) * (2200 - 50 - 4 + 8) * (44 + 16)
    assert left_over == pytest.approx(6000 * 2600 * 200 - 1800 * 2200 * 200 - pocket, rel=1e-9)


@pytest.mark.parametrize("own", [{"thickness": "100"}, {"offset": "1000"}])
def test_a_pocket_that_the_wall_does_not_hold_is_told(own):
    refused = [refusal for _, refusal in site(**own).refused]
    assert [refusal.rule for refusal in refused] == ["a wall that holds the pocket"]
    assert refused[0].remedy


@pytest.mark.parametrize(
    ("data", "entry"),
    [
        (door(kind="sliding-leaf", runs="pocket"), "frame.sides.left"),
        (sliding("pocket", depth="110"), "fill.depth"),
        (sliding("outside") | {"trim": {"outside": {"projection": "18"}}}, "fill.clearance"),
        (sliding("outside") | {"trim": {"head_drip": {}}}, "trim.head_drip"),
        (sliding("pocket") | {"width": "110"}, "fill.kind"),
    ],
)
def test_what_is_in_the_way_of_a_sliding_leaf_is_told(data, entry):
    with pytest.raises(Refusal) as told:
        solve(read_unit(data))
    assert told.value.entry == entry


def rolling(**own):
    return door(kind="rolling", width="2400") | {"fill": {"kind": "rolling"} | own}


@pytest.mark.parametrize(
    "own", [{}, {"slat": "50", "thickness": "12", "barrel": "100"}, {"slat": "160", "barrel": "170"}]
)
def test_a_curtain_keeps_its_length_and_touches_nothing_as_it_rolls_up(own):
    lengths = set()
    for opened in (0, 5, 20, 50, 80, 100):
        unit = make(read_unit(rolling(opened=opened, **own)))
        assert audit_unit(unit) == []
        content = unit.layout.body.lights[0].content
        gone = np.hypot(*np.diff(np.array(content.hinges), axis=0).T)
        assert gone == pytest.approx([content.slat] * len(gone), abs=1e-6)
        lengths.add(len(gone))
        assert content.hinges[0][0] == pytest.approx(2150 * opened / 100)
    assert len(lengths) == 1


def test_shut_its_slats_close_the_light_and_open_they_leave_it():
    shut = make(read_unit(rolling()))
    low, high = bounds_of(shut, "slat.")
    assert (low[0], low[1], high[0]) == pytest.approx((10, 0, 2390))
    assert high[1] > 2150 + 40
    opened = make(read_unit(rolling(opened=100)))
    assert bounds_of(opened, "slat.")[0][1] == pytest.approx(2150, abs=1)


def test_layers_on_the_coil_are_clear_of_the_barrel_and_of_each_other():
    content = make(read_unit(rolling(opened=100, barrel="160"))).layout.body.lights[0].content
    v, w = content.way.centre
    radii = [hypot(a - v, b - w) for a, b in content.hinges if a > content.way.head + 40]
    assert radii[-1] < radii[len(radii) // 2] < radii[0]
    # A chord's middle is nearer to the axis than its ends.
    assert (radii[-1] ** 2 - (content.slat / 2) ** 2) ** 0.5 > 80


@pytest.mark.parametrize(
    ("own", "entry"),
    [
        ({"slat": "10"}, "fill.slat"),
        ({"barrel": "50"}, "fill.barrel"),
        ({"barrel": "3000"}, "fill.barrel"),
        ({"thickness": "60"}, "fill.thickness"),
    ],
)
def test_slats_that_do_not_roll_are_refused_with_what_does(own, entry):
    with pytest.raises(Refusal) as told:
        solve(read_unit(rolling(**own)))
    assert told.value.entry == entry
    solve(read_unit(rolling(**own | {entry.removeprefix("fill."): str(float(told.value.nearest))})))


def test_grooves_part_a_board_evenly_and_take_what_they_say():
    """A groove takes half its width times its depth of the section."""
    plain = make(read_unit({"fill": {"kind": "flush"}}))
    grooved = make(read_unit({"fill": {"kind": "flush", "grooves": {"count": 4, "width": "10", "depth": "5"}}}))
    wide = next(part for part in plain.parts if part.role == "panel").solid
    own = next(part for part in grooved.parts if part.role == "panel").solid
    across = wide.bounds[1][0] - wide.bounds[0][0]
    assert wide.volume - own.volume == pytest.approx(4 * 10 * 5 / 2 * across)
    tips = sorted({round(v, 6) for _, v, w in own.vertices.tolist() if abs(w - (wide.bounds[1][2] - 5)) < 1e-6})
    assert np.diff(tips) == pytest.approx([np.diff(tips)[0]] * 3)


@pytest.mark.parametrize(
    ("own", "entry"), [({"count": 40, "width": "60"}, "fill.grooves.count"), ({"depth": "200"}, "fill.grooves.depth")]
)
def test_grooves_without_room_are_refused(own, entry):
    with pytest.raises(Refusal) as told:
        solve(read_unit({"fill": {"kind": "flush", "grooves": own}}))
    assert told.value.entry == entry
    key = entry.rpartition(".")[2]
    nearest = int(told.value.rule.split()[2]) if key == "count" else str(float(told.value.nearest))
    solve(read_unit({"fill": {"kind": "flush", "grooves": own | {key: nearest}}}))


@pytest.mark.parametrize(("runs", "seen"), [("outside", "outside"), ("inside", "inside"), ("pocket", "")])
def test_on_a_wall_an_open_leaf_is_drawn_where_it_can_be_seen(runs, seen):
    """Half open it stands beside the light by half its width; from the other side the wall hides that."""
    wall = {"id": "w", "name": "W", "length": "9 m", "thickness": "200", "height": "3 m", "lining": "0"}
    unit = sliding(runs, opened=50)
    data = {"name": "Site", "walls": [wall], "placements": [], "units": {"door": unit}}
    placed = place_unit(dump(read_site(data)), read_site(data), "w", "door")
    stands = {"outside": "flush outside", "inside": "flush inside", "pocket": "centred"}[runs]
    assert placed["placements"][0]["stands"] == stands
    scene = build_scene(read_site(placed))
    assert audit_scene(scene) == []
    for looks in ("outside", "inside"):
        (shapes,) = wall_sheet(scene, Style(), "w", looks=looks).drawings
        ends = [loop[:, 0] * (1 if looks == "outside" else -1) for shape in shapes for loop in shape.loops]
        least = min(float(end.min()) for end in ends)
        assert (least < -500) == (looks == seen)


@pytest.mark.parametrize("kind", ["lantern", "dome"])
@pytest.mark.parametrize(
    ("runs", "lap", "clear"), [("outside", "10", True), ("outside", "20", False), ("inside", "20", True)]
)
def test_a_leaf_stands_before_nothing_that_rises_over_another_light(kind, runs, lap, clear):
    """Between the lights is a bar of 43, of which what rises over the one covers 28: 15 are left for the leaf's lap."""
    leaf = {"kind": "sliding-leaf", "runs": runs, "hand": "right", "depth": "60", "lap": lap}
    data = {
        "width": "3000",
        "height": "1100",
        "frame": {"face": "43", "depth": "163"},
        "columns": {"lights": [{}, {}, {}], "bars": ["43", "43"]},
        "fill": {"kind": kind, "lap": "28"},
        "cells": {"c1r1": {"span": [2, 1]}, "c3r1": {"fill": leaf}},
    }
    if clear:
        assert audit_unit(make(read_unit(data))) == []
    else:
        with pytest.raises(Refusal, match="stand before c1r1") as told:
            make(read_unit(data))
        assert told.value.entry == "cells.c3r1.fill.kind"


def test_a_pocket_has_no_room_where_a_ring_is_round_the_frame():
    unit = sliding("pocket")
    make(read_unit(unit))
    ring = {"place": "outside", "face": "40", "infill": {"kind": "glass", "thickness": "6"}}
    with pytest.raises(Refusal) as refused:
        solve(read_unit(unit | {"frame": unit["frame"] | {"rings": [ring]}}))
    assert refused.value.entry == "fill.kind"
    assert refused.value.message == "A ring round the frame is where its pocket would be."


def test_an_infill_is_not_where_a_leaf_slides_into_the_wall():
    """An inner ring 10 mm inside the frame, neither with a jamb on the right: what is between them ends there in a
    strip that the leaf would go through. On a side that no leaf goes to it may be."""
    unit = sliding("pocket")
    ring = {"place": "inside", "face": "50", "step": "10", "infill": {"kind": "glass", "thickness": "6"}}
    frame = unit["frame"] | {"rings": [ring], "sides": {"right": "0"}}
    data = unit | {"frame": frame, "fill": unit["fill"] | {"hand": "right"}}
    with pytest.raises(Refusal) as refused:
        solve(read_unit(data))
    assert (refused.value.entry, refused.value.rule) == ("frame.rings.0.infill", "an infill clear of leaves")
    assert refused.value.message == "The leaf of light c1r1 slides through it into the wall."
    for own in ({"infill": None}, {"step": "0", "infill": None}):
        plain = data | {"frame": frame | {"rings": [ring | own]}}
        assert audit_unit(make(read_unit(plain | {"fill": plain["fill"] | {"opened": 50}}))) == []
    outside = data | {"fill": data["fill"] | {"runs": "outside"}}
    solve(read_unit(outside))
