"""SVG drawings: what is drawn stays within a hair of what is, and says which part it stands for."""

import json
import re
from xml.etree import ElementTree

import numpy as np
import pytest
import shapely

from ashfell.core.drawing.paper import Sheet, extent_of
from ashfell.core.seen import elevation
from ashfell.core.unit import make, read_unit
from ashfell.formats.svg import SEEN, elevation_svg, path_data, shapes_svg, thumbnail_svg
from tests.conftest import DEMO

ROUND = {"width": "1200", "height": "1200", "outline": {"kind": "ellipse"}}


@pytest.fixture(scope="module")
def unit():
    return make(read_unit(ROUND))


def sheet_of(shapes, size=600.0):
    return Sheet.fitted_to(extent_of(shapes), (size, size), (20, 20, 20, 20))


def points_of(d):
    return [np.array(path.split(","), dtype=float).reshape(-1, 2) for path in re.findall(r"M([^Z]+)Z", d)]


def test_left_out_points_are_within_a_hair(unit):
    sheet = sheet_of(unit.shapes)
    loops = [loop for shape in unit.shapes for loop in shape.loops]
    for loop, path in zip(loops, path_data(sheet, loops), strict=True):
        (drawn,) = points_of(path)
        exact = shapely.LinearRing(loop * (sheet.scale, -sheet.scale) + (sheet.left, sheet.foot))
        assert len(drawn) <= len(loop)
        assert shapely.hausdorff_distance(exact, shapely.LinearRing(drawn)) < 2 * SEEN


def test_a_curve_is_written_with_fewer_points_the_smaller_it_is_drawn(unit):
    loops = [unit.layout.outline.facets().points]
    counts = [len(points_of(path_data(sheet_of(unit.shapes, size), loops)[0])[0]) for size in (4000.0, 400.0, 120.0)]
    assert counts[0] > counts[1] > counts[2] > 12


def test_straight_corners_are_all_there():
    square = np.array([[0.0, 0.0], [100, 0], [100, 50], [0, 50]])
    (path,) = path_data(Sheet(200, 200, 1.0, 10, 90), [square])
    assert path == "M10,90,110,90,110,40,10,40Z"


def test_every_shape_says_its_part_and_entry(unit):
    text = f'<svg xmlns="http://www.w3.org/2000/svg">{shapes_svg(unit.shapes, sheet_of(unit.shapes))}</svg>'
    drawn = ElementTree.fromstring(text)
    assert len(drawn) == len(unit.shapes)
    parts = {part.id: part.entry for part in unit.parts}
    for path in drawn:
        assert parts[path.get("data-part")] == path.get("data-entry")
        assert path.get("fill").startswith("#")


def test_nothing_is_drawn_of_nothing():
    assert shapes_svg([], Sheet(10, 10, 1, 0, 10)) == ""


def test_what_is_seen_inside_is_the_mirror_image_of_the_other_side(unit):
    outside, inside = extent_of(elevation(unit.parts)), extent_of(elevation(unit.parts, "inside"))
    assert inside[0] == pytest.approx(-outside[2])
    assert inside[2] == pytest.approx(-outside[0])
    assert {shape.role for shape in elevation(unit.parts, "inside")} > {shape.role for shape in unit.shapes} - {
        "glass"
    } - {"gasket"}


def test_shapes_lie_back_to_front():
    made = make(read_unit({"width": "900", "height": "900"}))
    roles = [shape.role for shape in made.shapes]
    assert roles.index("glass") < len(roles) - 1 - roles[::-1].index("frame")


def test_the_area_that_is_drawn_is_the_outlines():
    made = make(read_unit({"width": "1000", "height": "800"}))
    drawn = shapely.union_all(
        [shapely.Polygon(shape.loops[0]) for shape in made.shapes if shape.role in ("frame", "glass")]
    )
    assert drawn.area == pytest.approx(1000 * 800, rel=1e-4)


def test_mouldings_are_shading_and_plain_faces_are_lines():
    moulded = make(read_unit(ROUND | {"trim": {"outside": {"edge": {"kind": "ogee", "size": "12"}}}}))
    text = shapes_svg(moulded.shapes, sheet_of(moulded.shapes))
    assert text.count(" fine") > 20
    plain = make(read_unit({"width": "900", "height": "900"}))
    assert " fine" not in shapes_svg(plain.shapes, sheet_of(plain.shapes))


@pytest.mark.parametrize("key", ["round-window", "crest-window", "gallery-window", "lookout-window"])
def test_files_stand_alone_and_are_well_formed(key):
    made = make(read_unit(json.loads((DEMO / "units" / f"{key}.json").read_text())))
    for text in (elevation_svg(made), thumbnail_svg(made.shapes)):
        drawn = ElementTree.fromstring(text)
        assert len(list(drawn.iter("{http://www.w3.org/2000/svg}path"))) > 20
        assert "nan" not in text
        assert drawn.get("viewBox")


def test_frosted_and_tinted_glass_are_told_apart_on_paper():
    finished = {"c1r1": "clear", "c2r1": "frosted", "c3r1": "grey"}
    cells = {key: {"fill": {"kind": "glass", "finish": f"{finish}-glass"}} for key, finish in finished.items()}
    division = {"lights": [{}] * 3, "bars": ["50"] * 2}
    text = elevation_svg(make(read_unit({"width": "1800", "columns": division, "cells": cells})))
    fills = dict.fromkeys(re.findall(r'fill="(#[0-9a-f]{6})" class="part glass', text))
    assert len(fills) == 3
    frosted, grey = sorted(fills, key=lambda fill: sum(int(fill[k : k + 2], 16) for k in (1, 3, 5)), reverse=True)[::2]
    assert int(frosted[1:3], 16) > int(grey[1:3], 16) + 30
