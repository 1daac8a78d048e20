"""Plates within walls: one walk round all walls for however many rooms, and what is told where a wall cannot stand."""

from __future__ import annotations

import pytest

from ashfell.core.site.document.site import read_site
from ashfell.core.site.hosts import chain
from ashfell.core.site.plan import outlines_over
from ashfell.core.site.scene import build_scene

SIDES = (((0, 0), 0), ((5000, 0), 90), ((5000, 5000), 180), ((0, 5000), 270))


def rooms(count, **own):
    """Rooms of 5 m by 5 m beside each other, each with a floor within its walls."""
    walls, plates = [], []
    for k in range(count):
        for side, ((x, y), angle) in enumerate(SIDES):
            sizes = {"x": str(8000 * k + x), "y": str(y), "length": "5 m", "height": "3 m", "angle": angle}
            walls.append({"id": f"w{k}-{side}", "name": f"Wall {k}-{side}", "thickness": "300"} | sizes | own)
        plates.append({"id": f"floor-{k}", "walls": [f"w{k}-{side}" for side in range(4)]})
    return read_site({"walls": walls, "plates": plates})


def test_a_floor_reaches_to_the_inner_faces_of_its_walls():
    """Walls 300 thick round 5 m by 5 m leave 4.4 m by 4.4 m."""
    scene = build_scene(rooms(3))
    assert [outline.entry for outline in outlines_over(scene)] == [f"plates.floor-{k}" for k in range(3)]
    for k, outline in enumerate(outlines_over(scene)):
        assert outline.points.min(axis=0) == pytest.approx([8000 * k + 300, 300])
        assert outline.points.max(axis=0) == pytest.approx([8000 * k + 4700, 4700])


def test_corners_are_looked_for_as_often_as_there_are_corners(monkeypatch):
    asked = []
    corner = chain._corner
    monkeypatch.setattr(chain, "_corner", lambda *walls: asked.append(1) or corner(*walls))
    for count in (4, 8):
        asked.clear()
        scene = build_scene(rooms(count))
        assert len(outlines_over(scene)) == count
        assert len(asked) == 4 * count


def test_a_plate_tells_which_of_its_walls_cannot_stand():
    site = rooms(1)
    thick = site.walls[2].model_copy(update={"thickness": site.walls[2].length})
    scene = build_scene(site.model_copy(update={"walls": (*site.walls[:2], thick, site.walls[3])}))
    told = dict(scene.refused)
    assert told["walls.w0-1"].rule == "a wall between its corners"
    assert told["plates.floor-0"].rule == "walls that stand"
    assert "“Wall 0-1”" in told["plates.floor-0"].message
    assert scene.plates == {}
    assert outlines_over(scene) == []
