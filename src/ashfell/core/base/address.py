"""Addresses: the one way to name an entry of a document, in refusals, parts, drawings, pages and files.

An address is dotted text, ``cells.c2r1.columns.lights.0.size``. In lists whose entries have ids a step is the id, in
other lists the place, counted from 0. This module is the only one that takes addresses apart.

>>> Address("columns.bars.0").parent, Address("columns.bars.0").last
('columns.bars', '0')
>>> Address("cells.c2r1") / "fill.face"
'cells.c2r1.fill.face'
"""

from __future__ import annotations

import re
from typing import Literal, NamedTuple

CellPlace = tuple[int, int]
"""Column and row of a light, counted from 1 at the lower left."""
_CELL = re.compile(r"c([1-9]\d?)r([1-9]\d?)")


class OfDivision(NamedTuple):
    """A light or bar of a division: the address of its cell (or grid of muntins), the axis, and its number from 0."""

    holder: Address
    axis: Literal["columns", "rows"]
    number: int


class OfCell(NamedTuple):
    """A light of a cell: the address of that cell, and the light's place in it."""

    owner: Address
    key: str
    place: CellPlace


OF_SIDES = ("sides", "steps")
"""The steps before the name of a side: ``frame.sides.corner.1`` is the first corner's face."""


class Address(str):
    """The address of an entry; empty for the document itself."""

    __slots__ = ()

    @property
    def steps(self) -> tuple[str, ...]:
        """Its steps from the document inwards."""
        return (*self.parent.steps, self.last) if self else ()

    @property
    def parent(self) -> Address:
        """The address around it."""
        return Address(self._parted()[0])

    @property
    def last(self) -> str:
        """Its last step."""
        return self._parted()[1]

    def _parted(self) -> tuple[str, str]:
        """All but the last step, and that; the name of a side is one step, also where there is a point in it."""
        for step in OF_SIDES:
            around, mark, side = self.rpartition(f".{step}.")
            if mark:
                return f"{around}.{step}", side
        around, _, last = self.rpartition(".")
        return around, last

    def __truediv__(self, more: str) -> Address:
        return Address(f"{self}.{more}" if self and more else self or more)

    def is_within(self, other: str) -> bool:
        """Whether it is another address, or below it."""
        return self == other or not other or self.startswith(f"{other}.")

    def of_division(self, part: Literal["lights", "bars"]) -> OfDivision | None:
        """What it names, where that is a light or a bar of a division; None for anything else."""
        steps = self.steps
        if len(steps) < 3 or steps[-3] not in ("columns", "rows") or steps[-2] != part or not steps[-1].isdigit():
            return None
        holder = Address(".".join(steps[:-3]))
        return OfDivision(holder, "columns" if steps[-3] == "columns" else "rows", int(steps[-1]))

    def of_cell(self) -> OfCell | None:
        """What it names, where that is a light of a cell; None for anything else."""
        steps = self.steps
        place = cell_place(steps[-1]) if len(steps) > 1 and steps[-2] == "cells" else None
        return OfCell(Address(".".join(steps[:-2])), steps[-1], place) if place else None


def entry_below(path: str, entry: str) -> Address:
    """An address below another, which may be empty."""
    return Address(path) / entry


def cell_place(key: str) -> CellPlace | None:
    """Column and row of a light's key.

    >>> cell_place("c2r1"), cell_place("c0r1"), cell_place("sash")
    ((2, 1), None, None)
    """
    match = _CELL.fullmatch(key)
    return (int(match[1]), int(match[2])) if match else None


def cell_key(column: int, row: int) -> str:
    """The key of a light.

    >>> cell_key(2, 1)
    'c2r1'
    """
    return f"c{column}r{row}"


def stretches(key: str) -> tuple[str, ...]:
    """The columns and rows that the light of a key is in, from the outermost cell to its own, as a strip names them.

    >>> stretches("c1r2.sash.c3r1")
    ('c1', 'r2', 'c1r2.sash.c3', 'c1r2.sash.r1')
    """
    found, before = [], ""
    for step in key.split("."):
        match = _CELL.fullmatch(step)
        if match:
            found += [f"{before}c{match[1]}", f"{before}r{match[2]}"]
        before = f"{before}{step}."
    return tuple(found)
