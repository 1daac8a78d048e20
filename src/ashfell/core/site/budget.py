"""The budget of a site: how much may stand on it, so that it is made while somebody waits. What a repeat or a size of
its own multiplies is counted before it is made."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from ashfell.core.base.refusal import Refusal
from ashfell.core.site.document.placement import Placement

RULE = "a site of bounded size"
PLACED = 12_000
"""How many openings the repeats of a site may make."""
PIECES, EACH = 12_000, 8
"""How many pieces the units of a site that differ may come to, each counted as so many more; two parts are a piece."""
SHAPES, GROWN = 250, 40
"""How many shapes of what stands round a building there may be, and how many ways in which trees have grown."""


def count_of(placement: Placement) -> int:
    """How many openings a placement stands for."""
    return placement.repeat.along * placement.repeat.up if placement.repeat else 1


def exceeds(placement: Placement, before: int) -> bool:
    """Whether a repeat makes too many, where others have made so many openings ``before``."""
    return placement.repeat is not None and before + count_of(placement) > PLACED


def too_many_openings(placement: Placement, before: int) -> Refusal:
    """The refusal of a repeat, where others have made so many openings ``before``."""
    assert placement.repeat is not None
    along = max(0, PLACED - before) // placement.repeat.up
    return Refusal(
        "repeat.along",
        RULE,
        f"That makes {count_of(placement):,} openings, with {before:,} of the others; there are at most {PLACED:,} on "
        "one site.",
        f"Repeat it {along:,} times along the wall." if along else "Repeat it less often going up.",
        Fraction(along) if along else None,
    )


@dataclass
class Spent:
    """What the units that differ have come to so far."""

    pieces: int = 0

    @property
    def left(self) -> int:
        """How many pieces one more unit may have: the first as many as it has."""
        return max(0, PIECES - self.pieces) if self.pieces else PIECES**2

    def refused(self) -> Refusal:
        """The refusal of one more unit that differs from all the others."""
        return Refusal(
            "unit",
            RULE,
            f"With those before it that differ it comes to more than {PIECES:,} pieces, {EACH} more counted for each.",
            "Place one that stands there already, at its size, or divide the work between several projects.",
        )

    def spend(self, pieces: int = 0) -> None:
        """Count a unit of so many pieces."""
        self.pieces += EACH + pieces


def check_shapes(shapes: int, grown: int) -> None:
    """Refuse one more shape round the building, where there are so many that differ.

    Raises
    ------
    Refusal
    """
    if shapes > SHAPES:
        raise Refusal(
            "height",
            RULE,
            f"At most {SHAPES} shapes that differ stand round one building.",
            "Give it the sizes and the finish of another.",
        )
    if grown > GROWN:
        raise Refusal(
            "seed",
            RULE,
            f"Trees have grown in at most {GROWN} ways round one building.",
            "Give it the number of another tree.",
        )
