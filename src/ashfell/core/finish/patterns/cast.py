"""What is cast, spread or strewn: plaster, concrete from boards, gravel, nothing at all."""

import numpy as np

from ashfell.core.finish.pattern import PATTERNS, Filled, Pattern, Tile

BOARD = 0.12
"""Width of a board of formwork, m (common practice, no source)."""


def _plain(tile: Tile) -> Filled:
    nothing = np.zeros((tile.size, tile.size))
    return Filled(nothing, nothing, nothing)


def _plaster(tile: Tile) -> Filled:
    cloud, grit = tile.noise(0, 0.15, 0.15), tile.noise(1, 0.004, 0.004)
    return Filled(np.clip(0.5 + 0.3 * cloud, 0, 1), 0.018 * grit, np.clip(0.5 + 0.1 * cloud + 0.15 * grit, 0, 1))


def _boarded(tile: Tile) -> Filled:
    """Concrete as boards left it: each a little higher or lower, with their grain."""
    _, up = tile.places()
    boards = max(2, round(tile.up / BOARD))
    height = tile.up / boards
    number = (up // height).astype(int) % boards + np.zeros((1, tile.size), dtype=int)
    rng = np.random.default_rng(tile.seed)
    tone, level = rng.normal(0, 0.05, boards)[number], rng.uniform(0, 1, boards)[number]
    grain, cloud = tile.noise(1, 0.3, 0.004), tile.noise(2, 0.12, 0.12)
    edge = np.minimum(up % height, height - up % height) + np.zeros((1, tile.size))
    fin = np.clip(1 - edge / 0.002, 0, 1)
    mix = np.clip(0.5 + 0.3 * cloud + 0.08 * grain, 0, 1)
    return Filled(mix, tone + 0.02 * grain, np.clip(0.3 + 0.4 * level + 0.06 * grain + 0.2 * fin, 0, 1))


def _gravel(tile: Tile) -> Filled:
    stones, cloud = tile.noise(0, 0.012, 0.012), tile.noise(1, 0.2, 0.2)
    shade = 0.02 * cloud + 0.05 * tile.noise(2, 0.004, 0.004)
    return Filled(np.clip(0.5 + 0.45 * stones, 0, 1), shade, np.clip(0.5 + 0.25 * stones, 0, 1))


PATTERNS.register(Pattern("plaster", "plaster", 60, _plaster, "2 m", "0.5 mm"))
PATTERNS.register(Pattern("boarded", "board-marked", 70, _boarded, "2.4 m", "3 mm"))
PATTERNS.register(Pattern("gravel", "gravel", 80, _gravel, "3 m", "0"))
PATTERNS.register(Pattern("plain", "plain", 110, _plain))
