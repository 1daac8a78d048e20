"""Packed GLB, read by another library: what is in it stands where it stood."""

import io

import numpy as np
import pytest
import trimesh
from scipy.spatial import cKDTree

from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.core.unit.document.unit import read_unit
from ashfell.core.unit.make import make
from ashfell.formats.glb import write_scene, write_unit
from ashfell.formats.glb_packed import EXTENSION, STEP, packed
from tests.formats.building import scene
from tests.formats.reading import content

ROUND = {"outline": {"kind": "segmental", "rise": "150"}, "width": "1000", "height": "1200"}


def loaded(data):
    return trimesh.load(io.BytesIO(data), file_type="glb")


def shapes(data):
    """Bytes of all that is no image."""
    tree = content(data)
    views = tree["bufferViews"]
    return sum(one["byteLength"] for one in views) - sum(
        views[one["bufferView"]]["byteLength"] for one in tree["images"]
    )


@pytest.mark.parametrize("level", ["all", "light"])
def test_every_triangle_stands_where_it_stood(level):
    plain = write_scene("Hut", scene(), level=level)
    small = packed(plain)
    assert shapes(small) < shapes(plain) / (8 if level == "all" else 4)
    one, other = loaded(plain), loaded(small)
    assert set(one.geometry) == set(other.geometry)
    for name, mesh in one.geometry.items():
        found = other.geometry[name]
        assert len(found.faces) == len(mesh.faces)
        assert found.area == pytest.approx(mesh.area, rel=2e-3)
        away, _ = cKDTree(mesh.triangles_center).query(found.triangles_center)
        assert away.max() < 2 * STEP
        assert found.visual.material.name == mesh.visual.material.name
    assert other.bounds == pytest.approx(one.bounds, abs=STEP)


def test_normals_and_places_in_textures_stay():
    plain = write_unit(make(read_unit(ROUND | {"finishes": {"frame": "larch-timber"}})))
    for name, mesh in loaded(plain).geometry.items():
        found = loaded(packed(plain)).geometry[name]
        # A corner has as many normals as faces meet there: each is looked for beside where it is.
        places = np.hstack([mesh.vertices, mesh.vertex_normals * 0.01])
        away, nearest = cKDTree(places).query(np.hstack([found.vertices, found.vertex_normals * 0.01]))
        assert away.max() < 2e-4
        if mesh.visual.kind == "texture" and mesh.visual.uv is not None:
            assert np.median(np.abs(found.visual.uv - mesh.visual.uv[nearest]).max(axis=1)) < 2e-3


def test_names_stay_and_parts_are_not_told():
    plain = write_scene("Hut", scene())
    before, after = content(plain), content(packed(plain))
    assert [one["name"] for one in after["nodes"]] == [one["name"] for one in before["nodes"]]
    assert after["materials"] == before["materials"]
    assert after["extensionsRequired"] == [EXTENSION]
    assert not any("parts" in one.get("extras", {}) for one in (*after["meshes"], *after["nodes"]))
    assert len(after["images"]) == len(before["images"])


def test_a_file_of_nothing_stays_one():
    empty = write_scene("Empty", build_scene(read_site({})))
    assert content(packed(empty)) == content(empty)


def test_the_same_file_is_packed_into_the_same_bytes():
    plain = write_unit(make(read_unit({})))
    assert packed(plain) == packed(plain)
