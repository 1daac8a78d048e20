"""What is laid piece by piece: bricks, coursed stone, tiles."""

import numpy as np

from ashfell.core.finish.pattern import PATTERNS, Field, Filled, Pattern, Tile

BRICK = (0.225, 0.075)
"""Length and height of a brick with one joint, m (a 215 x 65 mm brick, 10 mm joints: common practice)."""
JOINT = 0.010
STONE = (0.45, 0.15)
"""Length and height of a squared stone with its joint, m (common practice, no source)."""
SQUARE = 0.3
"""Side of a tile with its joint, m (common practice, no source)."""
NARROW = 0.003
"""Joint of tiles, m (common practice, no source)."""


def _laid(
    tile: Tile, piece: tuple[float, float], joint: float, shift: float, tones: float
) -> tuple[Field, Field, Field]:
    """Pieces in courses, each shifted by a share of a piece from the one below: how much of each pixel is joint, the
    tone of its piece, and how high it lies."""
    along, up = tile.places()
    courses, pieces = _courses(tile, piece)
    height, length = tile.up / courses, tile.across / pieces
    wobble = tile.noise(0, 0.01, 0.01) * 0.0012 * min(1.0, joint / JOINT)
    up = (up + wobble) % tile.up
    course = (up // height).astype(int) % courses
    along = (along + wobble + (course % 2) * length * shift) % tile.across
    number = (along // length).astype(int) % pieces
    edge = np.minimum(
        np.minimum(up % height, height - up % height), np.minimum(along % length, length - along % length)
    )
    soft = max(0.002 * joint / JOINT, tile.across / tile.size)
    between = np.clip((joint / 2 - edge) / soft + 0.5, 0, 1)
    tone = np.random.default_rng(tile.seed).normal(0, tones, (courses, pieces))[course, number]
    return between, np.clip(tone, -0.3, 0.3), np.clip((edge - joint / 4) / joint, 0, 1)


def _courses(tile: Tile, piece: tuple[float, float]) -> tuple[int, int]:
    """How many courses and pieces a tile has: whole ones, an even number of courses."""
    return max(2, round(tile.up / piece[1] / 2) * 2), max(1, round(tile.across / piece[0]))


def _brick(tile: Tile) -> Filled:
    """Running bond; the second colour is the joint."""
    joint, tone, high = _laid(tile, BRICK, JOINT, 0.5, 0.13)
    grain = 0.05 * tile.noise(1, 0.004, 0.004) + 0.04 * tile.noise(2, 0.03, 0.03)
    return Filled(joint, tone * (1 - joint) + grain, np.clip(high + 0.06 * tile.noise(1, 0.004, 0.004), 0, 1))


def _coursed(tile: Tile) -> Filled:
    """Squared stones in courses; the second colour is the joint."""
    joint, tone, high = _laid(tile, STONE, JOINT, 0.5, 0.08)
    rough = tile.noise(1, 0.02, 0.02)
    relief = np.clip(high * (0.75 + 0.12 * rough), 0, 1)
    return Filled(joint, tone * (1 - joint) + 0.04 * rough + 0.04 * tile.noise(2, 0.004, 0.004), relief)


def _tiles(tile: Tile) -> Filled:
    """Square tiles in straight rows; the second colour is the joint."""
    joint, tone, high = _laid(tile, (SQUARE, SQUARE), NARROW, 0.0, 0.025)
    return Filled(joint, tone * (1 - joint) + 0.008 * tile.noise(1, 0.03, 0.03), high)


PATTERNS.register(Pattern("brick", "brick, running bond", 30, _brick, "1.8 m", "4 mm", "joints", 1024))
PATTERNS.register(Pattern("coursed", "coursed stone", 40, _coursed, "1.8 m", "12 mm", "joints", 1024))
PATTERNS.register(Pattern("tiles", "square tiles", 50, _tiles, "1.2 m", "1 mm", "joints", 1024))
