"""A sash that does not open."""

from ashfell.core.kinds.opening import TURNINGS, Turning

FIXED = TURNINGS.register(
    Turning("fixed", "fixed", lambda *_: None, lambda hand: "FIXEDCASEMENT", order=10, stopped=False, moves=False)
)
