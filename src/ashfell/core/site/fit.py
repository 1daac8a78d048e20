"""Fitting: whether an opening can be cut into its host, and where there is room for another."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction
from math import floor

import numpy as np

from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.plane.points import TOUCH
from ashfell.core.site.document.placement import Placement
from ashfell.core.site.hosts.host import Host
from ashfell.core.site.opening import Opening, gap_of
from ashfell.core.unit.layout import Rect

ZERO = Fraction(0)
USUAL_SILL = Fraction(900)
"""Where a sill is put when nobody says so, mm."""


def check_opening(host: Host, opening: Opening) -> None:
    """Refuse an opening that leaves its host or cuts into the mitre at one of its ends.

    Raises
    ------
    Refusal
        ``entry`` is the placement's entry to change; ``nearest`` the value of it that would work, if there is one.
    """
    before = behind = above = below = ZERO
    if opening.outline is not None:
        before, behind, above, below = (
            APART if _is_point(opening, side) else ZERO for side in ("left", "right", "head", "sill")
        )
    widest = host.length - before - behind
    if opening.width > widest:
        raise Refusal(
            "width",
            "the opening is within the wall",
            f"The opening is {exact_mm(opening.width)} wide and “{host.name}” only {exact_mm(host.length)} long.",
            f"Make the unit at most {exact_mm(widest)} wide, or the wall longer.",
            widest,
        )
    if opening.x < 0 or opening.right > host.length:
        over = max(-opening.x, opening.right - host.length)
        raise Refusal(
            "offset",
            "the opening is within the wall",
            f"The opening runs from {exact_mm(opening.x)} to {exact_mm(opening.right)} and passes the "
            f"{'start' if opening.x < 0 else 'end'} of “{host.name}” ({exact_mm(host.length)} long) by "
            f"{exact_mm(over)}.",
            f"The offset from the start can be {exact_mm(before)} to {exact_mm(host.length - behind - opening.width)}.",
            min(max(opening.x, before), host.length - behind - opening.width),
        )
    low, high = host.clear
    if not low <= opening.x <= opening.right <= high:
        raise Refusal(
            "offset",
            "the opening is clear of the corner",
            f"The opening runs from {exact_mm(opening.x)} to {exact_mm(opening.right)}; the corners of “{host.name}” "
            "take "
            f"all before {exact_mm(low)} and behind {exact_mm(high)}.",
            f"The offset from the start can be {exact_mm(low)} to {exact_mm(high - opening.width)}.",
            min(max(opening.x, low), high - opening.width),
        )
    if opening.outline is not None:
        _check_points(host, opening)
    if opening.reveal is not None:
        _check_reveal(host, opening)
    _check_heights(host, opening, (below, above))


def _check_heights(host: Host, opening: Opening, margins: tuple[Fraction, Fraction]) -> None:
    """Refuse an opening below the foot of its host or above its top; ``margins`` are what must be left at both, mm."""
    below, above = margins
    if opening.z < 0:
        raise Refusal(
            "sill",
            "the opening is within the wall",
            f"The opening begins {exact_mm(-opening.z)} below the foot of “{host.name}”.",
            f"The sill can be 0 to {exact_mm(max(host.height - opening.height, Fraction(0)))}.",
            Fraction(0),
        )
    room = host.room_above(opening)
    sloping = not host.is_level
    above = APART if sloping else above  # where it met a slope it would meet it in a point
    if room < (above if sloping else 0):
        most = _tidy(opening.z + room - above)
        low_enough = most >= below
        top = _tidy(opening.head + room)
        remedy = f"The sill can be at most {exact_mm(most)}." if low_enough else _lower(top - above - below)
        raise Refusal(
            "sill" if low_enough else "height",
            "the opening is within the wall",
            f"The head of the opening is at {exact_mm(opening.head)}, above the top of “{host.name}” at "
            f"{exact_mm(top)}.",
            remedy,
            most if low_enough else top - above - below,
        )


def _check_reveal(host: Host, opening: Opening) -> None:
    """Refuse a reveal that reaches out of its host, or an edge of it."""
    left, foot, right, head = opening.reach.bounds
    low, high = (float(end) for end in host.clear)
    own = opening.polygon.bounds
    room = min(own[0] - low, high - own[2], own[1], float(host.room_above(opening)))
    wide = max(own[0] - left, right - own[2], own[1] - foot, head - own[3])
    holds = host.covers(opening.reach)
    if wide <= 0 or (room >= wide + 1 and holds):
        return
    if opening.leans:
        raise Refusal(
            "reveal",
            "roof beside the reveal",
            f"The reveal goes {wide:.6g} mm beyond the opening and only {room:.6g} mm of “{host.name}” are there.",
            "Make the reveal square, or place the opening further from the edge.",
        )
    most = Fraction(max(floor(room) - 1, 0) if holds else 0)
    raise Refusal(
        "splay",
        "wall beside the reveal",
        f"The reveal widens by {wide:.6g} mm and only {room:.6g} mm of “{host.name}” are beside the opening.",
        f"Make the splay at most {exact_mm(most)}, also on sides of its own.",
        most,
    )


def _tidy(value: Fraction) -> Fraction:
    """A height under a sloping top, to a hundredth of a millimetre below it."""
    return value if value.denominator <= 1000 else Fraction(floor(value * 100), 100)


def _is_point(opening: Opening, side: str) -> bool:
    """Whether an opening's outline ends in a single point on a side: ``left``, ``right``, ``sill`` or ``head``."""
    if opening.outline is None:
        return False
    places = opening.points[:, 0 if side in ("left", "right") else 1]
    edge = places.min() if side in ("left", "sill") else places.max()
    return bool((np.abs(places - edge) < TOUCH).sum() == 1)


