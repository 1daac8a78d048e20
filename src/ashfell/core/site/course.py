"""The course of a wall in plan: its facets one after another, and the folds between them."""

from __future__ import annotations

import itertools
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

Exact = tuple[Fraction, Fraction]
"""A point in plan, mm."""
CLOSE = Fraction(1, 10**6)
"""To what places in plan are kept, mm."""


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
    steps = [(bx - ax, by - ay) for (ax, ay), (bx, by) in itertools.pairwise(ends)]
    lengths = [Fraction(round(hypot(*step) * ROUNDED), ROUNDED) for step in steps]
    found, start = [], Fraction(0)
    for length, (across, up) in zip(lengths, steps, strict=True):
        heading = atan2(up, across)
        found.append(Facet(start, length, degrees(heading), x, y))
        start, x, y = start + length, x + float(length) * cos(heading), y + float(length) * sin(heading)
    return tuple(found)


def start_point(wall: Wall) -> Exact:
    """Where the line of a wall begins."""
    return wall.x.mm, wall.y.mm


def end_point(wall: Wall) -> Exact:
    """Where the line of a wall ends; exactly where it runs along an axis."""
    length, quarter = wall.length.mm, wall.angle % 360 / 90
    if quarter in (0, 1, 2, 3):
        across, up = ((1, 0), (0, 1), (-1, 0), (0, -1))[int(quarter)]
        return wall.x.mm + across * length, wall.y.mm + up * length
    turn = radians(wall.angle)
    x, y = float(wall.x.mm) + float(length) * cos(turn), float(wall.y.mm) + float(length) * sin(turn)
    return Fraction(round(x / CLOSE)) * CLOSE, Fraction(round(y / CLOSE)) * CLOSE


def turned(before: float, after: float) -> float:
    """By how much a heading turns to the left into another, degrees from -180 to 180."""
    return (after - before + 180) % 360 - 180


def folds_of(facets: Sequence[Facet], before: float) -> tuple[Fold, ...]:
    """The folds between facets of a wall whose outer face stands so far ``before`` its reference line, mm."""
    return tuple(
        Fold(float(one.end), tan(radians(turned(one.heading, other.heading)) / 2), -before)
        for one, other in itertools.pairwise(facets)
    )
