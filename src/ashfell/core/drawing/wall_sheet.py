"""The elevation of a wall laid out: its openings in outline with the units in them, the strip of piers and openings
along it, and the heights of the one that is worked on. Each number has the address that typing over it changes.

Lengths on the sheet are millimetres of paper.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from itertools import pairwise
from typing import Literal

import numpy as np
from shapely.geometry import Polygon

from ashfell.core.base.address import Address
from ashfell.core.base.lengths import Style, entered, exact, show
from ashfell.core.drawing.frame import FIGURE, figure_id, room_for
from ashfell.core.drawing.paper import Sheet
from ashfell.core.drawing.sheet import Box, Figure, Line, Lock, Points
from ashfell.core.plane.points import polygons
from ashfell.core.seen import Shape
from ashfell.core.site.document.placement import Placement
from ashfell.core.site.hosts.host import Host, height_at
from ashfell.core.site.opening import Opening, flipped, gap_of
from ashfell.core.site.row import beside, level_with
from ashfell.core.site.scene import Scene
from ashfell.core.site.settle import Levels
from ashfell.core.unit.make import Unit

Looks = Literal["outside", "inside"]
SIZE = (169.333, 150.0)
MARGINS = (36.0, 22.0, 10.0, 34.0)
"""Left, right, top and foot."""
GAP, BAND = 5.0, 8.6
LOCK = 6.35
"""Between the wall and its strip, and how deep that is."""
LANE = 1.2
TICK = 1.06
OFF = 6.0
"""How far the chain of heights stands off the wall, and the overall height."""
SEEN = 2.0
"""Units narrower than this on paper are drawn by their outline alone."""
TOLD = 0.6
"""Openings narrower than this on paper cannot be told from each other."""
MEASURED = 14
"""How many openings of a row are dimensioned: all when there are no more, else those beside the one worked on."""


@dataclass(frozen=True)
class Hole:
    """An opening on the sheet: its outline, the address of its placement, whether a unit is in it, and whether it is
    worked on."""

    points: Points
    entry: str
    label: str
    filled: bool
    picked: bool


@dataclass(frozen=True)
class Placed:
    """A unit where it stands: which of the drawings it is, where the origin of that is on the sheet, and whether it is
    turned over."""

    drawing: int
    x: float
    y: float
    over: bool


@dataclass(frozen=True)
class WallSheet:
    """All that is drawn on the sheet of a wall. ``drawings`` are elevations of units, each once, laid from the origin
    of ``local``; ``folds`` are where its facets meet, unless they look smooth, ``floors`` the levels of storeys."""

    looks: Looks
    paper: Sheet
    length: float
    wall: Points
    holes: tuple[Hole, ...]
    small: tuple[Points, ...]
    """Openings too small to be told from each other, which cannot be picked."""
    drawings: tuple[Sequence[Shape], ...]
    local: Sheet
    placed: tuple[Placed, ...]
    boxes: tuple[Box, ...]
    figures: tuple[Figure, ...]
    locks: tuple[Lock, ...]
    lines: tuple[Line, ...]
    folds: tuple[Line, ...]
    floors: tuple[Line, ...]


@dataclass(frozen=True)
class _Elevation:
    """A wall as one looks at it."""

    host: Host
    looks: Looks
    paper: Sheet
    style: Style
    openings: tuple[Opening, ...]
    placements: dict[str, Placement]
    entered: dict[str, Placement]
    """Of each placement the entry that it is one of."""

    def floor(self, key: str) -> Fraction:
        """From where the sill of a placement is measured, above the foot of the wall."""
        return self.placements[key].sill.mm - self.entered[key].sill.mm

    def x(self, u: Fraction | float) -> float:
        """Where a place along the wall is on the sheet."""
        return self.paper.x(u if self.looks == "outside" else float(self.host.length) - float(u))

    def span(self, low: Fraction, high: Fraction) -> tuple[float, float]:
        """From where to where a stretch of it is, from the left."""
        ends = self.x(low), self.x(high)
        return min(ends), max(ends)


def wall_sheet(scene: Scene, style: Style, wall: str, picked: str = "", looks: Looks = "outside") -> WallSheet | None:
    """Lay out the elevation of a wall; None where there is none of that id. ``picked`` is the address of the placement
    that is worked on."""
    standing = scene.standing.get(wall)
    if standing is None:
        return None
    host = standing.host
    paper = Sheet.fitted_to((0.0, 0.0, float(host.length), float(host.height)), SIZE, MARGINS)
    placements = {placement.id: placement for placement in scene.site.placements_in.get(wall, ())}
    entered = {key: scene.document.placement_by_id[one.entry] for key, one in placements.items()}
    openings = tuple(sorted(standing.openings, key=lambda one: (one.x, one.z)))
    seen = _Elevation(host, looks, paper, style, openings, placements, entered)
    at = next((one for one in openings if Address("placements") / one.placement == picked), None)
    drawings, placed = _units(seen, scene.units)
    row = _row(openings, at)
    corners = [(Fraction(0), Fraction(0)), (host.length, Fraction(0)), *reversed(host.top)]
    return WallSheet(
        looks,
        paper,
        float(host.length),
        tuple((seen.x(u), paper.y(v)) for u, v in corners),
        tuple(_hole(seen, one, one is at, scene.units) for one in openings if one is at or not _is_small(seen, one)),
        tuple(_outline(seen, one) for one in openings if one is not at and _is_small(seen, one)),
        tuple(drawings),
        Sheet(0.0, 0.0, paper.scale, 0.0, 0.0),
        tuple(placed),
        tuple(_boxes(seen, row)),
        (*_along(seen, row, at), *_overall(seen), *(_heights(seen, at) if at else ())),
        tuple(_locks(seen, row)),
        tuple(_lines(seen, at)),
        tuple(_folds(seen)),
        tuple(_floors(seen, scene)),
    )


def _row(openings: Sequence[Opening], at: Opening | None) -> tuple[Opening, ...]:
    """The openings that stand at the height of the one worked on, or of the first."""
    return tuple(level_with(at or openings[0], openings)) if openings else ()


def _is_small(seen: _Elevation, one: Opening) -> bool:
    return float(one.width) * seen.paper.scale < TOLD


def _outline(seen: _Elevation, one: Opening) -> Points:
    return tuple((seen.x(u), seen.paper.y(v)) for u, v in one.points.tolist())


def _hole(seen: _Elevation, one: Opening, picked: bool, units: Mapping[str, Unit]) -> Hole:
    placement = seen.placements[one.placement]
    told = f"{placement.unit or 'Opening'}, {show(one.x, seen.style)} along, sill at {show(one.z, seen.style)}"
    return Hole(_outline(seen, one), Address("placements") / one.placement, told, one.placement in units, picked)


def _units(seen: _Elevation, units: Mapping[str, Unit]) -> tuple[list[Sequence[Shape]], list[Placed]]:
    """Each unit's elevation once, and where it stands."""
    drawings: list[Sequence[Shape]] = []
    known: dict[tuple[int, bool], int] = {}
    placed = []
    for one in seen.openings:
        unit = units.get(one.placement)
        if unit is None or float(one.width) * seen.paper.scale < SEEN:
            continue
        placement, size = seen.placements[one.placement], unit.layout.overall
        front = (seen.looks == "outside") != placement.turned
        if (id(unit), front) not in known:
            known[id(unit), front] = len(drawings)
            drawings.append(in_wall(unit, front))
        left, foot = one.x + gap_of(placement, "left"), one.z + gap_of(placement, "sill")
        origin = left + size.right if flipped(placement) else left - size.x
        y = seen.paper.y(foot - size.y)
        placed.append(Placed(known[id(unit), front], seen.x(origin), y, placement.mirrored))
    return drawings, placed


