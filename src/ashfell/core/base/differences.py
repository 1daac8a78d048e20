"""What differs between two documents, entry by entry."""

from __future__ import annotations

import copy
from collections.abc import Iterable, Iterator, Sequence
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


def with_differences(data: Data, found: Iterable[Difference]) -> Data:
    """A document with what differs taken over into it, wherever that stands there; it shares nothing with what came in.

    >>> with_differences({"walls": [{"id": "b"}, {"id": "a", "x": 0}]}, [Difference("walls.a.x", 0, 1)])
    {'walls': [{'id': 'b'}, {'id': 'a', 'x': 1}]}
    """
    whole = copy.deepcopy(data)
    ordered = sorted(found, key=lambda one: [_order(step) for step in Address(one.entry).steps])
    added = [one for one in ordered if one.kind == "added"]
    # From behind, so that a number in a list is still the same when it is its turn; what is added, from the front.
    for one in [*(one for one in reversed(ordered) if one.kind != "added"), *added]:
        _put(whole, list(Address(one.entry).steps), one.after)
    return whole


def _put(holder: Any, steps: list[str], value: Any) -> None:
    """Set an entry, add it, or take it away; where what holds it is gone, it goes nowhere."""
    step, *inner = steps
    if _is_list(holder):
        names = list(_by_name(holder))
        at = names.index(step) if step in names else -1
        if at < 0 and not inner and value is not None:
            holder.append(value)
        elif at >= 0 and inner:
            _put(holder[at], inner, value)
        elif at >= 0 and value is None:
            del holder[at]
        elif at >= 0:
            holder[at] = value
    elif isinstance(holder, dict):
        if inner:
            _put(holder.get(step), inner, value)
        elif value is None and step in holder:
            del holder[step]
        elif value is not None:
            holder[step] = value


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
