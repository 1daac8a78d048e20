"""Reliefs: solids over a plane region whose top rises and falls along strips, such as the face of a bar that is cut to
a curve. Everything is cut in plan, where it is quicker and more exact than between solids."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from operator import itemgetter
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import MultiPoint, Point, Polygon

from ashfell.core.plane.points import TOUCH, Floats, area, cross, following, polygons, previous
from ashfell.core.solid.topology import Indices, Solid, alike, faced
from ashfell.core.solid.triangles import polygon_triangles

EVEN = 7
"""Decimals of a mm to which two corners are one."""


class Stem(NamedTuple):
    """What goes on behind the floor of a relief, mm: a block over another region down to a depth."""

    region: Polygon
    low: float


def relief(lines: Floats, heights: Sequence[float], region: Polygon, floor: float, stem: Stem | None) -> Solid | None:
    """A relief of one piece, and its stem.

    Parameters
    ----------
    lines : (k, s, 2)
        From the right to the left of a path the lines along it, mm: where its top begins, turns and ends.
    heights : (k,)
        How high the top is along each, mm.
    region : Polygon
        What is made of it in plan.
    floor : float
        How high its underside is, mm.
    stem : Stem, optional
        Its top is in the plane of the floor.

    Returns
    -------
    Solid or None
        None where it is no single piece without holes, it has a step, all but touches itself, or its lines cross: that
        is for booleans.
    """
    top = _top(lines, heights, region)
    if top is None:
        return None
    corners, triangles = top
    ring = _only_ring(triangles)
    if ring is None or floor > corners[ring, 2].min() - TOUCH:
        return None
    rim = corners[ring]
    if shapely.minimum_clearance(Polygon(rim[:, :2])) < NEAREST:
        return None
    turns = _turns(rim[:, :2])
    under = _underside(rim[turns, :2], floor, stem)
    if under is None:
        return None
    marks, faces = under
    return _closed(np.concatenate([corners[triangles], *_sides(rim, turns, marks, floor), *faces]))


def _top(lines: Floats, heights: Sequence[float], region: Polygon) -> tuple[Floats, Indices] | None:
    """The corners and triangles of what lies over the region; None where there is nothing, or a strip is folded."""
    count, stations = lines.shape[:2]
    grid = np.empty((count, stations, 3))
    grid[..., :2], grid[..., 2] = lines, np.asarray(heights)[:, None]
    right, left = grid[:-1], grid[1:]
    quads = np.stack([right[:, :-1], right[:, 1:], left[:, 1:], left[:, :-1]], axis=2).reshape(-1, 4, 3)
    flat = shapely.polygons(quads[..., :2])
    if not shapely.is_valid(flat).all() or (_areas(quads) <= 0).any():
        return None
    shapely.prepare(region)
    whole = shapely.contains(region, flat)
    near = np.flatnonzero(shapely.intersects(region, flat) & ~whole)
    found = [quads[whole][:, [0, 1, 2]], quads[whole][:, [0, 2, 3]]]
    for index, cut in zip(near.tolist(), shapely.intersection(flat[near], region), strict=True):
        for piece in polygons(cut):
            if piece.interiors:
                return None
            found.append(_raised(piece, quads[index]))
    soup = np.concatenate(found)
    return _welded(soup) if len(soup) else None


def _areas(quads: Floats) -> Floats:
    """Twice the signed area of quadrilaterals in plan, mm²."""
    across, other = quads[:, 2] - quads[:, 0], quads[:, 3] - quads[:, 1]
    return np.asarray(across[:, 0] * other[:, 1] - across[:, 1] * other[:, 0])


def _raised(piece: Polygon, quad: Floats) -> Floats:
    """The triangles (m, 3, 3) of a piece of a plane quadrilateral (4, 3)."""
    ring = np.array(piece.exterior.coords)[:-1]
    ring = ring if area(ring) > 0 else ring[::-1]
    u, v = quad[1] - quad[0], quad[3] - quad[0]
    slopes = np.linalg.solve(np.array([u[:2], v[:2]]), np.array([u[2], v[2]]))
    raised = np.column_stack([ring, quad[0, 2] + (ring - quad[0, :2]) @ slopes])
    return np.asarray(raised[polygon_triangles(ring, [len(ring)])])


def _welded(soup: Floats) -> tuple[Floats, Indices]:
    """The corners (n, 3) and triangles (m, 3) of triangles (m, 3, 3), without those of two corners."""
    flat = soup.reshape(-1, 3)
    first, number = alike(np.round(flat, EVEN))
    triangles = number.reshape(-1, 3)
    a, b, c = triangles.T
    return flat[first], triangles[(a != b) & (b != c) & (c != a)]


def _only_ring(triangles: Indices) -> Indices | None:
    """The path round triangles, each corner once; None where there are several."""
    edges = np.concatenate([triangles[:, [0, 1]], triangles[:, [1, 2]], triangles[:, [2, 0]]]).astype(np.int64)
    size = int(triangles.max()) + 1
    forth, back = edges @ (size, 1), np.sort(edges @ (1, size))
    met = back[np.searchsorted(back, forth) % len(back)] == forth
    rim = edges[~met].tolist()
    ahead = dict(rim)
    start = at = rim[0][0]
    path = [start]
    while (at := ahead.get(at, start)) != start:
        path.append(at)
    return np.array(path, dtype=np.int32) if len(path) == len(rim) else None


def _turns(path: Floats) -> NDArray[np.intp]:
    """Which points of a closed path (n, 2) are corners: the others lie on the line between two that are."""
    kept = np.arange(len(path))
    while len(kept) > 3:
        here, behind = path[kept], previous(path[kept])
        ahead = following(here) - behind
        away = np.abs(cross(ahead, here - behind)) / np.maximum(np.hypot(*ahead.T), TOUCH)
        straight = np.flatnonzero(away < TOUCH)
        gone = straight[np.diff(straight, prepend=-2) > 1]  # not two beside each other
        if not len(gone):
            break
        kept = np.delete(kept, gone)
    return kept


Marks = dict[int, Floats]
"""The points (m, 2) on edges of a closed path, in order, by the number of the edge."""


def _sides(rim: Floats, turns: NDArray[np.intp], marks: Marks, floor: float) -> list[Floats]:
    """The triangles (m, 3, 3) between a rim (n, 3) and the floor, from one corner in plan to the next, by way of the
    marks on the floor's edge."""
    ends = following(turns)
    plain = (ends - turns) % len(rim) == 1
    plain[[*marks]] = False
    a, b = rim[turns[plain]], rim[ends[plain]]
    found = _upright(_at(a[:, :2], floor), _at(b[:, :2], floor), b, a)
    for edge in np.flatnonzero(~plain).tolist():
        start, end = int(turns[edge]), int(ends[edge])
        over = rim[start : end + 1] if end > start else np.concatenate([rim[start:], rim[: end + 1]])
        below = np.insert(over[[0, -1], :2], 1, marks.get(edge, np.empty((0, 2))), axis=0)
        found.append(_side(_at(below, floor), over))
    return found


