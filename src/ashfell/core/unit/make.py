"""The one function of a unit: its document in, its layout, parts and drawing out."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from ashfell.core.base.kept import kept
from ashfell.core.parts import Part
from ashfell.core.seen import Shape, elevation
from ashfell.core.unit.build import build
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.layout import Layout
from ashfell.core.unit.promise import solve


@dataclass(frozen=True, eq=False)
class Unit:
    """A unit document with all that is made of it: the exact layout, and the parts."""

    document: UnitDocument
    layout: Layout
    parts: tuple[Part, ...]

    @cached_property
    def roles(self) -> frozenset[str]:
        """The roles of its parts."""
        return frozenset(part.role for part in self.parts)

    @cached_property
    def triangles(self) -> int:
        """How many triangles all its solids have."""
        return sum(len(part.solid.triangles) for part in self.parts)

    @property
    def weight(self) -> float:
        """About how much memory it takes, bytes."""
        return 3_000.0 * len(self.parts) + 50.0 * self.triangles

    @cached_property
    def shapes(self) -> list[Shape]:
        """The elevation from outside, back to front."""
        return elevation(self.parts)

    @cached_property
    def inside(self) -> list[Shape]:
        """The elevation from inside, back to front; its right is the unit's left."""
        return elevation(self.parts, "inside")


class _Content:
    """A document that is the same as any other of the same content."""

    __slots__ = ("document", "most", "text")

    def __init__(self, document: UnitDocument, most: int | None) -> None:
        self.document, self.text, self.most = document, document.model_dump_json(), most

    def __hash__(self) -> int:
        return hash(self.text)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Content) and other.text == self.text


KEPT = 96e6
"""How much of units that are made is kept, bytes."""


@kept(KEPT, lambda unit, _: unit.weight)
def _made(content: _Content) -> Unit:
    return make(content.document, content.most)


def made(document: UnitDocument, most: int | None = None) -> Unit:
    """As :func:`make`, but a unit of the same content is made once; the last of them are kept.

    Raises
    ------
    Refusal
    TooManyPieces
    """
    return _made(_Content(document, most))


class TooManyPieces(Exception):
    """A unit is laid out and has more pieces than there may be more: none of it has been built."""


def make(document: UnitDocument, most: int | None = None) -> Unit:
    """Make a unit, of at most so many pieces.

    Raises
    ------
    Refusal
        When it cannot be built, with the entry, the rule, the numbers and the nearest value that would work.
    TooManyPieces
        When it has more.

    Examples
    --------
    >>> from ashfell.core.unit import make, read_unit
    >>> unit = make(read_unit({"width": "2300", "columns": {"lights": [{}, {}], "bars": ["50"]}}))
    >>> unit.layout.columns.sentence()
    '2 lights of 1075 mm clear, by equal clear lights; 1 bar of 50 mm.'
    """
    layout = solve(document)
    if most is not None and layout.pieces > most:
        raise TooManyPieces(layout.pieces)
    return Unit(document, layout, build(document, layout))
