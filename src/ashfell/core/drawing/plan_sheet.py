"""The sheet of a plan laid out: hosts, units and their dimensions, each number with the address that typing over it
changes.

Lengths on the sheet are millimetres of paper.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

import numpy as np

from ashfell.core.base.address import Address
from ashfell.core.base.lengths import Style, exact, show
from ashfell.core.drawing.aside import Aside, Handle, asides
from ashfell.core.drawing.crowd import ALWAYS, zooms
from ashfell.core.drawing.frame import room_for
from ashfell.core.drawing.paper import Extent, Sheet
from ashfell.core.drawing.sheet import Line, Points, Zoom
from ashfell.core.plane.points import Floats
from ashfell.core.site.course import end_point, start_point
from ashfell.core.site.plan import PlanHost, outlines_over, plan, storey_of
from ashfell.core.site.row import beside
from ashfell.core.site.scene import Scene
from ashfell.core.site.settle import Levels
from ashfell.core.site.surroundings import outline_of

SIZE = (169.333, 177.8)
MARGINS = (29.6, 29.6, 21.7, 24.3)
"""Left, right, top and foot."""
NEAR, FAR = 8.5, 19.0
"""How far the chain and the overall dimension stand off a wall."""
FIGURE = (13.76, 6.35)
LEAST_FIGURE = 6.0
TICK = 1.06
NORTH = (9.0, 10.6)
"""Where the north point stands, from the right and from the top."""
EPSILON = 1e-9
"""By how much the end of a stretch is before it, so that it is in the facet that ends there, mm."""
EMPTY = ((0.0, 0.0), (10_000.0, 8_000.0))
"""What is shown of a site without anything, mm."""
LEAST = 4000.0
"""A site smaller than this is drawn as if it were as large, mm."""
MEASURED = 12
"""How many openings of a host are dimensioned: all when there are no more, else those beside the one that is picked."""
ROOMY = 0.4
"""What takes up less than this of the frame that was shown is fitted to the sheet again."""
FEW = 6
"""With more walls than this only the one that is worked on is dimensioned."""
HANDLED = 200
"""With more walls than this their ends are not shown."""
SEEN = 0.6
"""Units narrower than this on paper cannot be told from each other, and are drawn as one shape."""


@dataclass(frozen=True)
class Area:
    """Closed paths on the plan, and the address they stand for; ``along`` is which way on the sheet it is moved, across
    and up, where it can be."""

    outlines: tuple[Points, ...]
    kind: str
    entry: str
    along: tuple[float, float] | None = None


@dataclass(frozen=True)
class Size:
    """A dimension: its line with two ticks, and its number, which can be typed over where ``entry`` is given; where a
    row of them is crowded it is shown from a ``zoom`` on."""

    line: Line
    ticks: tuple[Line, ...]
    x: float
    y: float
    width: float
    small: bool
    text: str
    exact: str
    entry: str
    label: str
    zoom: Zoom = ALWAYS


@dataclass(frozen=True)
class PlanSheet:
    """All that is drawn on the sheet of a plan."""

    width: float
    height: float
    areas: tuple[Area, ...]
    sizes: tuple[Size, ...]
    north: tuple[float, float]
    paper: Sheet
    storey: str
    handles: tuple[Handle, ...]
    extent: Extent
    sweeps: tuple[Points, ...] = ()
    """Open lines of what leaves sweep over."""
    aside: tuple[Aside, ...] = ()


def plan_sheet(
    scene: Scene, style: Style, picked: str = "", frame: Extent | None = None, hold: bool = False
) -> PlanSheet:
    """Lay out the plan.

    Parameters
    ----------
    picked : str
        The address of what is worked on: its storey is shown, and its dimensions.
    frame : Extent or None
        What the sheet showed before, mm: it goes on to show that as long as all is in it, or ``hold`` says so.
    """
    levels = Levels(scene.site.storeys)
    storey = storey_of(scene, levels, picked)
    hosts = plan(scene, levels, storey)
    over = outlines_over(scene)
    beside = [outline_of(one) for one in scene.site.surroundings if Address("surroundings") / one.id == picked]
    drawn = [*(_reach(one) for one in hosts), *(one.points for one in over), *beside]
    corners = np.concatenate(drawn or [np.array(EMPTY)])
    extent = _extent(corners)
    if frame is not None and (hold or _holds(frame, extent)):
        extent = frame
    sheet = Sheet.fitted_to(extent, SIZE, MARGINS)
    areas = (
        *(Area((_on(sheet, one.points),), "over", one.entry) for one in over),
        *(area for one in hosts for area in _areas(one, sheet)),
    )
    here = [one for one in hosts if not one.below]
    wall = _wall_of(scene, picked) if len(here) > FEW else ""
    told = [one for one in here if len(here) <= FEW or one.host.id == wall]
    sizes = tuple(size for one in told for size in _sizes(scene, one, sheet, style, picked, wall))
    aside, held = asides(scene.site, sheet, storey, picked)
    handles = (*_handles(scene, hosts, sheet), *held)
    sweeps = tuple(
        _on(sheet, line)
        for one in here
        for unit in one.units
        if _width(unit.pieces) * sheet.scale >= SEEN
        for line in unit.sweeps
    )
    return PlanSheet(*SIZE, areas, sizes, (SIZE[0] - NORTH[0], NORTH[1]), sheet, storey, handles, extent, sweeps, aside)


def _extent(corners: Floats) -> Extent:
    """What is to be shown for some points to be in it, mm."""
    low, high = corners.min(axis=0), corners.max(axis=0)
    across, up = np.maximum(high - low, LEAST)
    return float(low[0]), float(low[1]), float(low[0] + across), float(low[1] + up)


def _holds(frame: Extent, extent: Extent) -> bool:
    """Whether a frame has all of an extent in it, and is not far too large for it."""
    left, foot, right, head = frame
    inside = left <= extent[0] + 1 and foot <= extent[1] + 1 and right >= extent[2] - 1 and head >= extent[3] - 1
    return inside and max((extent[2] - extent[0]) / (right - left), (extent[3] - extent[1]) / (head - foot)) > ROOMY


def _wall_of(scene: Scene, picked: str) -> str:
    """The id of the wall that what is picked is, or stands in."""
    at = Address(picked)
    placed = scene.site.placement_by_id.get(at.last) if at.parent == "placements" else None
    return placed.wall if placed else at.last


def _handles(scene: Scene, hosts: Sequence[PlanHost], sheet: Sheet) -> Iterator[Handle]:
    """The ends of the walls, as long as they can be told from each other."""
    walls = [scene.site.wall_by_id[one.host.id] for one in hosts if not one.below]
    if len(walls) > HANDLED:
        return
    for wall in walls:
        for name, point in (("start", start_point(wall)), ("end", end_point(wall))):
            x, y = (float(value) for value in point)
            entry, label = Address("walls") / wall.id / name, f"{name.capitalize()} of {wall.name}"
            yield Handle(entry, label, sheet.x(x), sheet.y(y), f"{x:.10g} {y:.10g}")


def _reach(one: PlanHost) -> Floats:
    """The corners of the host's pieces, mm."""
    return np.concatenate(one.host.on_plan(0.0, float(one.host.length), -float(one.host.thickness), 0.0))


