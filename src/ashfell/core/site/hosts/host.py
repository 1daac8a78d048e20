"""Hosts: what openings are cut into and units stand in. A straight wall, a curved one, a roof plane each answer the
same questions."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Sequence
from fractions import Fraction
from functools import cached_property
from itertools import pairwise

from shapely.geometry import LineString, Polygon

from ashfell.core.base.address import Address
from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats
from ashfell.core.site.opening import Opening
from ashfell.core.solid.fold import Fold

Layer = tuple[str, str, float, float]
"""Name, finish, and from where to where it lies, w in mm."""
TopLine = tuple[tuple[Fraction, Fraction], ...]
"""How high a host is, at places along it from its start to its end, mm."""


def height_at(top: TopLine, u: Fraction) -> Fraction:
    """How high a top line is at a place along it, mm; beyond its ends it is level."""
    if u <= top[0][0]:
        return top[0][1]
    for (a, low), (b, high) in pairwise(top):
        if u <= b:
            return low + (high - low) * (u - a) / (b - a)
    return top[-1][1]


def least_above(top: TopLine, opening: Opening) -> Fraction:
    """How much is left between an opening and a top line above it where that is least, mm."""
    marks = [u for u, _ in top if opening.x < u < opening.right]
    if opening.outline is None:
        return min(height_at(top, u) for u in (opening.x, opening.right, *marks)) - opening.head
    points = [(Fraction(u), Fraction(v)) for u, v in opening.points.tolist()]
    rooms = [height_at(top, u) - v for u, v in points]
    for mark in marks:
        upright = LineString([(float(mark), float(opening.z) - 1), (float(mark), float(opening.head) + 1)])
        crossed = opening.polygon.intersection(upright)
        rooms += [] if crossed.is_empty else [height_at(top, mark) - Fraction(crossed.bounds[3])]
    return Fraction(round(min(rooms) * 10**6), 10**6)


class Host(ABC):
    """Something with a surface and a thickness. Laid out flat it is u along from its start, v up from its foot, w
    outwards from its outer face, mm; it may be folded where its facets meet.

    Attributes
    ----------
    id : str
        As the site names it.
    entry : Address
    name : str
        In words.
    length, height, thickness : Fraction
        Of the face that openings are cut into, where it is highest, and how deep they are, mm.
    top : TopLine
        Its height from start to end; straight between the places that are named.
    folds : tuple of Fold
        Where it folds, from its start.
    smooth : bool
        Whether its folds look smooth.
    radius : Fraction or None
        Of the line that it bends along, where that is an arc, mm.
    slope : float
        How steep its face is, degrees from level; that of a wall is 90.
    built : bool
        Whether it stands at all; else it is the line alone that units stand on by themselves.
    """

    id: str
    entry: Address
    name: str
    length: Fraction
    height: Fraction
    thickness: Fraction
    top: TopLine
    folds: tuple[Fold, ...] = ()
    smooth: bool = False
    radius: Fraction | None = None
    slope: float = 90.0
    built: bool = True

    @property
    @abstractmethod
    def clear(self) -> tuple[Fraction, Fraction]:
        """From where to where along it there is its full thickness, mm."""

    @abstractmethod
    def frame(self, u: float = 0.0) -> Floats:
        """From the host laid out flat to the site, by the facet that a place along it is in: (4, 4), mm; x and y in
        plan, z up."""

    @abstractmethod
    def parts(self, openings: Sequence[Opening]) -> tuple[Part, ...]:
        """Its closed solids with openings cut through them, in the space of its first facet."""

    @abstractmethod
    def plan(self, openings: Sequence[Opening]) -> list[Floats]:
        """Its pieces between openings as seen from above, (c, 2) each, in the site, mm."""

    @abstractmethod
    def on_plan(self, low: float, high: float, back: float, front: float) -> list[Floats]:
        """A stretch of its thickness as seen from above, a piece for each facet, (4, 2) in the site, mm."""

    def seated(self, opening: Opening) -> Floats | None:
        """From the host laid out flat to the site, for a unit that stands flat in an opening where the host folds, (4,
        4); None where it does not fold there."""
        return None

    @cached_property
    def is_level(self) -> bool:
        """Whether its top is level."""
        return len({height for _, height in self.top}) == 1

    def room_above(self, opening: Opening) -> Fraction:
        """How much of the host is left above an opening where that is least, mm; below zero where it reaches out."""
        return self.height - opening.head if self.is_level else least_above(self.top, opening)

    def covers(self, reach: Polygon) -> bool:
        """Whether an outline lies within its slanting edges, where it has any besides its top."""
        return True

    @property
    @abstractmethod
    def section(self) -> tuple[Layer, ...]:
        """What it is made of across its thickness: name, finish, and from where to where each layer lies, w in mm. Away
        from their ends and other openings hosts of one section are alike."""

    @abstractmethod
    def around(
        self, opening: Opening, margin: float, others: Sequence[Opening] = (), section: tuple[Layer, ...] = ()
    ) -> list[Part]:
        """What of it lies within a margin of an opening, less that and ``others``, laid out flat; of another
        ``section`` where one is given."""
