"""A drawing as values in millimetres of what it shows, for files: paths on layers, dimensions, words, and other
drawings that it uses. Whoever writes it, in whatever format, only draws."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from ashfell.core.plane.points import Floats

Extent = tuple[float, float, float, float]
Fill = tuple[int, int, int] | None


@dataclass(frozen=True)
class Path:
    """Lines from point to point (n, 2). Closed ones may be filled, with ``holes`` left out; ``hatched`` ones are cut.
    ``dashed`` ones lie behind, and of those that are not ``lined`` there is the fill alone."""

    points: Floats
    layer: str
    closed: bool = True
    fill: Fill = None
    holes: tuple[Floats, ...] = ()
    hatched: bool = False
    dashed: bool = False
    lined: bool = True


@dataclass(frozen=True)
class Size:
    """A dimension between two points, its line ``off`` to the left of the way from the one to the other."""

    start: tuple[float, float]
    end: tuple[float, float]
    off: float
    text: str

    @property
    def length(self) -> float:
        """What it measures, mm."""
        return float(np.hypot(self.end[0] - self.start[0], self.end[1] - self.start[1]))

    @property
    def line(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """Where its line runs."""
        (ax, ay), (bx, by) = self.start, self.end
        long = self.length or 1.0
        dx, dy = -(by - ay) / long * self.off, (bx - ax) / long * self.off
        return (ax + dx, ay + dy), (bx + dx, by + dy)


@dataclass(frozen=True)
class Words:
    """A line of text, ``height`` high."""

    text: str
    at: tuple[float, float]
    height: float
    anchor: Literal["start", "middle", "end"] = "middle"


@dataclass(frozen=True)
class Use:
    """Another drawing by its key, its origin ``at`` a place, turned ``over`` where it is a mirror image."""

    draft: str
    at: tuple[float, float]
    over: bool = False


@dataclass(frozen=True)
class Draft:
    """A drawing. ``used`` are those that it shows, by key. Beside others it is for a scale that is ``nearer`` than
    theirs, so many times."""

    title: str
    paths: tuple[Path, ...] = ()
    sizes: tuple[Size, ...] = ()
    words: tuple[Words, ...] = ()
    uses: tuple[Use, ...] = ()
    used: Mapping[str, Draft] = field(default_factory=dict)
    nearer: float = 1.0

    @property
    def extent(self) -> Extent:
        """Left, foot, right and head of all that is drawn, its dimensions too."""
        found = [*self._corners()]
        if not found:
            return 0.0, 0.0, 1.0, 1.0
        points = np.concatenate(found)
        (left, foot), (right, head) = points.min(axis=0).tolist(), points.max(axis=0).tolist()
        return left, foot, right, head

    def _corners(self) -> Iterable[Floats]:
        for path in self.paths:
            yield np.asarray(path.points)
        for size in self.sizes:
            yield np.array(size.line)
        for one in self.words:
            yield np.array([one.at, (one.at[0], one.at[1] + one.height)])
        for use in self.uses:
            left, foot, right, head = self.used[use.draft].extent
            turn = -1.0 if use.over else 1.0
            yield np.array([(turn * left, foot), (turn * right, head)]) + np.array(use.at)


@dataclass(frozen=True)
class Layer:
    """How what is on a layer is drawn: its line's width in mm of paper, and its colour."""

    name: str
    width: float
    colour: tuple[int, int, int]


INK = (43, 39, 35)
LAYERS = {
    "wall": Layer("WALL", 0.5, INK),
    "below": Layer("WALL-BELOW", 0.13, (150, 144, 136)),
    "over": Layer("OVER", 0.18, (120, 114, 106)),
    "opening": Layer("OPENING", 0.25, INK),
    "symbol": Layer("OPENING-SYMBOL", 0.13, (178, 68, 28)),
    "dimension": Layer("DIMENSION", 0.13, INK),
    "text": Layer("TEXT", 0.18, INK),
    "hatch": Layer("HATCH", 0.09, (120, 114, 106)),
    "unit": Layer("UNIT", 0.25, INK),
    "streak": Layer("GLASS-STREAK", 0.09, (120, 114, 106)),
    "shadow": Layer("SHADOW", 0.09, (150, 144, 136)),
}
"""Layers that are no role; a part is on the layer of its role."""
ROLE_WIDTH = 0.18


def layer_of(key: str) -> Layer:
    """A layer by its key, which may be a role."""
    return LAYERS.get(key) or Layer(f"UNIT-{key.upper()}", ROLE_WIDTH, INK)
