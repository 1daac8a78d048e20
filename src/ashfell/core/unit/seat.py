"""How glass sits in a ring: its planes, how far it goes behind the members beside it, how deep their rebates are."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property

import numpy as np

from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import Floats
from ashfell.core.unit.document.glazing import Glazing


@dataclass(frozen=True)
class Seat:
    """How glass sits in a ring: planes across the depth as distances behind the unit's outer face, mm."""

    glazing: Glazing
    stop_back: Fraction
    glass_front: Fraction
    glass_back: Fraction
    bead_front: Fraction
    bead_back: Fraction
    narrow: tuple[Fraction, Fraction] | None = None
    """How far glass goes behind bars too narrow for the ring's cover and clearance, and how far from the bottom of
    their rebates it ends there, where that is not given for them, mm."""
    bare: frozenset[str] = frozenset()
    """The sides of its ring that have no member."""
    bars: tuple[str, Fraction] | None = None
    """The entry of the depth of the bars that end before the ring does and so the beads with them, and how far these
    bars are set back, mm."""

    @property
    def cover(self) -> Fraction:
        """How far glass goes behind the ring, mm."""
        return self.glazing.cover.mm

    @property
    def bar_cover(self) -> Fraction:
        """How far glass goes behind a bar, mm; as much as the ring where nothing is given and the bars have room."""
        if self.narrow:
            return self.narrow[0]
        return (self.glazing.bar_cover or self.glazing.cover).mm

    @property
    def stopless(self) -> bool:
        """Whether gaskets as thick as the glass is set back hold it without a stop before them."""
        return self.glazing.setback.mm == self.glazing.gasket.thickness.mm

    @cached_property
    def rebate(self) -> Fraction:
        """Depth of the ring's rebate, mm."""
        return self.cover + self.clearance

    @property
    def clearance(self) -> Fraction:
        """From the edge of the glass to the bottom of the ring's rebate, mm."""
        return self.glazing.clear

    @property
    def bar_clearance(self) -> Fraction:
        """The same of a bar's rebate, mm."""
        return self.narrow[1] if self.narrow else self.clearance

    @cached_property
    def bar_rebate(self) -> Fraction:
        """Depth of a bar's rebate, mm."""
        return self.bar_cover + self.bar_clearance

    def rebate_beside(self, tag: str) -> Fraction:
        """Depth of the rebate beside an edge, mm; none where there is no member."""
        return Fraction(0) if tag in self.bare else self.bar_rebate if is_bar(tag) else self.rebate

    def cover_beside(self, tag: str) -> Fraction:
        """How far glass goes behind an edge, mm; where there is no member it ends with the outline."""
        return Fraction(0) if tag in self.bare else self.bar_cover if is_bar(tag) else self.cover

    def rebates(self, loop: Loop) -> Floats:
        """:meth:`rebate_beside` each edge of a loop, (c,) mm."""
        return _of_each(loop, self.rebate_beside)

    def covers(self, loop: Loop) -> Floats:
        """:meth:`cover_beside` each edge of a loop, (c,) mm."""
        return _of_each(loop, self.cover_beside)


def _of_each(loop: Loop, beside: Callable[[str], Fraction]) -> Floats:
    """What is beside each edge of a loop, (c,) mm; the facets of a curve have one name."""
    known = {tag: float(beside(tag)) for tag in set(loop.tags)}
    return np.array([known[tag] for tag in loop.tags])


def is_bar(tag: str) -> bool:
    """Whether an edge of a loop runs along a bar."""
    return tag.startswith(("mullion", "transom", "angled"))
