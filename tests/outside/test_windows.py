"""Windows against what is not ours: common practice of the trade, IFC4 through an independent reader, geometry
handbooks.
"""

from math import hypot, pi

import ifcopenshell
import numpy as np
import pytest
import shapely

from ashfell.core.base.lengths import Length, parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.filling import FILLINGS
from ashfell.core.kinds.opening import TURNINGS
from ashfell.core.kinds.outline import outline_of
from ashfell.core.plane.segment import arch
from ashfell.core.solid.section import Edge, edge_points
from ashfell.core.unit import make, read_unit, solve
from ashfell.core.unit.ifc import lining_properties

INCH = 25.4
SLIDER = {
    "width": "3'",
    "height": "6'",
    "frame": {"face": "2 in", "depth": "5 in"},
    "glazing": {
        "thickness": "1/4 in",
        "setback": "0.5 in",
        "cover": "5/16 in",
        "clearance": "1/16 in",
        "gasket": {"thickness": "1/8 in", "shows": "1/16 in"},
    },
    "fill": {
        "kind": "sliders",
        "slide": "up",
        "face": "1 in",
        "meeting": "1 in",
        "depth": "1 5/16 in",
        "clearance": "1/8 in",
    },
}


def parts_of(data):
    return {part.id: part for part in make(read_unit(data)).parts}


# --- common practice, no source ---------------------------------------------------------------------------------------


def test_one_bar_in_the_middle_each_way():
    """Glass 40 x 50 in, one 1 in bar each way: 19 1/2 in each side, 24 1/2 in above and below (common practice)."""
    division = {"lights": [{}, {}], "bars": ["1 in"]}
    glazing = {"cover": "8", "clearance": "1"}
    unit = {
        "width": "42 in",
        "height": "52 in",
        "frame": {"face": "1 in"},
        "columns": division,
        "rows": division,
        "glazing": glazing,
    }
    layout = solve(read_unit(unit))
    assert {light.clear.width for light in layout.lights} == {parse("19 1/2 in")}
    assert {light.clear.height for light in layout.lights} == {parse("24 1/2 in")}


def test_a_shared_bar_is_one_member_as_wide_as_its_face():
    """Two lights each inset by w would show 2w between them; a perimeter of w and a bar of w are both w (common
    practice).
    """
    parts = parts_of({"width": "1200", "frame": {"face": "50"}, "columns": {"lights": [{}, {}], "bars": ["50"]}})
    bars = [part for part in parts.values() if part.role == "bar"]
    assert len(bars) == 1
    assert np.ptp(bars[0].solid.bounds[:, 0]) == pytest.approx(50)


def test_entrance_with_sidelights_closes_its_sum():
    """72 in wide, frame 2 in, posts 2 in, a 36 in light centred: each sidelight is what is left (common practice)."""
    row = {"lights": [{}, {"size": "36 in"}, {}], "bars": ["2 in", "2 in"]}
    layout = solve(
        read_unit({"width": "72 in", "height": "84 in", "frame": {"face": "2 in", "depth": "6 in"}, "columns": row})
    )
    sizes = [light.size for light in layout.columns.lights]
    assert sizes == [parse("14 in"), parse("36 in"), parse("14 in")]
    assert sum(sizes) + 2 * parse("2 in") + 2 * parse("2 in") == parse("72 in")
    middle = layout.columns.lights[1].centre
    assert middle == parse("36 in")


def test_three_equal_parts_with_sashes_glass_and_gaskets():
    """Opening 2000 x 1600: frame 40, posts 40, three equal parts; sash ring 60, 30 thick; glass 10 thick set 10 behind
    the face; gasket ring 10 on each face; edges eased by 2 (common practice)."""
    sash = {
        "kind": "sash",
        "opening": "fixed",
        "face": "60",
        "depth": "40",
        "clearance": "3",
        "stop": "0",
        "edge": {"size": "2"},
        "glazing": {
            "thickness": "10",
            "setback": "10",
            "cover": "8",
            "clearance": "2",
            "gasket": {"thickness": "5", "shows": "10"},
            "bead": {"edge": {"size": "2"}},
        },
    }
    unit = {
        "width": "2000",
        "height": "1600",
        "frame": {"face": "40", "depth": "80", "edge": {"size": "2"}},
        "columns": {"lights": [{}] * 3, "bars": ["40", "40"]},
        "fill": sash,
    }
    made = make(read_unit(unit))
    lights = [light for light in made.layout.lights if light.sashes]
    assert len({light.clear.width for light in lights}) == 1
    assert sum(light.clear.width for light in lights) == 2000 - 4 * 40
    parts = {part.id: part for part in made.parts}
    glass = parts["glass.c2r1.sash.c1r1"].solid.bounds
    assert glass[:, 2] == pytest.approx([-20, -10])
    gasket = parts["gasket.c2r1.sash.c1r1.outer"].solid.bounds
    clear = next(light for light in made.layout.lights if light.key == "c2r1.sash.c1r1").clear
    assert gasket[1, 0] - float(clear.right) == pytest.approx(8), "behind the ring by its cover"
    stile = parts["sash.c2r1.left"].solid.bounds
    assert np.ptp(stile[:, 0]) == pytest.approx(60)


