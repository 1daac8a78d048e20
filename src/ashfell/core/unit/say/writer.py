"""Sentences as data: words, slots and actions in order, so that a page, a sheet or a terminal can each say them its own
way.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any, Literal

from ashfell.core.base.lengths import Length, Style, exact, named, show, typed
from ashfell.core.plane.loop import Loop
from ashfell.core.solid.edges import EDGES
from ashfell.core.solid.section import Edge, OwnSection

Options = tuple[tuple[str, str], ...]
"""What can be chosen: keys and their words."""


@dataclass(frozen=True)
class Slot:
    """A value in a sentence: the address it is kept at, as it is shown, what it is called, and what may stand there."""

    entry: str
    value: str
    label: str
    kind: Literal["length", "number", "choice", "text", "colour"] = "length"
    options: Options = ()
    title: str = ""
    """Its exact size, and how it was typed, where that differs from what is shown."""
    hint: str = ""
    """What holds while nothing is typed."""
    typed: str = ""
    """As it was typed, where that differs from what is shown."""

    @property
    def size(self) -> int:
        """How many figures it needs room for."""
        return max(8 if self.kind == "colour" else 3, len(self.value or self.hint) + 1)

    @property
    def said(self) -> str:
        """As it is read aloud."""
        return dict(self.options).get(self.value, self.value) or self.hint


@dataclass(frozen=True)
class Action:
    """Something that can be done to the document: the address of the change, its words, what is sent with it.

    ``looks`` is ``set`` for a change, ``at`` for looking at another cell, ``points`` for drawing the points at an
    address, ``catalogue`` for taking something from the catalogue to it, ``publish`` for putting what is there into it;
    ``points`` are those that are shown after a change.
    """

    entry: str
    words: str
    label: str
    value: str = ""
    looks: Literal["set", "at", "points", "catalogue", "publish"] = "set"
    points: str = ""


Said = str | Slot | Action


@dataclass(frozen=True)
class Sentence:
    """One sentence: what it is made of, what it did, and the address it stands for. ``about`` is the address of the
    parts that it speaks of (what lights up with it), or ``about_role`` their role; ``nested`` is whether it belongs to
    the one before.
    """

    entry: str
    parts: tuple[Said, ...]
    told: tuple[str, ...] = ()
    nested: bool = False
    about: str = ""
    about_role: str = ""

    @property
    def spaced(self) -> list[tuple[str, Said]]:
        """The parts with the space before each: none before a point or comma, and a slot keeps to what follows it."""
        return [("" if isinstance(part, str) and part[:1] in ",.;:°%" else " ", part) for part in self.parts]

    @property
    def text(self) -> str:
        """The sentence without its actions, as somebody would read it aloud.

        >>> Sentence("frame", ("Frame", Slot("frame.face", "50", "Face"), "wide", ".")).text
        'Frame 50 wide.'
        """
        said = ((space, part.said if isinstance(part, Slot) else part) for space, part in self.spaced)
        return "".join(f"{space}{part}" for space, part in said if isinstance(part, str)).strip()


AS_ROLE = "as its role"


@dataclass
class Writer:
    """Makes sentences in one style of lengths; ``finishes`` are those that can be chosen, by key, ``roles`` the
    keys of those that roles have. ``about`` is what they all speak of for a while; else each speaks of the entry it
    stands for."""

    style: Style
    finishes: Mapping[str, str]
    sentences: list[Sentence] = field(default_factory=list)
    about: str = ""
    roles: Mapping[str, str] = field(default_factory=dict)

    def length(self, entry: str, value: Length | None, label: str, hint: str = "") -> Slot:
        """A slot for a length; without a value it shows ``hint``."""
        text = show(value.mm, self.style) if value else ""
        if value is None:
            return Slot(entry, text, label, hint=hint)
        kept = typed(value, self.style)
        return Slot(entry, text, label, title=_title(value), hint=hint, typed=kept if kept != text else "")

    def number(self, entry: str, value: object, label: str, hint: str = "") -> Slot:
        """A slot for a number without a unit; without a value it shows ``hint``."""
        text = "" if value is None else f"{value:g}" if isinstance(value, float) else str(value)
        return Slot(entry, text, label, "number", hint=hint)

    def choice(self, entry: str, value: str, options: Mapping[str, str], label: str) -> Slot:
        """A slot for one of some words."""
        return Slot(entry, value, label, "choice", tuple(options.items()))

    def text(self, entry: str, value: str, label: str) -> Slot:
        """A slot for words."""
        return Slot(entry, value, label, "text")

    def colour(self, entry: str, value: str, label: str) -> Slot:
        """A slot for a colour, ``#rrggbb``."""
        return Slot(entry, value, label, "colour")

    def finish(self, entry: str, value: str | None, label: str, own: bool = True, usual: str = AS_ROLE) -> Slot:
        """A slot for a finish; where it is one's ``own`` it may be the ``usual`` one, in these words."""
        options = ({"": usual} if own else {}) | dict(self.finishes)
        return self.choice(entry, value or "", options, label)

    def of_role(self, role: str) -> str:
        """What has no finish of its own, in words: as its role, and which that is."""
        key = self.roles.get(role, "")
        return f"{AS_ROLE}: {self.finishes[key]}" if key in self.finishes else AS_ROLE

    def edge(self, entry: str, edge: Edge, label: str) -> tuple[Said, ...]:
        """How an edge is worked."""
        kinds = {key: record.words for key, record in EDGES.items()}
        kind = self.choice(f"{entry}.kind", edge.kind, kinds, f"{label} edge")
        if edge.kind == "square":
            return ("edges", kind)
        return ("edges", kind, self.length(f"{entry}.size", edge.size, f"{label} edge size"))

    def section(self, entry: str, section: OwnSection | None, edge: tuple[Said, ...], label: str) -> tuple[Said, ...]:
        """Worked edges, or a section of one's own in their place."""
        path = f"{entry}.section"
        if section is None:
            draw = Action(f"{path}.drawn", "Own section", f"Draw a section of its own for {label}", points=path)
            return (*edge, draw)
        return (
            f"own section of {len(section)} points",
            Action(path, "Draw", f"Draw the section of {label}", looks="points"),
            Action(path, "×", f"Go back to worked edges for {label}"),
        )

    def say(
        self,
        entry: str,
        *parts: Any,
        told: tuple[str, ...] = (),
        nested: bool = False,
        about: str | None = None,
        about_role: str = "",
    ) -> None:
        """Write one sentence; tuples among its parts are taken apart."""
        flat: list[Said] = []
        for part in parts:
            flat += part if isinstance(part, tuple) else [part]
        speaks_of = (self.about or entry) if about is None else about
        self.sentences.append(Sentence(entry, tuple(flat), told, nested, speaks_of, about_role))

    def size(self, loop: Loop) -> str:
        """Width and height of a loop's bounds, to a tenth of a millimetre."""
        left, foot, right, head = loop.bounds
        return self.by(tenth(right - left), tenth(head - foot))

    def by(self, width: Fraction, height: Fraction) -> str:
        """``900 by 1200 mm``."""
        return f"{show(width, self.style)} by {named(height, self.style)}"


def tenth(size: float) -> Fraction:
    """What is measured on the facets of a curve, to a tenth of a millimetre."""
    return Fraction(round(size * 10), 10)


def _title(value: Length) -> str:
    precise = exact(value.mm)
    return precise if value.text in (precise, precise.removesuffix(" mm")) else f"{value.text} = {precise}"


def list_actions(path: str, what: str) -> tuple[Action, ...]:
    """What can be done to an entry of a list."""
    return (
        Action(f"{path}.raised", "↑", f"Move {what} up"),
        Action(f"{path}.lowered", "↓", f"Move {what} down"),
        Action(f"{path}.duplicated", "Copy", f"Duplicate {what}"),
        Action(f"{path}.removed", "×", f"Remove {what}"),
    )
