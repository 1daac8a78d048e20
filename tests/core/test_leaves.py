"""Leaves of doors: their rings, what they hold, how they open, what is fixed to them.

shapely judges areas, manifold3d overlaps (in the audit), Pappus' rule the volume of a bar.
"""

from fractions import Fraction

import numpy as np
import pytest
import shapely
from hypothesis import settings

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.document import dump
from ashfell.core.base.lengths import Style, parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit import read_unit, solve
from ashfell.core.unit.edit.change import change, with_opened
from ashfell.core.unit.make import make
from ashfell.core.unit.say.build_up import build_up
from ashfell.core.unit.starts import STARTS, start_from

FRAME = {"face": "60", "depth": "100", "sides": {"sill": "0"}}
IN_THE_LONG_RUN = settings.default is not None and settings.default.max_examples >= 1000
DOORS = ("Doors", "Sliding, folding and overhead doors")
BY_SMALL_STEPS = (
    *("panelled-leaf", "pair", "stable-leaf", "overhead", "tilting"),
    *("folding-doors", "rolling", "pocket-door", "hung-slider"),
)
GLAZING = {"thickness": "16", "setback": "8", "cover": "10", "gasket": {"thickness": "3", "shows": "1"}}


def door(width="1000", height="2100", content=None, frame=None, **leaf):
    fill = {"kind": "leaf", "glazing": GLAZING, "content": content or {}} | leaf
    return {"width": width, "height": height, "frame": FRAME | (frame or {}), "fill": fill}


def made(data):
    return make(read_unit(data))


def part(unit, key):
    return next(one for one in unit.parts if one.id == key)


def box(one):
    return one.solid.bounds.round(6).tolist()


@pytest.mark.parametrize(
    ("opening", "entry"), [("top-hung", "foot"), ("bottom-hung", ""), ("pivot-horizontal", "foot")]
)
@pytest.mark.parametrize("swing", ["out", "in"])
def test_a_leaf_swings_by_its_foot_as_far_as_it_is_clear_there(opening, entry, swing):
    """Clear by 12 all round and by 3 at the foot, 54 deep: hung at its head its foot swings past by what Pythagoras
    says; hung at its foot its head does, where it is clear."""
    own = {"opening": opening, "swing": swing, "clearance": "12", "foot": "3", "depth": "54", "opened": 40}
    data = door(height="440" if opening != "pivot-horizontal" else "240", face="40", sides={"sill": "60"}, **own)
    if not entry:
        assert not audit_unit(made(data))
        return
    with pytest.raises(Refusal, match="at its foot is 3 mm") as refused:
        made(data)
    assert (refused.value.rule, str(refused.value.entry)) == ("room to swing", "fill.foot")
    half = opening == "pivot-horizontal"
    arm, depth = ((240 - 60 - 12 - 3) / 2, 27) if half else (440 - 60 - 12 - 3, 54)
    past = np.hypot(arm, depth) - arm
    assert f"{past:.2f} mm past" in str(refused.value)
    for percent in (0, 20, 40, 60, 100):
        mended = change(data, "fill.foot", str(float(refused.value.nearest)))
        assert not [one for one in audit_unit(made(with_opened(mended, percent))) if one.level == "fault"]


@pytest.mark.parametrize("bare", ["mm", "in"])
@pytest.mark.parametrize("key", [key for key, start in STARTS.items() if start.group in DOORS])
def test_every_door_to_start_from_is_sound_however_far_it_is_opened(key, bare):
    """One of each way of opening is looked at by steps of 20 %, what opens as one of them does by steps of 50 %; in the
    long run all by steps of 5 %."""
    data = dump(start_from(key, STARTS[key].name, bare))
    step = 5 if IN_THE_LONG_RUN else 20 if bare == "mm" and key in BY_SMALL_STEPS else 50
    for percent in range(0, 101, step):
        assert list(audit_unit(made(with_opened(data, percent)))) == [], percent


