"""Fitting: whether an opening can be cut into its host, and where there is room for another."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction

from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.site.hosts.host import Host
from ashfell.core.site.opening import Opening
from ashfell.core.unit.layout import Rect

USUAL_SILL = Fraction(900)
"""Where a sill is put when nobody says so, mm."""


def check_opening(host: Host, opening: Opening) -> None:
    """Refuse an opening that leaves its host or cuts into the mitre at one of its ends.

    Raises
    ------
    Refusal
        ``entry`` is the placement's entry to change; ``nearest`` the value of it that would work, if there is one.
    """
    if opening.width > host.length:
        raise Refusal(
            "unit",
            "the opening is within the wall",
            f"The opening is {exact_mm(opening.width)} wide and “{host.name}” only {exact_mm(host.length)} long.",
            f"Make the unit at most {exact_mm(host.length)} wide, or the wall longer.",
            host.length,
        )
    if opening.x < 0 or opening.right > host.length:
        over = max(-opening.x, opening.right - host.length)
        raise Refusal(
            "offset",
            "the opening is within the wall",
            f"The opening runs from {exact_mm(opening.x)} to {exact_mm(opening.right)} and passes the "
            f"{'start' if opening.x < 0 else 'end'} of “{host.name}” ({exact_mm(host.length)} long) by "
            f"{exact_mm(over)}.",
            f"The offset from the start can be 0 to {exact_mm(host.length - opening.width)}.",
            min(max(opening.x, Fraction(0)), host.length - opening.width),
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
    if opening.head > host.height:
        most = host.height - opening.height
        low_enough = most >= 0
        remedy = f"The sill can be at most {exact_mm(most)}." if low_enough else _lower(host)
        raise Refusal(
            "sill" if low_enough else "unit",
            "the opening is within the wall",
            f"The head of the opening is at {exact_mm(opening.head)}, above the top of “{host.name}” at "
            f"{exact_mm(host.height)}.",
            remedy,
            most if low_enough else host.height,
        )


def _lower(host: Host) -> str:
    return f"Make the unit at most {exact_mm(host.height)} high."


def fit_openings(host: Host, wanted: Sequence[Opening]) -> tuple[list[Opening], list[tuple[str, Refusal]]]:
    """The openings that can be cut, and for the others the placement with the reason.

    An opening that overlaps one before it (from the start of the host) is refused.
    """
    good: list[Opening] = []
    bad: list[tuple[str, Refusal]] = []
    near: list[Opening] = []
    for opening in sorted(wanted, key=lambda item: (item.x, item.z)):
        try:
            check_opening(host, opening)
            near = [other for other in near if other.right > opening.x]
            for other in near:
                _refuse_overlap(opening, other)
        except Refusal as refusal:
            bad.append((opening.placement, refusal))
            continue
        good.append(opening)
        near.append(opening)
    return good, bad


def _refuse_overlap(opening: Opening, other: Opening) -> None:
    if opening.overlaps(other):
        shared = min(other.right, opening.right) - opening.x
        raise Refusal(
            "offset",
            "openings stay apart",
            f"The opening overlaps that of “{other.placement}” by {exact_mm(shared)} along the wall.",
            f"Start it at {exact_mm(other.right)} or farther.",
            other.right,
        )


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
