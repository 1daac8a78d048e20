"""IFC taken in: what this application hands over comes back the same; what others write is read as far as it goes."""

import random
from pathlib import Path

import ifcopenshell
import ifcopenshell.api.aggregate
import ifcopenshell.api.context
import ifcopenshell.api.feature
import ifcopenshell.api.geometry
import ifcopenshell.api.owner
import ifcopenshell.api.owner.settings
import ifcopenshell.api.project
import ifcopenshell.api.root
import ifcopenshell.api.spatial
import ifcopenshell.api.unit
import numpy as np
import pytest

from ashfell.core.base.refusal import Refusal
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.formats.ifc import write_ifc
from ashfell.services.documents import load_site
from ashfell.services.reading.ifc import read_here
from ashfell.services.reading.readers import READERS
from tests.conftest import DEMO
from tests.formats.building import SITE, scene

MM = 1e-3


@pytest.fixture(scope="module")
def handed():
    gable = {"id": "gable", "x": "20 m", "angle": 90, "length": "5 m", "height": "2 m", "ridge": {"height": "4 m"}}
    return scene(walls=[*SITE["walls"], gable])


@pytest.fixture(scope="module")
def taken(handed):
    found = read_here(write_ifc("Ferry hut", handed))
    return found, build_scene(read_site(found.site))


def test_walls_come_back_where_they_stood(handed, taken):
    _, again = taken
    for key in ("front", "above", "gable"):
        one, other = handed.standing[key].host, again.standing[key].host
        assert np.abs(one.frame() - other.frame()).max() < MM
        for name in ("length", "height", "thickness"):
            assert float(getattr(one, name)) == pytest.approx(float(getattr(other, name)), abs=MM)
        marks = [[float(value) for mark in host.top for value in mark] for host in (one, other)]
        assert marks[1] == pytest.approx(marks[0], abs=MM)


def test_openings_come_back_at_their_offsets_and_sills(handed, taken):
    _, again = taken
    same = [key for key in handed.openings if key not in ("s1",)]
    assert set(same) <= set(again.openings)
    for key in same:
        one, other = handed.openings[key], again.openings[key]
        for name in ("x", "z", "width", "height"):
            assert float(getattr(one, name)) == pytest.approx(float(getattr(other, name)), abs=MM), (key, name)


def test_units_come_back_as_they_were(handed, taken):
    """Every part of every unit, outlines too, where it stood."""
    found, again = taken
    assert len(found.site["units"]) == 4
    for key in ("w1", "d1", "d2", "a1", "t1", "m1", "r1"):
        one, other = (
            {part.id: part.solid.bounds for part in built.parts if part.id.startswith(f"{key}/")}
            for built in (handed, again)
        )
        assert one.keys() == other.keys()
        assert max(np.abs(one[part] - other[part]).max() for part in one) < MM, key


def test_without_its_document_a_unit_is_made_of_its_lining(handed):
    """As of a file that somebody else wrote: frame, centres of the mullions, the hand of a door."""
    content = write_ifc("Ferry hut", handed).replace(b"'Ashfell_Unit'", b"'Something'")
    found = read_here(content)
    again = build_scene(read_site(found.site))
    for key in ("w1", "m1"):
        spacing = again.units[key].layout.root.columns
        middles = [float(bar.centre) for bar in spacing.bars]
        expected = [float(bar.centre) for bar in handed.units[key].layout.root.columns.bars]
        expected = [1500 - middle for middle in reversed(expected)] if key == "m1" else expected
        assert middles == pytest.approx(expected, abs=2e-3)
        assert again.units[key].document.frame.face.mm == handed.units[key].document.frame.face.mm
    assert sorted(again.units[key].document.fill.hand for key in ("d1", "d2")) == ["left", "right"]


def test_a_document_of_another_size_is_not_believed(handed):
    content = write_ifc("Ferry hut", handed).replace(b",1200.,1500.,.WINDOW.", b",1250.,1500.,.WINDOW.")
    found = read_here(content)
    heights = {float(one["height"]) for one in found.site["units"].values()}
    assert 1250 in heights


