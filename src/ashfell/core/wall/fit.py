"""Openings: where a placement cuts its wall, and whether that can be."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.wall.chain import SQUARE_ENDS, Ends
from ashfell.core.wall.document import Placement, Wall


@dataclass(frozen=True)
class Opening:
    """A rectangular hole through a wall, in the wall's own plane: x along it from its start, z up from its foot, mm."""

    placement: str
    x: Fraction
    z: Fraction
    width: Fraction
    height: Fraction

    @property
    def right(self) -> Fraction:
        return self.x + self.width

    @property
    def head(self) -> Fraction:
        return self.z + self.height

    def overlaps(self, other: Opening) -> bool:
        """Whether the two share area (touching edges do not)."""
        return self.x < other.right and other.x < self.right and self.z < other.head and other.z < self.head


def opening_of(wall: Wall, placement: Placement, unit: UnitDocument) -> Opening:
    """The opening a placement asks for, whether or not it fits."""
    gap = placement.gap.mm
    width, height = unit.width.mm + 2 * gap, unit.height.mm + 2 * gap
    if placement.measured == "start":
        x = placement.offset.mm
    elif placement.measured == "end":
        x = wall.length.mm - placement.offset.mm - width
    else:
        x = (wall.length.mm - width) / 2 + placement.offset.mm
    return Opening(placement.id, x, placement.sill.mm, width, height)


def check_opening(wall: Wall, opening: Opening, ends: Ends = SQUARE_ENDS) -> None:
    """Refuse an opening that leaves its wall or cuts into the mitre at one of its ends.

    Raises
    ------
    Refusal
        ``entry`` is the placement's entry to change; ``nearest`` the value of it that would work, if there is one.
    """
    if opening.width > wall.length.mm:
        raise Refusal(
            "unit", "the opening is within the wall",
            f"The opening is {exact_mm(opening.width)} wide and “{wall.name}” only {exact_mm(wall.length.mm)} long.",
            f"Make the unit at most {exact_mm(wall.length.mm)} wide, or the wall longer.", wall.length.mm,
        )  # fmt: skip
    if opening.x < 0 or opening.right > wall.length.mm:
        over = max(-opening.x, opening.right - wall.length.mm)
        raise Refusal(
            "offset", "the opening is within the wall",
            f"The opening runs from {exact_mm(opening.x)} to {exact_mm(opening.right)} and passes the "
            f"{'start' if opening.x < 0 else 'end'} of “{wall.name}” ({exact_mm(wall.length.mm)} long) by {exact_mm(over)}.",
            f"The offset from the start can be 0 to {exact_mm(wall.length.mm - opening.width)}.",
            min(max(opening.x, Fraction(0)), wall.length.mm - opening.width),
        )  # fmt: skip
    low, high = _clear_of_mitres(wall, ends)
    if not low <= opening.x <= opening.right <= high:
        raise Refusal(
            "offset", "the opening is clear of the corner",
            f"The opening runs from {exact_mm(opening.x)} to {exact_mm(opening.right)}; the corners of “{wall.name}” take "
            f"all before {exact_mm(low)} and behind {exact_mm(high)}.",
            f"The offset from the start can be {exact_mm(low)} to {exact_mm(high - opening.width)}.",
            min(max(opening.x, low), high - opening.width),
        )  # fmt: skip
    if opening.head > wall.height.mm:
        most = wall.height.mm - opening.height
        remedy = (
            f"The sill can be at most {exact_mm(most)}."
            if most >= 0
            else f"Make the unit at most {exact_mm(wall.height.mm)} high."
        )
        raise Refusal(
            "sill" if most >= 0 else "unit", "the opening is within the wall",
            f"The head of the opening is at {exact_mm(opening.head)}, above the top of “{wall.name}” at "
            f"{exact_mm(wall.height.mm)}.",
            remedy, most if most >= 0 else wall.height.mm,
        )  # fmt: skip


def _clear_of_mitres(wall: Wall, ends: Ends) -> tuple[Fraction, Fraction]:
    """From where to where the wall has its full thickness, mm."""
    thickness, length = float(wall.thickness.mm), wall.length.mm
    low, high = (Fraction(round(max(0.0, slope) * thickness * 100), 100) for slope in (ends.start, ends.end))
    return low, length - high


def fit_openings(
    wall: Wall, wanted: Sequence[Opening], ends: Ends = SQUARE_ENDS
) -> tuple[list[Opening], list[tuple[str, Refusal]]]:
    """The openings that can be cut, and for the others the placement with the reason.

    An opening that overlaps one before it (from the start of the wall) is refused.
    """
    good: list[Opening] = []
    bad: list[tuple[str, Refusal]] = []
    near: list[Opening] = []
    for opening in sorted(wanted, key=lambda item: (item.x, item.z)):
        try:
            check_opening(wall, opening, ends)
            near = [other for other in near if other.right > opening.x]
            for other in near:
                _refuse_overlap(opening, other)
        except Refusal as refusal:
            bad.append((opening.placement, refusal))
            continue
        good.append(opening)
        near.append(opening)
    return good, bad


USUAL_SILL = Fraction(900)
"""Where a sill is put when nobody says so, mm."""


def free_place(
    wall: Wall, unit: UnitDocument, taken: Sequence[Opening], ends: Ends = SQUARE_ENDS
) -> tuple[Fraction, Fraction]:
    """Where a unit can stand in a wall beside the openings there: offset from the start and sill, mm.

    The middle of the wall if that is free, else the middle of the widest free stretch; the sill is the usual one, or
    lower if the head would not fit.

    Raises
    ------
    Refusal
        When no stretch is wide enough or the wall is too low.
    """
    sill = min(USUAL_SILL, wall.height.mm - unit.height.mm)
    check_opening(wall, Opening("", Fraction(0), max(sill, Fraction(0)), unit.width.mm, unit.height.mm))
    low, high = _clear_of_mitres(wall, ends)
    edges = [low, *(edge for opening in sorted(taken, key=lambda o: o.x) for edge in (opening.x, opening.right)), high]
    stretches = list(zip(edges[::2], edges[1::2], strict=True))
    middle = (wall.length.mm - unit.width.mm) / 2
    if any(start <= middle and middle + unit.width.mm <= end for start, end in stretches):
        return middle, sill
    start, end = max(stretches, key=lambda stretch: stretch[1] - stretch[0])
    if end - start < unit.width.mm:
        raise Refusal(
            "unit", "room in the wall",
            f"The widest free stretch of “{wall.name}” is {exact_mm(end - start)}; the unit is {exact_mm(unit.width.mm)} wide.",
            "Make the unit narrower, or place it in another wall.", end - start,
        )  # fmt: skip
    return (start + end - unit.width.mm) / 2, sill


def _refuse_overlap(opening: Opening, other: Opening) -> None:
    if opening.overlaps(other):
        shared = min(other.right, opening.right) - opening.x
        raise Refusal(
            "offset", "openings stay apart",
            f"The opening overlaps that of “{other.placement}” by {exact_mm(shared)} along the wall.",
            f"Start it at {exact_mm(other.right)} or farther.", other.right,
        )  # fmt: skip
