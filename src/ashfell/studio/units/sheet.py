"""The drawing as a form: where on its sheet each dimension stands, so that its number can be an input.

Sheet units are CSS pixels at the sheet's natural size. The strips show one cell of the unit, the one that is looked at.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from itertools import pairwise
from typing import Literal

from ashfell.core.base.address import entry_below
from ashfell.core.base.lengths import Style, exact, show
from ashfell.core.drawing.dimension import dimensions
from ashfell.core.drawing.symbols import symbols
from ashfell.core.drawing.view import Dimension, Shape, elevation, section
from ashfell.core.kinds.fillings.muntins import muntin_field
from ashfell.core.unit import Unit
from ashfell.core.unit.document.members import AXES, Axis
from ashfell.core.unit.layout import CellLayout
from ashfell.formats.svg import Extent, Sheet, extent_of, shapes_svg

Side = Literal["outside", "inside", "across", "up"]
SIDES: dict[Side, str] = {"outside": "Outside", "inside": "Inside", "across": "Cut across", "up": "Cut up"}
AXES_OF: dict[Side, tuple[Axis, ...]] = {"outside": AXES, "inside": AXES, "across": ("columns",), "up": ("rows",)}
"""Along which axes a side has dimensions."""
SIZE = (640.0, 640.0)
TOP, FOOT, RIGHT, LEFT = 50.0, 98.0, 84.0, 106.0
BAR_LANE = 46.0
"""Room for the faces of transoms, left of their strip."""
RUNNING_LANE = 54.0
"""Room for running sizes: left of the transoms' faces, below the mullions'."""
CENTRES_ABOVE, CENTRES_BESIDE = 34.0, 62.0
"""Room for the chain of centres between the drawing and its overall size."""
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
    move: str = ""


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
class SheetPath:
    """A light that can be picked, or an opening symbol: SVG path data with its classes and the cell it stands for."""

    d: str
    kind: str
    at: str = ""
    label: str = ""


@dataclass(frozen=True)
class KeyElevation:
    """A small elevation beside a section, with the line it is taken along: it is dragged, or moved with the arrow keys."""

    axis: Axis
    outlines: tuple[str, ...]
    left: float
    top: float
    width: float
    height: float
    line: Line
    now: str


@dataclass(frozen=True)
class UnitSheet:
    """All that is drawn on the sheet of a unit."""

    width: float
    height: float
    scale: float
    left: float
    foot: float
    mirrored: bool
    shapes: str
    boxes: tuple[Box, ...]
    slots: tuple[Slot, ...]
    locks: tuple[Lock, ...]
    marks: tuple[Mark, ...]
    lines: tuple[Line, ...]
    symbols: tuple[SheetPath, ...]
    picks: tuple[SheetPath, ...]
    key: KeyElevation | None = None


@dataclass(frozen=True)
class _Drawing:
    """What the sheet of one side needs: its shapes, its sheet, and the cell whose strips it shows."""

    unit: Unit
    field: CellLayout
    side: Side
    extent: Extent
    sheet: Sheet
    style: Style

    @property
    def left(self) -> float:
        """The left edge of all that is drawn, on the sheet; likewise right, top and foot."""
        return self.sheet.x(self.extent[0])

    @property
    def right(self) -> float:
        return self.sheet.x(self.extent[2])

    @property
    def top(self) -> float:
        return self.sheet.y(self.extent[3])

    @property
    def foot(self) -> float:
        return self.sheet.y(self.extent[1])

    def x(self, u: object) -> float:
        return self.sheet.x(-float(u) if self.side == "inside" else float(u))  # type: ignore[arg-type]

    def span(self, start: object, end: object) -> tuple[float, float]:
        """Left and right on the sheet."""
        a, b = self.x(start), self.x(end)
        return min(a, b), max(a, b)

    def axes(self) -> tuple[Axis, ...]:
        return AXES_OF[self.side]

    def chained(self, axis: Axis) -> bool:
        """Whether a chain of centres stands between the drawing and its overall size."""
        return bool(self.field.spacing(axis).bars) and axis in self.axes()


def unit_sheet(unit: Unit, style: Style, at: str = "", side: Side = "outside", cut: float = 0.5) -> UnitSheet:
    """Lay out a side of the unit with the spacing strips of the cell at a path, and its overall dimensions; ``cut`` is how
    far along the other way a section is taken, 0 to 1."""
    field = field_at(unit, at)
    shapes = _shapes(unit, side, cut)
    found = [*_depth(unit, side), *(d for d in dimensions(unit.layout, field) if d.axis in AXES_OF[side])]
    pieces = [dimension for dimension in found if dimension.kind != "overall"]
    typed = [d for d in found if not _repeats(d, pieces) and (d.kind != "edge" or _is_face(d, unit))]
    across, up = (axis in AXES_OF[side] and bool(field.spacing(axis).bars) for axis in AXES)
    faces = any(d.axis == "rows" and d.kind in ("edge", "bar") for d in typed)
    margins = (
        LEFT + (BAR_LANE if faces else 0) + (RUNNING_LANE if up else 0), RIGHT + (CENTRES_BESIDE if up else 0),
        TOP + (CENTRES_ABOVE if across else 0), FOOT + (RUNNING_LANE if across else 0),
    )  # fmt: skip
    extent = _extent(unit, shapes, side)
    sheet = Sheet.fitted_to(extent, SIZE, margins)
    drawing = _Drawing(unit, field, side, extent, sheet, style)
    return UnitSheet(
        *SIZE,
        round(sheet.scale, 6),
        round(sheet.left, 3),
        round(sheet.foot, 3),
        side == "inside",
        shapes_svg(shapes, sheet),
        tuple(_box(piece, drawing) for piece in pieces),
        (
            *(_slot(d, drawing) for d in typed),
            *(
                slot
                for axis in drawing.axes()
                for slot in (*_centre_slots(axis, drawing), *_running_slots(axis, drawing))
            ),
        ),
        tuple(_lock(piece, drawing) for piece in pieces if piece.kind == "light" and _has_room(piece, sheet)),
        tuple(mark for axis in drawing.axes() for mark in _axis_marks(axis, drawing)),
        (
            *(line for d in found if d.kind == "overall" for line in _overall_lines(d, drawing)),
            *(line for axis in drawing.axes() for line in _centre_lines(axis, drawing)),
        ),
        tuple(_symbols(drawing)) if side in ("outside", "inside") else (),
        tuple(_picks(drawing, at)) if side in ("outside", "inside") else (),
        None if side in ("outside", "inside") else _key_elevation(unit, side, cut, style),
    )


KEY_SIZE, KEY_GAP = 132.0, 14.0
"""The key elevation stands in the upper right corner."""


def _key_elevation(unit: Unit, side: Side, cut: float, style: Style) -> KeyElevation:
    outer = unit.layout.outer
    width, height = float(outer.width), float(outer.height)
    box = Sheet.fitted(width, height, (KEY_SIZE, KEY_SIZE), (KEY_GAP,) * 4)
    sheet = replace(box, left=box.left + SIZE[0] - KEY_SIZE - KEY_GAP, foot=box.foot + KEY_GAP)
    loops = [unit.layout.outline.facets(2.0), *(light.loop for light in unit.layout.body.lights)]
    left, top, right, foot = sheet.x(0), sheet.y(height), sheet.x(width), sheet.y(0)
    if side == "across":
        at, level = outer.height, sheet.y(height * cut)
        line = Line(left - KEY_GAP, level, right + KEY_GAP, level)
    else:
        at, level = outer.width, sheet.x(width * cut)
        line = Line(level, top - KEY_GAP, level, foot + KEY_GAP)
    return KeyElevation(
        "rows" if side == "across" else "columns", tuple(sheet.paths([loop.points for loop in loops])), left, top,
        round(right - left, 2), round(foot - top, 2), line, show(Fraction(round(float(at) * cut * 100), 100), style),
    )  # fmt: skip


def field_at(unit: Unit, at: str) -> CellLayout:
    """The cell at a path, or the one a light there belongs to; the whole unit where there is none."""
    layout, cell = unit.layout, cell_path(at)
    light = next((light for light in layout.lights if light.path == cell), None)
    if light and cell != at:
        return muntin_field(light) or layout.fields[light.field]
    if cell in layout.fields:
        return layout.fields[cell]
    return layout.fields[light.field] if light else layout.root


MUNTINS = "fill.muntins"


def cell_path(at: str) -> str:
    """The cell that is looked at, also where the muntins on its glass are."""
    return at.removesuffix(MUNTINS).rstrip(".") if at.endswith(MUNTINS) else at


def _shapes(unit: Unit, side: Side, cut: float) -> list[Shape]:
    if side == "outside":
        return unit.shapes
    if side == "inside":
        return elevation(unit.parts, "inside")
    outer = unit.layout.outer
    return (
        section(unit.parts, "columns", float(outer.height) * cut)
        if side == "across"
        else section(unit.parts, "rows", float(outer.width) * cut)
    )


def _extent(unit: Unit, shapes: Sequence[Shape], side: Side) -> Extent:
    outer = unit.layout.outer
    width, height = float(outer.width), float(outer.height)
    left, foot, right, head = extent_of(shapes) if shapes else (0.0, 0.0, width, height)
    if side == "inside":
        return min(left, -width), min(foot, 0.0), max(right, 0.0), max(head, height)
    if side == "up":
        return left, min(foot, 0.0), right, max(head, height)
    if side == "across":
        return min(left, 0.0), foot, max(right, width), head
    return min(left, 0.0), min(foot, 0.0), max(right, width), max(head, height)


def _depth(unit: Unit, side: Side) -> list[Dimension]:
    """The frame's depth, across a section."""
    axis: Axis = "rows" if side == "across" else "columns"
    depth = Dimension(axis, "overall", 0, Fraction(0), unit.document.frame.depth.mm, "frame.depth")
    return [depth] if side in ("across", "up") else []


