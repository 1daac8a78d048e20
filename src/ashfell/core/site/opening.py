"""Openings: outlines cut through a host, in the host's own plane: x along it from its start, z up from its foot, mm."""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction
from functools import cached_property

import numpy as np
from shapely.geometry import Polygon

from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import Floats
from ashfell.core.site.document import Placement
from ashfell.core.unit.layout import Layout

MEET = 1e-6
"""Openings that share less than this touch, mm²."""


@dataclass(frozen=True, eq=False)
class Opening:
    """An opening for a placement: the exact bounds of its outline, and the outline itself where that is no
    rectangle.
    """

    placement: str
    x: Fraction
    z: Fraction
    width: Fraction
    height: Fraction
    outline: Loop | None = None

    @cached_property
    def right(self) -> Fraction:
        """Its right edge along the wall, mm."""
        return self.x + self.width

    @cached_property
    def head(self) -> Fraction:
        """Its upper edge, mm above the foot of the wall."""
        return self.z + self.height

    @cached_property
    def points(self) -> Floats:
        """Its outline, (c, 2) mm, counter-clockwise."""
        if self.outline is not None:
            return self.outline.points
        left, foot, right, head = (float(value) for value in (self.x, self.z, self.right, self.head))
        return np.array([(left, foot), (right, foot), (right, head), (left, head)])

    @cached_property
    def polygon(self) -> Polygon:
        """Its outline as a polygon for set operations in the plane."""
        return Polygon(self.points)

    @property
    def area(self) -> float:
        """mm²."""
        return float(self.width * self.height) if self.outline is None else self.outline.area

    def overlaps(self, other: Opening) -> bool:
        """Whether the two share area (touching edges do not)."""
        if not (self.x < other.right and other.x < self.right and self.z < other.head and other.z < self.head):
            return False
        if self.outline is None and other.outline is None:
            return True
        return bool(self.polygon.intersection(other.polygon).area > MEET)


def opening_for(placement: Placement, layout: Layout, length: Fraction) -> Opening:
    """The opening that a placement in a host of a length asks for, in its unit's true outline with the installation gap
    round it, whether or not it fits.

    Parameters
    ----------
    placement : Placement
    layout : Layout
        Of the unit that is placed.
    length : Fraction
        Of the host, mm.
    """
    gap, size = placement.gap.mm, layout.overall
    width, height = size.width + 2 * gap, size.height + 2 * gap
    if placement.measured == "start":
        x = placement.offset.mm
    elif placement.measured == "end":
        x = length - placement.offset.mm - width
    else:
        x = (length - width) / 2 + placement.offset.mm
    opening = Opening(placement.id, x, placement.sill.mm, width, height)
    loop = layout.outermost.loop
    if loop.is_rectangle:
        return opening
    grown = loop.inset(-float(gap)) if gap else loop
    shift = np.array([float(x + gap - size.x), float(placement.sill.mm + gap - size.y)])
    return replace(opening, outline=Loop.through(grown.points + shift, grown.tags, grown.curved))
