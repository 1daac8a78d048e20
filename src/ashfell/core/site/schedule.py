"""The schedule of a site: its openings and units as tables, and openings read from such a table."""

from __future__ import annotations

import copy
import re
from collections import Counter
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction
from math import ceil

from ashfell.core.base.address import Address
from ashfell.core.base.document import Data, dump, read
from ashfell.core.base.lengths import Length, LengthError, Unit, exact, parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.coats import finishes_of
from ashfell.core.kinds.roles import ROLES
from ashfell.core.site.document.placement import Placement
from ashfell.core.site.edit import add, set_value
from ashfell.core.site.opening import Opening
from ashfell.core.site.scene import Scene
from ashfell.core.unit.make import Unit as MadeUnit

PAGE = 40
"""How many rows are shown at once."""
MOST_ROWS = 20_000
"""The most rows that are read."""
Cell = Callable[[Placement, Unit], str]


@dataclass(frozen=True)
class Column:
    """A column of the table of openings: its heading in files, the entry of a placement that it is, and the cell of
    one, where a bare number is in some unit."""

    heading: str
    entry: str
    cell: Cell


def _said(value: object, bare: Unit) -> str:
    """What an entry says: a length as it was typed, with its unit where a bare number would be read in another."""
    if not isinstance(value, Length):
        return "" if value is None else str(value)
    try:
        return value.text if Length.read(value.text, bare) == value else f"{value.text} mm"
    except LengthError:
        return f"{value.text} mm"


def _entry(name: str) -> Cell:
    return lambda placement, bare: _said(getattr(placement, name), bare)


def _yes(name: str) -> Cell:
    return lambda placement, _: "yes" if getattr(placement, name) else "no"


def _repeat(name: str) -> Cell:
    return lambda placement, bare: _said(getattr(placement.repeat, name, None), bare)


def _finish(role: str) -> Cell:
    return lambda placement, _: placement.finishes.get(role, "")


MARK, WALL, UNIT = "mark", "wall", "unit"
COLUMNS = (
    Column(MARK, "mark", lambda placement, _: placement.mark or placement.id),
    Column(WALL, "wall", _entry("wall")),
    Column(UNIT, "unit", _entry("unit")),
    Column("measured from", "measured", _entry("measured")),
    Column("offset", "offset", _entry("offset")),
    Column("storey", "storey", _entry("storey")),
    Column("sill", "sill", _entry("sill")),
    Column("head", "head", _entry("head")),
    Column("width", "width", _entry("width")),
    Column("height", "height", _entry("height")),
    Column("size of opening", "fits", _yes("fits")),
    Column("gap", "gap", _entry("gap")),
    Column("stands", "stands", _entry("stands")),
    Column("recess", "recess", _entry("recess")),
    Column("turned", "turned", _yes("turned")),
    Column("mirrored", "mirrored", _yes("mirrored")),
    Column("opened", "opened", lambda placement, _: "" if placement.opened is None else f"{placement.opened:g}"),
    Column("along", "repeat.along", _repeat("along")),
    Column("apart", "repeat.gap", _repeat("gap")),
    Column("up", "repeat.up", _repeat("up")),
    *(Column(f"{ROLES[role].label.lower()} finish", f"finishes.{role}", _finish(role)) for role in ("frame", "glass")),
)
"""The table of openings as it is written and read."""
CELLS = {column.heading: column.cell for column in COLUMNS}
TOLD = ("count", "opening width", "opening height")
"""Headings of what is only told: read over."""


@dataclass(frozen=True)
class Row:
    """A row of the schedule: a placement, how many openings it makes, one of them, and whether any was refused."""

    placement: Placement
    count: int
    opening: Opening | None
    refused: bool


@dataclass(frozen=True)
class Uses:
    """How often a unit is used in a size, and in which finishes."""

    unit: str
    width: Fraction
    height: Fraction
    count: int
    finishes: tuple[str, ...]
    made: MadeUnit


