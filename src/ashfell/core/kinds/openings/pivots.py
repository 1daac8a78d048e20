"""Sashes that turn about their middle."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ashfell.core.kinds.opening import TURNINGS, Bounds, Hand, Hinge, Turning

if TYPE_CHECKING:
    from ashfell.core.kinds.fillings.hung import Hung

DEGREES = 80.0
"""How far they turn (common practice, no source)."""


def _level(fill: Hung, hand: Hand, bounds: Bounds) -> Hinge:
    return Hinge(False, (bounds[1] + bounds[3]) / 2, -DEGREES, pivots=True)


def _upright(fill: Hung, hand: Hand, bounds: Bounds) -> Hinge:
    return Hinge(True, (bounds[0] + bounds[2]) / 2, DEGREES if hand == "left" else -DEGREES, pivots=True)


LEVEL = TURNINGS.register(
    Turning(
        "pivot-horizontal",
        "pivoted about a level axis",
        _level,
        lambda hand: "PIVOTHORIZONTAL",
        order=70,
        stopped=False,
    )
)
UPRIGHT = TURNINGS.register(
    Turning(
        "pivot-vertical",
        "pivoted about an upright axis",
        _upright,
        lambda hand: "PIVOTVERTICAL",
        order=80,
        handed=True,
        stopped=False,
    )
)
