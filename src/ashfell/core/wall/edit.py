"""Changes to a site document: pure functions from JSON data to JSON data."""

from __future__ import annotations

import copy
from typing import Any

from ashfell.core.base.document import Data, dump, place, read, typed_length
from ashfell.core.base.lengths import Unit, exact
from ashfell.core.base.refusal import Refusal
from ashfell.core.scene import build_scene
from ashfell.core.wall.chain import mitres
from ashfell.core.wall.document import Placement, Plate, SiteDocument, Wall
from ashfell.core.wall.fit import free_place

LENGTHS = {
    "walls": ("x", "y", "length", "thickness", "height", "lining"),
    "plates": ("x", "y", "width", "depth", "level", "thickness"),
    "placements": ("offset", "sill", "recess", "gap"),
}
KINDS: dict[str, type[Wall] | type[Plate] | type[Placement]] = {"walls": Wall, "plates": Plate, "placements": Placement}
NAMES = {"walls": "wall", "plates": "plate", "placements": "unit"}


def change(data: Data, entry: str, value: str, bare: Unit = "mm") -> Data:
    """One entry changed, e.g. ``"walls.0.length"``; lengths are kept as typed.

    Raises
    ------
    Refusal
        When the value cannot be read or there is no such entry.
    """
    changed = copy.deepcopy(data)
    table, _, rest = entry.partition(".")
    last = rest.rpartition(".")[2]
    if last in LENGTHS.get(table, ()):
        place(changed, entry, typed_length(entry, value, bare))
    elif last == "angle":
        place(changed, entry, _degrees(entry, value))
    else:
        place(changed, entry, value)
    return changed


def add(data: Data, table: str, **entries: Any) -> Data:
    """A wall, plate or placement added behind the others, with a free id; ``entries`` differ from the usual."""
    kind: type[Wall] | type[Plate] | type[Placement] | None = KINDS.get(table)
    if kind is None:
        raise Refusal(table, "a known entry", f"There is no entry “{table}”.")
    changed = copy.deepcopy(data)
    taken = {entry["id"] for entry in changed[table]}
    free = next(key for n in range(1, len(taken) + 2) if (key := f"{NAMES[table]}-{n}") not in taken)
    changed[table].append(dump(read(kind, {"id": free, **entries})))
    return changed


def place_unit(data: Data, site: SiteDocument, wall: str, unit: str) -> Data:
    """A unit placed where there is room for it in a wall; ``site`` is the document with its units.

    Raises
    ------
    Refusal
        When there is no such wall or unit, or no room.
    """
    found, document = site.wall(wall), site.units.get(unit)
    if found is None or document is None:
        raise Refusal("placements", "a known wall and unit", f"There is no wall “{wall}” or no unit “{unit}”.")
    scene = build_scene(site)
    taken = [scene.openings[p.id] for p in site.placements if p.wall == wall and p.id in scene.openings]
    x, sill = free_place(found, document, taken, mitres(site.walls)[wall])
    middle = x == (found.length.mm - document.width.mm) / 2
    where = {"measured": "centre", "offset": "0"} if middle else {"measured": "start", "offset": exact(x)}
    return add(data, "placements", wall=wall, unit=unit, sill=exact(sill), **where)


def remove(data: Data, table: str, key: str) -> Data:
    """A wall, plate or placement removed; a wall goes with the placements in it."""
    if table not in KINDS or all(entry["id"] != key for entry in data[table]):
        raise Refusal(f"{table}.{key}", "a known entry", f"There is no “{key}” to remove.")
    changed = copy.deepcopy(data)
    changed[table] = [entry for entry in changed[table] if entry["id"] != key]
    if table == "walls":
        changed["placements"] = [entry for entry in changed["placements"] if entry["wall"] != key]
    return changed


def refuse_worse(before: SiteDocument, after: SiteDocument) -> None:
    """Refuse a change that leaves something out of the scene that stood in it before.

    Raises
    ------
    Refusal
        The reason of the first such entry.
    """
    known = {place for place, _ in build_scene(before).refused}
    for where, refusal in build_scene(after).refused:
        if where not in known:
            raise refusal.within(where)


def _degrees(entry: str, value: str) -> float:
    try:
        return float(value.strip().removesuffix("°"))
    except ValueError as error:
        raise Refusal(entry, "an angle", f"“{value}” is not an angle.", "Type degrees, e.g. 90.") from error
