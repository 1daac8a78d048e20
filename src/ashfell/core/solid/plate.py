"""Plates, boxes and lofts: solids between level outlines."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import lru_cache
from itertools import accumulate

import numpy as np
from shapely.geometry import Polygon

from ashfell.core.plane.points import Floats, area, previous
from ashfell.core.solid.sweep import has_repeats, strip_topology
from ashfell.core.solid.topology import Indices, Paths, Solid, Topology, shared, welded
from ashfell.core.solid.triangles import polygon_triangles

HIGH = np.array([[x, y, z] for z in (0, 1) for x, y in ((0, 0), (1, 0), (1, 1), (0, 1))], dtype=bool)
"""For each corner of a box which of its coordinates are the greater ones."""


def boxes(lows: Floats, highs: Floats) -> list[Solid]:
    """Boxes from their least and greatest corners, (n, 3) each, mm."""
    vertices = np.where(HIGH, np.asarray(highs)[:, None], np.asarray(lows)[:, None])
    topology = strip_topology(((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)), 2, False)
    return [Solid(box, topology) for box in vertices]


def extrusions(outlines: Sequence[Floats], low: float, top: float, cap: Indices | None = None) -> Solid:
    """A flat plate with holes: the first outline (n, 2) counter-clockwise, holes clockwise, from ``low`` to ``top``;
    ``cap`` are its triangles, where they are known."""
    points = np.concatenate(outlines) if len(outlines) > 1 else outlines[0]
    ends = tuple(accumulate(len(outline) for outline in outlines))
    count = len(points)
    cap = polygon_triangles(points, ends) if cap is None else cap
    sides, owners, known = _sides(ends)
    vertices = np.empty((2 * count, 3))
    vertices[:count, :2] = vertices[count:, :2] = points
    vertices[:count, 2], vertices[count:, 2] = low, top
    triangles = np.concatenate([sides, cap[:, ::-1], cap + np.int32(count)])
    caps = np.repeat(np.array([count, count + 1], dtype=np.int32), len(cap))
    return Solid(vertices, Topology(triangles, np.concatenate([owners, caps]), known))


@lru_cache(maxsize=1024)
def _sides(ends: tuple[int, ...]) -> tuple[Indices, Indices, Mapping[int, Paths]]:
    """The sides of a plate whose rings end at these points: their triangles, the face of each, and the paths round its
    caps.
    """
    count = ends[-1]
    here = np.arange(count, dtype=np.int32)
    ahead = here + 1
    ahead[[end - 1 for end in ends]] = (0, *ends[:-1])
    triangles = np.stack([here, ahead, ahead + count, here, ahead + count, here + count], axis=1).reshape(-1, 3)
    high = tuple(np.split(here + count, ends[:-1]))
    return triangles, np.repeat(here, 2), {count: tuple(path[::-1] - count for path in high), count + 1: high}


def plate(region: Polygon, low: float, high: float) -> Solid:
    """A planar region, holes and all, from ``low`` to ``high``, mm."""
    outer, *inner = [_once_each(np.array(ring.coords)[:-1]) for ring in (region.exterior, *region.interiors)]
    return extrusions(
        [outer if area(outer) > 0 else outer[::-1], *(hole if area(hole) < 0 else hole[::-1] for hole in inner)],
        low,
        high,
    )


def _once_each(ring: Floats) -> Floats:
    """A closed path (c, 2) without points that are the one before, as edges without length leave them. Only those: what
    is nearly one point may keep two sides of a hairline apart."""
    return np.asarray(ring[(ring != previous(ring)).any(axis=1)])


def loft(levels: Floats) -> Solid:
    """A solid between closed paths of as many points, one above the other: ``levels`` (s, c, 3), each counter-clockwise
    as seen from where they rise to, the first and last flat."""
    stations, count = levels.shape[:2]
    sides = strip_topology(((0.0, 0.0),) * count, stations, True)
    spans = len(sides.triangles) * (stations - 1) // stations
    first, last = (polygon_triangles(levels[k, :, :2], [count]) for k in (0, -1))
    triangles = np.concatenate([sides.triangles[:spans], first[:, ::-1], last + (stations - 1) * count])
    faces = np.concatenate([np.arange(spans) // 2, np.full(len(first), spans), np.full(len(last), spans + 1)])
    made = Solid(levels.reshape(-1, 3), shared(triangles, faces))
    return welded(made) if has_repeats(levels) or has_repeats(levels.swapaxes(0, 1), True) else made
