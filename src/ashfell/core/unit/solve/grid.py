"""The grid of a cell: which light takes which place, and where its bars run."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ashfell.core.base.address import entry_below
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit.document.members import Axis
from ashfell.core.unit.layout import CellLayout

Owners = list[list[tuple[int, int]]]
"""For each column and row the light that takes its place: itself, or one that spans over it."""


def owners_of(owner: CellLayout) -> Owners:
    """Which light takes each place of a grid; refuses spans that leave it or meet."""
    columns, rows = len(owner.columns.lights), len(owner.rows.lights)
    owners: Owners = [[(i, j) for j in range(rows)] for i in range(columns)]
    for key, cell in owner.cell.cells.items():
        i, j = (int(number) - 1 for number in key[1:].split("r"))
        if cell.span == (1, 1) or i >= columns or j >= rows:
            continue
        entry = entry_below(owner.path, f"cells.{key}.span")
        if i + cell.span[0] > columns or j + cell.span[1] > rows:
            raise Refusal(
                entry,
                "a light within its cell",
                f"From column {i + 1}, row {j + 1} a light cannot span {cell.span[0]} by {cell.span[1]} of {columns} "
                f"by {rows}.",
                f"It can span {columns - i} by {rows - j}.",
            )
        for a in range(i, i + cell.span[0]):
            for b in range(j, j + cell.span[1]):
                if owners[a][b] != (a, b):
                    raise Refusal(
                        entry,
                        "lights stay apart",
                        f"Two lights span column {a + 1}, row {b + 1}.",
                        "Split one of them.",
                    )
                owners[a][b] = (i, j)
    return owners


def owned(owners: Owners) -> dict[tuple[int, int], tuple[int, int]]:
    """Each light that is there, and how far it spans."""
    found: dict[tuple[int, int], tuple[int, int]] = {}
    for j in range(len(owners[0])):
        for i in range(len(owners)):
            own_i, own_j = owners[i][j]
            found[own_i, own_j] = (i - own_i + 1, j - own_j + 1)
    return found


@dataclass(frozen=True)
class GridRun:
    """A bar of a grid from one light of the other axis to another; ``opens`` and ``closes`` say at which ends it stops
    at a bar that runs through."""

    axis: Axis
    index: int
    first: int
    last: int
    opens: bool
    closes: bool


def grid_runs(owner: CellLayout, owners: Owners, axis: Axis) -> Iterator[GridRun]:
    """The bars of one axis: cut where a light spans over them, and where the other axis runs through."""
    count = len(owner.spacing("rows" if axis == "columns" else "columns").lights)
    for index in range(len(owner.spacing(axis).bars)):
        there = [not _spanned(owners, axis, index, at) for at in range(count)]
        first = None
        for at in range(count):
            if there[at] and first is None:
                first = at
            goes_on = at + 1 < count and there[at] and there[at + 1] and _through(owner, owners, axis, index, at)
            if there[at] and not goes_on and first is not None:
                yield GridRun(axis, index, first, at, first > 0, at + 1 < count)
                first = None


def _spanned(owners: Owners, axis: Axis, index: int, at: int) -> bool:
    """Whether one light lies on both sides of a bar, beside a light of the other axis."""
    if axis == "columns":
        return owners[index][at] == owners[index + 1][at]
    return owners[at][index] == owners[at][index + 1]


def _through(owner: CellLayout, owners: Owners, axis: Axis, index: int, at: int) -> bool:
    """Whether a bar goes on over the crossing behind light ``at`` of the other axis: at a T the one with both arms
    does.
    """
    other: Axis = "rows" if axis == "columns" else "columns"
    arms = not _spanned(owners, other, at, index), not _spanned(owners, other, at, index + 1)
    return owner.cell.bars.through == axis if all(arms) else True
