"""Hardware that somebody draws: its volume by Pappus' rule, its points on a sheet, and what cannot be made."""

from math import hypot, pi

import numpy as np
import pytest

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.document import dump
from ashfell.core.base.lengths import Style
from ashfell.core.base.refusal import Refusal
from ashfell.core.drawing.points import points_sheet
from ashfell.core.kinds.hardware import HARDWARE
from ashfell.core.unit import read_unit
from ashfell.core.unit.edit.change import change
from ashfell.core.unit.make import make

FRAME = {"face": "60", "depth": "100", "sides": {"sill": "0"}}
SQUARE = [{"x": str(x), "y": str(y)} for x, y in ((-5, -5), (5, -5), (5, 5), (-5, 5))]


def door(**own):
    fill = {"kind": "leaf", "content": {"fill": {"kind": "flush"}}, "joint": "mitred", "hardware": [own]}
    return {"width": "1000", "height": "2100", "frame": FRAME, "fill": fill}


def points(*places):
    return [{"x": str(x), "y": str(y)} for x, y in places]


def piece(unit, face="outside"):
    return next(part.solid for part in unit.parts if part.role == "hardware" and part.id.endswith(f"piece.{face}"))


def test_a_section_along_a_mitred_path_has_the_volume_of_its_middle_line():
    """Pappus: area times the way of the centroid, which mitres leave as it is."""
    path = points((0, 0), (60, 0), (60, 240), (0, 240))
    unit = make(read_unit(door(kind="swept-piece", path=path, section=SQUARE, radius="0")))
    assert piece(unit).volume == pytest.approx(100 * (60 + 240 + 60))
    assert audit_unit(unit) == []


def test_round_turns_shorten_it():
    path = points((0, 0), (60, 0), (60, 240), (0, 240))
    unit = make(read_unit(door(kind="swept-piece", path=path, section=SQUARE, radius="20")))
    length = 60 + 240 + 60 - 4 * 20 + 2 * pi / 2 * 20
    assert piece(unit).volume == pytest.approx(100 * length, rel=2e-3)


def test_slanted_ends_are_cut_along_the_face():
    """A bow of two straight arms: what the cut takes off at one side of an end it adds at the other."""
    path = points((0, 0), (60, 100), (0, 200))
    unit = make(read_unit(door(kind="swept-piece", path=path, section=SQUARE, radius="0")))
    made = piece(unit)
    assert made.is_closed
    assert made.volume == pytest.approx(100 * 2 * hypot(60, 100), rel=1e-9)
    assert audit_unit(unit) == []


def test_a_section_behind_the_face_is_refused():
    with pytest.raises(Refusal, match="3 mm behind the face"):
        make(read_unit(door(kind="swept-piece", path=points((2, 0), (2, 100)), section=SQUARE, radius="0")))
    make(read_unit(door(kind="swept-piece", path=points((8, 0), (8, 100)), section=SQUARE, radius="0")))


def test_a_turned_profile_has_the_volume_of_its_cones():
    profile = points((20, 0), (20, 10), (10, 30))
    unit = make(read_unit(door(kind="turned-piece", profile=profile)))
    whole = pi * 400 * 10 + pi * 20 / 3 * (400 + 200 + 100)
    assert piece(unit).volume == pytest.approx(whole, rel=0.02)  # a circle of facets
    assert audit_unit(unit) == []


def test_its_twin_is_its_mirror_image():
    unit = make(read_unit(door(kind="swept-piece")))
    outside, inside = piece(unit), piece(unit, "inside")
    middle = outside.bounds[0][2] + inside.bounds[1][2]
    mirrored = np.sort((outside.vertices * (1, 1, -1) + (0, 0, middle)).round(6), axis=0)
    assert mirrored == pytest.approx(np.sort(inside.vertices.round(6), axis=0), abs=1e-5)


@pytest.mark.parametrize(
    ("own", "entry", "rule"),
    [
        ({"path": points((0, 0), (-10, 0), (-10, 50))}, "path", "hardware before its face"),
        ({"path": points((0, 0), (8, 0), (8, 200)), "section": SQUARE * 1, "radius": "0"}, None, None),
        ({"path": points((0, 0), (4, 0), (4, 200)), "radius": "0"}, "path", "a section that goes round the turns"),
        ({"path": points((0, 0), (50, 0), (0, 0))}, "path", "a path that does not turn back"),
        ({"path": points((0, 0), (0, 0))}, "path", "a path of some length"),
        ({"section": points((0, 0), (10, 10), (10, 0), (0, 10))}, "section", "a closed section"),
    ],
)
def test_a_path_that_cannot_be_followed_is_refused(own, entry, rule):
    data = door(kind="swept-piece", **own)
    if entry is None:
        assert make(read_unit(data))
        return
    with pytest.raises(Refusal) as told:
        make(read_unit(data))
    assert (told.value.entry, told.value.rule) == (f"fill.hardware.0.{entry}", rule)