def test_storeys_and_plates_come_back(handed, taken):
    found, again = taken
    assert [(one["name"], one["height"]) for one in found.site["storeys"]] == [("Ground", "2800"), ("Loft", "3000")]
    for one, other in zip(handed.site.plates, again.site.plates, strict=True):
        for name in ("x", "y", "width", "depth", "level", "thickness"):
            assert float(getattr(one, name).mm) == pytest.approx(float(getattr(other, name).mm), abs=MM)


def test_a_roof_plane_comes_back_as_it_lies(handed, taken):
    _, again = taken
    one, other = (built.standing["slope"].host for built in (handed, again))
    assert np.abs(one.frame() - other.frame()).max() < MM
    for name in ("length", "height", "thickness", "slope"):
        assert float(getattr(one, name)) == pytest.approx(float(getattr(other, name)), abs=MM)


HIPPED = {"length": "6 m", "run": "2 m", "slope": 40, "level": "3 m", "hip_start": "1500", "hip_end": "500"}


@pytest.mark.parametrize("angle", [0, 90, 217])
def test_roof_planes_with_hips_come_back(angle):
    roofs = [{"id": "a", "x": "1 m", "y": "2 m", "angle": angle} | HIPPED]
    walls = [{"id": "w", "length": "6 m"}]
    handed = build_scene(read_site({"walls": walls, "roofs": roofs}))
    again = build_scene(read_site(read_here(write_ifc("Roof", handed)).site))
    one, other = handed.standing["a"].host, again.standing["a"].host
    assert np.abs(one.frame() - other.frame()).max() < MM
    assert np.array(other.polygon.exterior.coords) == pytest.approx(np.array(one.polygon.exterior.coords), abs=MM)
    assert other.slope == pytest.approx(40)


def test_a_plate_round_corners_comes_back():
    corners = [("0", "0"), ("6 m", "0"), ("6 m", "2 m"), ("3 m", "3 m"), ("2500", "5 m"), ("0", "5 m")]
    plate = {"id": "p", "level": "300", "thickness": "250", "corners": [{"x": x, "y": y} for x, y in corners]}
    handed = build_scene(read_site({"walls": [{"id": "w", "length": "6 m"}], "plates": [plate]}))
    found = read_here(write_ifc("Plate", handed))
    (own,) = found.site["plates"]
    assert {(round(float(one["x"]), 3), round(float(one["y"]), 3)) for one in own["corners"]} == {
        (0, 0), (6000, 0), (6000, 2000), (3000, 3000), (2500, 5000), (0, 5000)
    }  # fmt: skip
    assert (own["level"], own["thickness"]) == ("300", "250")


def test_a_wall_that_bends_comes_back_with_what_is_in_it(handed, taken):
    _, again = taken
    one, other = (built.standing["bow"].host for built in (handed, again))
    assert len(other.folds) == len(one.folds) == 11
    for at in (0.0, 1000.0, 2600.0, 5000.0):
        places = [host.frame(at) @ (at, 0.0, 0.0, 1.0) for host in (one, other)]
        assert np.abs(places[0] - places[1]).max() < MM, at
    assert float(other.length) == pytest.approx(float(one.length), abs=MM)
    for name in ("x", "z", "width", "height"):
        sizes = [float(getattr(built.openings["b1"], name)) for built in (handed, again)]
        assert sizes[1] == pytest.approx(sizes[0], abs=MM), name


