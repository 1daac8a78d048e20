"""Loops: closed polygons whose edges know which member they run along. Inset by a distance for each edge, clipped, tiled.

A curve becomes a loop of facets once (:meth:`~ashfell.core.outline.Outline.facets`); from there on every part that touches it
is made from the same facets, so that neighbours share their faces exactly and no sliver lies between them. Loops run
counter-clockwise.

>>> square = Loop.rectangle(0, 0, 100, 60)
>>> square.inset(10).points.tolist()
[[10.0, 10.0], [90.0, 10.0], [90.0, 50.0], [10.0, 50.0]]
"""

from __future__ import annotations

from collections import deque
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon

from ashfell.core.refusal import Refusal

Floats = NDArray[np.float64]
TOUCH = 1e-6
"""Points nearer than this are one point, mm."""
ROUND_A_RECTANGLE = np.array([[1.0, 0.0], [0.0, 1.0], [-1.0, 0.0], [0.0, -1.0]])
"""The directions of a rectangle's sides."""
SIDES = ("sill", "right", "head", "left")
"""The sides of a rectangle, counter-clockwise from the lower left corner."""


@dataclass(frozen=True, eq=False)
class Loop:
    """A closed polygon: ``points`` (c, 2) mm, counter-clockwise; edge i runs from point i to the next.

    ``tags`` name what each edge runs along: a side of a ring or a bar. ``curved`` edges are facets of a curve. ``along``
    (c, 2) and ``rest`` (c,) are the edges' lines: direction, and distance from the origin to the left of it. An edge that an
    inset or a cut has shrunk to nothing keeps its line, so that moving the loop outwards again gives what was there.
    """

    points: Floats
    tags: tuple[str, ...]
    curved: tuple[bool, ...]
    along: Floats
    rest: Floats

    @classmethod
    def through(cls, points: Floats, tags: Sequence[str], curved: Sequence[bool]) -> Loop:
        """The loop through points no two neighbours of which are one."""
        along = directions(points)
        return cls(points, tuple(tags), tuple(curved), along, (points * left_of(along)).sum(axis=1))

    @classmethod
    def of(cls, points: Sequence[Sequence[float]] | Floats, tags: Sequence[str] = ()) -> Loop:
        """A loop of straight edges, turned to run counter-clockwise."""
        placed = np.asarray(points, dtype=float)
        names = tuple(tags) or tuple(f"side.{n + 1}" for n in range(len(placed)))
        if area(placed) < 0:
            placed, names = placed[::-1], (*names[-2::-1], names[-1])
        return cls.through(placed, names, (False,) * len(placed))

    @classmethod
    def rectangle(cls, left: float, foot: float, right: float, head: float, tags: Sequence[str] = SIDES) -> Loop:
        points = np.array([(left, foot), (right, foot), (right, head), (left, head)], dtype=float)
        return cls(
            points, tuple(tags), (False,) * 4, ROUND_A_RECTANGLE, np.array([foot, -right, -head, left], dtype=float)
        )

    @cached_property
    def bounds(self) -> tuple[float, float, float, float]:
        """Least x, least y, greatest x, greatest y, mm."""
        (left, foot), (right, head) = self.points.min(axis=0).tolist(), self.points.max(axis=0).tolist()
        return left, foot, right, head

    @cached_property
    def area(self) -> float:
        return area(self.points)

    @cached_property
    def is_rectangle(self) -> bool:
        """Whether it is four edges along u and v, starting at the lower left."""
        if len(self.points) != 4:
            return False
        (left, foot), right_foot, (right, head), left_head = self.points.tolist()
        return bool(right_foot == [right, foot] and left_head == [left, head] and left < right and foot < head)

    def from_lower_left(self) -> Loop:
        """The same loop; where it is a rectangle it starts at the lower left corner."""
        if len(self.points) != 4:
            return self
        first = int(np.lexsort((self.points[:, 0], self.points[:, 1].round(6)))[0])
        order = [(first + k) % 4 for k in range(4)]
        turned = Loop(
            self.points[order],
            tuple(self.tags[k] for k in order),
            tuple(self.curved[k] for k in order),
            self.along[order],
            self.rest[order],
        )
        return turned if turned.is_rectangle else self

    @cached_property
    def is_convex(self) -> bool:
        return bool((_cross(self.along, self.along + steps(self.along)) > -1e-9).all())

    @cached_property
    def lengths(self) -> Floats:
        """Length of each edge, (c,) mm."""
        return np.asarray(np.hypot(*steps(self.points).T))

    @cached_property
    def polygon(self) -> Polygon:
        return Polygon(self.points)

    def inset(self, by: float | Floats | Sequence[float]) -> Loop:
        """The loop moved inwards (outwards when negative), a distance for each edge or one for all.

        Raises
        ------
        Refusal
            When nothing is left, with the largest distance that works.
        """
        moved = self.moved(by)
        if moved is None:
            raise too_far(self, by)
        if self.is_rectangle:
            (left, foot), (right, head) = moved[0].tolist(), moved[2].tolist()
            return Loop.rectangle(left, foot, right, head, self.tags)
        return Loop(moved, self.tags, self.curved, self.along, self.rest + by)

    def moved(self, by: float | Floats | Sequence[float]) -> Floats | None:
        """The points of :meth:`inset`, as many as the loop has; None when nothing is left."""
        if self.is_rectangle:
            foot, right, head, left = (self.rest + by).tolist()
            if -right - left < TOUCH or -head - foot < TOUCH:
                return None
            return np.array([(left, foot), (-right, foot), (-right, -head), (left, -head)])
        distances = np.broadcast_to(np.asarray(by, dtype=float), self.rest.shape)
        points, sound = insets(self.points[None], distances[None], self.along[None], self.rest[None])
        if sound[0]:
            return np.asarray(points[0])
        return _with_vanishing(self, self.rest + distances)

    def runs(self) -> list[tuple[str, tuple[int, ...], bool]]:
        """The members along it: tag, edges in order, and whether the member closes on itself."""
        count = len(self.tags)
        if len(set(self.tags)) == 1:
            return [(self.tags[0], tuple(range(count)), True)]
        first = next(k for k in range(count) if self.tags[k] != self.tags[k - 1])
        order = [(first + k) % count for k in range(count)]
        found: list[tuple[str, list[int]]] = []
        for k in order:
            if found and found[-1][0] == self.tags[k]:
                found[-1][1].append(k)
            else:
                found.append((self.tags[k], [k]))
        return [(tag, tuple(edges), False) for tag, edges in found]

    def band(self, axis: int, low: float, high: float, low_tag: str, high_tag: str) -> list[Loop]:
        """What of it lies between two lines across an axis (0: x, 1: y); edges along the lines get their tags."""
        if self.is_convex:
            one = _below(_below(self, axis, high, high_tag, 1.0), axis, -low, low_tag, -1.0)
            return [one] if len(one.points) >= 3 and one.area > TOUCH else []
        box = list(self.bounds)
        box[axis], box[axis + 2] = low, high
        return self.within(
            shapely.box(*box), low_tag if low_tag == high_tag else "", {low: low_tag, high: high_tag}, axis
        )

    def within(self, region: Polygon, tag: str, lines: dict[float, str] | None = None, axis: int = 0) -> list[Loop]:
        """Its pieces inside a region. An edge that lies on none of its own edges gets ``tag``, or that of the line
        (a coordinate on ``axis``) it lies on."""
        pieces = polygons(self.polygon.intersection(region))
        return [self._tagged(np.array(piece.exterior.coords)[:-1], tag, lines or {}, axis) for piece in pieces]

    def _tagged(self, points: Floats, tag: str, lines: dict[float, str], axis: int) -> Loop:
        """A piece of the loop: each edge with the line and name of the edge it lies on, and beside each cut the lines of
        the edges that were cut off there."""
        points = points if area(points) > 0 else points[::-1]
        points = points[[k for k in range(len(points)) if _apart(points[k], points[k - 1])]]
        points = without_straight(points, TOUCH)
        along = directions(points)
        rest = (points * left_of(along)).sum(axis=1)
        owners = self._edges_under(points + steps(points) / 2)
        made: list[tuple[Floats, str, bool, Floats, float]] = []
        for k, (own, start) in enumerate(zip(owners, points, strict=True)):
            before = owners[k - 1]
            if own is None:
                end = points[(k + 1) % len(points)]
                name = next((n for at, n in lines.items() if abs(start[axis] - at) + abs(end[axis] - at) < 1e-5), tag)
                made += [] if before is None else self._cut_off(before, 1, along[k], start)
                made.append((start, name, False, along[k], float(rest[k])))
                continue
            made += (
                self._cut_off(own, -1, along[k - 1], start)[::-1]
                if before is None
                else self._shrunk(before, own, start)
            )
            made.append((start, self.tags[own], self.curved[own], self.along[own], float(self.rest[own])))
        placed, names, curved, ways, lays = zip(*made, strict=True)
        return Loop(np.array(placed), names, curved, np.array(ways), np.array(lays)).from_lower_left()

    def _shrunk(self, before: int, own: int, at: Floats) -> list[tuple[Floats, str, bool, Floats, float]]:
        """The edges without length between two neighbours."""
        count = len(self.tags)
        between = [(before + 1 + k) % count for k in range((own - before - 1) % count)]
        if any(_apart(self.points[k], at) for k in between):
            return []
        return [(at, self.tags[k], self.curved[k], self.along[k], float(self.rest[k])) for k in between]

    def _cut_off(self, own: int, step: int, line: Floats, at: Floats) -> list[tuple[Floats, str, bool, Floats, float]]:
        """The edges next to a cut one that lie within reach behind the cut, while the loop goes on turning left."""
        found: list[tuple[Floats, str, bool, Floats, float]] = []
        count, k, last = len(self.tags), own, self.along[own]
        for _ in range(count - 2):
            corner = self.points[(k + 1) % count if step > 0 else k]
            k = (k + step) % count
            turns = (_cross(last, self.along[k]), _cross(self.along[k], line))
            if not _near(corner, at) or min(turns[0] * step, turns[1] * step) <= 1e-9:
                break
            found.append((at, self.tags[k], self.curved[k], self.along[k], float(self.rest[k])))
            last = self.along[k]
        return found

    def _edges_under(self, points: Floats) -> list[int | None]:
        """For each point (n, 2) the edge it lies on."""
        ahead = steps(self.points)
        square = np.maximum((ahead**2).sum(axis=1), 1e-18)
        own = points[:, None] - self.points
        share = np.clip((own * ahead).sum(axis=2) / square, 0, 1)
        away = np.hypot(own[..., 0] - share * ahead[:, 0], own[..., 1] - share * ahead[:, 1])
        nearest = away.argmin(axis=1)
        on = away[np.arange(len(points)), nearest] < 1e-5
        return [int(edge) if there else None for edge, there in zip(nearest, on, strict=True)]


