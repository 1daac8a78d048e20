"""Overhead doors: where their sections are, shut and on the way. The track is told here by its own formula."""

from itertools import pairwise
from math import hypot

import numpy as np
import pytest

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.lengths import Style
from ashfell.core.base.refusal import Refusal
from ashfell.core.drawing.wall_sheet import wall_sheet
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.core.unit import read_unit, solve
from ashfell.core.unit.edit.change import change
from ashfell.core.unit.make import make
from ashfell.core.unit.sash_uses import sashes_of

WIDTH, HEIGHT, DEPTH = 2500, 2200, 150
TURN = 2150 + 25 + 20
"""Where the track turns: the light's head, the lap, the rise."""
BACK = -(DEPTH + 5 + 40)
"""The inner face of the sections as w."""


def door(**own):
    fill = {"kind": "overhead", "content": {"fill": {"kind": "flush"}}} | own
    frame = {"face": "50", "depth": str(DEPTH), "sides": {"sill": "0"}}
    return {"width": str(WIDTH), "height": str(HEIGHT), "frame": frame, "fill": fill}


def hinges(unit):
    """The two ends of every section on its inner face, as (v, w)."""
    found = []
    for sash in unit.layout.body.lights[0].sashes:
        left, foot, _, head = sash.body.ring.loop.bounds
        motion = np.eye(4) if sash.motion is None else sash.motion
        ends = [(motion @ (left, v, BACK, 1.0))[1:3] for v in (foot, head)]
        found.append([tuple(end.tolist()) for end in ends])
    return found


def off_track(v, w, radius):
    """How far a point is from the track, mm."""
    up = hypot(max(v - TURN, 0.0), w - BACK)
    level = hypot(v - TURN - radius, max(w - (BACK - radius), 0.0))
    turning = v >= TURN and w >= BACK - radius
    arc = abs(hypot(v - TURN, w - (BACK - radius)) - radius) if turning else max(up, level)
    return min(up, level, arc)


def test_shut_its_sections_fill_the_opening_and_lap_the_frame():
    unit = make(read_unit(door(sections=4)))
    loops = [sash.body.ring.loop.bounds for sash in unit.layout.body.lights[0].sashes]
    assert (loops[0][0], loops[0][1], loops[0][2], loops[-1][3]) == (25, 0, 2475, 2175)
    assert [head - foot for _, foot, _, head in loops] == pytest.approx([(2175 - 3 * 2) / 4] * 4)
    assert [b[1] - a[3] for a, b in pairwise(loops)] == pytest.approx([2] * 3)


@pytest.mark.parametrize(
    ("sections", "radius", "step"),
    [(5, 380, 5), (5, 0, 20), (3, 200, 20), (3, 380, 20), (1, 0, 5), (1, 380, 20)],
)
def test_every_hinge_is_on_the_track_and_nothing_touches_however_far_it_is_opened(sections, radius, step):
    for percent in range(0, 101, step):
        data = door(sections=sections, radius=str(radius), opened=percent)
        unit = make(read_unit(data))
        placed = hinges(unit)
        # The foot of each section and the foot of the next are hinged; the head of a section is its own joint below.
        for ends in placed:
            assert off_track(*ends[0], radius) < 1e-6, percent
        assert off_track(*placed[-1][1], radius) < 1e-6, percent
        assert list(audit_unit(unit)) == [], percent


def test_opened_by_half_its_foot_is_at_half_the_height_of_the_light():
    unit = make(read_unit(door(opened=50)))
    assert hinges(unit)[0][0] == pytest.approx((2150 / 2, BACK))
    lowest = min(part.solid.bounds[0, 1] for part in unit.parts if part.role in ("sash", "panel"))
    assert lowest == pytest.approx(2150 / 2)
    unit = make(read_unit(door(opened=100)))
    lowest = min(part.solid.bounds[0, 1] for part in unit.parts if part.role in ("sash", "panel"))
    assert lowest == pytest.approx(2150, abs=2)  # its edges are worked off by 2


def test_no_section_comes_before_the_plane_that_it_hangs_in():
    for percent in (10, 40, 60, 100):
        unit = make(read_unit(door(opened=percent, sections=5)))
        moving = [part for part in unit.parts if part.role in ("sash", "panel")]
        assert max(part.solid.bounds[1, 2] for part in moving) <= -(DEPTH + 5) + 1e-9
        assert max(part.solid.bounds[1, 1] for part in moving) <= TURN + 380 + 40 + 1e-9


def test_equal_sections_are_one_definition():
    unit = make(read_unit(door(sections=5, opened=60)))
    definitions, uses = sashes_of(unit.layout, unit.parts)
    assert (len(definitions), len(uses)) == (1, 5)


