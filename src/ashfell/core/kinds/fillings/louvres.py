"""Louvres: blades across a light that keep rain out and let air through."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from math import ceil, cos, floor, radians, sin
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field
from shapely.geometry import Point, box

from ashfell.core.base.document import Gap, Key, Size, mm
from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.filling import FILLINGS, FillEntry, Filling
from ashfell.core.kinds.roles import ROLES, Finishes, Role
from ashfell.core.parts import ALONG_U, Member
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import polygons
from ashfell.core.solid.form import Sweep
from ashfell.core.solid.sweep import Section, tidy
from ashfell.core.unit.layout import Bed, Content, Light
from ashfell.core.unit.say.writer import Writer

ROLES.register(Role("louvre", "Louvres", "white-paint", (240, 236, 228), 100))
LEAST_LIGHT = 5.0
"""A light lower than this takes no blade, mm."""
LEAST_BLADE = 20.0
"""A blade shorter than this is left out, mm."""


class Louvres(FillEntry):
    """Blades across the light: a ``pitch`` apart, ``blade`` wide, ``thickness`` thick, at an ``angle`` from level in
    degrees, falling towards the outside."""

    kind: Literal["louvres"]
    pitch: Size = mm("60")
    blade: Size = mm("70")
    thickness: Size = mm("8")
    angle: Annotated[float, Field(ge=0, le=80)] = 35.0
    setback: Gap = mm("8")
    finish: Key | None = None


@dataclass(frozen=True)
class Blade:
    """One blade: its number from the foot, the height of its lower outer corner, and from where to where it
    goes, mm.
    """

    number: int
    foot: float
    stretches: tuple[tuple[float, float], ...]


@dataclass(frozen=True, eq=False)
class Blades(Content):
    """The blades of a light: their section (up from the foot, w) and where each is."""

    section: Section = ()
    blades: tuple[Blade, ...] = ()


def _pieces(light: Light, fill: Louvres) -> tuple[int, str]:
    _, foot, _, head = light.loop.bounds
    return int((head - foot) / float(fill.pitch.mm)), "blades"


def _solve(light: Light, fill: Louvres, solving: object) -> Blades:
    """Blades a pitch apart from the foot up, in the middle of the height.

    Raises
    ------
    Refusal
        When they stand out of the frame or touch each other.
    """
    angle, pitch = radians(fill.angle), float(fill.pitch.mm)
    blade, thick = float(fill.blade.mm), float(fill.thickness.mm)
    _check(light, fill, angle)
    # A blade's section in (w, v): its outer lower corner is the origin; it rises towards the inside.
    corners = [
        (0.0, 0.0),
        (thick * sin(angle), thick * cos(angle)),
        (thick * sin(angle) - blade * cos(angle), thick * cos(angle) + blade * sin(angle)),
        (-blade * cos(angle), blade * sin(angle)),
    ]
    front, shift = float(light.ring.front + fill.setback.mm), max(x for x, _ in corners)
    section = tidy([(v, x - shift - front) for x, v in corners])
    high = blade * sin(angle) + thick * cos(angle)
    _, foot, _, head = light.loop.bounds
    count = int((head - foot - high) // pitch) + 1
    start = foot + (head - foot - (count - 1) * pitch - high) / 2
    heights = [start + number * pitch for number in range(count)]
    found = [Blade(n + 1, v, tuple(_clear_between(light.loop, v, v + high))) for n, v in enumerate(heights)]
    return Blades(section=section, blades=tuple(found))


def _check(light: Light, fill: Louvres, angle: float) -> None:
    blade, thick, pitch = float(fill.blade.mm), float(fill.thickness.mm), float(fill.pitch.mm)
    deep = blade * cos(angle) + thick * sin(angle)
    room = float(light.ring.back - light.ring.front - fill.setback.mm)
    if deep > room:
        raise _out_of_frame(light, fill, angle, room)
    if pitch * cos(angle) < thick:
        least = ceil(thick / cos(angle))
        raise Refusal(
            f"{light.entry}.pitch",
            "blades stay apart",
            f"A pitch of {pitch:g} mm lets blades {thick:g} mm thick at {fill.angle:g}° touch.",
            f"It must be at least {least} mm.",
            Fraction(least),
        )
    _, foot, _, head = light.loop.bounds
    high = blade * sin(angle) + thick * cos(angle)
    if high > head - foot < LEAST_LIGHT:
        raise Refusal(
            f"{light.entry}.kind",
            "a light that takes a sash",
            f"Blades have no room in a light {head - foot:g} mm high.",
            "Make the light larger, or choose another filling.",
        )
    if high > head - foot:
        widest = floor((head - foot - thick * cos(angle)) / max(sin(angle), 1e-9) * 10) / 10
        raise Refusal(
            f"{light.entry}.{'blade' if widest >= 1 else 'thickness'}",
            "room for a blade",
            f"A blade {high:.1f} mm high has no room in a light {head - foot:g} mm high.",
            f"Make it {widest:g} mm wide at most." if widest >= 1 else "Make it thinner.",
            Fraction(str(widest)) if widest >= 1 else Fraction(floor((head - foot) * 5), 10),
        )


def _out_of_frame(light: Light, fill: Louvres, angle: float, room: float) -> Refusal:
    """The refusal of blades deeper than the frame: they can be narrower, or set back less, or thinner."""
    blade, thick, setback = float(fill.blade.mm), float(fill.thickness.mm), float(fill.setback.mm)
    deep = blade * cos(angle) + thick * sin(angle)
    widest = (room - thick * sin(angle)) / cos(angle)
    thinnest = (room + setback - cos(angle)) / max(sin(angle), 1e-9)
    if widest >= 1:
        name, most = "blade", widest
    elif setback > 0:
        name, most = "setback", max(0.0, room + setback - deep)
    else:
        name, most = "thickness", max(0.1, thinnest)
    nearest = Fraction(floor(most * 10), 10)
    return Refusal(
        f"{light.entry}.{name}",
        "blades within the frame",
        f"Blades of {blade:g} mm at {fill.angle:g}° are {deep:.1f} mm deep; the frame leaves {room:g}.",
        f"Make the {name.replace('setback', 'set-back')} {float(nearest):g} mm at most.",
        nearest,
    )


def _clear_between(loop: Loop, low: float, high: float) -> list[tuple[float, float]]:
    """The stretches of u that are inside the loop all the way between two heights."""
    if loop.is_rectangle:
        return [(loop.bounds[0], loop.bounds[2])]
    left, _, right, _ = loop.bounds
    found = []
    for piece in polygons(loop.polygon.intersection(box(left - 1, low, right + 1, high))):
        points = np.array(piece.exterior.coords)
        start, end = points[:-1], points[1:]
        level = (np.abs(start[:, 1] - end[:, 1]) < 1e-9) & (
            (np.abs(start[:, 1] - low) < 1e-9) | (np.abs(start[:, 1] - high) < 1e-9)
        )
        taken = sorted(
            zip(np.minimum(start, end)[~level, 0].tolist(), np.maximum(start, end)[~level, 0].tolist(), strict=True)
        )
        reached = taken[0][0] if taken else left
        for a, b in taken:
            if a - reached > LEAST_BLADE and piece.contains(Point((a + reached) / 2, (low + high) / 2)):
                found.append((reached, a))
            reached = max(reached, b)
    return found


def _members(light: Light, finishes: Finishes, bed: Bed | None) -> Iterator[Member]:
    assert isinstance(light.fill, Louvres)
    assert isinstance(light.content, Blades)
    section, finish = light.content.section, light.fill.finish or finishes.of("louvre")
    for blade in light.content.blades:
        for more, ends in enumerate(blade.stretches):
            placed = np.array([[(u, blade.foot + across, w) for across, w in section] for u in ends])
            key = f"louvre.{light.key}.{blade.number}" + (f".{more + 1}" if more else "")
            yield Member(key, light.entry, "louvre", finish, ALONG_U, Sweep(placed, section), light.key)


def _say(w: Writer, path: str, light: Light) -> None:
    fill: Any = light.fill
    w.say(
        f"{path}.pitch",
        "Blades",
        w.length(f"{path}.blade", fill.blade, "Width of the blades"),
        "by",
        w.length(f"{path}.thickness", fill.thickness, "Thickness of the blades"),
        ",",
        w.length(f"{path}.pitch", fill.pitch, "Pitch of the blades"),
        "apart, at",
        w.number(f"{path}.angle", fill.angle, "Angle of the blades"),
        "°, set back",
        w.length(f"{path}.setback", fill.setback, "Set-back of the blades"),
        ",",
        w.finish(f"{path}.finish", fill.finish, "Finish of the blades", usual=w.of_role("louvre")),
        ".",
        nested=True,
    )


KIND = FILLINGS.register(
    Filling("louvres", Louvres, "louvres", lambda fill: "louvres", _solve, _members, order=50, say=_say, pieces=_pieces)
)
