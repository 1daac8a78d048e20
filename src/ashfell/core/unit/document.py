"""The unit document: what somebody typed, kept as typed."""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction
from typing import Annotated, Any, Literal, Self

from pydantic import Field, model_validator
from pydantic_core import PydanticCustomError

from ashfell.core.document import Document, Gap, Key, Name, Share, Size, read
from ashfell.core.lengths import Length
from ashfell.core.spacing import Rule

Axis = Literal["columns", "rows"]
Role = Literal["frame", "bar", "glass", "gasket", "bead"]


def _mm(value: str) -> Length:
    return Length.read(value)


class Frame(Document):
    """The ring round the outline, mitred at its corners."""

    face: Size = _mm("50")
    depth: Size = _mm("80")
    chamfer: Gap = _mm("2")


class Bars(Document):
    """What all mullions and transoms have in common; without a depth they end flush with the frame inside."""

    depth: Size | None = None
    setback: Gap = _mm("0")
    chamfer: Gap = _mm("2")
    through: Axis = "columns"


class LightEntry(Document):
    """One light along an axis: a fixed clear size, or a share of what is left."""

    size: Size | None = None
    share: Share = Fraction(1)


class Division(Document):
    """The lights along one axis, and the face of each bar between them. Columns run from the left as seen from
    outside, rows from the sill up."""

    rule: Rule = "clear"
    lights: Annotated[tuple[LightEntry, ...], Field(min_length=1, max_length=60)] = (LightEntry(),)
    bars: tuple[Size, ...] = ()

    @model_validator(mode="after")
    def _one_bar_between_two_lights(self) -> Self:
        if len(self.bars) != len(self.lights) - 1:
            raise PydanticCustomError(
                "one_bar_between_two_lights",
                "{lights} lights need {needed} bars between them, not {bars}.",
                {"lights": len(self.lights), "needed": len(self.lights) - 1, "bars": len(self.bars)},
            )
        return self


class Gasket(Document):
    """The seal on both faces of the glass: its thickness, and how far it shows past the edge of the light."""

    thickness: Size = _mm("4")
    shows: Gap = _mm("2")


class Bead(Document):
    """What holds the glass from inside."""

    chamfer: Gap = _mm("2")


class Glazing(Document):
    """Glass in a rebate: ``setback`` from the frame's outer face, ``cover`` behind the frame, ``clearance`` from the
    bottom of the rebate. Bars may cover less or more than the frame does."""

    thickness: Size = _mm("24")
    setback: Size = _mm("24")
    cover: Size = _mm("12")
    bar_cover: Size | None = None
    clearance: Gap = _mm("3")
    gasket: Gasket = Gasket()
    bead: Bead = Bead()


class Finishes(Document):
    """The finish of each role, by key."""

    frame: Key = "white-paint"
    bar: Key = "white-paint"
    glass: Key = "clear-glass"
    gasket: Key = "black-rubber"
    bead: Key = "white-paint"


class UnitDocument(Document):
    """A window or door unit."""

    format: Literal["ashfell/unit/1"] = "ashfell/unit/1"
    name: Name = "Window"
    width: Size = _mm("1200")
    height: Size = _mm("1200")
    frame: Frame = Frame()
    columns: Division = Division()
    rows: Division = Division()
    bars: Bars = Bars()
    glazing: Glazing = Glazing()
    finishes: Finishes = Finishes()


def read_unit(data: Mapping[str, Any]) -> UnitDocument:
    """A unit document from JSON data; :class:`~ashfell.core.refusal.Refusal` names the first wrong entry."""
    return read(UnitDocument, data)
