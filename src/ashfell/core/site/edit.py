"""Changes to a site document: pure functions from JSON data to JSON data. Entries of walls, plates and placements are
named by their ids."""

from __future__ import annotations

import copy
from collections.abc import Mapping, Sequence
from dataclasses import replace
from fractions import Fraction
from typing import Any

from ashfell.core.base.address import Address
from ashfell.core.base.document import Data, dump, read, typed_length
from ashfell.core.base.lengths import Unit, exact, parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.registry import Registry
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.curves.bent import bay_of
from ashfell.core.kinds.lamp import LAMPS
from ashfell.core.kinds.surrounding import SURROUNDINGS
from ashfell.core.site.aside import with_kind
from ashfell.core.site.document.camera import Camera
from ashfell.core.site.document.lamp import Lamp
from ashfell.core.site.document.placement import COPY, Placement
from ashfell.core.site.document.plate import Plate
from ashfell.core.site.document.roof import Roof
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.document.surrounding import Surrounding
from ashfell.core.site.document.wall import Storey, Wall
from ashfell.core.site.fit import free_place
from ashfell.core.site.opening import Opening
from ashfell.core.site.scene import Scene, build_scene
from ashfell.core.unit.edit.place import put
from ashfell.core.unit.layout import Layout
from ashfell.core.unit.make import made

Entry = (
    type[Storey]
    | type[Wall]
    | type[Plate]
    | type[Roof]
    | type[Placement]
    | type[Lamp]
    | type[Camera]
    | type[Surrounding]
)
KINDS: dict[str, Entry] = {
    "storeys": Storey,
    "walls": Wall,
    "plates": Plate,
    "roofs": Roof,
    "placements": Placement,
    "lamps": Lamp,
    "cameras": Camera,
    "surroundings": Surrounding,
}
NAMES = {
    "storeys": "storey",
    "walls": "wall",
    "plates": "plate",
    "roofs": "roof",
    "placements": "unit",
    "lamps": "lamp",
    "cameras": "camera",
    "surroundings": "surrounding",
}
KINDS_OF: dict[str, Registry[Any]] = {"lamps": LAMPS, "surroundings": SURROUNDINGS}
MOVED = {"place": ("x", "y"), "aim": ("to_x", "to_y")}
"""What is moved on the plan by its point, and the entries that this changes."""


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
    if table in KINDS_OF and field == ["kind"]:
        return with_table(data, table, index, with_kind(data[table][index], value, KINDS_OF[table]))
    if table in ("lamps", "cameras", "surroundings") and field[-1] in MOVED:
        return with_table(data, table, index, data[table][index] | _moved(address, field[-1], value, bare))
    if table == "plates" and field[:1] == ["corners"] and field[-1] == "place":
        return with_table(data, table, index, _with_corner(data[table][index], Address(".".join(field)), value, bare))
    if field[-1] in ("angle", "slope"):
        return with_table(data, table, index, data[table][index] | {field[-1]: _degrees(address, value)})
    try:
        entry = with_value(data[table][index], ".".join(field), value, bare, KINDS[table])
    except Refusal as refusal:
        raise replace(
            refusal, entry=address, message=refusal.message.replace(f"“{'.'.join(field)}”", f"“{address}”")
        ) from None
    if field == ["unit"] and data[table][index]["unit"] is None:
        entry["fits"] = True  # an opening that gets a unit keeps its size
    if field == ["height"] and "up_to" in entry:
        entry["up_to"] = None  # a height of its own
    return with_table(data, table, index, entry)


def _with_corner(plate: Data, field: Address, value: str, bare: Unit) -> Data:
    """A plate with one of its corners at another place."""
    for name, text in _moved(field, "place", value, bare).items():
        plate = with_value(plate, field.parent / name, text, bare, Plate)
    return plate


def _moved(address: str, what: str, value: str, bare: Unit) -> Data:
    """The entries of a point, ``"across; up"``."""
    texts = value.split(";")
    if len(texts) != 2:
        raise Refusal(address, "a point", f"“{value}” is no point.", "Give it as “across; up”.")
    return {name: typed_length(address, text, bare) for name, text in zip(MOVED[what], texts, strict=True)}


def with_value(entry: Data, field: str, value: str, bare: Unit, kind: Entry) -> Data:
    """An entry of a table with one of its fields set.

    Raises
    ------
    Refusal
        When the value cannot be read or there is no such field.
    """
    changed: Data = copy.deepcopy(entry)
    set_value(changed, Address(field), value, bare, kind)
    return changed


def set_value(entry: Data, field: Address, value: str, bare: Unit, kind: Entry) -> None:
    """A value set in an entry itself; one of a list ``added`` or ``removed``, or another kind of curve begun.

    Raises
    ------
    Refusal
        When the value cannot be read or there is no such field.
    """
    if field.last == "added":
        _list_at(entry, field).append(_fresh(entry, field.parent, value))
    elif field.last == "removed":
        place, number = _list_at(entry, field.parent), field.parent.last
        if not number.isdigit() or int(number) >= len(place):
            raise unknown(field)
        del place[int(number)]
    elif field == "curve.kind":
        held = {name: own for name, own in (entry.get("curve") or {}).items() if name in ("facets", "chord")}
        entry["curve"] = held | {"kind": value} if value else None
        if value == "bent":
            entry["curve"]["points"] = _bay(parse(str(entry["length"])))
    elif field == "cornered":
        entry["corners"] = _corners(entry)
    else:
        put(entry, field, value, bare, kind)


def _corners(plate: Data) -> list[Data]:
    """The corners of a plate that is a rectangle, from its lower left, mm."""
    x, y, width, depth = (parse(str(plate[name])) for name in ("x", "y", "width", "depth"))
    round_it = ((x, y), (x + width, y), (x + width, y + depth), (x, y + depth))
    return [{"x": exact(across), "y": exact(up)} for across, up in round_it]