def test_stiles_run_through_and_rails_stand_between_them():
    unit = made(door(face="100", sides={"sill": "200"}))
    low, high = box(part(unit, "leaf.c1r1.left"))
    assert (low[0], low[1], high[0], high[1]) == (63, 6, 163, 2037)
    low, high = box(part(unit, "leaf.c1r1.sill"))
    assert (low[0], low[1], high[0], high[1]) == (163 - 13, 6, 837 + 13, 206)  # into the rebates of the stiles
    low, high = box(part(unit, "leaf.c1r1.head"))
    assert (low[0], low[1], high[0], high[1]) == (163 - 13, 1937, 837 + 13, 2037)
    assert part(unit, "leaf.c1r1.left").grain == (0.0, 1.0, 0.0)
    assert part(unit, "leaf.c1r1.sill").grain == (1.0, 0.0, 0.0)


def test_jambs_run_to_the_floor_and_the_stop_has_none_at_the_foot():
    unit = made(door())
    assert box(part(unit, "frame.left"))[0][1] == 0
    names = {one.id for one in unit.parts}
    assert "frame.sill" not in names
    assert {"stop.c1r1.left", "stop.c1r1.head", "stop.c1r1.right"} <= names
    assert "stop.c1r1.sill" not in names


def test_a_low_threshold_lies_under_the_leaf_by_its_clearance():
    unit = made(door(frame={"sides": {"sill": "15"}}, foot="4"))
    assert box(part(unit, "frame.sill"))[1][1] == 15
    assert box(part(unit, "leaf.c1r1.left"))[0][1] == 19


def test_turned_by_180_degrees_its_face_is_as_far_off_the_frame_as_its_knuckles_are_thick():
    unit = made(door(turns=180, opened=100, hinges={"radius": "9"}))
    stile = box(part(unit, "leaf.c1r1.right"))
    assert stile[0][2] == pytest.approx(18, abs=1e-6)
    assert stile[1][2] == pytest.approx(18 + 44, abs=1e-6)
    # The axis is before the middle of the gap: the free edge is as far beyond it as it was before it.
    assert stile[0][0] == pytest.approx(61.5 - (937 - 61.5), abs=1e-6)
    assert list(audit_unit(unit)) == []


def test_set_back_it_turns_by_90_degrees_at_most():
    data = door(turns=120, opened=100, setback="10", hinges=None)
    with pytest.raises(Refusal) as told:
        solve(read_unit(data))
    assert (told.value.entry, told.value.rule) == ("fill.turns", "at most 90 degrees")
    solve(read_unit(change(dump(read_unit(data)), "fill.turns", "90")))


def test_hinges_are_spaced_evenly_on_the_hinged_edge():
    unit = made(door(hand="right", hinges={"count": 4, "tall": "80", "foot": "200", "head": "170"}))
    middles = [np.mean([box(part(unit, f"hardware.c1r1.hinge.{k}"))[n][1] for n in (0, 1)]) for k in (1, 2, 3, 4)]
    assert middles[0] == pytest.approx(6 + 200)
    assert middles[3] == pytest.approx(2037 - 170)
    assert np.diff(middles) == pytest.approx([(2037 - 170 - 206) / 3] * 3)
    assert box(part(unit, "hardware.c1r1.hinge.1"))[0][0] > 900
    with pytest.raises(Refusal, match="have no room"):
        solve(read_unit(door(height="600", hinges={"count": 4})))


def test_the_active_leaf_of_a_pair_is_as_wide_as_it_says():
    for hand, name in (("left", "left"), ("right", "right")):
        unit = made(door(width="1500", opening="side-hung-pair", hand=hand, clearance="4", active="900"))
        widths = {sash.name: sash.body.ring.loop.bounds for sash in unit.layout.body.lights[0].sashes}
        left, _, right, _ = widths[name]
        assert right - left == pytest.approx(900)
        assert sum(bounds[2] - bounds[0] for bounds in widths.values()) == pytest.approx(1380 - 3 * 4)
    with pytest.raises(Refusal) as told:
        solve(read_unit(door(width="1500", opening="side-hung-pair", active="1350")))
    assert told.value.entry == "fill.active"
    assert told.value.nearest == 1380 - 2 * 3 - 3 - 50