def _has_room(piece: Dimension, sheet: Sheet) -> bool:
    """Whether a lock fits; in narrower lights a size is locked by typing it, and let go by emptying it."""
    return float(piece.size) * sheet.scale >= 24


def _repeats(dimension: Dimension, pieces: Iterable[Dimension]) -> bool:
    """The far perimeter member has the face of the near one; the rows' perimeter that of the columns'."""
    if dimension.kind != "edge":
        return False
    twins = [d for d in pieces if d.kind == "edge" and d.entry == dimension.entry]
    return dimension is not twins[0] and any(d.size == dimension.size for d in twins[:1])


def _is_face(edge: Dimension, unit: Unit) -> bool:
    """Whether what a strip shows of a perimeter is the face that is typed, and not how far a curve stands off there."""
    rings = (*unit.layout.rings, *(body.ring for body in unit.layout.bodies))
    return any(f"{ring.entry}.face" == edge.entry and edge.size in ring.exact_faces for ring in rings)


def _lights(dimension: Dimension, field: CellLayout) -> str:
    if dimension.kind != "light":
        return ""
    return f"{field.key}{'c' if dimension.axis == 'columns' else 'r'}{dimension.index + 1}"


def _box(piece: Dimension, drawing: _Drawing) -> Box:
    handle = _handle(piece, drawing) if piece.kind == "bar" else None
    move = piece.entry.removesuffix(".face") if piece.kind == "bar" else ""
    lights = _lights(piece, drawing.field)
    if piece.axis == "columns":
        low, high = drawing.span(piece.start, piece.end)
        return Box(piece.kind, low, _column_band(drawing), high - low, BAND, piece.entry, lights, handle, move)
    y, height = drawing.sheet.y(piece.end), float(piece.size) * drawing.sheet.scale
    return Box(piece.kind, _row_band(drawing), y, BAND + 24, height, piece.entry, lights, handle, move)


