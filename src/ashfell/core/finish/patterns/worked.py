"""The grain of timber, and metal that was brushed."""

import numpy as np

from ashfell.core.finish.pattern import PATTERNS, Filled, Pattern, Tile


def _timber(tile: Tile) -> Filled:
    """Growth rings cut lengthwise: bands across, drifting along the grain, with fine pores."""
    drift = tile.noise(0, 0.6, 0.12)
    across = np.arange(tile.size)[:, None] / tile.size
    bands = across * 14 + drift * 0.55
    ring = (bands % 1.0) ** 2.2
    pores = np.clip(tile.noise(1, 0.05, 0.0025) - 0.9, 0, None)
    fibre = tile.noise(2, 0.25, 0.004)
    mix = np.clip(0.15 + 0.55 * ring + 0.12 * fibre + 0.25 * pores, 0, 1)
    return Filled(mix, 0.03 * drift, np.clip(1 - 0.5 * pores - 0.15 * ring, 0, 1))


def _brushed(tile: Tile) -> Filled:
    strokes = tile.noise(0, 0.5, 0.003)
    return Filled(np.clip(0.5 + 0.35 * strokes, 0, 1), np.zeros_like(strokes), np.clip(0.5 + 0.2 * strokes, 0, 1))


PATTERNS.register(Pattern("timber", "timber grain", 10, _timber, "900 mm", "0", "rings"))
PATTERNS.register(Pattern("brushed", "brushed", 20, _brushed, "400 mm"))
