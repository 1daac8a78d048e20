"""OBJ, STL and USD read back by libraries that are not ours: where parts stand, how large they are, their finish."""

import io
import zipfile

import numpy as np
import pytest
import trimesh
from pxr import Sdf, Usd, UsdGeom, UsdShade, UsdUtils

from ashfell.core.base.refusal import Refusal
from ashfell.core.unit.document.unit import read_unit
from ashfell.core.unit.make import made
from ashfell.formats.archive import packed, stored
from ashfell.formats.model import of_scene, of_unit
from ashfell.formats.obj import write_obj
from ashfell.formats.stl import write_stl, write_stl_parts
from ashfell.formats.usd import write_usd
from tests.formats.building import SITE, scene


@pytest.fixture(scope="module")
def built():
    return scene()


@pytest.fixture(scope="module")
def model(built):
    return of_scene("Ferry hut", built)


def bounds_of(built, key=None):
    points = np.concatenate(
        [part.solid.vertices for part in built.parts if key is None or part.id.partition("/")[0] == key]
    )
    return np.array([points.min(axis=0), points.max(axis=0)])


def volume_of(built, key=None):
    return sum(part.solid.volume for part in built.parts if key is None or part.id.partition("/")[0] == key)


# --- STL


def test_stl_is_millimetres_and_closed(built, model):
    read = trimesh.load(io.BytesIO(write_stl(model)), file_type="stl")
    assert np.abs(read.bounds - bounds_of(built)).max() < 1e-2
    assert read.volume == pytest.approx(volume_of(built), rel=1e-5)


def test_stl_for_a_print_is_smaller(built, model):
    read = trimesh.load(io.BytesIO(write_stl(model, 1 / 50)), file_type="stl")
    assert np.abs(read.bounds - bounds_of(built) / 50).max() < 1e-2


def test_stl_part_by_part(built, model):
    with zipfile.ZipFile(io.BytesIO(write_stl_parts(model))) as archive:
        names = archive.namelist()
        assert len(names) == len(built.parts)
        pieces = [trimesh.load(io.BytesIO(archive.read(name)), file_type="stl") for name in names[:40]]
    assert all(piece.is_watertight and piece.volume > 0 for piece in pieces)


# --- OBJ


@pytest.fixture(scope="module")
def obj(model):
    with zipfile.ZipFile(io.BytesIO(write_obj(model))) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def test_more_than_an_obj_may_hold_is_refused_with_its_number(model, obj, monkeypatch):
    monkeypatch.setattr("ashfell.formats.obj.MOST_TRIANGLES", 1000)
    count = obj["Ferry_hut.obj"].count(b"\nf ")
    with pytest.raises(Refusal) as told:
        write_obj(model)
    assert f"{count:,} triangles; at most 1,000" in told.value.message
    assert "GLB" in told.value.remedy


def test_obj_is_metres_with_y_up(built, obj):
    read = trimesh.load(io.BytesIO(obj["Ferry_hut.obj"]), file_type="obj", force="mesh", process=False)
    (left, front, low), (right, back, high) = bounds_of(built) / 1000
    assert np.abs(read.bounds - np.array([(left, low, -back), (right, high, -front)])).max() < 1e-5


def test_obj_is_grouped_and_each_group_closed_outwards(built, obj):
    """A mirror image is turned inside out unless its triangles run the other way."""
    text = obj["Ferry_hut.obj"].decode()
    assert {line.split()[1] for line in text.splitlines() if line.startswith("o ")} >= {"w1", "d2", "m1", "front"}
    points, triangles, now = [], {}, ""
    for line in text.splitlines():
        word, *rest = line.split()
        if word == "v":
            points.append([float(value) for value in rest])
        elif word == "o":
            now = rest[0]
        elif word == "f":
            triangles.setdefault(now, []).append([int(corner.partition("/")[0]) - 1 for corner in rest])
    for key in ("d1", "d2", "m1", "front"):
        read = trimesh.Trimesh(np.array(points), np.array(triangles[key]), process=False)
        assert read.volume == pytest.approx(volume_of(built, key) / 1e9, rel=1e-4), key


def test_obj_names_materials_that_are_there(model, obj):
    used = {line.split()[1] for line in obj["Ferry_hut.obj"].decode().splitlines() if line.startswith("usemtl")}
    material = obj["Ferry_hut.mtl"].decode()
    named = {line.split()[1] for line in material.splitlines() if line.startswith("newmtl")}
    assert used == named == set(model.finishes)
    maps = {line.split()[1] for line in material.splitlines() if line.startswith("map_Kd")}
    assert maps <= set(obj)
    assert maps


def test_texture_coordinates_are_tiles(model, obj):
    """A brick wall 8 m long shows 8 m divided by the width of its tile."""
    text = obj["Ferry_hut.obj"].decode()
    block = text[text.index("o front") :].partition("\no ")[0]
    key = model.definitions["wall.front"][0].finish
    block = block[block.index(f"usemtl {key}") :].partition("usemtl")[2].partition("usemtl")[0]
    across = np.array([float(line.split()[1]) for line in block.splitlines() if line.startswith("vt ")])
    texture = model.finishes[key].texture
    assert np.ptp(across) >= 8 / (float(texture.width.mm) / 1000) - 1e-3


# --- USD


@pytest.fixture(scope="module")
def usd(model, tmp_path_factory):
    path = tmp_path_factory.mktemp("usd") / "hut.usdz"
    path.write_bytes(write_usd(model))
    return path


@pytest.fixture(scope="module")
def stage(usd):
    return Usd.Stage.Open(str(usd))