def in_wall(unit: Unit, front: bool) -> Sequence[Shape]:
    """A unit as it is seen in its wall: of what that hides no more than the opening shows."""
    shapes: Sequence[Shape] = unit.shapes if front else unit.inside
    side = "outside" if front else "inside"
    looks = 1.0 if front else -1.0
    windows = {
        light.key: Polygon(light.loop.points * (looks, 1.0))
        for light in unit.layout.body.lights
        if side in light.content.hidden
    }
    if not windows:
        return shapes
    found = []
    for shape in shapes:
        window = windows.get(shape.light.partition(".")[0])
        if window is None:
            found.append(shape)
            continue
        loops = [piece for loop in shape.loops for piece in polygons(Polygon(loop).buffer(0).intersection(window))]
        if loops:
            clipped = tuple(np.array(piece.exterior.coords)[:-1] for piece in loops)
            found.append(replace(shape, loops=clipped))
    return found


def _boxes(seen: _Elevation, row: Sequence[Opening]) -> Iterator[Box]:
    """The piers and openings of a row; the wall alone where they are too small to be told from each other."""
    told = [] if any(_is_small(seen, one) for one in row) else row
    stretches = [("light", one.x, one.right, Address("placements") / one.placement) for one in told]
    ends = [Fraction(0), *(end for one in told for end in (one.x, one.right)), seen.host.length]
    piers = [("pier", low, high, seen.host.entry) for low, high in zip(ends[::2], ends[1::2], strict=True)]
    for kind, low, high, about in sorted([*piers, *stretches], key=lambda one: one[1:3]):
        if high > low:
            left, right = seen.span(low, high)
            yield Box(kind, left, seen.paper.y(0) + GAP, right - left, BAND, about)