def rows(scene: Scene, first: int = 0, count: int | None = None) -> list[Row]:
    """The rows of a site's openings, in the order of the document; ``count`` of them from ``first``."""
    placements = scene.document.placements[first : None if count is None else first + count]
    wanted = {placement.id for placement in placements}
    cut: dict[str, list[Opening]] = {}
    for one in scene.site.placements:
        if one.entry in wanted and one.id in scene.openings:
            cut.setdefault(one.entry, []).append(scene.openings[one.id])
    refused = {Address(place).last for place, _ in scene.refused if Address(place).parent == "placements"}
    found = []
    for placement in placements:
        own = cut.get(placement.id, [])
        found.append(Row(placement, len(own), own[0] if own else None, placement.id in refused))
    return found


def uses(scene: Scene) -> list[Uses]:
    """What units are used, in which sizes and finishes, and how often."""
    counted: Counter[tuple[str, Fraction, Fraction, tuple[str, ...]]] = Counter()
    made: dict[tuple[str, Fraction, Fraction, tuple[str, ...]], MadeUnit] = {}
    finished: dict[MadeUnit, tuple[str, ...]] = {}
    for placement in scene.site.placements:
        unit = scene.units.get(placement.id)
        if unit is not None and placement.id in scene.openings and placement.unit:
            size = unit.layout.overall
            if unit not in finished:
                seen = (part for part in unit.parts if part.role in ("frame", "glass"))
                finished[unit] = tuple(dict.fromkeys(key for part in seen for key in finishes_of(part)))
            key = placement.unit, size.width, size.height, finished[unit]
            counted[key] += 1
            made.setdefault(key, unit)
    return [Uses(*key[:3], n, key[3], made[key]) for key, n in sorted(counted.items())]


def counted_table(scene: Scene, bare: Unit = "mm") -> list[list[str | float]]:
    """The same with the counts as numbers."""
    lines = [*table(scene, bare)]
    at = lines[0].index("count")
    return [[int(cell) if n == at and cell.isdigit() else cell for n, cell in enumerate(line)] for line in lines]


def unit_table(scene: Scene) -> list[list[str | float]]:
    """What units are used, as a table: headings, then a row for each; sizes as numbers."""
    found: list[list[str | float]] = [["unit", "name", "width mm", "height mm", "count", "finishes"]]
    for one in uses(scene):
        size = float(one.width), float(one.height)
        found.append([one.unit, scene.site.units[one.unit].name, *size, one.count, ", ".join(one.finishes)])
    return found


def table(scene: Scene, bare: Unit = "mm") -> Iterator[list[str]]:
    """The openings as a table: headings, then a row for each; lengths as they were typed, to be read again where a bare
    number is in the unit ``bare``."""
    yield [*(column.heading for column in COLUMNS), *TOLD]
    for row in rows(scene):
        told = [str(row.count), *([exact(row.opening.width), exact(row.opening.height)] if row.opening else ["", ""])]
        yield [*(column.cell(row.placement, bare) for column in COLUMNS), *told]


# --- reading a table --------------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Known:
    """What a table can name, by its id or its name: walls and roofs, units, storeys."""

    walls: Mapping[str, str]
    units: Mapping[str, str]
    storeys: Mapping[str, str] = field(default_factory=dict)

    def find(self, what: str, text: str) -> str:
        """The id of what is named.

        Raises
        ------
        Refusal
            When there is none, or more than one of that name.
        """
        known: Mapping[str, str] = getattr(self, f"{what}s")
        if text in known:
            return text
        found = [key for key, name in known.items() if name.casefold() == text.casefold()]
        if len(found) == 1:
            return found[0]
        if found:
            told = f"There is more than one {what} named “{text}”."
            raise Refusal(what, f"one {what}", told, f"Write its id: {', '.join(found[:5])}.")
        some = ", ".join(list(known)[:5]) or "none"
        raise Refusal(what, f"a known {what}", f"There is no {what} “{text}”.", f"There are {some}.")


@dataclass(frozen=True)
class Fault:
    """What is wrong with a row, counted from 1 as people see it in their table, with its headings in row 1."""

    row: int
    heading: str
    refusal: Refusal


