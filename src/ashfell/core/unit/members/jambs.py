"""The upright sides beside the sill of a ring, that casings come down along."""

from __future__ import annotations

from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.loop import Loop
from ashfell.core.unit.layout import Ring


def has_jambs(loop: Loop) -> bool:
    """Whether upright sides stand beside the sill."""
    first, last = loop.tags.index("sill"), len(loop.tags) - 1 - loop.tags[::-1].index("sill")
    beside = (first - 1, (last + 1) % len(loop.tags))
    return not any(loop.tags[k].startswith("corner") or abs(loop.along[k, 1]) <= abs(loop.along[k, 0]) for k in beside)


def jambs_of(ring: Ring) -> float:
    """How high the upright sides beside the sill of a ring are, mm; 0 where there are none."""
    loop = ring.loop
    first, last = loop.tags.index("sill"), len(loop.tags) - 1 - loop.tags[::-1].index("sill")
    beside = (first - 1, (last + 1) % len(loop.tags))
    if not has_jambs(loop):
        return 0.0
    return min(abs(float(loop.lengths[k] * loop.along[k, 1])) for k in beside)


def stands_on_board() -> Refusal:
    """The refusal of a casing that has nothing straight where it would stand on a board."""
    return Refusal(
        "trim.board",
        "a casing that stands on the board",
        "Beside the sill this outline has no jambs, or they end below the top of the board.",
        "Leave out the board, or the casing inside.",
    )
