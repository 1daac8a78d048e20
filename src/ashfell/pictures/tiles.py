"""The tiles that a large picture is traced in: one after the other, or by several machines."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from ashfell.pictures.develop import Image
from ashfell.pictures.settings import PictureSettings

Crop = tuple[int, int, int, int]
"""Left, upper, right and lower edge of what is traced, pixels."""
TILE = 1 << 20
"""How many pixels are traced at once, at most."""


def tiles_of(settings: PictureSettings) -> list[Crop]:
    """Bands of what is traced of a picture, from the top down.

    >>> tiles_of(PictureSettings(width=2048, height=1300))
    [(0, 0, 2048, 512), (0, 512, 2048, 1024), (0, 1024, 2048, 1300)]
    """
    left, top, right, bottom = settings.crop
    rows = max(1, TILE // (right - left))
    return [(left, upper, right, min(upper + rows, bottom)) for upper in range(top, bottom, rows)]


def joined(tiles: Sequence[Mapping[str, Image]]) -> dict[str, Image]:
    """Layers of tiles, from the top down, as those of the whole."""
    return {name: np.concatenate([tile[name] for tile in tiles]) for name in tiles[0]}
