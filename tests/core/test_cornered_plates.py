"""Plates round corners of their own: their volume by the shoelace formula, and what is done to them on the page."""

from __future__ import annotations

import numpy as np
import pytest

from ashfell.core.audit.site import audit_scene
from ashfell.core.base.document import dump
from ashfell.core.base.lengths import Style
from ashfell.core.base.refusal import Refusal
from ashfell.core.drawing.plan_sheet import plan_sheet
from ashfell.core.site import edit
from ashfell.core.site.document.site import read_site
from ashfell.core.site.say.building import say_plate
from ashfell.core.site.scene import build_scene
from ashfell.core.unit.say.writer import Action, Slot, Writer

SHAPE = [(0, 0), (6000, 0), (6000, 2000), (3000, 2000), (3000, 5000), (0, 4000)]


def data(points=SHAPE, **own):
    corners = [{"x": str(x), "y": str(y)} for x, y in points]
    return {"plates": [{"id": "p", "thickness": "200", "level": "500", "corners": corners} | own]}


def shoelace(points):
    x, y = np.array(points, dtype=float).T
    return abs(x @ np.roll(y, -1) - y @ np.roll(x, -1)) / 2


@pytest.mark.parametrize("points", [SHAPE, SHAPE[::-1]])
def test_it_fills_what_lies_between_its_corners(points):
    scene = build_scene(read_site(data(points)))
    (part,) = scene.parts
    assert part.solid.volume == pytest.approx(shoelace(SHAPE) * 200)
    assert part.solid.bounds.tolist() == [[0, 0, 300], [6000, 5000, 500]]
    assert audit_scene(scene) == []


@pytest.mark.parametrize(
    ("points", "rule"),
    [
        (SHAPE[:2], "three corners at least"),
        ([(0, 0), (1000, 1000), (1000, 0), (0, 1000)], "edges that do not cross"),
        ([(0, 0), (1000, 0), (2000, 0)], "edges that do not cross"),
    ],
)
def test_corners_that_go_round_nothing_are_told(points, rule):
    ((place, refusal),) = build_scene(read_site(data(points))).refused
    assert (place, refusal.entry, refusal.rule) == ("plates.p", "corners", rule)


def test_a_rectangle_gets_corners_and_its_sizes_back():
    whole = dump(read_site({"plates": [{"id": "p", "x": "1 m", "y": "0", "width": "3 m", "depth": "2 m"}]}))
    before = build_scene(read_site(whole)).parts[0].solid
    cornered = edit.change(whole, "plates.p.cornered", "")
    (own,) = cornered["plates"]
    assert [(one["x"], one["y"]) for one in own["corners"]] == [
        ("1000 mm", "0 mm"), ("4000 mm", "0 mm"), ("4000 mm", "2000 mm"), ("1000 mm", "2000 mm")
    ]  # fmt: skip
    assert build_scene(read_site(cornered)).parts[0].solid.volume == pytest.approx(before.volume)
    more = edit.change(cornered, "plates.p.corners.added", "")
    assert (more["plates"][0]["corners"][-1]["x"], more["plates"][0]["corners"][-1]["y"]) == ("1000 mm", "1000 mm")
    moved = edit.change(more, "plates.p.corners.4.x", "500")
    assert build_scene(read_site(moved)).parts[0].solid.volume == pytest.approx(before.volume + 500 * 2000 / 2 * 200)
    less = edit.change(moved, "plates.p.corners.4.removed", "")
    assert build_scene(read_site(less)).parts[0].solid.volume == pytest.approx(before.volume)
    assert edit.change(less, "plates.p.corners", "[]")["plates"][0]["corners"] == []


def test_its_corners_are_moved_on_the_plan():
    whole = dump(read_site(data()))
    sheet = plan_sheet(build_scene(read_site(whole)), Style(), "plates.p")
    held = {handle.entry: handle for handle in sheet.handles if handle.entry.startswith("plates.")}
    assert [*held] == [f"plates.p.corners.{index}.place" for index in range(6)]
    assert held["plates.p.corners.4.place"].place == "3000 5000"
    moved = edit.change(whole, "plates.p.corners.4.place", "3 m; 6 m")
    assert moved["plates"][0]["corners"][4] == {"x": "3 m", "y": "6 m"}
    with pytest.raises(Refusal):
        edit.change(whole, "plates.p.corners.9.place", "0; 0")
    other = plan_sheet(build_scene(read_site(whole)), Style(), "")
    assert not any(handle.entry.startswith("plates.") for handle in other.handles)


def test_its_sentence_has_an_input_for_each_corner_and_the_number_of_many():
    (plate,) = read_site(data()).plates
    said = say_plate(Writer(Style(), {}), plate, {}, {})
    slots = [part.entry for part in said.parts if isinstance(part, Slot)]
    assert [one for one in slots if "corners" in one] == [
        f"plates.p.corners.{index}.{way}" for index in range(6) for way in "xy"
    ]
    actions = {part.entry for part in said.parts if isinstance(part, Action)}
    assert {"plates.p.corners", "plates.p.corners.added", "plates.p.corners.0.removed"} <= actions
    turns = np.linspace(0, 2 * np.pi, 40, endpoint=False)
    (many,) = read_site(data([(round(9000 * np.cos(t)), round(9000 * np.sin(t))) for t in turns])).plates
    assert "round 40 corners" in say_plate(Writer(Style(), {}), many, {}, {}).text
