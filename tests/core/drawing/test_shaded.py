"""Shadows at 45 degrees and streaks on glass: areas by hand, and sweeps by moving an outline in small steps."""

import numpy as np
import pytest
import shapely
from shapely.affinity import translate
from shapely.geometry import Point, Polygon, box

from ashfell.core.base.lengths import Style
from ashfell.core.drawing.drafts import unit_draft, wall_draft
from ashfell.core.drawing.shaded import Extras, Reveal, Shadows, streaks, swept
from ashfell.core.seen import Shape
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.core.unit.document.unit import read_unit
from ashfell.core.unit.make import make

BOTH = Extras(streaks=True, shadows=True)


def shape(outline, depth, role="frame"):
    return Shape((np.array(outline.exterior.coords)[:-1],), role, "p", "e", 1.0, depth=depth, level=True)


def cast(pieces, reveal=None):
    return Shadows([shape(*one) for one in pieces], [one[0] for one in pieces], reveal)


def area(pieces):
    return sum(piece.area for piece in pieces)


def test_a_bar_throws_a_shadow_to_the_right_and_down():
    """10 before a board of 100: a strip of 10 beside it, its head cut off at 45 degrees: 10 × 100 less 10² / 2."""
    board, bar = box(0, 0, 100, 100), box(40, 0, 50, 100)
    dark = cast([(board, 0.0), (bar, 10.0)]).on(board.difference(bar), 0.0)
    assert area(dark) == pytest.approx(950)
    assert shapely.union_all(dark).bounds == pytest.approx((50, 0, 60, 100))


def test_glass_throws_none():
    board, pane = box(0, 0, 100, 100), box(40, 0, 50, 100)
    assert cast([(board, 0.0), (pane, 10.0, "glass")]).on(board, 0.0) == []


def test_a_reveal_leaves_what_lies_deeper_than_it_in_the_light():
    """An opening of 100 that is 20 deep: 80 by 80 of what stands in it is lit; turned over, on the other side."""
    board, hole = box(0, 0, 100, 100), ((0.0, 0.0), (100.0, 0.0), (100.0, 100.0), (0.0, 100.0))
    for over, lit in ((False, (20, 0, 100, 80)), (True, (0, 0, 80, 80))):
        dark = cast([(board, 0.0)], Reveal(hole, 20.0, over)).on(board, 0.0)
        assert area(dark) == pytest.approx(10_000 - 6_400)
        assert board.difference(shapely.union_all(dark)).bounds == pytest.approx(lit)


def test_what_stands_before_the_wall_throws_a_shadow_on_it():
    """A sill of 120 by 10, 30 before the wall, below an opening."""
    hole = ((0.0, 0.0), (100.0, 0.0), (100.0, 100.0), (0.0, 100.0))
    held = cast([(box(-10, -10, 110, 0), 30.0)], Reveal(hole, 0.0))
    (path,) = held.on_wall()
    seen = Polygon(path.points).difference(box(-10, -10, 110, 0))
    assert seen.bounds == pytest.approx((-10, -40, 140, 0))
    assert seen.area == pytest.approx(120 * 30 + 10 * 30)  # what it passes over on its way


def test_shadows_fall_by_steps_as_they_fall_at_once():
    """A deep face is dark where what stands before it is, whatever lies between."""
    stairs = [(box(0, 0, 10, 100), 30.0), (box(10, 0, 20, 100), 10.0), (box(20, 0, 100, 100), 0.0)]
    dark = shapely.union_all(cast(stairs).on(stairs[2][0], 0.0))
    whole = shapely.union_all([swept(one, np.array([deep, -deep])) for one, deep in stairs[:2]])
    assert dark.symmetric_difference(whole.intersection(stairs[2][0])).area < 1e-6


@pytest.mark.parametrize("seed", range(20))
def test_an_outline_passes_over_what_it_passes_over_in_small_steps(seed):
    own = np.random.default_rng(seed)
    turns, far = np.sort(own.uniform(0, 2 * np.pi, 12)), own.uniform(30, 100, 12)
    outline = Polygon(np.stack([far * np.cos(turns), far * np.sin(turns)], axis=1)).buffer(0)
    outline = outline.difference(Point(own.uniform(-10, 10), 0).buffer(own.uniform(5, 25)))
    way = own.uniform(-40, 40, 2)
    small = shapely.union_all([translate(outline, *(way * k / 400)) for k in range(401)])
    assert swept(outline, way).symmetric_difference(small).area < 5e-3 * small.area


def test_streaks_lie_on_their_pane_at_45_degrees():
    pane = box(0, 0, 600, 900)
    lines = [*streaks(pane)]
    assert len(lines) == 3
    for line in lines:
        assert pane.contains(shapely.LineString(line.points))
        along, up = line.points[-1] - line.points[0]
        assert along == pytest.approx(up)


def test_a_unit_has_them_from_outside_and_inside_and_not_in_its_sections():
    unit = make(read_unit({"columns": {"lights": [{}, {}], "bars": ["40"]}}))
    for view, times in (("outside", 2), ("inside", 2), ("across", 0)):
        layers = [path.layer for path in unit_draft(unit, Style(), view, extras=BOTH).paths]
        assert layers.count("streak") == 3 * times
        assert (layers.count("shadow") > 0) == (times > 0)
    assert {"streak", "shadow"}.isdisjoint(path.layer for path in unit_draft(unit, Style()).paths)


def test_equal_units_in_equal_openings_stay_one_drawing():
    walls = [{"id": "w", "length": "9000", "height": "2600"}]
    placements = [{"id": "a", "wall": "w", "unit": "u", "offset": "500", "repeat": {"along": 3, "gap": "600"}}]
    placements.append({"id": "b", "wall": "w", "unit": "u", "offset": "7000", "recess": "20"})
    units = {"u": {"width": "900", "height": "900"}}
    built = build_scene(read_site({"walls": walls, "placements": placements, "units": units}))
    assert built.refused == ()
    plain, shaded = (wall_draft(built, Style(), "w", extras=extras) for extras in (Extras(), BOTH))
    assert (len(plain.used), len(shaded.used)) == (1, 2)
    assert len(shaded.uses) == len(plain.uses) == 4