def _handle(piece: Dimension, drawing: _Drawing) -> Handle:
    """A bar can go as far as the lights beside it leave room."""
    field, lights = drawing.field, drawing.field.spacing(piece.axis).lights
    origin = field.origin(piece.axis)
    before, behind = lights[piece.index], lights[piece.index + 1]
    name = "Mullion" if piece.axis == "columns" else "Transom"
    return Handle(
        piece.axis, f"{name} {piece.index + 1}", float(piece.start), float(before.start + origin),
        float(behind.end + origin - piece.size), show(piece.start, drawing.style),
    )  # fmt: skip


def _column_band(drawing: _Drawing) -> float:
    return drawing.foot + GAP


def _row_band(drawing: _Drawing) -> float:
    return drawing.left - GAP - BAND - 24


def _slot(dimension: Dimension, drawing: _Drawing) -> Slot:
    text = show(dimension.size, drawing.style)
    if dimension.kind == "overall":
        x, y, width, small = _overall_slot(dimension, drawing)
    elif dimension.kind == "light":
        x, y, width, small = _light_slot(dimension, drawing, text)
    else:
        x, y, width, small = _bar_slot(dimension, drawing, text)
    return Slot(
        _slot_id(dimension.entry) + (f"-{dimension.axis}-{dimension.index}" if dimension.kind == "edge" else ""),
        dimension.entry,
        text,
        exact(dimension.size),
        _label(dimension),
        round(x, 1),
        round(y, 1),
        round(width, 1),
        lights=_lights(dimension, drawing.field),
        small=small,
    )


