"""A chain of leaves hinged to each other: where its pins are on the way, and what each leaf does until then."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ashfell.core.kinds.fillings.sashes import about
from ashfell.core.kinds.opening import Swept
from ashfell.core.plane.points import Floats

DRAWN = 45.0
"""How far open a chain is drawn on a plan, degrees."""


@dataclass(frozen=True, eq=False)
class Chain:
    """Leaves hinged to each other, from the jamb on: from the ``left`` or the right one, the place of its first pin (u,
    w), the leaves' step and how far their lines of pins are apart, mm; ``out`` is 1 where it folds outwards."""

    left: bool
    pin: tuple[float, float]
    step: float
    apart: float
    out: float
    leaves: tuple[str, ...] = ()

    @property
    def away(self) -> float:
        """The sense of u away from its jamb."""
        return 1.0 if self.left else -1.0

    def at(self, number: int, angle: float) -> tuple[float, float]:
        """Where a pin is, counted from the jamb, when every leaf is turned by an angle in radians: u and w, mm."""
        along = self.step * np.cos(angle) + self.apart * np.sin(angle)
        off = self.step * np.sin(angle) - self.apart * np.cos(angle) if number % 2 else 0.0
        return self.pin[0] + self.away * number * float(along), self.pin[1] + self.out * float(off)

    def motion(self, number: int, angle: float) -> Floats:
        """What a leaf does until then, (4, 4)."""
        (u0, w0), (u, w) = self.at(number, 0.0), self.at(number, angle)
        turn = -self.away * self.out * (-1.0 if number % 2 else 1.0) * float(np.degrees(angle))
        carried = np.eye(4)
        carried[0, 3], carried[2, 3] = u - u0, w - w0
        return np.asarray(carried @ about((u0, 0.0, w0), (0.0, 1.0, 0.0), turn))


@dataclass(frozen=True, eq=False)
class SweptFolding(Swept):
    """What a leaf of a chain sweeps over."""

    chain: Chain | None = None
    number: int = 0

    def at(self, degrees: float, points: Floats | None = None) -> Floats:
        """Where its corners, or other points of it, are when it is turned so far."""
        assert self.chain is not None
        flat = self.corners if points is None else points
        space = np.column_stack([flat[:, 0], np.zeros(len(flat)), flat[:, 1], np.ones(len(flat))])
        moved = space @ self.chain.motion(self.number, float(np.radians(abs(degrees)))).T
        return np.asarray(moved[:, (0, 2)])

    def line(self, most: float) -> Floats:
        """The leaf half open, from joint to joint, (2, 2)."""
        assert self.chain is not None
        angle = float(np.radians(min(DRAWN, most)))
        return np.array([self.chain.at(self.number, angle), self.chain.at(self.number + 1, angle)])
