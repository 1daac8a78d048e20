"""What a change did to the spacing, in words."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

from ashfell.core.base.lengths import Style
from ashfell.core.base.spacing import Spacing, in_runs
from ashfell.core.unit.document.members import AXES, Axis
from ashfell.core.unit.layout import Layout
from ashfell.core.unit.words import entry_words

MOST = 4
"""With more cells changed than this, the rest is only counted."""


def effects(before: Layout, after: Layout, style: Style = Style()) -> tuple[str, ...]:
    """A line for each axis of each cell whose clear lights are no longer what they were.

    >>> from ashfell.core.unit import read_unit, solve
    >>> plain = {"width": "1100", "columns": {"lights": [{}, {}], "bars": ["50"]}}
    >>> effects(solve(read_unit(plain)), solve(read_unit({**plain, "width": "1200"})))
    ('Lights across: 2 of 475 became 2 of 525 mm clear.',)
    """
    found = [line for path in after.cells for line in _changed(before, after, path, style)]
    rest = len(found) - MOST
    return (*found[:MOST], f"And {rest} more.") if rest > 0 else tuple(found)


def _changed(before: Layout, after: Layout, path: str, style: Style) -> Iterator[str]:
    if path not in before.cells:
        return
    for axis in AXES:
        old, new = before.cells[path].spacing(axis), after.cells[path].spacing(axis)
        if _sizes(old) != _sizes(new):
            were, are = in_runs(_sizes(old), style), in_runs(_sizes(new), style, unit=True)
            yield f"{_where(path, axis)}: {were} became {are} clear."


def _where(path: str, axis: Axis) -> str:
    lights = "lights across" if axis == "columns" else "lights up"
    inside = entry_words(path.replace(".fill.content", ".sash")) if path else ""
    return f"{inside}, {lights}" if inside else lights.capitalize()


def _sizes(spacing: Spacing) -> tuple[Fraction, ...]:
    return tuple(light.size for light in spacing.lights)
