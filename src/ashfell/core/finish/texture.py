"""Tileable images of a finish: its colour, its roughness, its relief and the normals of that.

Rows run across the grain, columns along it; the first row is the top of the tile.
"""

from __future__ import annotations

from functools import lru_cache
from math import cos, radians, sin

import numpy as np
from numpy.typing import NDArray

from ashfell.core.finish.document import Finish, Texture, rgb
from ashfell.core.finish.images import image
from ashfell.core.finish.pattern import PATTERNS, Field, Filled, Tile

Pixels = NDArray[np.uint8]

VERSION = 2
"""Counted up whenever the same texture comes out differently: what was kept of it is then made again."""


def up_of(texture: Texture) -> float:
    """The height of a tile, m: its own, or as its image is, or its width."""
    if texture.height is not None:
        return float(texture.height.mm) / 1000
    key = next((key for key in _keys(texture) if key), "")
    if texture.pattern != "image" or not key:
        return texture.across
    rows, columns = image(key).shape[:2]
    return float(texture.across * rows / columns)


def laid(texture: Texture) -> Field:
    """From metres along and across the grain to tiles, (2, 3): shifted, turned, then divided by the size of a tile."""
    turn = radians(texture.turn)
    turned = np.array([[cos(turn), sin(turn)], [-sin(turn), cos(turn)]])
    shift = np.array([float(texture.x.mm), float(texture.y.mm)]) / 1000
    matrix = np.column_stack([turned, -turned @ shift]) / np.array([[texture.across], [up_of(texture)]])
    return np.asarray(matrix)


def detail(finish: Finish) -> int:
    """How many pixels a side show a tile of it well."""
    return PATTERNS[finish.texture.pattern].detail if finish.texture else 8


def _keys(texture: Texture) -> tuple[str, ...]:
    maps = texture.maps
    return maps.colour, maps.height, maps.normal, maps.roughness


def albedo(finish: Finish, size: int = 512) -> Pixels:
    """Colour of one tile as sRGB bytes (size, size, 3), or that of its image; a finish without texture is one even
    colour."""
    first = np.array(rgb(finish.colour), dtype=float)
    texture = finish.texture
    if texture is None:
        return np.broadcast_to(first, (size, size, 3)).astype(np.uint8)
    if texture.pattern == "image" and texture.maps.colour:
        return image(texture.maps.colour)
    return _albedo(finish.colour, texture, size)


@lru_cache(maxsize=64)
def _albedo(colour: str, texture: Texture, size: int) -> Pixels:
    first, second = (np.array(rgb(one), dtype=float) for one in (colour, texture.second))
    filled = _filled(texture, size)
    mixed = first + (second - first) * filled.mix[..., None]
    return np.asarray(np.clip(mixed * (1 + filled.shade[..., None]), 0, 255).round(), dtype=np.uint8)


@lru_cache(maxsize=3)
def _filled(texture: Texture, size: int) -> Filled:
    return PATTERNS[texture.pattern].fill(Tile(size, texture.across, up_of(texture), texture.seed))


def roughness(finish: Finish) -> Field | None:
    """The roughness over one tile, 0 to 1; None where it is the same all over."""
    key = finish.texture.maps.roughness if finish.texture and finish.texture.pattern == "image" else ""
    return image(key).mean(axis=2) / 255 if key else None


def relief(finish: Finish, size: int = 512) -> Field | None:
    """How high one tile lies, 0 to 1 of the texture's depth; None where it is flat."""
    texture = finish.texture
    if texture is None or not texture.depth.mm:
        return None
    if texture.pattern == "image":
        return image(texture.maps.height).mean(axis=2) / 255 if texture.maps.height else None
    return _filled(texture, size).relief


def normals(finish: Finish, size: int = 512) -> Field | None:
    """The normals over one tile, unit vectors (h, w, 3): x along the grain, y up the tile, z off the surface; those of
    its image, or of its relief. None where it is flat."""
    texture = finish.texture
    if texture is None:
        return None
    if texture.pattern == "image" and texture.maps.normal:
        way = image(texture.maps.normal) / 127.5 - 1
    else:
        high = relief(finish, size)
        if high is None:
            return None
        deep = float(texture.depth.mm) / 1000
        rows, columns = high.shape
        along = (np.roll(high, -1, axis=1) - np.roll(high, 1, axis=1)) * deep / (2 * texture.across / columns)
        up = (np.roll(high, 1, axis=0) - np.roll(high, -1, axis=0)) * deep / (2 * up_of(texture) / rows)
        way = np.stack([-along, -up, np.ones_like(high)], axis=-1)
    return np.asarray(way / np.maximum(np.linalg.norm(way, axis=-1, keepdims=True), 1e-9))
