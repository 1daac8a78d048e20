"""Lines and arcs: one segment of an outline, and the one place where curves are sampled."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from math import acos, atan, atan2, ceil, cos, hypot, pi, sin, tan

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

    @cached_property
    def chord(self) -> float:
        """Straight distance from start to end, mm."""
        return hypot(self.end[0] - self.start[0], self.end[1] - self.start[1])

    @cached_property
    def angle(self) -> float:
        """Angle turned through, radians; positive to the left."""
        return 4 * atan(self.bulge)

    @cached_property
    def radius(self) -> float:
        """Positive for an arc that turns left, negative for one that turns right."""
        return self.chord / (2 * sin(self.angle / 2))

    @cached_property
    def centre(self) -> Point:
        """Centre of the arc, mm."""
        normal = self.normal_at(0.0)
        return self.start[0] + normal[0] * self.radius, self.start[1] + normal[1] * self.radius

    @property
    def length(self) -> float:
        """Length along the line or arc, mm."""
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
        turn = self._first + self.angle * share
        return cx + radius * cos(turn), cy + radius * sin(turn)

    @cached_property
    def _first(self) -> float:
        """The direction from the centre of an arc to its start, radians."""
        (x, y), (cx, cy) = self.start, self.centre
        return atan2(y - cy, x - cx)


def arch(span: float, rise: float) -> float:
    """Radius of a segmental arch, mm: r = (s² + 4h²) / 8h."""
    return (span**2 + 4 * rise**2) / (8 * rise)


def bulge_of(angle: float) -> float:
    """The bulge of an arc that turns through ``angle`` radians."""
    return tan(angle / 4)


def quadrants(segment: Segment) -> list[Point]:
    """The points of an arc that lie straight above, below or beside its centre, mm."""
    if not segment.bulge:
        return []
    (cx, cy), radius = segment.centre, abs(segment.radius)
    first = atan2(segment.start[1] - cy, segment.start[0] - cx)
    low, high = sorted((first, first + segment.angle))
    turns = [k * pi / 2 for k in range(ceil(low / (pi / 2)), int(high // (pi / 2)) + 1)]
    return [(cx + radius * cos(turn), cy + radius * sin(turn)) for turn in turns]
