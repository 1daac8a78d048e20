"""Models that were made elsewhere are taken in as they are: glTF and OBJ that this test writes byte by byte."""

from __future__ import annotations

import io
import json
import re
import struct
import time
from base64 import b64decode, b64encode

import numpy as np
import pytest
import trimesh

from ashfell.core.audit.site import audit_scene
from ashfell.core.base.document import read
from ashfell.core.base.refusal import Refusal
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.core.solid import meshes
from ashfell.formats.glb import write_scene
from ashfell.services.reading.mesh import read_here
from ashfell.services.reading.options import MeshOptions
from ashfell.services.reading.readers import READERS, reader_of

pytestmark = pytest.mark.django_db

BOX = [(x, y, z) for x in (0, 1) for y in (0, 1) for z in (0, 1)]
SIDES = [(0, 1, 3, 2), (4, 6, 7, 5), (0, 4, 5, 1), (2, 3, 7, 6), (0, 2, 6, 4), (1, 5, 7, 3)]
TRIANGLES = [three for a, b, c, d in SIDES for three in ((a, b, c), (a, c, d))]


def obj(size=(2, 3, 1), at=(0, 0, 0), sides=SIDES):
    """A box of a size (width, height, depth) as a modeller with y up writes it."""
    corners = [[own * much + off for own, much, off in zip(corner, size, at, strict=True)] for corner in BOX]
    lines = [f"v {x} {y} {z}" for x, y, z in corners] + ["f " + " ".join(str(k + 1) for k in side) for side in sides]
    return ("\n".join(lines) + "\n").encode()


def gltf(nodes, materials=(), size=(2, 3, 1), embedded=True, triangles=TRIANGLES):
    """A scene of boxes; ``nodes`` are glTF nodes of mesh 0, which has the first material."""
    points = np.array([[own * much for own, much in zip(corner, size, strict=True)] for corner in BOX], "<f4")
    index = np.array(triangles, "<u2")
    binary = points.tobytes() + index.tobytes()
    primitive = {"attributes": {"POSITION": 0}, "indices": 1} | ({"material": 0} if materials else {})
    told = {
        "asset": {"version": "2.0"},
        "scene": 0,
        "scenes": [{"nodes": list(range(len(nodes)))}],
        "nodes": nodes,
        "meshes": [{"primitives": [primitive]}],
        "materials": list(materials),
        "accessors": [
            {
                "bufferView": 0,
                "componentType": 5126,
                "count": 8,
                "type": "VEC3",
                "min": points.min(axis=0).tolist(),
                "max": points.max(axis=0).tolist(),
            },
            {"bufferView": 1, "componentType": 5123, "count": index.size, "type": "SCALAR"},
        ],
        "bufferViews": [
            {"buffer": 0, "byteOffset": 0, "byteLength": 96},
            {"buffer": 0, "byteOffset": 96, "byteLength": index.nbytes},
        ],
        "buffers": [{"byteLength": len(binary)}],
    }
    if not materials:
        del told["materials"]
    if embedded:
        told["buffers"][0]["uri"] = "data:application/octet-stream;base64," + b64encode(binary).decode()
        return json.dumps(told).encode()
    head = json.dumps(told).encode()
    head += b" " * (-len(head) % 4)
    binary += b"\0" * (-len(binary) % 4)
    chunks = struct.pack("<I4s", len(head), b"JSON") + head + struct.pack("<I4s", len(binary), b"BIN\0") + binary
    return struct.pack("<4sII", b"glTF", 2, 12 + len(chunks)) + chunks


def taken(name, content, **options):
    """What is understood of a file, here and not in a process of its own."""
    assert reader_of(name, content[:64], len(content)).key == "model"
    understood = read_here(content, read(MeshOptions, options))
    held = {key: b64decode(one) for key, one in understood.images.items()}
    meshes.mesh.offer(held.get)
    return understood


def one_of(understood):
    (own,) = understood.site["surroundings"]
    return own


