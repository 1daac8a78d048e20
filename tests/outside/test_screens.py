"""Partitions, storefronts and folded glass against common practice: sizes are told by another mesh library."""

from itertools import pairwise

import numpy as np
import pytest
import trimesh

from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.core.unit.make import make
from ashfell.core.unit.starts import start_from


def meshes(parts):
    return {part.id: trimesh.Trimesh(part.solid.vertices, part.solid.triangles, process=False) for part in parts}


def extent(found, *beginning):
    chosen = [mesh.bounds for name, mesh in found.items() if name.startswith(beginning)]
    return np.array([np.min([low for low, _ in chosen], axis=0), np.max([high for _, high in chosen], axis=0)])


@pytest.fixture(scope="module")
def partition():
    return meshes(make(start_from("partition", "Partition")).parts)


def test_the_rings_of_a_partition(partition):
    """30 outer ring, 20 next, then a 10 mm ring 400 in from each side and 100 in from top and bottom, all 50 deep
    (common practice, no source)."""
    outer, second, third = (extent(partition, name) for name in ("frame.", "ring.1.", "ring.2."))
    assert outer[1, :2].tolist() == [3000, 2400]
    assert (second[0] - outer[0])[:2].tolist() == pytest.approx([30, 30])
    within = second + np.array([[20, 20, 0], [-20, -20, 0]])
    assert np.abs(third - within)[:, :2].tolist() == pytest.approx(np.array([[400, 100], [400, 100]]))
    assert {round(float(np.ptp(ring[:, 2])), 6) for ring in (outer, second, third)} == {50}
    left = partition["ring.2.1.left"].bounds
    assert np.ptp(left[:, 0]) == pytest.approx(10)


def test_its_corners_are_arcs(partition):
    """Arcs of 150 outside and 140 inside about one middle (common practice, no source)."""
    corner = partition["ring.2.1.corner.1"]
    assert corner.is_watertight
    front = corner.vertices[corner.vertices[:, 2] > -1e-6]
    radii = np.hypot(*(front[:, :2] - (600, 300)).T)
    assert {round(radius) for radius in radii.tolist()} == {150, 140}
    assert np.abs(radii - np.round(radii)).max() < 0.2


def test_its_bar_on_the_centre_line_and_its_band(partition):
    """A 10 mm bar on the centre line, 5 each side; a band 600 high between 10 mm bars (common practice, no source)."""
    bar = extent(partition, "mullion.")
    assert bar[:, 0].tolist() == pytest.approx([1495, 1505])
    lower, upper = extent(partition, "transom.1"), extent(partition, "transom.2")
    assert upper[0, 1] - lower[1, 1] == pytest.approx(600)
    assert [float(np.ptp(one[:, 1])) for one in (lower, upper)] == pytest.approx([10, 10])
    assert lower[0, 1] - 160 == pytest.approx(2240 - upper[1, 1])  # the rest is equal below and above


def test_the_band_is_frosted_and_the_rest_clear():
    unit = make(start_from("partition", "Partition"))
    finishes = {part.id: part.finish for part in unit.parts if part.role == "glass"}
    assert {key for key, finish in finishes.items() if finish == "frosted-glass"} == {"glass.c1r2", "glass.c2r2"}


def test_border_and_inner_bars_of_a_storefront_are_independent():
    """A shared bar is one member of its own width, not twice the border's (common practice, no source)."""
    found = meshes(make(start_from("storefront", "Storefront")).parts)
    assert np.ptp(found["frame.left"].bounds[:, 0]) == pytest.approx(60)
    posts = sorted({name.partition(".r")[0] for name in found if name.startswith("mullion.")})
    assert [float(np.ptp(extent(found, name)[:, 0])) for name in posts] == pytest.approx([60] * 4)
    heights = sorted({round(float(np.ptp(extent(found, f"transom.{k}.c1", f"transom.{k}")[:, 1])), 6) for k in (1, 2)})
    assert heights == [60, 200]
    widths = [extent(found, name)[:, 0] for name in posts]
    clear = [after[0] - before[1] for before, after in pairwise(widths)]
    assert clear[1] == pytest.approx(1700)
    # Equal clear lights beside it: (6000 - 2 * 60 - 4 * 60 - 1700) / 4.
    assert widths[0][0] - 60 == pytest.approx((6000 - 360 - 1700) / 4)
    assert clear[0] == pytest.approx((6000 - 360 - 1700) / 4)


def test_glass_meets_glass_at_a_corner_of_ninety_degrees():
    """Both panes end in the mitre: their edges lie in one upright plane through the corner (common practice, no
    source)."""
    half = 2000 / np.sqrt(2)
    bend = {"kind": "bent", "points": [{"along": f"{half}", "out": f"{half}"}]}
    wall = {"id": "w", "name": "Wall", "length": f"{2 * half}", "height": "2700", "thickness": "250", "lining": "0"}
    placed = {"id": "b", "wall": "w", "unit": "u", "measured": "centre", "sill": "700", "recess": "60"}
    unit = start_from("glass-corner", "Corner").model_dump(mode="json")
    site = {"name": "Site", "walls": [wall | {"curve": bend}], "units": {"u": unit}, "placements": [placed]}
    scene = build_scene(read_site(site))
    panes = [mesh for name, mesh in meshes(scene.parts).items() if name.startswith("b/glass")]
    assert all(pane.is_watertight for pane in panes)
    for pane in panes:
        near = pane.vertices[np.abs(pane.vertices[:, 0] - half) < 1e-6]
        assert len(near) >= 4  # the mitre is the plane x = half
    assert panes[0].volume == pytest.approx(panes[1].volume, rel=1e-9)
