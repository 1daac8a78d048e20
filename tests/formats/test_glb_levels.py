"""GLB with less in it: without hidden faces, and light for pages; what one sees stays where it is."""

import io
import json

import numpy as np
import pytest
import trimesh

from ashfell.core.hidden import without_hidden
from ashfell.core.parts import ALONG_U, Part
from ashfell.core.solid.plate import plate
from ashfell.core.unit.document.unit import read_unit
from ashfell.core.unit.make import make
from ashfell.formats.glb import write_scene, write_unit
from tests.formats.building import scene

GRID = {"lights": [{}, {}], "bars": ["40"]}
ROUND = {"outline": {"kind": "segmental", "rise": "150"}, "width": "1000", "height": "1200"}


def block(name, left, foot, right, head, low, high):
    from shapely.geometry import box

    return Part(name, name, "frame", "white-paint", ALONG_U, plate(box(left, foot, right, head), low, high))


def surface(parts):
    return sum(float(trimesh.Trimesh(p.solid.vertices, p.solid.triangles, process=False).area) for p in parts)


def test_faces_that_lie_against_each_other_are_left_out():
    """Two cubes of 10 side by side: 2 of 12 faces of 100 go. On a larger one only the smaller's face goes."""
    pair = [block("a", 0, 0, 10, 10, 0, 10), block("b", 10, 0, 20, 10, 0, 10)]
    assert surface(without_hidden(pair)) == pytest.approx(1200 - 200)
    stood = [block("a", 0, 0, 30, 10, 0, 30), block("b", 10, 10, 20, 20, 10, 20)]
    assert surface(stood) - surface(without_hidden(stood)) == pytest.approx(100)


def test_a_face_is_covered_by_several_together_and_not_by_almost_all():
    floor = block("floor", 0, 0, 20, 10, 0, 10)
    halves = [block("a", 0, 10, 10, 20, 0, 10), block("b", 10, 10, 20, 20, 0, 10)]
    assert surface([floor, *halves]) - surface(without_hidden([floor, *halves])) == pytest.approx(200 + 200 + 200)
    short = [halves[0], block("b", 10, 10, 19, 20, 0, 10)]
    gone = surface([floor, *short]) - surface(without_hidden([floor, *short]))
    assert gone == pytest.approx(200 + 100 + 90)  # those between the two, and their feet; the floor's own stays


def nearest(triangles, starts, ways):
    """How far along each ray the nearest triangle is (Möller and Trumbore, 1997; from memory)."""
    a, ab, ac = triangles[:, 0], triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0]
    found = []
    for start, way in zip(starts, ways, strict=True):
        across = np.cross(way, ac)
        det = (ab * across).sum(axis=1)
        with np.errstate(divide="ignore", invalid="ignore"):
            u = ((start - a) * across).sum(axis=1) / det
            around = np.cross(start - a, ab)
            v, far = around @ way / det, (ac * around).sum(axis=1) / det
            met = (np.abs(det) > 1e-9) & (u >= 0) & (v >= 0) & (u + v <= 1) & (far > 0)
        found.append(far[met].min() if met.any() else np.inf)
    return np.array(found)


@pytest.mark.parametrize("data", [{"columns": GRID, "rows": GRID}, ROUND])
def test_what_one_sees_from_outside_stays_where_it_is(data):
    """Rays from all sides meet the same places."""
    parts = make(read_unit(data)).parts
    kept = without_hidden(parts)
    whole, less = (
        trimesh.util.concatenate([trimesh.Trimesh(p.solid.vertices, p.solid.triangles, process=False) for p in some])
        for some in (parts, kept)
    )
    assert len(less.faces) < 0.95 * len(whole.faces)
    own = np.random.default_rng(1)
    aims = own.uniform(whole.bounds[0], whole.bounds[1], (150, 3))
    ways = own.normal(size=(150, 3))
    ways /= np.linalg.norm(ways, axis=1)[:, None]
    starts = aims - 5000 * ways
    first = [nearest(mesh.triangles, starts, ways) for mesh in (whole, less)]
    met = np.isfinite(first[0])
    assert met.sum() > 60
    assert np.abs(first[0][met] - first[1][met]).max() < 1e-3


def read(content):
    return json.loads(content[20 : 20 + int.from_bytes(content[12:16], "little")])


def test_a_light_file_is_small_and_stands_where_the_whole_one_does():
    built = scene()
    whole, seen, light = (write_scene("Hut", built, level=level) for level in ("all", "seen", "light"))
    assert len(light) < len(whole) / 2
    assert len(seen) < len(whole)
    loaded = [trimesh.load(io.BytesIO(content), file_type="glb") for content in (whole, seen, light)]
    for other in loaded[1:]:
        assert other.bounds == pytest.approx(loaded[0].bounds, abs=1e-5)
    tree = read(light)
    assert [one["name"] for one in tree["nodes"]] == [one["name"] for one in read(whole)["nodes"]]
    assert not any("parts" in one.get("extras", {}) for one in (*tree["meshes"], *tree["nodes"]))
    assert all("metallicRoughnessTexture" not in one["pbrMetallicRoughness"] for one in tree["materials"])
    assert {one["name"] for one in tree["materials"]} == {one["name"] for one in read(whole)["materials"]}


def test_corners_of_a_light_file_are_shared_and_bent_parts_keep_their_normals():
    """A box of 12 triangles without a texture has 8 corners, and no normals."""
    plain = {"frame": {"joint": "mitred", "edge": {"kind": "square"}}, "fill": {"kind": "open"}}
    tree = read(write_unit(make(read_unit(plain)), level="light"))
    (mesh,) = tree["meshes"]
    counts = [tree["accessors"][one["attributes"]["POSITION"]]["count"] for one in mesh["primitives"]]
    assert all("NORMAL" not in one["attributes"] for one in mesh["primitives"])
    assert sum(counts) < sum(tree["accessors"][one["indices"]]["count"] for one in mesh["primitives"]) / 3 * 0.8
