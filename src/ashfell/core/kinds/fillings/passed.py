"""What a leaf that slides passes over."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from ashfell.core.kinds.opening import Swept
from ashfell.core.plane.points import Floats


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