def area(points: Floats) -> float:
    """Signed area of a polygon (c, 2), mm²."""
    x, y = points[:, 0], points[:, 1]
    return float((x[:-1] @ y[1:] - x[1:] @ y[:-1] + x[-1] * y[0] - x[0] * y[-1]) / 2)


def directions(points: Floats) -> Floats:
    """Unit vectors along the edges of polygons (..., c, 2)."""
    ahead = steps(points)
    length = np.sqrt(ahead[..., :1] ** 2 + ahead[..., 1:] ** 2)
    return np.asarray(ahead / np.where(length > 0, length, 1))


def steps(points: Floats) -> Floats:
    """From each point of closed paths (..., c, 2) to the next."""
    ahead = np.empty_like(points)
    ahead[..., :-1, :] = points[..., 1:, :]
    ahead[..., -1, :] = points[..., 0, :]
    ahead -= points
    return ahead


def without_straight(points: Floats, within: float = 1e-4) -> Floats:
    """A polygon without corners that stand within a distance of the line between their neighbours, mm."""
    kept = points
    while len(kept) > 3:
        before, ahead = kept - np.roll(kept, 1, axis=0), np.roll(kept, -1, axis=0) - np.roll(kept, 1, axis=0)
        away = np.abs(_cross(ahead, before)) / np.maximum(np.hypot(ahead[:, 0], ahead[:, 1]), 1e-12)
        least = int(away.argmin())
        if away[least] > within:
            break
        kept = np.delete(kept, least, axis=0)
    return kept


