"""The cast of a site: every unit as placements ask for it, made once for all that ask for the same."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction

from ashfell.core.base.address import Address
from ashfell.core.base.refusal import Refusal
from ashfell.core.site.budget import Spent
from ashfell.core.site.document.placement import Placement
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.posts import posts_of
from ashfell.core.site.variant import Variant, variant_of
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.layout import Layout
from ashfell.core.unit.make import TooManyPieces, Unit, made


@dataclass(frozen=True, eq=False)
class Cast:
    """The units of a site as they are asked for: each once by a name of its own, and which of them a placement is.
    ``without_size`` are the placements whose unit is missing and that say nothing of their size."""

    by_name: dict[str, Unit]
    name_of: dict[str, str]
    without_size: frozenset[str]


def cast_of(site: SiteDocument) -> tuple[Cast, list[tuple[str, Refusal]]]:
    """Every unit that is placed, made once for all that ask for the same; and what is missing or cannot be built."""
    casting = _Casting(site)
    for placement in site.placements:
        if placement.unit is not None:
            casting.take(placement)
    for placement, posts in posts_of(site, casting.layouts):
        casting.take(placement, posts)
    return Cast(casting.by_name, casting.name_of, frozenset(casting.without)), [*dict(casting.refused).items()]


class _Casting:
    """A cast as it is being made."""

    def __init__(self, site: SiteDocument) -> None:
        self.site = site
        self.by_name: dict[str, Unit] = {}
        self.name_of: dict[str, str] = {}
        self.without: list[str] = []
        self.refused: list[tuple[str, Refusal]] = []
        self._names: dict[Variant, str] = {}
        self._failed: dict[Variant, Refusal] = {}
        self._spent = Spent()

    @property
    def layouts(self) -> dict[str, Layout]:
        """The layout of each placement whose unit could be made, by its id."""
        return {key: self.by_name[name].layout for key, name in self.name_of.items()}

    def take(self, placement: Placement, posts: tuple[Fraction, ...] = ()) -> None:
        """The unit of a placement, its posts at some places."""
        unit, wall = placement.unit or "", self.site.wall(placement.wall)
        document = self.site.units.get(unit)
        try:
            if document is None:
                raise Refusal("unit", "a known unit", f"There is no unit “{unit}”.", "Choose another.")
            variant = variant_of(placement, document, wall.thickness.mm if wall else document.frame.depth.mm, posts)
            if variant in self._failed:
                raise self._failed[variant]
            if variant not in self._names:
                self.by_name[name := _fresh_name(variant, self.by_name)] = self._made(variant, document)
                self._names[variant] = name
            self.name_of[placement.id] = self._names[variant]
        except Refusal as refusal:
            told = _with_posts(refusal) if posts else refusal
            place = Address("placements") / placement.id if posts else _blamed(placement, refusal)
            self.refused.append((place, told))
            if placement.width is None or placement.height is None:
                self.without.append(placement.id)

    def _made(self, variant: Variant, document: UnitDocument) -> Unit:
        left = self._spent.left
        if not left:
            raise self._spent.refused()
        try:
            unit = made(variant.document(document), left)
            if unit.layout.pieces > left:  # made before, where there was room for it
                raise TooManyPieces
        except TooManyPieces:
            refusal = self._failed[variant] = self._spent.refused()
            raise refusal from None
        except Refusal as refusal:
            self._failed[variant] = refusal
            self._spent.spend()
            raise
        self._spent.spend(max(unit.layout.pieces, len(unit.parts) // 2))
        return unit


def _with_posts(refusal: Refusal) -> Refusal:
    """The refusal of a unit that its posts on folds make impossible: its document says nothing of them."""
    if refusal.entry == "posts":
        return refusal
    remedy = "Move it along the wall, or leave its bars as they are drawn."
    return Refusal("posts", refusal.rule, f"With a post on each fold: {refusal.message}", remedy)


def _fresh_name(variant: Variant, taken: Mapping[str, Unit]) -> str:
    """What a variant is called: its unit's key, with a number where others are made of that."""
    if variant.is_plain:
        return variant.unit
    return next(name for n in range(2, len(taken) + 3) if (name := f"{variant.unit}~{n}") not in taken)


def _blamed(placement: Placement, refusal: Refusal) -> str:
    """The address that a refusal of a unit is told at: the unit's own, or the placement that asks for a size of its
    own."""
    plain = placement.width is None and placement.height is None
    return Address("units") / (placement.unit or "") if plain else Address("placements") / placement.id
