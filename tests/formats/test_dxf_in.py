"""Plans in DXF taken in: files that another library writes, in any unit, with layers and blocks; broken and hostile
ones."""

import io
import random

import ezdxf
import pytest
from ezdxf import units

from ashfell.core.base.document import read
from ashfell.core.base.refusal import Refusal
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.services.handover import FORMATS, chosen, of_site
from ashfell.services.reading.dxf import read_here
from ashfell.services.reading.options import PlanOptions
from ashfell.services.reading.readers import READERS, reader_of

WINDOW, DOOR = (1.5, 1.2), (4.0, 0.9)
"""Where in the front an opening begins, and how wide it is, m."""


def hut(unit=units.MM, blocks=False, layer="A-WALL"):
    """A hut of 6 by 4 m with walls of 0.3 m, a window and a door in front, drawn in some unit; as DXF."""
    drawing = ezdxf.new(units=unit)
    per = {units.MM: 1000, units.CM: 100, units.M: 1, units.IN: 1000 / 25.4, units.FT: 1000 / 304.8}[unit]
    space = drawing.blocks.new("HUT") if blocks else drawing.modelspace()
    on = {"layer": "0" if blocks else layer}
    gaps = [WINDOW, DOOR]
    for y, left, right in ((0, 0, 6), (0.3, 0.3, 5.7)):
        edges = [left, *(edge for at, wide in gaps for edge in (at, at + wide)), right]
        for start, end in zip(edges[::2], edges[1::2], strict=True):
            space.add_line((start * per, y * per), (end * per, y * per), dxfattribs=on)
    for x in (edge for at, wide in gaps for edge in (at, at + wide)):
        space.add_line((x * per, 0), (x * per, 0.3 * per), dxfattribs=on)
    for ring in ([(6, 0), (6, 4), (0, 4), (0, 0)], [(5.7, 0.3), (5.7, 3.7), (0.3, 3.7), (0.3, 0.3)]):
        space.add_lwpolyline([(x * per, y * per) for x, y in ring], dxfattribs=on)
    if blocks:
        drawing.modelspace().add_blockref("HUT", (50 * per, 20 * per), dxfattribs={"layer": layer, "rotation": 30})
    else:
        space.add_arc((DOOR[0] * per, 0), DOOR[1] * per, 270, 360, dxfattribs={"layer": "DOOR"})
        space.add_line((2 * per, 2 * per), (3 * per, 2.5 * per), dxfattribs={"layer": "TABLE"})
    return written(drawing)


def written(drawing):
    stream = io.StringIO()
    drawing.write(stream)
    return stream.getvalue().encode()


@pytest.mark.parametrize("unit", [units.MM, units.CM, units.M, units.IN, units.FT])
def test_a_hut_in_every_unit(unit):
    found = read_here(hut(unit), PlanOptions())
    assert [(wall["length"], wall["thickness"]) for wall in found.site["walls"]] == [
        ("6000", "300"),
        ("4000", "300"),
        ("6000", "300"),
        ("4000", "300"),
    ]
    told = [(one["offset"], one["width"], one["sill"], one["height"]) for one in found.site["placements"]]
    assert told == [("1500", "1200", "900", "1200"), ("4000", "900", "0", "2100")]
    assert found.layers == [("A-WALL", 16, True), ("TABLE", 1, False)]
    assert any("“TABLE”" in words for words in found.left)
    scene = build_scene(read_site(found.site))
    assert not scene.refused
    assert len(scene.openings) == 2


def test_what_lies_in_a_block_is_where_the_block_is_put():
    found = read_here(hut(blocks=True), PlanOptions())
    assert sorted(wall["angle"] for wall in found.site["walls"]) == [30, 120, 210, 300]
    assert [one["width"] for one in found.site["placements"]] == ["1200", "900"]
    assert any("moved" in words for words in found.noted)
    assert found.layers == [("A-WALL", 16, True)]


def test_layers_are_chosen_and_named_when_they_are_not_there():
    content = hut(layer="Mauer")
    assert len(read_here(content, PlanOptions()).site["walls"]) == 4
    assert len(read_here(content, PlanOptions(layers=("Mauer",))).site["walls"]) == 4
    with pytest.raises(Refusal, match="“Roof”") as refusal:
        read_here(content, PlanOptions(layers=("Roof",)))
    assert refusal.value.entry == "layers"
    assert "“Mauer”, “TABLE”" in refusal.value.remedy
    with pytest.raises(Refusal, match="Among 1 lines"):
        read_here(content, PlanOptions(layers=("TABLE",)))


def test_a_drawing_without_a_unit_says_so_and_is_read_once_it_is_told():
    drawing = ezdxf.new(units=0)
    drawing.modelspace().add_lwpolyline([(0, 0), (5, 0), (5, 0.2), (0, 0.2)], close=True)
    with pytest.raises(Refusal) as refusal:
        read_here(written(drawing), PlanOptions())
    assert refusal.value.entry == "unit"
    (wall,) = read_here(written(drawing), PlanOptions(unit="m")).site["walls"]
    assert (wall["length"], wall["thickness"]) == ("5000", "200")


@pytest.mark.parametrize(
    ("options", "entry"),
    [
        ({"unit": "miles"}, "unit"),
        ({"thinnest": "-60"}, "thinnest"),
        ({"thickest": "wide"}, "thickest"),
        ({"colour": "red"}, "colour"),
        ({"thinnest": "300", "thickest": "200"}, "thickest"),
        ({"narrowest": "3 m", "widest": "2 m"}, "widest"),
    ],
)
def test_options_that_are_none_are_refused(options, entry):
    with pytest.raises(Refusal) as refusal:
        read_here(hut(), read(PlanOptions, options))
    assert refusal.value.entry == entry
    assert refusal.value.message