@pytest.mark.parametrize(("opened", "share"), [(0, 0.0), (50, 0.5), (100, 1.0)])
def test_a_vertical_slider_opens_at_most_half_its_height(opened, share):
    """3 x 6 ft, frame 2 in, rails 1 in, glass 1/4 in: at 50 % the lower sash has moved by half of its greatest travel;
    fully open no more than half of the height is clear; the upper sash is on the outer side (common practice)."""
    data = SLIDER | {"fill": SLIDER["fill"] | {"opened": opened}}
    made = make(read_unit(data))
    parts = {part.id: part.solid.bounds for part in made.parts}
    clear = made.layout.lights[0].clear
    upper, lower = (parts[f"sash.c1r1.{name}.sill"] for name in ("upper", "lower"))
    start = float(clear.y) + INCH / 8
    height = (float(clear.height) - INCH / 4 + INCH) / 2
    travel = float(clear.height) - INCH / 4 - height
    assert lower[0, 1] - start == pytest.approx(share * travel)
    assert lower[0, 1] - start <= float(clear.height) / 2
    assert upper[0, 2] > lower[1, 2], "the upper sash is outside the lower one"


def test_meeting_rails_lap_when_a_slider_is_closed():
    parts = {part.id: part.solid.bounds for part in make(read_unit(SLIDER)).parts}
    assert parts["sash.c1r1.upper.sill"][:, 1] == pytest.approx(parts["sash.c1r1.lower.head"][:, 1])


def test_casing_stands_two_inches_off_the_wall_with_one_inch_edges():
    """A casing 2 in off the wall, 45 degree edges of 1 in at both its sides (common practice)."""
    casing = {"width": "4 in", "projection": "2 in", "lap": "0", "edge": {"kind": "chamfer", "size": "1 in"}}
    head = parts_of({"trim": {"outside": casing}})["casing.outside.head"].solid
    assert head.bounds[:, 2] == pytest.approx([0, 2 * INCH])
    front = head.vertices[np.isclose(head.vertices[:, 2], 2 * INCH)]
    assert np.ptp(front[:, 1]) == pytest.approx(2 * INCH)


def test_a_surround_swept_round_a_window_keeps_its_section():
    """75 x 75 mm round 1500 x 1000: section constant, corners mitred (common practice)."""
    ring = {"place": "outside", "face": "75", "depth": "75", "setback": "-75", "edge": {"kind": "square"}}
    parts = parts_of({"width": "1500", "height": "1000", "frame": {"rings": [ring]}})
    members = [part.solid for key, part in parts.items() if key.startswith("ring.")]
    assert len(members) == 4
    assert sum(solid.volume for solid in members) == pytest.approx(75 * ((1500 + 150) * (1000 + 150) - 1500 * 1000))


def test_a_section_of_ones_own_is_swept_with_true_mitres():
    """A stepped surround 60 by 40 less a 20 by 15 corner, round 1500 x 1000: area of the section by the length of its
    centroid's path, corners mitred (theorem of Pappus for a rectangle's straight sides)."""
    points = [(0, 0), (60, 0), (60, 40), (20, 40), (20, 25), (0, 25)]
    ring = {"place": "outside", "face": "60", "section": [{"x": str(x), "y": str(y)} for x, y in points]}
    parts = parts_of({"width": "1500", "height": "1000", "frame": {"rings": [ring]}})
    section = shapely.Polygon(points)
    inset = section.centroid.x
    path = 2 * (1500 + 120 - 2 * inset) + 2 * (1000 + 120 - 2 * inset)
    assert sum(part.solid.volume for key, part in parts.items() if key.startswith("ring.")) == pytest.approx(
        section.area * path
    )


def test_a_fixed_gap_is_left_round_a_sash():
    """1/8 in all round, or the edges vanish in a picture (common practice)."""
    made = make(read_unit({"fill": {"kind": "sash", "opening": "fixed", "clearance": "1/8 in"}}))
    light = made.layout.lights[0]
    bounds = light.sashes[0].body.ring.loop.bounds
    assert bounds[0] - float(light.clear.x) == pytest.approx(INCH / 8)
    assert float(light.clear.head) - bounds[3] == pytest.approx(INCH / 8)


# --- published --------------------------------------------------------------------------------------------------------