def test_an_obj_stands_where_it_does_in_its_file():
    """2 wide, 3 high, 1 deep in metres, from 10 to 12 along x, from 4 to 7 up, from -6 to -5 along z, which is towards
    who looks: from 5 to 6 into the plan."""
    understood = taken("boat.obj", obj(at=(10, 4, -6)), unit="m")
    own = one_of(understood)
    assert (own["x"], own["y"], own["level"]) == ("11000.0", "5500.0", "4000.0")
    assert (own["width"], own["depth"], own["height"]) == ("2000.0", "1000.0", "3000.0")
    scene = build_scene(read_site(understood.site))
    assert scene.refused == ()
    assert audit_scene(scene) == []
    points = np.concatenate([part.solid.vertices for part in scene.parts])
    assert points.min(axis=0) == pytest.approx([10000, 5000, 4000], abs=0.1)
    assert points.max(axis=0) == pytest.approx([12000, 6000, 7000], abs=0.1)
    assert sum(part.solid.volume for part in scene.parts) == pytest.approx(6e9, rel=1e-6)
    (part,) = scene.parts
    assert len(part.solid.topology.first_triangles) == 6  # each side is one face


def test_where_an_obj_says_no_unit_one_is_taken_that_gives_a_usual_size():
    for scale, unit in ((1, "m"), (1000, "mm")):
        understood = taken("box.obj", obj(size=(20 * scale, 30 * scale, 10 * scale)))
        assert understood.unit == unit
        assert float(one_of(understood)["height"]) == pytest.approx(30000)
        assert any(f"it is read in {unit}" in words for words in understood.noted)
    assert float(one_of(taken("box.obj", obj(), up="z"))["height"]) == pytest.approx(1000)
    assert float(one_of(taken("box.obj", obj(), unit="ft"))["height"]) == pytest.approx(3 * 304.8, abs=0.1)


@pytest.mark.parametrize("embedded", [True, False])
def test_gltf_is_in_metres_with_nodes_placed_and_colours_linear(embedded):
    """Two of a box, one moved by 5 m and twice as large; the colour 0.2158 is #808080 (IEC 61966-2-1)."""
    material = {"pbrMetallicRoughness": {"baseColorFactor": [0.2158, 0.2158, 0.2158, 1], "metallicFactor": 0}}
    nodes = [{"mesh": 0}, {"mesh": 0, "translation": [5, 0, 0], "scale": [2, 2, 2]}]
    understood = taken("two.gltf" if embedded else "two.glb", gltf(nodes, [material], embedded=embedded))
    own = one_of(understood)
    assert (own["width"], own["height"]) == ("9000.0", "6000.0")
    ((key, finish),) = understood.site["finishes"].items()
    # Its reader holds colours as bytes: 0.2158 * 255 is 55.03, and 55 of 255 is #808080 again.
    assert finish["colour"] == "#808080"
    scene = build_scene(read_site(understood.site))
    assert {part.finish for part in scene.parts} == {key}
    assert sum(part.solid.volume for part in scene.parts) == pytest.approx((6 + 48) * 1e9, rel=1e-6)


def test_metal_glass_and_white_become_finishes_that_can_be():
    def finish(**own):
        material = {"pbrMetallicRoughness": own, "alphaMode": "BLEND"}
        (found,) = taken("one.gltf", gltf([{"mesh": 0}], [material])).site["finishes"].values()
        return found

    assert finish(metallicFactor=1, roughnessFactor=0.3) | {"name": ""} == {
        "name": "",
        "kind": "metal",
        "colour": "#ffffff",
        "roughness": 0.3,
        "metallic": 1.0,
    }
    assert finish(baseColorFactor=[0.1, 0.2, 0.2, 0.2], metallicFactor=0)["transmission"] == 1.0
    white = finish(metallicFactor=0)
    assert white["kind"] == "paint"
    assert white["colour"] < "#ffffff"
    site = {"finishes": {"white": white}}
    assert read_site(site).finishes["white"].reflectance == pytest.approx(0.9, abs=0.01)


def test_a_model_is_scaled_turned_and_finished():
    understood = taken("box.obj", obj(), unit="m")
    own = one_of(understood)
    for change, size in (({"height": "6 m"}, (4000, 2000, 6000)), ({"turn": 90}, (1000, 2000, 3000))):
        scene = build_scene(read_site(understood.site | {"surroundings": [own | change]}))
        points = np.concatenate([part.solid.vertices for part in scene.parts])
        assert np.ptp(points, axis=0) == pytest.approx(size, abs=0.1)
    painted = own | {"as_brought": False, "finish": "river-brick"}
    scene = build_scene(read_site(understood.site | {"surroundings": [painted]}))
    assert {part.finish for part in scene.parts} == {"river-brick"}


