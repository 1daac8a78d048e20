"""Rebates beside a loop: how deep each is, and where glass in them ends."""

from __future__ import annotations

from fractions import Fraction

from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import Floats
from ashfell.core.unit.layout import Ring


def edge_rebates(ring: Ring, loop: Loop) -> list[Fraction]:
    """Depth of the rebate beside each edge of a loop in a ring, mm; none in a ring that has no seat."""
    return ring.seat.rebates(loop) if ring.seat else [Fraction(0)] * len(loop.tags)


def grown(ring: Ring, loop: Loop) -> Floats:
    """A loop in a ring grown to the bottom of the rebates beside it, (c, 2) mm.

    Raises
    ------
    Refusal
        When it is so small beside a concave side that no rebate goes round it.
    """
    if not ring.seat:
        return loop.points
    points = loop.moved([-float(value) for value in edge_rebates(ring, loop)])
    if points is None:
        raise Refusal(
            ring.glazing_entry,
            "a rebate round every light",
            "Beside a concave side a light is so small that no rebate goes round it.",
            "Move the bars there, or make the cover smaller.",
        )
    return points
