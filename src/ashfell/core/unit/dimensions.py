"""The dimensions of a unit's elevation, each with the entry that typing over it changes."""

from __future__ import annotations

from fractions import Fraction

from ashfell.core.drawing import Dimension
from ashfell.core.unit.document import Axis
from ashfell.core.unit.layout import Layout


def dimensions(layout: Layout) -> list[Dimension]:
    """Every dimension of a unit's elevation: overall, perimeter faces, clear lights, bars; columns, then rows."""
    found: list[Dimension] = []
    overall: tuple[tuple[Axis, str], ...] = (("columns", "width"), ("rows", "height"))
    for axis, entry in overall:
        spacing = layout.spacing(axis)
        found.append(Dimension(axis, "overall", 0, Fraction(0), spacing.span, entry))
        entries = {"edge": "frame.face", "light": axis + ".lights.{}.size", "bar": axis + ".bars.{}"}
        found.extend(
            Dimension(
                axis,
                piece.kind,
                piece.index,
                piece.start,
                piece.end,
                entries[piece.kind].format(piece.index),
                piece.fixed,
            )
            for piece in spacing.pieces
        )
    return found
