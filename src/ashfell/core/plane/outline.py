"""Closed paths of lines and arcs: area, length, exact mitre offset, and the one place where curves are sampled.

An outline runs counter-clockwise. Each node carries the bulge of the segment that leaves it: 0 for a line, else the
tangent of a quarter of the arc's angle, positive when the arc turns left. Each segment has a name, that of the side of
a unit it makes; neighbours of one name make one side.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property
from math import sin

import numpy as np
from numpy.typing import NDArray

from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.loop import SIDES, Loop
from ashfell.core.plane.segment import CHORD, TOUCH, Segment, quadrants

Station = tuple[int, float]
"""A place on an outline: which segment, and the share of it that lies behind."""


@dataclass(frozen=True)
class Outline:
    """A closed counter-clockwise path: nodes ``(x, y, bulge)``, mm, and the name of the segment that leaves each."""

    nodes: tuple[tuple[float, float, float], ...]
    names: tuple[str, ...] = ()

    @classmethod
    def of(cls, nodes: Iterable[Sequence[float]], names: Sequence[str] = ()) -> Outline:
        """From nodes in either direction; a missing bulge is a line, missing names are ``side.1`` and so on.

        Raises
        ------
        Refusal
            When there is no area inside.
        """
        full = tuple((float(node[0]), float(node[1]), float(node[2]) if len(node) > 2 else 0.0) for node in nodes)
        outline = cls(full, tuple(names) or tuple(f"side.{n + 1}" for n in range(len(full))))
        if len(full) < 2 or abs(outline.area) < TOUCH:
            raise Refusal("outline", "an area inside", "The outline encloses no area.", "Give at least three corners.")
        return outline if outline.area > 0 else outline.reversed()

    @classmethod
    def rectangle(cls, width: float, height: float, x: float = 0.0, y: float = 0.0) -> Outline:
        """A rectangle with its lower left corner at (x, y), mm."""
        return cls.of([(x, y), (x + width, y), (x + width, y + height), (x, y + height)], SIDES)

    @cached_property
    def segments(self) -> tuple[Segment, ...]:
        """The lines and arcs in order; the last ends where the first starts."""
        ahead = (*self.nodes[1:], self.nodes[0])
        return tuple(Segment((a[0], a[1]), (b[0], b[1]), a[2]) for a, b in zip(self.nodes, ahead, strict=True))

    @cached_property
    def area(self) -> float:
        """Signed area, mm²: the polygon of the nodes and the circular segment of each arc."""
        polygon = sum(s.start[0] * s.end[1] - s.end[0] * s.start[1] for s in self.segments) / 2
        bows = sum(s.radius**2 * (s.angle - sin(s.angle)) / 2 for s in self.segments if s.bulge)
        return float(polygon + bows)

    @property
    def length(self) -> float:
        """The whole way round, mm."""
        return sum(segment.length for segment in self.segments)

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """Least x, least y, greatest x, greatest y; exact at the quadrants of arcs."""
        points = [point for segment in self.segments for point in (segment.start, *quadrants(segment))]
        xs, ys = zip(*points, strict=True)
        return min(xs), min(ys), max(xs), max(ys)

    def reversed(self) -> Outline:
        """The same outline, run the other way."""
        backwards = [(s.end[0], s.end[1], -s.bulge) for s in reversed(self.segments)]
        return Outline(tuple(backwards), self.names[::-1])

    def moved(self, x: float, y: float) -> Outline:
        """The outline shifted, mm."""
        return Outline(tuple((u + x, v + y, bulge) for u, v, bulge in self.nodes), self.names)

    def facets(self, chord: float = CHORD) -> Loop:
        """The loop of facets that keeps within ``chord`` of the outline, mm: what all parts are made from."""
        if not any(bulge for _, _, bulge in self.nodes):
            return Loop.through(np.array(self.nodes)[:, :2], self.names, (False,) * len(self.nodes))
        stations = self.stations(chord)
        tags = tuple(self.names[index] for index, _ in stations)
        return Loop.through(self.at(stations), tags, [bool(self.nodes[index][2]) for index, _ in stations])

    def stations(self, chord: float = CHORD) -> tuple[Station, ...]:
        """Places on the outline whose polygon keeps within ``chord`` of it, mm. The same stations on an offset of the
        outline are opposite each other, so that rings can be spanned between the two."""
        return tuple(
            (index, piece / count)
            for index, segment in enumerate(self.segments)
            for count in (segment.pieces(chord),)
            for piece in range(count)
        )

    def at(self, stations: Iterable[Station]) -> NDArray[np.float64]:
        """The points (n, 2) at stations, mm."""
        return np.array([self.segments[index].point_at(share) for index, share in stations])
