"""Units of two tones read back by libraries that are not ours, and traced from both sides."""

import io
import zipfile

import ifcopenshell
import ifcopenshell.validate
import numpy as np
import pytest
import trimesh
from pxr import Usd, UsdGeom, UsdShade

from ashfell.core.base.document import read
from ashfell.core.base.lengths import Style
from ashfell.core.finish import LIBRARY
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.core.unit.document.unit import read_unit
from ashfell.core.unit.make import made
from ashfell.formats import glb
from ashfell.formats.ifc import write_ifc
from ashfell.formats.model import of_unit
from ashfell.formats.obj import write_obj
from ashfell.formats.pdf_sheets import unit_page
from ashfell.formats.stl import write_stl
from ashfell.formats.usd import write_usd
from ashfell.pictures.settings import PictureSettings
from ashfell.pictures.trace import Tracer

UNIT = {"width": "1200", "height": "1000", "finishes": {"frame": "ember-paint"}, "inner": {"frame": "navy-paint"}}
GLASS = 36.0
"""How far behind the outer face the middle of the glass is, mm: usual glass of 24 set back by 24."""


@pytest.fixture(scope="module")
def unit():
    return made(read_unit(UNIT))


def frame_area(unit):
    return sum(
        trimesh.Trimesh(part.solid.vertices, part.solid.triangles).area for part in unit.parts if part.role == "frame"
    )


@pytest.mark.parametrize("level", ["all", "seen", "light"])
def test_glb_has_a_primitive_for_each_finish(unit, level):
    scene = trimesh.load(io.BytesIO(glb.write_unit(unit, level=level)), file_type="glb")
    found = {mesh.visual.material.name: mesh for mesh in scene.geometry.values()}
    outer, inner = (found[key] for key in ("ember-paint", "navy-paint"))
    assert outer.bounds[0][2] == pytest.approx(-GLASS / 1000, abs=1e-6)
    assert inner.bounds[1][2] == pytest.approx(-GLASS / 1000, abs=1e-6)
    if level == "all":
        assert (outer.area + inner.area) * 1e6 == pytest.approx(frame_area(unit), rel=1e-5)


def test_obj_and_usd_have_both(unit, tmp_path):
    model = of_unit(unit)
    with zipfile.ZipFile(io.BytesIO(write_obj(model))) as archive:
        text = archive.read(next(name for name in archive.namelist() if name.endswith(".obj"))).decode()
    assert {"usemtl ember-paint", "usemtl navy-paint"} <= set(text.splitlines())
    path = tmp_path / "two.usdz"
    path.write_bytes(write_usd(model))
    areas: dict[str, float] = {}
    stage = Usd.Stage.Open(str(path))
    for prim in stage.Traverse(Usd.TraverseInstanceProxies()):
        if prim.IsA(UsdGeom.Mesh):
            material, _ = UsdShade.MaterialBindingAPI(prim).ComputeBoundMaterial()
            mesh = UsdGeom.Mesh(prim)
            corners = np.array(mesh.GetFaceVertexIndicesAttr().Get()).reshape(-1, 3)
            area = trimesh.Trimesh(np.array(mesh.GetPointsAttr().Get()), corners, process=False).area * 1e6
            name = material.GetPrim().GetName()
            areas[name] = areas.get(name, 0.0) + area
    assert areas["ember_paint"] + areas["navy_paint"] == pytest.approx(frame_area(unit), rel=1e-4)


def test_stl_is_closed_all_the_same(unit):
    mesh = trimesh.load(io.BytesIO(write_stl(of_unit(unit))), file_type="stl")
    assert mesh.volume == pytest.approx(sum(part.solid.volume for part in unit.parts), rel=1e-4)


def test_ifc_has_both_as_styles_and_materials():
    wall = {"id": "a", "length": "4 m", "thickness": "300", "height": "3 m"}
    placed = {"id": "p", "wall": "a", "unit": "w", "offset": "900", "sill": "900"}
    scene = build_scene(read_site({"walls": [wall], "units": {"w": UNIT}, "placements": [placed]}))
    file = ifcopenshell.file.from_string(write_ifc("Two", scene).decode())
    logged = ifcopenshell.validate.json_logger()
    ifcopenshell.validate.validate(file, logged)
    assert logged.statements == []
    (kind,) = file.by_type("IfcWindowType")
    items = kind.RepresentationMaps[0].MappedRepresentation.Items
    areas: dict[str, float] = {}
    for item in items:
        points = np.array(item.Coordinates.CoordList)
        mesh = trimesh.Trimesh(points, np.array(item.CoordIndex) - 1, process=False)
        name = item.StyledByItem[0].Styles[0].Name
        areas[name] = areas.get(name, 0.0) + mesh.area
    both = [areas[LIBRARY[key].name] for key in ("ember-paint", "navy-paint")]
    assert sum(both) == pytest.approx(frame_area(scene.units["p"]), rel=1e-6)
    (told,) = [one.RelatingMaterial for one in file.by_type("IfcRelAssociatesMaterial") if kind in one.RelatedObjects]
    names = {one.Material.Name for one in told.MaterialConstituents}
    assert {LIBRARY[key].name for key in ("ember-paint", "navy-paint")} <= names


def test_a_sheet_names_both(unit):
    text = str(unit_page(unit, Style(), dict(LIBRARY)))
    assert LIBRARY["ember-paint"].name in text
    assert LIBRARY["navy-paint"].name in text


@pytest.mark.parametrize(
    ("y", "seen", "unseen"), [(-4.0, "ember-paint", "navy-paint"), (4.0, "navy-paint", "ember-paint")]
)
def test_each_side_is_traced_in_its_finish(unit, y, seen, unseen):
    """What the camera sees first of the frame, from outside and from inside: nothing of the other side."""
    camera = {"eye": [0.6, y, 0.5], "target": [0.6, 0, 0.5], "lens": 60}
    settings = read(PictureSettings, {"camera": camera, "width": 96, "height": 80})
    albedo = Tracer(of_unit(unit).parts(), settings).guides()[..., :3].reshape(-1, 3)
    near = {key: (np.abs(albedo - LIBRARY[key].linear).max(axis=1) < 0.01).sum() for key in (seen, unseen)}
    assert near[seen] > 100
    assert near[unseen] == 0