@pytest.mark.parametrize(
    ("profile", "rule", "entry"),
    [
        (points((20, 0), (20, -5)), "hardware before its face", "profile"),
        (points((20, 10), (10, 5), (10, 20)), "a profile that rises", "profile.1.y"),
        (points((20, 10), (10, 10)), "a profile that rises", "profile"),
        (points((-5, 0), (10, 20)), "hardware before its face", "profile"),
    ],
)
def test_a_profile_that_cannot_be_turned_is_refused(profile, rule, entry):
    with pytest.raises(Refusal) as told:
        make(read_unit(door(kind="turned-piece", profile=profile)))
    assert (told.value.entry, told.value.rule) == (f"fill.hardware.0.{entry}", rule)


def test_a_point_of_a_profile_that_falls_back_is_put_beside_the_one_before_it():
    data = door(kind="turned-piece", profile=points((20, 0), (20, 30), (12, 25.5), (0, 40)))
    with pytest.raises(Refusal) as told:
        make(read_unit(data))
    assert (told.value.entry, told.value.nearest) == ("fill.hardware.0.profile.2.y", 30)
    assert audit_unit(make(read_unit(change(dump(read_unit(data)), told.value.entry, "30")))) == []


def test_its_points_are_on_a_sheet_and_changed_by_their_addresses():
    data = dump(read_unit(door(kind="swept-piece")))
    unit = make(read_unit(data))
    sheet = points_sheet(unit, Style(), "fill.hardware.0.path")
    assert (sheet.title, sheet.closed, len(sheet.points), sheet.least) == ("Path", False, 4, 2)
    assert points_sheet(unit, Style(), "fill.hardware.0.section").axes.startswith("x outwards")
    longer = change(data, "fill.hardware.0.path.1.halved", "")
    assert [point["x"] for point in longer["fill"]["hardware"][0]["path"]] == ["0", "60", "60", "60", "0"]
    last = change(data, "fill.hardware.0.path.3.halved", "")
    assert [point["x"] for point in last["fill"]["hardware"][0]["path"]] == ["0", "60", "60", "30", "0"]
    moved = change(data, "fill.hardware.0.path.2.placed", "60; 300")
    high = make(read_unit(moved))
    assert piece(high).bounds[1][1] > piece(unit).bounds[1][1]


@pytest.mark.parametrize("kind", [key for key in HARDWARE if key not in ("swept-piece", "turned-piece")])
def test_every_kind_is_sound_on_a_leaf_with_its_usual_sizes(kind):
    unit = make(read_unit(door(kind=kind, faces="outside")))
    assert [part for part in unit.parts if part.role == "hardware"]
    assert audit_unit(unit) == []


def test_a_lever_strikes_no_lining_of_its_own_light():
    """A leaf under a raked head, turned about the middle of its height: at a right angle its lever reaches into the
    lining above, at what is said it is clear."""
    leaf = {"kind": "leaf", "depth": "60", "clearance": "8", "opening": "pivot-horizontal"}
    leaf["hardware"] = [{"kind": "lever", "height": "483"}]
    data = {
        "width": "1950",
        "height": "1380",
        "outline": {"kind": "raked", "rise": "376", "high": "left"},
        "frame": {"face": "40", "sides": {"sill": "51", "head": "81"}},
        "rows": {"lights": [{"size": "310"}, {}], "bars": [{"face": "51"}]},
        "cells": {"c1r2": {"fill": leaf | {"opened": 100}}},
    }
    struck = r"goes through (lining\.c1r2|frame)\.head with hardware\.c1r2\.1\.arm"
    with pytest.raises(Refusal, match=struck) as refusal:
        make(read_unit(data))
    clear = change(dump(read_unit(data)), refusal.value.entry, str(int(refusal.value.rule.split()[2])))
    assert audit_unit(make(read_unit(clear))) == []
    before = change(clear, refusal.value.entry, "0")
    assert audit_unit(make(read_unit(before))) == []
