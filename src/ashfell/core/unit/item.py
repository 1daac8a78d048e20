"""What a catalogue holds: units and hardware of workshops, each with a version, to be taken into a project."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property

from ashfell.core.base.document import Data, read
from ashfell.core.base.lengths import LengthError, Unit, parse
from ashfell.core.kinds.hardware import HardwareEntry
from ashfell.core.unit.piece import PieceDocument, piece_bounds
from ashfell.core.unit.say.writer import tenth

TIMES = re.compile(r"^\s*(?P<width>.+?)\s*[x×]\s*(?P<height>.+?)\s*$")
"""A size as somebody writes it."""


@dataclass(frozen=True)
class Item:
    """A unit or a piece of hardware of a workshop.

    Attributes
    ----------
    key : str
        Unique in its catalogue.
    name, words : str
        What it is called, and what it is in a few words.
    workshop : str
        Who makes it.
    family : str
        What one looks for it under: "Windows".
    document : dict
        Its unit document, or that of a piece.
    version : int
        Counted from 1.
    news : str
        What this version changed; empty for the first.
    """

    key: str
    name: str
    words: str
    workshop: str
    family: str
    document: Data
    version: int = 1
    news: str = ""

    @cached_property
    def piece(self) -> HardwareEntry | None:
        """The piece that it is; None where it is a unit."""
        return read(PieceDocument, self.document).hardware if "hardware" in self.document else None

    @cached_property
    def size(self) -> tuple[Fraction, Fraction]:
        """Its width and height, mm; those of a piece to a tenth."""
        if self.piece is not None:
            low, high = piece_bounds(self.piece)
            return tenth(float(high[0] - low[0])), tenth(float(high[1] - low[1]))
        return parse(str(self.document["width"])), parse(str(self.document["height"]))

    @property
    def text(self) -> str:
        """All that its words can be found by."""
        tags = " ".join(map(str, self.document.get("tags", ())))
        return f"{self.name} {self.words} {self.workshop} {self.family} {tags}".lower()


def found(items: Iterable[Item], asked: str = "", family: str = "", bare: Unit = "mm") -> list[Item]:
    """The items of a family that have all words that are asked for; where a size is asked for, all of them, the nearest
    first."""
    held = [item for item in items if family in ("", item.family)]
    size = _size(asked, bare)
    if size is not None:
        return sorted(held, key=lambda item: sum(abs(own - other) for own, other in zip(item.size, size, strict=True)))
    words = asked.lower().split()
    return [item for item in held if all(word in item.text for word in words)]


def _size(asked: str, bare: Unit) -> tuple[Fraction, Fraction] | None:
    """A size that is asked for; None where it is words."""
    written = TIMES.match(asked)
    if written is None:
        return None
    try:
        return parse(written["width"], bare), parse(written["height"], bare)
    except LengthError:
        return None


def taken(item: Item, width: str = "", height: str = "") -> Data:
    """The document of an item as it stands in a project: with where it comes from, and in a size of its own where that
    is given; solved for it anew, not stretched."""
    own = {name: size for name, size in (("width", width), ("height", height)) if size}
    return item.document | own | {"source": {"item": item.key, "version": item.version}}


def updated(data: Data, item: Item) -> Data:
    """A unit that was taken from an item as its newest version would be: with the unit's own name, tags, size and
    finishes."""
    kept = {name: data[name] for name in ("name", "tags", "width", "height", "finishes") if name in data}
    return taken(item) | kept
