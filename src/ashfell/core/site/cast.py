"""The cast of a site: every unit as placements ask for it, made once for all that ask for the same."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ashfell.core.base.address import Address
from ashfell.core.base.refusal import Refusal
from ashfell.core.site.document.placement import Placement
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.variant import Variant, variant_of
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.make import Unit, made


@dataclass(frozen=True, eq=False)
class Cast:
    """The units of a site as they are asked for: each once by a name of its own, and which of them a placement is.
    ``without_size`` are the placements whose unit is missing and that say nothing of their size."""

    by_name: dict[str, Unit]
    name_of: dict[str, str]
    without_size: frozenset[str]


def cast_of(site: SiteDocument) -> tuple[Cast, list[tuple[str, Refusal]]]:
    """Every unit that is placed, made once for all that ask for the same; and what is missing or cannot be built."""
    names: dict[Variant, str] = {}
    by_name: dict[str, Unit] = {}
    name_of: dict[str, str] = {}
    without, refused = [], []
    failed: dict[Variant, Refusal] = {}
    for placement in site.placements:
        if placement.unit is None:
            continue
        document, wall = site.units.get(placement.unit), site.wall(placement.wall)
        try:
            if document is None:
                raise Refusal("unit", "a known unit", f"There is no unit “{placement.unit}”.", "Choose another.")
            variant = variant_of(placement, document, wall.thickness.mm if wall else document.frame.depth.mm)
            if variant in failed:
                raise failed[variant]
            if variant not in names:
                by_name[name := _fresh_name(variant, by_name)] = _made(variant, document, failed)
                names[variant] = name
            name_of[placement.id] = names[variant]
        except Refusal as refusal:
            refused.append((_blamed(placement, refusal), refusal))
            if placement.width is None or placement.height is None:
                without.append(placement.id)
    return Cast(by_name, name_of, frozenset(without)), [*dict(refused).items()]


def _fresh_name(variant: Variant, taken: Mapping[str, Unit]) -> str:
    """What a variant is called: its unit's key, with a number where others are made of that."""
    if variant.is_plain:
        return variant.unit
    return next(name for n in range(2, len(taken) + 3) if (name := f"{variant.unit}~{n}") not in taken)


def _made(variant: Variant, document: UnitDocument, failed: dict[Variant, Refusal]) -> Unit:
    try:
        return made(variant.document(document))
    except Refusal as refusal:
        failed[variant] = refusal
        raise


def _blamed(placement: Placement, refusal: Refusal) -> str:
    """The address that a refusal of a unit is told at: the unit's own, or the placement that asks for a size of its
    own."""
    plain = placement.width is None and placement.height is None
    return Address("units") / (placement.unit or "") if plain else Address("placements") / placement.id