def test_an_open_model_is_handed_over_and_read_by_others():
    """Without its top: the audit asks nothing of it, and the file has ten triangles at the places of the model."""
    understood = taken("open.obj", obj(at=(3, 0, 0), sides=[*SIDES[:3], *SIDES[4:]]), unit="m")
    scene = build_scene(read_site(understood.site))
    assert audit_scene(scene) == []
    content = write_scene("Beside", scene, read_site(understood.site).finishes)
    found = trimesh.load(io.BytesIO(content), file_type="glb", force="mesh")
    assert len(found.faces) == 10
    assert found.bounds[0] == pytest.approx([3, 0, 0], abs=1e-4)
    assert found.bounds[1] == pytest.approx([5, 3, 1], abs=1e-4)


def test_a_mesh_that_is_not_held_is_told_and_nothing_else_is_lost():
    wall = {"id": "w", "length": "4 m"}
    lost = {"id": "m", "kind": "model", "mesh": "a" * 64}
    scene = build_scene(read_site({"walls": [wall], "surroundings": [lost]}))
    assert [(place, refusal.entry) for place, refusal in scene.refused] == [("surroundings.m", "mesh")]
    assert [part for part in scene.parts if part.role == "wall"]
    for wrong in ({"kind": "model"}, {"kind": "tree", "mesh": "a" * 64}):
        with pytest.raises(Refusal, match="mesh"):
            read_site({"surroundings": [{"id": "m"} | wrong]})


MANY = b"v 0 0 0\nv 1 0 0\nv 0 1 0\n" + b"f 1 2 3\n" * 400_000
BOMB = gltf([{"mesh": 0, "translation": [k, 0, 0]} for k in range(30_000)])


ELSEWHERE = re.sub(rb"data:[^\"]*", b"file:///etc/hostname", gltf([{"mesh": 0}]))


@pytest.mark.parametrize(
    ("name", "content", "words"),
    [
        ("cut.glb", gltf([{"mesh": 0}], embedded=False)[:200], "no glTF that can be read"),
        ("nothing.obj", b"# nothing\n", "no surface|can be read"),
        ("noise.obj", bytes(range(256)) * 40, "no surface|can be read"),
        ("noise.gltf", b'{"asset": ' + b"[" * 80_000, "can be read"),
        ("elsewhere.gltf", ELSEWHERE, "can be read"),
        ("many.obj", MANY, "has 400000 triangles; at most 300000"),
        ("bomb.gltf", BOMB, "at most 300000"),
        ("lost.gltf", gltf([{"mesh": 0}], triangles=[(0, 1, 900)]), "no surface|can be read"),
        ("nan.obj", b"v nan 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "no surface|can be read"),
        ("flat.obj", b"v 0 0 0\nv 1 0 0\nv 1 0 1\nf 1 2 3\n", "another unit, or another axis"),
        ("vast.obj", obj(size=(1e9, 1e9, 1e9)), "another unit"),
    ],
)
def test_what_is_no_model_is_refused_in_words(name, content, words):
    with pytest.raises(Refusal, match=words):
        taken(name, content)


def test_a_process_of_its_own_reads_it_with_limits():
    """The same document as here; and what would take long is refused before it does."""
    content = obj(at=(10, 4, -6))
    own = reader_of("boat.obj", content[:64], len(content)).understood(content, {"unit": "m"})
    assert own.as_data() == taken("boat.obj", content, unit="m").as_data()
    start = time.monotonic()
    for name, hostile in (("bomb.gltf", BOMB), ("many.obj", MANY)):
        with pytest.raises(Refusal, match="at most 300000"):
            reader_of(name, hostile[:64], len(hostile)).understood(hostile, {})
    assert time.monotonic() - start < 2 * READERS["model"].seconds


@pytest.mark.parametrize("content", [b"", b"x", meshes.packed([])])
def test_bytes_that_are_no_mesh_are_refused(content):
    with pytest.raises(Refusal, match="not as it was kept"):
        meshes.unpacked(content)


def test_a_mesh_is_the_same_when_it_is_unpacked():
    understood = taken("box.obj", obj(), unit="m")
    (content,) = understood.images.values()
    held = meshes.unpacked(b64decode(content))
    assert meshes.packed(held.pieces) == b64decode(content)
    assert held.size.tolist() == pytest.approx([2000, 1000, 3000])
    cut = b64decode(content)[:-20]
    with pytest.raises(Refusal):
        meshes.unpacked(cut)
