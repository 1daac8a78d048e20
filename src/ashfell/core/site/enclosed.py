"""What walls enclose: the chains that close, floors that follow them, roofs over them."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from math import cos, radians, sin

from shapely.geometry import Point, Polygon

from ashfell.core.base.address import Address
from ashfell.core.base.document import Data, read
from ashfell.core.base.lengths import exact
from ashfell.core.base.refusal import Refusal
from ashfell.core.site.course import Exact, end_point, start_point
from ashfell.core.site.document.site import read_site
from ashfell.core.site.document.wall import Wall
from ashfell.core.site.edit import add, change, index_of, with_table


def closed_chains(walls: Sequence[Wall]) -> list[list[Wall]]:
    """The chains of walls that close, each from the first of its walls."""
    starts: dict[tuple[int, int], Wall] = {}
    for wall in walls:
        starts.setdefault(_spot(start_point(wall)), wall)
    found, used = [], set[str]()
    for first in walls:
        chain = [first]
        while True:
            x, y = _spot(end_point(chain[-1]))
            after = next(
                (starts[x + i, y + j] for i in (0, 1, -1) for j in (0, 1, -1) if (x + i, y + j) in starts), None
            )
            if after is None or after in chain[1:] or after.id in used:
                break
            if after is first:
                found.append(chain)
                used |= {wall.id for wall in chain}
                break
            chain.append(after)
    return found


def _spot(point: Exact) -> tuple[int, int]:
    return round(point[0]), round(point[1])


def within(data: Data, key: str, address: str) -> Data:
    """A plate that follows the walls round its middle, or else the first that close.

    Raises
    ------
    Refusal
        When no walls close.
    """
    index = index_of(data, "plates", key, address)
    site = read_site({"walls": data["walls"], "plates": [data["plates"][index]]})
    whole = closed_chains([wall for wall in site.walls if wall.built])
    chains = [chain for chain in whole if chain[0].storey == site.plates[0].storey] or whole
    if not chains:
        raise Refusal(
            address,
            "walls that close",
            "No walls close round a room.",
            "Let each wall begin where one ends, all round.",
        )
    plate = site.plates[0]
    middle = Point(float(plate.x.mm + plate.width.mm / 2), float(plate.y.mm + plate.depth.mm / 2))
    rings = [Polygon([(float(x), float(y)) for x, y in map(start_point, chain)]) for chain in chains]
    found = next((chain for chain, ring in zip(chains, rings, strict=True) if ring.contains(middle)), chains[0])
    return with_table(data, "plates", index, data["plates"][index] | {"walls": [wall.id for wall in found]})


def add_plate(data: Data) -> Data:
    """A floor within the walls that close and have none at their foot yet, or else a rectangle."""
    walls = [wall for wall in (read(Wall, one) for one in data["walls"]) if wall.built]
    held = [frozenset(one["walls"]) for one in data["plates"]]
    for chain in closed_chains(walls):
        names = [wall.id for wall in chain]
        if frozenset(names) not in held:
            return add(data, "plates", walls=names, storey=chain[0].storey)
    return add(data, "plates")


def add_bay(data: Data, wall: str) -> Data:
    """A bay in the middle of a straight wall, with a floor and a roof of its own.

    Raises
    ------
    Refusal
        When there is no such wall, or it is not straight.
    """
    entry = Address("walls") / wall
    own = read(Wall, data["walls"][index_of(data, "walls", wall, entry)])
    if own.curve is not None:
        raise Refusal(entry, "a straight wall", f"“{own.name}” is not straight.", "Make it straight first.")
    data = change(data, entry / "curve.kind", "bent")
    floor = {"storey": own.storey, "level": exact(own.base.mm), "bay": wall}
    data = add(data, "plates", name=f"Floor of the bay of {own.name}", **floor)
    roof = {"level": exact(own.base.mm + own.height.mm + BAY_ROOF), "reach": "outside", "finish": "slate-paint"}
    return add(data, "plates", name=f"Roof of the bay of {own.name}", **floor | roof, thickness=exact(BAY_ROOF))


BAY_ROOF = Fraction(150)
"""How thick the roof of a bay is, mm (common practice, no source)."""


def add_roof(data: Data, wall: str) -> Data:
    """A roof plane that rises from the head of a wall to the middle of the walls, or over the length of the wall where
    there are no others.

    Raises
    ------
    Refusal
        When there is no such wall.
    """
    index = index_of(data, "walls", wall, Address("walls") / wall)
    own, others = read(Wall, data["walls"][index]), [read(Wall, one) for one in data["walls"]]
    turn = radians(own.angle)
    start = start_point(own)
    away = [
        (float(y) - float(start[1])) * cos(turn) - (float(x) - float(start[0])) * sin(turn)
        for one in others
        for x, y in (start_point(one), end_point(one))
    ]
    run = Fraction(round(max(away) * 500), 1000) if max(away) > 500 else own.length.mm / 2
    level = own.base.mm + own.height.mm
    return add(
        data,
        "roofs",
        x=exact(start[0]),
        y=exact(start[1]),
        angle=own.angle,
        length=exact(own.length.mm),
        run=exact(run),
        level=exact(level + 200),
        storey=own.storey,
    )
