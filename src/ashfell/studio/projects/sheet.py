"""The sheet of a plan as its page draws it."""

from __future__ import annotations

from dataclasses import dataclass

from ashfell.core.drawing.plan_sheet import PlanSheet, Size
from ashfell.formats.svg import PX
from ashfell.studio.drawn import all_in_pixels, in_pixels, path


@dataclass(frozen=True)
class DrawnArea:
    """Closed paths, and the address they stand for."""

    d: str
    kind: str
    entry: str


@dataclass(frozen=True)
class DrawnSize:
    """A dimension with its line and ticks."""

    of: Size
    line: object
    ticks: tuple[object, ...]


@dataclass(frozen=True)
class DrawnPlan:
    """What the template of the plan goes through."""

    width: float
    height: float
    areas: tuple[DrawnArea, ...]
    sizes: tuple[DrawnSize, ...]
    north: tuple[float, float]


def drawn_plan(sheet: PlanSheet) -> DrawnPlan:
    """A plan ready for the page."""
    north = round(sheet.north[0] * PX, 1), round(sheet.north[1] * PX, 1)
    areas = tuple(
        DrawnArea("".join(path(outline) for outline in area.outlines), area.kind, area.entry) for area in sheet.areas
    )
    sizes = tuple(DrawnSize(in_pixels(size), in_pixels(size.line), all_in_pixels(size.ticks)) for size in sheet.sizes)
    return DrawnPlan(round(sheet.width * PX, 1), round(sheet.height * PX, 1), areas, sizes, north)