def test_heights_that_are_given_are_those_of_the_lowest():
    unit = make(read_unit(door(sections=4, heights=["700", "500"])))
    loops = [sash.body.ring.loop.bounds for sash in unit.layout.body.lights[0].sashes]
    rest = (2175 - 6 - 1200) / 2
    assert [head - foot for _, foot, _, head in loops] == pytest.approx([700, 500, rest, rest])


@pytest.mark.parametrize(
    ("own", "entry", "typed"),
    [
        ({"sections": 3, "heights": ["2000"], "face": "40"}, "fill.heights.0", "nearest"),
        ({"sections": 2, "heights": ["500", "500"]}, "fill.heights", "[]"),
        ({"each": {"section-9": {"opened": 5}}}, "fill.each.section-9", ""),
    ],
)
def test_what_has_no_room_is_refused_with_what_has(own, entry, typed):
    data = door(**own)
    with pytest.raises(Refusal) as told:
        solve(read_unit(data))
    assert told.value.entry == entry
    value = f"{float(told.value.nearest)} mm" if typed == "nearest" else typed
    solve(read_unit(change(read_unit(data).model_dump(mode="json"), entry, value)))


def test_it_needs_a_rectangle_and_no_casing_inside():
    with pytest.raises(Refusal, match="rectangular light"):
        solve(read_unit(door() | {"outline": {"kind": "segmental", "rise": "200"}}))
    with pytest.raises(Refusal) as told:
        solve(read_unit(door() | {"trim": {"inside": {}}}))
    assert told.value.entry == "trim.inside"


def test_of_a_door_behind_a_wall_no_more_is_seen_from_outside_than_the_opening_shows():
    wall = {"id": "w", "name": "W", "length": "5 m", "thickness": "300", "height": "4 m", "lining": "0"}
    place = {"id": "p", "wall": "w", "unit": "door", "offset": "1 m", "sill": "0", "stands": "through"}
    unit = read_unit(door(opened=50)).model_dump(mode="json")
    scene = build_scene(read_site({"name": "S", "walls": [wall], "placements": [place], "units": {"door": unit}}))
    tops = {}
    for looks in ("outside", "inside"):
        sheet = wall_sheet(scene, Style(), "w", looks=looks)
        (shapes,) = sheet.drawings
        tops[looks] = max(loop[:, 1].max() for shape in shapes for loop in shape.loops)
        assert ("track" in {shape.role for shape in shapes}) == (looks == "inside")
    assert tops["outside"] == pytest.approx(HEIGHT)
    assert tops["inside"] > HEIGHT + 300


def under_a_casement(height):
    """An overhead door under a light that turns in, with a bar handle on its inner face."""
    handle = {"kind": "bar-handle", "faces": "inside", "thickness": "25", "out": "75", "up": "214"}
    own = handle | {"section": "square", "height": height, "to": "top"}
    door = {"kind": "overhead", "sections": 2, "content": {"fill": {"kind": "flush"}}}
    return {
        "width": "1300",
        "height": "1820",
        "rows": {"lights": [{}, {}], "bars": ["72"]},
        "cells": {"c1r1": {"fill": door}, "c1r2": {"fill": {"kind": "sash", "swing": "in", "hardware": [own]}}},
    }


@pytest.mark.parametrize("height", ["400", "816"])
def test_a_handle_over_it_is_clear_of_its_shaft_above_or_below(height):
    assert list(audit_unit(make(read_unit(under_a_casement(height))))) == []


def test_a_handle_in_its_shaft_is_refused():
    """The shaft lies from 1384 to 1414 mm up; this handle goes from 1336 to 1550 mm."""
    with pytest.raises(Refusal) as told:
        solve(read_unit(under_a_casement("600")))
    assert (told.value.entry, told.value.rule) == ("cells.c1r2.fill.hardware.0", "hardware that stands clear")
    assert "the tracks in c1r1" in told.value.message


def test_a_leaf_that_runs_inside_over_it_is_clear_of_its_tracks():
    """The tracks rise behind the bar over the door, and on: a leaf may run outside, or further up."""
    door = {"kind": "overhead", "radius": "200", "content": {"fill": {"kind": "flush"}}}
    leaf = {"kind": "sliding-leaf", "leaves": 2, "runs": "inside", "content": {"fill": {"kind": "flush"}}}

    def unit(bar, **own):
        rows = {"lights": [{"size": "1200"}, {"size": "1500"}], "bars": [bar]}
        cells = {"c1r1": {"fill": door}, "c1r2": {"fill": leaf | own}}
        height = str(2820 + int(bar))
        return {"width": "1200", "height": height, "frame": {"face": "60"}, "rows": rows, "cells": cells}

    with pytest.raises(Refusal) as told:
        solve(read_unit(unit("60")))
    assert (told.value.entry, told.value.rule) == ("cells.c1r2.fill.kind", "a light that takes a sash")
    for clear in (unit("60", runs="outside"), unit("600")):
        assert list(audit_unit(make(read_unit(clear)))) == []
