"""Patterns of muntins, each kind as one record."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING, Annotated, Any

from shapely.geometry import Polygon

from ashfell.core.base.registry import KeyOf, Registry
from ashfell.core.base.spacing import Spacing
from ashfell.core.plane.loop import Loop

if TYPE_CHECKING:
    from ashfell.core.kinds.fillings.muntins import Muntins
    from ashfell.core.unit.document.members import Axis
    from ashfell.core.unit.layout import Light
    from ashfell.core.unit.say.writer import Writer


@dataclass(frozen=True)
class Strip:
    """A muntin's whole stretch before it is cut: its region, its centre line where that is straight, its width, and the
    centre line of one that goes ``round``, mm.
    """

    entry: str
    region: Polygon
    line: tuple[tuple[float, float], tuple[float, float]] | None
    width: float
    round: Loop | None = None


def band_of(middle: Loop, half: float, entry: str) -> Polygon:
    """The region within a distance of a loop on both sides, mm; ``entry`` is what it is asked for by.

    Raises
    ------
    Refusal
        When there is nothing inside.
    """
    return Polygon(middle.inset(-half, entry).points, [middle.inset(half, entry).points])


@dataclass(frozen=True)
class Ground:
    """What a pattern is laid on: the light, the muntins' entry and its address, the glass that is seen, and where
    muntins are a grid how that divides it."""

    light: Light
    muntins: Muntins
    entry: str
    region: Polygon
    spacing: dict[Axis, Spacing]


@dataclass(frozen=True)
class Pattern:
    """One pattern.

    Attributes
    ----------
    key : str
        Its ``kind`` in documents.
    words : str
        As it stands in a sentence: "a grid".
    strips : callable
        Its strips, those that run through before those that stop at them. Refuses what leaves no glass.
    say : callable
        What the list says of it behind its words.
    count : callable
        About how many pieces its strips will be cut into, told before they are laid.
    order : int
        Where it stands among the others.
    divides : bool
        Whether it divides the glass by columns and rows.
    """

    key: str
    words: str
    strips: Callable[[Ground], Iterator[Strip]]
    say: Callable[[Writer, str, Muntins], list[Any]]
    count: Callable[[Light, Muntins], int]
    order: int
    divides: bool = False


PATTERNS: Registry[Pattern] = Registry("pattern of muntins", "ashfell.core.kinds.patterns")
"""Every pattern, by key."""

PatternKey = Annotated[str, KeyOf(PATTERNS)]
