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
from ashfell.core.base.lengths import LengthError, Unit, exact, parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.site.document import Placement, Plate, SiteDocument, Wall
from ashfell.core.site.fit import free_place
from ashfell.core.site.hosts.chain import mitres
from ashfell.core.site.hosts.straight import StraightWall
from ashfell.core.site.opening import Opening
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
        raise _unknown(address)
    table, key, *field = whole.steps
    index = _index(data, table, key, address)
    if field == ["id"]:
        raise _unknown(address)
    if field == ["angle"]:
        return _with_table(data, table, index, data[table][index] | {"angle": _degrees(address, value)})
    entry = copy.deepcopy(data[table][index])
    try:
        put(entry, ".".join(field), value, bare, KINDS[table])
    except Refusal as refusal:
        raise replace(
            refusal, entry=address, message=refusal.message.replace(f"“{'.'.join(field)}”", f"“{address}”")
        ) from None
    if field == ["unit"] and data[table][index]["unit"] is None:
        entry["fits"] = True  # an opening that gets a unit keeps its size
    return _with_table(data, table, index, entry)


def _unknown(address: str) -> Refusal:
    return Refusal(address, "a known entry", f"There is no entry “{address}”.")


def _index(data: Data, table: str, key: str, address: str) -> int:
    """Where the entry of an id is in its table."""
    for index, entry in enumerate(data[table]):
        if entry["id"] == key:
            return index
    raise _unknown(address)


def _with_table(data: Data, table: str, index: int, entry: Data) -> Data:
    entries = list(data[table])
    entries[index] = entry
    return data | {table: entries}


def _degrees(entry: str, value: str) -> float:
    try:
        return float(value.strip().removesuffix("°"))
    except ValueError as error:
        raise Refusal(entry, "an angle", f"“{value}” is not an angle.", "Type degrees, e.g. 90.") from error


MOVES = ("before", "behind", "moved")
"""What moves an opening instead of setting an entry: to a distance from what is before it or behind it along its wall,
or by a shift along and up."""


def move(data: Data, scene: Scene, address: str, value: str, bare: Unit = "mm") -> Data:
    """An opening moved along its wall or up, e.g. ``"placements.p.before"``: its offset and sill are set as they are
    measured.

    Parameters
    ----------
    scene : Scene
        Of the document as it is.
    value : str
        The distance ``before`` or ``behind`` it, or how far it is ``moved``: ``"along; up"``.

    Raises
    ------
    Refusal
        When the opening is not there, or the value cannot be read.
    """
    whole = Address(address)
    table, key, what = whole.steps
    index = _index(data, table, key, address)
    opening, placement = scene.openings.get(key), data[table][index]
    if opening is None:
        raise Refusal(address, "an opening that is there", "This opening is not cut.", "Mend its place first.")
    standing = scene.standing[placement["wall"]]
    if what == "moved":
        along, _, up = value.partition(";")
        by = _distance(address, along, bare), _distance(address, up or "0", bare)
        return _with_table(data, table, index, placement | _moved(placement, *by))
    low, high = beside(opening, standing.openings, standing.host.length)
    size = _distance(address, value, bare)
    by_x = low + size - opening.x if what == "before" else high - size - opening.right
    return _with_table(data, table, index, placement | _moved(placement, by_x, Fraction(0)))


ROWS = ("equal", "heads", "sills", "copied", "alike")
"""What is done to the openings at the height of one: their piers made equal, their heads or sills brought into line
with it, one like it put behind it, or all of them given its unit, fitted to each."""


def arrange(data: Data, scene: Scene, address: str) -> Data:
    """The openings of a wall at the height of one of them arranged, e.g. ``"placements.p.equal"``.

    Raises
    ------
    Refusal
        When the opening is not there, or there is no room for the copy.
    """
    whole = Address(address)
    table, key, what = whole.steps
    index, opening = _index(data, table, key, address), scene.openings.get(key)
    if opening is None:
        raise Refusal(address, "an opening that is there", "This opening is not cut.", "Mend its place first.")
    standing = scene.standing[data[table][index]["wall"]]
    if what == "copied":
        return _copied(data, index, opening, standing.openings, standing.host.length)
    row = level_with(opening, standing.openings)
    places = {one.placement: number for number, one in enumerate(row)}
    pier = (standing.host.length - sum(one.width for one in row)) / (len(row) + 1)
    changed, reached = {}, pier
    for one in row:
        entry = data[table][_index(data, table, one.placement, address)]
        if what == "equal":
            changed[one.placement] = _moved(entry, reached - one.x, Fraction(0))
            reached += one.width + pier
        elif what == "alike":
            size = {"fits": True, "width": exact(one.width), "height": exact(one.height)}
            like = {name: data[table][index][name] for name in OF_UNIT}
            changed[one.placement] = {} if one is opening else like | size
        elif what == "heads":
            changed[one.placement] = {"head": exact(opening.head)}
        else:
            changed[one.placement] = {"head": None, "sill": exact(opening.z)}
    return data | {table: [entry | changed[entry["id"]] if entry["id"] in places else entry for entry in data[table]]}