def _check_points(host: Host, opening: Opening) -> None:
    """Refuse an outline that meets an edge of its host in a single point: the wall would have no thickness there."""
    for side, met, entry, nearest, words in (
        ("left", opening.x == 0, "offset", opening.x + APART, "start"),
        ("right", opening.right == host.length, "offset", opening.x - APART, "end"),
        ("sill", opening.z == 0, "sill", opening.z + APART, "foot"),
        ("head", opening.head == host.height, "sill", opening.z - APART, "top"),
    ):
        if met and _is_point(opening, side):
            raise Refusal(
                entry,
                "wall beside a point",
                f"The opening meets the {words} of “{host.name}” in a point, where no wall would be left.",
                f"Make the {entry} {exact_mm(nearest)}.",
                nearest,
            )


def as_measured(refusal: Refusal, placement: Placement, opening: Opening) -> Refusal:
    """The refusal of an opening as its placement would mend it: its offset from where that is measured, its head where
    that counts, and its own size less its gaps."""
    nearest = refusal.nearest
    if nearest is None:
        return refusal
    if refusal.entry == "offset":
        if placement.measured == "equal":
            told = "Measure it from an end, or repeat it less often."
            return replace(refusal, entry="measured", nearest=None, remedy=told)
        way = -1 if placement.measured == "end" else 1
        value = placement.offset.mm + way * (nearest - opening.x)
        return replace(refusal, nearest=value, remedy=f"Make the offset {exact_mm(value)}.")
    if refusal.entry == "sill" and placement.head:
        value = nearest + opening.height
        return replace(refusal, entry="head", nearest=value, remedy=f"Make the head {exact_mm(value)}.")
    if refusal.entry in ("width", "height"):
        name, sides = refusal.entry, ("left", "right") if refusal.entry == "width" else ("sill", "head")
        kept = placement.unit is None or placement.fits
        value = nearest if kept else nearest - sum(gap_of(placement, side) for side in sides)
        return replace(refusal, nearest=value, remedy=f"Make its {name} at most {exact_mm(value)}.")
    return refusal


def as_entered(refusal: Refusal, placement: Placement, entry: Placement) -> Refusal:
    """The refusal of one of an entry's placements as the entry would mend it: its sill from the level that the entry
    measures it from; fewer rows where one above the first does not fit."""
    if refusal.entry not in ("sill", "head", "height") or refusal.nearest is None:
        return refusal
    row = placement.number // entry.repeat.along if entry.repeat else 0
    if row:
        told = f"Repeat it {row} time{'s' if row > 1 else ''} up at most."
        return replace(refusal, entry="repeat.up", nearest=Fraction(row), remedy=told)
    rise = placement.sill.mm - entry.sill.mm
    if not rise or refusal.entry == "height":
        return refusal
    value = refusal.nearest - rise
    if value < 0 and refusal.entry == "sill":
        told = f"Choose another storey, or the foot of the wall, for a sill of {exact_mm(refusal.nearest)}."
        return replace(refusal, entry="storey", nearest=None, remedy=told)
    return replace(refusal, nearest=value, remedy=f"Make the {refusal.entry} {exact_mm(value)}.")


def _lower(highest: Fraction) -> str:
    return f"Make the unit at most {exact_mm(highest)} high."


