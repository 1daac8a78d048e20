"""Solids and outlines against reference libraries: trimesh, manifold3d and shapely."""

from math import pi

import manifold3d
import numpy as np
import pytest
import shapely
import trimesh

from ashfell.core.plane.outline import Outline
from ashfell.core.plane.segment import bulge_of
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.core.unit import build, read_unit, solve

UNITS = [
    {
        "width": "2300",
        "height": "1600",
        "columns": {"lights": [{}] * 4, "bars": ["50"] * 3},
        "rows": {"lights": [{}] * 2, "bars": ["60"]},
    },
    {
        "width": "6'",
        "height": "2'",
        "frame": {"face": '2"', "edge": {"size": '1/16"'}},
        "columns": {"lights": [{}] * 3, "bars": ['1 3/4"'] * 2, "rule": "centres"},
    },
    {
        "width": "700",
        "height": "2200",
        "rows": {"lights": [{"size": "400"}, {}, {}], "bars": ["45"] * 2},
        "bars": {"setback": "5", "depth": "70"},
    },
]


def mesh(part):
    return trimesh.Trimesh(part.solid.vertices, part.solid.triangles, process=False)


@pytest.mark.parametrize("data", UNITS)
def test_trimesh_finds_every_part_watertight_outward_and_of_the_same_volume(data):
    for part in build(read_unit(data)):
        other = mesh(part)
        assert other.is_watertight, part.id
        assert other.is_winding_consistent, part.id
        assert other.volume == pytest.approx(part.solid.volume, rel=1e-9)
        assert other.bounds == pytest.approx(part.solid.bounds)


@pytest.mark.parametrize("data", UNITS)
def test_manifold3d_takes_every_part_and_finds_no_shared_volume(data):
    parts = build(read_unit(data))
    solids = [
        manifold3d.Manifold(manifold3d.Mesh64(p.solid.vertices, p.solid.triangles.astype(np.uint64))) for p in parts
    ]
    assert all(solid.status() == manifold3d.Error.NoError and not solid.is_empty() for solid in solids)
    separate = sum(solid.volume() for solid in solids)
    together = manifold3d.Manifold.batch_boolean(solids, manifold3d.OpType.Add).volume()
    assert together == pytest.approx(separate, rel=1e-9)


@pytest.mark.parametrize("data", UNITS)
def test_seen_from_outside_the_unit_covers_its_rectangle(data):
    """Frame, bars, gaskets and glass leave no hole: their outlines seen from outside unite to the overall size."""
    document = read_unit(data)
    shadows = [
        shapely.union_all(shapely.polygons(part.solid.vertices[part.solid.triangles][..., :2])).buffer(1e-6)
        for part in build(document)
    ]
    seen = shapely.union_all(shadows)
    assert seen.area == pytest.approx(float(document.width.mm * document.height.mm), rel=1e-6)
    assert not seen.interiors


def test_clear_lights_against_shapely():
    """What is left of the clear opening when frame and bars are taken away are the lights."""
    layout = solve(read_unit(UNITS[0]))
    members = [
        shapely.box(*(float(v) for v in (b.across - b.face / 2, b.start, b.across + b.face / 2, b.end)))
        for b in layout.bars
        if b.axis == "columns"
    ]
    members += [
        shapely.box(*(float(v) for v in (b.start, b.across - b.face / 2, b.end, b.across + b.face / 2)))
        for b in layout.bars
        if b.axis == "rows"
    ]
    left = shapely.box(50, 50, 2250, 1550).difference(shapely.union_all(members))
    assert len(left.geoms) == len(layout.lights)
    assert left.area == pytest.approx(float(sum(light.clear.width * light.clear.height for light in layout.lights)))


def test_wall_with_openings_against_manifold3d():
    placed = [
        {"id": f"p{n}", "wall": "w", "unit": "u", "offset": str(200 + 900 * n), "sill": str(300 * (n % 3))}
        for n in range(6)
    ]
    site = read_site(
        {
            "walls": [{"id": "w", "length": "6000", "height": "2700", "thickness": "250", "lining": "0"}],
            "placements": placed,
            "units": {"u": {"width": "700", "height": "1500"}},
        }
    )
    scene = build_scene(site)
    wall = manifold3d.Manifold.cube([6000, 2700, 250]).translate([0, 0, -250])
    holes = [
        manifold3d.Manifold.cube([700, 1500, 300]).translate([float(o.x), float(o.z), -275])
        for o in scene.openings.values()
    ]
    cut = wall - manifold3d.Manifold.batch_boolean(holes, manifold3d.OpType.Add)
    (body,) = scene.definitions["wall.w"]
    assert mesh(body).is_watertight
    assert body.solid.volume == pytest.approx(cut.volume(), rel=1e-9)
    area = mesh(body).area
    assert area == pytest.approx(cut.surface_area(), rel=1e-9)


@pytest.mark.parametrize("by", [20.0, -35.0])
def test_mitre_offset_of_lines_against_shapely(by):
    star = [(0, 0), (400, 150), (800, 0), (700, 400), (900, 800), (400, 650), (-100, 800), (100, 400)]
    ours = Outline.of(star).facets().inset(by, "offset")
    theirs = shapely.Polygon(star).buffer(-by, join_style="mitre", mitre_limit=1e6)
    assert ours.area == pytest.approx(theirs.area, rel=1e-9)


@pytest.mark.parametrize("by", [20.0, 60.0])
def test_inset_of_lines_and_arcs_against_shapely(by):
    """A D: three lines and a half-round. Its facets are inset by us and by shapely."""
    loop = Outline.of([(0, 0, 0), (800, 0, 0), (800, 600, bulge_of(pi)), (0, 600, 0)]).facets()
    theirs = shapely.Polygon(loop.points).buffer(-by, join_style="mitre", mitre_limit=1e6)
    assert loop.inset(by, "offset").area == pytest.approx(theirs.area, rel=1e-9)
