"""Walls of a site from pairs of faces: which face is outside, where they begin and end, what their openings are."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import groupby
from math import atan2, degrees, pi

import numpy as np
import shapely

from ashfell.core.base.document import Data
from ashfell.core.site.traced.bays import BowRun, Lead, Leads, Reference, laid, parted
from ashfell.core.site.traced.bows import Bow, bows
from ashfell.core.site.traced.faces import Pair, Rules
from ashfell.core.site.traced.faces import pairs as pairs_of
from ashfell.core.site.traced.rails import FLAT, Floats, Span

NO_ARCS: Floats = np.empty((0, 5))
DIGITS = 4
"""Decimals of a millimetre that are kept."""
SWING = 150.0
"""How far from the edge of an opening a leaf may turn, and how much narrower it may be, mm."""


@dataclass(frozen=True)
class Heights:
    """What a plan does not tell, mm."""

    wall: str = "2700"
    sill: str = "900"
    window: str = "1200"
    door: str = "2100"


@dataclass
class Traced:
    """The walls and openings of a plan as tables of a site document, where the plan's zero is in it, and the lines of
    which nothing was made."""

    walls: list[Data] = field(default_factory=list)
    placements: list[Data] = field(default_factory=list)
    origin: tuple[float, float] = (0.0, 0.0)
    left: Floats = field(default_factory=lambda: np.empty((0, 4)))
    arcs_left: int = 0


@dataclass(frozen=True)
class _Run:
    """A pair with a direction: from ``start`` to ``end`` along its heading or, when it is ``back``, against it."""

    pair: Pair
    back: bool
    reference: Reference

    @property
    def span(self) -> Span:
        """From where to where its reference line runs, along the heading."""
        right, left = self.pair.ends(self.pair.right), self.pair.ends(self.pair.left)
        if self.reference == "outside":
            return left if self.back else right
        return (right[0] + left[0]) / 2, (right[1] + left[1]) / 2

    @property
    def offset(self) -> float:
        if self.reference == "outside":
            return (self.pair.left if self.back else self.pair.right).offset
        return (self.pair.left.offset + self.pair.right.offset) / 2

    @property
    def ends(self) -> tuple[Floats, Floats]:
        """Where in the plan it starts and ends."""
        low, high = (self.pair.heading.point(at, self.offset) for at in self.span)
        return (high, low) if self.back else (low, high)

    @property
    def turned(self) -> _Run:
        return _Run(self.pair, not self.back, self.reference)

    def along(self, gap: Span) -> Span:
        """An opening from the start."""
        low, high = self.span
        return (high - gap[1], high - gap[0]) if self.back else (gap[0] - low, gap[1] - low)


def traced(lines: Floats, swings: Floats, rules: Rules, heights: Heights, arcs: Floats = NO_ARCS) -> Traced:
    """The walls of a plan.

    Parameters
    ----------
    lines : (n, 4) array
        x and y of both ends of straight lines, mm.
    swings : (n, 3) array
        x, y and radius of arcs; an opening beside which one of its width turns is that of a door.
    arcs : (n, 5) array
        x, y, radius, mm, and both angles of arcs that may be faces of curved walls, radians, counter-clockwise.
    """
    found, (bowed, arcs_left) = pairs_of(lines, rules), bows(arcs, rules)
    if not found.pairs and not bowed:
        return Traced(left=found.left, arcs_left=arcs_left)
    straight = parted(found.pairs, bowed)
    runs = _in_order(straight, bowed) if straight else []
    corners = np.concatenate([*(pair.box for pair in straight), *(bow.outline for bow in bowed)])
    origin = np.floor(corners.min(axis=0) + FLAT)
    doors = shapely.STRtree(shapely.points(swings[:, :2])) if len(swings) else None
    made = Traced(origin=(float(origin[0]), float(origin[1])), left=found.left, arcs_left=arcs_left)
    for number, run in enumerate(runs, 1):
        key = f"wall-{number}"
        made.walls.append(_wall(run, key, f"Wall {number}", origin, heights))
        for gap in run.pair.gaps if not run.back else run.pair.gaps[::-1]:
            door = doors is not None and _is_door(run, gap, swings, doors)
            at = len(made.placements) + 1
            made.placements.append(_opening(run.along(gap), key, f"opening-{at}", door, heights))
    ending, beginning = (Leads([_lead(run, k) for run in runs if run.reference == "outside"]) for k in (1, 0))
    for number, bow in enumerate(bowed, len(runs) + 1):
        key, curve = f"wall-{number}", laid(bow, ending, beginning)
        made.walls.append(_bowed(curve, key, f"Wall {number}", origin, heights))
        for gap in bow.gaps[::-1] if curve.back else bow.gaps:
            edges = [bow.point(at, radius) for at in gap for radius in (bow.inner, bow.outer)]
            start, end = curve.along(gap)
            door = doors is not None and _turns_at(edges, end - start, swings, doors)
            at = len(made.placements) + 1
            made.placements.append(_opening((start, end), key, f"opening-{at}", door, heights))
    return made


def _lead(run: _Run, end: int) -> Lead:
    """The start (0) or the end (1) of a straight wall."""
    return Lead(run.ends[end], run.pair.heading.turn + (pi if run.back else 0.0), run.pair.thickness)


def _bowed(run: BowRun, key: str, name: str, origin: Floats, heights: Heights) -> Data:
    """A curved wall; on its middle its outside is where it bulges to."""
    start, end = run.ends
    x, y = start - origin
    return {
        "id": key,
        "name": name,
        "x": _length(x),
        "y": _length(y),
        "angle": round(degrees(atan2(end[1] - start[1], end[0] - start[0])), 9) % 360,
        "length": _length(float(np.hypot(*(end - start)))),
        "curve": {"kind": "arc", "rise": _length(run.rise), "facets": run.facets, "smooth": True},
        "reference": run.reference,
        "thickness": _length(run.bow.thickness),
        "lining": "0",
        "height": heights.wall,
    }


def _wall(run: _Run, key: str, name: str, origin: Floats, heights: Heights) -> Data:
    start, end = run.ends
    x, y = start - origin
    angle = round(degrees(run.pair.heading.turn) + (180 if run.back else 0), 9) % 360
    return {
        "id": key,
        "name": name,
        "x": _length(x),
        "y": _length(y),
        "angle": angle,
        "length": _length(float(np.hypot(*(end - start)))),
        "reference": run.reference,
        "thickness": _length(run.pair.thickness),
        "lining": "0",
        "height": heights.wall,
    }


def _opening(span: Span, wall: str, key: str, door: bool, heights: Heights) -> Data:
    start, end = span
    return {
        "id": key,
        "wall": wall,
        "offset": _length(start),
        "width": _length(end - start),
        "sill": "0" if door else heights.sill,
        "height": heights.door if door else heights.window,
    }


def _is_door(run: _Run, gap: Span, swings: Floats, tree: shapely.STRtree) -> bool:
    """Whether an arc of about its width, or half of that, turns about one of its edges."""
    pair = run.pair
    edges = [pair.heading.point(at, face) for at in gap for face in (pair.right.offset, pair.left.offset)]
    return _turns_at(edges, gap[1] - gap[0], swings, tree)


def _turns_at(edges: Sequence[Floats], width: float, swings: Floats, tree: shapely.STRtree) -> bool:
    """Whether an arc of about a width, or half of that, turns about one of some places."""
    for edge in edges:
        near = tree.query(shapely.Point(edge), predicate="dwithin", distance=SWING)
        for radius in swings[near, 2]:
            if min(abs(radius - width), abs(radius - width / 2)) <= SWING:
                return True
    return False


def _length(value: float) -> str:
    return f"{round(value, DIGITS) + 0.0:.{DIGITS}f}".rstrip("0").rstrip(".")


def _in_order(pairs: Sequence[Pair], bowed: Sequence[Bow]) -> list[_Run]:
    """The walls with their directions: those round the outside first, one after the other, with what they enclose on
    their left."""
    covered = [shapely.Polygon(one) for one in (*(pair.box for pair in pairs), *(bow.outline for bow in bowed))]
    whole = shapely.union_all(shapely.buffer(covered, FLAT, join_style="mitre"))
    parts = [shapely.Polygon(part.exterior).normalize() for part in shapely.get_parts(whole)]
    outlines = shapely.STRtree([part.exterior for part in parts])
    filled = shapely.union_all(parts)
    shapely.prepare(filled)
    around: list[tuple[int, float, _Run]] = []
    inner: list[Pair] = []
    for pair in pairs:
        right, left = (_open(pair, side, filled) for side in (-1, 1))
        if right == left:
            inner.append(pair)
            continue
        run = _Run(pair, back=left, reference="outside")
        middle = shapely.Point((run.ends[0] + run.ends[1]) / 2)
        part = int(outlines.nearest(middle))
        around.append((part, parts[part].exterior.project(middle), run))
    # A normalised ring runs clockwise.
    around.sort(key=lambda one: (one[0], -one[1]))
    rings = [[run for _, _, run in ring] for _, ring in groupby(around, key=lambda one: one[0])]
    return [run for ring in rings for run in _from_lowest(ring)] + _chained(inner)


def _from_lowest(ring: Sequence[_Run]) -> list[_Run]:
    """A ring from the wall on that starts lowest in the plan, and there furthest left."""
    first = min(range(len(ring)), key=lambda k: _spot(ring[k].ends[0])[::-1])
    return [*ring[first:], *ring[:first]]


def _open(pair: Pair, side: int, filled: shapely.Geometry) -> bool:
    """Whether most of a side of a wall is outside of all that walls enclose."""
    face = pair.left.offset + 5 * FLAT if side > 0 else pair.right.offset - 5 * FLAT
    points = [
        pair.heading.point(start + (end - start) * share, face) for start, end in pair.runs for share in (0.25, 0.75)
    ]
    outside = ~shapely.contains(filled, shapely.points(points))
    return bool(outside.mean() > 0.5)


def _chained(inner: Sequence[Pair]) -> list[_Run]:
    """Walls within, each begun where the one before ends, as far as that goes."""
    runs = [_Run(pair, back=False, reference="centre") for pair in inner]
    if not runs:
        return []
    spots: dict[tuple[int, int], list[int]] = {}
    for index, run in enumerate(runs):
        for end in run.ends:
            spots.setdefault(_spot(end), []).append(index)
    found: list[_Run] = []
    used: set[int] = set()

    def follow(index: int, run: _Run) -> None:
        while True:
            used.add(index)
            found.append(run)
            after = [one for one in spots[_spot(run.ends[1])] if one not in used]
            if len(spots[_spot(run.ends[1])]) != 2 or not after:
                return
            index = after[0]
            run = runs[index] if _spot(runs[index].ends[0]) == _spot(run.ends[1]) else runs[index].turned

    lone = [k for k, run in enumerate(runs) if any(len(spots[_spot(end)]) != 2 for end in run.ends)]
    for index in [*lone, *range(len(runs))]:
        if index not in used:
            run = runs[index]
            begins = len(spots[_spot(run.ends[0])]) != 2 or index not in lone
            follow(index, run if begins else run.turned)
    return found


def _spot(point: Floats) -> tuple[int, int]:
    """A place to about a millimetre."""
    return round(float(point[0])), round(float(point[1]))
