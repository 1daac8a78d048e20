"""The sheets of a plan and of a wall's elevation as their page draws them."""

from __future__ import annotations

from dataclasses import dataclass

from ashfell.core.base.address import Address
from ashfell.core.base.lengths import Style
from ashfell.core.drawing.aside import HANDLED
from ashfell.core.drawing.plan_sheet import PlanSheet, Size
from ashfell.core.drawing.sheet import Points
from ashfell.core.drawing.wall_face import Hole
from ashfell.core.drawing.wall_sheet import Beside, WallSheet
from ashfell.core.site.aside import hung
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.edit import ROOM, ROOM_IN_FEET
from ashfell.core.site.settle import Levels
from ashfell.formats.svg import PX, shapes_svg
from ashfell.studio.drawn import all_in_pixels, in_pixels, path


@dataclass(frozen=True)
class DrawnArea:
    """Closed paths, the address they stand for, and which way they are moved."""

    d: str
    kind: str
    entry: str
    along: str


@dataclass(frozen=True)
class DrawnSize:
    """A dimension with its line and ticks."""

    of: Size
    line: object
    ticks: tuple[object, ...]


@dataclass(frozen=True)
class DrawnAside:
    """A lamp or a camera, and what that sees."""

    of: object
    sight: str
    outline: str


@dataclass(frozen=True)
class DrawnPlan:
    """What the template of the plan goes through."""

    width: float
    height: float
    areas: tuple[DrawnArea, ...]
    sizes: tuple[DrawnSize, ...]
    north: tuple[float, float]
    handles: tuple[object, ...]
    scale: float
    left: float
    foot: float
    storey: str
    frame: str
    sweeps: str
    aside: tuple[DrawnAside, ...]


def _closed(points: Points) -> str:
    return path(points) if points else ""


def drawn_plan(sheet: PlanSheet) -> DrawnPlan:
    """A plan ready for the page."""
    north = round(sheet.north[0] * PX, 1), round(sheet.north[1] * PX, 1)
    areas = tuple(
        DrawnArea("".join(path(outline) for outline in area.outlines), area.kind, area.entry, _way(area.along))
        for area in sheet.areas
    )
    sizes = tuple(DrawnSize(in_pixels(size), in_pixels(size.line), all_in_pixels(size.ticks)) for size in sheet.sizes)
    paper = sheet.paper.times(PX)
    return DrawnPlan(
        round(sheet.width * PX, 1),
        round(sheet.height * PX, 1),
        areas,
        sizes,
        north,
        all_in_pixels(sheet.handles),
        round(paper.scale, 9),
        round(paper.x(0.0), 3),
        round(paper.y(0.0), 3),
        sheet.storey,
        " ".join(f"{edge:.10g}" for edge in sheet.extent),
        "".join(path(line, closed=False) for line in sheet.sweeps),
        tuple(
            DrawnAside(in_pixels(one), _closed(one.sight), "".join(map(_closed, one.outlines))) for one in sheet.aside
        ),
    )


def _way(along: tuple[float, float] | None) -> str:
    return f"{along[0]:.6g} {along[1]:.6g}" if along else ""


@dataclass(frozen=True)
class DrawnHole:
    """An opening's outline."""

    of: Hole
    d: str


@dataclass(frozen=True)
class DrawnWall:
    """What the template of a wall's elevation goes through: ``units`` are elevations drawn once, ``placed`` which of
    them stands where, as a transform."""

    looks: str
    width: float
    height: float
    scale: float
    left: float
    foot: float
    wall: str
    beside: tuple[tuple[Beside, str], ...]
    holes: tuple[DrawnHole, ...]
    small: str
    units: tuple[str, ...]
    placed: tuple[tuple[int, str], ...]
    boxes: tuple[object, ...]
    figures: tuple[object, ...]
    locks: tuple[object, ...]
    lines: tuple[object, ...]
    folds: tuple[object, ...]
    floors: tuple[object, ...]
    lamps: tuple[tuple[object, str], ...]


def drawn_wall(sheet: WallSheet) -> DrawnWall:
    """A wall's elevation ready for the page."""
    paper, local = sheet.paper.times(PX), sheet.local.times(PX)
    placed = tuple(
        (one.drawing, f"translate({one.x * PX:.5g} {one.y * PX:.5g}){' scale(-1 1)' if one.over else ''}")
        for one in sheet.placed
    )
    return DrawnWall(
        sheet.looks,
        round(paper.width, 2),
        round(paper.height, 2),
        round(paper.scale, 9),
        round(sheet.start * PX, 3),
        round(sheet.foot * PX, 3),
        path(sheet.wall),
        tuple((one, path(one.points)) for one in sheet.beside),
        tuple(DrawnHole(hole, path(hole.points)) for hole in sheet.holes),
        "".join(path(points) for points in sheet.small),
        tuple(shapes_svg(shapes, local) for shapes in sheet.drawings),
        placed,
        all_in_pixels(sheet.boxes),
        all_in_pixels(sheet.figures),
        all_in_pixels(sheet.locks),
        all_in_pixels(sheet.lines),
        all_in_pixels(sheet.folds),
        all_in_pixels(sheet.floors),
        tuple((in_pixels(one), f"{one.along[0]:.9g} {one.along[1]:.9g}") for one in sheet.lamps),
    )


def hung_in_3d(site: SiteDocument) -> list[tuple[str, str, str, str]]:
    """The lamps: address, name, middle in 3D (y up) and how far across, m; none where they are too many to tell."""
    if len(site.lamps) > HANDLED:
        return []
    found = []
    for one in hung(site):
        x, y, z = one.middle / 1000
        across = float(one.lamp.width.mm) / 1000
        found.append((str(Address("lamps") / one.lamp.id), one.lamp.name, f"{x:.4f} {z:.4f} {-y:.4f}", f"{across:g}"))
    return found


def levels_in_3d(site: SiteDocument) -> list[tuple[str, str, str]]:
    """The storeys: id, name and level."""
    names = {storey.id: storey.name for storey in site.storeys}
    return [(key, names[key], f"{float(level):g}") for key, level in Levels(site.storeys).of.items()]


def room_of(style: Style) -> dict[str, str]:
    """What a first room is offered with."""
    return ROOM_IN_FEET if style.bare in ("in", "ft") else ROOM