def test_a_plan_of_ours_comes_back():
    walls = [
        {"id": "front", "length": "8 m", "thickness": "300"},
        {"id": "right", "x": "8 m", "angle": 90, "length": "5 m", "thickness": "300"},
        {"id": "back", "x": "8 m", "y": "5 m", "angle": 180, "length": "8 m", "thickness": "300"},
        {"id": "left", "y": "5 m", "angle": 270, "length": "5 m", "thickness": "300"},
    ]
    openings = [{"id": "gap", "wall": "front", "offset": "2345", "width": "1111", "height": "1200"}]
    kind = FORMATS["dxf"]
    content = kind.write(of_site({"walls": walls, "placements": openings}), chosen(kind, {"drawn": "plans"}))
    found = read_here(content, PlanOptions(layers=("WALL",)))
    plan = [wall for wall in found.site["walls"] if wall["length"] in ("8000", "5000")]
    assert {wall["thickness"] for wall in plan} >= {"300"}
    assert ("2345", "1111") in [(one["offset"], one["width"]) for one in found.site["placements"]]


# --- broken and hostile files


@pytest.mark.parametrize("content", [b"", b"0\nSECTION\n", b"999\nnothing\n0\nEOF\n", b"\0" * 5000, b"0\n" * 50_000])
def test_what_is_no_drawing_is_refused(content):
    with pytest.raises(Refusal) as refusal:
        read_here(content, PlanOptions())
    assert refusal.value.remedy


def test_a_drawing_cut_off_anywhere_is_refused_or_read():
    content = hut()
    for share in range(1, 20):
        try:
            found = read_here(content[: len(content) * share // 20], PlanOptions())
        except Refusal as refusal:
            assert refusal.remedy
        else:
            assert found.site["walls"]


def test_numbers_gone_wild_are_refused_or_read():
    lines = hut().decode().split("\n")
    random_ = random.Random(7)
    for absurd in ("1e308", "nan", "-1e12", "0", "x", "9" * 400):
        wild = [*lines]
        for index in random_.sample(range(len(lines) * 2 // 3, len(lines)), 60):
            if "." in wild[index]:
                wild[index] = absurd
        try:
            found = read_here("\n".join(wild).encode(), PlanOptions())
        except Refusal as refusal:
            assert refusal.remedy
        else:
            assert found.site["walls"]


def test_blocks_in_blocks_without_end_are_stopped():
    drawing = ezdxf.new(units=4)
    inner = drawing.blocks.new("B0")
    inner.add_line((0, 0), (1, 0))
    for level in range(1, 12):
        block = drawing.blocks.new(f"B{level}")
        for at in range(10):
            block.add_blockref(f"B{level - 1}", (at, level))
    drawing.modelspace().add_blockref("B11", (0, 0))
    drawing.modelspace().add_blockref("B0", (0, 0), dxfattribs={"row_count": 30_000, "column_count": 30_000})
    with pytest.raises(Refusal) as refusal:
        READERS["dxf"].understood(written(drawing), {})
    assert refusal.value.message


# --- which reader


@pytest.mark.parametrize(
    ("name", "head", "key"),
    [
        ("a.ifc", b"ISO-10303-21;", "ifc"),
        ("a.txt", b"ISO-10303-21;", "ifc"),
        ("plan.DXF", b"  0\nSECTION", "dxf"),
        ("plan.dxf", b"\xef\xbb\xbf999\n", "dxf"),
        ("hut.ashfell.zip", b"PK\x03\x04", "project"),
    ],
)
def test_files_are_told_by_what_they_begin_with(name, head, key):
    assert reader_of(name, head, 1000).key == key


@pytest.mark.parametrize(
    ("name", "head", "size"),
    [("a.exe", b"MZ", 9), ("a.zip", b"no zip", 9), ("a.txt", b"0\nSECTION", 9), ("a.ifc", b"ISO-10303-21;", 2**40)],
)
def test_others_are_refused(name, head, size):
    with pytest.raises(Refusal) as refusal:
        reader_of(name, head, size)
    assert refusal.value.remedy


@pytest.mark.parametrize("way", ["arcs", "bulges", "mirrored"])
def test_curved_walls_are_read_from_arcs_paths_and_mirrored_blocks(way):
    """A quarter of a ring, inner radius 3 m and outer 3.2 m, about (10, 5) m."""
    drawing = ezdxf.new(units=units.M)
    on = {"layer": "WALLS"}
    if way == "bulges":
        for radius in (3, 3.2):
            path = [(10 + radius, 5, 0.41421356237), (10, 5 + radius, 0)]
            drawing.modelspace().add_lwpolyline(path, format="xyb", dxfattribs=on)
    elif way == "arcs":
        for radius in (3, 3.2):
            drawing.modelspace().add_arc((10, 5), radius, 0, 90, dxfattribs=on)
    else:
        block = drawing.blocks.new("BOW")
        for radius in (3, 3.2):
            block.add_arc((-10, 5), radius, 90, 180, dxfattribs=on)
        drawing.modelspace().add_blockref("BOW", (0, 0), dxfattribs={"xscale": -1})
    found = read_here(written(drawing), PlanOptions())
    (wall,) = found.site["walls"]
    radius = 3100
    assert float(wall["length"]) == pytest.approx(radius * 2**0.5, abs=0.01)
    assert float(wall["curve"]["rise"]) == pytest.approx(radius * (1 - 0.5**0.5), abs=0.01)
    assert wall["thickness"] == "200"
    assert float(wall["angle"]) == pytest.approx(135)
    scene = build_scene(read_site(found.site))
    assert not scene.refused
