"""Measuring on the elevation: points snapped to edges, centres and corners, and exact distances between them."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from math import hypot

from ashfell.core.base.lengths import Style, exact, named
from ashfell.core.unit.document.members import Axis
from ashfell.core.unit.layout import Layout

Place = tuple[Fraction, Fraction]
CORNER = Fraction(1, 1000)
"""What a corner of a curve is rounded to, mm."""


def marks(layout: Layout, axis: Axis) -> list[Fraction]:
    """Every edge and centre line of members and lights along one axis, exact, in unit space."""
    found: set[Fraction] = set()
    for cell in layout.cells.values():
        origin = cell.origin(axis)
        for piece in cell.spacing(axis).pieces:
            found |= {piece.start + origin, piece.end + origin, piece.centre + origin}
    for light in layout.lights:
        low, size = (light.clear.x, light.clear.width) if axis == "columns" else (light.clear.y, light.clear.height)
        found |= {low, low + size / 2, low + size}
    return sorted(found)


def snap(layout: Layout, point: tuple[float, float], reach: float) -> Place:
    """The corner near a point, or else the edges or centre lines near it; what is near nothing stays, to 0.1 mm."""
    corner = min(_corners(layout), key=lambda c: hypot(c[0] - point[0], c[1] - point[1]), default=None)
    if corner and hypot(corner[0] - point[0], corner[1] - point[1]) <= reach:
        return _near(layout, "columns", corner[0], 0.002), _near(layout, "rows", corner[1], 0.002)
    return _near(layout, "columns", point[0], reach), _near(layout, "rows", point[1], reach)


def _corners(layout: Layout) -> Iterator[tuple[float, float]]:
    loops = [
        layout.holder.loop,
        layout.holder.clear,
        *(ring.loop for ring in layout.rings),
        *(light.loop for light in layout.lights),
    ]
    for loop in loops:
        sharp = [k for k in range(len(loop.tags)) if not (loop.curved[k] and loop.curved[k - 1])]
        yield from ((float(x), float(y)) for x, y in loop.points[sharp].tolist())


def _near(layout: Layout, axis: Axis, value: float, reach: float) -> Fraction:
    nearest = min(marks(layout, axis), key=lambda mark: abs(float(mark) - value))
    if abs(float(nearest) - value) <= reach:
        return nearest
    return round(Fraction(value) / CORNER) * CORNER if reach < 0.01 else Fraction(round(value * 10), 10)


def distance(start: Place, end: Place, style: Style) -> str:
    """The distance between two places: exact along an axis, else both legs and the slant.

    >>> distance((Fraction(0), Fraction(0)), (Fraction(300), Fraction(400)), Style())
    '500 mm (300 mm across, 400 mm up)'
    """
    across, up = abs(end[0] - start[0]), abs(end[1] - start[1])
    if not across or not up:
        size = across or up
        plain, precise = named(size, style), exact(size)
        return plain if plain == precise else f"{plain} = {precise}"
    slant = Fraction(hypot(float(across), float(up))).limit_denominator(10**6)
    return f"{named(slant, style)} ({named(across, style)} across, {named(up, style)} up)"
