"""Holes in models become openings: of a building that was modelled with typed sizes the same sizes are found again."""

from __future__ import annotations

import hashlib
from base64 import b64decode

import numpy as np
import pytest
from shapely.geometry import Polygon, box

from ashfell.core.audit.site import audit_scene
from ashfell.core.base.lengths import parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.site import scene
from ashfell.core.site.document.site import read_site
from ashfell.core.site.fitting import fitted
from ashfell.core.site.holes import holed_faces, with_holes
from ashfell.core.site.scene import build_scene
from ashfell.core.solid import meshes
from ashfell.core.solid.plate import plate
from ashfell.core.solid.topology import Solid, Topology, welded
from ashfell.services.documents import change_site
from ashfell.services.reading.mesh import read_here
from ashfell.services.reading.options import MeshOptions

HELD: dict[str, bytes] = {}
meshes.mesh.offer(HELD.get)

WINDOWS = [(1000, 900, 1200, 1500), (3000.5, 1000, 600, 600)]
"""Left, sill, width and height in a wall 6 m long, seen from outside, mm."""
DOOR = (4500, 0, 900, 2100)


def wall_solid(holes, length=6000.0, height=2800.0, thickness=250.0):
    """A wall with its outer face on y = 0, which runs along x and looks against y."""
    region = box(0, 0, length, height)
    for left, foot, width, high in holes:
        region = region.difference(box(left, foot, left + width, foot + high))
    flat = plate(region, -thickness, 0.0)
    upright = np.array([[1.0, 0, 0, 0], [0, 0, -1.0, 0], [0, 1.0, 0, 0], [0, 0, 0, 1.0]])
    return flat.moved(upright)


def turned(solid, degrees, at=(0.0, 0.0)):
    angle = np.radians(degrees)
    matrix = np.eye(4)
    matrix[:2, :2] = [[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]]
    matrix[:2, 3] = at
    return solid.moved(matrix)


def held(*solids):
    """A model of some solids, standing where these do: its entry in a site."""
    low = np.min([one.bounds[0] for one in solids], axis=0)
    high = np.max([one.bounds[1] for one in solids], axis=0)
    shift = np.eye(4)
    shift[:3, 3] = -((low + high) / 2)[0], -((low + high) / 2)[1], -low[2]
    content = meshes.packed([meshes.MeshPiece("wall", "white-plaster", one.moved(shift)) for one in solids])
    key = hashlib.sha256(content).hexdigest()
    HELD[key] = content
    at = {"x": str(-shift[0, 3]), "y": str(-shift[1, 3]), "level": str(low[2])}
    return {"id": "shell", "name": "Shell", "kind": "model", "mesh": key, "height": str(high[2] - low[2])} | at


def site_with(model):
    return read_site({"surroundings": [model]})


def found(model):
    site = site_with(model)
    data = with_holes(site.model_dump(mode="json"), site.surroundings[0])
    scene = build_scene(read_site(data))
    assert scene.refused == ()
    assert [one for one in audit_scene(scene) if one.level == "fault"] == []
    return data, scene


def sizes(data, wall):
    return sorted(
        tuple(float(parse(one[name])) for name in ("offset", "sill", "width", "height"))
        for one in data["placements"]
        if one["wall"] == wall
    )


def house(angle, at):
    """Four walls round 6 by 6 m, the first with two windows and a door, the others with one window; turned as a
    whole."""
    corners = [(0, 0), (6000, 0), (6000, 6000), (0, 6000)]
    holes = [[*WINDOWS, DOOR], *[[WINDOWS[0]]] * 3]
    return [turned(turned(wall_solid(holes[k]), 90 * k, corner), angle, at) for k, corner in enumerate(corners)]


@pytest.mark.parametrize("angle", [0, 90, 37, 200])
def test_windows_and_a_door_are_found_where_they_were_made(angle):
    """However the house is turned in the model: seen from outside, from the left end of a wall, above its foot; four
    lines, none for the inside."""
    data, scene = found(held(*house(angle, (12_000, -3_000))))
    assert sorted(wall["angle"] % 360 for wall in data["walls"]) == pytest.approx(
        sorted((angle + 90 * k) % 360 for k in range(4)), abs=1e-3
    )
    assert len(scene.openings) == 6
    assert with_holes(data, read_site(data).surroundings[0]) == data
    wall = data["walls"][0]
    assert wall["angle"] % 360 == pytest.approx(angle, abs=1e-3)
    assert float(parse(wall["x"])) == pytest.approx(12_000, abs=0.02)
    assert float(parse(wall["y"])) == pytest.approx(-3_000, abs=0.02)
    assert (float(parse(wall["length"])), float(parse(wall["height"]))) == pytest.approx((6000, 2800), abs=0.02)
    assert float(parse(wall["thickness"])) == pytest.approx(250, abs=0.1)
    assert wall["built"] is False
    for one, other in zip(sizes(data, wall["id"]), sorted((*WINDOWS, DOOR)), strict=True):
        assert one == pytest.approx(other, abs=0.02)


