"""Changes to lists: entries added, removed, duplicated, moved up and down; a light of a division goes with what fills
it.
"""

from __future__ import annotations

import copy
from collections.abc import Callable
from typing import Any

from ashfell.core.base.address import Address, cell_key
from ashfell.core.base.document import Data, dump
from ashfell.core.base.lengths import Unit
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit.document.members import AXES, AngledBar, ExtraRing
from ashfell.core.unit.edit.divisions import MOST_LIGHTS, new_bar, place_of
from ashfell.core.unit.edit.hardware import add_hardware
from ashfell.core.unit.edit.place import at, unknown

TAGS = "tags"
NEW_ITEM: dict[str, Callable[[], Any]] = {
    "rings": lambda: dump(ExtraRing()),
    "angled": lambda: dump(AngledBar.model_validate({"x1": "0", "y1": "0", "x2": "400", "y2": "400"})),
    "circles": lambda: "200",
    "corners": lambda: {"kind": "square", "size": "0"},
    TAGS: lambda: "tag",
}
"""What a new entry of each list is."""


def add(data: Data, address: Address, value: str, bare: Unit) -> None:
    """A new entry behind the others."""
    if address.last == "hardware":
        add_hardware(data, address, value)
        return
    make = NEW_ITEM.get(address.last)
    if make is None:
        raise unknown(address)
    at(data, address).append(value if value and address.last == TAGS else make())


def item_at(data: Data, address: Address) -> tuple[list[Any], int]:
    """The list that an entry is in, and its place.

    Raises
    ------
    Refusal
        When there is none.
    """
    items, index = at(data, address.parent), address.last
    if not isinstance(items, list) or not index.isdigit() or int(index) >= len(items):
        raise unknown(address)
    return items, int(index)


Order = Callable[[int, int], list[int]]
"""From a light's number and how many there are to the old number of each new one."""


def _reordered(data: Data, address: Address, order: Order) -> bool:
    """A division's lights in another order, with what fills them and the bars beside them; False for any other list."""
    found = address.of_division("lights")
    if found is None:
        return False
    owner, axis = at(data, found.holder), found.axis
    lights, bars = owner[axis]["lights"], owner[axis]["bars"]
    if found.number >= len(lights):
        raise unknown(address)
    new = order(found.number, len(lights))
    if not 1 <= len(new) <= MOST_LIGHTS:
        raise Refusal(
            address, "1 to 60 lights", f"{len(new)} lights cannot be laid out.", "Leave at least one, and at most 60."
        )
    which, cells = AXES.index(axis), owner.get("cells", {})
    if any(cell["span"][which] > 1 for cell in cells.values()):
        raise Refusal(address, "single lights", "A light spans over others here.", "Part the merged light first.")
    spare = bars[min(found.number, len(bars) - 1)] if bars else new_bar(data["frame"]["face"])
    owner[axis]["lights"] = [copy.deepcopy(lights[k]) for k in new]
    owner[axis]["bars"] = [copy.deepcopy(bar) for bar in (bars + [spare] * len(new))[: len(new) - 1]]
    if "cells" in owner:
        owner["cells"] = _moved(cells, which, new)
    return True


def _moved(cells: Data, which: int, new: list[int]) -> Data:
    """Cells where the lights they are now stand."""
    found = {}
    for key, cell in cells.items():
        place = place_of(key)
        for k in (k for k, old in enumerate(new) if old + 1 == place[which]):
            put = (k + 1, place[1]) if which == 0 else (place[0], k + 1)
            found[cell_key(*put)] = copy.deepcopy(cell)
    return found


def _swapped(index: int, count: int, other: int) -> list[int]:
    new = list(range(count))
    if 0 <= other < count:
        new[index], new[other] = new[other], new[index]
    return new


def remove(data: Data, address: Address, value: str, bare: Unit) -> None:
    """An entry taken away."""
    if not _reordered(data, address, lambda index, count: [k for k in range(count) if k != index]):
        items, index = item_at(data, address)
        del items[index]


def duplicate(data: Data, address: Address, value: str, bare: Unit) -> None:
    """An entry again, behind itself."""
    if not _reordered(data, address, lambda index, count: sorted([*range(count), index])):
        items, index = item_at(data, address)
        items.insert(index + 1, copy.deepcopy(items[index]))


def move_up(data: Data, address: Address, value: str, bare: Unit) -> None:
    """An entry before the one before it."""
    if not _reordered(data, address, lambda index, count: _swapped(index, count, index - 1)):
        items, index = item_at(data, address)
        items.insert(max(0, index - 1), items.pop(index))


def move_down(data: Data, address: Address, value: str, bare: Unit) -> None:
    """An entry behind the one behind it."""
    if not _reordered(data, address, lambda index, count: _swapped(index, count, index + 1)):
        items, index = item_at(data, address)
        items.insert(index + 1, items.pop(index))
