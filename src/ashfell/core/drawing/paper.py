"""Paper: where a drawing stands on its sheet, in millimetres of paper or whatever unit its sheet is measured in."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from fractions import Fraction

import numpy as np

from ashfell.core.seen import Shape

Extent = tuple[float, float, float, float]


def extent_of(shapes: Iterable[Shape]) -> Extent:
    """Left, foot, right and head of all that is drawn, mm."""
    points = np.concatenate([loop for shape in shapes for loop in shape.loops])
    (left, foot), (right, head) = points.min(axis=0).tolist(), points.max(axis=0).tolist()
    return left, foot, right, head


@dataclass(frozen=True)
class Sheet:
    """Where a drawing stands on its sheet: ``scale`` is sheet units per mm, ``left`` and ``foot`` are its origin."""

    width: float
    height: float
    scale: float
    left: float
    foot: float

    @classmethod
    def fitted(
        cls, across: float, up: float, size: tuple[float, float], margins: tuple[float, float, float, float]
    ) -> Sheet:
        """The largest drawing of ``across`` by ``up`` mm on a sheet of ``size``, centred between ``margins`` (left,
        right, top, foot)."""
        (width, height), (left, right, top, foot) = size, margins
        room_x, room_y = width - left - right, height - top - foot
        scale = min(room_x / across, room_y / up)
        return cls(
            width, height, scale, left + (room_x - across * scale) / 2, height - foot - (room_y - up * scale) / 2
        )

    @classmethod
    def fitted_to(cls, extent: Extent, size: tuple[float, float], margins: tuple[float, float, float, float]) -> Sheet:
        """As :meth:`fitted`, for a drawing from ``extent`` (left, foot, right, head), mm."""
        left, foot, right, head = extent
        made = cls.fitted(right - left, head - foot, size, margins)
        return replace(made, left=made.left - left * made.scale, foot=made.foot + foot * made.scale)

    def x(self, u: float | Fraction) -> float:
        """Where a u of the drawing is, from the left of the sheet."""
        return round(self.left + float(u) * self.scale, 3)

    def y(self, v: float | Fraction) -> float:
        """Where a v of the drawing is, from the top of the sheet."""
        return round(self.foot - float(v) * self.scale, 3)

    def times(self, factor: float) -> Sheet:
        """The same sheet in a unit of which ``factor`` make one of this one's: 96 / 25.4 from millimetres to CSS
        pixels.
        """
        return Sheet(*(value * factor for value in (self.width, self.height, self.scale, self.left, self.foot)))
