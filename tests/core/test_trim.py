"""Trim goes where there is room for it."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from ashfell.core.audit.site import audit_scene
from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.lengths import exact
from ashfell.core.base.refusal import Refusal
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.core.unit import make, read_unit
from tests.core.remedied import remedied

POINTS = (("0", "0"), ("130", "0"), ("130", "20"), ("60", "40"), ("0", "25"))
WIDE = [{"x": x, "y": y} for x, y in POINTS]
"""A section that is much wider than a casing's width."""


def bounds_of(unit, key):
    return next(part.solid.bounds for part in unit.parts if part.id == key)


def test_a_casing_round_a_unit_with_a_sill_ends_above_it():
    unit = make(read_unit({"trim": {"outside": {}, "sill": {}}}))
    assert audit_unit(unit) == []
    assert not any(part.id == "casing.outside.sill" for part in unit.parts)
    assert bounds_of(unit, "casing.outside.left")[0][1] == bounds_of(unit, "sill")[1][1] == 0


def test_a_casing_inside_ends_above_a_sill_that_comes_through():
    short, through = (make(read_unit({"trim": {"inside": {}, "sill": {"under": under}}})) for under in ("80", "120"))
    assert any(part.id == "casing.inside.sill" for part in short.parts)
    assert not any(part.id == "casing.inside.sill" for part in through.parts)
    assert audit_unit(short) == audit_unit(through) == []


@pytest.mark.parametrize("side", ["outside", "inside"])
def test_a_casing_all_round_is_refused_where_a_sill_stands(side):
    trim = {side: {"sides": "all"}, "sill": {"under": "120"}}
    with pytest.raises(Refusal) as refused:
        make(read_unit({"trim": trim}))
    assert (refused.value.entry, refused.value.rule) == (f"trim.{side}.sides", "a casing that ends above the sill")
    assert audit_unit(make(read_unit(remedied({"trim": trim})[0]))) == []


def test_boards_stand_clear_of_a_casing_of_any_section():
    trim = {"outside": {"section": WIDE}, "inside": {"section": WIDE}, "apron": {}, "head_drip": {}}
    unit = make(read_unit({"height": "1200", "trim": trim}))
    assert audit_unit(unit) == []
    # Sections run 130 mm outwards from an edge that laps the frame by 10.
    assert bounds_of(unit, "apron")[1][1] == pytest.approx(-120)
    assert bounds_of(unit, "head-drip")[0][1] == pytest.approx(1320)


# --- the inner board


BOARDED = {"width": "1000", "height": "1200", "frame": {"face": "60", "depth": "80"}}


def test_an_inner_board_lies_over_the_reveal_and_stands_out_of_the_wall():
    """Reveal 150, 30 before the wall, horns of 40: 1000 · 180 + 2 · 40 · 30 seen from above, 25 thick."""
    unit = make(read_unit(BOARDED | {"trim": {"board": {"forward": "150", "edge": {"kind": "square"}}}}))
    (board,) = [part for part in unit.parts if part.id == "board"]
    assert board.solid.bounds.tolist() == [[-40, 0, -260], [1040, 25, -80]]
    assert board.solid.volume == pytest.approx((1000 * 180 + 2 * 40 * 30) * 25)
    assert (board.role, board.entry) == ("board", "trim.board")
    assert audit_unit(unit) == []


def test_a_board_stands_behind_the_frame_whatever_ring_inside_it_holds_the_glass():
    ring = {"place": "inside", "face": "35", "depth": "61.75", "setback": "5"}
    frame = {"face": "35.5", "depth": "125.5", "rings": [ring]}
    unit = make(read_unit({"width": "1900", "height": "880", "frame": frame, "trim": {"board": {"thickness": "25"}}}))
    (board,) = [part for part in unit.parts if part.id == "board"]
    assert board.solid.bounds[1][2] == pytest.approx(-125.5)
    assert audit_unit(unit) == []


def test_a_casing_inside_stands_on_the_board():
    unit = make(read_unit(BOARDED | {"trim": {"board": {}, "inside": {}}}))
    assert bounds_of(unit, "casing.inside.left")[0][1] == bounds_of(unit, "board")[1][1] == 25
    assert not any(part.id == "casing.inside.sill" for part in unit.parts)
    assert audit_unit(unit) == []


@pytest.mark.parametrize(
    ("board", "more", "entry"),
    [
        ({"thickness": "70"}, {}, "trim.board.thickness"),
        ({"forward": "-60"}, {}, "trim.board.projection"),
        ({"edge": {"kind": "round", "size": "13"}}, {}, "trim.board.edge.size"),
        ({}, {"outline": {"kind": "ellipse"}}, "trim.board"),
        ({}, {"trim": {"board": {}, "inside": {"sides": "all"}}}, "trim.inside.sides"),
        ({}, {"frame": {"sides": {"sill": "0"}}}, "trim.board"),
    ],
)
def test_a_board_that_has_no_room_is_refused_with_what_has(board, more, entry):
    data = BOARDED | {"trim": {"board": board}} | more
    with pytest.raises(Refusal) as refused:
        make(read_unit(data))
    assert refused.value.entry == entry
    if entry != "trim.board":
        assert audit_unit(make(read_unit(remedied(data)[0]))) == []


