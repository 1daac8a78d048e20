"""The lengths of a unit document by their address, as somebody typed them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from ashfell.core.base.address import Address
from ashfell.core.base.lengths import Length
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