def _upright(a: Floats, b: Floats, c: Floats, d: Floats) -> list[Floats]:
    """Upright quadrilaterals (n, 3) each, in triangles."""
    return [np.stack([a, b, c], axis=1), np.stack([a, c, d], axis=1)]


def _side(below: Floats, above: Floats) -> Floats:
    """The triangles (m, 3, 3) of an upright side between two paths (n, 3) over each other."""
    ring = np.concatenate([below, above[::-1]])
    along = (below[-1] - below[0])[:2]
    flat = np.column_stack([ring[:, :2] @ along / np.hypot(*along), ring[:, 2]])
    return np.asarray(ring[polygon_triangles(flat, [len(ring)])])


def _underside(outline: Floats, floor: float, stem: Stem | None) -> tuple[Marks, list[Floats]] | None:
    """Where a stem crosses the edges of an outline (n, 2), and the triangles of all that lies behind it; None where the
    two meet otherwise than by crossing."""
    if stem is None:
        return {}, [_level([outline], floor, looks=-1)]
    ring = np.array(stem.region.exterior.coords)[:-1]
    ring = ring if area(ring) > 0 else ring[::-1]
    whole = Polygon(outline)
    met = whole.exterior.intersection(Polygon(ring).exterior)
    simple = whole.is_valid and not stem.region.interiors
    if not simple or not (met.is_empty or isinstance(met, Point | MultiPoint)):
        return None
    crossings = shapely.get_coordinates(met)
    on_outline, on_stem = _marked(outline, crossings), _marked(ring, crossings)
    if on_outline is None or on_stem is None:
        return None
    outer, inner = Polygon(_with_marks(outline, on_outline)), Polygon(_with_marks(ring, on_stem))
    faces = [_level([ring], stem.low, looks=-1)]
    plain = np.ones(len(ring), dtype=bool)
    plain[[*on_stem]] = False
    start, end = ring[plain], following(ring)[plain]
    faces += _upright(_at(start, stem.low), _at(end, stem.low), _at(end, floor), _at(start, floor))
    for edge, between in on_stem.items():
        below = np.stack([ring[edge], following(ring)[edge]])
        faces.append(_side(_at(below, stem.low), _at(np.insert(below, 1, between, axis=0), floor)))
    for region, looks in ((outer.difference(inner), -1), (inner.difference(outer), 1)):
        for piece in polygons(region):
            rings = [np.array(path.coords)[:-1] for path in (piece.exterior, *piece.interiors)]
            rings = [path if (area(path) > 0) == (path is rings[0]) else path[::-1] for path in rings]
            faces.append(_level(rings, floor, looks))
    return on_outline, faces


