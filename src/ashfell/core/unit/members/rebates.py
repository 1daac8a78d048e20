"""Rebates beside a loop: how deep each is, and where glass in them ends."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from ashfell.core.base.lengths import Length, exact
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import Floats
from ashfell.core.unit.layout import Ring
from ashfell.core.unit.seat import Seat


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
        most = _most_cover(ring.seat, loop)
        raise Refusal(
            f"{ring.glazing_entry}.cover" if most else ring.glazing_entry,
            "a rebate round every light",
            "Beside a concave side a light is so small that no rebate goes round it.",
            f"Cover {exact_mm(most)} at most, or move the bars there." if most else "Move the bars there.",
            most or None,
        )
    return points


def _most_cover(seat: Seat, loop: Loop) -> Fraction:
    """The largest cover, to a quarter of a millimetre, with which a rebate goes round a loop; 0 where none does."""
    low, high = 0, int(seat.cover * 4)
    while high - low > 1:
        middle = (low + high) // 2
        cover = Length.read(exact(Fraction(middle, 4)))
        tried = replace(seat, glazing=seat.glazing.model_copy(update={"cover": cover}))
        if loop.moved([-float(value) for value in tried.rebates(loop)]) is None:
            high = middle
        else:
            low = middle
    return Fraction(low, 4)
