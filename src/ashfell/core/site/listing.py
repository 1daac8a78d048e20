"""A site as a list: what is picked is opened, everything else is one line; a long host is shown a page at a time."""

from __future__ import annotations

from collections.abc import Container
from dataclasses import dataclass
from typing import TypeVar

from ashfell.core.base.address import Address
from ashfell.core.site.document.camera import Camera
from ashfell.core.site.document.lamp import Lamp
from ashfell.core.site.document.placement import COPY, Placement
from ashfell.core.site.document.plate import Plate
from ashfell.core.site.document.roof import Roof
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.document.surrounding import Surrounding
from ashfell.core.site.document.wall import Storey, Wall

PAGE = 40
"""How many placements are listed at once."""


@dataclass(frozen=True)
class Row:
    """A wall or a roof in the list.

    ``count`` is how many placements are in it. Of an opened one ``placements`` are those on the page that is shown, the
    first of them being number ``first``; ``before`` and ``after`` are the addresses of what to pick for the pages
    beside it.
    """

    wall: Wall | Roof
    entry: str
    count: int
    opened: bool = False
    placements: tuple[Placement, ...] = ()
    first: int = 0
    before: str = ""
    after: str = ""

    @property
    def table(self) -> str:
        """The table that it is in."""
        return Address(self.entry).parent

    @property
    def last(self) -> int:
        """The number of the last placement shown, counted from one."""
        return self.first + len(self.placements)


@dataclass(frozen=True)
class Group:
    """What stands on a storey; what stands on none, where ``storey`` is None."""

    storey: Storey | None
    rows: tuple[Row, ...]
    plates: tuple[Plate, ...]
    opened: bool = True


@dataclass(frozen=True)
class Listing:
    """The storeys of a site with what stands on them, the address of what is picked, and the id of the wall or roof
    that is opened."""

    groups: tuple[Group, ...]
    picked: str
    wall: str = ""
    lamps: tuple[Lamp, ...] = ()
    cameras: tuple[Camera, ...] = ()
    surroundings: tuple[Surrounding, ...] = ()

    @property
    def rows(self) -> tuple[Row, ...]:
        """Every row."""
        return tuple(row for group in self.groups for row in group.rows)


Standing = TypeVar("Standing", Lamp, Camera, Surrounding)


def some(entries: tuple[Standing, ...], picked: str) -> tuple[tuple[Standing, ...], int]:
    """As many lamps, cameras or surroundings as are listed at once, the one that is picked among them, and how many
    more there are."""
    apart = tuple(one for one in entries[PAGE:] if one.id == Address(picked).last)
    return entries[:PAGE] + apart, max(0, len(entries) - PAGE - len(apart))


def entry_of(address: str) -> Address:
    """The address of the entry that an address is about: of a repeat, where it is one of that."""
    steps = Address(address).steps[:2]
    return Address(steps[0]) / steps[1].partition(COPY)[0] if len(steps) == 2 else Address(address)


def listing(site: SiteDocument, picked: str = "") -> Listing:
    """The list of a site where ``picked`` is the address of a storey, wall, plate, roof or placement; where there is no
    such thing its first wall is picked.
    """
    picked = entry_of(picked)
    table, key = ([*Address(picked).steps, "", ""])[:2]
    hosts: dict[str, Container[str]] = {"walls": site.wall_by_id, "roofs": site.roof_by_id}
    wall, placement = "", ""
    if table == "placements" and key in site.placement_by_id:
        wall, placement = site.placement_by_id[key].wall, key
    elif key in hosts.get(table, {}):
        wall = key
    others = {
        "plates": [one.id for one in site.plates],
        "storeys": [one.id for one in site.storeys],
        "lamps": [one.id for one in site.lamps],
        "cameras": [one.id for one in site.cameras],
        "surroundings": [one.id for one in site.surroundings],
    }
    if not wall and key not in others.get(table, []):
        wall = site.walls[0].id if site.walls else ""
        picked = Address("walls") / wall if wall else ""
    rows = [
        *(_row(site, one, Address("walls") / one.id, one.id == wall, placement) for one in site.walls),
        *(_row(site, one, Address("roofs") / one.id, one.id == wall, placement) for one in site.roofs),
    ]
    known = {storey.id for storey in site.storeys}
    groups = [
        Group(
            storey,
            tuple(row for row in rows if _on(row.wall, known) == (storey.id if storey else None)),
            tuple(plate for plate in site.plates if _on(plate, known) == (storey.id if storey else None)),
        )
        for storey in (*site.storeys, None)
    ]
    shown = tuple(one for one in groups if one.storey or one.rows or one.plates)
    return Listing(shown, picked, wall, site.lamps, site.cameras, site.surroundings)


def _on(one: Wall | Roof | Plate, known: set[str]) -> str | None:
    return one.storey if one.storey in known else None


def _row(site: SiteDocument, wall: Wall | Roof, entry: str, opened: bool, placement: str) -> Row:
    """A wall's row; opened, it shows the page that the placement is on."""
    placed = site.placements_in.get(wall.id, ())
    if not opened:
        return Row(wall, entry, len(placed))
    at = next((index for index, one in enumerate(placed) if one.id == placement), 0)
    first = at // PAGE * PAGE
    behind = first + PAGE
    return Row(
        wall,
        entry,
        len(placed),
        True,
        placed[first:behind],
        first,
        Address("placements") / placed[first - PAGE].id if first else "",
        Address("placements") / placed[behind].id if behind < len(placed) else "",
    )
