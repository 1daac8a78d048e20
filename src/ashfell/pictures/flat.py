"""What stands in a picture as one mesh for each finish: how sites of ordinary size are traced."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

import mitsuba as mi
import numpy as np
from numpy.typing import NDArray

from ashfell.core import finish as finishes
from ashfell.core.finish import Finish
from ashfell.core.parts import Part, bounds
from ashfell.core.plane.points import Floats
from ashfell.pictures.clay import CLAY
from ashfell.pictures.sensor import sensor
from ashfell.pictures.settings import PictureSettings
from ashfell.pictures.sight import looks
from ashfell.pictures.skins import Single, Skin, Tell, lit_meshes, shining_meshes, skins

Image = NDArray[np.float32]

GUIDE_SAMPLES = 8
"""Samples a pixel of the guides."""
GROUND = 3000.0
"""Half the side of the ground, m: far enough for its edge to be the horizon."""


class Flat:
    """Parts as one mesh for each finish.

    Parameters
    ----------
    parts : sequence of Part
        Coats in the site's space, mm, z up.
    """

    def __init__(self, parts: list[Part], settings: PictureSettings, own: Mapping[str, Finish] | None) -> None:
        self.settings, self.own, self.skins = settings, own, skins(parts, own)
        self.middle: Floats = bounds(parts).mean(axis=0) / 1000 if parts else np.zeros(3)

    def lit(self) -> dict[str, Any]:
        """What scatters light."""
        return dict(lit_meshes(self.skins, self.own))

    def guides(self) -> Image:
        """What the camera sees first, for the noise removal: albedo and normal, (height, width, 6).

        Surfaces are made to shine in the colour that stands for them; clear glass is left out, so that what is behind
        it keeps its edges.
        """
        seen = [skin for skin in self.skins if not finishes.find(skin.key, self.own).is_sheet]
        tells: list[Tell] = [lambda skin: None, lambda skin: skin.normals / 2 + 0.5]
        found = [_shone(shining_meshes(seen, self.own, tell), self.settings, GUIDE_SAMPLES) for tell in tells]
        hit = found[1].any(axis=-1, keepdims=True)
        return np.concatenate([found[0], np.where(hit, found[1] * 2 - 1, 0)], axis=-1).astype(np.float32)

    def seen(self) -> tuple[NDArray[np.int32], NDArray[np.float32]]:
        """Which part is seen at each pixel, (height, width): its number among the coats, from 1, 0 where is none, glass
        being what stands there; and how far before the camera, along the way it looks, m."""
        # What shines does so to one side, and a pane is looked at from either.
        panes = {skin.name for skin in self.skins if finishes.find(skin.key, self.own).is_sheet}
        eye, _ = looks(self.settings)
        held = [skin.facing(eye) if skin.name in panes else skin for skin in self.skins]
        shown = _shone(shining_meshes(held, self.own, _in_bytes), self.settings, 1)
        bytes_of = np.round(shown * 255).astype(np.int32)
        marks = bytes_of[..., 0] + (bytes_of[..., 1] << 8) + (bytes_of[..., 2] << 16)
        return np.asarray(marks, dtype=np.int32), depth_of(held, self.settings, self.own)


def depth_of(
    held: Iterable[Skin], settings: PictureSettings, own: Mapping[str, Finish] | None = None, ground: bool = False
) -> NDArray[np.float32]:
    """How far skins are before the camera, along the way it looks, (height, width) m; 0 where nothing is. The level
    ``ground`` hides what is under it."""
    eye, axis = looks(settings)

    def far(skin: Skin) -> Floats:
        return np.repeat(((skin.positions - eye) @ axis)[:, None], 3, axis=1)

    things = shining_meshes([*held, *([_level(eye)] if ground else [])], own, far)
    return _shone(things, settings, 1)[..., 0]


def _level(eye: Floats) -> Skin:
    """The ground as a skin, round where the camera stands."""
    corners = np.array([(-1, -1), (1, -1), (1, 1), (-1, -1), (1, 1), (-1, 1)], dtype=np.float32) * np.float32(GROUND)
    flat = np.column_stack([corners + eye[:2].astype(np.float32), np.full(6, -0.002, dtype=np.float32)])
    up = np.tile(np.array([0, 0, 1], dtype=np.float32), (6, 1))
    return Skin(CLAY, 0.0, flat.astype(np.float32), up, corners, np.zeros(6, dtype=np.int32))


def _shone(things: Mapping[str, mi.Mesh], settings: PictureSettings, samples: int) -> Image:
    """What is seen of things that only shine."""
    content = {"type": "scene", "integrator": {"type": "path", "max_depth": 1}, "sensor": sensor(settings)}
    return np.array(mi.render(mi.load_dict(content | dict(things)), spp=samples, seed=mi.UInt32(0)), dtype=np.float32)


def _in_bytes(skin: Skin) -> Single | Floats:
    """The numbers of the parts, as three bytes from 0 to 1."""
    return np.stack([skin.numbers & 255, skin.numbers >> 8 & 255, skin.numbers >> 16 & 255], axis=-1) / 255
