"""Sashes hung on one side: a single one, a pair, or one parted across into two that open by themselves."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ashfell.core.kinds.opening import TURNINGS, Bounds, Hand, Hinge, Turning

if TYPE_CHECKING:
    from ashfell.core.kinds.fillings.hung import Hung

DEGREES = 90.0
"""How far it turns (common practice, no source)."""


def hinge(fill: Hung, hand: Hand, bounds: Bounds) -> Hinge:
    """The edge it is hung on."""
    return Hinge(True, bounds[0], -DEGREES) if hand == "left" else Hinge(True, bounds[2], DEGREES)


def operation(hand: str) -> str:
    """As IFC4 names it."""
    return f"SIDEHUNG{hand}HAND"


SIDE_HUNG = TURNINGS.register(Turning("side-hung", "side-hung", hinge, operation, order=20, handed=True))
STABLE = TURNINGS.register(
    Turning("stable", "parted across, side-hung", hinge, operation, order=35, handed=True, stacked=True)
)
PAIR = TURNINGS.register(Turning("side-hung-pair", "a pair, side-hung", hinge, operation, order=30, pair=True))
