"""Sections of one's own, laid into the members they are drawn for."""

from __future__ import annotations

from dataclasses import replace

from shapely.geometry import Polygon

from ashfell.core.refusal import Refusal
from ashfell.core.section import OwnSection, fills, fitted, own_points, without
from ashfell.core.solid import Section
from ashfell.core.spacing import exact_mm
from ashfell.core.unit.layout import BarRun

LEAST_STOP = 1.0
"""What a bar must have before and behind its stop over its whole width there, mm."""


def own_section(section: OwnSection | None, entry: str, proud: bool = False) -> Section | None:
    """A drawn section as points (inwards from the outer edge, w from the face), mm; only trim and rings may stand ``proud``
    of their face.

    Raises
    ------
    Refusal
        When it crosses itself or goes beyond the edge or the face.
    """
    if section is None:
        return None
    points = own_points(section, entry)
    before, above = min(x for x, _ in points), max(w for _, w in points)
    if before < -1e-9:
        raise Refusal(
            entry, "a section inwards from the edge", f"The section goes {-before:g} mm beyond its member's outer edge.",
            "Begin it at x = 0 or farther in.",
        )  # fmt: skip
    if above > 1e-9 and not proud:
        raise Refusal(
            entry, "a section behind its face", f"The section stands {above:g} mm before its member's face.", "Keep y at 0 or below.",
        )  # fmt: skip
    return points


def fitted_section(section: Section, face: float, depth: float, entry: str) -> Section:
    """A drawn section laid into a member.

    Raises
    ------
    Refusal
        When it does not go into that face and depth.
    """
    placed = fitted(section, face, depth)
    within = all(x <= face + 1e-6 and w >= -depth - 1e-6 for x, w in placed)
    if not within or not Polygon(placed).is_valid:
        width, deep = max(x for x, _ in section), -min(w for _, w in section)
        raise Refusal(
            entry, "a section that fits its member",
            f"Drawn {width:g} by {deep:g} mm, the section does not go into a member {face:g} wide and {depth:g} deep.",
            "Draw it smaller, or make the member larger.",
        )  # fmt: skip
    return placed


def with_own_section(bar: BarRun, section: OwnSection | None, entry: str) -> BarRun:
    """A bar with a section of one's own, fitted to its face and depth.

    Raises
    ------
    Refusal
        When it leaves no stop before the glass, or is not whole behind it.
    """
    drawn = own_section(section, entry)
    if drawn is None:
        return bar
    face, front, back = float(bar.face), -float(bar.front), -float(bar.back)
    whole = fitted_section(drawn, face, front - back, entry)
    placed = tuple((x - face / 2, w + front) for x, w in whole)
    if bar.rebate:
        stop, half, stem = -float(bar.stop), face / 2, float(bar.face / 2 - bar.rebate)
        holds = fills(placed, -half, stop, half, stop + LEAST_STOP) and fills(
            placed, -stem, stop - LEAST_STOP, stem, stop
        )
        if not holds or len(without(placed, -half - 1, half + 1, stop)) != 1 or not _is_whole(placed, stem, stop):
            raise Refusal(
                entry, "a stop before the glass, a stem behind it",
                f"{front - stop:g} mm behind its face the section must be whole over {face:g} mm, and behind that over {2 * stem:g} mm between rebates of {exact_mm(bar.rebate)}.",
                "Keep grooves away from there, or set the glass back farther.",
            )  # fmt: skip
    return replace(bar, section=placed)


def _is_whole(section: Section, stem: float, stop: float) -> bool:
    """Whether what is left between the rebates is one piece, before the stop and behind it."""
    return all(
        len(without(turned, -stem, stem, level)) == 1
        for turned, level in ((section, stop), (tuple((-x, -w) for x, w in section), -stop))
    )
