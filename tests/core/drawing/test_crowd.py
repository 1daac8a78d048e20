"""Figures in a row: what is shown never overlaps, however near one is, and near enough all of it is shown."""

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import box, unary_union

from ashfell.core.base.lengths import Style
from ashfell.core.drawing.crowd import halved, zooms
from ashfell.core.drawing.plan_sheet import plan_sheet
from ashfell.core.drawing.unit_sheet import unit_sheet
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.core.unit.document.unit import read_unit
from ashfell.core.unit.make import make

ROWS = st.lists(st.tuples(st.floats(0, 170), st.floats(3, 14)), max_size=60, unique_by=lambda one: round(one[0], 3))


@given(st.integers(0, 200))
def test_each_of_a_row_has_its_turn(count):
    assert sorted(halved(count)) == list(range(count))


@given(ROWS, st.floats(0.5, 40))
def test_what_is_shown_has_room(row, zoom):
    row.sort()
    found = zooms([middle for middle, _ in row], [8.0] * len(row))
    shown = [middle for (middle, _), own in zip(row, found, strict=True) if own <= zoom]
    for before, after in itertools.pairwise(shown):
        assert (after - before) * zoom >= 8 * (1 - 1e-9)


@given(ROWS)
def test_the_ends_come_first_and_near_enough_all_are_shown(row):
    row.sort()
    found = zooms([middle for middle, _ in row], [size for _, size in row])
    assert found[:1] == [0.0][: len(row)]
    assert all(own < 14 / 0.0005 for own in found)


def test_as_many_as_have_room_are_shown():
    """Equal lights of a third of a figure's width: about every fourth, since halves are halved again."""
    found = zooms([3.0 * k for k in range(33)], [9.0] * 33)
    assert [k for k, zoom in enumerate(found) if zoom <= 1] == list(range(0, 33, 4))
    assert max(found) == pytest.approx(3)


@pytest.mark.parametrize("count", [2, 3, 12, 22, 40])
def test_figures_of_any_grid_keep_clear_of_each_other(count):
    lights, bars = [{}] * count, ["20"] * (count - 1)
    data = {"width": "3 m", "height": "3 m", "columns": {"lights": lights, "bars": bars}}
    sheet = unit_sheet(make(read_unit(data | {"rows": {"lights": lights, "bars": bars}})), Style())
    for a, b in itertools.combinations(sheet.told, 2):
        beside = a.x + a.width <= b.x + 0.3 or b.x + b.width <= a.x + 0.3
        assert beside or a.y + a.height <= b.y + 0.3 or b.y + b.height <= a.y + 0.3, (a.entry, b.entry)
    assert {"width", "columns.lights.0.size", f"columns.lights.{count - 1}.size"} <= {one.entry for one in sheet.told}
    assert len(sheet.figures) >= 6 * count - 4


@pytest.mark.parametrize("angle", range(0, 360, 15))
@pytest.mark.parametrize("count", [1, 4, 11])
def test_numbers_along_a_wall_of_a_plan_keep_clear_of_each_other(count, angle):
    """Shapely's boxes of what is shown at first, and of all where one is near enough."""
    wall = {"id": "a", "length": "9 m", "thickness": "300", "height": "3 m", "angle": angle}
    placed = [
        {
            "id": f"p{n}",
            "wall": "a",
            "offset": str(150 + n * 8700 / count),
            "width": str(40 + 300 * (n % 3)),
            "height": "900",
        }
        for n in range(count)
    ]
    far = {"id": "b", "x": "20 m", "length": "20 m", "thickness": "300", "height": "3 m"}
    scene = build_scene(read_site({"walls": [wall, far], "placements": placed}))
    sheet = plan_sheet(scene, Style(), "walls.a")
    chain = [size for size in sheet.sizes if "Length" not in size.label]
    assert len(chain) >= 2 * count
    for zoom in (1.0, 4.0, 1e4):
        boxes = []
        for size in chain:
            if size.zoom <= zoom:
                x, y = size.x + size.width / 2, size.y + 3.175
                boxes.append(
                    box(x - size.width / 2 / zoom, y - 3.175 / zoom, x + size.width / 2 / zoom, y + 3.175 / zoom)
                )
        assert boxes
        clear = unary_union(boxes).area >= sum(one.area for one in boxes) * (1 - 1e-6)
        assert clear, (zoom, angle)
    assert len(boxes) == len(chain)
