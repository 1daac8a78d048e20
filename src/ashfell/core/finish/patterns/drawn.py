"""Patterned glass, cloth, and images that people bring."""

import numpy as np

from ashfell.core.finish.pattern import PATTERNS, Filled, Pattern, Tile

REED = 0.0125
"""Width of a reed of reeded glass, m (common practice, no source)."""
THREAD = 0.0025
"""Width of a thread of cloth, m (common practice, no source)."""


def _reeded(tile: Tile) -> Filled:
    """Half-round reeds along the grain."""
    _, up = tile.places()
    reeds = max(2, round(tile.up / REED))
    across = (up / tile.up * reeds) % 1.0 * 2 - 1
    high = np.sqrt(np.clip(1 - across**2, 0, 1)) + np.zeros((1, tile.size))
    return Filled(np.zeros_like(high), np.zeros_like(high), high)


def _hammered(tile: Tile) -> Filled:
    dents = tile.noise(0, 0.05, 0.05)
    nothing = np.zeros_like(dents)
    return Filled(nothing, nothing, np.clip(0.5 + 0.22 * dents, 0, 1))


def _weave(tile: Tile) -> Filled:
    """Threads over and under each other."""
    along, up = tile.places()
    across, rows = (max(2, round(size / THREAD / 2) * 2) for size in (tile.across, tile.up))
    warp, weft = along / tile.across * across, up / tile.up * rows
    over = (warp.astype(int) + weft.astype(int)) % 2
    high = np.where(over, np.sin(np.pi * (weft % 1)), np.sin(np.pi * (warp % 1)))
    slub = tile.noise(0, 0.2, 0.01)
    return Filled(np.clip(0.35 + 0.3 * over + 0.1 * slub, 0, 1), 0.12 * (high - 0.64), high)


def _image(tile: Tile) -> Filled:
    """Where an image has no colours of its own the finish's are seen."""
    nothing = np.zeros((tile.size, tile.size))
    return Filled(nothing, nothing, nothing)


PATTERNS.register(Pattern("reeded", "reeded", 85, _reeded, "100 mm", "1.5 mm"))
PATTERNS.register(Pattern("hammered", "hammered", 90, _hammered, "400 mm", "1 mm"))
PATTERNS.register(Pattern("weave", "woven", 100, _weave, "100 mm", "0.5 mm", "threads"))
PATTERNS.register(Pattern("image", "image", 120, _image, "1 m"))
