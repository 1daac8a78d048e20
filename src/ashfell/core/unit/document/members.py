"""Entries of a unit's members: frame and rings, divisions and bars."""

from __future__ import annotations

from fractions import Fraction
from typing import Annotated, Any, Literal, Self

from pydantic import Field, StringConstraints, model_validator
from pydantic_core import PydanticCustomError

from ashfell.core.base.document import Document, Gap, Key, Place, Share, Side, Size, mm
from ashfell.core.base.lengths import Length
from ashfell.core.base.spacing import Rule
from ashfell.core.kinds.outline import OneOutline
from ashfell.core.solid.section import Edge, OwnSection

Axis = Literal["columns", "rows"]


AXES: tuple[Axis, Axis] = ("columns", "rows")


CellKey = Annotated[str, StringConstraints(pattern=r"^c\d{1,2}r\d{1,2}$")]


Percent = Annotated[float, Field(ge=0, le=100)]


class Infill(Document):
    """What stands between a ring and the one before it, in the middle of their depth."""

    kind: Literal["glass", "board"] = "glass"
    thickness: Size = mm("10")
    finish: Key | None = None


class ExtraRing(Document):
    """Rings inside or outside the frame: ``count`` of them, each ``step`` from the one before (or by its own ``steps``
    for a side), ``setback`` behind the frame's face. With ``over`` they share that width evenly instead, steps and
    faces together, and with a ``seed`` their steps differ by chance. A ring follows the one before it, or has an
    ``outline`` of its own in the box between its steps. A depth of null is the frame's. What its steps leave
    open may have an ``infill``."""

    place: Literal["inside", "outside"] = "inside"
    face: Size = mm("20")
    depth: Size | None = None
    setback: Place = mm("0")
    step: Gap = mm("0")
    steps: dict[Side, Gap] = {}
    count: Annotated[int, Field(ge=1, le=20)] = 1
    over: Size | None = None
    seed: Annotated[int, Field(ge=0, le=10**9)] | None = None
    infill: Infill | None = None
    outline: OneOutline | None = None
    edge: Edge = Edge()
    section: OwnSection | None = None


class Frame(Document):
    """The ring round the outline. A ``section`` of your own takes the place of its worked edges: x inwards from the
    outer edge, y forwards from the face; it is fitted to whatever face and depth there is, and the rebate is cut into
    it. So it is with extra rings, bars and sashes. ``sides`` have faces of their own by name (``head``, ``left``,
    ``right``, ``sill``); a head, sill or jamb of 0 is not there. ``joint`` is mitred, or butted with the jambs or with
    head and sill running through. ``glazed`` is which of its ``rings`` holds what is in the unit, from 1, or 0 for the
    frame itself (null: the innermost); those inside that one lie before or behind the glass."""

    face: Size = mm("50")
    sides: dict[Side, Gap] = {}
    depth: Size = mm("80")
    edge: Edge = Edge()
    joint: Literal["mitred", "jambs", "head"] = "mitred"
    section: OwnSection | None = None
    rings: Annotated[tuple[ExtraRing, ...], Field(max_length=20)] = ()
    glazed: Annotated[int, Field(ge=0, le=20)] | None = None


class Bars(Document):
    """What the mullions and transoms of a cell have in common; without a depth they end flush with the ring inside."""

    depth: Size | None = None
    setback: Gap = mm("0")
    edge: Edge = Edge()
    section: OwnSection | None = None
    through: Axis = "columns"


class BarEntry(Document):
    """One bar; what it does not say, it has in common with the others."""

    face: Size
    depth: Size | None = None
    setback: Gap | None = None
    edge: Edge | None = None
    section: OwnSection | None = None

    @model_validator(mode="before")
    @classmethod
    def _from_its_face(cls, value: Any) -> Any:
        return {"face": value} if isinstance(value, (str, int, float, Length)) else value


class LightEntry(Document):
    """One light along an axis: a fixed clear size, or a share of what is left."""

    size: Size | None = None
    share: Share = Fraction(1)


class Division(Document):
    """The lights along one axis, and the bar between each two. Columns run from the left as seen from outside, rows
    from the sill up."""

    rule: Rule = "clear"
    lights: Annotated[tuple[LightEntry, ...], Field(min_length=1, max_length=60)] = (LightEntry(),)
    bars: Annotated[tuple[BarEntry, ...], Field(max_length=59)] = ()

    @model_validator(mode="after")
    def _one_bar_between_two_lights(self) -> Self:
        if len(self.bars) != len(self.lights) - 1:
            raise PydanticCustomError(
                "one_bar_between_two_lights",
                "{lights} lights need {needed} bars between them, not {bars}.",
                {"lights": len(self.lights), "needed": len(self.lights) - 1, "bars": len(self.bars)},
            )
        return self


class AngledBar(Document):
    """A bar along the line (or, with a bulge, the arc) between two points, measured from the lower left corner of its
    cell's clear size; it goes on to the cell's edges."""

    x1: Place
    y1: Place
    x2: Place
    y2: Place
    bulge: Annotated[float, Field(ge=-1, le=1)] = 0.0
    face: Size = mm("40")
