"""The budget of a unit: how much is to be made is counted before any of it is."""

from __future__ import annotations

from dataclasses import dataclass

from ashfell.core.base.address import Address
from ashfell.core.base.refusal import Refusal

MOST = 10_000
"""How many pieces there may be in one unit: lights, sashes, blades, pieces of muntins and of leaded glass. The dearest
of them are made within about three seconds."""
DEEPEST = 8
"""How many cells may lie in each other."""


@dataclass
class Budget:
    """What is counted so far."""

    spent: int = 0

    def spend(self, count: int, entry: str, what: str) -> None:
        """Count pieces that are going to be made.

        Raises
        ------
        Refusal
            When there would be more than :data:`MOST`, or cells lie deeper in each other than :data:`DEEPEST`.
        """
        self.spent += count
        if self.spent > MOST:
            rest = self.spent - count
            before = f", with {rest:,} {'piece' if rest == 1 else 'pieces'} of the rest" if rest else ""
            if count == 1:
                first, *of = what.split(" ")
                what = " ".join([first.removesuffix("s"), *of])
            raise Refusal(
                entry,
                "a unit of bounded size",
                f"That makes {count:,} {what}{before}; there are at most {MOST:,} in one unit.",
                "Make them larger or fewer, or divide the work between several units.",
            )

    def enter(self, cell: str) -> None:
        """Count the lights around a cell.

        Raises
        ------
        Refusal
        """
        depth = sum(step == "cells" for step in Address(cell).steps)
        if depth > DEEPEST:
            raise Refusal(
                cell,
                "cells in each other",
                f"{depth} cells lie in each other; at most {DEEPEST} may.",
                "Divide the light around it by more columns and rows instead.",
            )
