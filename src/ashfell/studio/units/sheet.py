"""The elevation as a form: where on its sheet each dimension stands, so that its number can be an input.

Sheet units are CSS pixels at the sheet's natural size.
"""

from __future__ import annotations

from dataclasses import dataclass

from ashfell.core.drawing import Dimension
from ashfell.core.lengths import Style, exact, show
from ashfell.core.unit import Layout, Unit
from ashfell.core.unit.document import Axis
from ashfell.formats.svg import Sheet, shapes_svg

SIZE = (640.0, 672.0)
TOP, FOOT, RIGHT, LEFT = 50.0, 132.0, 84.0, 106.0
BAR_LANE = 46.0
"""Room for the faces of transoms, left of their strip."""
BAND = 52.0
"""Depth of a strip's band: an input and a lock."""
GAP = 16.0
INPUT = 24.0
LETTER, SMALL_LETTER = 7.6, 6.3
"""Width of a figure in the two sizes of number on the sheet, and of what stands beside it."""
BESIDE = 6.0


@dataclass(frozen=True)
class Slot:
    """An input on the sheet: where it stands and what typing in it changes."""

    id: str
    entry: str
    value: str
    exact: str
    label: str
    x: float
    y: float
    width: float
    height: float = INPUT
    lights: str = ""
    small: bool = False


@dataclass(frozen=True)
class Handle:
    """What makes a bar's stretch movable: along which axis, where it is and how far it can go, mm."""

    axis: Axis
    label: str
    now: float
    least: float
    most: float
    text: str


@dataclass(frozen=True)
class Box:
    """A stretch of a strip: a light or a member, to scale."""

    kind: str
    x: float
    y: float
    width: float
    height: float
    entry: str
    lights: str = ""
    handle: Handle | None = None


@dataclass(frozen=True)
class Lock:
    """A button that locks a light at its size, or lets it share again."""

    id: str
    entry: str
    locked: bool
    label: str
    x: float
    y: float
    lights: str = ""


@dataclass(frozen=True)
class Mark:
    """A small number without an input, such as a distance of centres."""

    text: str
    x: float
    y: float
    anchor: str = "middle"


@dataclass(frozen=True)
class Line:
    x1: float
    y1: float
    x2: float
    y2: float


@dataclass(frozen=True)
class UnitSheet:
    """All that is drawn on the sheet of a unit."""

    width: float
    height: float
    scale: float
    shapes: str
    boxes: tuple[Box, ...]
    slots: tuple[Slot, ...]
    locks: tuple[Lock, ...]
    marks: tuple[Mark, ...]
    lines: tuple[Line, ...]


def unit_sheet(unit: Unit, style: Style) -> UnitSheet:
    """Lay out the elevation with its two spacing strips and its overall dimensions."""
    layout = unit.layout
    left = LEFT + (BAR_LANE if layout.rows.bars else 0)
    sheet = Sheet.fitted(float(layout.outer.width), float(layout.outer.height), SIZE, (left, RIGHT, TOP, FOOT))
    right, top = sheet.x(layout.outer.width), sheet.y(layout.outer.height)
    found = unit.dimensions
    pieces = [dimension for dimension in found if dimension.kind != "overall"]
    return UnitSheet(
        *SIZE,
        round(sheet.scale, 6),
        shapes_svg(unit.shapes, sheet),
        tuple(_box(piece, layout, sheet, style) for piece in pieces),
        tuple(_slot(dimension, sheet, style, (right, top)) for dimension in found if not _repeats(dimension)),
        tuple(
            _lock(piece, layout, sheet, style) for piece in pieces if piece.kind == "light" and _has_room(piece, sheet)
        ),
        tuple(_centre_marks(layout, sheet, style)),
        tuple(
            line
            for dimension in found
            if dimension.kind == "overall"
            for line in _overall_lines(dimension, sheet, (right, top))
        ),
    )


def _has_room(piece: Dimension, sheet: Sheet) -> bool:
    """Whether a lock fits; in narrower lights a size is locked by typing it, and let go by emptying it."""
    return float(piece.size) * sheet.scale >= 24


def _repeats(dimension: Dimension) -> bool:
    """The far perimeter member has the face of the near one; the rows' perimeter that of the columns'."""
    return dimension.kind == "edge" and (dimension.index == 1 or dimension.axis == "rows")


def _lights(dimension: Dimension) -> str:
    if dimension.kind != "light":
        return ""
    return f"{'c' if dimension.axis == 'columns' else 'r'}{dimension.index + 1}"


def _box(piece: Dimension, layout: Layout, sheet: Sheet, style: Style) -> Box:
    handle = _handle(piece, layout, style) if piece.kind == "bar" else None
    if piece.axis == "columns":
        x, width = sheet.x(piece.start), float(piece.size) * sheet.scale
        return Box(piece.kind, x, _column_band(sheet), width, BAND, piece.entry, _lights(piece), handle)
    y, height = sheet.y(piece.end), float(piece.size) * sheet.scale
    return Box(piece.kind, _row_band(sheet), y, BAND + 24, height, piece.entry, _lights(piece), handle)


def _handle(piece: Dimension, layout: Layout, style: Style) -> Handle:
    """A bar can go as far as the lights beside it leave room."""
    lights = layout.spacing(piece.axis).lights
    before, behind = lights[piece.index], lights[piece.index + 1]
    name = "Mullion" if piece.axis == "columns" else "Transom"
    return Handle(
        piece.axis, f"{name} {piece.index + 1}", float(piece.start), float(before.start), float(behind.end - piece.size),
        show(piece.start, style),
    )  # fmt: skip


