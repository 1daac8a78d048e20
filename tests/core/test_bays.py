"""Walls that bend at corners, the bays and the corners of glass in them: told by Pythagoras and by shapely."""

from math import sqrt

import numpy as np
import pytest
import shapely

from ashfell.core.audit.site import audit_scene
from ashfell.core.base.document import dump
from ashfell.core.base.refusal import Refusal
from ashfell.core.site import enclosed
from ashfell.core.site.course import facets_of
from ashfell.core.site.document.site import read_site
from ashfell.core.site.edit import change
from ashfell.core.site.scene import build_scene
from ashfell.core.unit.starts import start_from

WALL = {"id": "w", "name": "River wall", "length": "6 m", "height": "2700", "thickness": "250", "lining": "0"}
HALF = 2000 / sqrt(2)


def bay(**unit):
    data = enclosed.add_bay(dump(read_site({"name": "Site", "walls": [WALL]})), "w")
    data["units"] = {"bay": dump(start_from("bay-window", "Bay window"))}
    placed = {"id": "b", "wall": "w", "unit": "bay", "measured": "centre", "sill": "700", "recess": "60"}
    return data | {"placements": [placed | unit]}


def corner(unit, out):
    """A wall of twice 2 m that turns by a right angle, to the left or to the right."""
    bend = {"kind": "bent", "points": [{"along": f"{HALF}", "out": f"{out * HALF}"}]}
    wall = WALL | {"length": f"{2 * HALF}", "curve": bend}
    placed = {"id": "b", "wall": "w", "unit": "u", "measured": "centre", "sill": "700", "recess": "60"}
    units = {"u": dump(start_from(unit, "Corner"))}
    return build_scene(read_site({"name": "Site", "walls": [wall], "units": units, "placements": [placed]}))


def test_a_wall_becomes_a_bay_with_a_floor_and_a_roof():
    """2400 wide and 600 deep, splayed by 45 degrees: its sides are 600 times the root of 2."""
    data = bay()
    facets = facets_of(read_site(data).walls[0])
    assert [float(one.length) for one in facets] == pytest.approx([1800, 600 * sqrt(2), 1200, 600 * sqrt(2), 1800])
    scene = build_scene(read_site(data))
    assert scene.refused == ()
    assert audit_scene(scene) == []
    floor, roof = (part for part in scene.parts if part.role == "plate")
    assert roof.solid.volume == pytest.approx((2400 + 1200) / 2 * 600 * 150)
    # Within, the trapeze keeps its angles: every side is moved in by the wall's thickness.
    inner = shapely.Polygon([(1800, 0), (2400, -600), (3600, -600), (4200, 0)]).exterior
    line = shapely.LineString([(0, 0), *list(inner.coords)[:-1], (6000, 0)])
    moved = np.array(line.offset_curve(250, join_style="mitre").coords)[1:-1]
    assert floor.solid.volume == pytest.approx(shapely.Polygon(moved).area * 200, rel=1e-6)


def test_the_posts_of_a_bay_window_stand_at_its_corners():
    scene = build_scene(read_site(bay()))
    posts = [part for part in scene.parts if part.id.startswith("b/mullion")]
    assert len(posts) == 4  # two, each in two pieces that meet at the fold
    corners = [(2400.0, -600.0), (3600.0, -600.0)]
    for part in posts:
        points = part.solid.vertices[:, :2]
        near = min(float(np.hypot(*(points - at).T).min()) for at in corners)
        assert near < 110  # within its depth of the corner of the outer face
    panes = [part for part in scene.parts if part.id.startswith("b/glass")]
    assert len(panes) == 3


@pytest.mark.parametrize("out", [1, -1])
@pytest.mark.parametrize(("unit", "panes"), [("post-corner", 2), ("glass-corner", 2)])
def test_a_unit_turns_a_corner_at_a_post_or_glass_to_glass(unit, panes, out):
    scene = corner(unit, out)
    assert scene.refused == ()
    assert audit_scene(scene) == []
    glass = [part for part in scene.parts if part.role == "glass"]
    assert len(glass) == panes
    ways = [part.solid.normals[np.argmax(areas(part.solid))] for part in glass]
    assert abs(float(ways[0] @ ways[1])) < 1e-9
    if unit == "glass-corner":
        # Both panes end in the mitre of the corner and share its edge.
        first, second = (part.solid.vertices.round(4) for part in glass)
        shared = {tuple(row) for row in first.tolist()} & {tuple(row) for row in second.tolist()}
        assert len(shared) >= 4


def areas(solid):
    a, b, c = (solid.vertices[solid.triangles[:, k]] for k in range(3))
    return np.linalg.norm(np.cross(b - a, c - a), axis=1)


def test_the_lengths_of_a_folded_unit_close_along_its_faces():
    scene = corner("glass-corner", 1)
    points = np.concatenate([part.solid.vertices[:, :2] for part in scene.parts if part.id.startswith("b/frame")])
    # Both ends are 1200 from the corner of the outer face, along the wall.
    for way in ((-1, 1), (1, 1)):
        along = (points - (HALF, -HALF)) @ (np.array(way) / sqrt(2))
        assert along.max() == pytest.approx(1200, abs=1e-6)


@pytest.mark.parametrize(
    ("points", "rule"),
    [
        ([(1000, 0), (3000, 0)], "a curve"),
        ([(1000, 0), (1000, 0), (3000, 500)], "corners that stand apart"),
        ([(3000, 5), (1000, 0)], "a turn of 150 degrees at most"),
        ([(4000, 500), (4000, -500), (2000, -500), (2000, 900)], "a line that does not cross itself"),
    ],
)
def test_what_is_no_bend_is_refused(points, rule):
    bends = [{"along": str(along), "out": str(out)} for along, out in points]
    wall = read_site({"walls": [WALL | {"curve": {"kind": "bent", "points": bends}}]}).walls[0]
    with pytest.raises(Refusal) as told:
        facets_of(wall)
    assert told.value.rule == rule
    assert told.value.remedy


def test_corners_are_added_and_taken_away_by_their_addresses():
    data = bay()
    more = change(data, "walls.w.curve.points.added", "")
    assert len(more["walls"][0]["curve"]["points"]) == 5
    fewer = change(more, "walls.w.curve.points.0.removed", "")
    assert len(fewer["walls"][0]["curve"]["points"]) == 4


def test_a_plate_of_a_wall_without_a_bay_is_told():
    data = dump(read_site({"name": "Site", "walls": [WALL]}))
    plate = {"id": "p", "bay": "w"}
    scene = build_scene(read_site(data | {"plates": [plate]}))
    assert [refusal.rule for _, refusal in scene.refused] == ["a wall with a bay"]
    gone = build_scene(read_site(data | {"plates": [plate | {"bay": "x"}]}))
    assert [refusal.rule for _, refusal in gone.refused] == ["a known wall"]


def test_a_bay_is_made_of_a_straight_wall_alone():
    with pytest.raises(Refusal) as told:
        enclosed.add_bay(bay(), "w")
    assert told.value.rule == "a straight wall"