def fit_openings(host: Host, wanted: Sequence[Opening]) -> tuple[list[Opening], list[tuple[str, Refusal]]]:
    """The openings that can be cut, and for the others the placement with the reason.

    An opening that overlaps one before it (from the start of the host), or meets it in a point, is refused; it is told
    the nearest place along the host where there is room beside those that are cut.
    """
    good: list[Opening] = []
    bad: list[tuple[str, Refusal]] = []
    met: list[tuple[Opening, Opening]] = []
    near: list[Opening] = []
    widening = 2 * max((one.widening for one in wanted), default=Fraction(0))
    for opening in sorted(wanted, key=lambda item: (item.x, item.z)):
        try:
            check_opening(host, opening)
        except Refusal as refusal:
            bad.append((opening.placement, refusal))
            continue
        near = [other for other in near if other.right + widening >= opening.x]
        other = next((one for one in near if opening.overlaps(one) or opening.meets_in_a_point(one)), None)
        if other is not None:
            met.append((opening, other))
            continue
        good.append(opening)
        near.append(opening)
    far = [(one.placement, _in_the_way(host, one, other, None)) for one, other in met[NEAREST_TOLD:]]
    return good, [
        *bad,
        *((one.placement, _in_the_way(host, one, other, good)) for one, other in met[:NEAREST_TOLD]),
        *far,
    ]


NEAREST_TOLD = 100
"""Of how many openings of a host that others are in the way of it is told where there is room."""


def _in_the_way(host: Host, opening: Opening, other: Opening, good: Sequence[Opening] | None) -> Refusal:
    """The refusal of an opening that another is in the way of; where there is room is only told where it is known
    which openings are ``good``."""
    place = _nearest_place(host, opening, good) if good is not None else None
    shared = min(other.right, opening.right) - opening.x
    told = f"by {exact_mm(shared)} along the wall" if opening.overlaps(other) else "in a point"
    return Refusal(
        "offset",
        "openings stay apart",
        f"The opening meets that of “{other.placement}” {told}.",
        "Make it narrower, or place it in another wall." if place is None else f"Start it at {exact_mm(place)}.",
        place,
    )


APART = Fraction(1)
"""How far from each other openings are put that would meet, mm."""


def _nearest_place(host: Host, opening: Opening, good: Sequence[Opening]) -> Fraction | None:
    """Where along its host an opening of this size has room at its height beside those that are cut, the place nearest
    to where it was asked for; None where there is none. ``good`` are sorted from the start."""
    low, high = host.clear
    wide = opening.widening
    level = [
        one
        for one in good
        if one.z - one.widening - wide <= opening.head and opening.z - one.widening - wide <= one.head
    ]
    places = (_first_free(opening, level, way) for way in (1, -1))
    fitting = [place for place in places if low <= place <= high - opening.width]
    return min(fitting, key=lambda place: abs(place - opening.x), default=None)


def _first_free(opening: Opening, level: Sequence[Opening], way: int) -> Fraction:
    """The first place along one ``way``, 1 or -1, where an opening is apart from those at its height."""
    place = opening.x
    for one in level if way > 0 else sorted(level, key=lambda one: one.right, reverse=True):
        apart = APART + one.widening + opening.widening
        if one.x - apart < place + opening.width and place < one.right + apart:
            place = one.right + apart if way > 0 else one.x - apart - opening.width
    return place


def free_place(host: Host, size: Rect, taken: Sequence[Opening]) -> tuple[Fraction, Fraction]:
    """Where a unit of a size can stand in a host beside the openings there: offset from the start and sill, mm.

    The middle of the host if that is free, else the middle of the widest free stretch; the sill is the usual one, or
    lower if the head would not fit.

    Raises
    ------
    Refusal
        When no stretch is wide enough or the host is too low.
    """
    sill = min(USUAL_SILL, host.height - size.height)
    low, high = host.clear
    start = low if low + size.width <= high else Fraction(0)
    check_opening(host, Opening("", start, max(sill, Fraction(0)), size.width, size.height))
    edges = [low, *(edge for opening in sorted(taken, key=lambda o: o.x) for edge in (opening.x, opening.right)), high]
    stretches = list(zip(edges[::2], edges[1::2], strict=True))
    middle = (host.length - size.width) / 2
    if any(start <= middle and middle + size.width <= end for start, end in stretches):
        return middle, sill
    start, end = max(stretches, key=lambda stretch: stretch[1] - stretch[0])
    if end - start < size.width:
        raise Refusal(
            "unit",
            "room in the wall",
            f"The widest free stretch of “{host.name}” is {exact_mm(end - start)}; the unit is {exact_mm(size.width)} "
            "wide.",
            "Make the unit narrower, or place it in another wall.",
            end - start,
        )
    return (start + end - size.width) / 2, sill
