"""Fillings: what can stand in a light, each kind as one record."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import cache
from typing import TYPE_CHECKING, Annotated, Any

from ashfell.core.base.document import Data, Document
from ashfell.core.base.registry import OneOf, Registry

if TYPE_CHECKING:
    from ashfell.core.kinds.opening import Swept
    from ashfell.core.kinds.roles import Finishes
    from ashfell.core.kinds.symbol import Symbol
    from ashfell.core.parts import Member
    from ashfell.core.unit.beside import Beside
    from ashfell.core.unit.document.unit import UnitDocument
    from ashfell.core.unit.layout import Bed, Content, Light
    from ashfell.core.unit.say.writer import Writer
    from ashfell.core.unit.solve.body import Solving


class FillEntry(Document):
    """What every filling's entry has: its kind."""

    kind: str


def _no_pieces(light: Light, fill: Any) -> tuple[int, str]:
    return 0, "pieces"


def _no_symbols(light: Light) -> Iterable[Symbol]:
    return ()


def _no_sweeps(light: Light) -> Iterable[Swept]:
    return ()


def _clears_all(document: UnitDocument, beside: Beside, light: Light) -> None:
    return None


def _other_operation(fill: Any, name: str) -> str:
    return "OTHEROPERATION"


@dataclass(frozen=True)
class Filling:
    """One kind of filling.

    Attributes
    ----------
    key : str
        Its ``kind`` in documents.
    entry : type of FillEntry
        What a document says of it.
    choice : str
        As the page offers it: "a panel".
    summary : callable
        What the list calls a light that holds one, from its entry: "panel".
    solve : callable
        Everything in it that has a size, from the light it is in. Refuses what cannot be built.
    members : callable
        What is to be made, from the solved light, the unit's finishes and, where it is seated, the bed it lies in.
    order : int
        Where it stands among the others.
    seated : bool
        Whether it lies in the rebate as glass does: its frame then has a stop, a rebate and beads.
    say : callable or None
        Writes its sentences.
    symbols : callable
        Its opening symbols on an elevation.
    operation : callable
        The IfcWindowPanelOperationEnum (IFC4, ISO 16739-1) of its entry; the name tells the leaves of a pair apart.
    door : callable or None
        Of a filling that makes its unit a door, what IFC4 (ISO 16739-1) calls the way that its entry opens: of
        IfcDoorTypeOperationEnum and of IfcDoorPanelOperationEnum.
    pieces : callable
        How many pieces there will be in a light besides itself, and what they are called; told before it is solved.
    fresh : callable or None
        Gives an entry of it that is new sizes with which it fits: from the data of the unit and its own, and what says
        whether the unit can be built now.
    sweeps : callable
        What its leaves sweep over.
    clears : callable
        Refuses what is in the way of it in the whole unit, once that is laid out.
    """

    key: str
    entry: type[FillEntry]
    choice: str
    summary: Callable[[Any], str]
    solve: Callable[[Light, Any, Solving], Content]
    members: Callable[[Light, Finishes, Bed | None], Iterable[Member]]
    order: int
    seated: bool = False
    say: Callable[[Writer, str, Light], None] | None = None
    symbols: Callable[[Light], Iterable[Symbol]] = _no_symbols
    operation: Callable[[Any, str], str] = _other_operation
    door: Callable[[Any], tuple[str, str]] | None = None
    pieces: Callable[[Light, Any], tuple[int, str]] = _no_pieces
    fresh: Callable[[Data, Data, Callable[[], bool]], None] | None = None
    sweeps: Callable[[Light], Iterable[Swept]] = _no_sweeps
    clears: Callable[[UnitDocument, Beside, Light], None] = _clears_all


FILLINGS: Registry[Filling] = Registry("filling", "ashfell.core.kinds.fillings")
"""Every filling, by key."""

Fill = Annotated[FillEntry, OneOf(FILLINGS)]
"""The type of a filling in a document."""


def filling_of(fill: FillEntry) -> Filling:
    """The record of an entry's kind."""
    return FILLINGS[fill.kind]


@cache
def usual_fill() -> FillEntry:
    """What fills a light of which nothing is said: fixed glass."""
    return FILLINGS["glass"].entry(kind="glass")
