"""Sweeps: a section carried along stations, for many members by one array operation."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ashfell.core.base.kept import kept
from ashfell.core.plane.points import Floats, following, previous
from ashfell.core.solid.topology import NOTHING, Indices, OfCorners, Paths, Solid, Topology, joined
from ashfell.core.solid.triangles import polygon_triangles

Section = tuple[tuple[float, float], ...]
"""A cross-section: points (across, w), counter-clockwise, mm."""


def tidy(section: Sequence[tuple[float, float]]) -> Section:
    """The section without repeated points, counter-clockwise."""
    points = [p for p, q in zip(section, (*section[1:], section[0]), strict=True) if p != q]
    twice = sum(a * d - c * b for (a, b), (c, d) in zip(points, (*points[1:], points[0]), strict=True))
    return tuple(points if twice > 0 else reversed(points))


@lru_cache(maxsize=1024)
def strip_topology(section: Section, stations: int, closed: bool, each: bool = False) -> Topology:
    """Topology of a section swept along stations, station i having vertices i * k to i * k + k - 1; face j is the band
    of the section's edge j and those that go straight on from it, then come the caps of a strip that is not closed.
    With ``each`` every edge leaves a face of its own."""
    count = len(section)
    spans = stations if closed else stations - 1
    i, j = (grid.reshape(-1) for grid in np.meshgrid(np.arange(spans), np.arange(count), indexing="ij"))
    after, beside = (i + 1) % stations, (j + 1) % count
    a, b, c, d = i * count + j, i * count + beside, after * count + beside, after * count + j
    triangles = np.stack([a, b, c, a, c, d], axis=1).reshape(-1, 3)
    first = np.arange(count, dtype=np.int32) if each else straight_on(section)
    faces = np.repeat(first[j], 2)
    lines = np.arange(count * stations, dtype=np.int32).reshape(stations, count).T
    ahead = {
        k: next(n for n in range(k + 1, k + count + 1) if first[n % count] == n % count) for k in {*first.tolist()}
    }
    edges = {k: (lines[k], lines[end % count, ::-1]) for k, end in ahead.items()}
    known: dict[int, Paths] = {k: edge if closed else (np.concatenate(edge),) for k, edge in edges.items()}
    if not closed:
        known |= {count: (lines[::-1, 0],), count + 1: (lines[:, -1],)}
        cap = cap_triangles(section)
        last = cap + (stations - 1) * count
        triangles = np.concatenate([triangles, cap[:, ::-1], last])
        faces = np.concatenate([faces, np.full(len(cap), count), np.full(len(cap), count + 1)])
    return Topology(triangles.astype(np.int32), faces.astype(np.int32), known)


def straight_on(section: Section) -> Indices:
    """For each edge of a section the first of those that go straight on to it: they leave one face."""
    points = np.array(section)
    along = following(points) - points
    before = previous(along)
    long = np.hypot(*along.T) * np.hypot(*before.T)
    turns = np.abs(before[:, 0] * along[:, 1] - before[:, 1] * along[:, 0]) >= STRAIGHT * long
    turns |= (before * along).sum(axis=1) <= 0
    since = np.maximum.accumulate(np.where(turns, np.arange(len(points)), -1))
    return np.where(since < 0, since[-1], since).astype(np.int32)


def cap_triangles(section: Section) -> Indices:
    """Triangles (k - 2, 3) that close a section. One with a point wherever an edge goes over or under another point is
    closed by slabs from one of these to the next: where a mitre is bent it is bent along their sides, which are
    upright, and even in between."""
    points = np.array(section)
    across = np.unique(points[:, 0].round(LEVEL))
    places = np.searchsorted(across, points[:, 0].round(LEVEL))
    steps = np.abs(following(places) - places)
    if len(across) < 3 or steps.max() > 1:
        return polygon_triangles(points, [len(points)])
    found = [triangle for slab in range(len(across) - 1) for triangle in _slab(points, places.tolist(), slab)]
    assert len(found) == len(points) - 2
    return np.array(found, dtype=np.int32)


KEPT = 12e6
"""How much of the topologies of strips is kept, bytes."""
STRAIGHT = 1e-9
"""The sine by which edges of a section turn at least that leave faces of their own."""
SAME = 1e-7
"""How near points are that are one, mm."""
LEVEL = 9
"""Decimals of a mm to which points of a section are over each other."""


def _slab(points: Floats, places: Sequence[int], slab: int) -> Iterator[tuple[int, int, int]]:
    """The triangles of what lies between two upright lines through points of a section, counter-clockwise."""
    count = len(points)
    forwards = [k for k in range(count) if (places[k], places[(k + 1) % count]) == (slab, slab + 1)]
    back = [(k + 1) % count for k in range(count) if (places[k], places[(k + 1) % count]) == (slab + 1, slab)]
    # Counter-clockwise, what runs forwards is under what runs back.
    under = sorted(forwards, key=lambda k: points[k, 1] + points[(k + 1) % count, 1])
    over = sorted(back, key=lambda k: points[k, 1] + points[k - 1, 1])
    for low, high in zip(under, over, strict=True):
        left = _upright(points, places, slab, (low, high))
        right = _upright(points, places, slab + 1, ((low + 1) % count, high - 1 if high else count - 1))
        yield from _zipped(points, left, right)


def _upright(points: Floats, places: Sequence[int], at: int, ends: tuple[int, int]) -> list[int]:
    """The points on an upright line from one to another, upwards; one where the two are one place."""
    low, high = points[ends[0], 1], points[ends[1], 1]
    between = [k for k, place in enumerate(places) if place == at and low < points[k, 1] < high and k not in ends]
    if ends[0] == ends[1]:
        return [ends[0]]
    return [ends[0], *sorted(between, key=lambda k: float(points[k, 1])), ends[1]]


def _zipped(points: Floats, left: list[int], right: list[int]) -> Iterator[tuple[int, int, int]]:
    """The triangles between two upright rows of points."""
    i = j = 0
    while i + 1 < len(left) or j + 1 < len(right):
        up_left = i + 1 < len(left) and (j + 1 == len(right) or points[left[i + 1], 1] <= points[right[j + 1], 1])
        yield (left[i], right[j], left[i + 1]) if up_left else (left[i], right[j], right[j + 1])
        i, j = (i + 1, j) if up_left else (i, j + 1)


def strip(corners: Floats, section: Section, closed: bool = False, bent: bool = False) -> Solid:
    """A section swept along stations: ``corners`` (s, k, 3) mm; bent members carry their flow. What has no length
    anywhere has no triangles."""
    if not closed and np.abs(corners[1:] - corners[:-1]).max() < 1e-6:
        return NOTHING
    topology = strip_topology(section, len(corners), closed)
    vertices, flow = corners.reshape(-1, 3), OfCorners(lambda: _flow(corners, closed)) if bent else None
    if not has_repeats(corners, closed):
        return Solid(vertices, topology, flow)
    first, place = _places(corners, closed)
    left, stay = _joined(topology, place.tobytes())
    made = Solid(vertices[first], left, flow and flow.of(stay))
    return made if abs(made.volume) > 1e-2 else NOTHING


@kept(KEPT, lambda answer, *_: 500.0 + 120.0 * len(answer[1]))
def _joined(topology: Topology, place: bytes) -> tuple[Topology, NDArray[np.bool_]]:
    """What strips of one topology, of which the same points are one, have in common: numbers that are typed change it
    seldom."""
    return joined(topology, np.frombuffer(place, dtype=np.int32))


def _places(corners: Floats, closed: bool) -> tuple[Indices, Indices]:
    """Of the points of stations (s, k, 3) the first of each that stay where they are from one to the next; and for each
    the number of that."""
    stations, count = corners.shape[:2]
    new = np.ones((stations, count), dtype=bool)
    new[1:] = np.abs(corners[1:] - corners[:-1]).max(axis=-1) >= SAME
    if closed:
        new[0] = np.abs(corners[0] - corners[-1]).max(axis=-1) >= SAME
        new[0] |= ~new.any(axis=0)
    since = np.maximum.accumulate(np.where(new, np.arange(stations)[:, None], -1), axis=0)
    since = np.where(since < 0, since[-1], since)
    number = np.cumsum(new).reshape(new.shape) - 1
    return np.flatnonzero(new).astype(np.int32), number[since, np.arange(count)].reshape(-1).astype(np.int32)


def _flow(corners: Floats, closed: bool) -> Floats:
    """For each triangle's corners how far along the path and how far round the section they lie, mm."""
    stations, count = corners.shape[:2]
    middle = corners.mean(axis=1)
    steps = np.linalg.norm(following(middle) - middle, axis=1)
    along = np.concatenate([[0.0], np.cumsum(steps)])
    round_ = np.concatenate([[0.0], np.cumsum(np.linalg.norm(following(corners[0]) - corners[0], axis=1))])
    spans = stations if closed else stations - 1
    i, j = (grid.reshape(-1) for grid in np.meshgrid(np.arange(spans), np.arange(count), indexing="ij"))
    a, b, c, d = (np.stack([along[m], round_[n]], axis=1) for m, n in ((i, j), (i, j + 1), (i + 1, j + 1), (i + 1, j)))
    flow = np.stack([a, b, c, a, c, d], axis=1).reshape(-1, 2)
    if closed:
        return flow
    caps = (count - 2) * 2
    return np.concatenate([flow, np.zeros((3 * caps, 2))])


def has_repeats(corners: Floats, closed: bool = False) -> bool:
    """Whether stations (s, ..., 3) that follow each other share a point; on a closed path also round its start."""
    before = corners if closed else corners[1:]
    behind = previous(corners) if closed else corners[:-1]
    return bool((np.abs(before - behind).max(axis=-1) < SAME).any())


def ends_meet(stations: Floats) -> bool:
    """Whether both ends of what is swept along stations (s, k, 3) have an edge in common."""
    return bool((np.abs(stations[0] - stations[-1]).max(axis=-1) < SAME).sum() > 1)


Run = tuple[tuple[int, ...], bool, bool]
"""A member of a ring: its edges in order, whether it closes on itself, whether it is bent."""
