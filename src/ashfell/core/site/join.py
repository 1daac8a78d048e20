"""Walls, openings and surroundings of one site put into another."""

from __future__ import annotations

from collections.abc import Iterable

from ashfell.core.base.document import Data

TABLES = ("walls", "placements", "surroundings")
NAMED = {"placements": {"wall": "walls", "after": "placements", "until": "placements"}}
"""Entries that name others, and the tables those are in."""


def joined(data: Data, other: Data, storey: str = "") -> Data:
    """A site with the walls, openings and surroundings of another, the walls on a storey; ids that are taken become
    others."""
    names = {table: _fresh(data.get(table, ()), other.get(table, ())) for table in TABLES}
    whole = dict(data)
    for table in TABLES:
        if not other.get(table):
            continue
        added = []
        for one in other.get(table, ()):
            entry = one | {"id": names[table][one["id"]]}
            for name, of in NAMED.get(table, {}).items():
                if entry.get(name) is not None:
                    entry[name] = names[of][entry[name]]
            if table == "walls":
                entry["storey"] = storey or None
            added.append(entry)
        whole[table] = [*data.get(table, ()), *added]
    return whole


def _fresh(kept: Iterable[Data], added: Iterable[Data]) -> dict[str, str]:
    """For each id that is added the one that it has from now on."""
    taken, found = {one["id"] for one in kept}, {}
    for one in added:
        key, number = one["id"], 1
        while key in taken:
            number += 1
            key = f"{one['id']}-{number}"
        taken.add(key)
        found[one["id"]] = key
    return found