@dataclass(frozen=True)
class Taken:
    """A site with the openings of a table: the rows of those added, of those changed and of all that it names, by their
    id, and what is wrong."""

    data: Data
    added: Mapping[str, int]
    changed: Mapping[str, int]
    named: Mapping[str, int]
    faults: tuple[Fault, ...]

    @property
    def is_new(self) -> bool:
        """Whether the table says anything that was not there."""
        return bool(self.added or self.changed)


def taken(data: Data, lines: Sequence[Sequence[str]], known: Known, bare: Unit = "mm") -> Taken:
    """The openings of a table put into a site. A row whose mark is there changes that opening, any other adds one;
    a cell left empty leaves what is there, and one that says what is there changes nothing.

    Parameters
    ----------
    lines : sequence of rows
        The first are headings.
    """
    headings = [_plain(heading) for heading in lines[0]] if lines else []
    entries = {column.heading: column.entry for column in COLUMNS}
    faults = [*_faulty(headings, entries)]
    if len(lines) > MOST_ROWS:
        told = f"The table has {len(lines)} rows; {MOST_ROWS} are the most that are read."
        faults.append(Fault(1, "", Refusal("", "a number of rows", told, "Take it in in parts.")))
    if faults:
        return Taken(data, {}, {}, {}, tuple(faults))
    placements = list(data["placements"])
    by_mark = {one["id"]: n for n, one in enumerate(placements)}
    by_mark |= {one["mark"]: n for n, one in enumerate(placements) if one["mark"]}
    ids = {one["id"] for one in placements}
    added: dict[str, int] = {}
    changed: dict[str, int] = {}
    named: dict[str, int] = {}
    for number, line in enumerate(lines[1:], 2):
        cells = {heading: cell.strip() for heading, cell in zip(headings, line, strict=False) if heading in entries}
        if not any(cells.values()):
            continue
        at = by_mark.get(cells.get(MARK, ""))
        try:
            before = _begun(cells, ids) if at is None else placements[at]
            entry = _filled(before, _new(cells, before, bare), entries, known, bare)
        except _Wrong as wrong:
            faults.append(Fault(number, wrong.heading, wrong.refusal))
            continue
        if at is None:
            by_mark[cells.get(MARK) or entry["id"]] = len(placements)
            placements.append(entry)
            ids.add(entry["id"])
            added[entry["id"]] = number
        elif entry != before:
            placements[at] = entry
            changed.setdefault(entry["id"], number)
        named.setdefault(entry["id"], number)
    return Taken(data | {"placements": placements}, added, changed, named, tuple(faults))


def with_walls(data: Data, lines: Sequence[Sequence[str]], widths: Mapping[str, Fraction], bare: Unit = "mm") -> Data:
    """A site without walls with those that a table names, one behind the other, each long enough for its openings.

    Parameters
    ----------
    widths : mapping
        Of the units, by id and by name in lower case, mm.
    """
    headings = [_plain(heading) for heading in lines[0]] if lines else []
    reached: dict[str, Fraction] = {}
    for line in lines[1:MOST_ROWS]:
        cells = {heading: cell.strip() for heading, cell in zip(headings, line, strict=False)}
        name = cells.get(WALL, "")
        if not name:
            continue
        own = _size(cells.get("width", ""), bare) or widths.get(cells.get(UNIT, "").casefold(), Fraction(1000))
        count = int(cells["along"]) if cells.get("along", "").isdecimal() and len(cells["along"]) < 6 else 1
        apart = _size(cells.get("apart", ""), bare) or Fraction(1000)
        ends = _size(cells.get("offset", ""), bare) + own * count + apart * (count - 1)
        reached[name] = max(reached.get(name, Fraction(0)), ends)
    for number, (name, length) in enumerate(reached.items()):
        whole = Fraction(ceil((length + MARGIN) / 100) * 100)
        place = {"x": "0", "y": exact(Fraction(-APART * number)), "length": exact(whole)}
        data = add(data, "walls", name=name[:80], **place)
    return data


