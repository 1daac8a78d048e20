"""Tileable images of grain, brick, plaster and brushed metal, computed from a seed.

Noise is made by filtering in the frequency domain, where everything repeats without a seam. Rows run across the grain,
columns along it; the first row is the top of the tile.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ashfell.core.finish import Finish, Texture

Pixels = NDArray[np.uint8]
Field = NDArray[np.float64]

BRICK = (0.225, 0.075)
"""Length and height of a brick with one joint, m (a 215 x 65 mm brick, 10 mm joints: common practice)."""
JOINT = 0.010
VERSION = 1
"""Counted up whenever the same texture comes out differently: what was kept of it is then made again."""


@lru_cache(maxsize=64)
def albedo(finish: Finish, size: int = 512) -> Pixels:
    """Colour of one tile as sRGB bytes (size, size, 3); a finish without texture is one even colour."""
    first = _rgb(finish.colour)
    if finish.texture is None:
        return np.broadcast_to(first, (size, size, 3)).astype(np.uint8)
    second = _rgb(finish.texture.second)
    mix, shade = _PATTERNS[finish.texture.pattern](finish.texture, size)
    colour = first + (second - first) * mix[..., None]
    return np.clip(colour * (1 + shade[..., None]), 0, 255).round().astype(np.uint8)


def _rgb(colour: str) -> Field:
    return np.array([int(colour[k : k + 2], 16) for k in (1, 3, 5)], dtype=float)


def _noise(seed: int, size: int, along: float, across: float) -> Field:
    """Smooth periodic noise, mean 0, deviation 1; features about ``along`` by ``across`` tiles large."""
    white = np.fft.fft2(np.random.default_rng(seed).standard_normal((size, size)))
    rows, columns = np.fft.fftfreq(size, 1 / size)[:, None], np.fft.fftfreq(size, 1 / size)[None, :]
    kept = np.exp(-((rows * across) ** 2 + (columns * along) ** 2) * np.pi)
    kept[0, 0] = 0
    field = np.fft.ifft2(white * kept).real
    return np.asarray(field / field.std())


def _timber(texture: Texture, size: int) -> tuple[Field, Field]:
    """Growth rings cut lengthwise: bands across, drifting along the grain, with fine pores."""
    drift = _noise(texture.seed, size, 0.6, 0.12)
    across = np.arange(size)[:, None] / size
    bands = across * 14 + drift * 0.55
    ring = (bands % 1.0) ** 2.2
    pores = np.clip(_noise(texture.seed + 1, size, 0.05, 0.0025) - 0.9, 0, None)
    fibre = _noise(texture.seed + 2, size, 0.25, 0.004)
    return np.clip(0.15 + 0.55 * ring + 0.12 * fibre + 0.25 * pores, 0, 1), 0.03 * drift


def _brick(texture: Texture, size: int) -> tuple[Field, Field]:
    """Running bond; the second colour is the joint."""
    metres = (np.arange(size) + 0.5) / size * texture.tile
    courses, bricks = max(2, round(texture.tile / BRICK[1] / 2) * 2), max(1, round(texture.tile / BRICK[0]))
    height, length = texture.tile / courses, texture.tile / bricks
    wobble = _noise(texture.seed, size, 0.01, 0.01) * 0.0012
    up = (metres[:, None] + wobble) % texture.tile
    course = (up // height).astype(int) % courses
    along = (metres[None, :] + wobble + (course % 2) * length / 2) % texture.tile
    brick = (along // length).astype(int) % bricks
    edge = np.minimum(
        np.minimum(up % height, height - up % height), np.minimum(along % length, length - along % length)
    )
    joint = np.clip((JOINT / 2 - edge) / 0.002 + 0.5, 0, 1)
    tone = np.random.default_rng(texture.seed).normal(0, 0.13, (courses, bricks))[course, brick]
    grain = 0.05 * _noise(texture.seed + 1, size, 0.004, 0.004) + 0.04 * _noise(texture.seed + 2, size, 0.03, 0.03)
    return joint, np.clip(tone, -0.3, 0.3) * (1 - joint) + grain


def _plaster(texture: Texture, size: int) -> tuple[Field, Field]:
    cloud = _noise(texture.seed, size, 0.15, 0.15)
    grit = _noise(texture.seed + 1, size, 0.004, 0.004)
    return np.clip(0.5 + 0.3 * cloud, 0, 1), 0.018 * grit


def _gravel(texture: Texture, size: int) -> tuple[Field, Field]:
    stones = _noise(texture.seed, size, 0.012, 0.012)
    cloud = _noise(texture.seed + 1, size, 0.2, 0.2)
    return np.clip(0.5 + 0.45 * stones, 0, 1), 0.02 * cloud + 0.05 * _noise(texture.seed + 2, size, 0.004, 0.004)


def _brushed(texture: Texture, size: int) -> tuple[Field, Field]:
    return np.clip(0.5 + 0.35 * _noise(texture.seed, size, 0.5, 0.003), 0, 1), np.zeros((size, size))


def _plain(texture: Texture, size: int) -> tuple[Field, Field]:
    return np.zeros((size, size)), np.zeros((size, size))


_PATTERNS = {
    "timber": _timber,
    "brick": _brick,
    "plaster": _plaster,
    "gravel": _gravel,
    "brushed": _brushed,
    "plain": _plain,
}
