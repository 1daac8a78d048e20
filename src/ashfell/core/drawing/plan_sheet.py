"""The sheet of a plan laid out: hosts, units and their dimensions, each number with the address that typing over it
changes.

Lengths on the sheet are millimetres of paper.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from ashfell.core.base.address import Address
from ashfell.core.base.lengths import Style, exact, show
from ashfell.core.drawing.paper import Sheet
from ashfell.core.drawing.sheet import Line, Points
from ashfell.core.plane.points import Floats
from ashfell.core.site.document import SiteDocument
from ashfell.core.site.plan import PlanHost, plan
from ashfell.core.site.scene import Scene

SIZE = (169.333, 177.8)
MARGINS = (29.6, 29.6, 21.7, 24.3)
"""Left, right, top and foot."""
NEAR, FAR = 8.5, 19.0
"""How far the chain and the overall dimension stand off a wall."""
FIGURE = (13.76, 6.35)
TICK = 1.06
NORTH = (9.0, 10.6)
"""Where the north point stands, from the right and from the top."""
LEAST = 1000.0
"""A site smaller than this is drawn as if it were as large, mm."""
MEASURED = 12
"""How many openings of a host are dimensioned: all when there are no more, else those beside the one that is picked."""
SEEN = 0.6
"""Units narrower than this on paper cannot be told from each other, and are drawn as one shape."""


@dataclass(frozen=True)
class Area:
    """Closed paths on the plan, and the address they stand for."""

    outlines: tuple[Points, ...]
    kind: str
    entry: str


@dataclass(frozen=True)
class Size:
    """A dimension: its line with two ticks, and its number, which can be typed over where ``entry`` is given."""

    line: Line
    ticks: tuple[Line, ...]
    x: float
    y: float
    text: str
    exact: str
    entry: str
    label: str


@dataclass(frozen=True)
class PlanSheet:
    """All that is drawn on the sheet of a plan."""

    width: float
    height: float
    areas: tuple[Area, ...]
    sizes: tuple[Size, ...]
    north: tuple[float, float]


def plan_sheet(site: SiteDocument, scene: Scene, style: Style, picked: str = "") -> PlanSheet | None:
    """Lay out the plan; None for a site without hosts. ``picked`` is the address of the placement that is worked on."""
    hosts = plan(site, scene)
    if not hosts:
        return None
    corners = np.concatenate([_reach(one) for one in hosts])
    low, high = corners.min(axis=0), corners.max(axis=0)
    across, up = np.maximum(high - low, LEAST)
    extent = float(low[0]), float(low[1]), float(low[0] + across), float(low[1] + up)
    sheet = Sheet.fitted_to(extent, SIZE, MARGINS)
    areas = tuple(area for one in hosts for area in _areas(one, sheet))
    sizes = tuple(size for one in hosts for size in _sizes(site, one, sheet, style, picked))
    return PlanSheet(*SIZE, areas, sizes, (SIZE[0] - NORTH[0], NORTH[1]))


def _reach(one: PlanHost) -> Floats:
    """The host's four corners, mm."""
    frame, length, thickness = one.host.frame(), float(one.host.length), float(one.host.thickness)
    start, along, inwards = frame[:2, 3], frame[:2, 0] * length, -frame[:2, 2] * thickness
    return np.array([start, start + along, start + along + inwards, start + inwards])


def _areas(one: PlanHost, sheet: Sheet) -> Iterator[Area]:
    yield Area(tuple(_on(sheet, outline) for outline in one.solid), "wall", one.host.entry)
    widths = [float(np.hypot(*(outline[1] - outline[0]))) * sheet.scale for _, outline in one.units]
    small = [outline for (_, outline), width in zip(one.units, widths, strict=True) if width < SEEN]
    if small:
        yield Area(tuple(_on(sheet, outline) for outline in small), "unit", one.host.entry)
    for (entry, outline), width in zip(one.units, widths, strict=True):
        if width >= SEEN:
            yield Area((_on(sheet, outline),), "unit", entry)


def _on(sheet: Sheet, outline: Floats) -> Points:
    return tuple((sheet.x(x), sheet.y(y)) for x, y in outline.tolist())


def _sizes(site: SiteDocument, one: PlanHost, sheet: Sheet, style: Style, picked: str) -> Iterator[Size]:
    host, zero = one.host, Fraction(0)
    drawing = one, sheet, style
    yield _size(
        drawing, (zero, host.length), FAR if one.openings else NEAR, host.entry / "length", f"Length of {host.name}"
    )
    first, last = _measured(one, picked)
    measured = {placement.id: placement.measured for placement in site.placements_in.get(host.id, ())}
    reached = one.openings[first - 1].right if first else zero
    for opening in one.openings[first:last]:
        own = Address("placements") / opening.placement
        entry = own / "offset" if measured[opening.placement] == "start" and reached == 0 else ""
        if opening.x > reached:
            yield _size(drawing, (reached, opening.x), NEAR, entry, f"Offset of {opening.placement}")
        yield _size(drawing, (opening.x, opening.right), NEAR, "", f"Width of {opening.placement}")
        reached = opening.right
    if one.openings and last == len(one.openings) and reached < host.length:
        yield _size(drawing, (reached, host.length), NEAR, "", f"Behind the last opening of {host.name}")


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
    frame = one.host.frame()
    along, outwards = frame[:2, 0], frame[:2, 2]
    away = frame[:2, 3] + outwards * off / sheet.scale
    (ax, ay), (bx, by) = ((sheet.x(x), sheet.y(y)) for x, y in (away + along * float(end) for end in span))
    dx, dy = float(outwards[0]) * TICK, -float(outwards[1]) * TICK
    ticks = tuple(Line(x - dx, y - dy, x + dx, y + dy) for x, y in ((ax, ay), (bx, by)))
    x, y = (ax + bx) / 2 - FIGURE[0] / 2, (ay + by) / 2 - FIGURE[1] / 2
    size = span[1] - span[0]
    return Size(Line(ax, ay, bx, by), ticks, x, y, show(size, style), exact(size), entry, label)
