"""What closes a light against a strip of its reveal: how deep it lies in the frame, what is clear round it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import ClassVar, Literal

import numpy as np

from ashfell.core.base.document import Gap, Size, mm
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.fillings.sashes import Sashes, named_after_place
from ashfell.core.kinds.roles import Finishes
from ashfell.core.parts import Member
from ashfell.core.plane.inset import too_far
from ashfell.core.plane.loop import Loop
from ashfell.core.unit.layout import Content, Light, Rect
from ashfell.core.unit.members.faces import side_faces
from ashfell.core.unit.members.own_section import worked
from ashfell.core.unit.members.ring import strips

LEAST_STOP = Fraction(2)
"""The thinnest strip a sash can close against, mm."""
LEAST_STRIP = 1.0
"""A strip thinner than this is left out, mm."""


class Closing(Sashes):
    """What opens ``out`` or ``in`` and closes against a strip ``stop`` wide, planted ``stop_depth`` deep (null: as deep
    as the frame is behind it); ``foot`` is what is clear under it (null: its ``clearance``)."""

    swing: Literal["out", "in"] = "out"
    stop: Gap = mm("10")
    stop_depth: Size | None = None
    foot: Gap | None = None
    has_foot_stop: ClassVar[bool] = True

    @property
    def swings_in(self) -> bool:
        """Whether it opens inwards."""
        return self.swing == "in"

    @property
    def stopped(self) -> bool:
        """Whether it closes against a strip at all."""
        return True


@dataclass(frozen=True, eq=False)
class Closed(Content):
    """Sashes, and from where to where the strip is that they close against, as w, mm; None where there is none."""

    strip: tuple[float, float] | None = None


def within_clearance(light: Light, fill: Closing) -> tuple[Loop, Rect]:
    """The outer edge of what hangs in a light, and the exact size of that."""
    clearance, foot = fill.clearance.mm, fill.clearance.mm if fill.foot is None else fill.foot.mm
    loop = named_after_place(light.loop)
    if fill.foot and "sill" not in loop.tags:
        raise Refusal(
            f"{light.entry}.foot",
            "a level foot",
            "This light has no level foot to be clear of.",
            "Leave it out: it is then clear of the frame as elsewhere.",
        )
    by = side_faces(loop, clearance, {"sill": foot}, f"{light.entry}.foot") if fill.foot else float(clearance)
    rect = light.clear
    if loop.moved(by) is None and fill.foot:
        raise Refusal(
            f"{light.entry}.kind",
            "a light that takes a sash",
            f"A clearance of {exact_mm(clearance)}, {exact_mm(foot)} at the foot, leaves nothing of the light.",
            "Make the light larger, or choose another filling.",
        )
    return (
        named_after_place(loop.inset(by, f"{light.entry}.clearance")),
        Rect(rect.x + clearance, rect.y + foot, rect.width - 2 * clearance, rect.height - clearance - foot),
    )


def planes_of(light: Light, fill: Closing) -> tuple[Fraction, Fraction]:
    """Front and back of a sash behind the unit's outer face: set back from the face it swings to."""
    ring, depth, setback = light.ring, fill.depth.mm, fill.setback.mm
    if depth + setback > ring.back - ring.front:
        room = ring.back - ring.front - setback
        _check_room(light, fill, room)
        raise Refusal(
            f"{light.entry}.depth",
            "a sash within its frame",
            f"A sash {exact_mm(depth)} deep, set back {exact_mm(setback)}, stands out of a frame "
            f"{exact_mm(ring.back - ring.front)} deep.",
            f"Make it at most {exact_mm(room)} deep.",
            room,
        )
    rest = ring.back - ring.front - setback - depth
    if fill.stop.mm and fill.stopped and rest < LEAST_STOP:
        _check_room(light, fill, depth + rest - LEAST_STOP)
        raise Refusal(
            f"{light.entry}.depth",
            "a stop behind the sash",
            f"A sash {exact_mm(depth)} deep leaves {exact_mm(rest)} of the frame's depth for the strip it closes "
            "against.",
            f"Make it at most {exact_mm(depth + rest - LEAST_STOP)} deep, or the stop 0.",
            depth + rest - LEAST_STOP,
        )
    if fill.swings_in:
        return ring.back - setback - depth, ring.back - setback
    return ring.front + setback, ring.front + setback + depth


def _check_room(light: Light, fill: Closing, room: Fraction) -> None:
    """Refuse a sash that would have to be thinner, ``room`` mm, than what holds its glass."""
    glazing, content = fill.glazing or light.ring.glazing, fill.content.fill
    bead = worked(glazing.bead).exact_drop + LEAST_STOP
    least = glazing.setback.mm + glazing.thickness.mm + glazing.gasket.thickness.mm + bead
    if room < least and (content is None or content.kind == "glass") and not fill.content.is_divided:
        raise Refusal(
            f"{light.entry}.kind",
            "a light that takes a sash",
            f"A sash with this glass is at least {exact_mm(least)} deep, and there is room for {exact_mm(room)}.",
            "Make the glass thinner or the frame deeper, or choose another filling.",
        )


def strip_of(light: Light, fill: Closing, planes: tuple[Fraction, Fraction]) -> tuple[float, float] | None:
    """The strip a hung sash closes against: behind one that swings out, before one that swings in."""
    if not fill.stop.mm or not fill.stopped:
        return None
    ring, (front, back) = light.ring, planes
    if light.loop.moved(float(fill.stop.mm)) is None:
        raise too_far(light.loop, float(fill.stop.mm), f"{light.entry}.stop")
    if fill.swings_in:
        low, high = -float(front), -float(ring.front) - ring.edge.drop
    else:
        low, high = -float(ring.seat.bead_back if ring.seat else ring.back), -float(back)
    if fill.stop_depth:
        deep = float(fill.stop_depth.mm)
        low, high = (low, min(high, low + deep)) if fill.swings_in else (max(low, high - deep), high)
    return (low, high) if high - low >= LEAST_STRIP else None


def stop_members(light: Light, finishes: Finishes) -> Iterator[Member]:
    """The strip that what is in a light closes against."""
    assert isinstance(light.content, Closed)
    assert isinstance(light.fill, Closing)
    if not light.content.strip:
        return
    low, high = light.content.strip
    width, nothing = float(light.fill.stop.mm), np.zeros(len(light.loop.points))
    profile = [(0.0, 0.0, low), (0.0, width, low), (0.0, width, high), (0.0, 0.0, high)]
    naming = ("frame", f"stop.{light.key}", light.entry, finishes.of("frame"))
    without = light.ring.bare if light.fill.has_foot_stop else light.ring.bare | {"sill"}
    try:
        yield from strips(light, nothing, profile, naming, without)
    except Refusal as refusal:
        remedy = "Make it 0: there is then no strip."
        raise replace(refusal, entry=f"{light.entry}.stop", remedy=remedy, nearest=Fraction(0)) from None
