"""GLB read back by another mesh library."""

import io
import json
import struct

import numpy as np
import pytest
import trimesh

from ashfell.cli import load_site
from ashfell.core.scene import build_scene
from ashfell.core.unit import build, read_unit
from ashfell.core.wall import read_site
from ashfell.formats import glb
from tests.conftest import DEMO


def content(data):
    length = struct.unpack_from("<I", data, 12)[0]
    return json.loads(data[20 : 20 + length])


@pytest.fixture(scope="module")
def site():
    return read_site(load_site(DEMO / "site.json"))


def test_unit_comes_back_in_metres_y_up_with_its_volumes():
    parts = build(read_unit({"width": "2300", "height": "1600"}))
    scene = trimesh.load(io.BytesIO(glb.write_unit("Unit", parts)), file_type="glb")
    assert scene.bounds[1] - scene.bounds[0] == pytest.approx([2.3, 1.6, 0.08], abs=1e-6)
    volumes, corners = {}, {}
    for node in scene.graph.nodes_geometry:
        matrix, name = scene.graph[node]
        mesh = scene.geometry[name].copy()
        mesh.merge_vertices(merge_tex=True, merge_norm=True)
        assert mesh.is_watertight, node
        mesh.apply_transform(matrix)
        volumes[node], corners[node] = abs(mesh.volume), mesh.bounds
    for part in parts:
        assert corners[part.id] * 1000 == pytest.approx(part.solid.bounds, abs=1e-3)
    assert volumes == pytest.approx({part.id: part.solid.volume / 1e9 for part in parts}, rel=1e-4)


def test_equal_parts_share_a_mesh_and_handed_ones_are_its_mirror_image():
    """Two casements hung on opposite sides: every stile and bead of one is that of the other, shifted or mirrored."""
    sashes = {key: {"fill": {"kind": "sash", "hand": hand}} for key, hand in (("c1r1", "left"), ("c2r1", "right"))}
    parts = build(read_unit({"width": "1600", "columns": {"lights": [{}, {}], "bars": ["50"]}, "cells": sashes}))
    data = content(glb.write_unit("Unit", parts))
    of = {node["name"]: node for node in data["nodes"] if "mesh" in node}
    assert of["sash.c1r1.head"]["mesh"] == of["sash.c2r1.head"]["mesh"]
    left, right = of["sash.c1r1.left"], of["sash.c2r1.right"]
    assert left["mesh"] == right["mesh"]
    assert left["scale"] == [-1, 1, 1]
    assert "scale" not in right
    assert len(data["meshes"]) < len(parts) * 0.6


def test_site_stands_upright_and_uses_each_definition_once(site):
    scene = build_scene(site)
    data = glb.write_scene("Site", scene)
    read = trimesh.load(io.BytesIO(data), file_type="glb")
    assert read.bounds == pytest.approx(np.array([[-0.15, -0.15, -5.45], [6.15, 3.2, 0.15]]), abs=1e-6)
    written = content(data)
    assert len(written["meshes"]) < sum(len(parts) for parts in scene.definitions.values())
    assert len({node["name"] for node in written["nodes"]}) == len(written["nodes"])


def test_two_placements_share_their_meshes(site):
    doubled = site.model_dump(mode="json")
    doubled["placements"].append(doubled["placements"][1] | {"id": "again", "offset": "3 m"})
    once, twice = (
        content(glb.write_scene("Site", build_scene(read_site(d)))) for d in (site.model_dump(mode="json"), doubled)
    )
    assert len(once["meshes"]) == len(twice["meshes"])
    assert len(twice["nodes"]) > len(once["nodes"])


def test_glass_has_transmission_and_ior_and_texture_keeps_its_real_size(site):
    materials = {m["name"]: m for m in content(glb.write_scene("Site", build_scene(site)))["materials"]}
    extensions = materials["clear-glass"]["extensions"]
    assert extensions["KHR_materials_transmission"]["transmissionFactor"] == 1
    assert extensions["KHR_materials_ior"]["ior"] == 1.52
    transform = materials["river-brick"]["pbrMetallicRoughness"]["baseColorTexture"]["extensions"][
        "KHR_texture_transform"
    ]
    assert transform["scale"] == pytest.approx([1 / 1.8] * 2)


def test_same_document_same_bytes(site):
    assert glb.write_scene("Site", build_scene(site)) == glb.write_scene("Site", build_scene(site))


def test_normals_are_unit_vectors_square_to_their_triangles():
    data = glb.write_unit("Unit", build(read_unit({})))
    table, binary = content(data), data[20 + struct.unpack_from("<I", data, 12)[0] + 8 :]

    def values(index, width):
        accessor = table["accessors"][index]
        start = table["bufferViews"][accessor["bufferView"]]["byteOffset"]
        return np.frombuffer(binary, "<f4", accessor["count"] * width, start).reshape(-1, width)

    for mesh in table["meshes"]:
        attributes = mesh["primitives"][0]["attributes"]
        corners = values(attributes["POSITION"], 3).reshape(-1, 3, 3).astype(float)
        normals = values(attributes["NORMAL"], 3).reshape(-1, 3, 3)
        assert np.linalg.norm(normals, axis=2) == pytest.approx(1, abs=1e-5)
        edge = corners[:, 1] - corners[:, 0]
        assert np.einsum("ij,ij->i", edge, normals[:, 0]) == pytest.approx(0, abs=1e-5)
