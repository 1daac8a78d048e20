"""Bars of two lengths: a face, and a stem behind it that goes on beyond both its ends. Their section is a T: the stem's
points first, then those of the face round from its right; the two meet in one plane."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from shapely.geometry import Polygon

from ashfell.core.plane.points import Floats
from ashfell.core.solid.ended import STEP, divided, ends_of, far_along, levels_of, model_of
from ashfell.core.solid.sweep import Section, cap_triangles
from ashfell.core.solid.topology import Indices, Solid, Topology


class _Tee(NamedTuple):
    """A T in points: the paths round its stem, round all of it and round its face as indices into them, and of which
    side the edge that begins at each place of the first two is a part."""

    stem: tuple[int, ...]
    whole: tuple[int, ...]
    face: tuple[int, ...]
    stem_sides: tuple[int, ...]
    whole_sides: tuple[int, ...]


def square(sections: Floats, stations: Floats, along_v: Sequence[bool], across: Floats, stem: int) -> list[Solid]:
    """Bars with square ends, all of one topology.

    Parameters
    ----------
    sections : (n, k, 2)
        Their sections: points (across, w), mm.
    stations : (n, 4)
        Along the bar: stem begins, face begins, face ends, stem ends, mm.
    along_v : n of bool
        Mullions run along v, transoms along u.
    across : (n,)
        Where the centre line is on the other axis, mm.
    stem : int
        How many of a section's points are its stem's.
    """
    count = sections.shape[1]
    vertices = np.empty((len(sections), 4, count, 3))
    vertices[..., 0] = stations[:, :, None]
    vertices[..., 1] = across[:, None, None] + sections[:, None, :, 0]
    vertices[..., 2] = sections[:, None, :, 1]
    upright = np.asarray(along_v)
    vertices[upright] = np.stack(
        [
            2 * across[upright][:, None, None] - vertices[upright][..., 1],
            vertices[upright][..., 0],
            vertices[upright][..., 2],
        ],
        axis=-1,
    )
    topology, used = _topology(_square_tee(stem, count), tuple(map(tuple, sections[0].tolist())))
    flat = vertices.reshape(len(sections), 4 * count, 3)[:, used]
    return [Solid(bar, topology) for bar in flat]


def cut(face: Polygon, stem: Polygon, line: Floats, section: Section, behind: int) -> Solid | None:
    """A straight bar whose face and stem are each cut in plan.

    Parameters
    ----------
    face, stem : Polygon
        What is left of both, mm.
    line : (2, 2)
        Two points of its centre line; across is to the left of travel.
    section : Section
        Points (across, w), mm; square where the stem meets the face.
    behind : int
        How many of them are the stem's.

    Returns
    -------
    Solid or None
        None where a piece is not as wide as the bar all along, or the stem does not go on beyond the face at both ends.
    """
    along = (line[1] - line[0]) / np.hypot(*(line[1] - line[0]))
    to_left = np.array([-along[1], along[0]])
    half, narrow = max(x for x, _ in section), max(x for x, _ in section[:behind])
    of_face, of_stem = (
        ends_of(piece, line[0] - by * to_left, along, by) for piece, by in ((face, half), (stem, narrow))
    )
    if of_face is None or of_stem is None:
        return None
    (opens, closes), (begins, ends) = of_face, of_stem
    levels = levels_of(section, [at for end in (opens, closes, begins, ends) for at, _ in end[1:-1]])
    points, tee = _tee(section, behind, levels)
    x = points[:, 0]
    places = np.array([far_along(end, x) for end in (begins, opens, closes, ends)])
    goes_on = np.diff(places, axis=0)
    if min(goes_on[1].min(), goes_on[:, list(tee.stem)].min()) < STEP:
        return None
    vertices = np.empty((4, len(x), 3))
    vertices[..., :2] = line[0] + places[..., None] * along + x[:, None] * to_left
    vertices[..., 2] = points[:, 1]
    topology, used = _topology(tee, model_of(points) if len(levels) else section)
    return Solid(vertices.reshape(-1, 3)[used], topology)


def _square_tee(stem: int, count: int) -> _Tee:
    """A T of so many points, so many of them its stem's."""
    behind, whole = tuple(range(stem)), tuple(range(count))
    return _Tee(behind, whole, (0, stem - 1, *whole[stem:]), behind, whole)


def _tee(section: Section, stem: int, levels: Floats) -> tuple[Floats, _Tee]:
    """A T with points (k, 2) wherever its edges, and the line between stem and face, go over or under a level."""
    points: list[tuple[float, float]] = []
    sides: list[int] = []
    for side, (start, end) in enumerate(zip(section, (*section[1:], section[0]), strict=True)):
        if side == stem - 1:
            stem_end, between = len(points), divided(start, section[0], levels)
            points += between
            sides += [len(section)] * len(between)
            parted = len(points)
            points += divided(start, end, levels)[1:]
        else:
            points += divided(start, end, levels)
        sides += [side] * (len(points) - len(sides))
    before, top, after = range(stem_end + 1), range(stem_end + 1, parted), range(parted, len(points))
    whole_sides = [sides[k] for k in (*before, *after)]
    whole_sides[stem_end] = stem - 1
    return np.array(points), _Tee(
        (*before, *top),
        (*before, *after),
        (0, *top[::-1], stem_end, *after),
        tuple(sides[k] for k in (*before, *top)),
        tuple(whole_sides),
    )


_Group = list[tuple[int, int, int]]
"""Triangles, as indices into 4 stations x k points."""


@lru_cache(maxsize=256)
def _topology(tee: _Tee, model: Section) -> tuple[Topology, Indices]:
    """Faces of the stepped bar, and which points of its 4 stations they use; its T is closed as its ``model`` is."""
    count = len(model)
    stem, whole = (tee.stem, tee.stem_sides), (tee.whole, tee.whole_sides)
    groups: dict[tuple[int, int], _Group] = {}
    for station, (ring, sides) in enumerate((stem, whole, stem)):
        low, high = count * station, count * (station + 1)
        for a, b, side in zip(ring, (*ring[1:], ring[0]), sides, strict=True):
            quad = [(low + a, low + b, high + b), (low + a, high + b, high + a)]
            groups.setdefault((station, side), []).extend(quad)
    for station, (ring, looks) in enumerate(((tee.stem, -1), (tee.face, -1), (tee.face, 1), (tee.stem, 1))):
        groups[station, -1] = _cap(ring, count * station, looks, model)
    triangles = np.array([triangle for group in groups.values() for triangle in group], dtype=np.int32)
    owner = np.repeat(np.arange(len(groups), dtype=np.int32), [len(group) for group in groups.values()])
    used, numbers = np.unique(triangles, return_inverse=True)
    return Topology(numbers.reshape(-1, 3).astype(np.int32), owner), used


def _cap(ring: Sequence[int], base: int, looks: int, model: Section) -> _Group:
    """The face that closes a ring; ``looks`` is 1 for along the bar, -1 for back."""
    names = np.array(ring) + base
    closed = cap_triangles(tuple(model[index] for index in ring))
    return [(a, b, c) for a, b, c in names[closed][:, ::looks].tolist()]
