"""A kind of file: what it is of, what can be chosen about it, and how it is written."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from ashfell.core.base.refusal import Refusal
from ashfell.core.base.registry import Registry
from ashfell.core.drawing.shaded import Extras
from ashfell.services.handover.source import Source

Chosen = Mapping[str, str]
GROUPS = {"models": "Models", "drawings": "Drawings", "lists": "Lists", "documents": "Documents"}


@dataclass(frozen=True)
class Option:
    """Something that can be chosen: one of some words, the first of which is usual."""

    key: str
    label: str
    words: Mapping[str, str]

    @property
    def usual(self) -> str:
        return next(iter(self.words))


@dataclass(frozen=True)
class Format:
    """A kind of file. ``of`` are ``site``, ``storey`` and ``unit``; ``holds`` says in a sentence what is in it."""

    key: str
    order: int
    label: str
    group: str
    of: tuple[str, ...]
    suffix: str
    media: str
    holds: str
    write: Callable[[Source, Chosen], bytes]
    options: tuple[Option, ...] = ()

    def name(self, source: Source) -> str:
        """What a file is called."""
        stem = re.sub(r"[^a-z0-9]+", "-", source.name.lower()).strip("-")[:60]
        return f"{stem or 'ashfell'}{self.suffix}"


FORMATS: Registry[Format] = Registry("format", "ashfell.services.handover.kinds")


def chosen(kind: Format, typed: Mapping[str, str]) -> dict[str, str]:
    """What is chosen about a file, as usual where nothing is.

    Raises
    ------
    Refusal
        When something is chosen that is not offered.
    """
    found = {}
    for option in kind.options:
        value = typed.get(option.key) or option.usual
        if value not in option.words:
            offered = ", ".join(option.words)
            raise Refusal(
                option.key,
                f"one of {offered}",
                f"“{value}” is no {option.label.lower()} of {kind.label}.",
                f"Choose one of {offered}.",
            )
        found[option.key] = value
    return found


def told(kind: str, what: str) -> Format:
    """The format of a key, for a site, a storey or a unit.

    Raises
    ------
    Refusal
        When there is none, or it is of something else.
    """
    offered = {key: one for key, one in FORMATS.items() if what in one.of}
    if kind not in offered:
        raise Refusal(
            "format", "a format", f"There is no format “{kind}” for a {what}.", f"Choose one of {', '.join(offered)}."
        )
    return offered[kind]


PAPER = Option("paper", "Paper", {one: one for one in ("A3", "A4", "A2", "A1", "A0")})
SCALE = Option(
    "scale", "Scale", {"": "fitted"} | {str(one): f"1 : {one}" for one in (1, 2, 5, 10, 20, 25, 50, 100, 200, 500)}
)
EXTRAS = Option(
    "extras",
    "Elevations",
    {
        "": "lines alone",
        "streaks": "with streaks on glass",
        "shadows": "with shadows",
        "both": "with streaks and shadows",
    },
)


def extras_of(chosen: Chosen) -> Extras:
    """What is drawn on elevations beside the lines."""
    said = chosen.get(EXTRAS.key, "")
    return Extras(said in ("streaks", "both"), said in ("shadows", "both"))


FIGURES = Option("figures", "Figures for", {str(one): f"1 : {one}" for one in (50, 20, 25, 100, 200, 10, 5)})
MEASURE = Option("measure", "Measured in", {"mm": "millimetres", "in": "inches"})