def test_segmental_head_has_the_radius_of_its_span_and_rise():
    """r = (s² + 4h²) / 8h, any handbook of geometry."""
    outline = outline_of(read_unit({"outline": {"kind": "segmental", "rise": "200"}}).outline, 1500, 1800)
    arc = next(segment for segment in outline.segments if segment.bulge)
    assert arc.radius == pytest.approx(arch(1500, 200)) == pytest.approx((1500**2 + 4 * 200**2) / (8 * 200))


@pytest.mark.parametrize(
    "kind", ["segmental", "semicircular", "three-centred", "elliptical", "ellipse", "half-round", "quarter-round", "d"]
)
def test_area_of_every_outline_against_shapely(kind):
    entry = {"kind": kind} | ({"rise": "300"} if kind in ("segmental", "three-centred", "elliptical") else {})
    outline = outline_of(read_unit({"outline": entry}).outline, 1400, 1000)
    fine = shapely.Polygon(outline.facets(0.001).points)
    assert outline.area == pytest.approx(fine.area, rel=1e-5)
    assert outline.bounds == pytest.approx((0, 0, 1400, 1000), abs=1e-4), "an ellipse is met by arcs"


def test_area_of_an_ellipse_is_pi_a_b():
    outline = outline_of(read_unit({"outline": {"kind": "ellipse"}}).outline, 2000, 1200)
    assert outline.area == pytest.approx(pi * 1000 * 600, rel=1e-6)


def _items(enumeration: str) -> set[str]:
    schema = ifcopenshell.ifcopenshell_wrapper.schema_by_name("IFC4")
    return set(schema.declaration_by_name(enumeration).enumeration_items())


@pytest.mark.parametrize("opening", TURNINGS)
def test_operations_are_those_of_ifc(opening):
    """IfcWindowPanelOperationEnum (IFC4, ISO 16739-1), read from the schema of an independent library; that a hand is
    the hinged side as seen from outside is from memory."""
    for hand in ("left", "right"):
        fill = read_unit({"fill": {"kind": "sash", "opening": opening, "hand": hand}}).fill
        operation = FILLINGS[fill.kind].operation(fill, "")
        assert operation in _items("IfcWindowPanelOperationEnum")
        if opening in ("side-hung", "tilt-and-turn"):
            assert operation.endswith(f"{hand.upper()}HAND")


def test_lining_and_panel_properties_are_taken_by_an_ifc_library():
    """The attributes exist and take the values; depth across the wall, thickness in the wall's plane, offsets from the
    lower left normalised to the overall size (IFC4, IfcWindowLiningProperties)."""
    sash = {"fill": {"kind": "sash", "opening": "side-hung", "hand": "right"}}
    document = read_unit(
        {
            "width": "1000",
            "frame": {"face": "50", "depth": "90"},
            "columns": {"lights": [{"size": "300"}, {}], "bars": ["60"]},
            "cells": {"c2r1": sash},
        }
    )
    found = lining_properties(document, solve(document))
    assert found.pop("PartitioningType") in _items("IfcWindowTypePartitioningEnum")
    panels = found.pop("Panels")
    file = ifcopenshell.file(schema="IFC4")
    lining = file.create_entity("IfcWindowLiningProperties", GlobalId=ifcopenshell.guid.new(), **found)
    read = ifcopenshell.file.from_string(file.to_string()).by_id(lining.id())
    assert (read.LiningDepth, read.LiningThickness, read.MullionThickness) == (90, 50, 60)
    assert read.FirstMullionOffset == pytest.approx((50 + 300 + 30) / 1000)
    assert read.FirstTransomOffset is None
    for panel in panels:
        made = file.create_entity("IfcWindowPanelProperties", GlobalId=ifcopenshell.guid.new(), **panel)
        assert made.OperationType in _items("IfcWindowPanelOperationEnum")
        assert made.PanelPosition in _items("IfcWindowPanelPositionEnum")
    assert [panel["OperationType"] for panel in panels] == ["FIXEDCASEMENT", "SIDEHUNGRIGHTHAND"]