def _areas(one: PlanHost, sheet: Sheet) -> Iterator[Area]:
    yield Area(
        tuple(_on(sheet, outline) for outline in one.solid),
        "below" if one.below else "wall" if one.host.built else "line",
        one.host.entry,
        _outwards(one),
    )
    widths = [_width(unit.pieces) * sheet.scale for unit in one.units]
    starts: dict[str, float] = {Address("placements") / opening.placement: float(opening.x) for opening in one.openings}
    small = [unit for unit, width in zip(one.units, widths, strict=True) if width < SEEN]
    if small:
        yield Area(tuple(_on(sheet, piece) for unit in small for piece in unit.pieces), "unit", one.host.entry)
    for unit, width in zip(one.units, widths, strict=True):
        if width >= SEEN:
            along = one.host.frame(starts[unit.entry])[:2, 0]
            yield Area(tuple(_on(sheet, piece) for piece in unit.pieces), "unit", unit.entry, tuple(along.tolist()))


def _outwards(one: PlanHost) -> tuple[float, float] | None:
    """Which way a wall is shifted; a curved one is not."""
    if one.below or one.host.folds:
        return None
    x, y = one.host.frame()[:2, 2].tolist()
    return x, y


def _width(pieces: Sequence[Floats]) -> float:
    return sum(float(np.hypot(*(piece[1] - piece[0]))) for piece in pieces)