def _room_for(text: str, room: float) -> tuple[float, bool]:
    """How wide an input must be for its text, and whether in small figures because there is no more room."""
    large, small = len(text) * LETTER + BESIDE, len(text) * SMALL_LETTER + BESIDE
    return (max(large, 34), False) if large <= room else (small, True)


def _label(dimension: Dimension) -> str:
    number = dimension.index + 1
    if dimension.entry == "frame.depth":
        return "Frame depth"
    if dimension.kind == "overall":
        return "Overall width" if dimension.axis == "columns" else "Overall height"
    if dimension.kind == "edge":
        return "Frame face" if dimension.entry.startswith("frame") else "Sash face"
    if dimension.kind == "light":
        return f"Clear width of column {number}" if dimension.axis == "columns" else f"Clear height of row {number}"
    return f"Face of mullion {number}" if dimension.axis == "columns" else f"Face of transom {number}"


_Place = tuple[float, float, float, bool]
"""Left, top, width, and whether in small figures."""


def _overall_slot(dimension: Dimension, drawing: _Drawing) -> _Place:
    middle = _middle(dimension, drawing)
    if dimension.axis == "columns":
        return middle - 45, _overall_level(dimension.axis, drawing) - 29, 90, False
    return _overall_level(dimension.axis, drawing) + 2, middle - INPUT / 2, 70, False


def _overall_level(axis: Axis, drawing: _Drawing) -> float:
    """Where the line of an overall size stands."""
    if axis == "columns":
        return round(drawing.top - 11 - (CENTRES_ABOVE if drawing.chained(axis) else 0), 2)
    return round(drawing.right + 11 + (CENTRES_BESIDE if drawing.chained(axis) else 0), 2)


def _middle(dimension: Dimension, drawing: _Drawing) -> float:
    place = drawing.x if dimension.axis == "columns" else drawing.sheet.y
    return (place(dimension.start) + place(dimension.end)) / 2


