"""Nodes of curves: arcs along an ellipse, outlines without empty segments, outlines brought to a size."""

from __future__ import annotations

from fractions import Fraction
from math import atan2, cos, hypot, sin, tan

from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.outline import Outline
from ashfell.core.plane.segment import Point

ELLIPSE_ARCS = 12
"""Arcs for each quarter of an ellipse; with 12 it is met within 0.01 mm at 2 m."""


def without_empty(nodes: list[tuple[float, float, float]], names: list[str]) -> Outline:
    """The outline without segments of no length (corners that take a whole side)."""
    ahead = [*nodes[1:], nodes[0]]
    keep = [k for k, (a, b) in enumerate(zip(nodes, ahead, strict=True)) if hypot(a[0] - b[0], a[1] - b[1]) > 1e-6]
    return Outline.of([nodes[k] for k in keep], [names[k] for k in keep])


def elliptic(width: float, height: float, first: float, last: float, pieces: int) -> list[tuple[float, float, float]]:
    """Nodes of arcs along an ellipse about the origin from one parameter to another; the end is left out."""
    a, b = width / 2, height / 2
    found = []
    for k in range(pieces):
        t0, t1 = (first + (last - first) * (k + n) / pieces for n in (0, 1))
        start, end = (a * cos(t0), b * sin(t0)), (a * cos(t1), b * sin(t1))
        middle = (a * cos((t0 + t1) / 2), b * sin((t0 + t1) / 2))
        found.append((*start, _through(start, middle, end)))
    return found


def _through(start: Point, middle: Point, end: Point) -> float:
    """The bulge of the arc from start to end through a point between."""
    chord = hypot(end[0] - start[0], end[1] - start[1])
    along = ((end[0] - start[0]) / chord, (end[1] - start[1]) / chord)
    x = (middle[0] - start[0]) * along[0] + (middle[1] - start[1]) * along[1]
    y = (middle[1] - start[1]) * along[0] - (middle[0] - start[0]) * along[1]
    radius_from = atan2(-y, x) + atan2(-y, chord - x)
    return tan(radius_from / 2)


def stretched(outline: Outline, width: float, height: float) -> Outline:
    """An outline brought to an overall size; with arcs it can only be made larger or smaller evenly."""
    left, foot, right, head = outline.bounds
    x, y = width / (right - left), height / (head - foot)
    curved = any(bulge for _, _, bulge in outline.nodes)
    if curved and abs(x / y - 1) > 1e-6:
        even, wide = (Fraction(round(size * 10**6), 10**6) for size in ((head - foot) * x, (right - left) * y))
        raise Refusal(
            "height",
            "arcs stay arcs",
            f"The path is {right - left:g} by {head - foot:g} mm; arcs can only be made larger or smaller evenly.",
            f"With a width of {width:.10g} mm the height must be {float(even):.10g} mm, or with a height of "
            f"{height:.10g} mm the width must be {float(wide):.10g} mm.",
            even,
        )
    y = x if curved else y
    nodes = [((u - left) * x, (v - foot) * y, bulge) for u, v, bulge in outline.nodes]
    return Outline.of(
        [(0.0 if abs(u) < 1e-9 else u, 0.0 if abs(v) < 1e-9 else v, b) for u, v, b in nodes], outline.names
    )
