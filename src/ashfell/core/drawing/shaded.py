"""What may be drawn on an elevation beside its lines: streaks on glass, and shadows as drawings have them. Light falls
from the upper left, in front, at 45 degrees: what stands some way before something throws a shadow as far to the right
and as far down.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import shapely
from shapely.affinity import translate
from shapely.geometry import LineString, Polygon, box

from ashfell.core.drawing.draft import Path
from ashfell.core.plane.points import Floats, polygons, previous
from ashfell.core.seen import Shape

CLEAR = "glass"
"""The role that throws no shadow, and that streaks are drawn on."""
DARKER = 0.74
"""How bright a shadow is, of what it falls on."""
WALL = (206, 202, 195)
"""The colour of a shadow on a wall, which has none itself."""
FINE = 0.2
"""How far the outline of a shadow may be off, mm; depths are taken to the whole millimetre."""
LEAST_AREA = 1.0
"""A shadow smaller than this is none, mm²."""
STREAKS = ((-0.06, 0.5), (0.0, 0.34), (0.05, 0.22))
"""How far each streak is off the middle of a pane, and how long it is, of the shorter side of the pane."""
EDGE = 0.04
"""How far streaks keep off the edge of a pane, of its shorter side."""


@dataclass(frozen=True)
class Extras:
    """What is drawn beside the lines."""

    streaks: bool = False
    shadows: bool = False


@dataclass(frozen=True)
class Reveal:
    """The opening that a unit stands in, as it is seen from where one looks: its outline, how far its wall's face is
    before the unit's zero, mm, and whether the drawing will be turned over."""

    outline: tuple[tuple[float, float], ...]
    depth: float
    over: bool = False


def streaks(pane: Polygon) -> Iterator[Path]:
    """A few lines at 45 degrees across the middle of a pane."""
    left, foot, right, head = pane.bounds
    short = min(right - left, head - foot)
    inside = pane.buffer(-EDGE * short)
    for off, long in STREAKS:
        x, y = (left + right) / 2 + off * short, (foot + head) / 2 - off * short
        half = long * short / 2
        cut = inside.intersection(LineString([(x - half, y - half), (x + half, y + half)]))
        for piece in getattr(cut, "geoms", [cut]):
            if piece.length > 0.1 * short:
                yield Path(np.array(piece.coords), "streak", closed=False)


class Shadows:
    """The shadows that shapes throw on each other, and a wall's reveal on them.

    Parameters
    ----------
    shapes : sequence of Shape
        Of one elevation, each with its depth.
    outlines : sequence of Polygon
        The whole of each, whether or not something covers it.
    reveal : Reveal, optional
        Of the opening that they stand in.
    """

    def __init__(self, shapes: Sequence[Shape], outlines: Sequence[Polygon], reveal: Reveal | None = None) -> None:
        self.way = np.array([-1.0 if reveal and reveal.over else 1.0, -1.0])
        self.reveal = reveal
        self.wall = _wall(outlines, shapes, reveal) if reveal else None
        by_depth: dict[int, list[Polygon]] = defaultdict(list)
        for outline, shape in zip(outlines, shapes, strict=True):
            if shape.role != CLEAR and not outline.is_empty:
                by_depth[round(shape.depth)].append(outline)
        if reveal and self.wall is not None:
            by_depth[round(reveal.depth)].append(self.wall)
        self.casters = {depth: shapely.union_all(some).simplify(FINE) for depth, some in by_depth.items()}
        self.cast: dict[int, Polygon] = {}

    def on(self, visible: Polygon, depth: float) -> list[Polygon]:
        """What of a level face at a depth lies in shadow."""
        at = round(depth)
        if at not in self.cast:
            self.cast[at] = self._cast(at)
        fallen = visible.intersection(self.cast[at])
        return [piece for piece in polygons(fallen) if piece.area > LEAST_AREA]

    def _cast(self, at: int) -> Polygon:
        """All that lies in shadow at a depth: what is dark before it, or throws a shadow from there, is so all the way
        down."""
        dark, last = Polygon(), at
        for depth in sorted((one for one in self.casters if one > at), reverse=True):
            if depth not in self.cast:
                self.cast[depth] = swept(dark, (last - depth) * self.way) if last > depth else dark
            dark, last = shapely.union(self.cast[depth], self.casters[depth]), depth
        return swept(dark, (last - at) * self.way) if last > at else dark

    def on_wall(self) -> Iterator[Path]:
        """What of the wall round the opening lies in shadow."""
        if self.reveal is not None and self.wall is not None:
            for piece in self.on(self.wall, self.reveal.depth):
                yield shadow(piece, WALL)


def shadow(piece: Polygon, colour: tuple[int, ...]) -> Path:
    """A shadow as it is drawn."""
    rings = [np.array(ring.coords)[:-1] for ring in (piece.exterior, *piece.interiors)]
    fill: tuple[int, int, int] = (colour[0], colour[1], colour[2])
    return Path(rings[0], "shadow", fill=fill, holes=tuple(rings[1:]), lined=False)


def darker(colour: tuple[int, ...]) -> tuple[int, ...]:
    """The colour of a shadow on something of a colour."""
    return tuple(round(value * DARKER) for value in colour)


def _wall(outlines: Sequence[Polygon], shapes: Sequence[Shape], reveal: Reveal) -> Polygon:
    """The wall round an opening, as far as a shadow may fall on it."""
    hole = Polygon(reveal.outline).buffer(0)
    far = max([shape.depth - reveal.depth for shape in shapes] + [0.0])
    bounds = np.array([hole.bounds, *(one.bounds for one in outlines if not one.is_empty)])
    (left, foot), (right, head) = bounds[:, :2].min(axis=0), bounds[:, 2:].max(axis=0)
    deep = max([reveal.depth - shape.depth for shape in shapes] + [far]) + 1.0
    return box(left - deep, foot - deep, right + deep, head + deep).difference(hole)


def swept(outline: Polygon, way: Floats) -> Polygon:
    """What an outline passes over when it is moved: where it was and is, and between these what each stretch of its
    edge passes over that runs to one side of the way."""
    made = [outline, translate(outline, *way.tolist())]
    for part in polygons(outline):
        for ring in (part.exterior, *part.interiors):
            made += [Polygon(np.concatenate([run, run[::-1] + way])) for run in _runs(np.array(ring.coords), way)]
    return shapely.union_all(made)


def _runs(ring: Floats, way: Floats) -> Iterator[Floats]:
    """The stretches (n, 2) of a closed ring that run to one side of a way, without those along it."""
    steps = np.diff(ring, axis=0)
    side = np.sign(steps[:, 0] * way[1] - steps[:, 1] * way[0])
    turns = np.flatnonzero(side != previous(side))
    if not len(turns):
        return
    steps_from = np.roll(side, -turns[0])
    points = np.concatenate([np.roll(ring[:-1], -turns[0], axis=0), ring[turns[0]][None]])
    ends = np.concatenate([turns - turns[0], [len(steps)]])
    for low, high in pairwise(ends.tolist()):
        if steps_from[low]:
            yield points[low : high + 1]