def test_the_second_leaf_waits_until_the_first_is_out_of_its_way():
    data = door(width="1390", opening="side-hung-pair", clearance="4", active="900")
    first, second = made(with_opened(dump(read_unit(data)), 5)).layout.body.lights[0].sashes
    assert first.motion is not None
    assert second.motion is None
    first, second = made(with_opened(dump(read_unit(data)), 50)).layout.body.lights[0].sashes
    assert first.motion is not None
    assert second.motion is not None


def test_the_parts_of_a_stable_leaf_open_by_themselves():
    data = door(opening="stable", active="1000", sides={}, hinges={"count": 2}, each={"upper": {"opened": 100}})
    lower, upper = made(data).layout.body.lights[0].sashes
    assert (lower.name, upper.name) == ("lower", "upper")
    assert lower.motion is None
    assert upper.motion is not None
    assert lower.body.ring.loop.bounds == pytest.approx((63, 6, 937, 1006))
    assert upper.body.ring.loop.bounds == pytest.approx((63, 1009, 937, 2037))


def test_planks_are_equal_and_no_wider_than_asked():
    unit = made(door(face="0", sides={}, content={"fill": {"kind": "planks", "width": "125", "ledges": 3}}))
    boxes = [box(one) for one in unit.parts if one.role == "plank"]
    assert len(boxes) == 7  # 874 mm by 125 at most
    assert [high[0] - low[0] for low, high in boxes] == pytest.approx([874 / 7] * 7, abs=1e-5)
    ledges = [box(one) for one in unit.parts if one.id.startswith("ledge.")]
    assert [round((low[1] + high[1]) / 2, 6) for low, high in ledges] == [206, (206 + 1837) / 2, 1837]
    # A V joint takes a triangle off each edge that meets another.
    taken = sum(874 / 7 * 20 - (3 * 3 / 2) * (2 if 0 < k < 6 else 1) for k in range(7)) * 2031
    assert sum(one.solid.volume for one in unit.parts if one.role == "plank") == pytest.approx(taken, rel=1e-9)


def test_planks_are_cut_to_the_outline_of_their_leaf():
    data = door(face="0", sides={}, content={"fill": {"kind": "planks", "joint": "0"}}, joint="mitred")
    unit = made(data | {"outline": {"kind": "semicircular"}})
    area = shapely.Polygon(unit.layout.body.lights[0].sashes[0].body.ring.loop.points).area
    assert sum(one.solid.volume for one in unit.parts if one.role == "plank") == pytest.approx(area * 20, rel=1e-9)
    assert list(audit_unit(unit)) == []


def test_a_flush_board_is_as_thick_as_its_leaf_less_its_viewing_light():
    view = {"outline": {"kind": "ellipse"}, "width": "300", "height": "300", "glazing": GLAZING}
    unit = made(
        door(
            face="8", sides={}, edge={"kind": "square", "size": "0"}, content={"fill": {"kind": "flush", "view": view}}
        )
    )
    ring = next(
        sash.body.ring
        for body in unit.layout.bodies
        for light in body.lights
        for sash in light.sashes
        if sash.name == "view"
    )
    board = (874 - 16) * (2031 - 16) - shapely.Polygon(ring.loop.points).area
    assert part(unit, "panel.c1r1.sash.c1r1").solid.volume == pytest.approx(board * 44, rel=1e-9)
    assert ring.loop.bounds[1] == pytest.approx(6 + 8 + 1100)
    assert [light.filling.key for light in unit.layout.lights] == ["leaf", "flush", "glass"]
    with pytest.raises(Refusal) as told:
        solve(read_unit(change(dump(unit.document), "fill.content.fill.view.foot", "1800")))
    assert told.value.entry == "fill.content.fill.view.foot"
    assert told.value.nearest == 2015 - 10 - 300


