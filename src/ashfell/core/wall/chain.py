"""Chains of walls: where one wall's outer face ends and the next begins, both are cut to the mitre between them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import cos, hypot, radians, sin, tan

from ashfell.core.wall.document import Wall

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
    for before in walls:
        for after in walls:
            turn = (after.angle - before.angle + 180) % 360 - 180
            if before is not after and _meet(before, after) and 0 < abs(turn) <= SHARPEST:
                starts[after.id] = ends[before.id] = tan(radians(turn) / 2)
    return {wall.id: Ends(starts[wall.id], ends[wall.id]) for wall in walls}


def _meet(before: Wall, after: Wall) -> bool:
    if before.thickness != after.thickness:
        return False
    length, turn = float(before.length.mm), radians(before.angle)
    x, y = float(before.x.mm) + length * cos(turn), float(before.y.mm) + length * sin(turn)
    return hypot(x - float(after.x.mm), y - float(after.y.mm)) <= MEET