MARGIN, APART = 500, 6000
"""What is left of a wall behind its last opening, and how far behind each other walls are put, mm."""


def _size(text: str, bare: Unit) -> Fraction:
    """A length above zero; 0 where none is written, or what is written is none and told later."""
    try:
        return max(parse(text, bare), Fraction(0)) if text else Fraction(0)
    except LengthError:
        return Fraction(0)


class _Wrong(Exception):
    """A cell that cannot be read."""

    def __init__(self, heading: str, refusal: Refusal) -> None:
        self.heading, self.refusal = heading, refusal


def _plain(heading: str) -> str:
    return " ".join(heading.casefold().split())


def _faulty(headings: Sequence[str], entries: Mapping[str, str]) -> Iterator[Fault]:
    """What is wrong with the headings."""
    for heading, count in Counter(headings).items():
        if heading and heading not in entries and heading not in TOLD:
            told = f"“{heading}” is no heading of a schedule."
            yield Fault(1, heading, Refusal(heading, "a known heading", told, f"Use {', '.join(entries)}."))
        elif count > 1 and heading:
            told = f"“{heading}” stands over {count} columns."
            yield Fault(1, heading, Refusal(heading, "a heading once", told, "Leave out all but one."))
    if WALL not in headings:
        told = "No column says in which wall the openings are."
        yield Fault(1, WALL, Refusal(WALL, "a column of walls", told, "Add a column “wall”."))


def _begun(cells: Mapping[str, str], ids: set[str]) -> Data:
    """A placement as a row that adds one begins, with a free id like its mark."""
    if not cells.get(WALL):
        raise _Wrong(WALL, Refusal(WALL, "a wall", "The row does not say in which wall.", "Name a wall."))
    stem = re.sub(r"[^a-z0-9]+", "-", cells.get(MARK, "").casefold()).strip("-")[:50] or "opening"
    free = next(key for n in range(1, len(ids) + 2) if (key := stem if n == 1 else f"{stem}-{n}") not in ids)
    own = {"width": "900", "height": "1200"} if not cells.get(UNIT) else {}
    mark = cells.get(MARK, "")
    return dump(read(Placement, {"id": free, "wall": "wall", "mark": mark if mark != free else ""} | own))


def _new(cells: Mapping[str, str], before: Data, bare: Unit) -> dict[str, str]:
    """The cells of a row that say something else than is there."""
    there = read(Placement, before)
    return {heading: text for heading, text in cells.items() if text and CELLS[heading](there, bare) != text}


def _filled(entry: Data, cells: Mapping[str, str], entries: Mapping[str, str], known: Known, bare: Unit) -> Data:
    """A placement with what the cells of a row say; itself where they say nothing."""
    if not cells:
        return entry
    entry = copy.deepcopy(entry)
    for heading, text in cells.items():
        if heading == MARK:
            continue
        try:
            value = known.find(heading, text) if heading in (WALL, UNIT, "storey") else text
            if entries[heading].startswith("repeat.") and entry["repeat"] is None:
                if text == "1":
                    continue
                set_value(entry, Address("repeat"), "1", bare, Placement)
                set_value(entry, Address("repeat.along"), "1", bare, Placement)
            set_value(entry, Address(entries[heading]), value, bare, Placement)
        except Refusal as refusal:
            raise _Wrong(heading, refusal) from None
    try:
        return dump(read(Placement, entry))
    except Refusal as refusal:
        raise _Wrong(refusal.entry, refusal) from None


def refused_rows(taken_in: Taken, refused: Sequence[tuple[str, Refusal]]) -> Taken:
    """What was taken in, with what the building refuses of it told by its row; what is refused of others because of
    it, by the row of the headings."""
    at = taken_in.named
    more = []
    for place, refusal in refused:
        row = at.get(Address(place).last, 1) if Address(place).parent == "placements" else 1
        more.append(Fault(row, refusal.entry if row > 1 else place, refusal))
    return replace(taken_in, faults=(*taken_in.faults, *sorted(more, key=lambda one: one.row)))
