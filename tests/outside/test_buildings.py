"""Buildings against what is not ours: trimesh, manifold3d, shapely, the sagitta formula, common practice."""

from __future__ import annotations

import io
from math import asin, cos, radians, sin

import manifold3d
import numpy as np
import pytest
import shapely
import trimesh

from ashfell.core.kinds.outline import OUTLINES
from ashfell.core.site.course import facets_of
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.formats import glb

WALL = {"id": "w", "length": "6000", "height": "3200", "thickness": "300", "lining": "15"}


def unit_of(kind):
    sizes = {"width": "1200", "height": "1200"}
    if kind in ("half-round", "segmental"):
        sizes["height"] = "600"
    nodes = (
        {
            "nodes": [
                {"x": "0", "y": "0", "bulge": 0.2},
                {"x": "1200", "y": "0"},
                {"x": "1000", "y": "1200"},
                {"x": "0", "y": "900"},
            ]
        }
        if kind == "path"
        else {}
    )
    return sizes | {"outline": {"kind": kind} | nodes}


def scene_of(units, placements, **wall):
    return build_scene(read_site({"walls": [WALL | wall], "units": units, "placements": placements}))


def volume(scene):
    """All of the wall, by trimesh, mm³."""
    solids = [part.solid for part in scene.parts if part.role == "wall"]
    meshes = [trimesh.Trimesh(one.vertices, one.triangles, process=False) for one in solids]
    assert all(mesh.is_watertight and mesh.is_winding_consistent for mesh in meshes)
    return sum(mesh.volume for mesh in meshes)


@pytest.mark.parametrize("kind", sorted(OUTLINES))
def test_a_wall_loses_its_thickness_times_the_area_of_the_outline(kind):
    """Areas by shapely; the same cut by manifold3d's boolean. An outline that cannot be 1200 by 1200 is made as it
    asks."""
    unit = unit_of(kind)
    placed = {"id": "p", "wall": "w", "unit": "u", "measured": "centre", "sill": "700"}
    scene = scene_of({"u": unit}, [placed])
    while scene.refused:
        (place, refusal), *_ = scene.refused
        assert refusal.nearest is not None, refusal
        assert place == "units.u"
        unit = unit | {refusal.entry: f"{float(refusal.nearest)}"}
        scene = scene_of({"u": unit}, [placed])
    opening = scene.openings["p"]
    area = shapely.Polygon(opening.points).area
    before = 6000.0 * 3200 * 300
    assert before - volume(scene) == pytest.approx(300 * area, rel=1e-9)
    outline = manifold3d.CrossSection([opening.points])
    block = manifold3d.Manifold.cube((6000, 3200, 300)) - outline.extrude(400).translate((0, 0, -50))
    assert volume(scene) == pytest.approx(block.volume(), rel=1e-9)


def nodes_of(scene):
    """Each node's transform and mesh as trimesh reads them from the file, in mm, z up."""
    loaded = trimesh.load(io.BytesIO(glb.write_scene("Site", scene)), file_type="glb")
    up = np.array([[1, 0, 0, 0], [0, 0, -1, 0], [0, 1, 0, 0], [0, 0, 0, 1.0]])
    found = {}
    for name in loaded.graph.nodes_geometry:
        matrix, key = loaded.graph[name]
        mesh = loaded.geometry[key].copy()
        mesh.apply_transform(up @ matrix)
        mesh.apply_scale(1000)
        found.setdefault(name, []).append(mesh)
    return found


