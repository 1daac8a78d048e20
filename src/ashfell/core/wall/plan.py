"""The plan: walls cut at the height of their openings, and the units in them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import numpy as np

from ashfell.core.plane.points import Floats
from ashfell.core.wall.chain import SQUARE_ENDS, Ends, mitres
from ashfell.core.wall.document import SiteDocument, Wall
from ashfell.core.wall.fit import Opening
from ashfell.core.wall.solid import wall_matrix


@dataclass(frozen=True)
class PlanWall:
    """A wall in plan: its outline, the pieces between its openings, and where the units stand; site mm."""

    wall: Wall
    solid: tuple[Floats, ...]
    units: tuple[tuple[str, Floats], ...]
    openings: tuple[Opening, ...]
    matrix: Floats


def plan(site: SiteDocument, openings: dict[str, Opening]) -> list[PlanWall]:
    """The walls of a site cut at the height of their openings, seen from above."""
    ends = mitres(site.walls)
    return [_plan_wall(site, wall, ends[wall.id], openings) for wall in site.walls]


def _plan_wall(site: SiteDocument, wall: Wall, ends: Ends, openings: dict[str, Opening]) -> PlanWall:
    placed = [p for p in site.placements if p.wall == wall.id and p.id in openings]
    own = sorted((openings[p.id] for p in placed), key=lambda opening: opening.x)
    matrix, thickness = wall_matrix(wall), float(wall.thickness.mm)
    length = float(wall.length.mm)
    solid = tuple(
        _on_plan(matrix, low, high, -thickness, 0.0, Ends(ends.start * (low == 0), ends.end * (high == length)))
        for low, high in _between(own, length)
    )
    units = []
    for placement in placed:
        opening, frame = openings[placement.id], site.units[placement.unit].frame
        gap, front = float(placement.gap.mm), -float(placement.recess.mm)
        low, high = float(opening.x) + gap, float(opening.right) - gap
        units.append((placement.id, _on_plan(matrix, low, high, front - float(frame.depth.mm), front)))
    return PlanWall(wall, solid, tuple(units), tuple(own), matrix)


def _between(openings: Iterable[Opening], length: float) -> Iterator[tuple[float, float]]:
    reached = 0.0
    for opening in openings:
        if float(opening.x) > reached:
            yield reached, float(opening.x)
        reached = max(reached, float(opening.right))
    if reached < length:
        yield reached, length


def _on_plan(matrix: Floats, low: float, high: float, back: float, front: float, ends: Ends = SQUARE_ENDS) -> Floats:
    """A stretch of a wall's thickness in the site, its ends slanted into the mitres."""
    corners = np.array([
        (low - ends.start * back, 0, back), (high + ends.end * back, 0, back),
        (high + ends.end * front, 0, front), (low - ends.start * front, 0, front),
    ])  # fmt: skip
    placed: Floats = (corners @ matrix[:3, :3].T + matrix[:3, 3])[:, :2]
    return placed