def _fresh(entry: Data, field: Address, value: str) -> object:
    """What is added to a list begins as."""
    if field == "leaves":
        return {"thickness": "50", "finish": None}
    if field == "curve.points":
        reached = parse(str(entry["curve"]["points"][-1]["along"])) if entry["curve"]["points"] else Fraction(0)
        return {"along": exact((reached + parse(str(entry["length"]))) / 2), "out": "500"}
    if field == "corners" and entry["corners"]:
        ends = entry["corners"][-1], entry["corners"][0]
        return {name: exact(sum((parse(str(one[name])) for one in ends), Fraction(0)) / 2) for name in ("x", "y")}
    return value


BAY = Fraction(2400), Fraction(600), Fraction(600)
"""How wide and deep a bay begins, and how far its sides go along the wall, mm (common practice, no source)."""


def _bay(length: Fraction) -> list[Data]:
    """The corners of a bay in the middle of a wall, as large as the wall takes, mm."""
    width = min(BAY[0], length / 2)
    sizes = width, min(BAY[1], width / 3), min(BAY[2], width / 3)
    return [{name: exact(value) for name, value in corner.items()} for corner in bay_of(length, sizes)]


def _list_at(entry: Data, field: Address) -> list[Any]:
    """The list that something is added to or removed from."""
    here: Any = entry
    for step in field.parent.steps:
        here = here.get(step) if isinstance(here, dict) else None
    if not isinstance(here, list):
        raise unknown(field)
    return here


def unknown(address: str) -> Refusal:
    """The refusal of an address at which nothing stands."""
    return Refusal(address, "a known entry", f"There is no entry “{address}”.")


def index_of(data: Data, table: str, key: str, address: str) -> int:
    """Where the entry of an id is in its table."""
    own = key.partition(COPY)[0] if table == "placements" else key
    for index, entry in enumerate(data[table]):
        if entry["id"] == own:
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
    kind: Entry | None = KINDS.get(table)
    if kind is None:
        raise unknown(table)
    taken = {entry["id"] for entry in data[table]}
    free = next(key for n in range(1, len(taken) + 2) if (key := f"{NAMES[table]}-{n}") not in taken)
    return data | {table: [*data[table], dump(read(kind, {"id": free, **entries}))]}


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


IN_LINE = 60
"""A unit put where somebody points stands in line with a sill or head that is nearer than this, mm."""
STEP = 10
"""And else in steps of this, mm."""


def place_unit(data: Data, site: SiteDocument, wall: str, unit: str, place: str = "", bare: Unit = "mm") -> Data:
    """A unit placed in a wall or roof: its middle at a ``place``, ``"along; up"``, or where there is room for it.

    Parameters
    ----------
    site : SiteDocument
        The document with its units.

    Raises
    ------
    Refusal
        When there is no such wall or unit, it cannot be built, or there is no room.
    """
    known, document = wall in site.wall_by_id or wall in site.roof_by_id, site.units.get(unit)
    if not known or document is None:
        raise Refusal("placements", "a known wall and unit", f"There is no wall “{wall}” or no unit “{unit}”.")
    layout = made(document).layout
    size, stands = layout.overall, _stands(layout)
    standing = build_scene(site).standing.get(wall)
    if standing is None:
        raise Refusal(f"walls.{wall}", "a wall that stands", "This wall cannot be built.", "Mend it first.")
    host = standing.host
    if place:
        along, _, up = (text.strip() for text in place.partition(";"))
        u, v = (parse(typed_length("place", text or "0", bare)) for text in (along, up))
        left, foot = (Fraction(round((at - by / 2) / STEP) * STEP) for at, by in ((u, size.width), (v, size.height)))
        foot = _in_line(max(foot, Fraction(0)), size.height, standing.openings)
        return add(data, "placements", wall=wall, unit=unit, offset=exact(left), sill=exact(foot), **stands)
    x, sill = free_place(host, size, standing.openings)
    middle = x == (host.length - size.width) / 2
    where = {"measured": "centre", "offset": "0"} if middle else {"measured": "start", "offset": exact(x)}
    return add(data, "placements", wall=wall, unit=unit, sill=exact(sill), **where, **stands)


def _stands(layout: Layout) -> Data:
    """How a unit stands in a wall that is put there: as what is in it asks for."""
    asked = next((light.content.stands for light in layout.body.lights if light.content.stands), "")
    return {"stands": asked} if asked else {}


def _in_line(foot: Fraction, height: Fraction, others: Sequence[Opening]) -> Fraction:
    """The sill of an opening put among others: in line with a sill or head that is near."""
    levels = [*(one.z for one in others), *(one.head - height for one in others)]
    near = [level for level in levels if abs(level - foot) < IN_LINE and level >= 0]
    return min(near, key=lambda level: abs(level - foot), default=foot)


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
    if table in ("walls", "roofs"):
        changed["placements"] = [entry for entry in changed["placements"] if entry["wall"] != key]
        changed["plates"] = [_without_wall(entry, key) for entry in changed["plates"]]
    if table == "storeys":
        for name in ("walls", "plates", "roofs", "placements", "lamps", "cameras"):
            changed[name] = [_without_storey(entry, key) for entry in changed[name]]
    return changed


def _without_wall(plate: Data, key: str) -> Data:
    """A plate that does not lie within a wall; a rectangle where that leaves it open."""
    return plate | {"walls": []} if key in plate["walls"] else plate


def _without_storey(entry: Data, key: str) -> Data:
    """An entry that stands on no storey of a key."""
    return entry | {name: None for name in ("storey", "up_to") if entry.get(name) == key}


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