def _at(points: Floats, height: float) -> Floats:
    """Points (n, 2) at a height, (n, 3)."""
    return np.column_stack([points, np.full(len(points), height)])


def _level(rings: Sequence[Floats], height: float, looks: int) -> Floats:
    """The triangles (m, 3, 3) of a level polygon, its outer ring counter-clockwise; ``looks`` is 1 for up."""
    points = np.concatenate(rings)
    triangles = polygon_triangles(points, np.cumsum([len(ring) for ring in rings]).tolist())
    return np.asarray(_at(points, height)[triangles[:, ::looks]])


def _marked(path: Floats, points: Floats) -> Marks | None:
    """On which edges of a closed path points (n, 2) are; None where one is at a corner."""
    ahead = following(path) - path
    square = (ahead**2).sum(axis=1)
    found: dict[int, list[tuple[float, Floats]]] = defaultdict(list)
    for point in points:
        share = np.clip(((point - path) * ahead).sum(axis=1) / square, 0, 1)
        edge = int(((path + share[:, None] * ahead - point) ** 2).sum(axis=1).argmin())
        if min(share[edge], 1 - share[edge]) * np.sqrt(square[edge]) < NEAREST:
            return None
        found[edge].append((float(share[edge]), point))
    return {edge: np.array([point for _, point in sorted(own, key=itemgetter(0))]) for edge, own in found.items()}


def _with_marks(path: Floats, marks: Marks) -> Floats:
    """A closed path (n, 2) by way of its marks."""
    if not marks:
        return path
    places = [edge + 1 for edge, own in marks.items() for _ in own]
    return np.insert(path, places, np.concatenate([*marks.values()]), axis=0)


NEAREST = 1e-4
"""How near its corners may be to each other, and to its edges, mm."""


def _closed(soup: Floats) -> Solid | None:
    """The solid of triangles (m, 3, 3), coplanar ones being one face; None where they do not close."""
    made = faced(*_welded(soup))
    return made if made.is_closed and made.volume > 0 else None