def test_usd_says_metres_and_z_up(stage):
    assert UsdGeom.GetStageMetersPerUnit(stage) == 1
    assert UsdGeom.GetStageUpAxis(stage) == "Z"
    assert stage.GetDefaultPrim().GetName() == "Site"


def test_usd_stands_where_the_parts_do(built, stage):
    cache = UsdGeom.XformCache()
    for key in ("w1", "d2", "m1", "front", "slope", "b1", "deck"):
        found = []
        for prim in Usd.PrimRange(stage.GetPrimAtPath(f"/Site/{key}"), Usd.TraverseInstanceProxies()):
            if prim.IsA(UsdGeom.Mesh):
                points = np.array(UsdGeom.Mesh(prim).GetPointsAttr().Get(), dtype=float)
                matrix = np.array(cache.GetLocalToWorldTransform(prim))
                found.append(points @ matrix[:3, :3] + matrix[3, :3])
                extent = np.array(UsdGeom.Mesh(prim).GetExtentAttr().Get())
                assert np.abs(extent - [points.min(axis=0), points.max(axis=0)]).max() < 1e-5
        box = np.concatenate(found)
        assert np.abs(np.array([box.min(axis=0), box.max(axis=0)]) - bounds_of(built, key) / 1000).max() < 1e-5, key


def test_usd_has_a_prototype_for_each_definition(built, stage):
    instances = [prim for prim in stage.GetDefaultPrim().GetChildren() if prim.IsInstance()]
    shown = [one for one in built.instances if built.definitions[one.definition]]
    assert len(instances) == len(shown)
    assert len(stage.GetPrototypes()) == len({one.definition for one in shown})


def test_every_part_is_a_mesh_in_its_finish(built, stage):
    meshes = [prim for prim in stage.Traverse(Usd.TraverseInstanceProxies()) if prim.IsA(UsdGeom.Mesh)]
    assert len(meshes) == len(built.parts)
    for prim in meshes:
        material, _ = UsdShade.MaterialBindingAPI(prim).ComputeBoundMaterial()
        surface = material.ComputeSurfaceSource()[0]
        assert surface.GetIdAttr().Get() == "UsdPreviewSurface"
        mesh = UsdGeom.Mesh(prim)
        ok, reason = UsdGeom.Mesh.ValidateTopology(
            mesh.GetFaceVertexIndicesAttr().Get(), mesh.GetFaceVertexCountsAttr().Get(), len(mesh.GetPointsAttr().Get())
        )
        assert ok, reason


def test_textures_are_in_the_package(usd):
    package = Sdf.ZipFile.Open(str(usd)) if hasattr(Sdf, "ZipFile") else Usd.ZipFile.Open(str(usd))
    names = package.GetFileNames()
    assert names[0] == "site.usda"
    for name in names:
        told = package.GetFileInfo(name)
        assert told.dataOffset % 64 == 0, name
        assert told.compressionMethod == 0
    layers, assets, missing = UsdUtils.ComputeAllDependencies(Sdf.AssetPath(str(usd)))
    assert missing == []
    assert {str(one).rpartition("[")[2].rstrip("]") for one in assets} == set(names) - {"site.usda"}
    assert len(layers) == 1


def test_the_same_model_is_the_same_bytes(model):
    again = of_scene("Ferry hut", scene())
    for write in (write_obj, write_usd, write_stl):
        assert write(model) == write(again)


# --- units, storeys, refusals


def test_a_unit_stands_upright_by_itself():
    unit = made(read_unit(SITE["units"]["window"]))
    read = trimesh.load(io.BytesIO(write_stl(of_unit(unit))), file_type="stl")
    (left, front, low), (right, back, high) = read.bounds
    assert (right - left, high - low) == pytest.approx((1500, 1200), abs=1e-2)
    assert back - front == pytest.approx(float(unit.document.frame.depth.mm), abs=0.1)
    assert front == pytest.approx(0, abs=1e-3)


def test_of_a_site_some_is_written(built):
    some = of_scene("Loft", built, only=frozenset({"above", "t1"}))
    assert [one.name for one in some.placed] == ["above", "t1"]
    assert set(some.definitions) == {"wall.above", "unit.window"}


@pytest.mark.parametrize("write", [write_obj, write_usd])
def test_a_finish_that_is_not_known_is_refused(write):
    placed = [SITE["placements"][0] | {"finishes": {"frame": "no-such"}}]
    with pytest.raises(Refusal, match="no-such"):
        write(of_scene("Hut", scene(placements=placed)))


@pytest.mark.parametrize("name", ['a "quoted" one', "back\\slash", "new\nline", "漢字", "1st", ""])
def test_names_of_any_letters_stand_in_usd(name, tmp_path):
    path = tmp_path / "x.usdz"
    site = scene(name=name or "x", placements=[SITE["placements"][0] | {"id": "1-2"}], roofs=[])
    path.write_bytes(write_usd(of_scene(name or "x", site)))
    stage = Usd.Stage.Open(str(path))
    assert stage.GetDefaultPrim().GetDisplayName() == (name or "x").replace("\n", " ")
    assert stage.GetPrimAtPath("/Site/_1_2")


def test_archives_are_the_same_for_the_same_content():
    files = {"a/b.txt": b"one", "c.bin": bytes(100)}
    for make in (packed, stored):
        assert make(files) == make(dict(files))
        with zipfile.ZipFile(io.BytesIO(make(files))) as archive:
            assert {name: archive.read(name) for name in archive.namelist()} == files
            assert archive.testzip() is None
