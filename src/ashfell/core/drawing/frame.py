"""What the sheet of a view is laid out from: its measures, and where the drawing and its strips stand on it."""

from __future__ import annotations

from dataclasses import dataclass

from ashfell.core.base.lengths import Style
from ashfell.core.drawing.dimension import Dimension
from ashfell.core.drawing.paper import Extent, Sheet
from ashfell.core.drawing.sheet import AXES_OF, View
from ashfell.core.unit.document.members import Axis
from ashfell.core.unit.layout import CellLayout
from ashfell.core.unit.make import Unit

SIZE = (169.333, 169.333)
"""Width and height of the sheet, millimetres of paper as all that follows."""
FIGURE = 6.35
"""Height of a figure."""
LANE = 0.8
"""Between figures, and between them and what they stand beside."""
BAR_LANE = 12.2
"""Room for the faces of transoms, left of their strip."""
RUNNING_LANE = 14.3
"""Room for running sizes: left of the transoms' faces, below the mullions'."""
CENTRES_ABOVE, CENTRES_BESIDE = 9.0, 16.4
"""Room for the chain of centres between the drawing and its overall size."""
BAND = 13.76
"""Depth of a strip's band: a figure and a lock."""
GAP = 4.23
"""Between the drawing and its strips."""
LETTER, SMALL_LETTER, BESIDE = 2.011, 1.667, 1.588
"""Width of a numeral in the two sizes of figure, and of what stands beside the numerals."""
LEAST_FIGURE = 9.0


@dataclass(frozen=True)
class Drawing:
    """A view of a unit on its sheet, and the cell whose strips it shows."""

    unit: Unit
    cell: CellLayout
    view: View
    extent: Extent
    paper: Sheet
    style: Style

    @property
    def left(self) -> float:
        """The left edge of all that is drawn; likewise right, top and foot."""
        return self.paper.x(self.extent[0])

    @property
    def right(self) -> float:
        """The right edge of all that is drawn."""
        return self.paper.x(self.extent[2])

    @property
    def top(self) -> float:
        """The upper edge of all that is drawn; paper counts downwards."""
        return self.paper.y(self.extent[3])

    @property
    def foot(self) -> float:
        """The lower edge of all that is drawn."""
        return self.paper.y(self.extent[1])

    @property
    def column_band(self) -> float:
        """Top of the strip of columns."""
        return self.foot + GAP

    @property
    def row_band(self) -> float:
        """Left of the strip of rows."""
        return self.left - GAP - BAND - FIGURE

    @property
    def axes(self) -> tuple[Axis, ...]:
        """The axes that have dimensions."""
        return AXES_OF[self.view]

    def x(self, u: object) -> float:
        """Where a u of the unit is on the sheet."""
        return self.paper.x(-float(u) if self.view == "inside" else float(u))  # type: ignore[arg-type]

    def span(self, start: object, end: object) -> tuple[float, float]:
        """Left and right of a stretch."""
        a, b = self.x(start), self.x(end)
        return min(a, b), max(a, b)

    def middle(self, dimension: Dimension) -> float:
        """The middle of a dimension along its axis."""
        place = self.x if dimension.axis == "columns" else self.paper.y
        return (place(dimension.start) + place(dimension.end)) / 2

    def chained(self, axis: Axis) -> bool:
        """Whether a chain of centres stands between the drawing and its overall size."""
        return bool(self.cell.spacing(axis).bars) and axis in self.axes


def room_for(text: str, room: float) -> tuple[float, bool]:
    """How wide a figure must be for its text, and whether in small numerals because there is no more room."""
    large, small = len(text) * LETTER + BESIDE, len(text) * SMALL_LETTER + BESIDE
    return (max(large, LEAST_FIGURE), False) if large <= room else (small, True)


def figure_id(entry: str) -> str:
    """What a figure is known by on its sheet."""
    return f"sheet-{entry.replace('.', '-')}"
