"""Lamps and cameras in a GLB: their strength by hand, where they stand and look by the matrices of their nodes."""

from math import atan, pi, radians

import numpy as np
import pytest

from ashfell.formats.glb import write_scene
from ashfell.formats.glb_aside import looking
from tests.formats.building import scene
from tests.formats.reading import content, motion

LAMPS = [
    {"id": "bulb", "name": "Bulb", "kind": "bulb", "x": "1 m", "y": "2 m", "z": "2.5 m", "lumens": 800, "kelvin": 2700},
    {"id": "spot", "name": "Spot", "kind": "spot", "x": "3 m", "lumens": 400, "beam": 40, "tilt": 90, "turn": 0},
    {"id": "panel", "name": "Panel", "kind": "panel", "storey": "loft", "z": "2 m", "lumens": 3000, "kelvin": 6504},
]
CAMERA = {
    "id": "c",
    "name": "From the river",
    "x": "4 m",
    "y": "-9 m",
    "z": "1600",
    "to_x": "4 m",
    "to_y": "0",
    "to_z": "1600",
    "lens": 36,
}


@pytest.fixture(scope="module")
def written():
    built = scene(lamps=LAMPS, cameras=[CAMERA])
    return write_scene("Hut", built, aside=True)


@pytest.fixture(scope="module")
def told(written):
    return content(written)


def placed(told, name):
    """Where a node stands in the file's own space, y up."""
    number = next(k for k, node in enumerate(told["nodes"]) if node.get("name") == name)
    root = next(node for node in told["nodes"] if number in node.get("children", ()))
    return motion(root) @ motion(told["nodes"][number])


def light(told, name):
    return next(one for one in told["extensions"]["KHR_lights_punctual"]["lights"] if one["name"] == name)


def test_lamps_are_as_strong_as_they_are(told):
    """A bulb shines evenly all round: lumens / 4π; a plate by the cosine: lumens / π in its middle. A cone of half of
    20 degrees, full to 15 and dark at 25, gives its lumens between those of the full cones."""
    assert light(told, "Bulb")["intensity"] == pytest.approx(800 / (4 * pi), rel=1e-6)
    assert light(told, "Panel")["intensity"] == pytest.approx(3000 / pi, rel=1e-6)
    spot = light(told, "Spot")
    cone = [2 * pi * (1 - np.cos(spot["spot"][name])) for name in ("innerConeAngle", "outerConeAngle")]
    assert cone[0] < 400 / spot["intensity"] < cone[1]
    assert spot["spot"]["outerConeAngle"] == pytest.approx(radians(25))


def test_colours_are_warm_at_2700_and_even_at_6504(told):
    warm, even = (light(told, name)["color"] for name in ("Bulb", "Panel"))
    assert warm[0] == 1 > warm[1] > warm[2] > 0
    assert min(even) > 0.93


def test_they_stand_where_they_do_with_y_up(told):
    for name, (x, y, z) in (("Bulb", (1, 2, 2.5)), ("Spot", (3, 0, 2.2)), ("Panel", (0, 0, 4.8))):
        assert placed(told, name)[:3, 3] == pytest.approx([x, z, -y], abs=1e-6)
    assert placed(told, "From the river")[:3, 3] == pytest.approx([4, 1.6, 9], abs=1e-6)


def test_they_look_the_way_they_do(told):
    """Along the negative z of their nodes: a panel down, a spot tilted level to the site's x, a camera to the north."""
    for name, ahead in (("Panel", (0, -1, 0)), ("Spot", (1, 0, 0)), ("From the river", (0, 0, -1))):
        assert -placed(told, name)[:3, 2] == pytest.approx(ahead, abs=1e-6)
        assert np.linalg.det(placed(told, name)[:3, :3]) == pytest.approx(1)
    assert placed(told, "From the river")[:3, 1] == pytest.approx([0, 1, 0], abs=1e-6)


def test_a_lens_of_36_mm_sees_as_wide_as_it_is_far(told):
    (camera,) = told["cameras"]
    up = camera["perspective"]["yfov"]
    assert np.tan(up / 2) * camera["perspective"]["aspectRatio"] == pytest.approx(np.tan(atan(18 / 36)), rel=1e-6)


@pytest.mark.parametrize("ahead", [(0, 0, -1), (0, 0, 1), (1, 2, 3), (-1, 0, 0)])
def test_looking_is_a_rigid_motion_for_every_way(ahead):
    matrix = looking(np.array([1.0, 2, 3]), np.array(ahead, dtype=float), 30)
    assert matrix[:3, :3] @ matrix[:3, :3].T == pytest.approx(np.eye(3), abs=1e-12)
    assert -matrix[:3, 2] == pytest.approx(np.array(ahead) / np.linalg.norm(ahead))


def test_the_view_of_the_page_has_none(told):
    plain = content(write_scene("Hut", scene(lamps=LAMPS, cameras=[CAMERA])))
    assert "cameras" not in plain
    assert "extensions" not in plain
