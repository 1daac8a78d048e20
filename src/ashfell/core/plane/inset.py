"""Insets: every edge of a loop moved by a distance of its own, and what happens where edges vanish."""

from __future__ import annotations

from collections import deque
from collections.abc import Sequence
from fractions import Fraction
from math import floor
from typing import TYPE_CHECKING

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon

from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.points import TOUCH, Floats, area, cross, left_of, steps

if TYPE_CHECKING:
    from ashfell.core.plane.loop import Loop


def insets(points: Floats, by: Floats, along: Floats, rest: Floats) -> tuple[Floats, NDArray[np.bool_]]:
    """Many loops of as many corners at once: ``points`` (n, c, 2), ``by`` (n, c), ``along`` (n, c, 2), ``rest`` (n, c);
    and for which no edge vanished (a loop with concave corners must not cross itself either)."""
    reached = rest + by
    nx, ny = -along[..., 1], along[..., 0]
    back = np.arange(-1, points.shape[1] - 1)
    bx, by_before, before = nx[:, back], reached[:, back], ny[:, back]
    sine = bx * ny - before * nx
    straight = np.abs(sine) < 1e-9
    lean = straight.any()
    divisor = np.where(straight, 1.0, sine) if lean else sine
    moved = np.empty_like(points)
    moved[..., 0] = (by_before * ny - reached * before) / divisor
    moved[..., 1] = (reached * bx - by_before * nx) / divisor
    if lean:
        moved[straight] = points[straight] + np.stack([nx, ny], axis=-1)[straight] * by[straight][:, None]
    ahead = np.append(np.arange(1, points.shape[1]), 0)
    forwards = (moved[:, ahead, 0] - moved[..., 0]) * along[..., 0] + (moved[:, ahead, 1] - moved[..., 1]) * along[
        ..., 1
    ]
    sound: NDArray[np.bool_] = np.asarray((forwards > TOUCH).all(axis=1))
    if lean:
        broken = straight & ((bx * nx + before * ny < 0) | (np.abs(by_before - reached) > 1e-6))
        sound &= ~broken.any(axis=1)
    for index in np.flatnonzero(sound & (sine < -1e-9).any(axis=1)):
        sound[index] = shapely.is_valid(Polygon(moved[index])) and goes_round(moved[index], points[index], by[index])
    return moved, sound


def goes_round(moved: Floats, points: Floats, by: Floats) -> bool:
    """Whether a loop that was moved outwards on every side goes round what it was: beside a hollow corner a facet that
    comes back may cut it off instead."""
    return bool(by.max() > 0) or Polygon(moved).buffer(1e-4).contains(Polygon(points))


def with_vanishing(loop: Loop, reached: Floats) -> Floats | None:
    """As :meth:`Loop.moved`, for lines at ``reached``, when edges vanish: they are taken away until all that are left
    run forwards. In a convex loop an edge that runs backwards is implied by its neighbours; in a concave one the first
    to vanish goes, and only facets of a curve and edges that had no length before may."""
    normals, convex = left_of(loop.along), loop.is_convex
    alive = np.array(bounding(normals.tolist(), reached.tolist())) if convex else np.arange(len(reached))
    while len(alive) >= 3:
        found = _corners(normals[alive], reached[alive])
        if found is None:
            return None
        corners, double = found
        forwards = (steps(corners) * loop.along[alive]).sum(axis=1)
        forwards[double] = -1.0
        spent = np.flatnonzero(forwards < TOUCH)
        if not len(spent):
            return _spread(loop.points, corners, alive)
        if convex:
            gone = _every_other(spent, len(alive))
        else:
            may_go = spent[(loop.lengths[alive[spent]] < TOUCH) | np.array(loop.curved)[alive[spent]]]
            if not len(may_go):
                return None  # a side of a concave loop has vanished: what would be left is not one ring round it
            gone = may_go[[_first_to_vanish(loop, alive, may_go, forwards)]]
        alive = np.delete(alive, gone)
    return None


def bounding(normals: Sequence[Sequence[float]], reached: Sequence[float]) -> list[int]:
    """Which half planes, in the order of their directions all the way round, bound what they have in common; the sweep
    with a double-ended queue known for it. What is left may still hold edges without length."""
    queue: deque[int] = deque()
    corners: deque[tuple[float, float]] = deque()

    def meet(a: int, nx: float, ny: float, rest: float) -> tuple[float, float] | None:
        ax, ay = normals[a]
        sine = ax * ny - ay * nx
        if -1e-9 < sine < 1e-9:
            return None
        behind = reached[a]
        return (behind * ny - rest * ay) / sine, (rest * ax - behind * nx) / sine

    for line, ((nx, ny), rest) in enumerate(zip(normals, reached, strict=True)):
        least = rest - 1e-9
        while corners and nx * corners[-1][0] + ny * corners[-1][1] < least:
            corners.pop()
            queue.pop()
        while corners and nx * corners[0][0] + ny * corners[0][1] < least:
            corners.popleft()
            queue.popleft()
        if queue:
            met = meet(queue[-1], nx, ny, rest)
            if met is None:
                if nx * normals[queue[-1]][0] + ny * normals[queue[-1]][1] < 0:
                    return []
                if rest > reached[queue[-1]]:
                    queue[-1] = line
                    if len(queue) > 1:
                        corners[-1] = meet(queue[-2], nx, ny, rest) or corners[-1]
                continue
            corners.append(met)
        queue.append(line)

    def beyond(point: tuple[float, float], line: int) -> bool:
        return normals[line][0] * point[0] + normals[line][1] * point[1] < reached[line] - 1e-9

    while len(corners) > 1 and beyond(corners[-1], queue[0]):
        corners.pop()
        queue.pop()
    while len(corners) > 1 and beyond(corners[0], queue[-1]):
        corners.popleft()
        queue.popleft()
    return sorted(queue)


