"""Lines: what is drawn of boxes from known places, and what is hidden."""

import io
import json

import numpy as np
import pytest
from PIL import Image

from ashfell.cli import main
from ashfell.core.parts import Part
from ashfell.core.solid.plate import boxes
from ashfell.pictures.lines import line_picture
from ashfell.pictures.settings import PictureSettings
from ashfell.pictures.sight import projected
from ashfell.pictures.trace import Tracer


def box(low, high, finish="white-paint", name="box"):
    (solid,) = boxes(np.array([low], dtype=float), np.array([high], dtype=float))
    return Part(name, name, "frame", finish, (0.0, 0.0, 1.0), solid)


def settings(eye=(3.0, -4.0, 2.5), target=(0.5, 0.5, 0.5), **more):
    camera = {"eye": eye, "target": target} | {key: more.pop(key) for key in ("upright", "roll", "lens") if key in more}
    return PictureSettings(camera=camera, width=240, height=160, **more)


CUBE = box((0, 0, 0), (1000, 1000, 1000))


def length(segments):
    return float(np.hypot(*(segments[:, 1] - segments[:, 0]).T).sum())


def drawn(parts, asked):
    lines = line_picture(parts, asked)
    return np.concatenate([lines.edge, lines.profile])


def expected(asked, visible):
    """How long edges of the cube are in the picture, px."""
    ends = np.array(visible, dtype=float).reshape(-1, 3)
    return length(projected(ends, asked)[0].reshape(-1, 2, 2))


# Of a cube seen from its corner at (1, 0, 1), nine edges of twelve are seen: all but the three at (0, 1, 0).
CORNERS = [(x, y, z) for x in (0, 1) for y in (0, 1) for z in (0, 1)]
EDGES = [(a, b) for a in CORNERS for b in CORNERS if a < b and sum(u != v for u, v in zip(a, b, strict=True)) == 1]
SEEN = [edge for edge in EDGES if (0, 1, 0) not in edge]


@pytest.mark.parametrize("upright", [True, False])
@pytest.mark.parametrize("roll", [0, 25])
def test_of_a_cube_nine_edges_are_drawn(upright, roll):
    asked = settings(upright=upright, roll=roll)
    assert len(EDGES) == 12
    assert len(SEEN) == 9
    assert length(drawn([CUBE], asked)) == pytest.approx(expected(asked, SEEN), rel=0.02)


def test_what_stands_behind_is_not_drawn():
    wall = box((-3000, -500, 0), (6000, -400, 4000))
    asked = settings(eye=(0.5, -6, 1), target=(0.5, 0, 1))
    alone, both = drawn([wall], asked), drawn([wall, CUBE], asked)
    assert length(both) == pytest.approx(length(alone), rel=1e-6)
    assert length(drawn([CUBE], asked)) > 50


def test_clear_glass_hides_nothing_and_frosted_does():
    asked = settings(eye=(0.5, -6, 1), target=(0.5, 0, 1))
    clear, frosted = (box((-3000, -500, 0), (6000, -494, 4000), key) for key in ("clear-glass", "frosted-glass"))
    alone = length(drawn([CUBE], asked))
    assert length(drawn([CUBE, clear], asked)) == pytest.approx(alone + length(drawn([clear], asked)), rel=0.02)
    assert length(drawn([CUBE, frosted], asked)) == pytest.approx(length(drawn([frosted], asked)), rel=1e-6)


def test_half_of_what_is_half_covered_is_drawn():
    """A screen before the left half of a bar."""
    bar = box((-1000, 0, 990), (1000, 20, 1010))
    screen = box((-4000, -500, 0), (0, -400, 4000))
    asked = settings(eye=(0, -60, 1), target=(0, 0, 1), lens=400)
    whole, half = (drawn(parts, asked) for parts in ([bar], [bar, screen]))
    level = [one[np.abs(one[:, 0, 1] - one[:, 1, 1]) < 0.01] for one in (whole, half)]
    right = level[1][level[1][:, :, 0].min(axis=1) >= 119]
    inside = right[np.abs(right[:, 0, 1] - 80) < 6]
    assert length(inside) == pytest.approx(length(level[0]) / 2, rel=0.03)


def test_what_is_under_the_ground_is_hidden():
    cellar = box((0, 0, -2000), (1000, 1000, -1000))
    assert length(drawn([cellar], settings())) == 0


def test_nothing_to_draw_is_an_empty_sheet():
    lines = line_picture([], settings())
    assert len(lines.edge) == len(lines.profile) == 0
    assert np.asarray(Image.open(io.BytesIO(lines.png()))).min() == 255
    assert lines.svg().startswith("<svg")


@pytest.mark.parametrize("look", [{}, {"upright": False}, {"roll": 20}, {"upright": False, "roll": -35, "lens": 60}])
def test_points_fall_where_the_tracer_sees_them(look):
    """Small boxes at known places are found at the pixels that they are projected to."""
    places = [(0.2, 0.1, 0.4), (0.9, 0.8, 1.1), (0.0, 0.9, 0.1), (1.2, 0.3, 0.9), (0.5, 0.5, 0.5)]
    asked = settings(**look)
    parts = [box(np.array(p) * 1000 - 40, np.array(p) * 1000 + 40, name=str(k)) for k, p in enumerate(places)]
    marks = Tracer(parts, asked).seen()[0]
    where, far = projected(np.array(places), asked)
    assert (far > 3).all()
    for number, place in enumerate(where, 1):
        rows, columns = np.nonzero(marks == number)
        assert len(rows) > 8
        assert np.allclose([columns.mean() + 0.5, rows.mean() + 0.5], place, atol=0.8)


def test_a_picture_of_lines_by_the_command_line(tmp_path, capsys):
    site, asked = tmp_path / "site.json", tmp_path / "lines.json"
    site.write_text(json.dumps({"name": "S", "walls": [{"id": "w", "length": "4 m"}]}))
    asked.write_text(json.dumps({"surfaces": "lines", "width": 120, "height": 80}))
    for name in ("a.svg", "a.png"):
        assert main(["picture", str(site), str(asked), str(tmp_path / name)]) == 0
    assert (tmp_path / "a.svg").read_text().count("<path") == 2
    dark = np.asarray(Image.open(tmp_path / "a.png")) < 128
    assert 0.002 < dark.mean() < 0.2


def test_thousands_of_boxes_are_drawn():
    """All that are in the frame, none twice."""
    lows = np.array([(x * 300.0, y * 300.0, 0.0) for x in range(60) for y in range(60)])
    parts = [
        Part(str(k), "b", "frame", "white-paint", (0.0, 0.0, 1.0), solid)
        for k, solid in enumerate(boxes(lows, lows + np.array([200.0, 200.0, 50.0])))
    ]
    asked = settings(eye=(9, 9.01, 25), target=(9, 9, 0), upright=False, lens=40)
    inside = drawn(parts, asked)
    assert len(inside) > 7_000
    assert len(np.unique(np.round(inside.reshape(-1, 4), 3), axis=0)) == len(inside)
