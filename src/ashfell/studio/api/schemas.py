"""What goes in and out of the HTTP interface."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any

from ninja import Schema
from pydantic import Field

Number = Annotated[int, Field(ge=0, le=2**31)]
Text = Annotated[str, Field(min_length=1, max_length=80, pattern=r"^[^\x00-\x1f]*$")]
Key = Annotated[str, Field(max_length=60, pattern=r"^[a-z0-9][a-z0-9-]*$")]


class Wrong(Schema):
    """Why something is not done: the entry at fault, the rule, the numbers in a sentence, and what to do instead;
    ``nearest`` is the nearest value that works, mm."""

    entry: str
    rule: str
    message: str
    remedy: str
    nearest: str | None = None


class Told(Schema):
    """Why nothing was done: nobody is let in, may not do that, or it is not there."""

    detail: str


class ProjectOut(Schema):
    id: int
    name: str
    lengths: str
    created: datetime


class ProjectIn(Schema):
    name: Text
    lengths: Annotated[str, Field(pattern="^(mm|cm|m|in|ft-in)$")] = "mm"


class RecordLine(Schema):
    key: str
    name: str
    revision: int


class RecordOut(RecordLine):
    document: dict[str, Any]


class RecordIn(Schema):
    """A document to be kept. ``revision`` is the one that the change was made from; it is not kept when another is in
    force by then."""

    document: dict[str, Any]
    revision: Number = 0


class Stored(Schema):
    key: str
    revision: int


class StaleOut(Wrong):
    """A save that started from another revision: what it offered is kept as ``offered``, ``current`` is in force."""

    current: int
    offered: int


class FindingOut(Schema):
    level: str
    rule: str
    place: str
    reason: str
    remedy: str


class FormatOut(Schema):
    format: str
    of: list[str]
    suffix: str
    media: str
    holds: str
    options: dict[str, list[str]]


class FileIn(Schema):
    """A file to be written: of ``site``, ``storey:`` and its id, ``unit:`` and its key, or what is ``selected``: walls,
    roof planes and plates by their ids."""

    what: Annotated[str, Field(max_length=80, pattern=r"^[^\x00-\x1f]*$")] = "site"
    format: Annotated[str, Field(max_length=20, pattern=r"^[^\x00-\x1f]*$")]
    options: dict[str, str] = {}
    selected: Annotated[list[Annotated[str, Field(max_length=80)]], Field(max_length=400)] = []


class FileOut(Schema):
    id: int
    what: str
    format: str
    state: str
    name: str
    size: int
    reason: str
    doing: str
    done: int
    of: int
    """While it is written: ``done`` of so many of what is being ``doing``."""


class PictureIn(Schema):
    settings: dict[str, Any]


class PictureOut(Schema):
    id: int
    state: str
    passes: int
    passes_done: int
    seconds: float
    reason: str
    settings: dict[str, Any]
