"""A first look: what is framed is in the picture, from in front, with the sun on it. Told by a renderer's own rays."""

import numpy as np
import pytest

from ashfell.core.base.refusal import Refusal
from ashfell.core.parts import bounds
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.pictures.framing import first_look, front_of, look_at
from ashfell.pictures.settings import PictureSettings, towards
from ashfell.services.documents import load_site
from tests.conftest import DEMO

WINDOW = {"width": "1200", "height": "1200"}


def box_site(windows, turn=0.0):
    """A room of 6 by 4 m, its windows in the walls that are named."""
    walls = [
        {"id": name, "name": name, "x": x, "y": y, "angle": angle, "length": long, "height": "2700", "thickness": "200"}
        for name, x, y, angle, long in (
            ("south", "0", "0", 0, "6 m"),
            ("east", "6 m", "0", 90, "4 m"),
            ("north", "6 m", "4 m", 180, "6 m"),
            ("west", "0", "4 m", 270, "4 m"),
        )
    ]
    placed = [
        {"id": f"{name}-{k}", "wall": name, "unit": "w", "offset": str(600 + 1500 * k)}
        for name, count in windows.items()
        for k in range(count)
    ]
    return build_scene(read_site({"name": "Site", "walls": walls, "placements": placed, "units": {"w": WINDOW}}))


def corners_of(box):
    return np.array([[box[i, 0], box[j, 1], box[k, 2]] for i in (0, 1) for j in (0, 1) for k in (0, 1)])


def seen(camera, points, aspect=1.6):
    """Where points are in the picture, from -1 to 1, by a camera of another library."""
    from ashfell.pictures.trace import mi

    to_world = mi.ScalarTransform4f().look_at(origin=list(camera.eye), target=list(camera.target), up=[0, 0, 1])
    inverse = np.array(to_world.inverse().matrix, dtype=float)
    local = np.column_stack([points, np.ones(len(points))]) @ inverse.T
    half = np.tan(np.radians(camera.view) / 2)
    return np.column_stack([local[:, 0] / local[:, 2] / half, local[:, 1] / local[:, 2] / half * aspect]), local[:, 2]


@pytest.mark.parametrize(("windows", "way"), [({"south": 3}, (0, -1)), ({"east": 2, "south": 1}, (1, 0)), ({}, None)])
def test_one_stands_before_the_side_with_the_most_openings(windows, way):
    scene = box_site(windows)
    look = first_look(scene)
    box = bounds(scene.parts) / 1000
    places, deep = seen(look.camera, corners_of(box))
    assert deep.min() > 0
    assert np.abs(places).max() < 1
    assert np.abs(places).max() > 0.75  # and it fills the picture
    if way is not None:
        front = front_of(scene)
        assert front == pytest.approx(way, abs=1e-9)
        away = np.array(look.camera.eye[:2]) - box.mean(axis=0)[:2]
        assert away @ front / np.hypot(*away) > 0.8
        assert np.array(towards(look.sun.sun()))[:2] @ front > 0.4  # the sun is on it, from the side
    assert look.camera.eye[2] == pytest.approx(1.65)


def test_heron_reach_is_seen_whole():
    scene = build_scene(read_site(load_site(DEMO / "site.json")))
    places, deep = seen(first_look(scene).camera, corners_of(bounds(scene.parts) / 1000))
    assert deep.min() > 0
    assert np.abs(places).max() < 1


@pytest.mark.parametrize("entry", ["walls.east", "placements.east-1"])
def test_a_wall_or_a_unit_is_framed_from_in_front(entry):
    scene = box_site({"east": 2, "south": 1})
    camera = look_at(scene, entry)
    own = [one for one in scene.instances if one.entry == entry]
    parts = [part.moved(one.matrix) for one in own for part in scene.definitions[one.definition]]
    places, deep = seen(camera, corners_of(bounds(parts) / 1000))
    assert deep.min() > 0
    assert 0.75 < np.abs(places).max() < 1
    assert camera.eye[0] > 6  # outside of the east wall
    assert camera.eye[1] == pytest.approx(camera.target[1], abs=0.01)


def test_what_does_not_stand_cannot_be_framed_and_an_empty_site_has_the_usual_camera():
    with pytest.raises(Refusal) as told:
        look_at(box_site({}), "walls.garden")
    assert told.value.entry == "frame"
    assert first_look(build_scene(read_site({"name": "Site"}))) == PictureSettings()
