"""Doors against common practice: sizes and volumes are told by another mesh library."""

import io

import ifcopenshell
import numpy as np
import pytest
import trimesh

from ashfell.core.base.lengths import parse
from ashfell.core.kinds.fillings.swing import clear_width
from ashfell.core.unit import read_unit, solve
from ashfell.core.unit.ifc import door_properties
from ashfell.core.unit.make import make
from ashfell.core.unit.start_sliding import SLIDING
from ashfell.core.unit.starts import STARTS, start_from
from ashfell.formats import glb


@pytest.fixture(scope="module")
def panelled():
    """Roles and meshes in inches, by part."""
    return read_back(make(start_from("panelled-leaf", "Door", "in")))


def read_back(unit):
    found = {}
    for part in unit.parts:
        found[part.id] = trimesh.Trimesh(part.solid.vertices / 25.4, part.solid.triangles, process=False)
    return found


def bounds(meshes, *beginning):
    chosen = [mesh.bounds for name, mesh in meshes.items() if name.startswith(beginning)]
    return np.array([np.min([low for low, _ in chosen], axis=0), np.max([high for _, high in chosen], axis=0)])


def test_a_leaf_of_three_feet_by_six_feet_eight(panelled):
    """3'0" by 6'8", stiles and top rail 4 in, bottom rail 8 in (common practice, no source)."""
    low, high = bounds(panelled, "leaf.")
    assert (high - low)[:2] == pytest.approx((36, 80), abs=1e-4)
    for side, axis, wide in (("left", 0, 4), ("right", 0, 4), ("head", 1, 4), ("sill", 1, 8)):
        own = bounds(panelled, f"leaf.c1r1.{side}")
        assert (own[1] - own[0])[axis] == pytest.approx(wide, abs=1e-4), side


def test_the_whole_door_is_read_back_from_its_file():
    """3'3 1/4" by 6'9 7/8" over the frame, as trimesh reads the GLB (m)."""
    unit = make(start_from("flush-leaf", "Door", "in"))
    scene = trimesh.load(io.BytesIO(glb.write_unit(unit)), file_type="glb")
    assert (scene.bounds[1] - scene.bounds[0])[:2] / 0.0254 == pytest.approx((39.25, 81.875), abs=1e-4)


def test_an_eighth_of_an_inch_between_leaf_and_frame(panelled):
    """Or the edges vanish in a picture (common practice, no source)."""
    leaf = bounds(panelled, "leaf.")
    jambs = [bounds(panelled, f"frame.{side}") for side in ("left", "right")]
    inner = jambs[0][0][0] + 1.5, jambs[1][1][0] - 1.5
    assert leaf[0][0] - inner[0] == pytest.approx(1 / 8, abs=1e-4)
    assert inner[1] - leaf[1][0] == pytest.approx(1 / 8, abs=1e-4)


def test_three_hinges_and_a_handle_where_one_looks_for_them():
    """Three hinges on a heavy leaf, the top one 150 to 250 mm below the head, the bottom one 200 to 275 above the foot;
    the handle about 1,000 mm above the floor; a leaf 35 to 45 mm thick; 3 mm at the jambs and the head, 6 to 10 at the
    floor (common practice, no source)."""
    unit = make(start_from("panelled-leaf", "Door"))
    boxes = {part.id: part.solid.bounds for part in unit.parts}
    leaf = unit.layout.body.lights[0].sashes[0].body.ring
    _, foot, _, head = leaf.loop.bounds
    middles = [boxes[f"hardware.c1r1.hinge.{k}"][:, 1].mean() for k in (1, 2, 3)]
    assert 200 <= middles[0] - foot <= 275
    assert 150 <= head - middles[2] <= 250
    assert boxes["hardware.c1r1.1.rose.outside"][:, 1].mean() == pytest.approx(1000, abs=5)
    assert 35 <= float(leaf.back - leaf.front) <= 45
    assert 6 <= foot <= 10


