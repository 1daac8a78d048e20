"""Outlines: the closed paths a unit can have, each kind as one record."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Annotated, Any

from ashfell.core.base.document import Data, Document, dump
from ashfell.core.base.registry import OneOf, Registry
from ashfell.core.plane.outline import Outline

if TYPE_CHECKING:
    from ashfell.core.unit.say.writer import Writer


class OutlineEntry(Document):
    """What every outline's entry has: its kind."""

    kind: str


def _fresh(kind: str) -> Callable[[Data], Data]:
    return lambda unit: dump(outline(kind))


def _nothing(w: Writer, path: str, entry: Any) -> list[Any]:
    return []


@dataclass(frozen=True)
class OutlineKind:
    """One kind of outline.

    Attributes
    ----------
    key : str
        Its ``kind`` in documents.
    words : str
        As the page offers it: "Segmental head".
    entry : type of OutlineEntry
        What a document says of it; kinds of one family share theirs.
    make : callable
        The outline of an entry in an overall width and height, mm, its lower left corner at the origin. Refuses what
        does not fit.
    order : int
        Where it stands among the others.
    say : callable
        What the list says of it behind the overall size.
    fresh : callable or None
        The data of a new one, from that of the unit that takes it; the entry's usual one where nothing else is said.
    """

    key: str
    words: str
    entry: type[OutlineEntry]
    make: Callable[[Any, float, float], Outline]
    order: int
    say: Callable[[Writer, str, Any], list[Any]] = _nothing
    fresh: Callable[[Data], Data] | None = None

    def new(self, unit: Data) -> Data:
        """The data of a new outline of this kind for a unit."""
        return (self.fresh or _fresh(self.key))(unit)


OUTLINES: Registry[OutlineKind] = Registry("outline", "ashfell.core.kinds.outlines")
"""Every kind of outline, by key."""

OneOutline = Annotated[OutlineEntry, OneOf(OUTLINES, "rectangle")]
"""The type of an outline in a document."""


def outline(kind: str) -> OutlineEntry:
    """An entry of a kind, all that can be left out being left out."""
    return OUTLINES[kind].entry.model_validate({"kind": kind})


def outline_of(entry: OutlineEntry, width: float, height: float) -> Outline:
    """The outline of an entry in its overall size, mm; its lower left corner is the origin.

    Raises
    ------
    Refusal
        When the entry does not fit the size, with the value that would.
    """
    return OUTLINES[entry.kind].make(entry, width, height)
