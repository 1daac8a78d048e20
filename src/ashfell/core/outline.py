"""Closed paths of lines and arcs: area, length, exact mitre offset, and the one place where curves are sampled.

An outline runs counter-clockwise. Each node carries the bulge of the segment that leaves it: 0 for a line, else the
tangent of a quarter of the arc's angle, positive when the arc turns left. Each segment has a name, that of the side of a
unit it makes; neighbours of one name make one side.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property
from math import acos, atan, atan2, ceil, cos, hypot, pi, sin, sqrt, tan

import numpy as np
from numpy.typing import NDArray

from ashfell.core.plane import SIDES, Loop
from ashfell.core.refusal import Refusal

CHORD = 0.1
"""Greatest distance between a curve and its chords, mm."""
TOUCH = 1e-7
"""Points nearer than this are one point, mm."""

Point = tuple[float, float]


@dataclass(frozen=True)
class Segment:
    """One line or arc of an outline, from ``start`` to ``end``, mm."""

    start: Point
    end: Point
    bulge: float = 0.0

    @property
    def chord(self) -> float:
        return hypot(self.end[0] - self.start[0], self.end[1] - self.start[1])

    @property
    def angle(self) -> float:
        """Angle turned through, radians; positive to the left."""
        return 4 * atan(self.bulge)

    @property
    def radius(self) -> float:
        """Positive for an arc that turns left, negative for one that turns right."""
        return self.chord / (2 * sin(self.angle / 2))

    @property
    def centre(self) -> Point:
        normal = self.normal_at(0.0)
        return self.start[0] + normal[0] * self.radius, self.start[1] + normal[1] * self.radius

    @property
    def length(self) -> float:
        return abs(self.angle * self.radius) if self.bulge else self.chord

    def heading_at(self, share: float) -> float:
        """Direction of travel after a share (0 to 1) of the segment, radians."""
        along = atan2(self.end[1] - self.start[1], self.end[0] - self.start[0])
        return along + self.angle * (share - 0.5)

    def normal_at(self, share: float) -> Point:
        """Unit normal to the left of travel: inwards on a counter-clockwise outline."""
        heading = self.heading_at(share)
        return -sin(heading), cos(heading)

    def pieces(self, chord: float = CHORD) -> int:
        """How many straight pieces keep within ``chord`` of the segment, mm."""
        if not self.bulge:
            return 1
        radius = abs(self.radius)
        step = 2 * acos(max(-1.0, 1 - min(chord, radius) / radius))
        count = max(2, ceil(abs(self.angle) / step))
        return count + count % 2  # even, so that the crown of a half circle is a corner

    def point_at(self, share: float) -> Point:
        """The point after a share (0 to 1) of the segment."""
        (x, y), (u, v) = self.start, self.end
        if share == 0 or not self.bulge:
            return x + (u - x) * share, y + (v - y) * share
        (cx, cy), radius = self.centre, abs(self.radius)
        turn = atan2(y - cy, x - cx) + self.angle * share
        return cx + radius * cos(turn), cy + radius * sin(turn)


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
        return sum(segment.length for segment in self.segments)

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """Least x, least y, greatest x, greatest y; exact at the quadrants of arcs."""
        points = [point for segment in self.segments for point in (segment.start, *_quadrants(segment))]
        xs, ys = zip(*points, strict=True)
        return min(xs), min(ys), max(xs), max(ys)

    def reversed(self) -> Outline:
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

    def sample(self, chord: float = CHORD) -> NDArray[np.float64]:
        """Points (n, 2) of a polygon no farther than ``chord`` from the outline, mm."""
        return self.at(self.stations(chord))

    def offset(self, inwards: float) -> Outline:
        """The outline moved inwards (outwards when negative) by an exact distance, corners mitred, mm.

        Raises
        ------
        Refusal
            When a side would vanish, with the largest offset that works.
        """
        if inwards == 0:
            return self
        moved = _moved(self, inwards)
        if moved is None:
            most = _largest_offset(self, inwards)
            raise Refusal(
                "offset",
                "every side remains",
                f"An offset of {inwards:g} mm leaves nothing of one side.",
                f"The largest that works is {most:.2f} mm.",
            )
        return moved


def arch(span: float, rise: float) -> float:
    """Radius of a segmental arch, mm: r = (s² + 4h²) / 8h."""
    return (span**2 + 4 * rise**2) / (8 * rise)


def bulge_of(angle: float) -> float:
    """The bulge of an arc that turns through ``angle`` radians."""
    return tan(angle / 4)


def _quadrants(segment: Segment) -> list[Point]:
    if not segment.bulge:
        return []
    (cx, cy), radius = segment.centre, abs(segment.radius)
    first = atan2(segment.start[1] - cy, segment.start[0] - cx)
    low, high = sorted((first, first + segment.angle))
    turns = [k * pi / 2 for k in range(ceil(low / (pi / 2)), int(high // (pi / 2)) + 1)]
    return [(cx + radius * cos(turn), cy + radius * sin(turn)) for turn in turns]


def _moved(outline: Outline, inwards: float) -> Outline | None:
    """The offset outline, or None when a side has turned round or an arc has shrunk away."""
    segments = outline.segments
    corners = []
    for before, after in zip((segments[-1], *segments[:-1]), segments, strict=True):
        corner = _corner(before, after, inwards)
        if corner is None:
            return None
        corners.append(corner)
    nodes = []
    for segment, start, end in zip(segments, corners, (*corners[1:], corners[0]), strict=True):
        bulge = _moved_bulge(segment, start, end, inwards)
        if bulge is None:
            return None
        nodes.append((*start, bulge))
    return Outline(tuple(nodes), outline.names)


def _corner(before: Segment, after: Segment, inwards: float) -> Point | None:
    """Where the two moved segments meet."""
    corner, n0, n1 = after.start, before.normal_at(1.0), after.normal_at(0.0)
    cosine = n0[0] * n1[0] + n0[1] * n1[1]
    if cosine > 1 - 1e-12:
        return corner[0] + n0[0] * inwards, corner[1] + n0[1] * inwards
    if cosine < -1 + 1e-9:
        return None
    mitre = inwards / (1 + cosine)
    guess = corner[0] + (n0[0] + n1[0]) * mitre, corner[1] + (n0[1] + n1[1]) * mitre
    if not before.bulge and not after.bulge:
        return guess
    met = _meetings(_carrier(before, inwards), _carrier(after, inwards))
    return min(met, key=lambda p: hypot(p[0] - guess[0], p[1] - guess[1]), default=None)


_Carrier = tuple[Point, Point, float]
"""A line (point, direction, 0) or a circle (centre, unused, radius above 0)."""


def _carrier(segment: Segment, inwards: float) -> _Carrier:
    if segment.bulge:
        return segment.centre, (0.0, 0.0), abs(segment.radius - inwards)
    n, heading = segment.normal_at(0.0), segment.heading_at(0.0)
    return (segment.start[0] + n[0] * inwards, segment.start[1] + n[1] * inwards), (cos(heading), sin(heading)), 0.0


def _meetings(a: _Carrier, b: _Carrier) -> list[Point]:
    if not a[2]:
        a, b = b, a
    (cx, cy), _, radius = a
    if not b[2]:
        (px, py), (dx, dy), _ = b
        along = (cx - px) * dx + (cy - py) * dy
        foot = (px + dx * along, py + dy * along)
        half = radius**2 - (foot[0] - cx) ** 2 - (foot[1] - cy) ** 2
        reach = _root(half, radius)
        return [] if reach is None else [(foot[0] + k * dx * reach, foot[1] + k * dy * reach) for k in (-1, 1)]
    (ox, oy), _, other = b
    apart = hypot(ox - cx, oy - cy)
    if apart < TOUCH:
        return []
    dx, dy = (ox - cx) / apart, (oy - cy) / apart
    along = (apart**2 + radius**2 - other**2) / (2 * apart)
    reach = _root(radius**2 - along**2, radius)
    if reach is None:
        return []
    return [(cx + dx * along - k * dy * reach, cy + dy * along + k * dx * reach) for k in (-1, 1)]


def _root(square: float, scale: float) -> float | None:
    return None if square < -1e-9 * scale * scale else sqrt(max(0.0, square))


def _moved_bulge(segment: Segment, start: Point, end: Point, inwards: float) -> float | None:
    if not segment.bulge:
        heading = segment.heading_at(0.0)
        forwards = (end[0] - start[0]) * cos(heading) + (end[1] - start[1]) * sin(heading)
        return 0.0 if forwards > TOUCH else None
    radius = segment.radius - inwards
    if radius * segment.radius <= 0:
        return None
    cx, cy = segment.centre
    turn = atan2(end[1] - cy, end[0] - cx) - atan2(start[1] - cy, start[0] - cx)
    angle = turn % (2 * pi) if segment.bulge > 0 else -((-turn) % (2 * pi))
    full = abs(segment.angle)
    return bulge_of(angle) if 0 < abs(angle) < min(2 * pi, full + pi) else None


def _largest_offset(outline: Outline, inwards: float) -> float:
    good, bad = 0.0, inwards
    for _ in range(60):
        middle = (good + bad) / 2
        good, bad = (middle, bad) if _moved(outline, middle) is not None else (good, middle)
    return good
