"""What is known of a ring's content while its cells are being solved."""

from __future__ import annotations

from dataclasses import dataclass, field
from fractions import Fraction

from ashfell.core.unit.document.cell import Cell
from ashfell.core.unit.document.members import BarEntry
from ashfell.core.unit.layout import BarRun, CellLayout, Light, Ring
from ashfell.core.unit.solve.budget import Budget


@dataclass
class Draft:
    """A ring, and the cells, lights and bars found in it so far."""

    ring: Ring
    budget: Budget = field(default_factory=Budget)
    cells: list[CellLayout] = field(default_factory=list)
    lights: list[Light] = field(default_factory=list)
    bars: list[BarRun] = field(default_factory=list)

    def front(self, cell: Cell, bar: BarEntry | None) -> Fraction:
        """The front of a bar, or of those of a cell, behind the unit's outer face, mm."""
        setback = bar.setback if bar and bar.setback is not None else cell.bars.setback
        return self.ring.front + setback.mm

    def back(self, cell: Cell, bar: BarEntry | None) -> Fraction:
        """Their back: flush with the ring's where they have no depth of their own, mm."""
        depth = bar.depth if bar and bar.depth is not None else cell.bars.depth
        return self.front(cell, bar) + depth.mm if depth else self.ring.back
