"""The dimensions of a unit's elevation, each with the entry that typing over it changes."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from ashfell.core.base.address import entry_below
from ashfell.core.unit.document.members import AXES, Axis
from ashfell.core.unit.layout import CellLayout, Layout


def dimensions(layout: Layout, cell: CellLayout | None = None) -> list[Dimension]:
    """Overall sizes, then every piece of one cell (the whole unit where none is named) along both axes, in unit
    space.
    """
    overall: tuple[tuple[Axis, str, Fraction], ...] = (
        ("columns", "width", layout.outer.width),
        ("rows", "height", layout.outer.height),
    )
    found = [Dimension(axis, "overall", 0, Fraction(0), size, entry) for axis, entry, size in overall]
    return [*found, *(dimension for axis in AXES for dimension in _pieces(cell or layout.root, axis))]


def _pieces(cell: CellLayout, axis: Axis) -> Iterator[Dimension]:
    entries = {
        "edge": cell.edges[axis],
        "light": entry_below(cell.path, axis + ".lights.{}.size"),
        "bar": entry_below(cell.path, axis + ".bars.{}.face"),
    }
    origin = cell.origin(axis)
    for piece in cell.spacing(axis).pieces:
        if piece.size:
            entry = entries[piece.kind].format(piece.index)
            yield Dimension(axis, piece.kind, piece.index, piece.start + origin, piece.end + origin, entry, piece.fixed)


@dataclass(frozen=True)
class Dimension:
    """One dimension along ``axis``: from ``start`` to ``end``, mm. ``entry`` is what typing over it changes."""

    axis: Literal["columns", "rows"]
    kind: Literal["overall", "edge", "light", "bar"]
    index: int
    start: Fraction
    end: Fraction
    entry: str
    fixed: bool = True

    @property
    def size(self) -> Fraction:
        """The measured length, mm."""
        return self.end - self.start
