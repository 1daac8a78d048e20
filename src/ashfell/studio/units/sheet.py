"""The sheet of a unit as its page draws it: the core's millimetres of paper as CSS pixels, its shapes and paths
as SVG.
"""

from __future__ import annotations

from dataclasses import dataclass
from weakref import WeakKeyDictionary

from ashfell.core.base.lengths import Style
from ashfell.core.drawing.points import PointsSheet
from ashfell.core.drawing.sheet import KeyElevation, Line, UnitSheet, View
from ashfell.core.drawing.unit_sheet import unit_sheet
from ashfell.core.unit import Unit
from ashfell.formats.svg import PX, shapes_svg
from ashfell.studio.drawn import all_in_pixels, in_pixels, path


@dataclass(frozen=True)
class DrawnPath:
    """A path on the page: its data, its classes, and what it stands for."""

    d: str
    kind: str
    at: str = ""
    label: str = ""
    light: str = ""
    within: str = ""
    chosen: bool = False


@dataclass(frozen=True)
class DrawnKey:
    """The key elevation on the page."""

    of: KeyElevation
    line: Line
    outlines: tuple[str, ...]


@dataclass(frozen=True)
class DrawnSheet:
    """What the template of the drawing goes through."""

    width: float
    height: float
    scale: float
    left: float
    foot: float
    mirrored: bool
    shapes: str
    boxes: tuple[object, ...]
    figures: tuple[object, ...]
    locks: tuple[object, ...]
    marks: tuple[object, ...]
    lines: tuple[object, ...]
    symbols: tuple[DrawnPath, ...]
    picks: tuple[DrawnPath, ...]
    key: DrawnKey | None
    grips: tuple[object, ...]


Asked = tuple[Style, str, View, float]
"""In what a sheet of a unit is drawn: lengths, what is picked, from where, and where it is cut."""
LONGEST = 3_000_000
"""How long the shapes of a sheet are that is kept, at most, characters of SVG."""
_LAST: WeakKeyDictionary[Unit, tuple[Asked, DrawnSheet]] = WeakKeyDictionary()


def sheet_of(unit: Unit, style: Style, at: str, side: View, cut: float) -> DrawnSheet:
    """The sheet of a unit ready for the page; the last one is kept as long as the unit is, since pages are opened
    again, if it is not so long that a few of them would fill the memory."""
    asked = style, at, side, cut
    kept = _LAST.get(unit)
    if kept is not None and kept[0] == asked:
        return kept[1]
    made = drawn(unit_sheet(unit, *asked))
    if len(made.shapes) < LONGEST:
        _LAST[unit] = asked, made
    return made


def drawn(sheet: UnitSheet) -> DrawnSheet:
    """A sheet ready for the page."""
    paper = sheet.paper.times(PX)
    symbols = tuple(
        DrawnPath(
            "".join(path(one, closed=False) for one in stroke.paths),
            f"symbol {stroke.kind}{' away' if stroke.away else ''}",
        )
        for stroke in sheet.strokes
    )
    picks = tuple(
        DrawnPath(path(pick.points), kind, pick.at, pick.label, pick.key, pick.within, pick.chosen)
        for pick in sheet.picks
        for kind in ["pick chosen" if pick.chosen else "pick"]
    )
    return DrawnSheet(
        round(paper.width, 2),
        round(paper.height, 2),
        round(paper.scale, 6),
        round(paper.left, 3),
        round(paper.foot, 3),
        sheet.mirrored,
        shapes_svg(sheet.shapes, paper),
        all_in_pixels(sheet.boxes),
        all_in_pixels(sheet.figures),
        all_in_pixels(sheet.locks),
        all_in_pixels(sheet.marks),
        all_in_pixels(sheet.lines),
        symbols,
        picks,
        _key(sheet.key),
        all_in_pixels(sheet.grips),
    )


def _key(key: KeyElevation | None) -> DrawnKey | None:
    if key is None:
        return None
    return DrawnKey(in_pixels(key), in_pixels(key.line), tuple(path(outline) for outline in key.outlines))


@dataclass(frozen=True)
class DrawnPoints:
    """What the template of a path with its points goes through."""

    of: PointsSheet
    width: float
    height: float
    scale: float
    left: float
    foot: float
    d: str
    points: tuple[object, ...]
    guides: tuple[object, ...]


def drawn_points(sheet: PointsSheet) -> DrawnPoints:
    """A path with its points ready for the page."""
    paper = sheet.paper.times(PX)
    return DrawnPoints(
        sheet,
        round(paper.width, 2),
        round(paper.height, 2),
        round(paper.scale, 6),
        round(paper.left, 3),
        round(paper.foot, 3),
        path(sheet.outline, closed=sheet.closed),
        all_in_pixels(sheet.points),
        all_in_pixels(sheet.guides),
    )
