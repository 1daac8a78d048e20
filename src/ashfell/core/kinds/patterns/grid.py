"""Muntins in a grid, by divisions of their own."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from shapely.geometry import box

from ashfell.core.kinds.pattern import PATTERNS, Ground, Pattern, Strip
from ashfell.core.unit.document.members import AXES

if TYPE_CHECKING:
    from ashfell.core.kinds.fillings.muntins import Muntins
    from ashfell.core.unit.layout import Light


def _strips(ground: Ground) -> Iterator[Strip]:
    left, foot, right, head = ground.region.bounds
    for axis in AXES:
        origin = ground.light.clear.x if axis == "columns" else ground.light.clear.y
        for bar in ground.spacing[axis].bars:
            low, high, middle = (float(value + origin) for value in (bar.start, bar.end, bar.centre))
            upright = axis == "columns"
            area = box(low, foot - 1, high, head + 1) if upright else box(left - 1, low, right + 1, high)
            line = ((middle, foot - 1), (middle, head + 1)) if upright else ((left - 1, middle), (right + 1, middle))
            yield Strip(f"{ground.entry}.{axis}.bars.{bar.index}", area, line, float(bar.size))


def _count(light: Light, muntins: Muntins) -> int:
    across, up = len(muntins.columns.bars), len(muntins.rows.bars)
    return across + up + across * up


GRID = PATTERNS.register(
    Pattern("grid", "a grid", _strips, lambda w, path, muntins: [], _count, order=10, divides=True)
)
