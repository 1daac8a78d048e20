"""The unit document: what somebody typed, kept as typed.

A unit is a ring (the frame) round a cell; a cell is divided into cells to any depth; what fills a light may be a sash,
which is again a ring round a cell.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints

from ashfell.core.base.document import Document, Key, Name, Size, mm, read
from ashfell.core.kinds.outline import OneOutline, outline
from ashfell.core.kinds.roles import Finishes, SidedKey
from ashfell.core.unit.document.cell import Cell
from ashfell.core.unit.document.glazing import Glazing
from ashfell.core.unit.document.members import Frame
from ashfell.core.unit.document.trim import Trim
from ashfell.core.upgrade import upgraded


class Source(Document):
    """Where a unit was taken from: an item of a catalogue, and its version."""

    item: Key
    version: Annotated[int, Field(ge=1, le=10**6)] = 1


PartName = Annotated[str, StringConstraints(pattern=r"^[\w.-]{1,120}$")]


class UnitDocument(Cell):
    """A window or door unit; ``source`` is the item of a catalogue that it was taken from, ``grain`` are the parts
    whose grain is turned by a quarter, ``painted`` the finishes that parts have of their own, by the part's name,
    ``inner`` those of roles on the inner side, where they differ."""

    format: Literal["ashfell/unit/4"] = "ashfell/unit/4"
    name: Name = "Window"
    tags: Annotated[tuple[Name, ...], Field(max_length=40)] = ()
    width: Size = mm("1200")
    height: Size = mm("1200")
    outline: OneOutline = Field(default_factory=lambda: outline("rectangle"))
    frame: Frame = Frame()
    glazing: Glazing = Glazing()
    trim: Trim = Trim()
    finishes: Finishes = Field(default_factory=Finishes.usual)
    inner: dict[SidedKey, Key] = {}
    grain: Annotated[tuple[PartName, ...], Field(max_length=500)] = ()
    painted: Annotated[dict[PartName, Key], Field(max_length=500)] = {}
    source: Source | None = None


def read_unit(data: Mapping[str, Any]) -> UnitDocument:
    """A unit document from JSON data of any format there has been.

    Raises
    ------
    Refusal
        For the first entry that is wrong.
    """
    return read(UnitDocument, upgraded(data))
