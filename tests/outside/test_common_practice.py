"""Sizes and rules of the trade: common practice, no source."""

from fractions import Fraction as F

import numpy as np
import pytest

from ashfell.core.base.lengths import parse
from ashfell.core.base.spacing import Wanted, divide
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.core.surface import surface
from ashfell.core.unit import build, read_unit, solve

INCH = F(254, 10)


def clear(spacing):
    return [light.size for light in spacing.lights]


def test_equal_lights_and_equal_centres_are_both_given_and_never_mixed_up():
    asked = {"bars": [F(50)] * 3, "lights": [Wanted()] * 4}
    assert clear(divide(F(2200), **asked, rule="clear")) == [F(1025, 2)] * 4
    centres = divide(F(2200), **asked, rule="centres")
    assert clear(centres) == [525, 500, 500, 525]
    assert centres.centre_distances == (550, 550, 550, 550)
    assert "equal clear lights" in divide(F(2200), **asked).sentence()
    assert "equal centres" in centres.sentence()


def test_one_bar_in_the_middle_of_a_pane():
    across = divide(40 * INCH, bars=[INCH], lights=[Wanted()] * 2)
    up = divide(50 * INCH, bars=[INCH], lights=[Wanted()] * 2)
    assert clear(across) == [F(39, 2) * INCH] * 2
    assert clear(up) == [F(49, 2) * INCH] * 2


def test_a_bar_shared_by_two_lights_is_one_member_of_its_own_width():
    """Two lights inset by w each would make a bar of 2w between them; here perimeter and bar have their own widths."""
    unit = {"width": "2100", "height": "1000", "frame": {"face": "50"}, "columns": {"lights": [{}, {}], "bars": ["50"]}}
    parts = build(read_unit(unit))
    bars = [part for part in parts if part.role == "bar"]
    assert len(bars) == 1
    assert np.ptp(bars[0].solid.bounds[:, 0]) == pytest.approx(50)
    assert clear(solve(read_unit(unit)).columns) == [975, 975]


def test_entrance_with_a_leaf_centred_between_two_sidelights():
    """72 in overall, frame face 2 in, posts 2 in, a 36 in leaf: 14 in are left for each sidelight, and the sum
    closes.
    """
    entrance = divide(
        72 * INCH, start=2 * INCH, end=2 * INCH, bars=[2 * INCH] * 2, lights=[Wanted(), Wanted(36 * INCH), Wanted()]
    )
    assert clear(entrance) == [14 * INCH, 36 * INCH, 14 * INCH]
    assert entrance.pieces[-1].end == 72 * INCH


def test_three_equal_parts_between_frame_and_posts_in_a_wall():
    """Wall 150 thick, 3 m high; opening 2000 wide, 1000 from the left end, sill 500, head 2100; frame and posts 40."""
    unit = {
        "width": "2000",
        "height": "1600",
        "frame": {"face": "40", "depth": "80"},
        "columns": {"lights": [{}] * 3, "bars": ["40", "40"]},
        "glazing": {"thickness": "10", "setback": "10", "gasket": {"thickness": "4"}},
    }
    wall = {"id": "w", "length": "6000", "height": "3 m", "thickness": "150", "lining": "0"}
    placed = {"id": "p", "wall": "w", "unit": "u", "offset": "1000", "sill": "500", "recess": "40"}
    scene = build_scene(read_site({"walls": [wall], "placements": [placed], "units": {"u": unit}}))
    opening = scene.openings["p"]
    assert (opening.x, opening.right, opening.z, opening.head) == (1000, 3000, 500, 2100)
    assert clear(solve(read_unit(unit)).columns) == [F(2000 - 4 * 40, 3)] * 3
    (body,) = scene.definitions["wall.w"]
    assert body.solid.volume == pytest.approx((6000 * 3000 - 2000 * 1600) * 150)
    assert body.solid.bounds[:, 2] == pytest.approx([-150, 0])


def test_sill_three_feet_head_seven_feet_makes_a_window_four_feet_high():
    assert parse("7'") - parse("3'") == parse("4 ft") == 48 * INCH


@pytest.mark.parametrize("amount", ["2", "1 in"])
def test_a_45_degree_chamfer_goes_as_far_in_as_back(amount):
    size = float(parse(amount))
    unit = read_unit(
        {"frame": {"face": "4 in", "depth": "6 in", "edge": {"size": amount}}, "glazing": {"setback": "3 in"}}
    )
    head = next(part for part in build(unit) if part.id == "frame.head")
    slanted = np.abs(np.abs(head.solid.normals[:, 1:]) - np.sqrt(0.5)).max(axis=1) < 1e-9
    corners = head.solid.vertices[head.solid.triangles[slanted]]
    legs = np.ptp(corners[..., 1:], axis=1)
    assert len(corners) == 6
    assert legs == pytest.approx(size)


def test_gasket_rings_on_both_faces_of_the_glass():
    """Glass 10 thick, set 10 behind the face, gasket on each face."""
    unit = {"glazing": {"thickness": "10", "setback": "10", "gasket": {"thickness": "5", "shows": "10"}}}
    parts = {
        part.id: part.solid.bounds[:, 2]
        for part in build(read_unit(unit))
        if part.id.endswith(("outer", "inner", "c1r1"))
    }
    assert parts["glass.c1r1"] == pytest.approx([-20, -10])
    assert parts["gasket.c1r1.outer"] == pytest.approx([-10, -5])
    assert parts["gasket.c1r1.inner"] == pytest.approx([-25, -20])


def test_a_tile_of_a_walls_texture_is_the_same_size_on_every_face_whatever_the_size_of_the_wall():
    for length in ("4 m", "9 m"):
        site = read_site({"walls": [{"id": "w", "length": length, "lining": "0"}]})
        (body,) = build_scene(site).definitions["wall.w"]
        shown = surface(body)
        for corner in range(0, len(shown.positions), 3):
            a, b, c = slice(corner, corner + 1), slice(corner + 1, corner + 2), slice(corner + 2, corner + 3)
            for p, q in ((a, b), (b, c), (c, a)):
                metres = np.linalg.norm(shown.positions[p] - shown.positions[q]) / 1000
                assert np.linalg.norm(shown.texture[p] - shown.texture[q]) == pytest.approx(metres, abs=1e-9)
