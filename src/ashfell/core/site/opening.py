"""Openings: outlines cut through a host, in the host's own plane: x along it from its start, z up from its foot, mm."""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction
from functools import cached_property
from math import ceil

import numpy as np
from shapely.geometry import Polygon
from shapely.ops import unary_union

from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.loop import SIDES, Loop
from ashfell.core.plane.points import Floats
from ashfell.core.site.document.placement import Placement
from ashfell.core.solid.topology import Solid
from ashfell.core.unit.layout import Layout, Rect
from ashfell.core.unit.members.faces import exact_face, side_faces

MEET = 1e-6
"""Openings that share less than this touch, mm²."""


@dataclass(frozen=True, eq=False)
class Opening:
    """An opening for a placement: the exact bounds of its outline, and the outline itself where that is no
    rectangle. ``flat`` is whether it goes straight through a host that folds in it. ``reveal`` are the outlines (s, c,
    3) that it takes from the inside out, mm, where it does not go square through; ``pockets`` are what is let into the
    host beside it, as a sill is.
    """

    placement: str
    x: Fraction
    z: Fraction
    width: Fraction
    height: Fraction
    outline: Loop | None = None
    flat: bool = False
    reveal: Floats | None = None
    pockets: tuple[Solid, ...] = ()
    leans: bool = False
    """Whether its reveal is plumb or flared, without a splay."""
    hollows: tuple[Polygon, ...] = ()
    """What leaves slide into beside it, on the host's face."""

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

    @cached_property
    def reach(self) -> Polygon:
        """All that it takes of any face of its host."""
        if self.reveal is None:
            return self.polygon
        return unary_union([Polygon(level[:, :2]) for level in self.reveal])

    @cached_property
    def widening(self) -> Fraction:
        """By how much it is wider at a face than where its unit stands, on the side where that is most, mm."""
        if self.reveal is None:
            return Fraction(0)
        (left, foot), (right, head) = self.reveal[..., :2].min(axis=(0, 1)), self.reveal[..., :2].max(axis=(0, 1))
        own = self.polygon.bounds
        widest = max(own[0] - left, own[1] - foot, right - own[2], head - own[3], 0.0)
        return Fraction(ceil(widest * 100), 100)

    @property
    def area(self) -> float:
        """mm²."""
        return float(self.width * self.height) if self.outline is None else self.outline.area

    def overlaps(self, other: Opening) -> bool:
        """Whether the two share area on any face (touching edges do not)."""
        if self.reveal is not None or other.reveal is not None:
            return bool(self.reach.intersection(other.reach).area > MEET)
        if not (self.x < other.right and other.x < self.right and self.z < other.head and other.z < self.head):
            return False
        if self.outline is None and other.outline is None:
            return True
        return bool(self.polygon.intersection(other.polygon).area > MEET)

    def meets_in_a_point(self, other: Opening) -> bool:
        """Whether the two touch, and share neither area nor a stretch of their edges; with a reveal also along one."""
        if self.reveal is not None or other.reveal is not None:
            return bool(self.reach.distance(other.reach) < MEET)
        if self.x > other.right or other.x > self.right or self.z > other.head or other.z > self.head:
            return False
        if self.outline is None and other.outline is None:
            corner = self.x in (other.right, other.x - self.width), self.z in (other.head, other.z - self.height)
            return all(corner)
        apart = self.polygon.distance(other.polygon)
        return bool(apart < MEET and self.polygon.intersection(other.polygon).length < MEET)


def width_of(placement: Placement, layout: Layout | None) -> Fraction:
    """How wide the opening is that a placement asks for, mm.

    Raises
    ------
    Refusal
        When there is neither a unit nor a size, or a side with a gap of its own is not there.
    """
    gaps = _growth(placement, layout)
    return (layout.overall if layout else _own_size(placement)).width + gaps["left"] + gaps["right"]


def _growth(placement: Placement, layout: Layout | None) -> dict[str, Fraction]:
    """By how much an opening is larger than its unit on each side, seen from outside the host, mm."""
    grows = layout is not None or (placement.unit is not None and not placement.fits)
    return {side: gap_of(placement, side) if grows else Fraction(0) for side in SIDES}


def opening_for(placement: Placement, layout: Layout | None, x: Fraction) -> Opening:
    """The opening that a placement asks for, in its unit's true outline with the installation gap round it, whether or
    not it fits.

    Parameters
    ----------
    placement : Placement
    layout : Layout or None
        Of the unit that is placed, as it asks for it; without one the opening is the rectangle of its own size.
    x : Fraction
        Where it begins along its host, mm.

    Raises
    ------
    Refusal
        When there is neither a unit nor a size, or a side with a gap of its own is not there.
    """
    size, gaps = layout.overall if layout else _own_size(placement), _growth(placement, layout)
    width, height = size.width + gaps["left"] + gaps["right"], size.height + gaps["sill"] + gaps["head"]
    z = placement.head.mm - height if placement.head else placement.sill.mm
    flat = not placement.folded and placement.unit is not None
    opening = Opening(placement.id, x, z, width, height, flat=flat)
    loop = layout.outermost.loop if layout else None
    if loop is None or loop.is_rectangle:
        return opening
    grown = loop.inset(-side_faces(loop, placement.gap.mm, _gaps(placement), "gaps"), "gap")
    shift = np.array([float(x + gaps["left"] - size.x), float(z + gaps["sill"] - size.y)])
    if flipped(placement):
        middle = float(2 * size.x + size.width)
        points = grown.points[::-1] * (-1.0, 1.0) + (middle, 0.0)
        grown = Loop.through(points, (*grown.tags[-2::-1], grown.tags[-1]), (*grown.curved[-2::-1], grown.curved[-1]))
    return replace(opening, outline=Loop.through(grown.points + shift, grown.tags, grown.curved))


def gap_of(placement: Placement, side: str) -> Fraction:
    """The installation gap on a side of a placement as it is seen from outside the host, mm; the unit's own left is at
    the right where it is turned or mirrored."""
    if not placement.gaps:
        return placement.gap.mm
    other = {"left": "right", "right": "left"}.get(side, side) if flipped(placement) else side
    return exact_face(other, placement.gap.mm, _gaps(placement))


def _gaps(placement: Placement) -> dict[str, Fraction]:
    return {side: gap.mm for side, gap in placement.gaps.items()}


def flipped(placement: Placement) -> bool:
    """Whether a unit's left is at the right, seen from outside its host."""
    return placement.turned != placement.mirrored


def _own_size(placement: Placement) -> Rect:
    """The size of an opening without a unit."""
    for name, size in (("width", placement.width), ("height", placement.height)):
        if size is None:
            raise Refusal(
                name,
                "an opening with a size",
                f"An opening without a unit needs a {name} of its own.",
                f"Give it a {name}, or a unit.",
                Fraction(1000),
            )
    assert placement.width
    assert placement.height
    return Rect(Fraction(0), Fraction(0), placement.width.mm, placement.height.mm)
