"""A sash hung at its head."""

from ashfell.core.kinds.opening import TURNINGS, Hinge, Turning

DEGREES = 60.0
"""How far it turns (common practice, no source)."""

TOP_HUNG = TURNINGS.register(
    Turning(
        "top-hung",
        "top-hung",
        lambda fill, hand, bounds: Hinge(False, bounds[3], -DEGREES),
        lambda hand: "TOPHUNG",
        order=40,
    )
)
