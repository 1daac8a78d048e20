"""What lies so far inside an outline that nothing cuts it: it is as in a rectangle."""

from __future__ import annotations

import shapely
from shapely.geometry import Polygon

from ashfell.core.plane.loop import Loop
from ashfell.core.unit.layout import BarRun

Bounds = tuple[float, float, float, float]
"""Left, foot, right and head of a rectangle, mm."""


def is_inside(loop: Loop, bounds: Bounds, by: float = 0.0) -> bool:
    """Whether a rectangle, wider ``by`` so much all round, lies in a loop and nowhere touches it."""
    left, foot, right, head = bounds
    shapely.prepare(loop.polygon)
    wider = shapely.box(left - by, foot - by, right + by, head + by)
    return bool(shapely.contains_properly(loop.polygon, wider))


def stem_of(bar: BarRun) -> Polygon | None:
    """What a bar takes behind the stops, in plan; all of it where it has no rebates."""
    if bar.face_region is not None:
        return bar.stem_region if bar.rebate else bar.face_region
    return strip_of(
        bar, float(bar.face / 2 - bar.rebate), float(bar.start - bar.tongue_start), float(bar.end + bar.tongue_end)
    )


def strip_of(bar: BarRun, half: float, low: float, high: float) -> Polygon:
    """A stretch along an upright or level bar, ``half`` its width to both sides of its centre line, mm."""
    across = float(bar.across)
    if bar.axis == "columns":
        return shapely.box(across - half, low, across + half, high)
    return shapely.box(low, across - half, high, across + half)