# --- what is refused --------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("data", "entry", "words"),
    [
        ({"outline": {"kind": "segmental", "rise": "700"}}, "outline.rise", "at most 600 mm"),
        ({"outline": {"kind": "pointed", "radius": "500"}}, "outline.radius", "above 600 mm"),
        ({"outline": {"kind": "d"}, "width": "400"}, "width", "600 mm wide"),
        ({"fill": {"kind": "sash", "depth": "90"}}, "fill.depth", "at most 80 mm deep"),
        ({"fill": {"kind": "sash", "depth": "80"}}, "fill.depth", "78 mm deep, or the stop 0"),
        ({"fill": {"kind": "sash", "depth": "70", "clearance": "1", "opened": 10}}, "fill.clearance", "at least"),
        ({"fill": {"kind": "sliders", "depth": "60"}}, "fill.depth", "all tracks|tracks of sashes"),
        ({"outline": {"kind": "ellipse"}, "fill": {"kind": "sliders"}}, "fill.kind", "rectangular"),
        ({"fill": {"kind": "glass", "muntins": {"proud": "40"}}}, "fill.muntins.proud", "stand 24 mm"),
        ({"fill": {"kind": "louvres", "blade": "120", "angle": 10}}, "fill.blade", "at most"),
        ({"frame": {"sides": {"north": "60"}}}, "frame.sides.north", "sill, right, head, left"),
        ({"outline": {"kind": "ellipse"}, "trim": {"sill": {}}}, "trim.sill", "no level sill"),
        (
            {"frame": {"rings": [{"place": "outside", "face": "20", "edge": {"size": "12"}}]}},
            "frame.rings.0.edge.size",
            "below 10 mm",
        ),
        (
            {
                "frame": {
                    "rings": [
                        {
                            "place": "outside",
                            "face": "20",
                            "section": [{"x": "-3", "y": "0"}, {"x": "30", "y": "0"}, {"x": "0", "y": "9"}],
                        }
                    ]
                }
            },
            "frame.rings.0.section",
            "3 mm beyond its member's outer edge. Begin it at x = 0",
        ),
        (
            {"frame": {"section": [{"x": "0", "y": "0"}, {"x": "50", "y": "0"}, {"x": "0", "y": "-80"}]}},
            "frame.section",
            "no stop 1 mm thick before the glass, from 35 to 50 mm across, 20 mm behind the face",
        ),
        (
            {
                "frame": {
                    "section": [
                        {"x": "0", "y": "2"},
                        {"x": "50", "y": "2"},
                        {"x": "50", "y": "-80"},
                        {"x": "0", "y": "-80"},
                    ]
                }
            },
            "frame.section",
            "2 mm before its member's face",
        ),
        (
            {
                "columns": {"lights": [{}, {}], "bars": ["60"]},
                "bars": {"section": [{"x": "0", "y": "0"}, {"x": "60", "y": "-70"}, {"x": "0", "y": "-80"}]},
            },
            "bars.section",
            "20 mm behind its face the section must be whole over 60 mm, and behind that over 30 mm",
        ),
        (
            {
                "cells": {"c1r1": {"span": [2, 1]}},
                "columns": {"lights": [{}, {}], "bars": ["50"]},
                "rows": {"lights": [{}, {}], "bars": ["50"]},
                "bars": {"depth": "20"},
            },
            "bars.depth",
            "hold no bead",
        ),
        (
            {"columns": {"lights": [{}, {}], "bars": ["50"]}, "cells": {"c2r1": {"span": [2, 1]}}},
            "cells.c2r1.span",
            "can span 1 by 1",
        ),
    ],
)
def test_what_cannot_be_built_is_told_with_entry_and_remedy(data, entry, words):
    with pytest.raises(Refusal, match=words) as caught:
        make(read_unit(data))
    assert caught.value.entry == entry


@pytest.mark.parametrize(
    ("kind", "taken"),
    [
        ("square", 0.0),
        ("chamfer", 1 / 2),
        ("rebate", 1.0),
        ("round", 1 - pi / 4),
        ("cove", pi / 4),
        # An ovolo: a quarter round of 0.6 between fillets of 0.2 on both sides.
        ("ovolo", 0.2 * 1 + 0.2 * 0.8 + 0.6**2 * (1 - pi / 4)),
    ],
)
def test_worked_edges_take_away_what_their_names_say(kind, taken):
    """A rounded edge is the quarter circle tangent to both faces, a cove the one about the corner (geometry; the names
    of mouldings as in joinery handbooks, from memory)."""
    edge = Edge(kind=kind, size=Length.read("30"))
    block = shapely.Polygon([*edge_points(edge), (0, 100), (100, 100), (100, 0)])
    assert block.is_valid
    assert (100**2 - block.area) / 30**2 == pytest.approx(taken, abs=0.005)


def test_a_bead_is_a_half_round_behind_a_quirk():
    """Round over half its circumference, and set off from the face by a narrow step (joinery, from memory)."""
    points = edge_points(Edge(kind="bead", size=Length.read("20")))
    (cx, cy), radius = (10.0, 13.0), hypot(0.7, 0.7) * 10
    on_arc = [hypot(x - cx, y - cy) for x, y in points[2:-1]]
    assert on_arc == pytest.approx([radius] * len(on_arc), abs=0.01)
    assert points[0] == (20, 0)
    assert points[1] == (20, 6)
