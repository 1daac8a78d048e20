"""Units that are spoiled in one place or a few: a length much too large or too small, a count, a share, a kind."""

from __future__ import annotations

import random
from collections.abc import Iterator
from typing import Any

from ashfell.core.base.document import dump
from ashfell.core.unit import read_unit
from tests.core.any_unit import any_unit
from tests.core.remedied import remedied

Data = dict[str, Any]
Place = tuple[Any, Any]
"""A container, and the key or index in it."""
LENGTHS = ("0", "0.3", "1", "3", "7", "15", "31", "48", "90", "180", "400", "1300", "5000")
KEPT = ("format", "name", "kind", "id", "finish", "outline")


def spoiled(seed: int) -> Data:
    """A unit that can be built, but for one to three entries that were changed at random."""
    pick = random.Random(f"spoiled {seed}")
    data = dump(read_unit(remedied(any_unit(seed))[0]))
    places = list(_lengths(data))
    for _ in range(pick.choice((1, 1, 2, 3))):
        holder, key = pick.choice(places)
        if isinstance(holder[key], str):
            holder[key] = pick.choice(LENGTHS)
        elif isinstance(holder[key], bool):
            continue
        elif isinstance(holder[key], int):
            holder[key] = pick.choice((1, 2, 3, 5, 8, 12))
    return data


def _lengths(value: Any, name: str = "") -> Iterator[Place]:
    """Where the lengths and counts of a document are."""
    items = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, own in items:
        if key in KEPT or key == "finishes" or key == "tags":
            continue
        if (isinstance(own, str) and own[:1] in "0123456789-") or (
            isinstance(own, int) and not isinstance(own, bool) and key in ("across", "up", "spokes", "panels")
        ):
            yield value, key
        else:
            yield from _lengths(own, str(key))
