"""IFC4 read back by a library that is not ours: schema and where-rules, sizes, places, volumes, relations."""

import ifcopenshell
import ifcopenshell.geom
import ifcopenshell.util.element as element
import ifcopenshell.util.shape as shape
import ifcopenshell.validate
import numpy as np
import pytest

from ashfell.core.base.refusal import Refusal
from ashfell.formats.ifc import write_ifc
from ashfell.formats.ifc_file import LETTERS, identity
from ashfell.formats.step import written
from tests.formats.building import SITE, scene

NAME = "Ferry hut"
MM = 1e-3


@pytest.fixture(scope="module")
def built():
    found = scene()
    assert found.refused == ()
    return found


@pytest.fixture(scope="module")
def read(built):
    return ifcopenshell.file.from_string(write_ifc(NAME, built).decode())


@pytest.fixture(scope="module")
def shapes(read):
    """Every product as the library makes it, in the world, m; walls with their openings cut out."""
    settings = ifcopenshell.geom.settings()
    settings.set("use-world-coords", True)
    found = {}
    for product in read.by_type("IfcElement"):
        if product.Representation:
            found[product.Tag, product.is_a()] = ifcopenshell.geom.create_shape(settings, product).geometry
    return found


def tagged(read, tag, kind):
    return next(one for one in read.by_type(kind) if one.Tag == tag)


def bounds(geometry):
    points = shape.get_vertices(geometry)
    return np.array([points.min(axis=0), points.max(axis=0)]) * 1000


def expected_bounds(built, key):
    parts = [part.solid.vertices for part in built.parts if part.id.partition("/")[0] == key]
    points = np.concatenate(parts)
    return np.array([points.min(axis=0), points.max(axis=0)])


def test_the_schema_and_its_rules_are_kept(read):
    logger = ifcopenshell.validate.json_logger()
    ifcopenshell.validate.validate(read, logger, express_rules=True)
    assert logger.statements == []
    assert read.schema == "IFC4"


@pytest.mark.parametrize("key", ["front", "bow", "above", "slope"])
def test_hosts_less_their_openings_are_what_stands(built, shapes, key):
    kind = "IfcSlab" if key == "slope" else "IfcWall"
    volume = shape.get_volume(shapes[key, kind])
    assert volume == pytest.approx(sum(part.solid.volume for part in built.standing[key].parts) / 1e9, rel=1e-6)


@pytest.mark.parametrize("key", ["w1", "d1", "d2", "a1", "b1", "t1", "m1", "s1", "r1"])
def test_units_are_whole_and_where_they_stand(built, shapes, key):
    kind = "IfcDoor" if key.startswith("d") else "IfcWindow"
    definition = built.definitions[built.instance_of[key].definition]
    assert shape.get_volume(shapes[key, kind]) == pytest.approx(
        sum(part.solid.volume for part in definition) / 1e9, rel=1e-6
    )
    assert np.abs(bounds(shapes[key, kind]) - expected_bounds(built, key)).max() < MM


@pytest.mark.parametrize("key", ["floor", "deck"])
def test_plates_lie_at_their_level(built, read, shapes, key):
    assert np.abs(bounds(shapes[key, "IfcSlab"]) - expected_bounds(built, key)).max() < MM
    width = element.get_psets(tagged(read, key, "IfcSlab"))["Qto_SlabBaseQuantities"]["Width"]
    assert width == float(next(one["thickness"] for one in SITE["plates"] if one["id"] == key))


def test_openings_tell_where_they_are(read):
    """As they were typed in the site above: offset, sill, width, height."""
    told = {one.Tag: element.get_psets(one) for one in read.by_type("IfcOpeningElement")}
    assert set(told) == {"w1", "d1", "d2", "a1", "b1", "t1", "m1", "gap", "r1"}
    typed = {"w1": (500, 900, 1500, 1200), "d2": (4200, 0, 1000, 2100), "gap": (5000, 700, 900, 1000)}
    for key, (offset, sill, width, height) in typed.items():
        own, sizes = told[key]["Ashfell_Opening"], told[key]["Qto_OpeningElementBaseQuantities"]
        assert (own["Offset"], own["Sill"], own["Head"]) == pytest.approx((offset, sill, sill + height), abs=MM)
        assert (sizes["Width"], sizes["Height"]) == pytest.approx((width, height), abs=MM)


