"""How glass sits in a ring: its planes, how far it goes behind the members beside it, how deep their rebates are."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from ashfell.core.plane.loop import Loop
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

    @property
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

    @property
    def bar_rebate(self) -> Fraction:
        """Depth of a bar's rebate, mm."""
        return self.bar_cover + self.bar_clearance

    def rebates(self, loop: Loop) -> list[Fraction]:
        """Depth of the rebate beside each edge of a loop, mm; none where there is no member."""
        return self._beside(loop, self.rebate, self.bar_rebate)

    def covers(self, loop: Loop) -> list[Fraction]:
        """How far glass goes behind each edge of a loop, mm; where there is no member it ends with the outline."""
        return self._beside(loop, self.cover, self.bar_cover)

    def _beside(self, loop: Loop, edge: Fraction, bar: Fraction) -> list[Fraction]:
        none = Fraction(0)
        return [none if tag in self.bare else bar if is_bar(tag) else edge for tag in loop.tags]


def is_bar(tag: str) -> bool:
    """Whether an edge of a loop runs along a bar."""
    return tag.startswith(("mullion", "transom", "angled"))
