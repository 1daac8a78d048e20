"""Entries of glazing: how glass sits in its rebate."""

from __future__ import annotations

from fractions import Fraction
from typing import Annotated

from pydantic import Field

from ashfell.core.base.document import Document, Gap, Size, mm
from ashfell.core.solid.section import Edge, OwnSection

USUAL_CLEARANCE = Fraction(3)
"""Between the edge of glass and the bottom of its rebate, where nothing is given, mm (common practice, no source)."""


class Gasket(Document):
    """The seal on both faces of the glass: its thickness, and how far it shows past the edge of the light."""

    thickness: Size = mm("4")
    shows: Gap = mm("2")


class Bead(Document):
    """What holds the glass from inside. A ``section`` of your own takes the place of its worked edge: x inwards from
    the bottom of the rebate, y from its inner face towards the glass, as 0 and below."""

    edge: Edge = Edge()
    section: OwnSection | None = None


class Glazing(Document):
    """Glass in a rebate: ``setback`` from the ring's outer face, ``cover`` behind the ring, ``clearance`` from the
    bottom of the rebate (null: 3 mm, or behind bars what they leave). Bars may cover less or more than the ring
    does. ``thickness`` is of all ``panes`` together;
    with more than one each is ``pane`` thick and the cavities share the rest."""

    thickness: Size = mm("24")
    setback: Size = mm("24")
    cover: Size = mm("12")
    bar_cover: Size | None = None
    clearance: Gap | None = None
    panes: Annotated[int, Field(ge=1, le=3)] = 1
    pane: Size = mm("4")
    gasket: Gasket = Gasket()
    bead: Bead = Bead()

    @property
    def clear(self) -> Fraction:
        """From the edge of the glass to the bottom of the ring's rebate, mm: what is given, or the usual."""
        return self.clearance.mm if self.clearance else USUAL_CLEARANCE