def test_openings_void_their_hosts_and_are_filled(read):
    voided = {
        one.RelatedOpeningElement.Tag: one.RelatingBuildingElement.Tag for one in read.by_type("IfcRelVoidsElement")
    }
    filled = {one.RelatingOpeningElement.Tag: one.RelatedBuildingElement for one in read.by_type("IfcRelFillsElement")}
    walls = {one["id"]: one["wall"] for one in SITE["placements"]}
    assert voided == {key: walls[key] for key in voided}
    assert set(voided) == set(walls) - {"s1"}
    assert set(filled) == set(voided) - {"gap"}
    assert all(one.Tag == key for key, one in filled.items())


def test_overall_sizes_and_kinds(read):
    window, door = tagged(read, "w1", "IfcWindow"), tagged(read, "d1", "IfcDoor")
    assert (window.OverallWidth, window.OverallHeight) == (1500, 1200)
    assert (door.OverallWidth, door.OverallHeight) == (1000, 2100)
    assert window.PartitioningType == "TRIPLE_PANEL_VERTICAL"
    assert window.Name == "Hut window"


def test_a_mirror_image_is_of_the_other_hand(read):
    """ISO 16739-1: the hand of a door is told by its operation, and follows when it is mirrored."""
    one, other = (tagged(read, key, "IfcDoor") for key in ("d1", "d2"))
    assert {one.OperationType, other.OperationType} == {"SINGLE_SWING_LEFT", "SINGLE_SWING_RIGHT"}
    types = [element.get_type(door) for door in (one, other)]
    assert types[0].OperationType == one.OperationType
    assert types[1].OperationType == other.OperationType
    assert types[0] != types[1]


def test_mullions_are_where_they_were_typed(read):
    """Of 1500 between 50 and 50 with bars of 60 and 80, the last light 300: the centres of the mullions, as shares of
    the whole, worked out by hand. In the mirror image they are counted from the other side."""
    free = (1500 - 2 * 50 - 60 - 80 - 300) / 2
    first, second = (50 + free + 30) / 1500, (50 + 2 * free + 60 + 40) / 1500
    for key, marks in (("w1", (first, second)), ("m1", (1 - second, 1 - first))):
        kind = element.get_type(tagged(read, key, "IfcWindow"))
        lining = next(one for one in kind.HasPropertySets if one.is_a("IfcWindowLiningProperties"))
        assert (lining.FirstMullionOffset, lining.SecondMullionOffset) == pytest.approx(marks, abs=1e-6)
        assert lining.MullionThickness == 60
        panels = [one for one in kind.HasPropertySets if one.is_a("IfcWindowPanelProperties")]
        assert sorted(one.PanelPosition for one in panels) == ["LEFT", "MIDDLE", "RIGHT"]


def test_what_stands_on_a_storey_is_in_it(read):
    inside = {
        one.RelatingStructure.Name: {product.Tag for product in one.RelatedElements}
        for one in read.by_type("IfcRelContainedInSpatialStructure")
    }
    assert {"front", "w1", "d1", "d2", "a1", "bow", "b1", "s1", "floor"} <= inside["Ground"]
    assert {"above", "t1", "deck"} <= inside["Loft"]
    assert [one.Elevation for one in read.by_type("IfcBuildingStorey")] == [0, 2800]


