"""What runs behind its frame, on tracks of its own: where it goes across, and what must not be there."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import hypot
from typing import TYPE_CHECKING, Any

from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.roles import ROLES, Role
from ashfell.core.unit.beside import Beside
from ashfell.core.unit.layout import Content, Light

if TYPE_CHECKING:
    from ashfell.core.unit.document.unit import UnitDocument

ROLES.register(Role("track", "Tracks and springs", "brushed-metal", (176, 174, 170), 112, sided=False))


@dataclass(frozen=True, eq=False)
class Behind(Content):
    """What runs behind the frame."""

    hidden: frozenset[str] = frozenset({"outside"})
    stands: str = "through"
    across: tuple[float, float] = (0.0, 0.0)
    """From where to where it goes with its tracks, mm."""


def chord_behind(at: Callable[[float], tuple[float, float]], along: float, chord: float) -> float:
    """How far along a line the point is that is a chord behind another, by halving; ``at`` tells where it is so far
    along, mm."""
    v, w = at(along)
    low, high = along + chord * (1 - 1e-12), along + chord * 2
    for _ in range(80):
        middle = (low + high) / 2
        there = at(middle)
        if hypot(there[0] - v, there[1] - w) < chord:
            low = middle
        else:
            high = middle
    return (low + high) / 2


def clears_behind(document: UnitDocument, beside: Beside, light: Light) -> None:
    """Behind the frame there is one such door with its tracks, and no casing or ring.

    Raises
    ------
    Refusal
        When there is more.
    """
    trim = document.trim
    met = next((name for name in ("inside", "board", "apron") if getattr(trim, name)), "")
    if met:
        raise Refusal(
            f"trim.{met}",
            "a casing that clears the leaf",
            "An overhead door runs behind the frame, where the casing, the board or the apron would be.",
            "Leave it out.",
        )
    assert isinstance(light.content, Behind)
    fill: Any = light.fill
    out = beside.layout.depth[1] - light.ring.back
    if out > fill.clearance.mm:
        raise Refusal(
            f"{light.entry}.clearance",
            "rings that clear the leaf",
            f"A ring of the frame stands {exact_mm(out)} behind it, and the door {exact_mm(fill.clearance.mm)}.",
            f"Make it at least {exact_mm(out)}.",
            out,
        )
    low, high = light.content.across
    for other in beside.layout.body.lights:
        if other.key == light.key:
            return
        if isinstance(other.content, Behind) and low < other.content.across[1] and high > other.content.across[0]:
            raise Refusal(
                f"{light.entry}.kind",
                "a light that takes a sash",
                "It would stand in the overhead door beside, above or below it, or in the tracks of that.",
                "Make the bar between them wider, or choose another filling.",
            )
