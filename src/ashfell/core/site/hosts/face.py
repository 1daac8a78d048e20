"""The face of a host with its openings as one planar region, given thickness."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import numpy as np
import shapely
from shapely.geometry import Polygon
from shapely.ops import unary_union

from ashfell.core.plane.points import Floats, polygons
from ashfell.core.site.opening import Opening
from ashfell.core.solid.plate import extrusions, plate
from ashfell.core.solid.topology import Solid
from ashfell.core.solid.triangles import polygon_triangles

STRIP = 12
"""How many openings a strip of a wall holds before the next begins: triangulating them together costs more the more
they are.
"""


@dataclass(frozen=True)
class Face:
    """A stretch of a host laid out flat, mm: from ``left`` to ``right`` along it, from its foot at 0 to its ``top``, a
    line of points from left to right."""

    left: float
    right: float
    top: tuple[tuple[float, float], ...]

    @cached_property
    def polygon(self) -> Polygon:
        """As a polygon for set operations in the plane."""
        return Polygon([(self.left, 0.0), (self.right, 0.0), *reversed(self.top)])

    @property
    def level(self) -> bool:
        """Whether its top is level."""
        return len({height for _, height in self.top}) == 1

    @property
    def least(self) -> float:
        """The height of its top where that is lowest, mm."""
        return min(height for _, height in self.top)

    def between(self, left: float, right: float) -> Face:
        """A stretch of it; its top runs on level beyond its ends."""
        places, heights = zip(*self.top, strict=True)
        inner = [point for point in self.top if left < point[0] < right]
        ends = [float(np.interp(x, places, heights)) for x in (left, right)]
        return Face(left, right, ((left, ends[0]), *inner, (right, ends[1])))


def face_solids(face: Face, openings: Sequence[Opening], low: float, high: float) -> list[Solid]:
    """A face less its openings, from w = ``low`` to ``high``, mm.

    Openings that lie inside are holes; those that reach an edge of the face cut into its outline, and may part it.
    """
    bounds = np.array([(float(o.x), float(o.z), float(o.right), float(o.head)) for o in openings]).reshape(-1, 4)
    inside = (bounds[:, 0] > face.left) & (bounds[:, 1] > 0) & (bounds[:, 2] < face.right) & (bounds[:, 3] < face.least)
    if face.level and inside.all() and not _touching(openings, bounds):
        order = np.argsort(bounds[:, 0], kind="stable")
        return [_in_strips(face, [openings[k] for k in order], bounds[order], low, high)]
    region = face.polygon.difference(unary_union([opening.polygon for opening in openings]))
    return [plate(piece, low, high) for piece in polygons(region)]


def _in_strips(face: Face, openings: Sequence[Opening], bounds: Floats, low: float, high: float) -> Solid:
    """A level face with openings apart from each other, sorted from the start, triangulated strip by strip between
    upright lines that meet none of them."""
    reached = np.maximum.accumulate(bounds[:, 2]) if len(bounds) else np.zeros(0)
    cuts, starts = [], [0]
    for k in range(1, len(bounds)):
        if k - starts[-1] >= STRIP and bounds[k, 0] > reached[k - 1]:
            cuts.append(float(bounds[k, 0] + reached[k - 1]) / 2)
            starts.append(k)
    across = [face.left, *cuts, face.right]
    outer = np.array([*((x, 0.0) for x in across), *((x, face.least) for x in reversed(across))])
    holes = [opening.points[::-1] for opening in openings]
    sizes = np.array([len(hole) for hole in holes], dtype=np.int64)
    first_point = len(outer) + np.concatenate([[0], np.cumsum(sizes)]).astype(np.int64)
    points, count, cap = np.concatenate([outer, *holes]), len(outer), []
    for strip, (first, last) in enumerate(pairwise([*starts, len(holes)])):
        border = [strip, strip + 1, count - 2 - strip, count - 1 - strip]
        own = np.array([*border, *range(first_point[first], first_point[last])], dtype=np.int32)
        ends = [4, *(4 + np.cumsum(sizes[first:last])).tolist()]
        cap.append(own[polygon_triangles(points[own], ends)])
    return extrusions([outer, *holes], low, high, np.concatenate(cap))


def _touching(openings: Sequence[Opening], bounds: Floats) -> bool:
    """Whether any two openings share an edge or a corner."""
    if len(openings) < 2:
        return False
    boxes = shapely.box(*bounds.T)
    first, second = shapely.STRtree(boxes).query(boxes, predicate="intersects")
    pairs = [(a, b) for a, b in zip(first.tolist(), second.tolist(), strict=True) if a < b]
    return any(
        (openings[a].outline is None and openings[b].outline is None)
        or openings[a].polygon.intersects(openings[b].polygon)
        for a, b in pairs
    )
