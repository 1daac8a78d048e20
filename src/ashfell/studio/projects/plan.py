"""The plan as a form: where on its sheet walls, units and their dimensions stand."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from ashfell.core.base.lengths import Style, exact, show
from ashfell.core.drawing.paper import Sheet
from ashfell.core.scene import Scene
from ashfell.core.wall import SiteDocument
from ashfell.core.wall.plan import PlanWall, plan
from ashfell.formats.svg import path_data

SIZE = (640.0, 672.0)
MARGIN = 112.0
NEAR, FAR = 32.0, 72.0
"""How far the chain and the overall dimension stand off a wall, on the sheet."""
INPUT = (52.0, 24.0)


@dataclass(frozen=True)
class Area:
    """A closed path on the plan."""

    path: str
    kind: str
    entry: str


@dataclass(frozen=True)
class Size:
    """A dimension: its line with two ticks, and its number, an input where ``entry`` is given."""

    line: tuple[float, float, float, float]
    ticks: tuple[tuple[float, float, float, float], ...]
    x: float
    y: float
    text: str
    exact: str
    entry: str
    label: str


@dataclass(frozen=True)
class PlanSheet:
    width: float
    height: float
    areas: tuple[Area, ...]
    sizes: tuple[Size, ...]
    north: tuple[float, float]


def plan_sheet(site: SiteDocument, scene: Scene, style: Style) -> PlanSheet | None:
    """Lay out the plan; None for a site without walls."""
    walls = plan(site, scene.openings)
    if not walls:
        return None
    corners = np.concatenate([wall.matrix[:2, 3:].T + _reach(wall) for wall in walls])
    low, high = corners.min(axis=0), corners.max(axis=0)
    across, up = np.maximum(high - low, 1000.0)
    fitted = Sheet.fitted(float(across), float(up), SIZE, (MARGIN, MARGIN, MARGIN - 30, MARGIN - 20))
    sheet = Sheet(
        *SIZE,
        fitted.scale,
        fitted.left - float(low[0]) * fitted.scale,
        fitted.foot + float(low[1]) * fitted.scale,
    )
    areas = tuple(area for wall in walls for area in _areas(site, wall, sheet))
    sizes = tuple(size for wall in walls for size in _sizes(site, wall, sheet, style))
    return PlanSheet(*SIZE, areas, sizes, (SIZE[0] - 34, 40))


def _reach(wall: PlanWall) -> np.ndarray:
    """The wall's four corners from its start, mm."""
    length, thickness = float(wall.wall.length.mm), float(wall.wall.thickness.mm)
    along, outwards = wall.matrix[:2, 0] * length, wall.matrix[:2, 2]
    return np.array([along * 0, along, along - outwards * thickness, -outwards * thickness])


def _areas(site: SiteDocument, wall: PlanWall, sheet: Sheet) -> Iterator[Area]:
    for path in path_data(sheet, wall.solid) if wall.solid else ():
        yield Area(path, "wall", f"walls.{wall.wall.id}")
    index = {placement.id: number for number, placement in enumerate(site.placements)}
    for key, outline in wall.units:
        yield Area(path_data(sheet, [outline])[0], "unit", f"placements.{site.placements[index[key]].id}")


def _sizes(site: SiteDocument, wall: PlanWall, sheet: Sheet, style: Style) -> Iterator[Size]:
    number = next(n for n, other in enumerate(site.walls) if other.id == wall.wall.id)
    length = wall.wall.length.mm
    name = wall.wall.name
    yield _size(
        wall,
        sheet,
        style,
        (Fraction(0), length),
        FAR if wall.openings else NEAR,
        f"walls.{number}.length",
        f"Length of {name}",
    )
    reached = Fraction(0)
    for opening in wall.openings:
        place = next(n for n, placement in enumerate(site.placements) if placement.id == opening.placement)
        measured = site.placements[place].measured
        entry = f"placements.{place}.offset" if measured == "start" and reached == 0 else ""
        if opening.x > reached:
            yield _size(wall, sheet, style, (reached, opening.x), NEAR, entry, f"Offset of {opening.placement}")
        yield _size(wall, sheet, style, (opening.x, opening.right), NEAR, "", f"Width of {opening.placement}")
        reached = opening.right
    if wall.openings and reached < length:
        yield _size(wall, sheet, style, (reached, length), NEAR, "", f"Behind the last opening of {name}")


def _size(
    wall: PlanWall, sheet: Sheet, style: Style, span: tuple[Fraction, Fraction], off: float, entry: str, label: str
) -> Size:
    along, outwards = wall.matrix[:2, 0], wall.matrix[:2, 2]
    start, away = wall.matrix[:2, 3], outwards * off / sheet.scale
    ends = [start + along * float(end) + away for end in span]
    (ax, ay), (bx, by) = ((sheet.x(x), sheet.y(y)) for x, y in ends)
    dx, dy = float(outwards[0]) * 4, -float(outwards[1]) * 4
    ticks = tuple(
        (round(x - dx, 1), round(y - dy, 1), round(x + dx, 1), round(y + dy, 1)) for x, y in ((ax, ay), (bx, by))
    )
    return Size(
        (ax, ay, bx, by),
        ticks,
        round((ax + bx) / 2 - INPUT[0] / 2, 1),
        round((ay + by) / 2 - INPUT[1] / 2, 1),
        show(span[1] - span[0], style),
        exact(span[1] - span[0]),
        entry,
        label,
    )


def rows_of(site: SiteDocument) -> list[tuple[int, object, Sequence[tuple[int, object]]]]:
    """Each wall with its number and its placements with theirs, for the list."""
    placed = list(enumerate(site.placements))
    return [(n, wall, [(m, p) for m, p in placed if p.wall == wall.id]) for n, wall in enumerate(site.walls)]