def _light_slot(dimension: Dimension, drawing: _Drawing, text: str) -> _Place:
    middle, size = _middle(dimension, drawing), float(dimension.size) * drawing.sheet.scale
    if dimension.axis == "columns":
        width, small = _room_for(text, size - 2)
        lower = INPUT + 2 if width > size and dimension.index % 2 else 0
        return middle - width / 2, _column_band(drawing) + 2 + lower, width, small
    _, small = _room_for(text, BAND - 2)
    return _row_band(drawing) + 2, middle - INPUT / 2, BAND - 2, small


def _bar_slot(dimension: Dimension, drawing: _Drawing, text: str) -> _Place:
    middle = _middle(dimension, drawing)
    if dimension.axis == "columns":
        width, small = _room_for(text, 50)
        return middle - width / 2, _column_band(drawing) + BAND + 4, width, small
    width, small = _room_for(text, BAR_LANE)
    return _row_band(drawing) - max(BAR_LANE, width), middle - INPUT / 2, max(BAR_LANE, width), small


def _lock(piece: Dimension, drawing: _Drawing) -> Lock:
    light = drawing.field.spacing(piece.axis).lights[piece.index]
    where = f"{'column' if piece.axis == 'columns' else 'row'} {piece.index + 1}"
    label = f"Let {where} share the rest" if light.fixed else f"Lock {where} at {show(light.size, drawing.style)}"
    middle = _middle(piece, drawing)
    if piece.axis == "columns":
        x, y = middle - 12, _column_band(drawing) + INPUT + 3
    else:
        x, y = _row_band(drawing) + BAND, middle - 12
    entry = f"{piece.entry.removesuffix('.size')}.locked"
    lights = _lights(piece, drawing.field)
    return Lock(f"lock-{piece.axis}-{piece.index}", entry, light.fixed, label, round(x, 1), round(y, 1), lights)


def _axis_marks(axis: Axis, drawing: _Drawing) -> list[Mark]:
    """What the running sizes are."""
    if not drawing.chained(axis):
        return []
    origin, span = drawing.field.origin(axis), drawing.field.spacing(axis).span
    if axis == "columns":
        start = drawing.span(origin, origin + span)[0]
        return [Mark("running", start - 8, _running_level(axis, drawing) + 16, "end")]
    return [Mark("running", _running_level(axis, drawing), drawing.sheet.y(origin + span) - 6)]


def _running_level(axis: Axis, drawing: _Drawing) -> float:
    """Top of the running sizes below the mullions, or the middle of those beside the transoms."""
    if axis == "columns":
        return _column_band(drawing) + BAND + 30
    return _row_band(drawing) - BAR_LANE - RUNNING_LANE / 2


def _centre_marks(axis: Axis, drawing: _Drawing) -> list[Fraction]:
    """Clear edge, bar centres, clear edge, in unit space."""
    spacing, origin = drawing.field.spacing(axis), drawing.field.origin(axis)
    inner = [bar.centre for bar in spacing.bars]
    return [mark + origin for mark in (spacing.lights[0].start, *inner, spacing.lights[-1].end)]


def _centre_lines(axis: Axis, drawing: _Drawing) -> list[Line]:
    if not drawing.chained(axis):
        return []
    marks = _centre_marks(axis, drawing)
    if axis == "columns":
        y, places = round(drawing.top - 11, 2), [drawing.x(mark) for mark in marks]
        return [Line(places[0], y, places[-1], y), *(Line(x, y - 4, x, y + 4) for x in places)]
    x, places = round(drawing.right + 11, 2), [drawing.sheet.y(mark) for mark in marks]
    return [Line(x, places[0], x, places[-1]), *(Line(x - 4, y, x + 4, y) for y in places)]


