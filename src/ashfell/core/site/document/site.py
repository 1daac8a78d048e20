"""The site document: storeys, walls, plates, roofs, and what stands in them."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Mapping
from dataclasses import replace
from functools import cached_property
from typing import Any, Literal, Self

from pydantic import model_validator
from pydantic_core import PydanticCustomError

from ashfell.core.base.address import Address
from ashfell.core.base.document import Document, Key, Name, read
from ashfell.core.base.refusal import Refusal
from ashfell.core.finish import Finish
from ashfell.core.site.document.camera import Camera
from ashfell.core.site.document.lamp import Lamp
from ashfell.core.site.document.placement import Placement
from ashfell.core.site.document.plate import Plate
from ashfell.core.site.document.roof import Roof
from ashfell.core.site.document.surrounding import Surrounding
from ashfell.core.site.document.wall import Storey, Wall
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.upgrade import upgraded


class SiteDocument(Document):
    """A site: all that is placed, with the units and own finishes it uses, by key."""

    format: Literal["ashfell/site/5"] = "ashfell/site/5"
    name: Name = "Site"
    storeys: tuple[Storey, ...] = ()
    walls: tuple[Wall, ...] = ()
    plates: tuple[Plate, ...] = ()
    roofs: tuple[Roof, ...] = ()
    placements: tuple[Placement, ...] = ()
    surroundings: tuple[Surrounding, ...] = ()
    lamps: tuple[Lamp, ...] = ()
    cameras: tuple[Camera, ...] = ()
    units: dict[Key, UnitDocument] = {}
    finishes: dict[Key, Finish] = {}

    @model_validator(mode="after")
    def _ids_are_unique(self) -> Self:
        tables: list[list[str]] = [
            [one.id for one in self.storeys],
            [*(one.id for one in self.walls), *(one.id for one in self.roofs)],
            [one.id for one in self.plates],
            [one.id for one in self.placements],
            [one.id for one in self.lamps],
            [one.id for one in self.cameras],
            [one.id for one in self.surroundings],
        ]
        for ids in tables:
            repeated = next((key for key, count in Counter(ids).items() if count > 1), None)
            if repeated is not None:
                raise PydanticCustomError("one_entry_for_each_id", "The id “{id}” is used twice.", {"id": repeated})
        return self

    @cached_property
    def wall_by_id(self) -> dict[str, Wall]:
        return {wall.id: wall for wall in self.walls}

    @cached_property
    def plate_by_id(self) -> dict[str, Plate]:
        return {plate.id: plate for plate in self.plates}

    @cached_property
    def roof_by_id(self) -> dict[str, Roof]:
        return {roof.id: roof for roof in self.roofs}

    @cached_property
    def placement_by_id(self) -> dict[str, Placement]:
        return {placement.id: placement for placement in self.placements}

    @cached_property
    def placements_in(self) -> dict[str, tuple[Placement, ...]]:
        """The placements in each wall, by its id; also those in walls that are not there."""
        found: dict[str, list[Placement]] = defaultdict(list)
        for placement in self.placements:
            found[placement.wall].append(placement)
        return {key: tuple(placements) for key, placements in found.items()}

    def wall(self, key: str) -> Wall | None:
        """The wall of an id."""
        return self.wall_by_id.get(key)


def read_site(data: Mapping[str, Any]) -> SiteDocument:
    """A site document from JSON data of any format there has been.

    Raises
    ------
    Refusal
        For the first entry that is wrong; in a wall, plate or placement that has an id, by that.
    """
    current = upgraded(data)
    try:
        return read(SiteDocument, current)
    except Refusal as refusal:
        entry = _by_id(current, Address(refusal.entry))
        message = refusal.message.replace(f"“{refusal.entry}”", f"“{entry}”")
        raise replace(refusal, entry=entry, message=message) from None


def _by_id(data: Mapping[str, Any], entry: Address) -> Address:
    """An address whose second step is a position, with the id of what stands there instead."""
    steps = entry.steps
    table = data.get(steps[0]) if steps else None
    if len(steps) < 2 or not isinstance(table, list) or not steps[1].isdigit():
        return entry
    there = table[int(steps[1])]
    key = there.get("id") if isinstance(there, Mapping) else None
    return Address(".".join((steps[0], key, *steps[2:]))) if isinstance(key, str) and key else entry
