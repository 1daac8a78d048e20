"""What is known of a ring's content while its cells are being solved."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from fractions import Fraction

import shapely

from ashfell.core.unit.document.cell import Cell
from ashfell.core.unit.document.members import BarEntry
from ashfell.core.unit.layout import BarRun, CellLayout, Light, Ring
from ashfell.core.unit.solve.budget import Budget
from ashfell.core.unit.solve.inside import stem_of


@dataclass
class Draft:
    """A ring, and the cells, lights and bars found in it so far."""

    ring: Ring
    budget: Budget = field(default_factory=Budget)
    cells: list[CellLayout] = field(default_factory=list)
    lights: list[Light] = field(default_factory=list)
    bars: list[BarRun] = field(default_factory=list)
    _stems: tuple[int, Sequence[BarRun], shapely.STRtree] | None = None

    @property
    def stems(self) -> tuple[Sequence[BarRun], shapely.STRtree]:
        """The bars there are that take something behind the stops, and what each takes."""
        if self._stems is None or self._stems[0] != len(self.bars):
            there = [(bar, region) for bar in self.bars if (region := stem_of(bar)) is not None]
            bars, tree = [bar for bar, _ in there], shapely.STRtree([region for _, region in there])
            self._stems = len(self.bars), bars, tree
        return self._stems[1:]

    def front(self, cell: Cell, bar: BarEntry | None) -> Fraction:
        """The front of a bar, or of those of a cell, behind the unit's outer face, mm."""
        setback = bar.setback if bar and bar.setback is not None else cell.bars.setback
        return self.ring.front + setback.mm

    def back(self, cell: Cell, bar: BarEntry | None) -> Fraction:
        """Their back: flush with the ring's where they have no depth of their own, mm."""
        depth = bar.depth if bar and bar.depth is not None else cell.bars.depth
        return self.front(cell, bar) + depth.mm if depth else self.ring.back
