"""Changes to a site document: pure functions from JSON data to JSON data. Entries of walls, plates and placements are
named by their ids."""

from __future__ import annotations

import copy
from collections.abc import Mapping
from dataclasses import replace
from fractions import Fraction
from typing import Any

from ashfell.core.base.address import Address
from ashfell.core.base.document import Data, dump, read, typed_length
from ashfell.core.base.lengths import Unit, exact, parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.site.document.placement import Placement
from ashfell.core.site.document.plate import Plate
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.document.wall import Wall
from ashfell.core.site.fit import free_place
from ashfell.core.site.course import end_of
from ashfell.core.site.scene import Scene, build_scene
from ashfell.core.unit.edit.place import put
from ashfell.core.unit.make import made

KINDS: dict[str, type[Wall] | type[Plate] | type[Placement]] = {"walls": Wall, "plates": Plate, "placements": Placement}
NAMES = {"walls": "wall", "plates": "plate", "placements": "unit"}
FIRST_WALL = {"name": "Wall 1"}
FIRST_WALL_IN_FEET = FIRST_WALL | {"length": "16'", "thickness": '12"', "height": "9'", "lining": '1/2"'}


def change(data: Data, address: str, value: str, bare: Unit = "mm") -> Data:
    """One entry changed, e.g. ``"walls.street.length"``; lengths are kept as typed. What is not changed is shared with
    the data that came in.

    Raises
    ------
    Refusal
        When the value cannot be read or there is no such entry.
    """
    whole = Address(address)
    if len(whole.steps) == 1 and whole in data and not isinstance(data[whole], (list, dict)):
        return data | {whole: value}
    if len(whole.steps) < 3 or whole.steps[0] not in KINDS:
        raise unknown(address)
    table, key, *field = whole.steps
    index = index_of(data, table, key, address)
    if field == ["id"]:
        raise unknown(address)
    if field == ["angle"]:
        return with_table(data, table, index, data[table][index] | {"angle": _degrees(address, value)})
    entry = copy.deepcopy(data[table][index])
    try:
        put(entry, ".".join(field), value, bare, KINDS[table])
    except Refusal as refusal:
        raise replace(
            refusal, entry=address, message=refusal.message.replace(f"“{'.'.join(field)}”", f"“{address}”")
        ) from None
    if field == ["unit"] and data[table][index]["unit"] is None:
        entry["fits"] = True  # an opening that gets a unit keeps its size
    return with_table(data, table, index, entry)


def unknown(address: str) -> Refusal:
    """The refusal of an address at which nothing stands."""
    return Refusal(address, "a known entry", f"There is no entry “{address}”.")


def index_of(data: Data, table: str, key: str, address: str) -> int:
    """Where the entry of an id is in its table."""
    for index, entry in enumerate(data[table]):
        if entry["id"] == key:
            return index
    raise unknown(address)


def with_table(data: Data, table: str, index: int, entry: Data) -> Data:
    """The document with another entry at a place of a table; all else is shared."""
    entries = list(data[table])
    entries[index] = entry
    return data | {table: entries}


def _degrees(entry: str, value: str) -> float:
    try:
        return float(value.strip().removesuffix("°"))
    except ValueError as error:
        raise Refusal(entry, "an angle", f"“{value}” is not an angle.", "Type degrees, e.g. 90.") from error


def add(data: Data, table: str, **entries: Any) -> Data:
    """A wall, plate or placement added behind the others, with a free id; ``entries`` differ from the usual.

    Raises
    ------
    Refusal
        When there is no such table, or an entry cannot be read.
    """
    kind: type[Wall] | type[Plate] | type[Placement] | None = KINDS.get(table)
    if kind is None:
        raise unknown(table)
    taken = {entry["id"] for entry in data[table]}
    free = next(key for n in range(1, len(taken) + 2) if (key := f"{NAMES[table]}-{n}") not in taken)
    return data | {table: [*data[table], dump(read(kind, {"id": free, **entries}))]}


def add_wall(data: Data, bare: Unit = "mm") -> Data:
    """A wall that starts at the end of the last one, turned to the left, so that a chain closes; the first one is of an
    ordinary size in round numbers of the reader's unit."""
    if not data["walls"]:
        return add(data, "walls", **(FIRST_WALL_IN_FEET if bare in ("in", "ft") else FIRST_WALL))
    last = read(Wall, data["walls"][-1])
    x, y = end_of(last)
    like = {name: data["walls"][-1][name] for name in ("thickness", "height", "lining", "outside", "inside")}
    name = f"Wall {len(data['walls']) + 1}"
    return add(data, "walls", name=name, x=f"{x:.6g}", y=f"{y:.6g}", angle=(last.angle + 90) % 360, **like)


