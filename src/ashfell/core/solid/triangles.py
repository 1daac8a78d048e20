"""Triangles of polygons with holes that use every point."""

from __future__ import annotations

from collections.abc import Sequence

import mapbox_earcut
import numpy as np
import shapely
from shapely.geometry import Polygon

from ashfell.core.plane.points import Floats, previous
from ashfell.core.solid.topology import Indices

SHAKE = 1e-6
"""How far points are moved while many holes are triangulated, mm: ear clipping leaves out points that lie in line."""


def polygon_triangles(points: Floats, rings: Sequence[int]) -> Indices:
    """Triangles (m, 3), counter-clockwise, of a polygon with holes that uses every point: ``points`` (n, 2) of all
    rings, ``rings`` the end index of each. Ear clipping, and where that leaves out points in line, the constrained
    Delaunay triangulation."""
    shaken = points if len(rings) < 3 else points + np.random.default_rng(1).uniform(-SHAKE, SHAKE, points.shape)
    flat = mapbox_earcut.triangulate_float64(np.ascontiguousarray(shaken), np.asarray(rings, dtype=np.uint32))
    triangles = np.asarray(flat, dtype=np.int32).reshape(-1, 3)
    if len(triangles) == len(points) + 2 * len(rings) - 4:
        return triangles
    single = _first_of_repeated(points, rings)
    if len(single) < len(points):
        ends = np.searchsorted(single, np.asarray(rings)).tolist()
        return single[polygon_triangles(points[single], ends)]
    return _delaunay(points, rings)


def _first_of_repeated(points: Floats, rings: Sequence[int]) -> Indices:
    """The points that are apart from the one before them in their ring."""
    starts = [0, *rings[:-1]]
    kept = [
        start + k
        for start, end in zip(starts, rings, strict=True)
        for k, gap in enumerate(np.abs(points[start:end] - previous(points[start:end])).sum(axis=1))
        if gap > 1e-7
    ]
    return np.array(kept, dtype=np.int32)


def _delaunay(points: Floats, rings: Sequence[int]) -> Indices:
    starts = [0, *rings[:-1]]
    outer, *holes = [points[a:b] for a, b in zip(starts, rings, strict=True)]
    made = shapely.constrained_delaunay_triangles(Polygon(outer, holes))
    corners = shapely.get_coordinates(made).reshape(-1, 4, 2)[:, :3]
    index = {(x, y): k for k, (x, y) in enumerate(points.tolist())}
    triangles = np.array([[index[x, y] for x, y in corner] for corner in corners.tolist()], dtype=np.int32).reshape(
        -1, 3
    )
    a, b, c = (points[triangles[:, k]] for k in range(3))
    turns = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])
    triangles[turns < 0] = triangles[turns < 0][:, ::-1]
    return triangles