def test_in_a_wall_the_board_reaches_the_inner_face():
    """A wall of 350, the frame 100 behind its face and 80 deep: 170 of reveal."""
    wall = {"id": "w", "length": "3000", "height": "2700", "thickness": "350"}
    placed = {"id": "p", "wall": "w", "unit": "u", "offset": "1000", "sill": "900", "recess": "100", "gap": "8"}
    scene = build_scene(
        read_site({"walls": [wall], "placements": [placed], "units": {"u": BOARDED | {"trim": {"board": {}}}}})
    )
    unit = scene.units["p"]
    assert bounds_of(unit, "board")[0][2] == pytest.approx(-80 - 170 - 30)
    assert [one for one in audit_scene(scene) if one.level == "fault"] == []


HUNG = {
    "sash": {"kind": "sash", "opening": "side-hung", "depth": "60", "hinges": {"radius": "7"}},
    "pair": {"kind": "sash", "opening": "side-hung-pair", "depth": "60", "hinges": {"radius": "9"}},
    "folding": {"kind": "folding", "depth": "60", "content": {"fill": {"kind": "panel"}}, "hinges": {"radius": "6"}},
}


@pytest.mark.parametrize("kind", HUNG)
@pytest.mark.parametrize("swing", ["in", "out"])
@pytest.mark.parametrize(("face", "lap", "left"), [("50", "49", None), ("12", "10", None), ("50", "10", "0")])
def test_a_casing_is_clear_of_hinges(kind, swing, face, lap, left):
    """A knuckle stands before the gap, and half of it before the frame; more than what the casing leaves of that."""
    side = "inside" if swing == "in" else "outside"
    frame = {"face": face, "depth": "110", "sides": {"left": left} if left else {}}
    fill = HUNG[kind] | {"swing": swing, "opened": 0}
    unit = {"width": "1800", "height": "2100", "frame": frame, "fill": fill, "trim": {side: {"lap": lap}}}
    with pytest.raises(Refusal) as refused:
        make(read_unit(unit))
    told = refused.value
    assert (told.entry, told.rule) == (f"trim.{side}.lap", "a casing that clears the hardware")
    assert told.nearest is not None
    for opened in (0, 60, 100):
        mended = unit | {"trim": {side: {"lap": exact(told.nearest)}}, "fill": fill | {"opened": opened}}
        try:
            assert audit_unit(make(read_unit(mended))) == []
        except Refusal as again:  # turned back over it
            assert opened == 100
            assert again.rule == "a casing that clears the leaf"


@pytest.mark.parametrize("opening", ["side-hung", "top-hung", "bottom-hung"])
@pytest.mark.parametrize("swing", ["in", "out"])
def test_a_sash_does_not_open_through_a_casing_that_covers_its_edge(opening, swing):
    side = "inside" if swing == "in" else "outside"
    fill = {"kind": "sash", "opening": opening, "depth": "60", "swing": swing, "opened": 40, "hinges": None}
    unit = {"frame": {"face": "50", "depth": "110"}, "fill": fill, "trim": {side: {"lap": "60"}}}
    with pytest.raises(Refusal, match="goes through the casing") as refused:
        make(read_unit(unit))
    assert (refused.value.entry, refused.value.rule) == ("fill.opened", "at most 0 percent")
    assert audit_unit(make(read_unit(unit | {"fill": fill | {"opened": 0}}))) == []
    assert audit_unit(make(read_unit(unit | {"trim": {side: {"lap": "50"}}}))) == []


@pytest.mark.parametrize(("thickness", "stands"), [("20", True), ("24", True), ("25", False), ("40", False)])
def test_a_casing_round_a_curve_stands_on_the_board_where_its_first_facet_reaches_over_it(thickness, stands):
    """The curve begins at the foot: its first facet is 25.5 mm high, 24.9 at the inner edge of the casing. Above the
    board each line of the casing is as far from the outline as everywhere."""
    board = {"thickness": thickness, "projection": "30", "horns": "40"}
    data = {
        "width": "1826.5",
        "height": "1532",
        "outline": {"kind": "quarter-round", "straight": "right"},
        "frame": {"face": "61"},
        "trim": {"board": board, "inside": {"width": "70", "projection": "18", "lap": "10"}},
    }
    if not stands:
        with pytest.raises(Refusal) as refused:
            make(read_unit(data))
        assert (refused.value.entry, refused.value.rule) == ("trim.board", "a casing that stands on the board")
        return
    unit = make(read_unit(data))
    assert audit_unit(unit) == []
    casing = next(part for part in unit.parts if part.id == "casing.inside.head").solid.vertices
    foot = casing[np.abs(casing[:, 1] - float(thickness)) < 1e-9]
    outline = shapely.LinearRing(unit.layout.outermost.loop.points)
    away = sorted({round(outline.distance(shapely.Point(point)), 6) for point in foot[foot[:, 0] < 900, :2]})
    assert away == [6, 10, 56, 60]  # the lap less its chamfer of 4, the lap; the rest of the width with and without