def _on(sheet: Sheet, outline: Floats) -> Points:
    return tuple((sheet.x(x), sheet.y(y)) for x, y in outline.tolist())


def _sizes(scene: Scene, one: PlanHost, sheet: Sheet, style: Style, picked: str, picked_wall: str) -> Iterator[Size]:
    """The dimensions of a host; of its openings only where it is the one that is worked on, or none is."""
    host, zero = one.host, Fraction(0)
    drawing = one, sheet, style
    off = FAR if one.openings and picked_wall in ("", host.id) else NEAR
    wall = scene.site.wall_by_id[host.id]
    overall = _size(drawing, (zero, host.length), off, host.entry / "length", f"Length of {host.name}")
    yield replace(overall, text=show(wall.length.mm, style), exact=exact(wall.length.mm))
    if not picked_wall or picked_wall == host.id:
        yield from _thinned([*_chain(drawing, picked)])


def _thinned(sizes: Sequence[Size]) -> Iterator[Size]:
    """A row of dimensions, each number shown from how near it has room."""
    middles, rooms, at = list[float](), list[float](), 0.0
    for size in sizes:
        across, up = size.line.x2 - size.line.x1, size.line.y2 - size.line.y1
        long = float(np.hypot(across, up))
        middles.append(at + long / 2)
        rooms.append((size.width * abs(across) + FIGURE[1] * abs(up)) / max(long, EPSILON))
        at += long
    for size, zoom in zip(sizes, zooms(middles, rooms), strict=True):
        yield replace(size, zoom=zoom)


def _chain(drawing: tuple[PlanHost, Sheet, Style], picked: str) -> Iterator[Size]:
    """The dimensions of a host's openings and of what is between them."""
    one, zero = drawing[0], Fraction(0)
    host = one.host
    first, last = _measured(one, picked)
    reached = one.openings[first - 1].right if first else zero
    for opening in one.openings[first:last]:
        own = Address("placements") / opening.placement
        if opening.x > reached:
            entry = own / "before" if beside(opening, one.openings, host.length)[0] == reached else ""
            yield _size(drawing, (reached, opening.x), NEAR, entry, f"Before {opening.placement}")
        yield _size(drawing, (opening.x, opening.right), NEAR, "", f"Width of {opening.placement}")
        reached = opening.right
    if one.openings and last == len(one.openings) and reached < host.length:
        final = max(one.openings, key=lambda opening: opening.right)
        entry = Address("placements") / final.placement / "behind" if final.right == reached else ""
        yield _size(drawing, (reached, host.length), NEAR, entry, f"Behind {final.placement}")


def _measured(one: PlanHost, picked: str) -> tuple[int, int]:
    """Which of a host's openings are dimensioned."""
    count = len(one.openings)
    if count <= MEASURED:
        return 0, count
    at = next((n for n, own in enumerate(one.openings) if Address("placements") / own.placement == picked), None)
    return (0, 0) if at is None else (max(0, at - 1), min(count, at + 2))


def _size(
    drawing: tuple[PlanHost, Sheet, Style], span: tuple[Fraction, Fraction], off: float, entry: str, label: str
) -> Size:
    one, sheet, style = drawing
    ends, ticks = [], []
    for at in (float(span[0]), float(span[1]) - EPSILON):
        frame = one.host.frame(at)
        outwards = frame[:2, 2]
        x, y = (frame @ (at, 0.0, off / sheet.scale, 1.0))[:2]
        ends.append((sheet.x(x), sheet.y(y)))
        dx, dy = float(outwards[0]) * TICK, -float(outwards[1]) * TICK
        ticks.append(Line(ends[-1][0] - dx, ends[-1][1] - dy, ends[-1][0] + dx, ends[-1][1] + dy))
    (ax, ay), (bx, by) = ends
    size = span[1] - span[0]
    width, small = room_for(show(size, style), max(float(np.hypot(bx - ax, by - ay)) - 1.0, LEAST_FIGURE))
    width = min(width, FIGURE[0])
    x, y = (ax + bx) / 2 - width / 2, (ay + by) / 2 - FIGURE[1] / 2
    return Size(Line(ax, ay, bx, by), tuple(ticks), x, y, width, small, show(size, style), exact(size), entry, label)
