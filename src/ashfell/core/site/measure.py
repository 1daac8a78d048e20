"""Measuring on the plan and on a wall: points snapped to corners, middles and edges of what is drawn."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction

import numpy as np

from ashfell.core.plane.points import Floats, following
from ashfell.core.site.plan import outlines_over, plan, storey_of
from ashfell.core.site.scene import Scene
from ashfell.core.site.settle import Levels
from ashfell.core.unit.measure import Place

CLOSEST = 10**6
"""What a corner is rounded to, as parts of a millimetre: a 64th of an inch is exact."""
LOOSE = 10
"""And what is near nothing."""


def outlines(scene: Scene, picked: str, wall: str = "") -> list[Floats]:
    """The closed outlines that are drawn, each (c, 2) in mm: of a wall and its openings on its elevation, where one is
    named; else of the walls, units, plates and roofs on the plan of the storey that is shown."""
    if wall:
        standing = scene.standing[wall]
        host = standing.host
        corners = [(0.0, 0.0), (float(host.length), 0.0), *((float(u), float(v)) for u, v in reversed(host.top))]
        return [np.array(corners), *(opening.points for opening in standing.openings)]
    levels = Levels(scene.site.storeys)
    hosts = plan(scene, levels, storey_of(scene, levels, picked))
    solids = [piece for one in hosts for piece in one.solid]
    units = [piece for one in hosts for unit in one.units for piece in unit.pieces]
    return [*solids, *units, *(one.points for one in outlines_over(scene))]


def snap(drawn: Sequence[Floats], point: tuple[float, float], reach: float) -> Place:
    """The corner or the middle of an edge that is nearest to a point, or else the nearest place on an edge; what is
    farther than ``reach`` from all of them stays, to 0.1 mm.

    >>> snap([np.array([(0.0, 0.0), (100.0, 0.0), (100.0, 50.0), (0.0, 50.0)])], (49.0, 1.5), 3.0)
    (Fraction(50, 1), Fraction(0, 1))
    """
    here = np.array(point)
    starts = np.concatenate([*drawn, np.empty((0, 2))])
    ends = np.concatenate([*(following(outline) for outline in drawn), np.empty((0, 2))])
    runs = ends - starts
    lengths = np.maximum((runs**2).sum(axis=1), 1e-12)
    along = np.clip(((here - starts) * runs).sum(axis=1) / lengths, 0.0, 1.0)
    for candidates in (np.concatenate([starts, (starts + ends) / 2]), starts + along[:, None] * runs):
        if not len(candidates):
            continue
        far = np.hypot(*(candidates - here).T)
        if far.min() <= reach:
            return _rounded(candidates[far.argmin()], CLOSEST)
    return _rounded(here, LOOSE)


def _rounded(point: Floats, parts: int) -> Place:
    x, y = (Fraction(round(value * parts), parts) for value in point.tolist())
    return x, y
