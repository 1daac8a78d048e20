"""Units fitted to openings that are there, and openings made for a unit: told before it is done."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Literal

from ashfell.core.base.address import Address
from ashfell.core.base.document import Data, read
from ashfell.core.base.lengths import exact
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.plane.loop import SIDES
from ashfell.core.site.document.placement import Placement
from ashfell.core.site.opening import Opening, gap_of
from ashfell.core.site.scene import Scene
from ashfell.core.site.variant import variant_of
from ashfell.core.unit.layout import Layout
from ashfell.core.unit.make import made

Way = Literal["unit", "opening"]
"""What gives way: the unit is solved to the opening, or the opening made for the unit."""
Gaps = Mapping[str, str]
"""The clearance on each side, by its name, as it was typed; ``all`` is that of any other."""


@dataclass(frozen=True)
class Fitted:
    """What becomes of an opening: its placement, the size of the opening and of the unit in it, what its lights will
    be, and why it cannot be done."""

    placement: str
    opening: tuple[Fraction, Fraction]
    unit: tuple[Fraction, Fraction] | None = None
    lights: tuple[str, ...] = ()
    refusal: Refusal | None = None


def fitted(
    data: Data, scene: Scene, chosen: Collection[str], unit: str, gaps: Gaps, way: Way
) -> tuple[Data, list[Fitted]]:
    """A unit in some openings, each with what becomes of it. What cannot be done leaves its opening as it is.

    Parameters
    ----------
    data : dict
        The site document as it is kept.
    scene : Scene
        Of that document with its units.
    chosen : collection of str
        The ids of placements; those whose opening is not cut are left out.
    unit : str
        The key of the unit.

    Raises
    ------
    Refusal
        When there is no such unit, or a clearance cannot be read.
    """
    if unit not in scene.document.units:
        raise Refusal("unit", "a known unit", f"There is no unit “{unit}”.", "Choose another.")
    placements, found = [], []
    for entry in data["placements"]:
        opening = scene.openings.get(entry["id"])
        if entry["id"] not in chosen or opening is None:
            placements.append(entry)
            continue
        own = entry | {"unit": unit} | _clearance(gaps)
        size = {"width": exact(opening.width), "height": exact(opening.height)} if way == "unit" else {}
        own |= {"fits": way == "unit", "width": None, "height": None} | size
        told = _told(read(Placement, own), opening, scene, way)
        found.append(told)
        placements.append(entry if told.refusal else own)
    return data | {"placements": placements}, found


def _clearance(gaps: Gaps) -> Data:
    """The gap all round and those of sides that differ."""
    common = gaps.get("all") or "0"
    return {"gap": common, "gaps": {side: gaps[side] for side in SIDES if gaps.get(side) and gaps[side] != common}}


def _told(placement: Placement, opening: Opening, scene: Scene, way: Way) -> Fitted:
    """What becomes of an opening with a placement in it."""
    document = scene.document.units[placement.unit or ""]
    thickness = next(
        (one.host.thickness for one in scene.standing.values() if one.host.id == placement.wall), Fraction(0)
    )
    size = opening.width, opening.height
    try:
        if way == "unit":
            _refuse_no_room(placement, opening)
        layout = made(variant_of(placement, document, thickness).document(document)).layout
    except Refusal as refusal:
        return Fitted(placement.id, size, refusal=_for_opening(refusal, placement, way))
    overall = layout.overall
    if way == "opening":
        size = (
            overall.width + gap_of(placement, "left") + gap_of(placement, "right"),
            overall.height + gap_of(placement, "sill") + gap_of(placement, "head"),
        )
    return Fitted(placement.id, size, (overall.width, overall.height), tuple(_lights(layout)))


def _refuse_no_room(placement: Placement, opening: Opening) -> None:
    """Refuse clearances that leave nothing of an opening."""
    for name, size, sides in (
        ("width", opening.width, ("left", "right")),
        ("height", opening.height, ("sill", "head")),
    ):
        taken = sum((gap_of(placement, side) for side in sides), Fraction(0))
        if taken >= size:
            told = f"Clearances of {exact_mm(taken)} leave nothing of an opening {exact_mm(size)} in {name}."
            raise Refusal("gap", "room for the unit", told, "Make them less.", Fraction(0))


def _for_opening(refusal: Refusal, placement: Placement, way: Way) -> Refusal:
    """A refusal of a unit's size as the size of the opening that would do."""
    sides = {"width": ("left", "right"), "height": ("sill", "head")}.get(refusal.entry)
    if way != "unit" or sides is None or refusal.nearest is None:
        return refusal
    size = refusal.nearest + sum((gap_of(placement, side) for side in sides), Fraction(0))
    return replace(refusal, nearest=size, remedy=f"The opening would have to be {exact_mm(size)} in {refusal.entry}.")


def _lights(layout: Layout) -> list[str]:
    """What the lights of a unit will be, across and up."""
    return [axis.sentence() for axis in (layout.columns, layout.rows) if len(axis.lights) > 1]


def refused_after(before: Scene, after: Scene, told: Mapping[str, Fitted]) -> dict[str, Fitted]:
    """What is to be held back of what was fitted, each with the reason, so that the building refuses no more than it
    did: openings that meet or leave their wall, and where others are refused because of them, all of that wall."""
    known = {place for place, _ in before.refused}
    new = {Address(place).last: refusal for place, refusal in after.refused if place not in known}
    open_still = {key: one for key, one in told.items() if one.refusal is None}
    found = {key: replace(open_still[key], refusal=refusal) for key, refusal in new.items() if key in open_still}
    if found or not new:
        return found
    (refusal, *_), placed = new.values(), after.site.placement_by_id
    walls = {placed[key].wall for key in new if key in placed}
    return {key: replace(one, refusal=refusal) for key, one in open_still.items() if placed[key].wall in walls}