@pytest.mark.parametrize("angle", [0, 130])
@pytest.mark.parametrize(
    "curve",
    [
        {"kind": "bent", "points": [{"along": "2 m", "out": "0"}, {"along": "3 m", "out": "900"}]},
        {"kind": "bent", "points": [{"along": "4 m", "out": "-1500"}]},
        {"kind": "radius", "radius": "5 m", "facets": 9},
        {"kind": "arc", "rise": "-700", "facets": 5},
    ],
)
def test_bent_walls_of_every_kind_come_back(curve, angle):
    """An opening in the second stretch, or where it folds; each where it was."""
    wall = {"id": "w", "x": "1 m", "y": "2 m", "angle": angle, "length": "7 m", "thickness": "240", "curve": curve}
    opening = {"id": "o", "wall": "w", "offset": "3300", "width": "800", "height": "1200", "sill": "900"}
    handed = build_scene(read_site({"walls": [wall], "placements": [opening]}))
    assert handed.refused == ()
    found = read_here(write_ifc("Bent", handed))
    again = build_scene(read_site(found.site))
    assert again.refused == ()
    one, other = (built.standing["w"].host for built in (handed, again))
    assert float(other.thickness) == pytest.approx(240, abs=MM)
    assert len(one.folds) == len(other.folds)
    for at in np.linspace(1.0, float(one.length) - 1.0, 23):
        places = [host.frame(at) @ (at, 0.0, 0.0, 1.0) for host in (one, other)]
        assert np.abs(places[0] - places[1]).max() < MM, at
    for name in ("x", "z", "width", "height"):
        sizes = [float(getattr(built.openings["o"], name)) for built in (handed, again)]
        assert sizes[1] == pytest.approx(sizes[0], abs=MM), name


def places(built):
    """The middle of every opening in the site, its size, and its unit's parts' bounds."""
    found = {}
    for standing in built.standing.values():
        for one in standing.openings if standing.parts else ():
            middle = float(one.x + one.width / 2)
            at = standing.host.frame(middle) @ (middle, float(one.z + one.height / 2), 0.0, 1.0)
            found[one.placement] = [*at[:3], float(one.width), float(one.height)]
    return found


def test_the_whole_of_a_building_comes_back():
    """Every opening of the demo's, on walls straight, bent and raked and in roofs, and the unit in it."""
    handed = build_scene(read_site(load_site(DEMO / "site.json")))
    found = read_here(write_ifc("Heron Reach", handed))
    again = build_scene(read_site(found.site))
    assert again.refused == ()
    assert found.left == ["“Clubroom partition”: it stands in no opening of a wall."]
    one, other = places(handed), places(again)
    assert len(one) == len(other) > 40
    held = np.array([*other.values()])
    keys = [*other]
    for key, place in one.items():
        nearest = int(np.abs(held - place).max(axis=1).argmin())
        assert np.abs(held[nearest] - place).max() < MM, key
        before, after = handed.units.get(key), again.units.get(keys[nearest])
        assert (before is None) == (after is None)
        if before is not None:
            assert before.document.name == after.document.name
            sizes = [unit.layout.overall for unit in (before, after)]
            assert float(sizes[0].width) == pytest.approx(float(sizes[1].width), abs=MM), key
            assert float(sizes[0].height) == pytest.approx(float(sizes[1].height), abs=MM), key


def test_all_of_it_is_understood(taken):
    found, again = taken
    assert found.left == ["“Hut window”: it stands in no opening of a wall."]  # on a line without a wall
    assert again.refused == ()
    assert found.counted == "2 storeys, 4 walls, 2 plates, 1 roof plane, 9 openings, 8 units in them"


# --- files that another library wrote