def _along(seen: _Elevation, row: Sequence[Opening], at: Opening | None) -> Iterator[Figure]:
    """Piers and openings along the strip; a pier moves the opening behind it, the last one that before it."""
    shown = row
    if len(row) > MEASURED:
        index = row.index(at) if at in row else 0
        shown = row[max(0, index - 1) : index + 2]
    top = seen.paper.y(0) + GAP
    for one in shown:
        own, placement = Address("placements") / one.placement, seen.placements[one.placement]
        low, high = beside(one, row, seen.host.length)
        if one.x > low:
            yield _figure(seen, (low, one.x), top + BAND + LANE, own / "before", f"Before {one.placement}")
        label = f"Width of {one.placement}"
        yield _figure(
            seen, (one.x, one.right), top + (BAND - FIGURE) / 2, own / "width" if _is_sized(placement) else "", label
        )
        last = one is shown[-1]
        if last and high > one.right:
            yield _figure(seen, (one.right, high), top + BAND + LANE, own / "behind", f"Behind {one.placement}")


def _locks(seen: _Elevation, row: Sequence[Opening]) -> Iterator[Lock]:
    """A switch on each pier between two openings that has room for it."""
    y = seen.paper.y(0) + GAP + (BAND - LOCK) / 2
    for before, one in pairwise(row if len(row) <= MEASURED else ()):
        entry, other = (seen.entered[opening.placement] for opening in (one, before))
        if entry.repeat or entry.id == other.id or float(one.x - before.right) * seen.paper.scale < LOCK:
            continue
        locked = entry.after == other.id
        pier = show(one.x - before.right, seen.style)
        label = f"Let the pier before {entry.id} change" if locked else f"Lock the pier before {entry.id} at {pier}"
        left, right = seen.span(before.right, one.x)
        address = Address("placements") / entry.id / "locked"
        yield Lock(f"lock-{entry.id}", address, locked, label, (left + right - LOCK) / 2, y, LOCK, "")


def _is_sized(placement: Placement) -> bool:
    """Whether the width of an opening is that of its placement, whatever gaps there are."""
    return placement.fits or (not placement.gap.mm and not placement.gaps)


def _figure(seen: _Elevation, span: tuple[Fraction, Fraction], y: float, entry: str, label: str) -> Figure:
    size = span[1] - span[0]
    text = show(size, seen.style)
    left, right = seen.span(*span)
    width, small = room_for(text, right - left - 0.5)
    x = (left + right) / 2 - width / 2
    return _made(seen, entry, size, label, (x, y, width), small)


