"""What differs between two documents, entry by entry."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from ashfell.core.base.address import Address
from ashfell.core.base.document import Data


@dataclass(frozen=True)
class Difference:
    """An entry that is not the same: what it was, and what it is; None where it was not there, or is not any more."""

    entry: str
    before: Any
    after: Any

    @property
    def kind(self) -> str:
        """``added``, ``removed`` or ``changed``."""
        return "added" if self.before is None else "removed" if self.after is None else "changed"


def differences(one: Data, other: Data) -> list[Difference]:
    """What differs between two documents. A thing in a list that has an id is the one of the same id in the other,
    wherever in its list that stands; it is told whole where the other has none.

    >>> differences({"width": "900", "bars": [1, 2]}, {"width": "1 m", "bars": [1]})
    [Difference(entry='bars.1', before=2, after=None), Difference(entry='width', before='900', after='1 m')]
    >>> differences({"walls": [{"id": "a", "x": 0}]}, {"walls": [{"id": "b"}, {"id": "a", "x": 1}]})
    [Difference(entry='walls.a.x', before=0, after=1), Difference(entry='walls.b', before=None, after={'id': 'b'})]
    """
    return list(_within(Address(""), one, other))


def _within(entry: Address, one: Any, other: Any) -> Iterator[Difference]:
    if one == other:
        return
    if isinstance(one, dict) and isinstance(other, dict):
        held = one, other
    elif _is_list(one) and _is_list(other):
        held = _by_name(one), _by_name(other)
    else:
        yield Difference(str(entry), one, other)
        return
    for key in sorted(held[0].keys() | held[1].keys(), key=_order):
        yield from _within(entry / str(key), held[0].get(key), held[1].get(key))


def _order(key: str) -> tuple[int, str]:
    """Numbers by their size, before words."""
    return (int(key), "") if key.isdecimal() else (10**9, key)


def _is_list(value: Any) -> bool:
    return isinstance(value, list | tuple)


def _by_name(items: Sequence[Any]) -> dict[str, Any]:
    """The things of a list by their ids, where all of them have one, or else by their numbers from 0."""
    named = {one["id"]: one for one in items if isinstance(one, dict) and isinstance(one.get("id"), str)}
    return named if len(named) == len(items) else {str(number): one for number, one in enumerate(items)}