def made_elsewhere(monkeypatch, schema, metres):
    """A wall 4 m long and 3 m high with a hole for a door 0.9 by 2.1 m, by the library's own calls."""
    file = ifcopenshell.api.project.create_file(version=schema)
    person = ifcopenshell.api.owner.add_person(file)
    group = ifcopenshell.api.owner.add_organisation(file)
    user = ifcopenshell.api.owner.add_person_and_organisation(file, person=person, organisation=group)
    program = ifcopenshell.api.owner.add_application(
        file, application_developer=group, version="1", application_full_name="Else", application_identifier="else"
    )
    monkeypatch.setattr(ifcopenshell.api.owner.settings, "get_user", lambda _: user)
    monkeypatch.setattr(ifcopenshell.api.owner.settings, "get_application", lambda _: program)
    project = ifcopenshell.api.root.create_entity(file, ifc_class="IfcProject", name="Elsewhere")
    length = {"is_metric": True, "raw": "METERS"} if metres else {"is_metric": True, "raw": "MILLIMETERS"}
    ifcopenshell.api.unit.assign_unit(file, length=length)
    model = ifcopenshell.api.context.add_context(file, context_type="Model")
    body = ifcopenshell.api.context.add_context(
        file, context_type="Model", context_identifier="Body", target_view="MODEL_VIEW", parent=model
    )
    site, building, storey = (
        ifcopenshell.api.root.create_entity(file, ifc_class=kind, name=kind[3:])
        for kind in ("IfcSite", "IfcBuilding", "IfcBuildingStorey")
    )
    for above, below in ((project, site), (site, building), (building, storey)):
        ifcopenshell.api.aggregate.assign_object(file, products=[below], relating_object=above)
    wall = ifcopenshell.api.root.create_entity(file, ifc_class="IfcWall", name="Long wall")
    shape = ifcopenshell.api.geometry.add_wall_representation(file, context=body, length=4, height=3, thickness=0.2)
    ifcopenshell.api.geometry.assign_representation(file, product=wall, representation=shape)
    place = np.eye(4)
    place[:2, :2] = [[0, -1], [1, 0]]
    place[:3, 3] = 2, 1, 0
    ifcopenshell.api.geometry.edit_object_placement(file, product=wall, matrix=place)
    opening = ifcopenshell.api.root.create_entity(file, ifc_class="IfcOpeningElement", name="Way")
    hole = ifcopenshell.api.geometry.add_wall_representation(file, context=body, length=0.9, height=2.1, thickness=0.4)
    ifcopenshell.api.geometry.assign_representation(file, product=opening, representation=hole)
    at = np.eye(4)
    at[:3, 3] = 1.5, -0.1, 0
    ifcopenshell.api.geometry.edit_object_placement(file, product=opening, matrix=place @ at)
    ifcopenshell.api.feature.add_feature(file, feature=opening, element=wall)
    door = ifcopenshell.api.root.create_entity(file, ifc_class="IfcDoor", name="Side door")
    scale = 1 if metres else 1000
    door.OverallWidth, door.OverallHeight = 0.88 * scale, 2.09 * scale
    ifcopenshell.api.geometry.edit_object_placement(file, product=door, matrix=place @ at)
    ifcopenshell.api.feature.add_filling(file, opening=opening, element=door)
    ifcopenshell.api.spatial.assign_container(file, products=[wall, door], relating_structure=storey)
    slab = ifcopenshell.api.root.create_entity(file, ifc_class="IfcSlab", name="Landing")
    flat = ifcopenshell.api.geometry.add_slab_representation(
        file, context=body, depth=0.2, polyline=[(0.0, 0.0), (3.0, 0.0), (3.0, 1.0), (1.0, 1.0), (1.0, 2.0), (0.0, 2.0)]
    )
    ifcopenshell.api.geometry.assign_representation(file, product=slab, representation=flat)
    at = np.eye(4)
    at[:3, 3] = 5, 0, 1
    ifcopenshell.api.geometry.edit_object_placement(file, product=slab, matrix=at)
    ifcopenshell.api.spatial.assign_container(file, products=[slab], relating_structure=storey)
    wedge = ifcopenshell.api.root.create_entity(file, ifc_class="IfcWall", name="Wedge")
    pointed = ifcopenshell.api.geometry.add_slab_representation(
        file, context=body, depth=2.0, polyline=[(0.0, 0.0), (3.0, 0.0), (1.0, 1.0)]
    )
    ifcopenshell.api.geometry.assign_representation(file, product=wedge, representation=pointed)
    ifcopenshell.api.geometry.edit_object_placement(file, product=wedge, matrix=np.eye(4))
    ifcopenshell.api.spatial.assign_container(file, products=[wedge], relating_structure=storey)
    return file.to_string().encode()


