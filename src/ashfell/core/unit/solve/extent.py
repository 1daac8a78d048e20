"""Extents: from where to where a clear opening goes along each axis, exact where it can be."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction

from ashfell.core.plane.loop import Loop
from ashfell.core.unit.document.members import AXES, Axis
from ashfell.core.unit.layout import Rect, Ring

FINE = Fraction(1, 1000)
"""What a coordinate of a curve is rounded to where it becomes a size, mm."""


def rounded(value: float) -> Fraction:
    """A coordinate of a curve as a size."""
    whole = Fraction(round(value * 4), 4)
    return whole if abs(float(whole) - value) < 1e-7 else round(Fraction(value) / FINE) * FINE


PARTS = 100_000
"""The largest denominator of what a straight side's coordinate stands for."""


def bounds_of(loop: Loop) -> tuple[Fraction, Fraction, Fraction, Fraction]:
    """The bounds of a loop as sizes, mm; of a rectangle what its coordinates stand for, which may be thirds or other
    parts."""
    if not loop.is_rectangle:
        left, foot, right, head = (rounded(value) for value in loop.bounds)
    else:
        left, foot, right, head = (Fraction(value).limit_denominator(PARTS) for value in loop.bounds)
    return left, foot, right, head


Extent = dict[Axis, tuple[Fraction, Fraction]]
"""From where to where the clear opening goes along each axis, mm in unit space."""


def extent_of(ring: Ring, outer: Rect) -> Extent:
    """The clear opening's bounds; exact where an edge or a quadrant lies one face inside the overall size."""
    found: Extent = {}
    for k, axis in enumerate(AXES):
        low, high = (outer.x, outer.right) if axis == "columns" else (outer.y, outer.head)
        found[axis] = (
            exact_near(ring.clear.bounds[k], [low + face for face in ring.exact_faces]),
            exact_near(ring.clear.bounds[k + 2], [high - face for face in ring.exact_faces]),
        )
    return found


def exact_near(value: float, candidates: Sequence[Fraction]) -> Fraction:
    """The candidate that a computed value stands for, mm; the value itself, rounded, when none is near."""
    near = [c for c in candidates if abs(float(c) - value) < 0.02]
    return min(near, key=lambda c: abs(float(c) - value)) if near else rounded(value)


def measured(loop: Loop, outer: Rect) -> Extent:
    """The bounds of a loop, rounded, mm."""
    left, foot, right, head = bounds_of(loop)
    return {"columns": (left, right), "rows": (foot, head)}


def narrowed(clear: Extent, loop: Loop) -> Extent:
    """The bounds of a light that a curve or slope cuts into; exact where it does not."""
    left, foot, right, head = loop.bounds
    return {
        "columns": (exact_near(left, [clear["columns"][0]]), exact_near(right, [clear["columns"][1]])),
        "rows": (exact_near(foot, [clear["rows"][0]]), exact_near(head, [clear["rows"][1]])),
    }