def polygons(shape: object) -> list[Polygon]:
    """The polygons with area in whatever shapely answered."""
    if isinstance(shape, Polygon):
        return [shape] if shape.area > TOUCH else []
    return [piece for part in getattr(shape, "geoms", ()) for piece in polygons(part)]


def inset(points: Floats, by: float | Floats | Sequence[float]) -> Floats | None:
    """A polygon with every edge moved inwards by its own distance, corners mitred.

    Parameters
    ----------
    points : (c, 2)
        Counter-clockwise, mm.
    by : float or (c,)
        Distance of each edge, mm; negative is outwards.

    Returns
    -------
    (c, 2) or None
        As many points as came in: where an edge has vanished its two ends are one point. None when nothing is left.
    """
    return Loop.through(points, ("",) * len(points), (False,) * len(points)).moved(by)


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
        sound[index] = shapely.is_valid(Polygon(moved[index]))
    return moved, sound


def left_of(along: Floats) -> Floats:
    """The normals to the left of directions: inwards."""
    turned = np.empty_like(along)
    np.negative(along[..., 1], out=turned[..., 0])
    turned[..., 1] = along[..., 0]
    return turned


def _cross(a: Floats, b: Floats) -> Floats:
    return np.asarray(a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0])


def _apart(a: Floats, b: Floats) -> bool:
    return abs(float(a[0] - b[0])) + abs(float(a[1] - b[1])) > TOUCH


