"""Details of a unit: what its sections show of each member, drawn larger."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from typing import Literal

import numpy as np
from shapely.geometry import LineString, Polygon, box
from shapely.geometry.base import BaseGeometry

from ashfell.core.base.lengths import Style, show
from ashfell.core.drawing.draft import Draft, Path, Size
from ashfell.core.drawing.drafts import unit_draft
from ashfell.core.plane.points import polygons
from ashfell.core.unit.document.members import Axis
from ashfell.core.unit.make import Unit

BESIDE = 45.0
"""How much of what is beside a member its detail shows, mm."""
OFF = 14.0
"""How far a dimension is from what it measures, mm."""
NAMES: dict[Axis, tuple[str, str, str]] = {
    "columns": ("Left jamb", "Right jamb", "Mullion"),
    "rows": ("Sill", "Head", "Transom"),
}
VIEW: dict[Axis, Literal["across", "up"]] = {"columns": "across", "rows": "up"}
"""The section in which the members across an axis are cut."""
MOST_BARS = 3
"""How many bars of different faces are shown along an axis."""


def detail_drafts(unit: Unit, style: Style) -> list[Draft]:
    """The frame at each end of both sections, and the bars between, one for each face: cut out of the section through
    the middle, with its face."""
    return [draft for axis in NAMES for draft in _along(unit, style, axis)]


def _along(unit: Unit, style: Style, axis: Axis) -> Iterator[Draft]:
    layout = unit.layout
    root = layout.body.cells[0]
    spacing, origin = root.spacing(axis), root.origin(axis)
    outer = (layout.outer.x, layout.outer.right) if axis == "columns" else (layout.outer.y, layout.outer.head)
    clear = origin + spacing.lights[0].start, origin + spacing.lights[-1].end
    first, last, bar = NAMES[axis]
    stretches = [(first, outer[0], clear[0]), (last, clear[1], outer[1])]
    faces: set[Fraction] = set()
    for one in spacing.bars:
        if one.size not in faces and len(faces) < MOST_BARS:
            faces.add(one.size)
            stretches.append((bar, origin + one.start, origin + one.end))
    section = unit_draft(unit, style, VIEW[axis], sized=False)
    for name, low, high in stretches:
        if low < high:
            yield _detail(section, axis, style, (name, low, high))


def _detail(section: Draft, axis: Axis, style: Style, of: tuple[str, Fraction, Fraction]) -> Draft:
    """What of a section lies beside a stretch of it, with the size of that."""
    name, low, high = of
    left, foot, right, head = section.extent
    start, end = float(low) - BESIDE, float(high) + BESIDE
    across = axis == "columns"
    window = box(start, foot - 1, end, head + 1) if across else box(left - 1, start, right + 1, end)
    paths = tuple(piece for path in section.paths for piece in _within(path, window))
    ends = ((float(low), foot), (float(high), foot)) if across else ((right, float(low)), (right, float(high)))
    return Draft(name, paths, (Size(*ends, -OFF, show(high - low, style)),))


def _within(path: Path, window: BaseGeometry) -> Iterator[Path]:
    """What of a path lies within a window."""
    points = np.asarray(path.points)
    if len(points) < 2:
        return
    if not path.closed or len(points) < 3:
        kept = LineString(points).intersection(window)
        for line in getattr(kept, "geoms", [kept]):
            if line.geom_type == "LineString" and len(line.coords) > 1:
                yield Path(np.array(line.coords), path.layer, False, path.fill, (), path.hatched, path.dashed)
        return
    for piece in polygons(Polygon(points, path.holes).buffer(0).intersection(window)):
        outline, holes = np.array(piece.exterior.coords)[:-1], [np.array(one.coords)[:-1] for one in piece.interiors]
        yield Path(outline, path.layer, True, path.fill, tuple(holes), path.hatched, path.dashed)
