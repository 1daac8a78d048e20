"""The course of a wall in plan: its facets one after another, and the folds between them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from math import atan2, cos, degrees, hypot, radians, sin, tan

from ashfell.core.kinds.curve import faceted
from ashfell.core.site.document.wall import Wall
from ashfell.core.solid.fold import Fold

ROUNDED = 10**9
"""Facets of curves are kept to parts of a mm, so that what is measured along them closes exactly."""


@dataclass(frozen=True)
class Facet:
    """A straight stretch of a wall's reference line: from where along it, how long, in mm; its heading in degrees,
    counter-clockwise in plan, and where it begins in the site."""

    start: Fraction
    length: Fraction
    heading: float
    x: float
    y: float

    @property
    def end(self) -> Fraction:
        """Where along the line it ends, mm."""
        return self.start + self.length


@lru_cache(maxsize=4096)
def facets_of(wall: Wall) -> tuple[Facet, ...]:
    """The facets of a wall, from its start; a straight one has one.

    Raises
    ------
    Refusal
        When its curve is none.
    """
    x, y = float(wall.x.mm), float(wall.y.mm)
    if wall.curve is None:
        return (Facet(Fraction(0), wall.length.mm, wall.angle, x, y),)
    turn = radians(wall.angle)
    ends = [
        (x + u * cos(turn) + out * sin(turn), y + u * sin(turn) - out * cos(turn))
        for u, out in faceted(wall.curve, float(wall.length.mm)).tolist()
    ]
    steps = [(bx - ax, by - ay) for (ax, ay), (bx, by) in zip(ends, ends[1:], strict=False)]
    lengths = [Fraction(round(hypot(*step) * ROUNDED), ROUNDED) for step in steps]
    found, start = [], Fraction(0)
    for length, (across, up) in zip(lengths, steps, strict=True):
        heading = atan2(up, across)
        found.append(Facet(start, length, degrees(heading), x, y))
        start, x, y = start + length, x + float(length) * cos(heading), y + float(length) * sin(heading)
    return tuple(found)


def end_of(wall: Wall) -> tuple[float, float]:
    """Where the reference line of a wall ends in the site, mm: as far along its angle as it is long."""
    length, turn = float(wall.length.mm), radians(wall.angle)
    return float(wall.x.mm) + length * cos(turn), float(wall.y.mm) + length * sin(turn)


def turned(before: float, after: float) -> float:
    """By how much a heading turns to the left into another, degrees from -180 to 180."""
    return (after - before + 180) % 360 - 180


def folds_of(facets: Sequence[Facet], before: float) -> tuple[Fold, ...]:
    """The folds between facets of a wall whose outer face stands so far ``before`` its reference line, mm."""
    return tuple(
        Fold(float(one.end), tan(radians(turned(one.heading, other.heading)) / 2), -before)
        for one, other in zip(facets, facets[1:], strict=False)
    )
