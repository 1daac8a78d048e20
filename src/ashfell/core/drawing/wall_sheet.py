"""The elevation of a wall laid out: its openings in outline with the units in them, the strip of piers and openings
along it, and the heights of the one that is worked on. Each number has the address that typing over it changes.

Lengths on the sheet are millimetres of paper.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import partial
from itertools import pairwise

from ashfell.core.base.address import Address
from ashfell.core.base.lengths import Style, entered, exact, show
from ashfell.core.drawing.aside import Before, lamps_before
from ashfell.core.drawing.crowd import thinned
from ashfell.core.drawing.frame import FIGURE, figure_id, room_for
from ashfell.core.drawing.paper import Sheet
from ashfell.core.drawing.sheet import Box, Figure, Line, Lock, Points
from ashfell.core.drawing.wall_face import Drawings, Elevation, Hole, Looks, Placed, elevations
from ashfell.core.seen import Shape
from ashfell.core.site.document.placement import Placement
from ashfell.core.site.hosts.host import height_at
from ashfell.core.site.opening import Opening
from ashfell.core.site.row import beside, level_with
from ashfell.core.site.scene import Scene
from ashfell.core.site.settle import Levels

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
MEASURED = 14
"""How many openings of a row are dimensioned: all when there are no more, else those beside the one worked on."""


@dataclass(frozen=True)
class Beside:
    """Another wall of the chain that is laid out flat: its outline, its address and its name."""

    points: Points
    entry: str
    name: str


@dataclass(frozen=True)
class WallSheet:
    """All that is drawn on the sheet of a wall. ``drawings`` are elevations of units, each once, laid from the origin
    of ``local``; ``folds`` are where its facets meet, unless they look smooth, ``floors`` the levels of storeys."""

    looks: Looks
    paper: Sheet
    length: float
    start: float
    foot: float
    """Where its start and its foot are on the sheet."""
    wall: Points
    beside: tuple[Beside, ...]
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
    lamps: tuple[Before, ...]


def _is_filled(scene: Scene, opening: Opening) -> bool:
    return opening.placement in scene.units or opening.placement in scene.brought_in


def wall_sheet(
    scene: Scene, style: Style, wall: str, picked: str = "", looks: Looks = "outside", unrolled: bool = False
) -> WallSheet | None:
    """Lay out the elevation of a wall; None where there is none of that id. ``picked`` is the address of the placement
    that is worked on; ``unrolled`` lays the chain out flat that the wall is one of, with its other walls beside it."""
    if wall not in scene.standing:
        return None
    paper = partial(Sheet.fitted_to, size=SIZE, margins=MARGINS)
    seen, *others = elevations(scene, style, wall, looks, paper, unrolled)
    host, openings = seen.host, seen.openings
    at = next((one for one in openings if Address("placements") / one.placement == picked), None)
    units = Drawings()
    for one in (seen, *others):
        units.add(one, scene)
    row = _row(openings, at)
    every = [(one, opening) for one in (seen, *others) for opening in one.openings]
    told = [(one, opening) for one, opening in every if opening is at or not one.is_small(opening)]
    return WallSheet(
        looks,
        seen.paper,
        float(host.length),
        seen.x(0),
        seen.y(0),
        seen.outline,
        tuple(Beside(one.outline, one.host.entry, one.host.name) for one in others),
        tuple(one.hole(opening, opening is at, _is_filled(scene, opening)) for one, opening in told),
        tuple(one.outline_of(opening) for one, opening in every if opening is not at and one.is_small(opening)),
        tuple(units.drawings),
        Sheet(0.0, 0.0, seen.paper.scale, 0.0, 0.0),
        tuple(units.placed),
        tuple(_boxes(seen, row)),
        (
            *_overall(seen),
            *thinned("columns", [*_along(seen, row, at)]),
            *(figure for lane in (0, 1) for figure in thinned("rows", [*_heights(seen, at, lane)])),
        ),
        tuple(_locks(seen, row)),
        tuple(_lines(seen, at)),
        tuple(line for one in (seen, *others) for line in _folds(one)),
        tuple(_floors(seen, scene)),
        tuple(lamps_before(scene.document, seen)),
    )


def _row(openings: Sequence[Opening], at: Opening | None) -> tuple[Opening, ...]:
    """The openings that stand at the height of the one worked on, or of the first."""
    return tuple(level_with(at or openings[0], openings)) if openings else ()


def _boxes(seen: Elevation, row: Sequence[Opening]) -> Iterator[Box]:
    """The piers and openings of a row; the wall alone where they are too small to be told from each other."""
    told = [] if any(seen.is_small(one) for one in row) else row
    stretches = [("light", one.x, one.right, Address("placements") / one.placement) for one in told]
    ends = [Fraction(0), *(end for one in told for end in (one.x, one.right)), seen.host.length]
    piers = [("pier", low, high, seen.host.entry) for low, high in zip(ends[::2], ends[1::2], strict=True)]
    for kind, low, high, about in sorted([*piers, *stretches], key=lambda one: one[1:3]):
        if high > low:
            left, right = seen.span(low, high)
            yield Box(kind, left, seen.ground + GAP, right - left, BAND, about)


def _along(seen: Elevation, row: Sequence[Opening], at: Opening | None) -> Iterator[Figure]:
    """Piers and openings along the strip; a pier moves the opening behind it, the last one that before it."""
    shown = row
    if len(row) > MEASURED:
        index = row.index(at) if at in row else 0
        shown = row[max(0, index - 1) : index + 2]
    top = seen.ground + GAP
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


def _locks(seen: Elevation, row: Sequence[Opening]) -> Iterator[Lock]:
    """A switch on each pier between two openings that has room for it."""
    y = seen.ground + GAP + (BAND - LOCK) / 2
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


def _figure(seen: Elevation, span: tuple[Fraction, Fraction], y: float, entry: str, label: str) -> Figure:
    size = span[1] - span[0]
    text = show(size, seen.style)
    left, right = seen.span(*span)
    width, small = room_for(text, right - left - 0.5)
    x = (left + right) / 2 - width / 2
    return _made(seen, entry, size, label, (x, y, width), small)


def _made(
    seen: Elevation, entry: str, size: Fraction, label: str, place: tuple[float, float, float], small: bool = False
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


def _overall(seen: Elevation) -> Iterator[Figure]:
    """Length and height of the wall."""
    host = seen.host
    text = show(host.length, seen.style)
    width, _ = room_for(text, 100.0)
    middle, below = sum(seen.sides) / 2, seen.ground + GAP + BAND + LANE + FIGURE + LANE
    entry = "" if host.folds else host.entry / "length"
    yield _made(seen, entry, host.length, f"Length of {host.name}", (middle - width / 2, below, width))
    text = show(host.height, seen.style)
    width, _ = room_for(text, 100.0)
    beside_it = seen.edges[1] + OFF + LANE
    up = (seen.y(0) + seen.y(host.height)) / 2 - FIGURE / 2
    entry = host.entry / "height" if len({high for _, high in host.top}) == 1 else ""
    yield _made(seen, entry, host.height, f"Height of {host.name}", (beside_it, up, width))


def _heights(seen: Elevation, at: Opening | None, wanted: int) -> Iterator[Figure]:
    """The heights of the opening that is worked on in one of two lanes: to its sill and of itself, or to its head."""
    if at is None:
        return
    own, placement = Address("placements") / at.placement, seen.placements[at.placement]
    left = seen.edges[0] - OFF
    sized = own / "height" if _is_sized(placement) else ""
    floor = seen.floor(at.placement)
    for low, high, entry, label, lane in (
        (floor, at.z, "" if placement.head else own / "sill", f"Sill of {at.placement}", 0),
        (at.z, at.head, sized, f"Height of {at.placement}", 0),
        (floor, at.head, own / "head", f"Head of {at.placement}", 1),
    ):
        if high > low and lane == wanted:
            text = show(high - low, seen.style)
            width, small = room_for(text, 15.0)
            middle = (seen.y(low) + seen.y(high)) / 2 - FIGURE / 2
            x = left - LANE - width - lane * 16.0
            yield _made(seen, entry, high - low, label, (x, middle, width), small)


def _folds(seen: Elevation) -> Iterator[Line]:
    host = seen.host
    if not host.smooth:
        for fold in host.folds:
            x, at = seen.x(fold.at), height_at(host.top, Fraction(fold.at))
            yield Line(x, seen.y(0), x, seen.y(at))


def _floors(seen: Elevation, scene: Scene) -> Iterator[Line]:
    wall = scene.site.wall(seen.host.id)
    left, right = seen.span(Fraction(0), seen.host.length)
    for level in Levels(scene.site.storeys).of.values() if wall else ():
        above = level - wall.base.mm if wall else level
        if 0 < above < seen.host.height:
            yield Line(left, seen.y(above), right, seen.y(above))


def _lines(seen: Elevation, at: Opening | None) -> Iterator[Line]:
    """The lines of the heights, with a tick at each end."""
    host, (left, right) = seen.host, seen.edges
    chains = [(right + OFF, [Fraction(0), host.height])]
    if at:
        floor = seen.floor(at.placement)
        chains += [(left - OFF, [floor, at.z, at.head]), (left - OFF - 16.0, [floor, at.head])]
    for x, marks in chains:
        places = [seen.y(mark) for mark in marks]
        yield Line(x, places[0], x, places[-1])
        yield from (Line(x - TICK, y, x + TICK, y) for y in places)
