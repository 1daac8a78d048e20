"""Loops: closed paths whose edges know their lines and names, moved inwards and outwards."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from shapely.geometry import Polygon

from ashfell.core.plane.inset import goes_round, insets, too_far, with_vanishing
from ashfell.core.plane.points import (
    TOUCH,
    Floats,
    area,
    cross,
    directions,
    left_of,
    steps,
)

ROUND_A_RECTANGLE = np.array([[1.0, 0.0], [0.0, 1.0], [-1.0, 0.0], [0.0, -1.0]])
"""The directions of a rectangle's sides."""


SIDES = ("sill", "right", "head", "left")
"""The sides of a rectangle, counter-clockwise from the lower left corner."""


@dataclass(frozen=True, eq=False)
class Loop:
    """A closed polygon: ``points`` (c, 2) mm, counter-clockwise; edge i runs from point i to the next.

    ``tags`` name what each edge runs along: a side of a ring or a bar. ``curved`` edges are facets of a curve.
    ``along`` (c, 2) and ``rest`` (c,) are the edges' lines: direction, and distance from the origin to the left of it.
    An edge that an inset or a cut has shrunk to nothing keeps its line, so that moving the loop outwards again gives
    what was there. ``origin`` is the loop that this one is an inset of: which edges vanish is told from there,
    whichever way an inset is reached.
    """

    points: Floats
    tags: tuple[str, ...]
    curved: tuple[bool, ...]
    along: Floats
    rest: Floats
    origin: Loop | None = None

    @classmethod
    def through(cls, points: Floats, tags: Sequence[str], curved: Sequence[bool]) -> Loop:
        """The loop through points no two neighbours of which are one."""
        along = directions(points)
        return cls(points, tuple(tags), tuple(curved), along, (points * left_of(along)).sum(axis=1))

    @classmethod
    def of(cls, points: Sequence[Sequence[float]] | Floats, tags: Sequence[str] = ()) -> Loop:
        """A loop of straight edges, turned to run counter-clockwise."""
        placed = np.asarray(points, dtype=float)
        names = tuple(tags) or tuple(f"side.{n + 1}" for n in range(len(placed)))
        if area(placed) < 0:
            placed, names = placed[::-1], (*names[-2::-1], names[-1])
        return cls.through(placed, names, (False,) * len(placed))

    @classmethod
    def rectangle(cls, left: float, foot: float, right: float, head: float, tags: Sequence[str] = SIDES) -> Loop:
        """A rectangle, counter-clockwise from its lower left corner, mm."""
        points = np.array([(left, foot), (right, foot), (right, head), (left, head)], dtype=float)
        return cls(
            points, tuple(tags), (False,) * 4, ROUND_A_RECTANGLE, np.array([foot, -right, -head, left], dtype=float)
        )

    @cached_property
    def bounds(self) -> tuple[float, float, float, float]:
        """Least x, least y, greatest x, greatest y, mm."""
        (left, foot), (right, head) = self.points.min(axis=0).tolist(), self.points.max(axis=0).tolist()
        return left, foot, right, head

    @cached_property
    def area(self) -> float:
        """Signed area, mm²; positive when counter-clockwise."""
        return area(self.points)

    @cached_property
    def is_rectangle(self) -> bool:
        """Whether it is four edges along u and v, starting at the lower left."""
        if len(self.points) != 4:
            return False
        (left, foot), right_foot, (right, head), left_head = self.points.tolist()
        return bool(right_foot == [right, foot] and left_head == [left, head] and left < right and foot < head)

    def from_lower_left(self) -> Loop:
        """The same loop; where it is a rectangle it starts at the lower left corner."""
        if len(self.points) != 4:
            return self
        first = int(np.lexsort((self.points[:, 0], self.points[:, 1].round(6)))[0])
        order = [(first + k) % 4 for k in range(4)]
        turned = Loop(
            self.points[order],
            tuple(self.tags[k] for k in order),
            tuple(self.curved[k] for k in order),
            self.along[order],
            self.rest[order],
        )
        return turned if turned.is_rectangle else self

    @cached_property
    def is_convex(self) -> bool:
        """Whether no corner turns to the right."""
        return bool((cross(self.along, self.along + steps(self.along)) > -1e-9).all())

    @cached_property
    def lengths(self) -> Floats:
        """Length of each edge, (c,) mm."""
        return np.asarray(np.hypot(*steps(self.points).T))

    @cached_property
    def polygon(self) -> Polygon:
        """The loop as a polygon for set operations in the plane."""
        return Polygon(self.points)

    def inset(self, by: float | Floats | Sequence[float], entry: str) -> Loop:
        """The loop moved inwards (outwards when negative), a distance for each edge or one for all, mm; ``entry`` is
        what it is asked for by.

        Raises
        ------
        Refusal
            When nothing is left, with the largest distance that works.
        """
        moved = self.moved(by)
        if moved is None:
            raise too_far(self, by, entry)
        if self.is_rectangle:
            (left, foot), (right, head) = moved[0].tolist(), moved[2].tolist()
            return Loop.rectangle(left, foot, right, head, self.tags)
        return Loop(moved, self.tags, self.curved, self.along, self.rest + by, self.origin or self)

    def moved(self, by: float | Floats | Sequence[float], vanishing: bool = False) -> Floats | None:
        """The points of :meth:`inset`, as many as the loop has; None when nothing is left. ``vanishing`` is whether it
        is known already that edges vanish."""
        if self.is_rectangle:
            foot, right, head, left = (self.rest + by).tolist()
            if -right - left < TOUCH or -head - foot < TOUCH:
                return None
            return np.array([(left, foot), (-right, foot), (-right, -head), (left, -head)])
        distances = np.broadcast_to(np.asarray(by, dtype=float), self.rest.shape)
        asked = distances.tobytes()
        if asked not in self._moved:
            self._moved[asked] = self._shrunk(distances) if vanishing else self._inset(distances)
        return self._moved[asked]

    def _inset(self, by: Floats) -> Floats | None:
        points, sound = insets(self.points[None], by[None], self.along[None], self.rest[None])
        return points[0] if sound[0] else self._shrunk(by)

    def _shrunk(self, by: Floats) -> Floats | None:
        found = with_vanishing(self.origin or self, self.rest + by)
        held = found is None or self.is_convex or goes_round(found, self.points, by)
        return found if held else None

    def keep(self, by: Floats, moved: Floats) -> None:
        """Keep where its points come to, moved by distances (c,) mm: it was found on the way to others."""
        self._moved.setdefault(by.tobytes(), moved)

    @cached_property
    def _moved(self) -> dict[bytes, Floats | None]:
        """What it was moved by already, and where to."""
        return {}

    def runs(self) -> list[tuple[str, tuple[int, ...], bool]]:
        """The members along it: tag, edges in order, and whether the member closes on itself."""
        count = len(self.tags)
        if len(set(self.tags)) == 1:
            return [(self.tags[0], tuple(range(count)), True)]
        first = next(k for k in range(count) if self.tags[k] != self.tags[k - 1])
        order = [(first + k) % count for k in range(count)]
        found: list[tuple[str, list[int]]] = []
        for k in order:
            if found and found[-1][0] == self.tags[k]:
                found[-1][1].append(k)
            else:
                found.append((self.tags[k], [k]))
        return [(tag, tuple(edges), False) for tag, edges in found]


def inset(points: Floats, by: float | Floats | Sequence[float], vanishing: bool = False) -> Floats | None:
    """A polygon with every edge moved inwards by its own distance, corners mitred.

    Parameters
    ----------
    points : (c, 2)
        Counter-clockwise, mm.
    by : float or (c,)
        Distance of each edge, mm; negative is outwards.
    vanishing : bool
        Whether it is known already that edges vanish.

    Returns
    -------
    (c, 2) or None
        As many points as came in: where an edge has vanished its two ends are one point. None when nothing is left.
    """
    return Loop.through(points, ("",) * len(points), (False,) * len(points)).moved(by, vanishing)
