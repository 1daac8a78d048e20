"""A sash hung at its foot."""

from ashfell.core.kinds.opening import TURNINGS, Hinge, Turning

DEGREES = 35.0
"""How far it turns (common practice, no source)."""

BOTTOM_HUNG = TURNINGS.register(
    Turning(
        "bottom-hung",
        "bottom-hung",
        lambda fill, hand, bounds: Hinge(False, bounds[1], DEGREES),
        lambda hand: "BOTTOMHUNG",
        order=50,
    )
)