OF_UNIT = ("unit", "stands", "recess", "turned", "mirrored", "gap", "gaps", "opened", "finishes")
"""What placements share that hold the same unit in the same way."""


def level_with(opening: Opening, others: Sequence[Opening]) -> list[Opening]:
    """The openings at the height of the middle of one, it among them, none before another, from the start."""
    level, row = opening.z + opening.height / 2, [opening]
    for one in others:
        apart = all(one.right <= other.x or one.x >= other.right for other in row)
        if one is not opening and one.z < level < one.head and apart:
            row.append(one)
    return sorted(row, key=lambda one: one.x)


def _copied(data: Data, index: int, opening: Opening, others: Sequence[Opening], length: Fraction) -> Data:
    """One like an opening behind it: as far away as the one before it is, or as its pier, where there is room."""
    low, high = beside(opening, others, length)
    room, pier = high - opening.right, opening.x - low
    if room < opening.width:
        raise Refusal(
            Address("placements") / opening.placement / "copied",
            "room in the wall",
            f"Behind the opening there is {exact_mm(room)}, and it is {exact_mm(opening.width)} wide.",
            "Move it, or what is behind it.",
        )
    apart = pier if pier + opening.width <= room else (room - opening.width) / 2
    like = {name: value for name, value in data["placements"][index].items() if name != "id"}
    return add(data, "placements", **(like | {"measured": "start", "offset": exact(opening.right + apart)}))


def _distance(address: str, text: str, bare: Unit) -> Fraction:
    try:
        return parse(text, bare)
    except LengthError as error:
        raise Refusal(address, "a length", error.reason, position=error.position) from error


def beside(opening: Opening, others: Sequence[Opening], length: Fraction) -> tuple[Fraction, Fraction]:
    """Where the openings beside it end and begin that stand at its height, or else the host, mm."""
    level = [one for one in others if one is not opening and one.z < opening.head and opening.z < one.head]
    before = [one.right for one in level if one.right <= opening.x]
    behind = [one.x for one in level if one.x >= opening.right]
    return max(before, default=Fraction(0)), min(behind, default=length)


def _moved(placement: Data, along: Fraction, up: Fraction) -> Data:
    """What is set to move a placement."""
    sign = -1 if placement["measured"] == "end" else 1
    made = {"offset": exact(parse(str(placement["offset"])) + sign * along)} if along else {}
    level = "head" if placement["head"] else "sill"
    return made | ({level: exact(parse(str(placement[level])) + up)} if up else {})


def add(data: Data, table: str, **entries: Any) -> Data:
    """A wall, plate or placement added behind the others, with a free id; ``entries`` differ from the usual.

    Raises
    ------
    Refusal
        When there is no such table, or an entry cannot be read.
    """
    kind: type[Wall] | type[Plate] | type[Placement] | None = KINDS.get(table)
    if kind is None:
        raise _unknown(table)
    taken = {entry["id"] for entry in data[table]}
    free = next(key for n in range(1, len(taken) + 2) if (key := f"{NAMES[table]}-{n}") not in taken)
    return data | {table: [*data[table], dump(read(kind, {"id": free, **entries}))]}


def add_wall(data: Data, bare: Unit = "mm") -> Data:
    """A wall that starts at the end of the last one, turned to the left, so that a chain closes; the first one is of an
    ordinary size in round numbers of the reader's unit."""
    if not data["walls"]:
        return add(data, "walls", **(FIRST_WALL_IN_FEET if bare in ("in", "ft") else FIRST_WALL))
    last = read(Wall, data["walls"][-1])
    x, y = StraightWall(last).frame(float(last.length.mm))[:2, 3].tolist()
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
    scene, host = build_scene(site), StraightWall(found, mitres(site.walls)[wall])
    x, sill = free_place(host, size, scene.standing[wall].openings)
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
