"""A region of a picture traced again, laid into the picture."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ashfell.pictures.develop import Image
from ashfell.pictures.tiles import Crop

SEAM = 6
"""Over how many pixels a region runs over into what is round it."""


def laid_in(whole: Mapping[str, Image], piece: Mapping[str, Image], crop: Crop) -> dict[str, Image]:
    """Layers (h, w, c) with those of a region in their place; a layer that one of them has not is dark there."""
    shapes = next(iter(whole.values())).shape, next(iter(piece.values())).shape
    found = {}
    for name in {**whole, **piece}:
        round_it = np.asarray(whole[name], dtype=np.float32) if name in whole else np.zeros(shapes[0], np.float32)
        inside = piece[name] if name in piece else np.zeros(shapes[1], np.float32)
        found[name] = blended(round_it, inside, crop)
    return found


def blended(whole: Image, piece: Image, crop: Crop) -> Image:
    """An image (h, w, c) with a region's in its place, which runs over into what is round it."""
    left, top, right, bottom = crop
    share = _ramp(right - left, left > 0, right < whole.shape[1])[None, :, None]
    share = share * _ramp(bottom - top, top > 0, bottom < whole.shape[0])[:, None, None]
    found = whole.copy()
    found[top:bottom, left:right] += share * (piece - found[top:bottom, left:right])
    return found


def _ramp(count: int, begins: bool, ends: bool) -> NDArray[np.float32]:
    """The share of a region along one axis; it begins or ends at once where the picture does."""
    at = np.arange(count, dtype=np.float32) + 1
    edge = float(min(SEAM, max(1, count // 4)))
    rising = (at / (edge + 1)).clip(0, 1) if begins else np.ones(count, np.float32)
    falling = (at[::-1] / (edge + 1)).clip(0, 1) if ends else np.ones(count, np.float32)
    return np.asarray(np.minimum(rising, falling), dtype=np.float32)


def put_in(whole: NDArray[Any], piece: NDArray[Any], crop: Crop) -> NDArray[Any]:
    """Numbers (h, w, …) with a region's in their place."""
    left, top, right, bottom = crop
    found = np.array(whole)
    found[top:bottom, left:right] = piece
    return found
