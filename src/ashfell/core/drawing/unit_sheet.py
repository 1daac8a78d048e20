"""The sheet of a unit laid out: a view of it with the spacing strips of one cell and its dimension chains.

Lengths on the sheet are millimetres of paper.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import replace
from fractions import Fraction

from ashfell.core.base.lengths import Style, entered, exact, show
from ashfell.core.drawing import grips
from ashfell.core.drawing.chains import centre_figures, centre_lines, running_figures, running_marks
from ashfell.core.drawing.crowd import lock_zoom, thinned
from ashfell.core.drawing.dimension import Dimension, dimensions
from ashfell.core.drawing.frame import (
    BAND,
    BAR_LANE,
    CENTRES_ABOVE,
    CENTRES_BESIDE,
    FIGURE,
    LANE,
    RUNNING_LANE,
    SIZE,
    Drawing,
    figure_id,
    room_for,
)
from ashfell.core.drawing.key import key_elevation
from ashfell.core.drawing.paper import Extent, Sheet, extent_of
from ashfell.core.drawing.sheet import (
    AXES_OF,
    ELEVATIONS,
    Box,
    Figure,
    Handle,
    Line,
    Lock,
    Pick,
    Stroke,
    UnitSheet,
    View,
)
from ashfell.core.kinds.symbol import symbols
from ashfell.core.seen import Shape, elevation, section
from ashfell.core.unit.document.members import AXES, Axis
from ashfell.core.unit.kept_lengths import length_at
from ashfell.core.unit.layout import CellLayout
from ashfell.core.unit.look import cell_path, looked_at
from ashfell.core.unit.make import Unit

TOP, FOOT, RIGHT, LEFT = 13.2, 26.0, 22.2, 28.0
"""Room round a drawing without chains."""
LOCK = 6.35
"""Side of a lock; a light narrower than this on the sheet shows none until one goes nearer."""
STRIP_WIDTH = BAND + 6.35
"""How broad the strip of rows is: a figure and a lock beside it."""
OVERALL = (23.8, 18.5)
"""Width of the overall figures across and up."""
OFF = 2.9
"""How far the line of an overall size stands off the drawing."""
TICK = 1.3


BESIDE_BAND = 2.6
"""How far a figure may stand out of the strip of the rows on both sides together, mm of paper."""


def unit_sheet(unit: Unit, style: Style, at: str = "", view: View = "outside", cut: float = 0.5) -> UnitSheet:
    """Lay out a view of a unit.

    Parameters
    ----------
    unit : Unit
    style : Style
        How lengths are shown.
    at : str
        Address of the cell whose strips are shown; the whole unit where it is empty.
    view : View
        From outside or inside, or a section.
    cut : float
        How far along the other way a section is taken, 0 to 1.
    """
    cell = looked_at(unit.layout, at)
    shapes = tuple(_shapes(unit, view, cut))
    found = [*_depth(unit, view), *(d for d in dimensions(unit.layout, cell) if d.axis in AXES_OF[view])]
    pieces = [dimension for dimension in found if dimension.kind != "overall"]
    typed = [d for d in found if not _repeats(d, pieces) and (d.kind != "edge" or _is_face(d, unit))]
    extent = _extent(unit, shapes, view)
    paper = Sheet.fitted_to(extent, SIZE, _margins(cell, view, typed))
    drawing = Drawing(unit, cell, view, extent, paper, style)
    overall = [line for d in found if d.kind == "overall" for line in _overall_lines(d, drawing)]
    lights = {axis: _light_figures(axis, typed, drawing) for axis in drawing.axes}
    above = {figure.stretch: figure for figure in lights.get("columns", ())}
    locks = [_lock(piece, drawing, above) for piece in pieces if piece.kind == "light" and piece.size]
    elevated = view in ELEVATIONS
    pieces_held = grips.held(drawing, cell_path(at))
    return UnitSheet(
        view,
        paper,
        shapes,
        tuple(_box(piece, drawing) for piece in pieces),
        (*_figures(typed, lights, drawing), *grips.figures(drawing, pieces_held)),
        tuple(locks),
        tuple(mark for axis in drawing.axes for mark in running_marks(axis, drawing)),
        (
            *overall,
            *(line for axis in drawing.axes for line in centre_lines(axis, drawing)),
            *grips.lines(drawing, pieces_held),
        ),
        tuple(_strokes(drawing)) if elevated else (),
        tuple(_picks(drawing, at)) if elevated else (),
        None if elevated else key_elevation(unit, view, cut, style),
        tuple(grips.grips(drawing, pieces_held)),
    )


def _margins(cell: CellLayout, view: View, typed: Sequence[Dimension]) -> tuple[float, float, float, float]:
    """Left, right, top and foot, with room for the chains that are there."""
    across, up = (axis in AXES_OF[view] and bool(cell.spacing(axis).bars) for axis in AXES)
    faces = any(d.axis == "rows" and d.kind in ("edge", "bar") for d in typed)
    return (
        LEFT + (BAR_LANE if faces else 0) + (RUNNING_LANE if up else 0),
        RIGHT + (CENTRES_BESIDE if up else 0),
        TOP + (CENTRES_ABOVE if across else 0),
        FOOT + (RUNNING_LANE if across else 0),
    )


def _shapes(unit: Unit, view: View, cut: float) -> list[Shape]:
    if view == "outside":
        return unit.shapes
    if view == "inside":
        return elevation(unit.parts, "inside")
    outer = unit.layout.outer
    if view == "across":
        return section(unit.parts, "columns", float(outer.height) * cut)
    return section(unit.parts, "rows", float(outer.width) * cut)


def _extent(unit: Unit, shapes: Sequence[Shape], view: View) -> Extent:
    outer = unit.layout.outer
    width, height = float(outer.width), float(outer.height)
    left, foot, right, head = extent_of(shapes) if shapes else (0.0, 0.0, width, height)
    if view in ELEVATIONS:
        ghosts = [one for _, one in _ghosts(unit)]
        sides = [(-one[2], -one[0]) if view == "inside" else (one[0], one[2]) for one in ghosts]
        left, right = min([left, *(a for a, _ in sides)]), max([right, *(b for _, b in sides)])
    if view == "inside":
        return min(left, -width), min(foot, 0.0), max(right, 0.0), max(head, height)
    if view == "up":
        return left, min(foot, 0.0), right, max(head, height)
    if view == "across":
        return min(left, 0.0), foot, max(right, width), head
    return min(left, 0.0), min(foot, 0.0), max(right, width), max(head, height)


def _depth(unit: Unit, view: View) -> list[Dimension]:
    """The frame's depth, across a section."""
    axis: Axis = "rows" if view == "across" else "columns"
    depth = Dimension(axis, "overall", 0, Fraction(0), unit.document.frame.depth.mm, "frame.depth")
    return [] if view in ELEVATIONS else [depth]