def test_an_entrance_of_72_by_84_closes_its_sum():
    """Frame 2 in, posts 2 in, a 36 in leaf centred: each sidelight is what is left (common practice, no source)."""
    layout = solve(start_from("entrance", "Entrance", "in"))
    sizes = [light.size for light in layout.columns.lights]
    inch = parse("1 in")
    assert sizes[0] == sizes[2] == (72 - 2 * 2 - 2 * 2 - 36 - 2 * parse("1/8 in") / inch) / 2 * inch
    assert sum(sizes) + 8 * inch == 72 * inch
    left, _, right, _ = (
        next(light for light in layout.lights if light.filling.key == "leaf").sashes[0].body.ring.loop.bounds
    )
    assert (right - left) / 25.4 == pytest.approx(36)
    assert (left + right) / 2 / 25.4 == pytest.approx(36)


def test_a_bar_handle_and_its_mirror_image():
    """A section of 1 by 1 in, out 3 in, up 24 in, back 3 in; its top 4 ft above the foot of the leaf, 1 in from its
    edge; its twin on the other face is its mirror image (common practice, no source). Its volume is its section by the
    length of its centre line (Pappus)."""
    bar = {"kind": "bar-handle", "thickness": "1 in", "out": "3 in", "up": "24 in", "height": "4 ft", "edge": "1 in"}
    document = start_from("panelled-leaf", "Door", "in")
    fill = document.fill.model_copy(update={"hardware": ()})
    data = document.model_copy(update={"fill": fill}).model_dump(mode="json")
    data["fill"]["hardware"] = [bar]
    meshes = read_back(make(type(document).model_validate(data)))
    leaf = bounds(meshes, "leaf.")
    outside, inside = (bounds(meshes, f"hardware.c1r1.1.bar.{face}") for face in ("outside", "inside"))
    assert outside[1][1] - leaf[0][1] == pytest.approx(48, abs=1e-4)
    assert leaf[1][0] - outside[1][0] == pytest.approx(1, abs=1e-4)
    assert outside[1][2] - leaf[1][2] == pytest.approx(3.5, abs=1e-4)
    assert outside[1][1] - outside[0][1] == pytest.approx(25, abs=1e-4)
    mesh = next(mesh for name, mesh in meshes.items() if name.startswith("hardware.c1r1.1.bar.outside"))
    assert abs(mesh.volume) == pytest.approx(30, rel=1e-4)
    middle = (leaf[0][2] + leaf[1][2]) / 2
    assert 2 * middle - inside[:, 2][::-1] == pytest.approx(outside[:, 2], abs=1e-4)
    assert inside[:, :2] == pytest.approx(outside[:, :2], abs=1e-4)


def test_an_overhead_door_of_eight_by_seven_feet():
    """Sections 18 to 21 in high, a curve of 12 or 15 in (common practice, no source)."""
    assert SLIDING["overhead"].inches is not None
    layout = solve(start_from("overhead", "Door", "in"))
    light = layout.body.lights[0]
    assert (light.clear.width / parse("1 ft"), light.clear.height / parse("1 ft")) == (8, 7)
    heights = [sash.body.ring.loop.bounds[3] - sash.body.ring.loop.bounds[1] for sash in light.sashes]
    assert all(18 <= height / 25.4 <= 21.5 for height in heights)
    assert light.content.track.radius / 25.4 == pytest.approx(15)


@pytest.mark.parametrize("hand", ["left", "right"])
@pytest.mark.parametrize("swing", ["out", "in"])
def test_what_an_open_leaf_leaves_clear(hand, swing):
    """Between the face of the leaf open at 90 degrees and the stop (ADA 2010, 404.2.3, from memory: at least 32 in).
    By hand: 906 between the jambs, less the stop of 12, half the gap of 3, the pin 7 off the face, the leaf of 44."""
    document = start_from("panelled-leaf", "Door")
    fill = document.fill.model_copy(update={"hand": hand, "swing": swing})
    layout = solve(document.model_copy(update={"fill": fill}))
    assert clear_width(layout.body.lights[0]) == 906 - 12 - parse("1.5") - 7 - 44
    assert clear_width(layout.body.lights[0]) >= parse("32 in")


