"""Cuts: what of a convex loop lies on one side of a line, the lines of what was cut off kept within reach."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon

from ashfell.core.plane.inset import bounding
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import (
    TOUCH,
    Floats,
    apart,
    area,
    cross,
    directions,
    left_of,
    polygons,
    steps,
    without_repeats,
    without_straight,
)


def band(loop: Loop, axis: int, low: float, high: float, low_tag: str, high_tag: str) -> list[Loop]:
    """What of it lies between two lines across an axis (0: x, 1: y); edges along the lines get their tags."""
    if loop.is_convex:
        one = _below(_below(loop, axis, high, high_tag, 1.0), axis, -low, low_tag, -1.0)
        return [one] if len(one.points) >= 3 and one.area > TOUCH else []
    box = list(loop.bounds)
    box[axis], box[axis + 2] = low, high
    return within(loop, shapely.box(*box), low_tag if low_tag == high_tag else "", {low: low_tag, high: high_tag}, axis)


def within(
    loop: Loop,
    region: Polygon,
    tag: str,
    lines: dict[float, str] | None = None,
    axis: int = 0,
    curved: bool = False,
) -> list[Loop]:
    """Its pieces inside a region. An edge that lies on none of its own edges gets ``tag``, or that of the line
    (a coordinate on ``axis``) it lies on; ``curved`` tells whether it is a facet of a curve."""
    pieces = polygons(loop.polygon.intersection(region))
    return [_tagged(loop, np.array(piece.exterior.coords)[:-1], tag, lines or {}, axis, curved) for piece in pieces]


def _tagged(loop: Loop, points: Floats, tag: str, lines: dict[float, str], axis: int, curved: bool) -> Loop:
    """A piece of the loop: each edge with the line and name of the edge it lies on, and beside each cut the lines of
    the edges that were cut off there."""
    points = points if area(points) > 0 else points[::-1]
    points = without_repeats(points)
    points = without_straight(points, TOUCH)
    along = directions(points)
    rest = (points * left_of(along)).sum(axis=1)
    owners = _edges_under(loop, points + steps(points) / 2)
    made: list[tuple[Floats, str, bool, Floats, float]] = []
    for k, (own, start) in enumerate(zip(owners, points, strict=True)):
        before = owners[k - 1]
        if own is None:
            end = points[(k + 1) % len(points)]
            name = next((n for at, n in lines.items() if abs(start[axis] - at) + abs(end[axis] - at) < 1e-5), tag)
            made += [] if before is None else _cut_off(loop, before, 1, along[k], start)
            made.append((start, name, curved, along[k], float(rest[k])))
            continue
        made += (
            _cut_off(loop, own, -1, along[k - 1], start)[::-1] if before is None else _shrunk(loop, before, own, start)
        )
        made.append((start, loop.tags[own], loop.curved[own], loop.along[own], float(loop.rest[own])))
    placed, names, facets, ways, lays = zip(*made, strict=True)
    return Loop(np.array(placed), names, facets, np.array(ways), np.array(lays)).from_lower_left()


def _shrunk(loop: Loop, before: int, own: int, at: Floats) -> list[tuple[Floats, str, bool, Floats, float]]:
    """The edges without length between two neighbours."""
    count = len(loop.tags)
    between = [(before + 1 + k) % count for k in range((own - before - 1) % count)]
    if any(apart(loop.points[k], at) for k in between):
        return []
    return [(at, loop.tags[k], loop.curved[k], loop.along[k], float(loop.rest[k])) for k in between]


def _cut_off(
    loop: Loop, own: int, step: int, line: Floats, at: Floats
) -> list[tuple[Floats, str, bool, Floats, float]]:
    """The edges next to a cut one that lie within reach behind the cut, while the loop goes on turning left; none whose
    line leaves out the corner that it vanished in, as those of a hollow curve do."""
    found: list[tuple[Floats, str, bool, Floats, float]] = []
    count, k, last = len(loop.tags), own, loop.along[own]
    for _ in range(count - 2):
        corner = loop.points[(k + 1) % count if step > 0 else k]
        k = (k + step) % count
        turns = (cross(last, loop.along[k]), cross(loop.along[k], line))
        excluded = float(left_of(loop.along[k]) @ corner - loop.rest[k]) < -TOUCH
        if excluded or not _near(corner, at) or min(turns[0] * step, turns[1] * step) <= 1e-9:
            break
        found.append((at, loop.tags[k], loop.curved[k], loop.along[k], float(loop.rest[k])))
        last = loop.along[k]
    return found


def _edges_under(loop: Loop, points: Floats) -> list[int | None]:
    """For each point (n, 2) the edge it lies on."""
    ax, ay = np.ascontiguousarray(steps(loop.points).T)
    x, y = (np.subtract.outer(points[:, axis], loop.points[:, axis]) for axis in (0, 1))
    share = np.clip((x * ax + y * ay) / np.maximum(ax**2 + ay**2, 1e-18), 0, 1)
    away = (x - share * ax) ** 2 + (y - share * ay) ** 2
    nearest = away.argmin(axis=1)
    on = away[np.arange(len(points)), nearest] < 1e-10
    return [int(edge) if there else None for edge, there in zip(nearest, on, strict=True)]


KEPT = 1e6
"""How far beyond a cut the lines of cut-off edges are kept, mm: where a cut is nearly along a curve it is far."""


def _below(loop: Loop, axis: int, limit: float, tag: str, sign: float) -> Loop:
    """The part of a convex loop where sign x coordinate is at most ``limit``; the cut edge gets ``tag``."""
    over = sign * loop.points[:, axis] - limit if len(loop.points) >= 3 else np.zeros(0)
    if not (over > TOUCH).any():
        return _with_line_beyond(loop, over, axis, limit, tag, sign)
    if (over > -TOUCH).all():
        return Loop(np.zeros((0, 2)), (), (), np.zeros((0, 2)), np.zeros(0))
    count = len(over)
    outside = over > -TOUCH
    first = next(k for k in range(count) if not outside[k] and outside[(k + 1) % count])
    last = next(k for k in range(first + 1, first + count) if outside[k % count] and not outside[(k + 1) % count])
    inner = [(last + 1 + k) % count for k in range(count - (last - first))]
    cut_off = np.arange(first + 1, last) % count
    leave, enter = _met(loop, over, first, axis, sign * limit), _met(loop, over, last % count, axis, sign * limit)
    line = np.array([0.0, sign] if axis == 0 else [-sign, 0.0])
    turns = cross(loop.along[cut_off], line)
    beyond = cut_off[(turns > 1e-9) & _near(loop.points[cut_off], leave)].tolist()
    behind = cut_off[(turns < -1e-9) & _near(loop.points[(cut_off + 1) % count], enter)].tolist()
    own = [*inner, *beyond, -1, *behind, last % count]
    points = np.concatenate([loop.points[inner], [leave] * (len(beyond) + 1), [enter] * (len(behind) + 1)])
    along, rest = loop.along[own], loop.rest[own]
    along[len(inner) + len(beyond)], rest[len(inner) + len(beyond)] = line, -limit
    tags = tuple(tag if k < 0 else loop.tags[k] for k in own)
    cut = Loop(points, tags, tuple(False if k < 0 else loop.curved[k] for k in own), along, rest)
    return _without_far_lines(cut).from_lower_left()


def _without_far_lines(loop: Loop) -> Loop:
    """The loop without those edges of no length that would not come back however deep a rebate is."""
    apart = loop.lengths > TOUCH
    back = bounding(left_of(loop.along).tolist(), (loop.rest - WITHIN_REACH).tolist())
    there = apart.copy()
    there[back] = True
    kept = np.flatnonzero(there)
    if len(kept) == len(apart):
        return loop
    return Loop(
        loop.points[kept],
        tuple(loop.tags[k] for k in kept),
        tuple(loop.curved[k] for k in kept),
        loop.along[kept],
        loop.rest[kept],
    )


WITHIN_REACH = 60.0
"""A bar nearer than this to a light it does not touch still bounds what goes behind it, mm."""


def _with_line_beyond(loop: Loop, over: Floats, axis: int, limit: float, tag: str, sign: float) -> Loop:
    """The loop with the line of a bar it does not reach as an edge without length at its nearest corner."""
    if not len(over) or not -WITHIN_REACH < over.max() < -TOUCH:
        return loop
    line = np.array([0.0, sign] if axis == 0 else [-sign, 0.0])
    nearest = [k for k in range(len(over)) if over[k] > over.max() - TOUCH]
    k = next((k for k in nearest if cross(loop.along[k - 1], line) > 1e-9 and cross(line, loop.along[k]) > 1e-9), None)
    if k is None:
        return _nearer_line(loop, nearest, line, limit, tag)
    return Loop(
        np.insert(loop.points, k, loop.points[k], axis=0),
        (*loop.tags[:k], tag, *loop.tags[k:]),
        (*loop.curved[:k], False, *loop.curved[k:]),
        np.insert(loop.along, k, line, axis=0),
        np.insert(loop.rest, k, -limit),
    )


def _nearer_line(loop: Loop, nearest: Sequence[int], line: Floats, limit: float, tag: str) -> Loop:
    """An edge without length at the nearest corner gives way to a line along it that lies nearer."""
    k = next((k for k in nearest if np.abs(loop.along[k] - line).max() < 1e-9 and loop.rest[k] < -limit), None)
    if k is None or apart(loop.points[k], loop.points[(k + 1) % len(loop.points)]):
        return loop
    rest = loop.rest.copy()
    rest[k] = -limit
    return replace(loop, tags=(*loop.tags[:k], tag, *loop.tags[k + 1 :]), rest=rest)


def _met(loop: Loop, over: Floats, k: int, axis: int, at: float) -> Floats:
    """Where edge k crosses the line."""
    ahead = (k + 1) % len(over)
    spread = over[k] - over[ahead]
    share = min(1.0, max(0.0, over[k] / spread)) if abs(spread) > 1e-12 else 0.0
    met = loop.points[k] + (loop.points[ahead] - loop.points[k]) * share
    met[axis] = at
    return np.asarray(met)


def _near(points: Floats, cut: Floats) -> NDArray[np.bool_]:
    """Which points (..., 2) are so near a cut that their lines are kept."""
    away = points - cut
    return np.asarray(np.hypot(away[..., 0], away[..., 1]) < KEPT)