def _repeats(dimension: Dimension, pieces: Iterable[Dimension]) -> bool:
    """The far perimeter member has the face of the near one; the rows' perimeter that of the columns'."""
    if dimension.kind != "edge":
        return False
    twins = [d for d in pieces if d.kind == "edge" and d.entry == dimension.entry]
    return dimension is not twins[0] and any(d.size == dimension.size for d in twins[:1])


def _is_face(edge: Dimension, unit: Unit) -> bool:
    """Whether what a strip shows of a perimeter is the face that is typed, and not how far a curve stands off there."""
    return any(f"{ring.entry}.face" == edge.entry and edge.size in ring.exact_faces for ring in unit.layout.all_rings)


# --- the strips -------------------------------------------------------------------------------------------------------


def _stretch(dimension: Dimension, cell: CellLayout) -> str:
    if dimension.kind != "light":
        return ""
    return f"{cell.key}{'c' if dimension.axis == 'columns' else 'r'}{dimension.index + 1}"


def _about(dimension: Dimension) -> str:
    """The address of the members that a dimension measures."""
    if dimension.kind in ("edge", "bar"):
        return dimension.entry.removesuffix(".face")
    return "frame" if dimension.entry == "frame.depth" else ""


def _box(piece: Dimension, drawing: Drawing) -> Box:
    handle = _handle(piece, drawing) if piece.kind == "bar" else None
    about, stretch = _about(piece), _stretch(piece, drawing.cell)
    move = about if piece.kind == "bar" else ""
    if piece.axis == "columns":
        low, high = drawing.span(piece.start, piece.end)
        return Box(piece.kind, low, drawing.column_band, high - low, BAND, about, stretch, handle, move)
    y, height = drawing.paper.y(piece.end), float(piece.size) * drawing.paper.scale
    return Box(piece.kind, drawing.row_band, y, STRIP_WIDTH, height, about, stretch, handle, move)