def _made(
    seen: _Elevation, entry: str, size: Fraction, label: str, place: tuple[float, float, float], small: bool = False
) -> Figure:
    x, y, width = place
    placement = seen.entered.get(Address(entry).parent.last) if entry else None
    kept = getattr(placement, Address(entry).last, None) if placement else None
    text = show(size, seen.style)
    was = entered(kept, size, seen.style)
    about = Address(entry).parent if entry else ""
    key = figure_id(entry or f"told.{label}")
    return Figure(
        key,
        entry,
        text,
        exact(size),
        label,
        x,
        y,
        width,
        FIGURE,
        about=about,
        small=small,
        typed=was,
    )


def _overall(seen: _Elevation) -> Iterator[Figure]:
    """Length and height of the wall."""
    host, paper = seen.host, seen.paper
    text = show(host.length, seen.style)
    width, _ = room_for(text, 100.0)
    middle, below = (paper.x(0) + paper.x(host.length)) / 2, paper.y(0) + GAP + BAND + LANE + FIGURE + LANE
    entry = "" if host.folds else host.entry / "length"
    yield _made(seen, entry, host.length, f"Length of {host.name}", (middle - width / 2, below, width))
    text = show(host.height, seen.style)
    width, _ = room_for(text, 100.0)
    beside_it = max(paper.x(0), paper.x(host.length)) + OFF + LANE
    up = (paper.y(0) + paper.y(host.height)) / 2 - FIGURE / 2
    entry = host.entry / "height" if len({high for _, high in host.top}) == 1 else ""
    yield _made(seen, entry, host.height, f"Height of {host.name}", (beside_it, up, width))


def _heights(seen: _Elevation, at: Opening) -> Iterator[Figure]:
    """The heights of the opening that is worked on: to its sill, of itself, to its head."""
    own, placement = Address("placements") / at.placement, seen.placements[at.placement]
    left = min(seen.paper.x(0), seen.paper.x(seen.host.length)) - OFF
    sized = own / "height" if _is_sized(placement) else ""
    floor = seen.floor(at.placement)
    for low, high, entry, label, lane in (
        (floor, at.z, "" if placement.head else own / "sill", f"Sill of {at.placement}", 0),
        (at.z, at.head, sized, f"Height of {at.placement}", 0),
        (floor, at.head, own / "head", f"Head of {at.placement}", 1),
    ):
        if high > low:
            text = show(high - low, seen.style)
            width, small = room_for(text, 15.0)
            middle = (seen.paper.y(low) + seen.paper.y(high)) / 2 - FIGURE / 2
            x = left - LANE - width - lane * 16.0
            yield _made(seen, entry, high - low, label, (x, middle, width), small)


def _folds(seen: _Elevation) -> Iterator[Line]:
    host = seen.host
    if not host.smooth:
        for fold in host.folds:
            x, at = seen.x(fold.at), height_at(host.top, Fraction(fold.at))
            yield Line(x, seen.paper.y(0), x, seen.paper.y(at))


def _floors(seen: _Elevation, scene: Scene) -> Iterator[Line]:
    wall = scene.site.wall(seen.host.id)
    left, right = seen.span(Fraction(0), seen.host.length)
    for level in Levels(scene.site.storeys).of.values() if wall else ():
        above = level - wall.base.mm if wall else level
        if 0 < above < seen.host.height:
            yield Line(left, seen.paper.y(above), right, seen.paper.y(above))


def _lines(seen: _Elevation, at: Opening | None) -> Iterator[Line]:
    """The lines of the heights, with a tick at each end."""
    paper, host = seen.paper, seen.host
    right, left = (pick(paper.x(0), paper.x(host.length)) for pick in (max, min))
    chains = [(right + OFF, [Fraction(0), host.height])]
    if at:
        floor = seen.floor(at.placement)
        chains += [(left - OFF, [floor, at.z, at.head]), (left - OFF - 16.0, [floor, at.head])]
    for x, marks in chains:
        places = [paper.y(mark) for mark in marks]
        yield Line(x, places[0], x, places[-1])
        yield from (Line(x - TICK, y, x + TICK, y) for y in places)
