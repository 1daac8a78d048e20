"""Chains of walls: where one wall's outer face ends and the next begins, both are cut to the mitre between them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import cos, radians, sin, tan

import shapely

from ashfell.core.site.document import Wall

MEET = 1.0
"""Ends nearer than this meet, mm."""
SHARPEST = 150.0
"""Walls that turn by more than this are not mitred, degrees."""


@dataclass(frozen=True)
class Ends:
    """How far each end moves inwards along the wall for each mm behind its outer face; 0 is square."""

    start: float = 0.0
    end: float = 0.0


SQUARE_ENDS = Ends()


def mitres(walls: Sequence[Wall]) -> dict[str, Ends]:
    """The ends of each wall, by id."""
    starts = {wall.id: 0.0 for wall in walls}
    ends = dict(starts)
    for before, after in _meetings(walls):
        turn = (after.angle - before.angle + 180) % 360 - 180
        if 0 < abs(turn) <= SHARPEST and before.thickness == after.thickness:
            starts[after.id] = ends[before.id] = tan(radians(turn) / 2)
    return {wall.id: Ends(starts[wall.id], ends[wall.id]) for wall in walls}


def _meetings(walls: Sequence[Wall]) -> Iterator[tuple[Wall, Wall]]:
    """Walls one of which ends where the other starts, found by an index of their starts."""
    if len(walls) < 2:
        return
    starts = shapely.points([(float(wall.x.mm), float(wall.y.mm)) for wall in walls])
    tree = shapely.STRtree(starts)
    first, second = tree.query(shapely.points([_end(wall) for wall in walls]), predicate="dwithin", distance=MEET)
    for before, after in sorted(zip(first.tolist(), second.tolist(), strict=True)):
        if before != after:
            yield walls[before], walls[after]


def _end(wall: Wall) -> tuple[float, float]:
    length, turn = float(wall.length.mm), radians(wall.angle)
    return float(wall.x.mm) + length * cos(turn), float(wall.y.mm) + length * sin(turn)
