"""GLB read back by another mesh library."""

import io

import numpy as np
import pytest
import trimesh

from ashfell.core.base.refusal import Refusal
from ashfell.core.instances import uses_of
from ashfell.core.report import sash_rows
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.core.unit import build, make, read_unit
from ashfell.formats import glb
from ashfell.services.documents import load_site
from tests.conftest import ROOM
from tests.formats.reading import Glb, content, mesh_of, volume


@pytest.fixture(scope="module")
def site():
    return read_site(load_site(ROOM))


def test_unit_comes_back_in_metres_y_up_with_its_volumes():
    unit = make(read_unit({"width": "2300", "height": "1600"}))
    parts, data = unit.parts, glb.write_unit(unit)
    scene = trimesh.load(io.BytesIO(data), file_type="glb")
    assert scene.bounds[1] - scene.bounds[0] == pytest.approx([2.3, 1.6, 0.08], abs=1e-6)
    read = {told["part"]: mesh_of(corners) for told, corners in Glb(data).parts()}
    assert all(mesh.is_watertight for mesh in read.values())
    for part in parts:
        assert read[part.id].bounds * 1000 == pytest.approx(part.solid.bounds, abs=1e-3)
    volumes = {key: mesh.volume for key, mesh in read.items()}
    assert volumes == pytest.approx({part.id: part.solid.volume / 1e9 for part in parts}, rel=1e-4)


def test_a_unit_is_one_node_one_mesh_and_a_primitive_for_each_finish():
    unit = make(read_unit({"width": "1600", "columns": {"lights": [{}, {}], "bars": ["50"]}}))
    parts, data = unit.parts, content(glb.write_unit(unit))
    assert [node.get("mesh") for node in data["nodes"]] == [0, None]
    (mesh,) = data["meshes"]
    assert len(mesh["primitives"]) == len({part.finish for part in parts})
    assert {told["part"] for told in mesh["extras"]["parts"]} == {part.id for part in parts}


def test_part_ranges_follow_each_other_and_say_what_each_part_is():
    unit = make(read_unit({"columns": {"lights": [{}, {}], "bars": ["50"]}}))
    parts, read = {part.id: part for part in unit.parts}, Glb(glb.write_unit(unit))
    for number, primitive in enumerate(read.table["meshes"][0]["primitives"]):
        own = [told for told in read.table["meshes"][0]["extras"]["parts"] if told["primitive"] == number]
        reached = 0
        for told in own:
            assert told["first"] == reached
            reached += told["count"]
            part = parts[told["part"]]
            assert (told["entry"], told["role"], told["finish"]) == (part.entry, part.role, part.finish)
            assert told.get("light", "") == part.light
        assert 3 * reached == len(read.values(primitive["indices"]))
    glass = next(told for told, _ in read.parts() if told["part"] == "glass.c2r1")
    assert glass["within"] == "c2 r1"


def test_equal_parts_are_one_definition_and_handed_ones_its_mirror_image():
    """Two casements hung on opposite sides: every stile and bead of one is that of the other, shifted or mirrored."""
    sashes = {key: {"fill": {"kind": "sash", "hand": hand}} for key, hand in (("c1r1", "left"), ("c2r1", "right"))}
    parts = build(read_unit({"width": "1600", "columns": {"lights": [{}, {}], "bars": ["50"]}, "cells": sashes}))
    definitions, uses = uses_of(parts)
    of = {use.part.id: use for use in uses}
    assert of["sash.c1r1.head"].definition == of["sash.c2r1.head"].definition
    left, right = of["sash.c1r1.left"], of["sash.c2r1.right"]
    assert left.definition == right.definition
    assert left.mirrored != right.mirrored
    assert len(definitions) < len(parts) * 0.6


def test_a_wall_is_read_back_with_its_volume_from_sixteen_bytes_a_vertex(site):
    scene = build_scene(site)
    data = glb.write_scene("Site", scene)
    read = Glb(data)
    wall = next(k for k, mesh in enumerate(read.table["meshes"]) if mesh["name"] == "wall.clubroom")
    parts = {part.id: part for part in scene.definitions["wall.clubroom"]}
    for told, corners in read.parts(wall):
        assert volume(corners) == pytest.approx(parts[told["part"]].solid.volume / 1e9, rel=1e-6)
        assert mesh_of(corners).is_watertight
    attributes = read.table["meshes"][wall]["primitives"][0]["attributes"]
    views = {read.table["accessors"][index]["bufferView"] for index in attributes.values()}
    assert [read.table["bufferViews"][view]["byteStride"] for view in views] == [16]


def test_texture_of_a_wall_is_metres_along_it_on_faces_jambs_and_sills(site):
    """On a face u and v; on a jamb and a sill the depth first, and what runs along the wall or up it second, turned a
    quarter.
    """
    read = Glb(glb.write_scene("Site", build_scene(site)))
    mesh = next(mesh for mesh in read.table["meshes"] if mesh["name"] == "wall.clubroom")
    seen = set()
    for primitive in mesh["primitives"]:
        triangles = read.values(primitive["indices"]).reshape(-1, 3)
        corners = read.values(primitive["attributes"]["POSITION"])[triangles].astype(float)
        crossed = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        looks = int(np.abs(crossed).sum(axis=0).argmax())
        laid = read.values(primitive["attributes"]["TEXCOORD_0"])
        at = read.values(primitive["attributes"]["POSITION"])
        assert laid == pytest.approx(at[:, {2: [0, 1], 0: [1, 2], 1: [2, 0]}[looks]])
        material = read.table["materials"][primitive["material"]]
        transform = material["pbrMetallicRoughness"]["baseColorTexture"]["extensions"]["KHR_texture_transform"]
        assert ("rotation" in transform) == (looks != 2)
        seen.add(looks)
    assert seen == {0, 1, 2}


