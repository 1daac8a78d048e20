"""Walls traced from the lines of a plan: what is traced draws the same plan again."""

from math import hypot

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely import affinity

from ashfell.core.site.document.site import read_site
from ashfell.core.site.plan import plan
from ashfell.core.site.scene import build_scene
from ashfell.core.site.settle import Levels
from ashfell.core.site.traced.faces import Rules
from ashfell.core.site.traced.rails import between, common, merged, without
from ashfell.core.site.traced.walls import Heights, traced

NO_SWINGS = np.empty((0, 3))


def lines_of(region):
    """The boundary of what is built, as an architect's file holds it."""
    rings = [ring for part in shapely.get_parts(region) for ring in (part.exterior, *part.interiors)]
    found = [(*a, *b) for ring in rings for a, b in zip(ring.coords[:-1], ring.coords[1:], strict=True)]
    return np.array(found)


def drawn(made):
    """The plan of what was traced, where it lay in the drawing."""
    scene = build_scene(read_site({"walls": made.walls, "placements": made.placements}))
    assert not scene.refused
    levels = Levels(scene.site.storeys)
    parts = [shapely.Polygon(piece) for host in plan(scene, levels, "") for piece in host.solid]
    return affinity.translate(shapely.union_all(parts), *made.origin)


@st.composite
def plans(draw):
    """A building with a room or two, partitions and openings, turned by some angle: what is built, its openings, and
    the thickness of its walls."""
    wide, deep = draw(st.integers(6000, 20000)), draw(st.integers(4000, 12000))
    thick, thin = draw(st.integers(200, 490)), draw(st.integers(70, 150))
    whole = shapely.box(0, 0, wide, deep)
    if draw(st.booleans()):
        whole = shapely.union(whole, shapely.box(0, deep - 10, wide // 2, deep + draw(st.integers(3000, 6000))))
    rooms = shapely.buffer(whole, -thick, join_style="mitre")
    at = draw(st.integers(thick + 1500, wide // 2 - 700))
    partition = shapely.box(at, thick, at + thin, deep - thick)
    partition = shapely.intersection(partition, rooms)
    built = shapely.union(shapely.difference(whole, rooms), partition)
    openings = []
    x = at + thin + 400
    while x < wide - thick - 1400 and len(openings) < 5:
        size = draw(st.integers(400, 1200))
        openings.append((shapely.box(x, 0, x + size, thick), size))
        x += size + draw(st.integers(200, 2500))
    size = draw(st.integers(500, 1000))
    y = draw(st.integers(thick + 200, deep - thick - 1400))
    openings.append((shapely.box(at, y, at + thin, y + size), size))
    for hole, _ in openings:
        built = shapely.difference(built, hole)
    turn = draw(st.sampled_from((0, 0, 30, 45, 7.5, 90, 179.99, 271)))
    away = draw(st.integers(-500_000, 500_000)), draw(st.integers(-500_000, 500_000))

    def put(shape):
        return affinity.translate(affinity.rotate(shape, turn, origin=(0, 0)), *away)

    return put(built), [(put(hole).centroid, size) for hole, size in openings], (thick, thin)


@given(plans())
def test_what_is_traced_draws_the_same_plan(case):
    built, openings, (thick, thin) = case
    made = traced(lines_of(built), NO_SWINGS, Rules(), Heights())
    thicknesses = sorted({round(float(wall["thickness"])) for wall in made.walls})
    assert thicknesses == sorted({thick, thin})
    sizes = sorted(size for _, size in openings)
    assert [
        float(one["width"]) for one in sorted(made.placements, key=lambda one: float(one["width"]))
    ] == pytest.approx(sizes, abs=0.01)
    assert len(made.left) == 0
    assert shapely.area(shapely.symmetric_difference(drawn(made), built)) < 1e-3 * shapely.length(
        built
    )  # lengths are kept to 0.001 mm


@given(plans())
def test_outside_is_outside(case):
    built, _, _ = case
    made = traced(lines_of(built), NO_SWINGS, Rules(), Heights())
    whole = shapely.union_all(
        [shapely.Polygon(part.exterior) for part in shapely.get_parts(shapely.buffer(built, 700, join_style="mitre"))]
    )
    whole = shapely.buffer(whole, -700, join_style="mitre")
    outer = [wall for wall in made.walls if wall["reference"] == "outside"]
    assert len(outer) >= 4
    for wall in outer:
        x, y = float(wall["x"]) + made.origin[0], float(wall["y"]) + made.origin[1]
        turn, long = np.radians(wall["angle"]), float(wall["length"])
        middle = x + np.cos(turn) * long / 2, y + np.sin(turn) * long / 2
        right, left = ((middle[0] + s * np.sin(turn) * 50, middle[1] - s * np.cos(turn) * 50) for s in (1, -1))
        assert not whole.contains(shapely.Point(right))
        assert whole.contains(shapely.Point(left))


def test_walls_round_the_outside_come_one_after_the_other():
    built = shapely.difference(shapely.box(0, 0, 9000, 6000), shapely.box(300, 300, 8700, 5700))
    made = traced(lines_of(built), NO_SWINGS, Rules(), Heights())
    told = [(wall["x"], wall["y"], wall["angle"], wall["length"], wall["thickness"]) for wall in made.walls]
    assert told == [
        ("0", "0", 0, "9000", "300"),
        ("9000", "0", 90, "6000", "300"),
        ("9000", "6000", 180, "9000", "300"),
        ("0", "6000", 270, "6000", "300"),
    ]


@pytest.mark.parametrize(("radius", "door"), [(900, True), (450, True), (250, False), (1400, False)])
def test_an_arc_of_its_width_makes_a_door(radius, door):
    built = shapely.difference(shapely.box(0, 0, 6000, 300), shapely.box(2000, 0, 2900, 300))
    made = traced(lines_of(built), np.array([[2000.0, 300.0, radius]]), Rules(), Heights())
    (opening,) = made.placements
    assert (opening["sill"] == "0") == door
    assert opening["height"] == ("2100" if door else "1200")


def test_jambs_between_faces_that_run_on_are_an_opening():
    lines = [(0, 0, 5000, 0), (0, 300, 5000, 300), (1000, 0, 1000, 300), (2200, 0, 2200, 300)]
    made = traced(np.array(lines, float), NO_SWINGS, Rules(), Heights())
    assert [(one["offset"], one["width"]) for one in made.placements] == [("1000", "1200")]
    assert len(made.walls) == 1


def test_walls_that_cross_have_no_opening_there():
    cross = shapely.union(shapely.box(0, 0, 6000, 200), shapely.box(2000, -2000, 2200, 3000))
    made = traced(lines_of(cross), NO_SWINGS, Rules(), Heights())
    assert sorted(wall["length"] for wall in made.walls) == ["5000", "6000"]
    assert made.placements == []


def test_rules_say_what_is_a_wall():
    lines = np.array([(0, 0, 5000, 0), (0, 50, 5000, 50), (0, 900, 5000, 900)], float)
    assert traced(lines, NO_SWINGS, Rules(), Heights()).walls == []
    assert len(traced(lines, NO_SWINGS, Rules(thinnest=40), Heights()).walls) == 1
    (wall,) = traced(lines, NO_SWINGS, Rules(thinnest=60, thickest=850), Heights()).walls
    assert wall["thickness"] == "850"


@pytest.mark.parametrize("lines", [np.empty((0, 4)), np.array([[0.0, 0, 0, 0]]), np.array([[0.0, 0, 5000, 0]])])
def test_nothing_is_made_of_nothing(lines):
    assert traced(lines, NO_SWINGS, Rules(), Heights()).walls == []


def test_ten_thousand_openings_are_all_found():
    count = 10_000
    starts = np.arange(count) * 2000.0
    rows = []
    for y in (0.0, 300.0):
        rows += [(-800.0, y, 0.0, y), *((at + 1200, y, at + 2000, y) for at in starts)]
    rows += [(x, 0.0, x, 300.0) for at in starts for x in (at, at + 1200)]
    made = traced(np.array(rows), NO_SWINGS, Rules(), Heights())
    assert len(made.walls) == 1
    assert len(made.placements) == count
    assert all(one["width"] == "1200" for one in made.placements)


SPANS = st.lists(st.tuples(st.integers(0, 50), st.integers(1, 9)), max_size=12).map(
    lambda told: merged([(float(20 * a), float(20 * (a + b))) for a, b in told])
)


@given(SPANS, SPANS)
def test_spans_are_sets_of_places(one, other):
    def places(spans):
        return {at for at in range(10, 1300, 20) if any(start < at < end for start, end in spans)}

    assert places(common(one, other, 1.0)) == places(one) & places(other)
    assert places(without(one, other)) == places(one) - places(other)
    assert all(end > start for start, end in between(one))
    assert hypot(0, len(one)) == len(merged(one))