def _column_band(sheet: Sheet) -> float:
    return sheet.y(0) + GAP


def _row_band(sheet: Sheet) -> float:
    return sheet.x(0) - GAP - BAND - 24


def _slot(dimension: Dimension, sheet: Sheet, style: Style, corner: tuple[float, float]) -> Slot:
    text = show(dimension.size, style)
    if dimension.kind == "overall":
        x, y, width, small = _overall_slot(dimension, sheet, corner)
    elif dimension.kind == "light":
        x, y, width, small = _light_slot(dimension, sheet, text)
    else:
        x, y, width, small = _bar_slot(dimension, sheet, text)
    return Slot(
        f"sheet-{dimension.entry.replace('.', '-')}",
        dimension.entry,
        text,
        exact(dimension.size),
        _label(dimension),
        round(x, 1),
        round(y, 1),
        round(width, 1),
        lights=_lights(dimension),
        small=small,
    )


def _room_for(text: str, room: float) -> tuple[float, bool]:
    """How wide an input must be for its text, and whether in small figures because there is no more room."""
    large, small = len(text) * LETTER + BESIDE, len(text) * SMALL_LETTER + BESIDE
    return (max(large, 34), False) if large <= room else (small, True)


def _label(dimension: Dimension) -> str:
    number = dimension.index + 1
    if dimension.kind == "overall":
        return "Overall width" if dimension.axis == "columns" else "Overall height"
    if dimension.kind == "edge":
        return "Frame face"
    if dimension.kind == "light":
        return f"Clear width of column {number}" if dimension.axis == "columns" else f"Clear height of row {number}"
    return f"Face of mullion {number}" if dimension.axis == "columns" else f"Face of transom {number}"


_Place = tuple[float, float, float, bool]
"""Left, top, width, and whether in small figures."""


def _overall_slot(dimension: Dimension, sheet: Sheet, corner: tuple[float, float]) -> _Place:
    right, top = corner
    middle = _middle(dimension, sheet)
    if dimension.axis == "columns":
        return middle - 45, top - 40, 90, False
    return right + 13, middle - INPUT / 2, 70, False


def _middle(dimension: Dimension, sheet: Sheet) -> float:
    place = sheet.x if dimension.axis == "columns" else sheet.y
    return (place(dimension.start) + place(dimension.end)) / 2


def _light_slot(dimension: Dimension, sheet: Sheet, text: str) -> _Place:
    middle, size = _middle(dimension, sheet), float(dimension.size) * sheet.scale
    if dimension.axis == "columns":
        width, small = _room_for(text, size - 2)
        lower = INPUT + 2 if width > size and dimension.index % 2 else 0
        return middle - width / 2, _column_band(sheet) + 2 + lower, width, small
    _, small = _room_for(text, BAND - 2)
    return _row_band(sheet) + 2, middle - INPUT / 2, BAND - 2, small


def _bar_slot(dimension: Dimension, sheet: Sheet, text: str) -> _Place:
    middle = _middle(dimension, sheet)
    if dimension.axis == "columns":
        width, small = _room_for(text, 50)
        return middle - width / 2, _column_band(sheet) + BAND + 4, width, small
    width, small = _room_for(text, BAR_LANE)
    return _row_band(sheet) - max(BAR_LANE, width), middle - INPUT / 2, max(BAR_LANE, width), small


def _lock(piece: Dimension, layout: Layout, sheet: Sheet, style: Style) -> Lock:
    light = layout.spacing(piece.axis).lights[piece.index]
    where = f"{'column' if piece.axis == 'columns' else 'row'} {piece.index + 1}"
    label = f"Let {where} share the rest" if light.fixed else f"Lock {where} at {show(light.size, style)}"
    if piece.axis == "columns":
        x, y = (sheet.x(piece.start) + sheet.x(piece.end)) / 2 - 12, _column_band(sheet) + INPUT + 3
    else:
        x, y = _row_band(sheet) + BAND, (sheet.y(piece.start) + sheet.y(piece.end)) / 2 - 12
    entry = f"{piece.axis}.lights.{piece.index}.locked"
    return Lock(f"lock-{piece.axis}-{piece.index}", entry, light.fixed, label, round(x, 1), round(y, 1), _lights(piece))


def _centre_marks(layout: Layout, sheet: Sheet, style: Style) -> list[Mark]:
    """Distances from clear edge to bar centre, bar centre to bar centre, and on to the other clear edge."""
    marks = []
    spacing = layout.columns
    if spacing.bars:
        at = spacing.lights[0].start
        for distance in spacing.centre_distances:
            middle = sheet.x(at + distance / 2)
            marks.append(Mark(show(distance, style), middle, _column_band(sheet) + BAND + 46))
            at += distance
        marks.append(Mark("centres", sheet.x(0) - 8, _column_band(sheet) + BAND + 46, "end"))
    return marks


def _overall_lines(dimension: Dimension, sheet: Sheet, corner: tuple[float, float]) -> list[Line]:
    right, top = corner
    if dimension.axis == "columns":
        y, a, b = round(top - 11, 2), sheet.x(dimension.start), sheet.x(dimension.end)
        return [Line(a, y, b, y), Line(a, y - 5, a, y + 5), Line(b, y - 5, b, y + 5)]
    x, a, b = round(right + 11, 2), sheet.y(dimension.start), sheet.y(dimension.end)
    return [Line(x, a, x, b), Line(x - 5, a, x + 5, a), Line(x - 5, b, x + 5, b)]