def _centre_slots(axis: Axis, drawing: _Drawing) -> list[Slot]:
    """The chain of centres: typing over one moves a bar."""
    if not drawing.chained(axis):
        return []
    found = []
    for index, (start, end) in enumerate(pairwise(_centre_marks(axis, drawing))):
        entry = f"{entry_below(drawing.field.path, axis)}.lights.{index}.centres"
        label = f"Distance of centres {index + 1} {'across' if axis == 'columns' else 'up'}"
        place = (drawing.x if axis == "columns" else drawing.sheet.y)((start + end) / 2)
        room = float(end - start) * drawing.sheet.scale - 2 if axis == "columns" else CENTRES_BESIDE - 8
        crowded = CENTRES_ABOVE / 3 if index % 2 else 0
        found.append(_chain_slot(entry, end - start, label, axis, place, room, drawing, crowded))
    return found


def _chain_slot(
    entry: str, size: Fraction, label: str, axis: Axis, place: float, room: float, drawing: _Drawing, crowded: float
) -> Slot:
    text = show(size, drawing.style)
    width, small = _room_for(text, room)
    raised = crowded if axis == "columns" and width > room else 0
    x, y = (
        (place - width / 2, drawing.top - 37 - raised) if axis == "columns" else (drawing.right + 16, place - INPUT / 2)
    )
    return Slot(
        _slot_id(entry), entry, text, exact(size), label, round(x, 1), round(y, 1), round(width, 1), small=small
    )


def _slot_id(entry: str) -> str:
    return f"sheet-{entry.replace('.', '-')}"


def _running_slots(axis: Axis, drawing: _Drawing) -> list[Slot]:
    """From the outer edge to the centre of each bar."""
    if not drawing.chained(axis):
        return []
    origin, found = drawing.field.origin(axis), []
    for bar in drawing.field.spacing(axis).bars:
        entry = f"{entry_below(drawing.field.path, axis)}.bars.{bar.index}.running"
        label = f"Running size of {'mullion' if axis == 'columns' else 'transom'} {bar.index + 1}"
        text = show(bar.centre, drawing.style)
        width, small = _room_for(text, RUNNING_LANE + (12 if axis == "columns" else 0))
        if axis == "columns":
            x, y = drawing.x(bar.centre + origin) - width / 2, _running_level(axis, drawing)
        else:
            x, y = _running_level(axis, drawing) - width / 2, drawing.sheet.y(bar.centre + origin) - INPUT / 2
        found.append(
            Slot(
                _slot_id(entry),
                entry,
                text,
                exact(bar.centre),
                label,
                round(x, 1),
                round(y, 1),
                round(width, 1),
                small=small,
            )
        )
    return found


def _overall_lines(dimension: Dimension, drawing: _Drawing) -> list[Line]:
    if dimension.axis == "columns":
        y, (a, b) = _overall_level(dimension.axis, drawing), drawing.span(dimension.start, dimension.end)
        return [Line(a, y, b, y), Line(a, y - 5, a, y + 5), Line(b, y - 5, b, y + 5)]
    x, a, b = _overall_level(dimension.axis, drawing), drawing.sheet.y(dimension.start), drawing.sheet.y(dimension.end)
    return [Line(x, a, x, b), Line(x - 5, a, x + 5, a), Line(x - 5, b, x + 5, b)]


def _symbols(drawing: _Drawing) -> Iterable[SheetPath]:
    for symbol in symbols(drawing.unit.layout):
        d = "".join(
            "M" + "L".join(f"{drawing.x(x):g} {drawing.sheet.y(y):g}" for x, y in path) for path in symbol.paths
        )
        away = symbol.inwards == (drawing.side == "outside") and symbol.kind != "slides"
        yield SheetPath(d, f"symbol {symbol.kind}{' away' if away else ''}")


def _picks(drawing: _Drawing, at: str) -> Iterable[SheetPath]:
    """Every light as a shape to pick, those in a sash above the one that holds it."""
    for light in drawing.unit.layout.lights:
        points = " ".join(f"{drawing.x(x):g},{drawing.sheet.y(y):g}" for x, y in light.loop.points.tolist())
        yield SheetPath(
            f"M{points}Z",
            "pick chosen" if light.path == cell_path(at) and at else "pick",
            light.path,
            f"Light {light.key}",
        )
