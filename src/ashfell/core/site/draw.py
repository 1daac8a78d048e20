"""Walls drawn on the plan: from point to point, their ends moved, shifted, split, joined, turned over.

Pure functions from JSON data to JSON data.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from fractions import Fraction
from math import atan2, cos, degrees, hypot, radians, sin
from typing import Any

from ashfell.core.base.address import Address
from ashfell.core.base.document import Data, read, typed_length
from ashfell.core.base.lengths import LengthError, Unit, exact, parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.site.course import CLOSE, Exact, end_point, start_point, turned
from ashfell.core.site.document.wall import Wall
from ashfell.core.site.edit import add, index_of, unknown, with_table
from ashfell.core.site.enclosed import closed_chains
from ashfell.core.site.hosts.chain import MEET
from ashfell.core.site.opening import Opening
from ashfell.core.site.scene import Scene

DRAWN = ("start", "end", "shifted", "split", "joined", "reversed")
"""What is done to a wall on the plan instead of setting an entry."""
FIRST_WALL = {"name": "Wall 1"}
FIRST_WALL_IN_FEET = FIRST_WALL | {"length": "16'", "thickness": '12"', "height": "9'", "lining": '1/2"'}
LIKE = (
    "thickness",
    "height",
    "lining",
    "outside",
    "inside",
    "leaves",
    "reference",
    "corner",
    "storey",
    "base",
    "up_to",
)
"""What a wall has in common with the one it goes on from."""


def add_wall(data: Data, given: Mapping[str, str], bare: Unit = "mm") -> Data:
    """A wall added.

    It begins at the point ``from``, or where the last wall ends, and runs to the point ``to``, or by a ``length`` at an
    ``angle``; where nothing is said it turns to the left, so that a chain closes. The first one is of an ordinary size
    in round numbers of the reader's unit. A chain that it closes the wrong way round is turned over.

    Raises
    ------
    Refusal
        When a value cannot be read, or it has no length.
    """
    own: dict[str, Any] = {}
    last = read(Wall, data["walls"][-1]) if data["walls"] else None
    if last is None:
        own = dict(FIRST_WALL_IN_FEET if bare in ("in", "ft") else FIRST_WALL)
    else:
        x, y = end_point(last)
        kept = data["walls"][-1]
        own = {name: kept[name] for name in LIKE} | {"x": exact(x), "y": exact(y)}
        own |= {"name": f"Wall {len(data['walls']) + 1}", "angle": (last.angle + 90) % 360}
    if given.get("from"):
        x, y = _point("from", given["from"], bare)
        own |= {"x": exact(x), "y": exact(y)}
    if given.get("to"):
        start = parse(own.get("x", "0")), parse(own.get("y", "0"))
        own |= _run(start, _point("to", given["to"], bare), "to")
    if given.get("length"):
        own["length"] = typed_length("length", given["length"], bare)
    if given.get("angle"):
        own["angle"] = _degrees("angle", given["angle"])
    return _turned_outwards(add(data, "walls", **own))


def _degrees(entry: str, text: str) -> float:
    try:
        return float(text.strip().removesuffix("°")) % 360
    except ValueError as error:
        raise Refusal(entry, "an angle", f"“{text}” is not an angle.", "Type degrees, e.g. 90.") from error


def _length(entry: str, text: str, bare: Unit) -> Fraction:
    try:
        return parse(text, bare)
    except LengthError as error:
        raise Refusal(entry, "a length", error.reason, position=error.position) from error


def _point(entry: str, text: str, bare: Unit) -> Exact:
    """A point typed as ``"x; y"``."""
    x, mark, y = text.partition(";")
    if not mark:
        raise Refusal(entry, "a point", f"“{text}” is not a point.", "Put it as across; up.")
    return _length(entry, x, bare), _length(entry, y, bare)


def _run(start: Exact, end: Exact, entry: str) -> dict[str, Any]:
    """Where a wall from a point to another begins, how long it is and at what angle."""
    across, up = end[0] - start[0], end[1] - start[1]
    if across == up == 0:
        raise Refusal(entry, "a wall with a length", "The wall would end where it begins.", "Choose another point.")
    if across == 0 or up == 0:
        length = abs(across) + abs(up)
        angle = (0.0 if across > 0 else 180.0) if up == 0 else 90.0 if up > 0 else 270.0
    else:
        length = Fraction(round(hypot(across, up) / CLOSE)) * CLOSE
        angle = degrees(atan2(up, across)) % 360
    return {"x": exact(start[0]), "y": exact(start[1]), "length": exact(length), "angle": angle}


def _meet(a: Exact, b: Exact) -> bool:
    return abs(a[0] - b[0]) <= MEET and abs(a[1] - b[1]) <= MEET


def _turned_outwards(data: Data) -> Data:
    """A site in which the chain that its last wall closes has its outside out."""
    walls = [read(Wall, one) for one in data["walls"]]
    chain = next((one for one in closed_chains(walls) if any(wall.id == walls[-1].id for wall in one)), None)
    if chain is None or _signed_area([start_point(wall) for wall in chain]) >= 0:
        return data
    for wall in chain:
        data = _reversed(data, index_of(data, "walls", wall.id, wall.id), {})
    return data


def _signed_area(points: Sequence[Exact]) -> Fraction:
    ahead = [*points[1:], points[0]]
    return sum((a[0] * b[1] - b[0] * a[1] for a, b in zip(points, ahead, strict=True)), Fraction(0))


# --- what is done to a wall -------------------------------------------------------------------------------------------


def redrawn(data: Data, scene: Scene, address: str, value: str, bare: Unit = "mm") -> Data:
    """A wall changed on the plan, e.g. ``"walls.north.end"`` to ``"6 m; 0"``. Walls that meet it there go with it.

    Parameters
    ----------
    scene : Scene
        Of the document as it is.
    value : str
        The point that an end is moved to, as ``"across; up"``; how far the wall is ``shifted`` outwards; or how far
        from its start it is ``split``, in the middle where that is empty.

    Raises
    ------
    Refusal
        When there is no such wall, the value cannot be read, or it cannot be done.
    """
    steps = Address(address).steps
    if len(steps) != 3 or steps[0] != "walls":
        raise unknown(address)
    index = index_of(data, "walls", steps[1], address)
    wall = read(Wall, data["walls"][index])
    openings = {one.placement: one for one in scene.standing[wall.id].openings} if wall.id in scene.standing else {}
    match steps[2]:
        case "start" | "end":
            at = start_point(wall) if steps[2] == "start" else end_point(wall)
            return _with_points(data, address, [(at, _point(address, value, bare))])
        case "shifted":
            by, turn = _length(address, value, bare), radians(wall.angle)
            out = _along_axis(by * Fraction(sin(turn)), -by * Fraction(cos(turn)))
            ends = start_point(wall), end_point(wall)
            return _with_points(data, address, [(end, (end[0] + out[0], end[1] + out[1])) for end in ends])
        case "split":
            place = _length(address, value, bare) if value.strip() else wall.length.mm / 2
            return _split(data, index, place, openings, address)
        case "joined":
            return _joined(data, index, openings, address)
    return _reversed(data, index, openings)


def _along_axis(across: Fraction, up: Fraction) -> Exact:
    """A shift without what is only rounding."""
    return Fraction(round(across / CLOSE)) * CLOSE, Fraction(round(up / CLOSE)) * CLOSE


def _with_points(data: Data, address: str, moves: Sequence[tuple[Exact, Exact]]) -> Data:
    """A site in which the ends of walls that stand at some points stand at others."""
    walls = []
    for entry in data["walls"]:
        wall = read(Wall, entry)
        ends = [start_point(wall), end_point(wall)]
        now = [next((to for at, to in moves if _meet(end, at)), end) for end in ends]
        if now == ends:
            walls.append(entry)
        elif now[1][0] - now[0][0] == ends[1][0] - ends[0][0] and now[1][1] - now[0][1] == ends[1][1] - ends[0][1]:
            walls.append(entry | {"x": exact(now[0][0]), "y": exact(now[0][1])})
        else:
            walls.append(entry | _run(now[0], now[1], address))
    return data | {"walls": walls}


def _refuse_shaped(wall: Wall, address: str, what: str) -> None:
    if wall.curve is not None or wall.ridge is not None or wall.end_height is not None:
        raise Refusal(
            address,
            "a straight wall with a level top",
            f"“{wall.name}” is curved or its top is not level, and cannot be {what}.",
            "Make it straight and level first.",
        )


def _split(data: Data, index: int, at: Fraction, openings: Mapping[str, Opening], address: str) -> Data:
    wall = read(Wall, data["walls"][index])
    _refuse_shaped(wall, address, "split")
    if not 0 < at < wall.length.mm:
        raise Refusal(
            address,
            "a place between its ends",
            f"{exact_mm(at)} is not between the ends of “{wall.name}”, {exact_mm(wall.length.mm)} long.",
            f"Split it at {exact_mm(wall.length.mm / 2)}, for example.",
            wall.length.mm / 2,
        )
    cut = next((one for one in openings.values() if one.x < at < one.right), None)
    if cut is not None:
        raise Refusal(
            address,
            "openings stay whole",
            f"The opening of “{cut.placement}” runs from {exact_mm(cut.x)} to {exact_mm(cut.right)}.",
            f"Split it at {exact_mm(cut.right)}.",
            cut.right,
        )
    first = data["walls"][index] | {"length": exact(at)}
    middle = end_point(read(Wall, first))
    changed = with_table(data, "walls", index, first)
    own = {name: value for name, value in first.items() if name not in ("id", "x", "y", "length", "name")}
    changed = add(
        changed,
        "walls",
        **own,
        name=f"{wall.name[:70]} behind",
        x=exact(middle[0]),
        y=exact(middle[1]),
        length=exact(wall.length.mm - at),
    )
    second = changed["walls"].pop()
    changed["walls"].insert(index + 1, second)
    return _stood_in(changed, openings, wall.id, [(wall.id, Fraction(0), at), (second["id"], at, wall.length.mm)])


def _joined(data: Data, index: int, openings: Mapping[str, Opening], address: str) -> Data:
    wall = read(Wall, data["walls"][index])
    _refuse_shaped(wall, address, "joined")
    others = [read(Wall, one) for one in data["walls"]]
    after = next((one for one in others if one.id != wall.id and _meet(start_point(one), end_point(wall))), None)
    alike = after is not None and all(
        data["walls"][index][name] == data["walls"][others.index(after)][name]
        for name in ("thickness", "height", "base")
    )
    if after is None or abs(turned(wall.angle, after.angle)) > 1e-6 or not alike or after.curve or after.ridge:
        raise Refusal(
            address,
            "a wall that goes on",
            f"No straight wall goes on from “{wall.name}” at the same angle, as thick and as high.",
            "Join walls that run on from each other.",
        )
    whole = data["walls"][index] | {"length": exact(wall.length.mm + after.length.mm)}
    changed = with_table(data, "walls", index, whole)
    changed["walls"] = [one for one in changed["walls"] if one["id"] != after.id]
    placements = []
    for one in changed["placements"]:
        if one["wall"] == after.id and one["measured"] == "start" and not one["after"]:
            one = one | {"offset": exact(parse(str(one["offset"])) + wall.length.mm)}
        elif one["wall"] == wall.id and one["measured"] == "end" and not one["until"]:
            one = one | {"offset": exact(parse(str(one["offset"])) + after.length.mm)}
        elif one["measured"] == "centre" and one["wall"] in (wall.id, after.id):
            by = after.length.mm if one["wall"] == wall.id else -wall.length.mm
            one = one | {"offset": exact(parse(str(one["offset"])) - by / 2)}
        placements.append(one | {"wall": wall.id} if one["wall"] == after.id else one)
    return changed | {"placements": placements}


def _stood_in(
    data: Data, openings: Mapping[str, Opening], wall: str, pieces: Sequence[tuple[str, Fraction, Fraction]]
) -> Data:
    """The placements of a wall put into what it became, each where its opening stands; ``pieces`` are walls with from
    where to where of the whole they reach."""
    placements = []
    for one in data["placements"]:
        opening = openings.get(one["id"])
        if one["wall"] == wall and opening is not None:
            key, low, _ = next(piece for piece in pieces if piece[1] <= opening.x <= opening.right <= piece[2])
            own = {"wall": key, "measured": "start", "offset": exact(opening.x - low), "after": None, "until": None}
            one = one | own
        placements.append(one)
    return data | {"placements": placements}


def _reversed(data: Data, index: int, openings: Mapping[str, Opening]) -> Data:
    """A wall with its outside where its inside was; what stands in it stays where it is."""
    entry = data["walls"][index]
    wall = read(Wall, entry)
    x, y = end_point(wall)
    own: dict[str, Any] = {"x": exact(x), "y": exact(y), "angle": (wall.angle + 180) % 360}
    if wall.end_height is not None:
        own |= {"height": entry["end_height"], "end_height": entry["height"]}
    if wall.ridge is not None and wall.ridge.at is not None:
        own["ridge"] = entry["ridge"] | {"at": exact(wall.length.mm - wall.ridge.at.mm)}
    if wall.curve is not None:
        own["curve"] = _curve_reversed(entry["curve"], wall.length.mm)
    changed = with_table(data, "walls", index, entry | own)
    return changed | {"placements": [_over(one) if one["wall"] == wall.id else one for one in data["placements"]]}


def _curve_reversed(curve: Data, length: Fraction) -> Data:
    """A curve as it is seen from its other end and side."""
    made = dict(curve)
    if "rise" in made:
        made["rise"] = exact(-parse(str(made["rise"])))
    if "inward" in made:
        made["inward"] = not made["inward"]
    if "points" in made:
        made["points"] = [
            {"along": exact(length - parse(str(one["along"]))), "out": exact(-parse(str(one["out"])))}
            for one in reversed(made["points"])
        ]
    return made


def _over(placement: Data) -> Data:
    """A placement measured from the other end of its wall."""
    other = {"start": "end", "end": "start"}.get(placement["measured"], placement["measured"])
    offset = parse(str(placement["offset"]))
    own = {"measured": other, "after": placement["until"], "until": placement["after"]}
    return placement | own | ({"offset": exact(-offset)} if other == "centre" else {})
