"""A site settled: every wall, plate and roof at its level, every repeat one by one. What follows reads only that."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import cached_property
from typing import TypeVar

from ashfell.core.base.address import Address
from ashfell.core.base.lengths import Length, exact
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.site.budget import count_of, exceeds, too_many_openings
from ashfell.core.site.document.placement import COPY, Placement
from ashfell.core.site.document.plate import Plate
from ashfell.core.site.document.roof import Roof
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.document.wall import Storey, Wall

Refused = list[tuple[str, Refusal]]


@dataclass(frozen=True)
class Levels:
    """The storeys of a site with the level that each stands on, mm."""

    storeys: tuple[Storey, ...]

    @cached_property
    def of(self) -> dict[str, Fraction]:
        """The level of each storey, by id."""
        found, level = {}, Fraction(0)
        for storey in self.storeys:
            found[storey.id] = level
            level += storey.height.mm
        return found

    def level(self, storey: str | None) -> Fraction:
        """The level of a storey; 0 without one.

        Raises
        ------
        Refusal
            When there is none of that id.
        """
        if storey is None:
            return Fraction(0)
        if storey not in self.of:
            raise Refusal(
                "storey", "a known storey", f"There is no storey “{storey}”.", _choices(self.of) or "Add it first."
            )
        return self.of[storey]

    def top(self, storey: str) -> Fraction:
        """The level of what stands on a storey.

        Raises
        ------
        Refusal
            When there is none of that id.
        """
        height = next((one.height.mm for one in self.storeys if one.id == storey), Fraction(0))
        return self.level(storey) + height

    def at(self, level: float) -> str:
        """The id of the storey that a level is in; the first below all of them, empty where there are none."""
        under = [key for key, own in self.of.items() if own <= level + 1]
        return under[-1] if under else next(iter(self.of), "")

    def above(self, level: Fraction, count: int) -> Fraction | None:
        """The level of the storey so many above the one that a level is in; None where there is none."""
        levels = list(self.of.values())
        at = max((index for index, own in enumerate(levels) if own <= level), default=0)
        return levels[at + count] if at + count < len(levels) else None


def _choices(known: Mapping[str, object]) -> str:
    return f"Choose {', '.join(known)}." if known else ""


@dataclass(frozen=True)
class Settled:
    """A site whose walls, plates and roofs say their level and height themselves, and whose placements stand for one
    opening each; ``refused`` are the entries that could not be settled, each with its reason."""

    site: SiteDocument
    refused: tuple[tuple[str, Refusal], ...]


def settled(site: SiteDocument) -> Settled:
    """A site settled; nothing raises. What names a storey that is not there stands at level 0."""
    refused: Refused = []
    levels = Levels(site.storeys)
    walls = tuple(_wall(wall, levels, refused) for wall in site.walls)
    plates = tuple(_raised(plate, "plates", levels, refused) for plate in site.plates)
    roofs = tuple(_raised(roof, "roofs", levels, refused) for roof in site.roofs)
    by_id = {wall.id: wall for wall in walls}
    placements = tuple(
        one
        for placement in _bounded(site.placements, refused)
        for one in _repeated(placement, by_id.get(placement.wall), levels, refused)
    )
    own = {"walls": walls, "plates": plates, "roofs": roofs, "placements": placements}
    changed = {name: entries for name, entries in own.items() if entries != getattr(site, name)}
    return Settled(site.model_copy(update=changed) if changed else site, tuple(refused))


def _bounded(placements: Sequence[Placement], refused: Refused) -> Iterator[Placement]:
    """The placements; one whose repeat would make too many openings stands once."""
    total = 0
    for placement in placements:
        if exceeds(placement, total):
            refused.append((Address("placements") / placement.id, too_many_openings(placement, total)))
            placement = placement.model_copy(update={"repeat": None})
        total += count_of(placement)
        yield placement


def _mm(value: Fraction) -> Length:
    return Length.read(exact(value))


def _wall(wall: Wall, levels: Levels, refused: Refused) -> Wall:
    """A wall whose base is above level 0, and whose height is told."""
    if wall.storey is None and wall.up_to is None:
        return wall
    base, height, place = wall.base.mm, wall.height.mm, Address("walls") / wall.id
    try:
        base += levels.level(wall.storey)
    except Refusal as refusal:
        refused.append((place, refusal))
    if wall.up_to is not None:
        try:
            top = levels.top(wall.up_to)
            if top <= base:
                raise Refusal(
                    "up_to",
                    "a wall with a height",
                    f"The top of “{wall.up_to}” is at {exact_mm(top)} and the wall begins at {exact_mm(base)}.",
                    "Choose a storey above it, or give it a height.",
                )
            height = top - base
        except Refusal as refusal:
            refused.append((place, replace(refusal, entry="up_to")))
    return wall.model_copy(update={"storey": None, "up_to": None, "base": _mm(base), "height": _mm(height)})


Levelled = TypeVar("Levelled", Plate, Roof)


def _raised(one: Levelled, table: str, levels: Levels, refused: Refused) -> Levelled:
    """A plate or roof whose level is above level 0."""
    if one.storey is None:
        return one
    try:
        level = one.level.mm + levels.level(one.storey)
    except Refusal as refusal:
        refused.append((Address(table) / one.id, refusal))
        level = one.level.mm
    return one.model_copy(update={"storey": None, "level": _mm(level)})


def _repeated(placement: Placement, wall: Wall | None, levels: Levels, refused: Refused) -> list[Placement]:
    """Each one of a placement, at its height above the foot of its wall, its recess told by the leaf it is behind."""
    placement = _behind_leaf(placement, wall, refused)
    place, base = Address("placements") / placement.id, wall.base.mm if wall else Fraction(0)
    rise = Fraction(0)
    if placement.storey is not None:
        try:
            rise = levels.level(placement.storey) - base
        except Refusal as refusal:
            refused.append((place, refusal))
    repeat = placement.repeat
    if repeat is None:
        return [placement if not placement.storey else _at(placement, rise)]
    found: list[Placement] = []
    for up in range(repeat.up):
        by = rise
        if up and repeat.rise is not None:
            by += up * repeat.rise.mm
        elif up:
            standing = base + rise + (placement.head or placement.sill).mm
            here, above = levels.above(standing, 0), levels.above(standing, up)
            if above is None or here is None:
                refused.append((place, _no_storey(up)))
                break
            by += above - here
        for along in range(repeat.along):
            found.append(_one(placement, along, len(found), by))
    return found


def _behind_leaf(placement: Placement, wall: Wall | None, refused: Refused) -> Placement:
    """A placement that stands against a leaf of its wall, its recess being the thickness of that."""
    if placement.stands != "behind the leaf" or wall is None:
        return placement
    if not wall.leaves:
        told = f"“{wall.name}” is of one leaf, {exact_mm(wall.outer_leaf)} thick."
        remedy = "Let it be recessed, or put a leaf behind the outer one."
        refused.append((Address("placements") / placement.id, Refusal("stands", "a wall of leaves", told, remedy)))
        return placement.model_copy(update={"stands": "recessed"})
    return placement.model_copy(update={"recess": _mm(wall.inner_leaf if placement.turned else wall.outer_leaf)})


def _no_storey(count: int) -> Refusal:
    return Refusal(
        "repeat.up",
        "a storey for each",
        f"There is no storey for number {count + 1} going up.",
        f"Repeat it {count} times at most, add a storey, or say by what it rises.",
        Fraction(count),
    )


def _one(placement: Placement, along: int, number: int, rise: Fraction) -> Placement:
    """One of a repeat, by its place along the row and its number among all."""
    repeat = placement.repeat
    assert repeat is not None
    units = (placement.unit, *repeat.then)
    turned = {"none": False, "every second": along % 2 == 1, "second half": 2 * along >= repeat.along}[repeat.mirrored]
    own = {"unit": units[along % len(units)], "mirrored": placement.mirrored != turned}
    if number:
        own["id"] = f"{placement.id}{COPY}{number + 1}"
    return _at(placement.model_copy(update=own), rise)


def _at(placement: Placement, rise: Fraction) -> Placement:
    """A placement raised above where it says, its storey being told by that."""
    own: dict[str, object] = {"storey": None, "sill": _mm(placement.sill.mm + rise)}
    if placement.head is not None:
        own["head"] = _mm(placement.head.mm + rise)
    return placement.model_copy(update=own)