def _with_vanishing(loop: Loop, reached: Floats) -> Floats | None:
    """As :meth:`Loop.moved`, for lines at ``reached``, when edges vanish: they are taken away until all that are left run
    forwards. In a convex loop an edge that runs backwards is implied by its neighbours; in a concave one the
    first to vanish goes, and only facets of a curve and edges that had no length before may."""
    normals, convex = left_of(loop.along), loop.is_convex
    alive = np.array(_bounding(normals.tolist(), reached.tolist())) if convex else np.arange(len(reached))
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


def _bounding(normals: Sequence[Sequence[float]], reached: Sequence[float]) -> list[int]:
    """Which half planes, in the order of their directions all the way round, bound what they have in common; the sweep with
    a double-ended queue known for it. What is left may still hold edges without length."""
    queue: deque[int] = deque()
    corners: deque[tuple[float, float]] = deque()

    def meet(a: int, b: int) -> tuple[float, float] | None:
        (ax, ay), (bx, by) = normals[a], normals[b]
        sine = ax * by - ay * bx
        if abs(sine) < 1e-9:
            return None
        return (reached[a] * by - reached[b] * ay) / sine, (reached[b] * ax - reached[a] * bx) / sine

    for line, ((nx, ny), rest) in enumerate(zip(normals, reached, strict=True)):
        least = rest - 1e-9
        while corners and nx * corners[-1][0] + ny * corners[-1][1] < least:
            corners.pop()
            queue.pop()
        while corners and nx * corners[0][0] + ny * corners[0][1] < least:
            corners.popleft()
            queue.popleft()
        if queue:
            met = meet(queue[-1], line)
            if met is None:
                if nx * normals[queue[-1]][0] + ny * normals[queue[-1]][1] < 0:
                    return []
                if rest > reached[queue[-1]]:
                    queue[-1] = line
                    if len(queue) > 1:
                        corners[-1] = meet(queue[-2], line) or corners[-1]
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
    sine = _cross(before, normals)
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


def largest_inset(loop: Loop, by: float | Floats | Sequence[float]) -> float:
    """The greatest share (0 to 1) of an inset that leaves something."""
    good, bad = 0.0, 1.0
    wanted = np.asarray(by, dtype=float)
    for _ in range(40):
        middle = (good + bad) / 2
        good, bad = (middle, bad) if loop.moved(wanted * middle) is not None else (good, middle)
    return good


