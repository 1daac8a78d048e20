"""What a change did to the spacing, in words."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from fractions import Fraction

from ashfell.core.base.lengths import Style
from ashfell.core.base.spacing import in_runs
from ashfell.core.unit.document.members import AXES, Axis
from ashfell.core.unit.layout import CellLayout, Layout
from ashfell.core.unit.words import entry_words

MOST = 4
"""With more cells changed than this, the rest is only counted."""


Sizes = tuple[tuple[Fraction, ...], tuple[Fraction, ...]]
"""The clear sizes of the lights of a cell, across and up, mm."""
Clear = Mapping[str, Sizes]
"""Those of each cell, by its address."""


def clear_sizes(layout: Layout) -> Clear:
    """The clear lights of all cells of a layout."""
    return {path: (_sizes(cell, "columns"), _sizes(cell, "rows")) for path, cell in layout.cells.items()}


def _sizes(cell: CellLayout, axis: Axis) -> tuple[Fraction, ...]:
    return tuple(light.size for light in cell.spacing(axis).lights)


def effects(before: Clear, after: Clear, style: Style = Style()) -> tuple[str, ...]:
    """A line for each axis of each cell whose clear lights are no longer what they were.

    >>> from ashfell.core.unit import read_unit, solve
    >>> plain = {"width": "1100", "columns": {"lights": [{}, {}], "bars": ["50"]}}
    >>> wider = {**plain, "width": "1200"}
    >>> effects(*(clear_sizes(solve(read_unit(one))) for one in (plain, wider)))
    ('Lights across: 2 of 475 became 2 of 525 mm clear.',)
    """
    found = [line for path in after if path in before for line in _changed(before[path], after[path], path, style)]
    rest = len(found) - MOST
    return (*found[:MOST], f"And {rest} more.") if rest > 0 else tuple(found)


def _changed(before: Sizes, after: Sizes, path: str, style: Style) -> Iterator[str]:
    for axis, old, new in zip(AXES, before, after, strict=True):
        if old != new:
            were, are = in_runs(old, style), in_runs(new, style, unit=True)
            yield f"{_where(path, axis)}: {were} became {are} clear."


def _where(path: str, axis: Axis) -> str:
    lights = "lights across" if axis == "columns" else "lights up"
    inside = entry_words(path.replace(".fill.content", ".sash")) if path else ""
    return f"{inside}, {lights}" if inside else lights.capitalize()
