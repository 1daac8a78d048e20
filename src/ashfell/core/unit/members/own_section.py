"""Sections of one's own, laid into the members they are drawn for."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from typing import Protocol

from shapely.geometry import Polygon

from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.solid.section import SQUARE, Edge, OwnSection, fills, fitted, own_points, without
from ashfell.core.solid.sweep import Section
from ashfell.core.unit.layout import BarRun, Ring
from ashfell.core.unit.seat import Seat

LEAST_WEB = Fraction(4)
"""What must remain of a member beside or between its rebates, mm."""


LEAST_STOP = Fraction(1)
"""What must remain of a stop or a bead behind its worked edge, mm."""


class _Edged(Protocol):
    @property
    def edge(self) -> Edge: ...

    @property
    def section(self) -> OwnSection | None: ...


def worked(member: _Edged) -> Edge:
    """How the edges of a member are worked: not at all where a section of its own takes their place."""
    return member.edge if member.section is None else SQUARE


def own_section(section: OwnSection | None, entry: str, proud: bool = False) -> Section | None:
    """A drawn section as points (inwards from the outer edge, w from the face), mm; only trim and rings may stand
    ``proud`` of their face.

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
            entry,
            "a section inwards from the edge",
            f"The section goes {-before:g} mm beyond its member's outer edge.",
            "Begin it at x = 0 or farther in, or leave it out.",
        )
    if above > 1e-9 and not proud:
        raise Refusal(
            entry,
            "a section behind its face",
            f"The section stands {above:g} mm before its member's face.",
            "Keep y at 0 or below, or leave it out.",
        )
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
            entry,
            "a section that fits its member",
            f"Drawn {width:g} by {deep:g} mm, the section does not go into a member {face:g} wide and {depth:g} deep.",
            "Draw it smaller, or make the member larger.",
        )
    return placed


def check_rebated(ring: Ring, seat: Seat, face: Fraction) -> None:
    """Refuse an own section without a stop before the glass over the whole rebate, or a web beside it."""
    entry, depth = f"{ring.entry}.section", ring.back - ring.front
    section = fitted_section(ring.section or (), float(face), float(depth), entry)
    stop, inner = float(ring.front - seat.stop_back), float(face - seat.rebate)
    if not seat.stopless and not fills(section, inner, stop, float(face), stop + float(LEAST_STOP)):
        raise Refusal(
            entry,
            "a stop before the glass",
            f"The section leaves no stop {exact_mm(LEAST_STOP)} thick before the glass, from {inner:g} to "
            f"{float(face):g} mm across, {-stop:g} mm behind the face.",
            "Let it fill the inner edge down to there, or set the glass back farther.",
        )
    web = inner - float(LEAST_WEB)
    whole = seat.stopless or fills(section, web, -float(depth), inner, stop)
    if not whole or len(without(section, -1.0, inner, stop)) != 1:
        raise Refusal(
            entry,
            "a web beside the rebate",
            f"Beside a rebate of {exact_mm(seat.rebate)} the section must be whole from {web:g} to {inner:g} mm "
            "across.",
            "Keep grooves away from there, or leave it out.",
        )


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
    face, front, back = float(without_stop(bar).face), -float(bar.front), -float(bar.back)
    whole = fitted_section(drawn, face, front - back, entry)
    placed = tuple((x - face / 2, w + front) for x, w in whole)
    if without_stop(bar).rebate:
        least, stop, half, stem = float(LEAST_STOP), -float(bar.stop), face / 2, float(bar.face / 2 - bar.rebate)
        holds = fills(placed, -half, stop, half, stop + least) and fills(placed, -stem, stop - least, stem, stop)
        if not holds or len(without(placed, -half - 1, half + 1, stop)) != 1 or not _is_whole(placed, stem, stop):
            raise Refusal(
                entry,
                "a stop before the glass, a stem behind it",
                f"{front - stop:g} mm behind its face the section must be whole over {face:g} mm, and behind that "
                f"over {2 * stem:g} mm between rebates of {exact_mm(bar.rebate)}.",
                "Keep grooves away from there, or set the glass back farther.",
            )
    return replace(bar, section=placed, edge=SQUARE)


def without_stop(bar: BarRun) -> BarRun:
    """A bar as it is made: where no stop stands before its rebates it is plain, as narrow as its stem, and goes on to
    the bottom of the rebates that it ends in."""
    if not bar.rebate or bar.stop > bar.front:
        return bar
    nothing = Fraction(0)
    return replace(
        bar,
        face=bar.face - 2 * bar.rebate,
        start=bar.start - bar.tongue_start,
        end=bar.end + bar.tongue_end,
        tongue_start=nothing,
        tongue_end=nothing,
        rebate=nothing,
    )


def _is_whole(section: Section, stem: float, stop: float) -> bool:
    """Whether what is left between the rebates is one piece, before the stop and behind it."""
    return all(
        len(without(turned, -stem, stem, level)) == 1
        for turned, level in ((section, stop), (tuple((-x, -w) for x, w in section), -stop))
    )
