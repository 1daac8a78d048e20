"""The key elevation: a small elevation beside a section, with the line it is taken along."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from ashfell.core.base.lengths import Style, show
from ashfell.core.drawing.frame import SIZE
from ashfell.core.drawing.paper import Sheet
from ashfell.core.drawing.sheet import KeyElevation, Line, View
from ashfell.core.plane.loop import Loop
from ashfell.core.unit.make import Unit

KEY, GAP = 34.9, 3.7
"""Side of its square in the upper right corner of the sheet, and the room round it, mm of paper."""
CHORD = 2.0
"""Chord tolerance of its curves, mm of the unit."""


def key_elevation(unit: Unit, view: View, cut: float, style: Style) -> KeyElevation:
    """The key of a section ``across`` or ``up``, taken at a share ``cut`` of the height or width."""
    outer = unit.layout.outer
    width, height = float(outer.width), float(outer.height)
    fitted = Sheet.fitted(width, height, (KEY, KEY), (GAP,) * 4)
    sheet = replace(fitted, left=fitted.left + SIZE[0] - KEY - GAP, foot=fitted.foot + GAP)
    loops = [unit.layout.outline.facets(CHORD), *(light.loop for light in unit.layout.body.lights)]
    left, top, right, foot = sheet.x(0), sheet.y(height), sheet.x(width), sheet.y(0)
    if view == "across":
        at, level = outer.height, sheet.y(height * cut)
        line = Line(left - GAP, level, right + GAP, level)
    else:
        at, level = outer.width, sheet.x(width * cut)
        line = Line(level, top - GAP, level, foot + GAP)
    now = show(Fraction(round(float(at) * cut * 100), 100), style)
    outlines = tuple(_on(sheet, loop) for loop in loops)
    return KeyElevation(
        "rows" if view == "across" else "columns", outlines, left, top, right - left, foot - top, line, now
    )


def _on(sheet: Sheet, loop: Loop) -> tuple[tuple[float, float], ...]:
    return tuple((sheet.x(u), sheet.y(v)) for u, v in loop.points.tolist())