def test_site_stands_upright_and_uses_each_definition_once(site):
    scene = build_scene(site)
    data = glb.write_scene("Site", scene)
    read = trimesh.load(io.BytesIO(data), file_type="glb")
    assert read.bounds == pytest.approx(np.array([[-0.15, -0.15, -5.45], [6.15, 3.2, 0.15]]), abs=1e-6)
    written = content(data)
    assert len(written["meshes"]) == len(scene.definitions)
    assert len(written["nodes"]) == len(scene.instances) + 1
    names = [node["name"] for node in written["nodes"]]
    assert set(names) == {instance.entry for instance in scene.instances} | {"Site"}


def test_two_placements_share_their_meshes(site):
    doubled = site.model_dump(mode="json")
    doubled["placements"].append(doubled["placements"][1] | {"id": "again", "offset": "3 m"})
    once, twice = (
        content(glb.write_scene("Site", build_scene(read_site(d)))) for d in (site.model_dump(mode="json"), doubled)
    )
    assert len(once["meshes"]) == len(twice["meshes"])
    assert len(twice["nodes"]) == len(once["nodes"]) + 1


def test_glass_has_transmission_and_ior_and_texture_keeps_its_real_size(site):
    materials = {m["name"]: m for m in content(glb.write_scene("Site", build_scene(site)))["materials"]}
    extensions = materials["clear-glass"]["extensions"]
    assert extensions["KHR_materials_transmission"]["transmissionFactor"] == 1
    assert extensions["KHR_materials_ior"]["ior"] == 1.52
    transform = materials["river-brick"]["pbrMetallicRoughness"]["baseColorTexture"]["extensions"][
        "KHR_texture_transform"
    ]
    assert np.abs(transform["scale"]) == pytest.approx([1 / 1.8] * 2)


def test_same_document_same_bytes(site):
    assert glb.write_scene("Site", build_scene(site)) == glb.write_scene("Site", build_scene(site))


def test_normals_are_unit_vectors_square_to_their_triangles():
    read = Glb(glb.write_unit(make(read_unit({}))))
    for primitive in read.table["meshes"][0]["primitives"]:
        triangles = read.values(primitive["indices"]).reshape(-1, 3)
        corners = read.values(primitive["attributes"]["POSITION"]).astype(float)[triangles]
        normals = read.values(primitive["attributes"]["NORMAL"])[triangles]
        assert np.linalg.norm(normals, axis=2) == pytest.approx(1, abs=1e-5)
        edge = corners[:, 1] - corners[:, 0]
        assert np.einsum("ij,ij->i", edge, normals[:, 0]) == pytest.approx(0, abs=1e-5)


def test_an_unknown_finish_is_refused():
    with pytest.raises(Refusal, match="no finish “gold-leaf”"):
        glb.write_unit(make(read_unit({"finishes": {"frame": "gold-leaf"}})))


SASHES = {
    "width": "2400",
    "frame": {"depth": "110"},
    "columns": {"lights": [{}, {}, {}], "bars": ["60", "60"]},
    "fill": {"kind": "sash", "depth": "70", "clearance": "8"},
    "cells": {
        "c2r1": {"fill": {"kind": "sash", "depth": "70", "clearance": "8", "opened": 40}},
        "c3r1": {"fill": {"kind": "sash", "depth": "70", "clearance": "8", "hand": "right", "opened": 40}},
    },
}


def test_equal_sashes_are_nodes_of_one_mesh_mirrored_where_they_are_handed():
    unit = make(read_unit(SASHES))
    read = Glb(glb.write_unit(unit))
    nodes = [node for node in read.table["nodes"] if node["name"].endswith("fill")]
    assert [node["name"] for node in nodes] == ["cells.c1r1.fill", "cells.c2r1.fill", "cells.c3r1.fill"]
    assert {node["mesh"] for node in nodes} == {1}
    assert len(read.table["meshes"]) == 2
    placed = {told["part"]: corners for told, corners in read.placed()}
    assert placed.keys() == {part.id for part in unit.parts}
    for part in unit.parts:
        corners = placed[part.id].reshape(-1, 3) * 1000
        assert [corners.min(axis=0), corners.max(axis=0)] == pytest.approx(part.solid.bounds, abs=2e-3), part.id
        assert volume(placed[part.id]) * 1e9 == pytest.approx(part.solid.volume, rel=1e-4)


def test_a_handed_sash_with_an_uneven_content_is_a_mirror_image():
    uneven = {"columns": {"lights": [{"size": "150"}, {}], "bars": ["40"]}}
    turned = {"columns": {"lights": [{}, {"size": "150"}], "bars": ["40"]}}
    sash = {"kind": "sash", "depth": "70", "clearance": "8"}
    cells = {
        "c2r1": {"fill": sash | {"hand": "right", "content": turned}},
        "c3r1": {"fill": sash | {"content": turned}},
    }
    unit = make(read_unit(SASHES | {"fill": sash | {"content": uneven}, "cells": cells}))
    rows = sash_rows(unit)
    assert [(row["of"], row["mirrored"]) for row in rows] == [
        ("c1r1.sash", False),
        ("c1r1.sash", True),
        ("c1r1.sash", True),
    ]
