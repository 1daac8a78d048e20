"""What can be said of a file that is read and does not say so itself."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ashfell.core.base.document import Document, Gap, Size, mm


class PlanOptions(Document):
    """How a plan is read: in which unit where the file does not say so, which layers hold walls (those whose names say
    so, or else all), how thick walls are and how wide openings, and what a plan does not tell."""

    unit: Annotated[str, Field(pattern="^(|mm|cm|m|in|ft)$")] = ""
    layers: tuple[Annotated[str, Field(max_length=255)], ...] = ()
    thinnest: Size = mm("60")
    thickest: Size = mm("500")
    narrowest: Size = mm("300")
    widest: Size = mm("6000")
    height: Size = mm("2700")
    sill: Gap = mm("900")
    window: Size = mm("1200")
    door: Size = mm("2100")


class MeshOptions(Document):
    """How a model is read: in which unit, and which of its axes is up, where the file does not say so."""

    unit: Annotated[str, Field(pattern="^(|mm|cm|m|in|ft)$")] = ""
    up: Literal["", "y", "z"] = ""
