"""Chains of walls: where one wall's reference line ends and the next begins, and where a wall runs into the side of
another, each is cut so that they meet and share nothing."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import accumulate, pairwise
from math import cos, radians, sin, tan

import shapely

from ashfell.core.site.course import Facet, facets_of, turned
from ashfell.core.site.document.wall import Wall

MEET = 1.0
"""Ends nearer than this meet, mm."""
SHARPEST = 150.0
"""Walls that turn by more than this are not mitred where the corner opens, degrees: the point would stand far out."""
BACK = 175.0
"""Walls that turn by more than this lie on each other, degrees."""
SHALLOWEST = 5.0
"""Walls that run into the side of another at less than this are not cut by it, degrees."""
FAR = 4.0
"""Faces that only meet so many thicknesses away do not meet."""
STRAIGHT = 1e-6
"""Walls that turn by less than this run on, degrees."""


@dataclass(frozen=True)
class End:
    """How far an end of a wall is moved along it, at its outer and at its inner face, mm; against it below zero."""

    outer: float = 0.0
    inner: float = 0.0


@dataclass(frozen=True)
class Ends:
    """Both ends of a wall, and how far along its chain it begins, mm: its texture runs on from there."""

    start: End = End()
    end: End = End()
    reached: float = 0.0


SQUARE_ENDS = Ends()


@dataclass(frozen=True)
class _Course:
    """A wall with its facets."""

    wall: Wall
    facets: tuple[Facet, ...]

    @property
    def outer(self) -> float:
        return float(self.wall.before)

    @property
    def inner(self) -> float:
        return float(self.wall.thickness.mm - self.wall.before)

    @property
    def start(self) -> tuple[float, float]:
        return self.facets[0].x, self.facets[0].y

    @property
    def end(self) -> tuple[float, float]:
        last = self.facets[-1]
        turn, length = radians(last.heading), float(last.length)
        return last.x + length * cos(turn), last.y + length * sin(turn)


def ends_of(walls: Sequence[Wall]) -> dict[str, Ends]:
    """The ends of each wall, by id.

    Raises
    ------
    Refusal
        When the curve of one is none.
    """
    found = {wall.id: Ends() for wall in walls}
    walls = [wall for wall in walls if wall.built]
    courses = [_Course(wall, facets_of(wall)) for wall in walls]
    met: dict[tuple[int, bool], int] = {}
    after = _after(courses)
    for a, b in after.items():
        met[a, True], met[b, False] = b, a
        one, other = courses[a], courses[b]
        end, start = _corner(one, other)
        found[walls[a].id] = replace(found[walls[a].id], end=end)
        found[walls[b].id] = replace(found[walls[b].id], start=start)
    for index, at_end, end in _stopped(courses, met):
        key = walls[index].id
        found[key] = replace(found[key], end=end) if at_end else replace(found[key], start=end)
    for index, reached in _reached(courses, after).items():
        found[walls[index].id] = replace(found[walls[index].id], reached=reached)
    return found


def chain_of(walls: Sequence[Wall], key: str) -> list[tuple[str, float]]:
    """The walls of the chain that a wall is one of, from its first on: the id of each and how far along the chain it
    begins, mm; one that is closed begins with the first of them there is. None where there is no such wall, or it is
    not built."""
    courses = [_Course(wall, facets_of(wall)) for wall in walls if wall.built]
    own = next((index for index, one in enumerate(courses) if one.wall.id == key), None)
    if own is None:
        return []
    after = _after(courses)
    before = {b: a for a, b in after.items()}
    first, ring = own, {own}
    while first in before and before[first] not in ring:
        first = before[first]
        ring.add(first)
    if first in before:
        first = min(ring)
    chain = [first]
    while after.get(chain[-1], first) != first:
        chain.append(after[chain[-1]])
    lengths = (float(courses[index].facets[-1].end) for index in chain[:-1])
    return [(courses[index].wall.id, at) for index, at in zip(chain, accumulate(lengths, initial=0.0), strict=True)]


def _after(courses: Sequence[_Course]) -> dict[int, int]:
    """Which wall each runs on into, by their numbers; each goes on from one and into one."""
    after: dict[int, int] = {}
    taken: set[int] = set()
    for a, b in _meetings(courses):
        if a not in after and b not in taken and _level(courses[a].wall, courses[b].wall):
            after[a] = b
            taken.add(b)
    return after


def _level(one: Wall, other: Wall) -> bool:
    """Whether two walls stand beside each other at some height."""
    low, high = max(one.base.mm, other.base.mm), min(_top(one), _top(other))
    return bool(low < high)


def _top(wall: Wall) -> float:
    heights = [wall.height.mm, *([wall.end_height.mm] if wall.end_height else [])]
    return float(wall.base.mm + max([*heights, *([wall.ridge.height.mm] if wall.ridge else [])]))


def _meetings(courses: Sequence[_Course]) -> Iterator[tuple[int, int]]:
    """Walls one of which ends where the other starts, found by an index of their starts."""
    if len(courses) < 2:
        return
    tree = shapely.STRtree(shapely.points([one.start for one in courses]))
    ends = shapely.points([one.end for one in courses])
    first, second = tree.query(ends, predicate="dwithin", distance=MEET)
    yield from ((a, b) for a, b in sorted(zip(first.tolist(), second.tolist(), strict=True)) if a != b)


def _corner(one: _Course, other: _Course) -> tuple[End, End]:
    """How the end of one wall and the start of the next are cut where they meet.

    With a turn of θ to the left, faces so far to the left of both lines, a and b, meet (a cos θ - b) / sin θ along the
    first from its end, and (a - b cos θ) / sin θ along the second from its start. Where that is far, since walls of
    different thickness hardly turn, both are cut halfway between them; so are those that turn sharply back, but where
    their corner opens they end square.
    """
    turn = turned(one.facets[-1].heading, other.facets[0].heading)
    if abs(turn) < STRAIGHT or abs(turn) > BACK:
        return End(), End()
    if abs(turn) > SHARPEST:
        half = tan(radians(turn) / 2)
        return (
            End(min(half * one.outer, 0.0), min(-half * one.inner, 0.0)),
            End(max(-half * other.outer, 0.0), max(half * other.inner, 0.0)),
        )
    c, s = cos(radians(turn)), sin(radians(turn))

    def along(a: float, b: float) -> tuple[float, float]:
        return (a * c - b) / s, (a - b * c) / s

    outside = turn > 0
    if one.wall.corner == "mitred":
        (end_out, start_out), (end_in, start_in) = along(-one.outer, -other.outer), along(one.inner, other.inner)
        end, start = End(end_out, end_in), End(start_out, start_in)
    elif one.wall.corner == "through":
        far, near = (-other.outer, one.inner) if outside else (other.inner, -one.outer)
        end = End(along(-one.outer, far)[0], along(one.inner, far)[0])
        start = End(along(near, -other.outer)[1], along(near, other.inner)[1])
    else:
        far, near = (-one.outer, other.inner) if outside else (one.inner, -other.outer)
        end = End(along(-one.outer, near)[0], along(one.inner, near)[0])
        start = End(along(far, -other.outer)[1], along(far, other.inner)[1])
    deepest = max(one.outer + one.inner, other.outer + other.inner)
    if max(map(abs, (end.outer, end.inner, start.outer, start.inner))) > FAR * deepest:
        half = tan(radians(turn) / 2)
        end, start = End(half * one.outer, -half * one.inner), End(-half * other.outer, half * other.inner)
    return end, start


def _stopped(courses: Sequence[_Course], met: dict[tuple[int, bool], int]) -> Iterator[tuple[int, bool, End]]:
    """Ends that stand inside another wall, between its ends, and are cut at the face of it that they come from."""
    if len(courses) < 2:
        return
    bodies, owners = [], []
    for index, one in enumerate(courses):
        for facet in one.facets:
            bodies.append(_body(one, facet))
            owners.append((index, facet))
    tree = shapely.STRtree(bodies)
    for index, one in enumerate(courses):
        for at_end, point in ((False, one.start), (True, one.end)):
            if (index, at_end) in met:
                continue
            for found in tree.query(shapely.Point(point), predicate="intersects").tolist():
                owner, facet = owners[found]
                if owner == index or not _level(one.wall, courses[owner].wall):
                    continue
                cut = _cut_at(one, at_end, courses[owner], facet)
                if cut is not None:
                    yield index, at_end, cut
                    break


def _body(one: _Course, facet: Facet) -> shapely.Polygon:
    """A facet as seen from above, in the site."""
    turn, length = radians(facet.heading), float(facet.length)
    corners = ((0.0, -one.outer), (length, -one.outer), (length, one.inner), (0.0, one.inner))
    return shapely.Polygon(
        [(facet.x + u * cos(turn) - y * sin(turn), facet.y + u * sin(turn) + y * cos(turn)) for u, y in corners]
    )


def _cut_at(one: _Course, at_end: bool, other: _Course, facet: Facet) -> End | None:
    """An end of a wall cut at the nearer face of a facet of another; None where they run alike."""
    own = one.facets[-1 if at_end else 0]
    x, y = one.end if at_end else one.start
    turn = radians(facet.heading)
    to_left = -(x - facet.x) * sin(turn) + (y - facet.y) * cos(turn)
    lean = radians(turned(facet.heading, own.heading))
    if abs(sin(lean)) < sin(radians(SHALLOWEST)):
        return None
    inwards = sin(lean) > 0
    face = (-other.outer if inwards else other.inner) if at_end else (other.inner if inwards else -other.outer)

    def along(to_own_left: float) -> float:
        return (face - to_left - to_own_left * cos(lean)) / sin(lean)

    return End(along(-one.outer), along(one.inner))


def _reached(courses: Sequence[_Course], after: dict[int, int]) -> dict[int, float]:
    """How far along its chain each wall begins, mm; a ring of walls begins with the first of them."""
    lengths = [float(one.facets[-1].end) for one in courses]
    found: dict[int, float] = {}
    follows = {b for _, b in after.items()}
    firsts = [index for index in range(len(courses)) if index not in follows]
    for first in [*firsts, *range(len(courses))]:
        chain = [first]
        while chain[-1] not in found and chain[-1] in after and after[chain[-1]] not in chain:
            chain.append(after[chain[-1]])
        if first in found:
            continue
        found[first] = 0.0
        for before, behind in pairwise(chain):
            found.setdefault(behind, found[before] + lengths[before])
    return found
