"""What a leaf that slides passes over, and what must not be there."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.opening import Swept
from ashfell.core.plane.points import TOUCH, Floats
from ashfell.core.unit.layout import Layout, Light


@dataclass(frozen=True, eq=False)
class SweptSliding(Swept):
    """What a leaf passes over that slides along u: its way is told in millimetres."""

    step: ClassVar[float] = 50.0
    unit: ClassVar[str] = " mm"

    def at(self, degrees: float, points: Floats | None = None) -> Floats:
        """Where its corners, or other points of it, are when it has slid so far."""
        return np.asarray((self.corners if points is None else points) + (degrees, 0.0))

    def line(self, most: float) -> Floats:
        """The leaf where it is open, (5, 2)."""
        corners = self.at(self.turns)
        return np.vstack([corners, corners[:1]])


def refuse_in_pocket(layout: Layout, light: Light) -> None:
    """Refuse a pocket where a ring round the frame is.

    Raises
    ------
    Refusal
    """
    ring, passed = light.sashes[0].body.ring, light.content.spread
    assert passed is not None
    slot = passed.difference(layout.outline.facets().polygon)
    for other in layout.rings:
        if other.front < ring.back and other.back > ring.front and other.loop.polygon.intersection(slot).area > TOUCH:
            raise Refusal(
                f"{light.entry}.kind",
                "a light that takes a sash",
                "A ring round the frame is where its pocket would be.",
                "Choose another filling, or leave the ring out.",
            )
