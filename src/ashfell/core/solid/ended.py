"""Strips of one section whose ends are cut in plan: made as sweeps from the outline that is left of them, exactly as a
boolean would leave them and far quicker. What is cut otherwise is for booleans."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from itertools import pairwise

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString, Polygon

from ashfell.core.plane.points import Floats, area, following, left_of
from ashfell.core.solid.form import Sweep
from ashfell.core.solid.sweep import LEVEL, Section, strip_topology
from ashfell.core.solid.topology import Topology

ON = 1e-6
"""How near points are to the side of a strip that lie on it, mm."""
STEP = 1e-3
"""What a point of an end goes on across a strip at the least, mm."""


def straight(piece: Polygon, corners: Floats, section: Section) -> Sweep | None:
    """What a piece leaves of a straight strip.

    Parameters
    ----------
    piece : Polygon
        What is left of it in plan, mm.
    corners : (2, k, 3)
        The strip: its section at a place before all of the piece, and at one behind.
    section : Section
        Its k points: (across to the left, w).

    Returns
    -------
    Sweep or None
        None where the piece is not as wide as the strip all along, or an end comes back on itself.
    """
    across = [x for x, _ in section]
    rightmost = min(across)
    half = (max(across) - rightmost) / 2
    right = corners[0, across.index(rightmost), :2]
    along = corners[1, 0, :2] - corners[0, 0, :2]
    along = along / np.hypot(*along)
    ends = ends_of(piece, right, along, half)
    if ends is None:
        return None
    points, bands = _slabbed(section, [at + rightmost + half for end in ends for at, _ in end[1:-1]])
    reach = points[:, 0] - rightmost
    places = np.array([far_along(end, reach - half) for end in ends])
    if (places[1] - places[0]).min() < STEP:
        return None
    placed = np.empty((2, len(points), 3))
    placed[..., :2] = right + places[..., None] * along + reach[:, None] * left_of(along)
    placed[..., 2] = points[:, 1]
    whole = len(points) == len(section)
    topology = strip_topology(section, 2, False) if whole else _of_bands(model_of(points), bands)
    return Sweep(placed, section, topology=topology)


def bent(piece: Polygon, corners: Floats, section: Section, smooth: bool) -> Sweep | None:
    """What a piece leaves of a strip that goes round a loop counter-clockwise.

    Parameters
    ----------
    piece : Polygon
        What is left of it in plan, mm.
    corners : (c, k, 3)
        The strip round its loop.
    section : Section
        Its k points: (across to the left, w).
    smooth : bool
        Whether it is shaded as a curve.

    Returns
    -------
    Sweep or None
        None where the piece is not the strip from one straight cut to another, each within a facet.
    """
    across = np.array(section)[:, 0]
    right, left = corners[:, int(across.argmin()), :2], corners[:, int(across.argmax()), :2]
    ring = _ring(piece)
    on_right, on_left = (_lies_on(ring, path) for path in (right, left))
    far, near = np.flatnonzero(on_right & following(on_left)), np.flatnonzero(on_left & following(on_right))
    if piece.interiors or len(far) != 1 or len(near) != 1 or not (on_right ^ on_left).all():
        return None
    ahead = following(ring)
    ends = np.array([(ahead[near[0]], ring[near[0]]), (ring[far[0]], ahead[far[0]])])
    first, last = (_cut(right, left, end, begins) for end, begins in zip(ends, (True, False), strict=True))
    if last is None or first is None:
        return None
    count = (last[0] - first[0]) % len(corners) or (len(corners) if last[1] < first[1] else 0)
    between = corners[(first[0] + 1 + np.arange(count)) % len(corners)]
    share = ((across - across.min()) / np.ptp(across))[:, None]
    cuts = [np.column_stack([a + share * (b - a), corners[0, :, 2]]) for a, b in ends]
    stations = np.concatenate([cuts[:1], between, cuts[1:]])
    made = np.concatenate([stations[:, int(across.argmin()), :2], stations[::-1, int(across.argmax()), :2]])
    if abs(area(made) - piece.area) > ON * piece.length:
        return None
    return Sweep(stations, section, bent=smooth)


def _ring(piece: Polygon) -> Floats:
    """The outline of a piece, counter-clockwise, each point once."""
    ring: Floats = shapely.get_coordinates(piece.exterior)[:-1]
    return ring if area(ring) > 0 else ring[::-1]


End = list[tuple[float, float]]
"""An end of a strip, from its right side to its left: points (across from its middle, far along it), mm."""


def ends_of(piece: Polygon, right: Floats, along: Floats, half: float) -> tuple[End, End] | None:
    """The two ends of what is left of a strip: of one that has a point ``right`` (2,) on its right side, runs ``along``
    (2,) and is twice ``half`` wide, mm. None where the piece is not as wide all along, or an end comes back on
    itself."""
    if shapely.get_num_interior_rings(piece):
        return None
    placed = (_ring(piece) - right) @ np.array([[-along[1], along[0]], [along[0], along[1]]])
    ring = [(across - half, far) for across, far in placed.tolist()]
    on_right, on_left = [at < ON - half for at, _ in ring], [at > half - ON for at, _ in ring]
    leaves = [k for k, here in enumerate(on_right) if here and not on_right[k + 1 - len(ring)]]
    if len(leaves) != 1:
        return None
    first = leaves[0]
    ring, on_left = ring[first:] + ring[:first], on_left[first:] + on_left[:first]
    begins, lefts = len(ring) - sum(on_right) + 1, sum(on_left)
    arrives = on_left.index(True) if lefts else len(ring)
    if begins == len(ring) or not all(on_left[arrives : arrives + lefts]):
        return None
    far, near = ring[: arrives + 1], ring[arrives + lefts - 1 : begins + 1][::-1]
    goes_on = min(after - at for end in (far, near) for (at, _), (after, _) in pairwise(end))
    return (near, far) if goes_on >= STEP else None


def far_along(end: End, across: Floats) -> Floats:
    """How far along its strip an end is at places across from its middle, (k,) mm."""
    return np.asarray(np.interp(across, [at for at, _ in end], [far for _, far in end]))


def levels_of(section: Section, breaks: Sequence[float]) -> Floats:
    """The places across a section (l,) at which it is divided so that its ends may turn at breaks: there, and wherever
    it has a point; in order. None of them where there are no breaks."""
    levels = np.unique(np.array(section)[:, 0].round(LEVEL)).tolist() if len(breaks) else []
    for at in breaks:
        if min(abs(at - level) for level in levels) > ON:
            levels.append(at)
    return np.sort(levels)


def divided(start: tuple[float, float], end: tuple[float, float], levels: Floats) -> list[tuple[float, float]]:
    """The beginning of an edge, and where it passes levels."""
    (x, w), (to_x, to_w) = start, end
    low, high = sorted((x, to_x))
    passed = levels[(levels > low + ON) & (levels < high - ON)].tolist()
    return [start, *((at, w + (to_w - w) * (at - x) / (to_x - x)) for at in (passed if to_x > x else passed[::-1]))]


def _slabbed(section: Section, breaks: Sequence[float]) -> tuple[Floats, tuple[int, ...]]:
    """A section with a point wherever an edge goes over or under a level, (m, 2); and for each the edge of the section
    it begins a part of."""
    if not breaks:
        return np.array(section), tuple(range(len(section)))
    levels = levels_of(section, breaks)
    parts = [divided(start, end, levels) for start, end in zip(section, (*section[1:], section[0]), strict=True)]
    bands = tuple(edge for edge, part in enumerate(parts) for _ in part)
    return np.array([point for part in parts for point in part]), bands


def model_of(points: Floats) -> Section:
    """A section divided at levels with the places of its points in order, across and upwards, instead of lengths: all
    that have one model are closed by the same triangles."""
    across, upwards = (np.unique(line.round(LEVEL), return_inverse=True)[1].tolist() for line in points.T)
    return tuple(zip(across, upwards, strict=True))


@lru_cache(maxsize=256)
def _of_bands(model: Section, bands: tuple[int, ...]) -> Topology:
    """The topology of two stations of a section whose edges are in parts: a face for each edge, and for each end."""
    parts, count = strip_topology(model, 2, False, each=True), bands[-1] + 1
    faces = np.array([*bands, count, count + 1], dtype=np.int32)
    return Topology(parts.triangles, faces[parts.face_of_triangle])


def _lies_on(points: Floats, path: Floats) -> NDArray[np.bool_]:
    """Which points (n, 2) lie on a closed path (c, 2)."""
    closed = LineString(np.concatenate([path, path[:1]]))
    return np.asarray(shapely.distance(closed, shapely.points(points)) < ON)


def _cut(right: Floats, left: Floats, end: Floats, begins: bool) -> tuple[int, float] | None:
    """The facet of a strip that begins or ends with a cut (2, 2), from its right side to its left, and how far along it
    the cut begins, mm; None where it goes through more than one."""
    (facet, at), (beside, _) = (_facet(path, point, begins) for path, point in zip((right, left), end, strict=True))
    return (facet, at) if facet == beside else None


def _facet(path: Floats, point: Floats, begins: bool) -> tuple[int, float]:
    """The facet of a closed path (c, 2) that a point lies on, and how far along it, mm. Of two that meet there it is
    the one behind the point where something begins with it, else the one before."""
    ahead = following(path) - path
    length = np.maximum(np.hypot(ahead[:, 0], ahead[:, 1]), ON)
    at = np.clip(((point - path) * ahead).sum(axis=1) / length, 0, length)
    away = np.hypot(*(path + (at / length)[:, None] * ahead - point).T)
    on = (away < ON) & (at < length - ON if begins else at > ON)
    facet = int(on.argmax()) if on.any() else int(away.argmin())
    return facet, float(at[facet])