def test_units_are_fitted_into_what_is_found_and_stand_in_the_hole():
    unit = {"width": "900", "height": "900", "frame": {"depth": "70"}}
    site = site_with(held(wall_solid(WINDOWS)))
    data = with_holes(site.model_dump(mode="json"), site.surroundings[0]) | {"units": {"u": unit}}
    whole = build_scene(read_site(data))
    keys = [one["id"] for one in data["placements"]]
    changed, told = fitted(data, whole, keys, "u", {"all": "10"}, "unit")
    assert [one.refusal for one in told] == [None, None]
    scene = build_scene(read_site(changed))
    assert scene.refused == ()
    for (left, foot, width, high), key in zip(WINDOWS, keys, strict=True):
        points = np.concatenate([p.solid.vertices for p in scene.parts if p.id.startswith(f"{key}/")])
        assert points[:, 0].min() == pytest.approx(left + 10, abs=0.02)
        assert points[:, 0].max() == pytest.approx(left + width - 10, abs=0.02)
        assert points[:, 2].min() == pytest.approx(foot + 10, abs=0.02)
        assert points[:, 2].max() == pytest.approx(foot + high - 10, abs=0.02)
        assert 0 <= points[:, 1].min() < points[:, 1].max() <= 250


def test_a_round_hole_is_told_by_the_square_round_it():
    circle = [(3000 + 500 * np.cos(a), 1500 + 500 * np.sin(a)) for a in np.linspace(0, 2 * np.pi, 64, endpoint=False)]
    region = box(0, 0, 6000, 2800).difference(Polygon(circle))
    flat = plate(region, -250.0, 0.0)
    upright = np.array([[1.0, 0, 0, 0], [0, 0, -1.0, 0], [0, 1.0, 0, 0], [0, 0, 0, 1.0]])
    model = held(flat.moved(upright))
    outer = [face for face in holed_faces(site_with(model).surroundings[0]) if face.out[1] < 0]
    assert [hole.oblong for hole in outer[0].holes] == [False]
    data, _ = found(model)
    assert sizes(data, data["walls"][0]["id"])[0] == pytest.approx((2500, 1000, 1000, 1000), abs=0.5)


def test_a_single_sheet_is_taken_as_thick_as_is_usual():
    """Triangles of the outer face alone, as many models have them."""
    whole = wall_solid(WINDOWS)
    outer = np.abs(whole.vertices[whole.triangles][:, :, 1]).max(axis=1) < 1e-6
    faces = np.zeros(int(outer.sum()), dtype=np.int32)
    sheet = welded(Solid(whole.vertices, Topology(np.ascontiguousarray(whole.triangles[outer]), faces)))
    data, _ = found(held(sheet, wall_solid([], length=100.0)))
    (wall,) = data["walls"]
    assert parse(wall["thickness"]) == 300
    assert len(sizes(data, wall["id"])) == 2


def test_models_are_bounded_and_those_that_are_alike_count_once(monkeypatch):
    """A hundred that are alike are one; with three of other heights there are four."""
    model = held(wall_solid(WINDOWS))
    count = len(meshes.mesh(model["mesh"]).pieces[0].solid.triangles)
    monkeypatch.setattr(scene, "MOST_BROUGHT", 3 * count)
    alike = [model | {"id": f"m{k}", "x": f"{9 * k} m"} for k in range(100)]
    assert build_scene(read_site({"surroundings": alike})).refused == ()
    others = [model | {"id": f"n{k}", "height": f"{3 + k} m"} for k in range(3)]
    ((place, refusal),) = build_scene(read_site({"surroundings": [*alike, *others]})).refused
    assert (place, refusal.entry) == ("surroundings.n2", "mesh")
    assert f"have {4 * count} triangles" in refusal.message
    assert build_scene(read_site({"surroundings": [*alike, *others[:2]]})).refused == ()


def test_a_model_without_holes_and_what_is_no_model_are_told():
    model = held(wall_solid([]))
    with pytest.raises(Refusal, match="None of its upright faces has a hole") as refused:
        change_site(site_with(model).model_dump(mode="json"), {}, {"do": "add-holes", "key": "shell"})
    assert refused.value.entry == "surroundings.shell"
    with pytest.raises(Refusal, match="There is no model"):
        change_site(read_site({}).model_dump(mode="json"), {}, {"do": "add-holes", "key": "shell"})


@pytest.mark.parametrize("angle", [0, 12, 45])
def test_holes_in_one_row_are_told_apart_in_a_file(angle):
    """Triangles as modellers leave them: between two windows at one height there are splinters without area, and
    corners are rounded to a thousandth of a millimetre."""
    row = [(700, 900, 1500, 1400), (3200, 900, 1500, 1400)]
    solid = turned(wall_solid(row), angle, (-20_000, 4_000))
    corners = [f"v {x / 1000:.6f} {z / 1000:.6f} {-y / 1000:.6f}" for x, y, z in solid.vertices.tolist()]
    sides = [f"f {a + 1} {b + 1} {c + 1}" for a, b, c in solid.triangles.tolist()]
    understood = read_here("\n".join([*corners, *sides]).encode(), MeshOptions(unit="m"))
    HELD.update({key: b64decode(content) for key, content in understood.images.items()})
    site = read_site(understood.site)
    data = with_holes(site.model_dump(mode="json"), site.surroundings[0])
    for one, other in zip(sizes(data, data["walls"][0]["id"]), row, strict=True):
        assert one == pytest.approx(other, abs=0.02)


def test_a_facade_of_many_windows_is_found_whole():
    """600 windows in 30 rows of 20."""
    holes = [(500 + 1500 * k, 900 + 3000 * row, 900, 1500) for k in range(20) for row in range(30)]
    data, scene = found(held(wall_solid(holes, length=31_000.0, height=91_000.0)))
    assert len(data["placements"]) == 600
    assert len(scene.openings) == 600
