"""Openings moved and arranged in their wall: by distances, in line, equally, again; pure functions from JSON data to
JSON data.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from fractions import Fraction
from itertools import accumulate

from ashfell.core.base.address import Address
from ashfell.core.base.document import Data
from ashfell.core.base.lengths import LengthError, Unit, exact, parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.site.edit import add, index_of, unknown, with_table
from ashfell.core.site.opening import Opening
from ashfell.core.site.row import beside, level_with
from ashfell.core.site.scene import Scene
from ashfell.core.site.standing import Standing

TABLE = "placements"
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
    what, index, opening, standing = _found(data, scene, address)
    placement = data[TABLE][index]
    if what == "before" and opening.placement != placement["id"] and placement["measured"] != "equal":
        gap = exact(_distance(address, value, bare))
        return with_table(data, TABLE, index, placement | {"repeat": placement["repeat"] | {"gap": gap}})
    if placement["measured"] == "equal":
        placement = placement | _from_start(placement, scene)
    if what == "moved":
        along, _, up = value.partition(";")
        by = _distance(address, along, bare), _distance(address, up or "0", bare)
        return with_table(data, TABLE, index, placement | _moved(placement, *by))
    low, high = beside(opening, standing.openings, standing.host.length)
    size = _distance(address, value, bare)
    by_x = low + size - opening.x if what == "before" else high - size - opening.right
    return with_table(data, TABLE, index, placement | _moved(placement, by_x, Fraction(0)))


ROWS = ("equal", "bays", "heads", "sills", "copied", "alike", "single", "locked")
"""What is done to the openings at the height of one: their piers made equal, each put into the middle of an equal part
of the wall, their heads or sills brought into line with it, one like it put behind it, or all of them given its unit,
fitted to each. A repeat is broken up into single ones; the pier before an opening is locked, or no longer."""


def arrange(data: Data, scene: Scene, address: str) -> Data:
    """The openings of a wall at the height of one of them arranged, e.g. ``"placements.p.equal"``.

    Raises
    ------
    Refusal
        When the opening is not there, or there is no room for the copy.
    """
    what, index, opening, standing = _found(data, scene, address)
    if what == "single":
        return _single(data, scene, index)
    if what == "locked":
        return _locked(data, scene, index, opening, standing.openings)
    if what == "copied":
        return _copied(data, index, opening, standing.openings, standing.host.length)
    row = {one.placement: one for one in level_with(opening, standing.openings)}
    _refuse_repeated(data, row, address)
    pier = (standing.host.length - sum(one.width for one in row.values())) / (len(row) + 1)
    starts = dict(zip(row, accumulate((one.width + pier for one in row.values()), initial=pier), strict=False))
    if what == "bays":
        bay = standing.host.length / len(row)
        starts = {key: bay * n + (bay - one.width) / 2 for n, (key, one) in enumerate(row.items())}
    like = {name: data[TABLE][index][name] for name in OF_UNIT}

    def own(entry: Data, one: Opening) -> Data:
        if what in ("equal", "bays"):
            if entry["after"] or entry["until"]:
                place = {"measured": "start", "offset": exact(starts[one.placement])}
                return place | {"after": None, "until": None}
            return _moved(entry, starts[one.placement] - one.x, Fraction(0))
        if what == "heads":
            return {"head": exact(opening.head)}
        if what == "sills":
            return {"head": None, "sill": exact(opening.z)}
        return {} if one is opening else like | {"fits": True, "width": exact(one.width), "height": exact(one.height)}

    entries = [entry | own(entry, row[entry["id"]]) if entry["id"] in row else entry for entry in data[TABLE]]
    return data | {TABLE: entries}


def _locked(data: Data, scene: Scene, index: int, opening: Opening, others: Sequence[Opening]) -> Data:
    """The pier before an opening locked at its size, whatever moves before it, or no longer so."""
    entry = data[TABLE][index]
    if entry["after"]:
        own = {"after": None, "measured": "start", "offset": exact(opening.x)}
        return with_table(data, TABLE, index, entry | own)
    before = [one for one in level_with(opening, others) if one.right <= opening.x]
    if not before:
        raise Refusal(
            Address(TABLE) / entry["id"] / "locked",
            "a pier between two openings",
            "No opening stands before this one.",
            "Measure it from the start: that pier keeps its size.",
        )
    held = scene.site.placement_by_id[before[-1].placement]
    last = max(scene.openings[one.id].right for one in scene.site.placements if one.entry == held.entry)
    own = {"after": held.entry, "measured": "start", "offset": exact(opening.x - last)}
    return with_table(data, TABLE, index, entry | own)


def _refuse_repeated(data: Data, row: Mapping[str, Opening], address: str) -> None:
    """Refuse to arrange openings of a repeat by themselves."""
    found = next((entry["id"] for entry in data[TABLE] if entry.get("repeat") and entry["id"] in row), None)
    if found is not None:
        raise Refusal(
            address,
            "single openings",
            f"“{found}” is repeated, and all of it is placed together.",
            "Break it up first, or change how it is repeated.",
        )


OF_UNIT = ("unit", "stands", "recess", "turned", "mirrored", "gap", "gaps", "opened", "finishes", "inner")
"""What placements share that hold the same unit in the same way."""


def _found(data: Data, scene: Scene, address: str) -> tuple[str, int, Opening, Standing]:
    """What is to be done to which opening: the last word of an address, the place of its entry, it, and its host.

    Raises
    ------
    Refusal
        When there is no such placement, or its opening is not cut.
    """
    steps = Address(address).steps
    if len(steps) != 3 or steps[0] != TABLE:
        raise unknown(address)
    index, opening = index_of(data, TABLE, steps[1], address), scene.openings.get(steps[1])
    if opening is None:
        raise Refusal(address, "an opening that is there", "This opening is not cut.", "Mend its place first.")
    return steps[2], index, opening, scene.standing[data[TABLE][index]["wall"]]


def _copied(data: Data, index: int, opening: Opening, others: Sequence[Opening], length: Fraction) -> Data:
    """One like an opening behind it: as far away as the one before it is, or as its pier, where there is room."""
    low, high = beside(opening, others, length)
    room, pier = high - opening.right, opening.x - low
    if room < opening.width:
        raise Refusal(
            Address(TABLE) / opening.placement / "copied",
            "room in the wall",
            f"Behind the opening there is {exact_mm(room)}, and it is {exact_mm(opening.width)} wide.",
            "Move it, or what is behind it.",
        )
    apart = pier if pier + opening.width <= room else (room - opening.width) / 2
    like = {name: value for name, value in data[TABLE][index].items() if name != "id"}
    return add(data, TABLE, **(like | {"measured": "start", "offset": exact(opening.right + apart)}))


def _single(data: Data, scene: Scene, index: int) -> Data:
    """A repeat as placements of their own, each where it stands."""
    entry = data[TABLE][index]
    made = data | {TABLE: [one for one in data[TABLE] if one is not entry]}
    for one in scene.site.placements_in.get(entry["wall"], ()):
        opening = scene.openings.get(one.id)
        if one.entry != entry["id"] or opening is None:
            continue
        level = {"head": exact(opening.head)} if one.head else {"sill": exact(opening.z)}
        own: Data = {"measured": "start", "offset": exact(opening.x), "after": None, "until": None, "storey": None}
        own |= {"unit": one.unit, "mirrored": one.mirrored, "repeat": None} | level
        like = {name: value for name, value in entry.items() if name != "id"}
        made = add(made, TABLE, **(like | own | ({"id": one.id} if one.id == entry["id"] else {})))
    return made


def _distance(address: str, text: str, bare: Unit) -> Fraction:
    try:
        return parse(text, bare)
    except LengthError as error:
        raise Refusal(address, "a length", error.reason, position=error.position) from error


def _from_start(placement: Data, scene: Scene) -> Data:
    """A placement between piers alike, measured from the start of its stretch instead, where it stands."""
    row = [scene.openings[one.id] for one in scene.site.placements if one.entry == placement["id"]]
    apart = row[1].x - row[0].right if len(row) > 1 else None
    low = Fraction(0)
    if placement["after"]:
        behind = [one.id for one in scene.site.placements if one.entry == placement["after"]]
        low = max((scene.openings[key].right for key in behind if key in scene.openings), default=low)
    again = {"repeat": placement["repeat"] | {"gap": exact(apart)}} if placement["repeat"] and apart is not None else {}
    return {"measured": "start", "offset": exact(row[0].x - low)} | again


def _moved(placement: Data, along: Fraction, up: Fraction) -> Data:
    """What is set to move a placement."""
    sign = -1 if placement["measured"] == "end" else 1
    made = {"offset": exact(parse(str(placement["offset"])) + sign * along)} if along else {}
    level = "head" if placement["head"] else "sill"
    return made | ({level: exact(parse(str(placement[level])) + up)} if up else {})