def _handle(piece: Dimension, drawing: Drawing) -> Handle:
    """A bar can go as far as the lights beside it leave room."""
    cell, lights = drawing.cell, drawing.cell.spacing(piece.axis).lights
    origin = cell.origin(piece.axis)
    before, behind = lights[piece.index], lights[piece.index + 1]
    name = "Mullion" if piece.axis == "columns" else "Transom"
    return Handle(
        piece.axis,
        f"{name} {piece.index + 1}",
        float(piece.start),
        float(before.start + origin),
        float(behind.end + origin - piece.size),
        show(piece.start, drawing.style),
    )


def _lock(piece: Dimension, drawing: Drawing, figures: Mapping[str, Figure]) -> Lock:
    """The lock of a light, below its figure in the strip of columns, or above it where that stands lower."""
    light = drawing.cell.spacing(piece.axis).lights[piece.index]
    where = f"{'column' if piece.axis == 'columns' else 'row'} {piece.index + 1}"
    label = f"Let {where} share the rest" if light.fixed else f"Lock {where} at {show(light.size, drawing.style)}"
    middle = drawing.middle(piece) - LOCK / 2
    entry, stretch = f"{piece.entry.removesuffix('.size')}.locked", _stretch(piece, drawing.cell)
    key, room = f"lock-{piece.axis}-{piece.index}", float(piece.size) * drawing.paper.scale
    if piece.axis == "rows":
        return lock_zoom(Lock(key, entry, light.fixed, label, drawing.row_band + BAND, middle, LOCK, stretch), room)
    own, above = figures.get(stretch), drawing.column_band + LANE / 2
    lowered = own is not None and own.y > above + LANE
    y = above if lowered else drawing.column_band + FIGURE + LANE
    beside = 2 * room - own.width if own and len({one.y for one in figures.values()}) > 1 else room
    return lock_zoom(Lock(key, entry, light.fixed, label, middle, y, LOCK, stretch), min(room, beside))


# --- figures ----------------------------------------------------------------------------------------------------------


def _light_figures(axis: Axis, typed: Sequence[Dimension], drawing: Drawing) -> list[Figure]:
    """The sizes of columns or rows; columns that are too narrow have every second size lower, and where that is too
    little some of one row."""
    lights = [_figure(d, drawing) for d in typed if d.axis == axis and d.kind == "light"]
    if axis == "columns" and any(figure.zoom > 1 for figure in thinned(axis, lights)):
        lights = [replace(figure, y=min(one.y for one in lights)) for figure in lights]
    return thinned(axis, lights)


def _figures(typed: Sequence[Dimension], lights: Mapping[Axis, Sequence[Figure]], drawing: Drawing) -> Iterator[Figure]:
    """The sizes, and the chains; each row of them thinned out where it is crowded."""
    yield from (_figure(d, drawing) for d in typed if d.kind == "overall")
    for axis in drawing.axes:
        yield from lights[axis]
        faces = [_figure(d, drawing) for d in typed if d.axis == axis and d.kind in ("edge", "bar")]
        for row in (faces, centre_figures(axis, drawing), running_figures(axis, drawing)):
            yield from thinned(axis, row)


def _figure(dimension: Dimension, drawing: Drawing) -> Figure:
    text = show(dimension.size, drawing.style)
    place = {"overall": _overall_place, "light": _light_place}.get(dimension.kind, _member_place)
    x, y, width, small = place(dimension, drawing, text)
    key = figure_id(dimension.entry) + (f"-{dimension.axis}-{dimension.index}" if dimension.kind == "edge" else "")
    return Figure(
        key,
        dimension.entry,
        text,
        exact(dimension.size),
        _label(dimension),
        x,
        y,
        width,
        FIGURE,
        stretch=_stretch(dimension, drawing.cell),
        about=_about(dimension),
        small=small,
        typed=entered(length_at(drawing.unit.document, dimension.entry), dimension.size, drawing.style),
    )


def _label(dimension: Dimension) -> str:
    number, across = dimension.index + 1, dimension.axis == "columns"
    if dimension.entry == "frame.depth":
        return "Frame depth"
    if dimension.kind == "overall":
        return "Overall width" if across else "Overall height"
    if dimension.kind == "edge":
        return "Frame face" if dimension.entry.startswith("frame") else "Sash face"
    if dimension.kind == "light":
        return f"Clear width of column {number}" if across else f"Clear height of row {number}"
    return f"Face of mullion {number}" if across else f"Face of transom {number}"


