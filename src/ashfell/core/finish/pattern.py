"""Computed textures: each pattern says how its two colours, its shade and its relief lie over a tile.

Noise is made by filtering in the frequency domain, where everything repeats without a seam. Rows run across the grain,
columns along it; the first row is the top of the tile.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy import fft
from numpy.typing import NDArray

from ashfell.core.base.registry import Registry

Field = NDArray[np.float64]


@dataclass(frozen=True)
class Tile:
    """One tile that is to be filled: ``size`` pixels a side, ``across`` by ``up`` metres, made from a ``seed``."""

    size: int
    across: float
    up: float
    seed: int

    def noise(self, number: int, along: float, across: float) -> Field:
        """Smooth periodic noise, mean 0, deviation 1; features about ``along`` by ``across`` tiles large. Each
        ``number`` is another."""
        size = self.size
        white = fft.rfft2(np.random.default_rng(self.seed + number).standard_normal((size, size)))
        rows, columns = fft.fftfreq(size, 1 / size)[:, None], fft.rfftfreq(size, 1 / size)[None, :]
        white *= np.exp(-np.pi * (rows * across) ** 2) * np.exp(-np.pi * (columns * along) ** 2)
        white[0, 0] = 0
        field = fft.irfft2(white, (size, size))
        return np.asarray(field / field.std())

    def places(self) -> tuple[Field, Field]:
        """How far along and how far down each pixel is, (1, n) and (n, 1), metres."""
        share = (np.arange(self.size) + 0.5) / self.size
        return share[None, :] * self.across, share[:, None] * self.up


@dataclass(frozen=True)
class Filled:
    """What a pattern makes of a tile, (n, n) each: ``mix`` from the first colour (0) to the second (1), ``shade`` by
    how much it is brighter or darker, ``relief`` how high it lies, 0 to 1."""

    mix: Field
    shade: Field
    relief: Field


@dataclass(frozen=True)
class Pattern:
    """One computed texture.

    Attributes
    ----------
    key, label : str
    order : int
    fill : callable
    width : str
        How wide a tile begins.
    depth : str
        How deep its relief begins.
    second : str
        What the second colour is of, in words.
    detail : int
        How many pixels a side show it well.
    """

    key: str
    label: str
    order: int
    fill: Callable[[Tile], Filled]
    width: str = "1 m"
    depth: str = "0"
    second: str = "to"
    detail: int = 512


PATTERNS: Registry[Pattern] = Registry("pattern", "ashfell.core.finish.patterns")
