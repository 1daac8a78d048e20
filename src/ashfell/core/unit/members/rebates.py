"""Rebates beside a loop: how deep each is, and where glass in them ends."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from fractions import Fraction

import shapely
from shapely.geometry import Polygon

from ashfell.core.base.lengths import Length, exact
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import Floats, previous
from ashfell.core.unit.layout import Light, Ring
from ashfell.core.unit.seat import Seat

LEAVES = 1e-5
"""How much of a light may leave its rebate by rounding, mm²."""
TAKEN = 0.01
"""Rebates that share less than this only touch, mm²."""


def grown(ring: Ring, loop: Loop) -> Floats:
    """A loop in a ring grown to the bottom of the rebates beside it, (c, 2) mm.

    Raises
    ------
    Refusal
        When it is so small beside a concave side that no rebate goes round it.
    """
    if not ring.seat:
        return loop.points
    points = loop.moved(-ring.seat.rebates(loop))
    if points is None:
        raise no_rebate(ring, ring.seat, loop)
    return points


def no_rebate(ring: Ring, seat: Seat, loop: Loop) -> Refusal:
    """The refusal of a loop that no rebate goes round, with the largest cover with which one does."""
    return _too_wide(
        ring,
        seat,
        "a rebate round every light",
        "Beside a concave side a light is so small that no rebate goes round it.",
        lambda tried: loop.moved(-tried.rebates(loop)) is not None,
    )


def _too_wide(ring: Ring, seat: Seat, rule: str, message: str, holds: Callable[[Seat], bool]) -> Refusal:
    """The refusal of rebates that are too wide, with the largest cover, to a quarter of a millimetre, with which what
    is asked ``holds``."""
    for name in ("cover", "bar_cover"):
        said: Length | None = getattr(seat.glazing, name)
        low, high = 0, int(said.mm * 4) if said else 0
        while high - low > 1:
            middle = (low + high) // 2
            cover = Length.read(exact(Fraction(middle, 4)))
            if holds(replace(seat, glazing=seat.glazing.model_copy(update={name: cover}))):
                low = middle
            else:
                high = middle
        if low:
            most = Fraction(low, 4)
            remedy = f"Cover {exact_mm(most)} at most, or move the bars there."
            return Refusal(f"{ring.glazing_entry}.{name}", rule, message, remedy, most)
    return Refusal(ring.glazing_entry, rule, message, "Move the bars there.")


def leaving(ring: Ring, loop: Loop, behind: Sequence[Polygon]) -> float:
    """How much of what lights take behind the members round them is not in the rebate round a loop, mm²."""
    room = Polygon(grown(ring, loop)).buffer(1e-4)
    return max((one.difference(room).area for one in behind), default=0.0)


def refuse_covers(ring: Ring, loop: Loop, lights: Sequence[Loop], key: str, beyond: float) -> None:
    """Refuse lights of a curved loop whose bars cover so much that behind them the curve's last facet, which goes on
    straight, leaves the rebate of the loop ``beyond`` it, mm²; not where that is so whatever they cover.

    Raises
    ------
    Refusal
        With the largest cover with which it does not.
    """

    def within(seat: Seat) -> bool:
        tried = replace(ring, seat=seat)
        return leaving(tried, loop, [Polygon(grown(tried, one)) for one in lights]) <= LEAVES

    assert ring.seat is not None
    refusal = _too_wide(
        ring,
        ring.seat,
        "bars that cover within the rebate",
        f"Behind its bars light {key} would leave the rebate of the curve beside it by {beyond:.2f} mm².",
        within,
    )
    if refusal.nearest is not None:
        raise refusal


def check_rebates(lights: Sequence[Light]) -> None:
    """Refuse a light so pointed that its rebate, which reaches far behind its point, runs into that of another.

    Raises
    ------
    Refusal
        With the largest cover with which they keep clear.
    """
    pointed = {index for index, light in enumerate(lights) if not light.is_rectangle and _is_pointed(light.loop)}
    if not pointed:
        return
    reached = [_reached(light, light.seat) for light in lights]
    first, second = shapely.STRtree(reached).query(reached, predicate="intersects")
    for one, other in zip(first.tolist(), second.tolist(), strict=True):
        if one in pointed and one != other and _meet(reached[one], reached[other]):
            raise _not_clear(lights[one], lights[other])


def _is_pointed(loop: Loop) -> bool:
    """Whether it has a corner of less than 60 degrees: behind a wider one a rebate stays within the bar beside it."""
    return bool(((loop.along * previous(loop.along)).sum(axis=1) < -0.5).any())


def _reached(light: Light, seat: Seat) -> Polygon:
    """What a light takes with its rebates."""
    points = light.loop.moved(-seat.rebates(light.loop))
    return Polygon() if points is None else Polygon(points).buffer(0)


def _meet(one: Polygon, other: Polygon) -> bool:
    return bool(one.intersection(other).area > TAKEN)


def _not_clear(one: Light, other: Light) -> Refusal:
    return _too_wide(
        one.ring,
        one.seat,
        "rebates that keep clear",
        f"Behind its point the rebate of {one.key} runs into that of {other.key}.",
        lambda seat: not _meet(_reached(one, seat), _reached(other, seat)),
    )
