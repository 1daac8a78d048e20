"""Dimension chains beside a drawing: from centre to centre, and running from the outer edge; typing over one moves a
bar.
"""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise

from ashfell.core.base.address import Address, entry_below
from ashfell.core.base.lengths import entered, exact, show
from ashfell.core.drawing.frame import (
    BAND,
    BAR_LANE,
    CENTRES_BESIDE,
    FIGURE,
    RUNNING_LANE,
    Drawing,
    figure_id,
    room_for,
)
from ashfell.core.drawing.sheet import Figure, Line, Mark
from ashfell.core.unit.document.members import Axis
from ashfell.core.unit.kept_lengths import length_at

OFF = 2.9
"""How far the chain of centres stands off the drawing."""
TICK = 1.05


def _centres(axis: Axis, drawing: Drawing) -> list[Fraction]:
    """Clear edge, bar centres, clear edge, in unit space."""
    spacing, origin = drawing.cell.spacing(axis), drawing.cell.origin(axis)
    inner = [bar.centre for bar in spacing.bars]
    return [mark + origin for mark in (spacing.lights[0].start, *inner, spacing.lights[-1].end)]


def centre_lines(axis: Axis, drawing: Drawing) -> list[Line]:
    """The line of the chain of centres, and a tick at each."""
    if not drawing.chained(axis):
        return []
    marks = _centres(axis, drawing)
    if axis == "columns":
        y, places = drawing.top - OFF, [drawing.x(mark) for mark in marks]
        return [Line(places[0], y, places[-1], y), *(Line(x, y - TICK, x, y + TICK) for x in places)]
    x, places = drawing.right + OFF, [drawing.paper.y(mark) for mark in marks]
    return [Line(x, places[0], x, places[-1]), *(Line(x - TICK, y, x + TICK, y) for y in places)]


def centre_figures(axis: Axis, drawing: Drawing) -> list[Figure]:
    """The distances of the chain of centres."""
    if not drawing.chained(axis):
        return []
    found, across = [], axis == "columns"
    for index, (start, end) in enumerate(pairwise(_centres(axis, drawing))):
        entry = f"{entry_below(drawing.cell.path, axis)}.lights.{index}.centres"
        label = f"Distance of centres {index + 1} {'across' if across else 'up'}"
        place = (drawing.x if across else drawing.paper.y)((start + end) / 2)
        room = float(end - start) * drawing.paper.scale - 0.5 if across else CENTRES_BESIDE - 2.1
        text = show(end - start, drawing.style)
        width, small = room_for(text, room)
        x, y = (
            (place - width / 2, drawing.top - OFF - FIGURE - 0.5)
            if across
            else (drawing.right + OFF + 1.3, place - FIGURE / 2)
        )
        found.append(_figure(entry, end - start, text, label, (x, y, width), small, drawing))
    return found


def running_figures(axis: Axis, drawing: Drawing) -> list[Figure]:
    """From the outer edge to the centre of each bar."""
    if not drawing.chained(axis):
        return []
    origin, found, across = drawing.cell.origin(axis), [], axis == "columns"
    level = _running_level(axis, drawing)
    for bar in drawing.cell.spacing(axis).bars:
        entry = f"{entry_below(drawing.cell.path, axis)}.bars.{bar.index}.running"
        label = f"Running size of {'mullion' if across else 'transom'} {bar.index + 1}"
        text = show(bar.centre, drawing.style)
        width, small = room_for(text, RUNNING_LANE + (3.2 if across else 0))
        place = drawing.x(bar.centre + origin) if across else drawing.paper.y(bar.centre + origin)
        x, y = (place - width / 2, level) if across else (level - width / 2, place - FIGURE / 2)
        found.append(_figure(entry, bar.centre, text, label, (x, y, width), small, drawing))
    return found


def _figure(
    entry: str,
    size: Fraction,
    text: str,
    label: str,
    place: tuple[float, float, float],
    small: bool,
    drawing: Drawing,
) -> Figure:
    x, y, width = place
    bar = Address(entry).parent
    about = bar if bar.of_division("bars") else ""
    kept = entered(length_at(drawing.unit.document, entry), size, drawing.style)
    key, precise = figure_id(entry), exact(size)
    return Figure(key, entry, text, precise, label, x, y, width, FIGURE, about=about, small=small, typed=kept)


def running_marks(axis: Axis, drawing: Drawing) -> list[Mark]:
    """What the running sizes are."""
    if not drawing.chained(axis):
        return []
    origin, span, level = drawing.cell.origin(axis), drawing.cell.spacing(axis).span, _running_level(axis, drawing)
    if axis == "columns":
        start = drawing.span(origin, origin + span)[0]
        return [Mark("running", start - 2.1, level + 4.2, "end")]
    return [Mark("running", level, drawing.paper.y(origin + span) - 1.6)]


def _running_level(axis: Axis, drawing: Drawing) -> float:
    """Top of the running sizes below the mullions, or the middle of those beside the transoms."""
    if axis == "columns":
        return drawing.column_band + BAND + FIGURE + 1.6
    return drawing.row_band - BAR_LANE - RUNNING_LANE / 2