def too_far(loop: Loop, by: float | Floats | Sequence[float], entry: str = "offset") -> Refusal:
    """The refusal of an inset, with the largest that works."""
    share, wanted = largest_inset(loop, by), float(np.abs(np.asarray(by, dtype=float)).max())
    return Refusal(
        entry, "something remains inside", f"An inset of {wanted:g} mm leaves nothing.",
        f"The largest that works is {np.floor(share * wanted * 100) / 100:g} mm.",
    )  # fmt: skip


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
    cut_off = [k % count for k in range(first + 1, last)]
    leave, enter = _met(loop, over, first, axis, sign * limit), _met(loop, over, last % count, axis, sign * limit)
    line = np.array([0.0, sign] if axis == 0 else [-sign, 0.0])
    beyond = [k for k in cut_off if _cross(loop.along[k], line) > 1e-9 and _near(loop.points[k], leave)]
    behind = [k for k in cut_off if _cross(line, loop.along[k]) > 1e-9 and _near(loop.points[(k + 1) % count], enter)]
    own = [*inner, *beyond, -1, *behind, last % count]
    points = np.array([*loop.points[inner], *[leave] * (len(beyond) + 1), *[enter] * (len(behind) + 1)])
    along = np.array([line if k < 0 else loop.along[k] for k in own])
    rest = np.array([-limit if k < 0 else loop.rest[k] for k in own])
    tags = tuple(tag if k < 0 else loop.tags[k] for k in own)
    cut = Loop(points, tags, tuple(False if k < 0 else loop.curved[k] for k in own), along, rest)
    return _without_far_lines(cut).from_lower_left()


def _without_far_lines(loop: Loop) -> Loop:
    """The loop without those edges of no length that would not come back however deep a rebate is."""
    apart = loop.lengths > TOUCH
    back = _bounding(left_of(loop.along).tolist(), (loop.rest - WITHIN_REACH).tolist())
    kept = np.flatnonzero(apart | np.isin(np.arange(len(apart)), back))
    if len(kept) == len(apart):
        return loop
    return Loop(
        loop.points[kept], tuple(loop.tags[k] for k in kept), tuple(loop.curved[k] for k in kept), loop.along[kept], loop.rest[kept]
    )  # fmt: skip


WITHIN_REACH = 60.0
"""A bar nearer than this to a light it does not touch still bounds what goes behind it, mm."""


def _with_line_beyond(loop: Loop, over: Floats, axis: int, limit: float, tag: str, sign: float) -> Loop:
    """The loop with the line of a bar it does not reach as an edge without length at its nearest corner."""
    if not len(over) or not -WITHIN_REACH < over.max() < -TOUCH:
        return loop
    line = np.array([0.0, sign] if axis == 0 else [-sign, 0.0])
    nearest = [k for k in range(len(over)) if over[k] > over.max() - TOUCH]
    k = next(
        (k for k in nearest if _cross(loop.along[k - 1], line) > 1e-9 and _cross(line, loop.along[k]) > 1e-9), None
    )
    if k is None:
        return _nearer_line(loop, nearest, line, limit, tag)
    return Loop(
        np.insert(loop.points, k, loop.points[k], axis=0), (*loop.tags[:k], tag, *loop.tags[k:]), (*loop.curved[:k], False, *loop.curved[k:]),
        np.insert(loop.along, k, line, axis=0), np.insert(loop.rest, k, -limit),
    )  # fmt: skip


def _nearer_line(loop: Loop, nearest: Sequence[int], line: Floats, limit: float, tag: str) -> Loop:
    """An edge without length at the nearest corner gives way to a line along it that lies nearer."""
    k = next((k for k in nearest if np.abs(loop.along[k] - line).max() < 1e-9 and loop.rest[k] < -limit), None)
    if k is None or _apart(loop.points[k], loop.points[(k + 1) % len(loop.points)]):
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


def _near(point: Floats, cut: Floats) -> bool:
    return bool(np.hypot(*(point - cut)) < KEPT)
