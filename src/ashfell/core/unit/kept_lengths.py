"""The lengths of a unit document by their address, as somebody typed them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from fractions import Fraction
from typing import Any

from ashfell.core.base.address import Address
from ashfell.core.base.lengths import Length, Style, exact, parse, show, typed
from ashfell.core.unit.document.unit import UnitDocument


def length_at(document: UnitDocument, entry: str) -> Length | None:
    """The length at an address; None where there is none, or no such entry."""
    here: Any = document
    for step in Address(entry).steps:
        if isinstance(here, Mapping):
            here = here.get(step)
        elif isinstance(here, Sequence) and step.isdigit() and int(step) < len(here):
            here = here[int(step)]
        else:
            here = getattr(here, step, None)
    return here if isinstance(here, Length) else None


def entered(document: UnitDocument, entry: str, size: Fraction, style: Style) -> str:
    """What is seen when a size on the drawing is entered: as it was typed at its address, or exactly where it is shown
    rounded; empty where that is what is shown."""
    kept, shown = length_at(document, entry), show(size, style)
    if kept is not None and kept.mm == size:
        text = typed(kept, style)
    else:
        text = shown if parse(shown, style.bare) == size else exact(size)
    return text if text != shown else ""