_Place = tuple[float, float, float, bool]
"""Left, top, width, and whether in small figures."""


def _overall_place(dimension: Dimension, drawing: Drawing, text: str) -> _Place:
    middle, level = drawing.middle(dimension), _overall_level(dimension.axis, drawing)
    if dimension.axis == "columns":
        return middle - OVERALL[0] / 2, level - FIGURE - 1.3, OVERALL[0], False
    return level + 0.5, middle - FIGURE / 2, OVERALL[1], False


def _overall_level(axis: Axis, drawing: Drawing) -> float:
    """Where the line of an overall size stands."""
    if axis == "columns":
        return drawing.top - OFF - (CENTRES_ABOVE if drawing.chained(axis) else 0)
    return drawing.right + OFF + (CENTRES_BESIDE if drawing.chained(axis) else 0)


def _light_place(dimension: Dimension, drawing: Drawing, text: str) -> _Place:
    middle, size = drawing.middle(dimension), float(dimension.size) * drawing.paper.scale
    if dimension.axis == "columns":
        width, small = room_for(text, size - 0.5)
        lower = FIGURE + 0.5 if width > size and dimension.index % 2 else 0
        return middle - width / 2, drawing.column_band + 0.5 + lower, width, small
    width, small = room_for(text, BAND - 0.5)
    width = min(max(width, BAND - 0.5), BAND + BESIDE_BAND)
    return drawing.row_band + 0.5 - (width - BAND + 0.5) / 2, middle - FIGURE / 2, width, small


def _member_place(dimension: Dimension, drawing: Drawing, text: str) -> _Place:
    middle = drawing.middle(dimension)
    if dimension.axis == "columns":
        width, small = room_for(text, 13.2)
        return middle - width / 2, drawing.column_band + BAND + 1.1, width, small
    width, small = room_for(text, BAR_LANE)
    return drawing.row_band - max(BAR_LANE, width), middle - FIGURE / 2, max(BAR_LANE, width), small


def _overall_lines(dimension: Dimension, drawing: Drawing) -> list[Line]:
    level = _overall_level(dimension.axis, drawing)
    if dimension.axis == "columns":
        a, b = drawing.span(dimension.start, dimension.end)
        return [Line(a, level, b, level), *(Line(x, level - TICK, x, level + TICK) for x in (a, b))]
    a, b = drawing.paper.y(dimension.start), drawing.paper.y(dimension.end)
    return [Line(level, a, level, b), *(Line(level - TICK, y, level + TICK, y) for y in (a, b))]


# --- on the elevation -------------------------------------------------------------------------------------------------


def _strokes(drawing: Drawing) -> Iterator[Stroke]:
    for symbol in symbols(drawing.unit.layout):
        paths = tuple(tuple((drawing.x(u), drawing.paper.y(v)) for u, v in path) for path in symbol.paths)
        away = symbol.inwards == (drawing.view == "outside") and symbol.kind != "slides"
        yield Stroke(paths, symbol.kind, away, symbol.entry)
    for entry, (left, foot, right, head) in _ghosts(drawing.unit):
        corners = ((left, foot), (right, foot), (right, head), (left, head), (left, foot))
        yield Stroke((tuple((drawing.x(u), drawing.paper.y(v)) for u, v in corners),), "ghost", True, entry)


def _ghosts(unit: Unit) -> Iterator[tuple[str, tuple[float, float, float, float]]]:
    """Where leaves are when they are open as far as they go: the address of each, and what it covers: left, foot,
    right, head, mm."""
    for light in unit.layout.lights:
        for swept in light.filling.sweeps(light):
            across = swept.at(swept.turns)[:, 0]
            yield light.entry, (float(across.min()), swept.foot, float(across.max()), swept.head)


def _picks(drawing: Drawing, at: str) -> Iterator[Pick]:
    """Every light as a shape to pick, those in a sash above the one that holds it."""
    for light in drawing.unit.layout.lights:
        points = tuple((drawing.x(u), drawing.paper.y(v)) for u, v in light.loop.points.tolist())
        yield Pick(points, light.key, light.path, bool(at) and light.path == cell_path(at))