def test_what_one_of_a_pair_leaves_clear():
    """The other stays shut: from the open leaf to its edge."""
    layout = solve(start_from("unequal-pair", "Door"))
    light = layout.body.lights[0]
    assert float(clear_width(light)) == pytest.approx(900 + 4 + 4 - (2 + 7 + 44), abs=0.1)


def _items(enumeration):
    schema = ifcopenshell.ifcopenshell_wrapper.schema_by_name("IFC4")
    return set(schema.declaration_by_name(enumeration).enumeration_items())


GROUPS = ("Doors", "Sliding, folding and overhead doors")


@pytest.mark.parametrize("key", [key for key, start in STARTS.items() if start.group in GROUPS])
def test_every_door_is_one_to_an_ifc_library(key):
    """IfcDoorType, IfcDoorLiningProperties and IfcDoorPanelProperties of IFC4 (ISO 16739-1) take what is told; the
    enumerations are read from the schema of an independent library."""
    document = start_from(key, "Door")
    found = door_properties(document, solve(document))
    if key == "sliding-door":
        assert found == {}  # panels on tracks are a window to IFC
        return
    panels = found.pop("Panels")
    operation, own = found.pop("OperationType"), found.pop("UserDefinedOperationType", None)
    assert operation in _items("IfcDoorTypeOperationEnum")
    file = ifcopenshell.file(schema="IFC4")
    new = ifcopenshell.guid.new
    lining = file.create_entity("IfcDoorLiningProperties", GlobalId=new(), **found)
    made = [
        file.create_entity("IfcDoorPanelProperties", GlobalId=new(), Name=f"Panel {index}", **panel)
        for index, panel in enumerate(panels)
    ]
    door = file.create_entity(
        "IfcDoorType",
        GlobalId=new(),
        Name="Door",
        PredefinedType="DOOR",
        OperationType=operation,
        UserDefinedOperationType=own,
        HasPropertySets=[lining, *made],
    )
    read = ifcopenshell.file.from_string(file.to_string()).by_id(door.id())
    assert read.OperationType == operation
    assert len(read.HasPropertySets) == 1 + len(panels)
    assert read.HasPropertySets[0].LiningDepth == float(document.frame.depth.mm)
    assert {panel.PanelOperation for panel in read.HasPropertySets[1:]} <= _items("IfcDoorPanelOperationEnum")
    assert {panel.PanelPosition for panel in read.HasPropertySets[1:]} <= _items("IfcDoorPanelPositionEnum")
    assert (own is None) == (operation != "USERDEFINED")


@pytest.mark.parametrize(
    ("fill", "operation"),
    [
        ({"kind": "leaf", "hand": "left", "swing": "in"}, "SINGLE_SWING_LEFT"),
        ({"kind": "leaf", "hand": "right", "swing": "in"}, "SINGLE_SWING_RIGHT"),
        ({"kind": "leaf", "hand": "left", "swing": "out"}, "SINGLE_SWING_RIGHT"),
        ({"kind": "leaf", "opening": "side-hung-pair"}, "DOUBLE_DOOR_SINGLE_SWING"),
        ({"kind": "folding", "leaves": 3}, "FOLDING_TO_LEFT"),
        ({"kind": "folding", "leaves": 4, "to_right": 2}, "DOUBLE_DOOR_FOLDING"),
        ({"kind": "sliding-leaf", "hand": "right"}, "SLIDING_TO_RIGHT"),
        ({"kind": "rolling"}, "ROLLINGUP"),
    ],
)
def test_the_hand_of_a_door_is_seen_the_way_that_it_opens(fill, operation):
    """IfcDoorTypeOperationEnum: hinges on the left "as viewed in the direction of the positive y-axis", which is the
    way that the panel swings (IFC4, from memory)."""
    data = {"width": "2400", "height": "2200", "frame": {"depth": "120", "sides": {"sill": "0"}}}
    held = {} if fill["kind"] == "rolling" else {"content": {"fill": {"kind": "flush"}}}
    document = read_unit(data | {"fill": fill | held})
    assert door_properties(document, solve(document))["OperationType"] == operation