def _every_other(spent: NDArray[np.int_], count: int) -> NDArray[np.int_]:
    """Of numbers round a circle those of which no two are neighbours, as many as there can be."""
    starts = np.diff(spent, prepend=-9) > 1
    first = np.maximum.accumulate(np.where(starts, np.arange(len(spent)), 0))
    chosen = spent[(np.arange(len(spent)) - first) % 2 == 0]
    meet = len(chosen) > 1 and chosen[0] == 0 and chosen[-1] == count - 1
    return np.asarray(chosen[:-1] if meet else chosen)


def _corners(normals: Floats, reached: Floats) -> tuple[Floats, NDArray[np.bool_]] | None:
    """Where each line meets the one before it, and which lie on the one before; None when two face each other."""
    back = np.arange(-1, len(reached) - 1)
    before, behind = normals[back], reached[back]
    sine = cross(before, normals)
    straight = np.abs(sine) < 1e-9
    if straight.any():
        facing = (before * normals).sum(axis=1) < 0
        if (straight & (facing | (np.abs(behind - reached) > 1e-6))).any():
            return None
        sine = np.where(straight, 1, sine)
    corners = np.empty_like(normals)
    corners[:, 0] = (behind * normals[:, 1] - reached * before[:, 1]) / sine
    corners[:, 1] = (reached * before[:, 0] - behind * normals[:, 0]) / sine
    return corners, straight


def _first_to_vanish(loop: Loop, alive: NDArray[np.int_], spent: NDArray[np.int_], forwards: Floats) -> int:
    """Which of the spent edges vanishes at the least share of the move."""
    start = _corners(left_of(loop.along)[alive], loop.rest[alive])
    if start is None:
        return 0
    first = (steps(start[0]) * loop.along[alive]).sum(axis=1)[spent]
    lived = np.where(first > 0, first / np.maximum(first - forwards[spent], 1e-12), 0.0)
    return int(lived.argmin())


def _spread(points: Floats, corners: Floats, alive: NDArray[np.int_]) -> Floats | None:
    """Corners of the living edges given to all edges: an edge that vanished ends where it begins."""
    simple = Polygon(corners)
    if not simple.is_valid or area(corners) < TOUCH:
        return None
    place = np.searchsorted(alive, np.arange(len(points))) % len(alive)
    return corners[place]


ARRIVED = 0.01
"""How far from where a move ends its corners may be told on the way, mm."""


def vanishings(loop: Loop, start: Floats, end: Floats) -> list[tuple[float, Floats | None]]:
    """At which shares of a move of its edges from distances ``start`` to others, (c,) mm inwards, edges of a loop
    vanish, in order, and its points then: there the ways of the corners beside them turn. Where others come to be on
    the way, the points are not known."""
    moved, last, origin = loop.moved(start), loop.moved(end), loop.origin or loop
    if moved is None or last is None:
        return []
    normals = left_of(origin.along)
    alive = np.flatnonzero((steps(moved) * origin.along).sum(axis=1) >= TOUCH)
    found: list[tuple[float, Floats | None]] = []
    known, at = True, 0.0
    while len(alive) >= 3:
        ends = [_corners(normals[alive], (loop.rest + by)[alive]) for by in (start, end)]
        if ends[0] is None or ends[1] is None:
            known = False
            break
        double = ends[0][1] | ends[1][1]
        if double.any():
            alive = alive[~double]
            continue
        before, after = ((steps(one[0]) * origin.along[alive]).sum(axis=1) for one in ends if one)
        when = np.where(before - after > TOUCH, before / np.maximum(before - after, TOUCH), np.inf)
        if when.min() >= 1:
            arrived = _spread(loop.points, ends[1][0], alive)
            known = arrived is not None and float(np.abs(arrived - last).max()) < ARRIVED
            break
        at = max(at, float(when.min()))
        left = np.delete(np.arange(len(alive)), when.argmin())
        corners = ends[0][0] + at * (ends[1][0] - ends[0][0])
        alive = alive[left]
        found.append((at, _spread(loop.points, corners[left], alive)))
    return found if known else [(share, None) for share, _ in found]


def largest_inset(loop: Loop, by: float | Floats | Sequence[float]) -> float:
    """The greatest share (0 to 1) of an inset that leaves something."""
    good, bad = 0.0, 1.0
    wanted = np.asarray(by, dtype=float)
    for _ in range(40):
        middle = (good + bad) / 2
        good, bad = (middle, bad) if loop.moved(wanted * middle) is not None else (good, middle)
    return good


REMAINS = "something remains inside"
LARGER = "Make the outline larger, or its corners smaller."


def too_far(loop: Loop, by: float | Floats | Sequence[float], entry: str, exact: bool = True) -> Refusal:
    """The refusal of an inset, with the largest that works: the nearest value of the entry, where the entry is
    ``exact``ly the inset.
    """
    share, wanted = largest_inset(loop, by), float(np.abs(np.asarray(by, dtype=float)).max())
    largest = Fraction(floor(share * wanted * 100), 100)
    return Refusal(
        entry,
        REMAINS,
        f"An inset of {wanted:g} mm leaves nothing.",
        f"The largest that works is {float(largest):g} mm." if largest or exact else LARGER,
        largest if exact else None,
    )