ROOM = {"length": "5 m", "width": "4 m", "height": "2700", "thickness": "300"}
ROOM_IN_FEET = {"length": "16'", "width": "13'", "height": "9'", "thickness": '12"'}
"""What a room is offered with: its outer sizes, the height of its walls and their thickness."""
LEAST_ROOM = 200
"""The least between two walls, mm."""
DOORWAY = {"measured": "centre", "sill": "0"}
SIDES_OF_ROOM = (("Front", 0), ("Right", 90), ("Back", 180), ("Left", 270))


def add_room(data: Data, sizes: Mapping[str, str], bare: Unit = "mm") -> Data:
    """Four walls round a room with a floor, and a doorway in the front; ``sizes`` are its outer ``length`` and
    ``width``, the ``height`` and the ``thickness`` of its walls, the usual ones where they are left out.

    Raises
    ------
    Refusal
        When a size cannot be read, or the walls are thicker than the room.
    """
    usual = ROOM_IN_FEET if bare in ("in", "ft") else ROOM
    given = {name: typed_length(f"room.{name}", sizes.get(name) or usual[name], bare) for name in ROOM}
    length, width, height, thickness = (parse(given[name]) for name in ROOM)
    for name, size in (("length", length), ("width", width)):
        if size < 2 * thickness + LEAST_ROOM:
            least = 2 * thickness + 1000
            raise Refusal(
                f"room.{name}",
                "room between the walls",
                f"Walls {exact_mm(thickness)} thick leave no room in {exact_mm(size)}.",
                f"Make it {exact_mm(least)} or more.",
                least,
            )
    corners = ((Fraction(0), Fraction(0)), (length, Fraction(0)), (length, width), (Fraction(0), width))
    for number, ((name, angle), (x, y)) in enumerate(zip(SIDES_OF_ROOM, corners, strict=True)):
        along = given["width"] if number % 2 else given["length"]
        own = {"x": exact(x), "y": exact(y), "angle": angle, "length": along}
        data = add(data, "walls", name=name, height=given["height"], thickness=given["thickness"], **own)
    floor = {"width": given["length"], "depth": given["width"], "level": "0", "thickness": "200"}
    data = add(data, "plates", name="Floor", **floor)
    across, up = min(Fraction(1000), length - 2 * thickness - 100), min(Fraction(2100), height)
    doorway = DOORWAY | {"width": exact(across), "height": exact(up)}
    return add(data, "placements", wall=data["walls"][-4]["id"], **doorway)


def place_unit(data: Data, site: SiteDocument, wall: str, unit: str) -> Data:
    """A unit placed where there is room for it in a wall; ``site`` is the document with its units.

    Raises
    ------
    Refusal
        When there is no such wall or unit, it cannot be built, or there is no room.
    """
    found, document = site.wall(wall), site.units.get(unit)
    if found is None or document is None:
        raise Refusal("placements", "a known wall and unit", f"There is no wall “{wall}” or no unit “{unit}”.")
    size = made(document).layout.overall
    standing = build_scene(site).standing.get(wall)
    if standing is None:
        raise Refusal(f"walls.{wall}", "a wall that stands", "This wall cannot be built.", "Mend it first.")
    host = standing.host
    x, sill = free_place(host, size, standing.openings)
    middle = x == (host.length - size.width) / 2
    where = {"measured": "centre", "offset": "0"} if middle else {"measured": "start", "offset": exact(x)}
    return add(data, "placements", wall=wall, unit=unit, sill=exact(sill), **where)


def remove(data: Data, table: str, key: str) -> Data:
    """A wall, plate or placement removed; a wall goes with the placements in it.

    Raises
    ------
    Refusal
        When there is none of that id.
    """
    if table not in KINDS or all(entry["id"] != key for entry in data[table]):
        raise Refusal(Address(table) / key, "a known entry", f"There is no “{key}” to remove.")
    changed = data | {table: [entry for entry in data[table] if entry["id"] != key]}
    if table == "walls":
        changed["placements"] = [entry for entry in changed["placements"] if entry["wall"] != key]
    return changed


def refuse_worse(before: Scene, after: Scene) -> None:
    """Refuse a change that leaves something out of a scene that stood in it before.

    Raises
    ------
    Refusal
        The reason of the first such entry.
    """
    known = {place for place, _ in before.refused}
    for where, refusal in after.refused:
        if where not in known:
            raise refusal.within(where)