def test_a_unit_is_written_once_for_all_its_uses(read):
    kinds = {key: element.get_type(tagged(read, key, "IfcWindow")) for key in ("w1", "s1", "t1", "m1")}
    assert kinds["w1"] == kinds["s1"] == kinds["t1"] != kinds["m1"]
    mapped = tagged(read, "w1", "IfcWindow").Representation.Representations[0].Items[0].MappingSource
    assert mapped == kinds["s1"].RepresentationMaps[0]


def test_walls_tell_their_layers_from_outside_in(read):
    (usage,) = (element.get_material(tagged(read, "front", "IfcWall")),)
    layers = usage.ForLayerSet.MaterialLayers
    assert [one.LayerThickness for one in layers] == [135, 50, 100, 15]
    assert [one.Material is None for one in layers] == [False, True, False, False]
    assert layers[1].IsVentilated


def test_what_units_are_made_of(read):
    kind = element.get_type(tagged(read, "a1", "IfcWindow"))
    told = {one.Name: one.Material.Name for one in element.get_material(kind).MaterialConstituents}
    assert told["Glazing"] == "Clear glass"
    styles = {one.Name for one in read.by_type("IfcSurfaceStyle")}
    assert "Clear glass" in styles
    assert len(styles) >= 4


def test_glass_is_a_share_of_the_unit(read):
    told = element.get_psets(tagged(read, "w1", "IfcWindow"))["Pset_WindowCommon"]
    free = 1500 - 100 - 140
    assert told["GlazingAreaFraction"] == pytest.approx(free * 1100 / (1500 * 1200), rel=1e-6)


def test_identities_are_told_once_and_stay(built, read):
    keys = [one.GlobalId for one in read.by_type("IfcRoot")]
    assert len(keys) == len(set(keys))
    assert write_ifc(NAME, built) == write_ifc(NAME, scene())
    assert all(len(key) == 22 and key[0] in "0123" and set(key) <= set(LETTERS) for key in keys)
    assert identity("a", "b") != identity("ab")


@pytest.mark.parametrize("name", ["Größe 'A'", "a\\b", "漢字 🛶", "line\nend\x07", ""])
def test_names_of_any_letters_are_read_back(name):
    text = written(name)
    assert text.isascii()
    told = ifcopenshell.file.from_string(
        write_ifc(name or "x", scene(name=name or "x", placements=[], roofs=[], plates=[])).decode()
    )
    clean = "".join(" " if ord(letter) < 32 else letter for letter in name or "x")
    assert told.by_type("IfcProject")[0].Name == clean


def test_one_storey_is_handed_over_by_itself(built):
    read = ifcopenshell.file.from_string(write_ifc(NAME, built, None, frozenset({"above", "t1", "m1"})).decode())
    assert [one.Tag for one in read.by_type("IfcWall")] == ["above"]
    assert [one.Tag for one in read.by_type("IfcWindow")] == ["t1", "m1"]
    assert {one.Tag for one in read.by_type("IfcOpeningElement")} == {"t1", "m1", "gap"}


def test_a_finish_that_is_not_known_is_refused():
    placed = [SITE["placements"][0] | {"finishes": {"frame": "no-such"}}]
    with pytest.raises(Refusal, match="no-such"):
        write_ifc(NAME, scene(placements=placed))


def test_a_site_without_storeys_stands_on_the_ground():
    read = ifcopenshell.file.from_string(
        write_ifc("Hut", scene(storeys=[], walls=[SITE["walls"][0]], placements=[], plates=[], roofs=[])).decode()
    )
    (storey,) = read.by_type("IfcBuildingStorey")
    assert (storey.Name, storey.Elevation) == ("Ground", 0)


@pytest.mark.parametrize("key", ["pear", "barn"])
def test_what_stands_round_the_building_is_where_it_stands(built, read, shapes, key):
    own = bounds(shapes[key, "IfcBuildingElementProxy"])
    assert own == pytest.approx(expected_bounds(built, f"surroundings.{key}"), abs=1e-3)
    assert tagged(read, key, "IfcBuildingElementProxy").ObjectType in ("broad tree", "block")
