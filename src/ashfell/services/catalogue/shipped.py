"""The catalogue that ships: units and hardware of made-up workshops, in families. Each workshop is one file of items,
a document with the entries that differ from an ordinary unit or piece in each."""

from __future__ import annotations

import json
from functools import cache
from importlib.resources import files

from ashfell.core.base.document import dump, read
from ashfell.core.unit.document.unit import read_unit
from ashfell.core.unit.item import Item
from ashfell.core.unit.piece import PieceDocument

HARDWARE = "Hardware"
FAMILIES = ("Windows", "Doors", "Rooflights", "Screens", "Bays and fronts", HARDWARE)
"""What items are looked for under, in order."""


@cache
def catalogue() -> dict[str, Item]:
    """Every item by key, by family and workshop, its document with all its entries."""
    held: list[Item] = []
    for file in sorted(files(__package__).joinpath("workshops").iterdir(), key=lambda one: one.name):
        workshop = json.loads(file.read_text("utf-8"))
        for entry in workshop["items"]:
            named = entry["document"] | {"name": entry["name"]}
            document = dump(read(PieceDocument, named) if "hardware" in named else read_unit(named))
            held.append(Item(**entry | {"document": document}, workshop=workshop["workshop"]))
    return {item.key: item for item in sorted(held, key=lambda one: FAMILIES.index(one.family))}
