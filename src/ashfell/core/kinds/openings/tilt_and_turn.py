"""A sash that turns inwards about one side, or tilts inwards about its foot."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ashfell.core.kinds.opening import TURNINGS, Bounds, Hand, Hinge, Turning
from ashfell.core.kinds.openings.side_hung import hinge as side_hinge

if TYPE_CHECKING:
    from ashfell.core.kinds.fillings.hung import Hung

TILT = 12.0
"""How far it tilts, degrees (common practice, no source)."""


def _hinge(fill: Hung, hand: Hand, bounds: Bounds) -> Hinge:
    return Hinge(False, bounds[1], TILT) if fill.tilted else side_hinge(fill, hand, bounds)


TILT_AND_TURN = TURNINGS.register(
    Turning(
        "tilt-and-turn",
        "tilt-and-turn",
        _hinge,
        lambda hand: f"TILTANDTURN{hand}HAND",
        order=60,
        handed=True,
        swings=False,
        inwards=True,
        tilts=True,
    )
)
