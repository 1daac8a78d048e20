"""A site as a list: what is picked is opened, everything else is one line; a long host is shown a page at a time."""

from __future__ import annotations

from dataclasses import dataclass

from ashfell.core.base.address import Address
from ashfell.core.site.document.placement import Placement
from ashfell.core.site.document.plate import Plate
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.document.wall import Wall

PAGE = 40
"""How many placements are listed at once."""


@dataclass(frozen=True)
class Row:
    """A wall in the list.

    ``count`` is how many placements are in it. Of an opened one ``placements`` are those on the page that is shown, the
    first of them being number ``first``; ``before`` and ``after`` are the addresses of what to pick for the pages
    beside it.
    """

    wall: Wall
    count: int
    opened: bool = False
    placements: tuple[Placement, ...] = ()
    first: int = 0
    before: str = ""
    after: str = ""

    @property
    def last(self) -> int:
        """The number of the last placement shown, counted from one."""
        return self.first + len(self.placements)


@dataclass(frozen=True)
class Listing:
    """The rows of a site, its plates, the address of what is picked, and the id of the wall that is opened."""

    rows: tuple[Row, ...]
    plates: tuple[Plate, ...]
    picked: str
    wall: str = ""


def listing(site: SiteDocument, picked: str = "") -> Listing:
    """The list of a site where ``picked`` is the address of a wall, plate or placement; where there is no such thing
    its first wall is picked.
    """
    table, key = ([*Address(picked).steps, "", ""])[:2]
    wall, placement = "", ""
    if table == "placements" and key in site.placement_by_id:
        wall, placement = site.placement_by_id[key].wall, key
    elif table == "walls" and key in site.wall_by_id:
        wall = key
    if not wall and not (table == "plates" and any(plate.id == key for plate in site.plates)):
        wall = site.walls[0].id if site.walls else ""
        picked = Address("walls") / wall if wall else ""
    return Listing(tuple(_row(site, one, one.id == wall, placement) for one in site.walls), site.plates, picked, wall)


def _row(site: SiteDocument, wall: Wall, opened: bool, placement: str) -> Row:
    """A wall's row; opened, it shows the page that the placement is on."""
    placed = site.placements_in.get(wall.id, ())
    if not opened:
        return Row(wall, len(placed))
    at = next((index for index, one in enumerate(placed) if one.id == placement), 0)
    first = at // PAGE * PAGE
    behind = first + PAGE
    return Row(
        wall,
        len(placed),
        True,
        placed[first:behind],
        first,
        Address("placements") / placed[first - PAGE].id if first else "",
        Address("placements") / placed[behind].id if behind < len(placed) else "",
    )
