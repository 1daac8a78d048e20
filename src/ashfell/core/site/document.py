"""The site document: walls, plates, and where units are placed in the walls."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Mapping
from dataclasses import replace
from functools import cached_property
from typing import Annotated, Any, Literal, Self

from pydantic import Field, model_validator
from pydantic_core import PydanticCustomError

from ashfell.core.base.address import Address
from ashfell.core.base.document import Document, Gap, Key, Name, Side, Size, mm, read
from ashfell.core.base.lengths import Length
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.registry import KeyOf
from ashfell.core.finish import Finish
from ashfell.core.kinds.roles import ROLES
from ashfell.core.unit.document.members import Percent
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.upgrade import upgraded


class Wall(Document):
    """A straight wall. Seen from outside it runs from ``x, y`` to the right; its outer face stands on that line.

    ``angle`` is in degrees, counter-clockwise in plan. ``lining`` is how much of the thickness has the inside finish.
    """

    id: Key
    name: Name = "Wall"
    x: Length = mm("0")
    y: Length = mm("0")
    angle: Annotated[float, Field(ge=-360, le=360)] = 0.0
    length: Size = mm("4000")
    thickness: Size = mm("300")
    height: Size = mm("2700")
    lining: Gap = mm("15")
    outside: Key = "river-brick"
    inside: Key = "lime-plaster"

    @model_validator(mode="after")
    def _lining_within(self) -> Self:
        if self.lining.mm >= self.thickness.mm:
            raise PydanticCustomError(
                "lining_within_the_wall",
                "A lining of {lining} leaves nothing of a wall {thickness} thick.",
                {"lining": self.lining.text, "thickness": self.thickness.text},
            )
        return self


class Plate(Document):
    """A level rectangular plate: a floor, a ceiling, a flat roof. ``level`` is its upper face."""

    id: Key
    name: Name = "Floor"
    x: Length = mm("0")
    y: Length = mm("0")
    width: Size = mm("4000")
    depth: Size = mm("4000")
    level: Length = mm("0")
    thickness: Size = mm("200")
    finish: Key = "floor-stone"


RoleKey = Annotated[str, KeyOf(ROLES)]
Stands = Literal["recessed", "flush outside", "flush inside", "centred"]


class Placement(Document):
    """A unit in a wall, or an opening without one.

    ``offset`` is from the wall's end named by ``measured`` to the nearer edge of the opening; from the ``centre`` it is
    how far the opening's centre stands to the right. ``sill`` is from the wall's foot to the opening; with a ``head``,
    from there to its upper edge, that counts instead. The unit ``stands`` ``recess`` behind the wall's outer face (when
    it is turned, the inner one), flush with a face, or centred in the thickness. ``gap`` is the installation gap all
    round, ``gaps`` those of its sides that differ. ``turned`` shows its outside to the inside, ``mirrored`` is the
    other hand, ``opened`` how far its sashes are in percent. ``width`` and ``height`` are sizes of its own, to which
    the unit is solved again, or those of an opening without one; ``finishes`` its own by role.
    With ``fits`` they are those of the opening, and the unit is what its gaps leave of it.
    """

    id: Key
    wall: Key
    unit: Key | None = None
    measured: Literal["start", "end", "centre"] = "start"
    offset: Length = mm("0")
    sill: Gap = mm("900")
    head: Size | None = None
    stands: Stands = "recessed"
    recess: Length = mm("40")
    gap: Gap = mm("0")
    gaps: dict[Side, Gap] = {}
    turned: bool = False
    mirrored: bool = False
    opened: Percent | None = None
    width: Size | None = None
    height: Size | None = None
    fits: bool = False
    finishes: dict[RoleKey, Key] = {}

    def __hash__(self) -> int:
        return hash((self.id, self.wall, self.unit, self.offset, self.sill))


class SiteDocument(Document):
    """A site: all that is placed, with the units and own finishes it uses, by key."""

    format: Literal["ashfell/site/2"] = "ashfell/site/2"
    name: Name = "Site"
    walls: tuple[Wall, ...] = ()
    plates: tuple[Plate, ...] = ()
    placements: tuple[Placement, ...] = ()
    units: dict[Key, UnitDocument] = {}
    finishes: dict[Key, Finish] = {}

    @model_validator(mode="after")
    def _ids_are_unique(self) -> Self:
        for entries in (self.walls, self.plates, self.placements):
            repeated = next((key for key, count in Counter(entry.id for entry in entries).items() if count > 1), None)
            if repeated is not None:
                raise PydanticCustomError("one_entry_for_each_id", "The id “{id}” is used twice.", {"id": repeated})
        return self

    @cached_property
    def wall_by_id(self) -> dict[str, Wall]:
        return {wall.id: wall for wall in self.walls}

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