BAR = {"kind": "bar-handle", "thickness": "25", "out": "75", "up": "600", "height": "1300", "edge": "25"}


@pytest.mark.parametrize("hand", ["left", "right"])
def test_a_bar_handle_is_where_it_was_put_and_its_twin_its_mirror_image(hand):
    unit = made(door(hand=hand, hardware=[BAR]))
    outside, inside = (part(unit, f"hardware.c1r1.1.bar.{face}") for face in ("outside", "inside"))
    low, high = box(outside)
    assert high[1] == 6 + 1300
    assert high[2] == 75 + 12.5
    assert (937 - high[0] if hand == "left" else low[0] - 63) == pytest.approx(25)
    # A section carried along its centre line: area by length (Pappus' rule, mitred turns).
    assert outside.solid.volume == pytest.approx(25 * 25 * (75 + 600 + 75), rel=1e-9)
    mirrored = np.sort(outside.solid.vertices * (1, 1, -1) - (0, 0, 44), axis=0)
    assert np.sort(inside.solid.vertices, axis=0) == pytest.approx(mirrored, abs=1e-9)
    assert inside.solid.volume == pytest.approx(outside.solid.volume)


def test_hardware_goes_with_its_leaf():
    shut, opened = (made(door(hardware=[BAR], opened=percent, hinges=None)) for percent in (0, 100))
    before, after = (box(part(unit, "hardware.c1r1.1.bar.outside")) for unit in (shut, opened))
    # A quarter turn about the edge at 63 on the face: what was to the right of it is now before it.
    assert after[1][2] == pytest.approx(before[1][0] - 63)
    assert after[0][0] == pytest.approx(63 - before[1][2])


@pytest.mark.parametrize("kind", ["lever", "knob", "cylinder", "letter-plate", "plate", "closer", "bar-handle"])
def test_every_piece_is_closed_and_looks_outwards(kind):
    own = {"kind": kind, "height": "1500", "edge": "100", "faces": "outside"}
    own |= {"section": "round", "radius": "30"} if kind == "bar-handle" else {}
    unit = made(door(hardware=[own]))
    pieces = [one for one in unit.parts if one.id.startswith("hardware.c1r1.1.")]
    assert pieces
    assert all(one.solid.is_closed and one.solid.volume > 0 for one in pieces)
    assert all(one.solid.bounds[0, 2] >= -1e-9 for one in pieces)
    assert list(audit_unit(unit)) == []


@pytest.mark.parametrize(
    ("own", "entry", "nearest"),
    [
        (BAR | {"height": "500", "faces": "outside"}, "fill.hardware.0.height", Fraction(625)),
        (BAR | {"height": "2200", "faces": "outside"}, "fill.hardware.0.height", Fraction(2031)),
        ({"kind": "lever", "edge": "10", "faces": "outside"}, "fill.hardware.0.edge", Fraction(26)),
        (BAR | {"of": "upper"}, "fill.hardware.0.of", None),
        ({"kind": "plate", "height": "0", "width": "870", "edge": "2", "faces": "inside"}, "fill.hardware.0", None),
    ],
)
def test_hardware_that_cannot_be_there_is_refused(own, entry, nearest):
    data = door(hardware=[own])
    with pytest.raises(Refusal) as told:
        solve(read_unit(data))
    assert (told.value.entry, told.value.nearest) == (entry, nearest)
    if nearest is not None:
        solve(read_unit(change(dump(read_unit(data)), entry, f"{float(nearest)} mm")))


def test_two_pieces_do_not_stand_in_each_other():
    with pytest.raises(Refusal, match="in another piece"):
        solve(read_unit(door(hardware=[{"kind": "lever"}, {"kind": "cylinder", "height": "1020"}])))