def test_offsets_sills_heads_and_recesses_are_read_back_by_trimesh():
    unit = {"width": "1000", "height": "1200", "frame": {"depth": "90"}}
    placed = [
        {"id": "a", "wall": "w", "unit": "u", "offset": "333.333", "sill": "0.7 m", "recess": "41.5"},
        {
            "id": "b",
            "wall": "w",
            "unit": "u",
            "measured": "end",
            "offset": "2' 3 1/8\"",
            "head": "7'",
            "recess": "-12.7",
        },
    ]
    scene = scene_of({"u": unit}, placed, x="1234.5", y="-678.9")
    loaded = nodes_of(scene)

    def box(entry):
        corners = np.concatenate([m.bounds for name, own in loaded.items() if entry in name for m in own])
        return corners.min(axis=0), corners.max(axis=0)

    low, high = box("placements.a")
    assert low == pytest.approx([1234.5 + 333.333, -678.9 + 41.5, 700], abs=1e-3)
    assert high == pytest.approx([1234.5 + 1333.333, -678.9 + 41.5 + 90, 1900], abs=1e-3)
    low, high = box("placements.b")
    assert high[0] == pytest.approx(1234.5 + 6000 - 27.125 * 25.4, abs=1e-3)
    assert high[2] == pytest.approx(7 * 304.8, abs=1e-3)
    assert low[1] == pytest.approx(-678.9 - 12.7, abs=1e-3)


def test_a_window_folded_over_three_facets():
    """Common practice, no source: over three facets of a curve, a frame ring 1 in wide that stands 6 in out of the
    wall; one flat pane in each facet, parted by posts on the folds."""
    inch = 25.4
    wall = WALL | {"curve": {"kind": "radius", "radius": "5 m", "facets": 6}}
    facets = facets_of(read_site({"walls": [wall]}).walls[0])
    chord = 2 * 5000 * sin(asin(3000 / 5000) / 6)  # the chord of a sixth of the arc
    assert float(facets[0].length) == pytest.approx(chord, abs=1e-6)
    unit = {
        "width": f"{3 * chord:.9f}",
        "height": "48 in",
        "frame": {"face": "1 in", "depth": "3 in"},
        "columns": {"lights": [{}] * 3, "bars": ["2 in"] * 2},
    }
    placed = {"id": "p", "wall": "w", "unit": "u", "recess": "-6 in", "sill": "1 m", "offset": f"{chord:.9f}"}
    scene = scene_of({"u": unit}, [placed], curve=wall["curve"])
    assert scene.refused == ()
    parts = [part for part in scene.parts if part.id.startswith("p/")]
    for facet in facets[1:4]:
        turn = radians(facet.heading)
        along, out = np.array([cos(turn), sin(turn), 0]), np.array([sin(turn), -cos(turn), 0])
        origin = np.array([facet.x, facet.y, 0])
        own = [part for part in parts if 0 < (part.solid.bounds.mean(axis=0) - origin) @ along < float(facet.length)]
        rails = [part for part in own if part.id.startswith(("p/frame.sill", "p/frame.head"))]
        assert len(rails) == 2
        for rail in rails:
            depths = (rail.solid.vertices - origin) @ out
            assert depths.max() == pytest.approx(6 * inch, abs=1e-3)
            assert depths.min() == pytest.approx(3 * inch, abs=1e-3)
            assert np.ptp(rail.solid.vertices[:, 2]) == pytest.approx(inch, abs=1e-3)
        (pane,) = [part for part in own if part.role == "glass"]
        faces = np.unique(((pane.solid.vertices - origin) @ out).round(4))
        assert len(faces) == 2  # flat
    for part in parts:
        mesh = trimesh.Trimesh(part.solid.vertices, part.solid.triangles, process=False)
        assert mesh.is_watertight
        assert mesh.volume > 0


@pytest.mark.parametrize(("span", "rise"), [(8000, 2000), (3000, 150), (5000, 2500)])
def test_an_arc_keeps_to_its_circle_by_the_sagitta_formula(span, rise):
    """r = (s² + 4h²) / 8h, any handbook; by shapely every fold is on the circle, and the middle one at its rise."""
    wall = WALL | {"length": str(span), "curve": {"kind": "arc", "rise": str(rise), "facets": 10}}
    facets = facets_of(read_site({"walls": [wall]}).walls[0])
    radius = (span**2 + 4 * rise**2) / (8 * rise)
    centre = shapely.Point(span / 2, radius - rise)
    points = [shapely.Point(facet.x, facet.y) for facet in facets]
    assert [centre.distance(point) for point in points] == pytest.approx([radius] * 10, abs=1e-6)
    assert points[5].y == pytest.approx(-rise, abs=1e-6)
