"""Where finishes are used in a document, and another in their place."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ashfell.core.base.address import Address
from ashfell.core.base.document import Data

ENTRIES = ("finish", "outside", "inside")
"""Entries whose value is the key of a finish."""
TABLES = ("finishes", "inner", "painted")
"""Entries that hold keys of finishes, by what they are of."""


def uses(data: Data, key: str) -> list[Address]:
    """The entries of a unit or site document that name a finish; those of the units that a site holds are theirs."""
    return [address for address, value in _named(data, Address()) if value == key]


def named(data: Data) -> dict[str, Address]:
    """The finishes that a unit or site document names by their keys, each with the first entry that does."""
    found: dict[str, Address] = {}
    for address, key in _named(data, Address()):
        found.setdefault(key, address)
    return found


def _named(here: Any, address: Address) -> Iterator[tuple[Address, str]]:
    if isinstance(here, list):
        for index, one in enumerate(here):
            name = one.get("id") if isinstance(one, dict) else None
            yield from _named(one, address / str(name or index))
    elif isinstance(here, dict):
        for name, value in here.items():
            if name in ENTRIES and isinstance(value, str):
                yield address / name, value
            elif name in TABLES and isinstance(value, dict):
                yield from ((address / name / role, own) for role, own in value.items() if isinstance(own, str))
            elif name != "units":
                yield from _named(value, address / name)


def replaced(data: Data, key: str, other: str) -> Data:
    """A document with another finish in the place of one; the same data where it is not used."""
    return _replaced(data, key, other) if uses(data, key) else data


def _replaced(here: Any, key: str, other: str) -> Any:
    if isinstance(here, list):
        return [_replaced(one, key, other) for one in here]
    if not isinstance(here, dict):
        return here
    found: Data = {}
    for name, value in here.items():
        if name in ENTRIES and value == key:
            found[name] = other
        elif name in TABLES and isinstance(value, dict):
            found[name] = {role: other if own == key else own for role, own in value.items()}
        else:
            found[name] = _replaced(value, key, other)
    return found