def test_hardware_of_a_sliding_panel_stays_out_of_the_way_of_the_other():
    unit = {
        "width": "2400",
        "height": "2100",
        "frame": {"face": "50", "depth": "140"},
        "fill": {"kind": "sliders", "slide": "across", "face": "70", "depth": "56", "hardware": [BAR | {"edge": "10"}]},
    }
    with pytest.raises(Refusal, match="another sash moves"):
        solve(read_unit(unit))
    unit["fill"]["hardware"][0]["faces"] = "outside"
    assert list(audit_unit(made(unit))) == []


def test_hardware_is_added_typed_and_removed_by_address():
    data = dump(read_unit(door()))
    data = change(data, "fill.hardware.added", "lever")
    data = change(data, "fill.hardware.0.height", "40in")
    assert data["fill"]["hardware"][0]["kind"] == "lever"
    assert parse(data["fill"]["hardware"][0]["height"]) == 1016
    said = " ".join(one.text for one in build_up(made(data), Style(), {}, ""))
    assert "Lever on both faces, its middle 1016 above the foot, 60 from the opening edge" in said
    assert change(data, "fill.hardware.0.removed", "")["fill"]["hardware"] == []
    with pytest.raises(Refusal, match="There is no"):
        change(data, "fill.hardware.added", "a spoon")


def test_a_leaf_sweeps_over_a_quarter_of_a_circle_on_the_plan():
    (swept,) = [one for light in made(door()).layout.lights for one in light.filling.sweeps(light)]
    line = swept.line(90)
    axis, arc = line[0], line[1:]
    assert np.hypot(*(arc - axis).T) == pytest.approx([937 - 61.5] * len(arc))
    assert arc[-1] == pytest.approx((937, 7))
    assert arc[0] == pytest.approx((61.5, 7 + 937 - 61.5))


@pytest.mark.parametrize("bare", ["mm", "in"])
def test_a_leaf_becomes_an_entrance_in_one_step(bare):
    leaf = make(start_from("panelled-leaf", "Door", bare))
    unit = made(change(dump(leaf.document), "entrance", "", bare))
    before, after = (
        next(light for light in one.layout.lights if light.filling.key == "leaf").sashes[0].body.ring.loop.bounds
        for one in (leaf, unit)
    )
    assert after[2] - after[0] == pytest.approx(before[2] - before[0])
    low, _, high, _ = unit.layout.frame.loop.bounds
    assert after[0] - low == pytest.approx(high - after[2])
    side = parse("400") if bare == "mm" else parse("16 in")
    assert [light.size for light in unit.layout.columns.lights][::2] == [side, side]
    assert list(audit_unit(unit)) == []
    with pytest.raises(Refusal, match="Only a leaf alone"):
        change(dump(unit.document), "entrance", "")


def test_the_outline_of_a_viewing_light_that_is_not_there_is_refused():
    data = dump(start_from("flush-leaf", "Door"))
    for value in ("", "ellipse"):
        with pytest.raises(Refusal, match="There is no entry"):
            change(data, "fill.content.fill.view.outline.kind", value)


@pytest.mark.parametrize(("turns", "clear"), [(90, True), (180, False)])
def test_a_handle_that_strikes_the_wall_beside_an_open_leaf_is_refused(turns, clear):
    """Turned by 180 degrees a leaf lies off the wall by two radii of its knuckles; a lever stands out further."""
    data = door(turns=turns, opened=100, hardware=[{"kind": "lever", "faces": "outside"}])
    if clear:
        assert list(audit_unit(made(data))) == []
        return
    with pytest.raises(Refusal) as told:
        made(data)
    assert (told.value.entry, told.value.rule) == ("fill.hardware.0", "hardware that stands clear")
    assert list(audit_unit(made(door(turns=turns, opened=100)))) == []
