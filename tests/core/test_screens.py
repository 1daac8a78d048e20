"""Partitions and screens: what is between their rings, what they stand on, and lines without a wall."""

import pytest
import shapely

from ashfell.core.audit.site import audit_scene
from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.document import dump
from ashfell.core.base.refusal import Refusal
from ashfell.core.site.document.site import read_site
from ashfell.core.site.edit import change
from ashfell.core.site.plan import plan
from ashfell.core.site.scene import build_scene
from ashfell.core.unit import read_unit, solve
from ashfell.core.unit.make import make
from ashfell.core.unit.starts import STARTS, start_from

THIN = {"thickness": "10", "setback": "14", "cover": "6", "clearance": "1"} | {
    "gasket": {"thickness": "2", "shows": "1"},
    "bead": {"edge": {"kind": "chamfer", "size": "1"}},
}


def ringed(infill, trim=None, **own):
    ring = {"face": "20", "step": "100", "infill": infill} | own
    frame = {"face": "40", "depth": "60", "edge": {"kind": "square", "size": "0"}, "rings": [ring]}
    return {"width": "1200", "height": "1000", "frame": frame, "glazing": THIN, "trim": trim or {}}


def parts(unit, *beginning):
    return [part for part in unit.parts if part.id.startswith(beginning)]


@pytest.mark.parametrize("bare", ["mm", "in"])
@pytest.mark.parametrize("key", [key for key, start in STARTS.items() if start.group == "Partitions and screens"])
def test_every_screen_to_start_from_is_sound(key, bare):
    assert audit_unit(make(start_from(key, STARTS[key].name, bare))) == []


def test_an_infill_is_what_the_rings_leave_in_the_middle_of_their_depth():
    """1120 by 920 within the frame, 920 by 720 over the ring: shapely takes one from the other."""
    unit = make(read_unit(ringed({"thickness": "10"})))
    (pane,) = parts(unit, "glass.between")
    area = shapely.box(0, 0, 1120, 920).difference(shapely.box(100, 100, 1020, 820)).area
    assert pane.solid.volume == pytest.approx(area * 10)
    assert pane.solid.bounds[:, 2] == pytest.approx((-35, -25))
    assert audit_unit(unit) == []


@pytest.mark.parametrize("kind", ["circle", "rounded"])
def test_round_a_ring_of_another_outline_it_has_its_hole(kind):
    outline = (
        {"kind": "ellipse"}
        if kind == "circle"
        else {"kind": "rectangle", "corners": [{"kind": "rounded", "size": "80"}]}
    )
    unit = make(read_unit(ringed({"kind": "board"}, outline=outline)))
    (board,) = parts(unit, "panel.between")
    ring = next(one for one in (*unit.layout.rings, unit.layout.holder) if one.entry == "frame.rings.0")
    assert board.solid.volume == pytest.approx((1120 * 920 - ring.loop.area) * 10)
    assert audit_unit(unit) == []


@pytest.mark.parametrize(
    ("data", "entry", "works"),
    [
        (ringed({"thickness": "80"}), "frame.rings.0.infill.thickness", True),
        (ringed({}, step="0"), "frame.rings.0.infill", False),
        (ringed({}, trim={"feet": {"count": 20, "width": "100"}}), "trim.feet.width", True),
        (ringed(None, trim={"feet": {}, "sill": {}}), "trim.feet", False),
        (ringed(None, trim={"rail": {}, "head_drip": {}}), "trim.rail", False),
        (ringed(None, trim={"rail": {}, "inside": {}}), "trim.rail", False),
    ],
)
def test_what_has_no_room_is_refused(data, entry, works):
    with pytest.raises(Refusal) as told:
        solve(read_unit(data))
    assert told.value.entry == entry
    assert told.value.remedy
    assert (told.value.nearest is not None) == works


VALLEY = {
    "kind": "path",
    "nodes": [{"x": x, "y": y} for x, y in (("0", "0"), ("1000", "0"), ("1000", "900"), ("500", "700"), ("0", "900"))],
}
"""A head that is low in its middle: both its ends are at one level."""


@pytest.mark.parametrize(("outline", "trim", "side"), [({"kind": "ellipse"}, "feet", "sill"), (VALLEY, "rail", "head")])
def test_what_stands_or_is_held_has_a_level_side(outline, trim, side):
    data = {"width": "1000", "height": "900", "outline": outline, "trim": {trim: {}}}
    with pytest.raises(Refusal) as told:
        solve(read_unit(data))
    assert (told.value.entry, told.value.rule) == (f"trim.{trim}", f"a level {side}")


def test_feet_are_spaced_evenly_and_a_rail_lies_on_the_head():
    trim = {
        "feet": {"count": 3, "width": "60", "inset": "100", "length": "400"},
        "rail": {"height": "40", "over": "10"},
    }
    unit = make(read_unit(ringed(None, trim=trim)))
    feet = [part.solid.bounds.tolist() for part in parts(unit, "support.foot")]
    assert [low[0] for low, _ in feet] == pytest.approx([100, 570, 1040])
    assert {(low[1], high[1], low[2], high[2]) for low, high in feet} == {(-12, 0, -230, 170)}
    (rail,) = parts(unit, "support.rail")
    assert rail.solid.bounds[:, :2].tolist() == [[-10, 1000], [1210, 1040]]


def site(**own):
    walls = [
        {"id": "own", "name": "Own", "length": "5 m", "thickness": "200", "height": "2600", "corner": "mitred"},
        {"id": "line", "name": "Line", "x": "5 m", "angle": 90, "length": "4 m", "thickness": "60", "lining": "0"}
        | {"height": "2600", "built": False}
        | own,
    ]
    placed = {"id": "screen", "wall": "line", "unit": "screen", "offset": "300", "sill": "12", "stands": "centred"}
    units = {"screen": dump(start_from("partition", "Screen"))}
    return {"name": "Site", "walls": walls, "placements": [placed], "units": units}


def test_a_line_carries_units_and_has_no_wall():
    scene = build_scene(read_site(site()))
    assert scene.refused == ()
    assert scene.standing["line"].parts == ()
    assert audit_scene(scene) == []
    assert [one.host.built for one in plan(scene)] == [True, False]
    solids = [part for part in scene.parts if part.role == "wall"]
    # The wall it touches is not mitred to it.
    assert sum(part.solid.volume for part in solids) == pytest.approx(5000 * 2600 * 200)


def test_a_wall_is_built_or_not_by_a_word():
    data = dump(read_site(site()))
    built = change(data, "walls.line.built", "yes")
    scene = build_scene(read_site(built))
    assert sum(part.role == "wall" for part in scene.parts) > 1