@pytest.mark.parametrize("schema", ["IFC4", "IFC2X3"])
@pytest.mark.parametrize("metres", [True, False])
def test_another_librarys_wall_with_a_door(monkeypatch, schema, metres):
    found = read_here(made_elsewhere(monkeypatch, schema, metres))
    assert found.left == ["Wall “Wedge”: it is not straight, nor a band of one thickness."]
    (wall,) = found.site["walls"]
    told = {name: float(wall[name]) for name in ("x", "y", "length", "height", "thickness")}
    assert told == pytest.approx({"x": 2000, "y": 1000, "length": 4000, "height": 3000, "thickness": 200}, abs=MM)
    assert wall["angle"] == pytest.approx(90)
    (slab,) = found.site["plates"]
    assert {(round(float(one["x"]), 3), round(float(one["y"]), 3)) for one in slab["corners"]} == {
        (5000, 0), (8000, 0), (8000, 1000), (6000, 1000), (6000, 2000), (5000, 2000)
    }  # fmt: skip
    assert (float(slab["level"]), float(slab["thickness"])) == pytest.approx((1200, 200), abs=MM)
    (placed,) = found.site["placements"]
    assert [float(placed[name]) for name in ("offset", "sill", "width", "height")] == pytest.approx(
        [1500, 0, 900, 2100], abs=MM
    )
    built = build_scene(read_site(found.site))
    assert built.refused == ()
    unit = built.units[placed["id"]]
    assert unit.document.name == "Side door"
    assert float(unit.layout.overall.width) == pytest.approx(890, abs=10)


SHIPPED = sorted(Path(ifcopenshell.__file__).parent.rglob("*.ifc"))
"""Files that the library ships to try readers with: whole ones, and each kind of broken one."""


def test_files_that_the_library_ships_are_read_or_refused_in_words():
    assert len(SHIPPED) > 20
    for path in SHIPPED:
        try:
            found = read_here(path.read_bytes())
        except Refusal as refusal:
            assert refusal.message, path.name
            assert refusal.remedy, path.name
        else:
            assert build_scene(read_site(found.site)).refused == (), path.name


# --- broken and hostile files


def test_a_process_of_its_own_says_the_same(handed):
    content = write_ifc("Ferry hut", handed)
    assert READERS["ifc"].understood(content, {}) == read_here(content)
    with pytest.raises(Refusal, match="no IFC"):
        READERS["ifc"].understood(b"<svg/>", {})


def test_a_file_cut_off_anywhere_is_refused_or_read(handed):
    content = write_ifc("Ferry hut", handed)
    for share in (0.1, 0.9):
        try:
            found = READERS["ifc"].understood(content[: int(len(content) * share)], {})
        except Refusal as refusal:
            assert refusal.remedy
        else:
            assert found.site["walls"]


@pytest.mark.parametrize(
    "content",
    [
        b"",
        b"ISO-10303-21;",
        b"ISO-10303-21;HEADER;ENDSEC;DATA;ENDSEC;END-ISO-10303-21;",
        b"<svg/>",
        b"ISO-10303-21;" + bytes(100_000),
        b"ISO-10303-21;\nHEADER;\nFILE_SCHEMA(('IFC4'));\nENDSEC;\nDATA;\n#1=IFCWALL(#1,#1,#1,#1,#1,#1,#1,#1,#1);\nENDSEC;",
    ],
)
def test_what_is_no_building_is_refused(content):
    with pytest.raises(Refusal) as refusal:
        read_here(content)
    assert refusal.value.message
    assert refusal.value.remedy


def test_numbers_gone_wild_are_refused_or_read(handed):
    """Numbers of a file replaced by absurd ones: never anything but a refusal, or a site that is told."""
    lines = write_ifc("Ferry hut", handed).decode().splitlines()
    random_ = random.Random(5)
    for absurd in ("1.E308", "0."):
        wild = [*lines]
        for index in random_.sample(range(20, len(lines)), 40):
            if "IFCCARTESIANPOINT(" in wild[index]:
                head, _, _ = wild[index].partition("((")
                wild[index] = f"{head}(({absurd},{absurd},{absurd}));"
        try:
            found = READERS["ifc"].understood("\n".join(wild).encode(), {})
        except Refusal as refusal:
            assert refusal.remedy
        else:
            assert found.site["walls"]
