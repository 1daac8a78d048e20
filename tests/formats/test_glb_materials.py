"""Finishes in GLB: every place of a surface reads the tile at its true place, turned, shifted and oblong too."""

import numpy as np
import pytest

from ashfell.core.base.document import dump, read
from ashfell.core.finish import LIBRARY, Finish
from ashfell.core.finish.texture import laid
from ashfell.formats.glb_materials import Materials, texture_jpeg

PLACES = np.random.default_rng(5).uniform(-3, 3, (40, 2))
"""Along and across the grain, m."""


def of(**texture):
    own = {"pattern": "timber", "width": "900", "second": "#43301f"} | texture
    return read(Finish, dump(LIBRARY["smoked-oak"]) | {"texture": own})


def read_in_file(finish, places, how):
    """Where a viewer looks in the image for what stands in the file, by KHR_texture_transform: translation, then
    rotation, then scale, the last first (Khronos, KHR_texture_transform)."""
    materials = Materials({"own": finish}, texture_jpeg)
    material = materials.materials[materials.material("own", how)]
    transform = material["pbrMetallicRoughness"]["baseColorTexture"].get("extensions", {}).get("KHR_texture_transform")
    if transform is None:
        return places
    turn = transform.get("rotation", 0.0)
    rotated = np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]])
    return (places * transform["scale"]) @ rotated.T + transform.get("offset", (0.0, 0.0))


@pytest.mark.parametrize(
    "texture",
    [
        {},
        {"turn": 30.0},
        {"turn": 90.0, "height": "300"},
        {"turn": -90.0, "height": "300", "x": "120"},
        {"turn": 180.0, "x": "100", "y": "-70"},
        {"turn": 37.0, "x": "100", "y": "250"},
        {"turn": 37.0, "x": "100", "height": "300"},
        {"height": "450", "y": "55"},
    ],
)
def test_a_member_reads_its_tile_at_its_true_place(texture):
    """The image's v runs down, a tile's up: what is at (s, t) of the tile is at (s, -t) of the image."""
    finish = of(**texture)
    matrix = laid(finish.texture)
    tiles = PLACES @ matrix[:, :2].T + matrix[:, 2]
    materials = Materials({"own": finish}, texture_jpeg)
    found = read_in_file(finish, materials.laid("own", PLACES), "")
    assert found == pytest.approx(tiles * (1.0, -1.0), abs=1e-9)


@pytest.mark.parametrize("texture", [{}, {"turn": 30.0}, {"turn": 90.0, "height": "300"}, {"x": "120", "y": "80"}])
def test_a_wall_that_lies_along_its_axes_reads_it_there_too(texture):
    """Its places stand in the file as they are, v upwards."""
    finish = of(**texture)
    matrix = laid(finish.texture)
    tiles = PLACES @ matrix[:, :2].T + matrix[:, 2]
    assert read_in_file(finish, PLACES, "level") == pytest.approx(tiles * (1.0, -1.0), abs=1e-9)


def test_varnish_and_sheen_are_extensions_of_the_format():
    coat, cloth = LIBRARY["larch-timber"], LIBRARY["linen-fabric"]
    materials = Materials({}, texture_jpeg)
    for key in ("larch-timber", "linen-fabric", "clear-glass"):
        materials.material(key)
    names = {name for one in materials.materials for name in one.get("extensions", {})}
    assert {"KHR_materials_clearcoat", "KHR_materials_sheen", "KHR_materials_transmission"} <= names
    assert materials.materials[0]["extensions"]["KHR_materials_clearcoat"]["clearcoatFactor"] == coat.varnish
    assert materials.materials[1]["extensions"]["KHR_materials_sheen"]["sheenColorFactor"] == [cloth.sheen] * 3
