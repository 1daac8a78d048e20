"""Rolling curtains: slats behind the frame, hinged to each other, that run up in guides and onto a coil over the head.

Hinges are on the inner face of the slats, which is the one that looks at the coil, so joints open where the curtain
bends. Every hinge is on one line: up the guides, straight on to where that touches the coil, and round it inwards by a
layer each turn. A layer is so thick that a slat, which is a chord, stays clear of the one under it.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property
from math import acos, asin, atan2, ceil, cos, floor, hypot, pi, sin, sqrt
from typing import Literal

import numpy as np

from ashfell.core.base.document import Gap, Key, Size, mm
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.filling import FILLINGS, FillEntry, Filling
from ashfell.core.kinds.fillings.behind import Behind, chord_behind, clears_behind
from ashfell.core.kinds.fillings.sashes import check_rectangle
from ashfell.core.kinds.roles import ROLES, Finishes, Role
from ashfell.core.kinds.symbol import Symbol, arrow_in
from ashfell.core.parts import ALONG_U, ALONG_V, Member
from ashfell.core.solid.form import Box, Placed, Sweep
from ashfell.core.solid.rod import disc, rod
from ashfell.core.solid.sweep import Section, tidy
from ashfell.core.unit.document.members import Percent
from ashfell.core.unit.layout import Bed, Light
from ashfell.core.unit.say.writer import Writer
from ashfell.core.unit.solve.body import Solving

ROLES.register(Role("slat", "Slats", "brushed-metal", (208, 206, 200), 46, sided=False))
JOINT = 1.0
"""Between two slats, mm."""
LEAST_SLAT = Fraction(20)
"""The lowest slat, mm."""
LAYER_CLEAR = 1.0
"""Between two layers on the coil, mm."""
GUIDE = (45.0, 4.0, 3.0)
"""How wide a guide is, how thick its sheet, and how far it is clear of the curtain, mm (common practice, no source)."""
OVER = 40.0
"""From where the line of the hinges bends to the coil, mm."""
PLATE = 8.0
"""How thick the plates are that carry the coil, and how far they are clear of it, mm."""


class Rolling(FillEntry):
    """Slats of equal height, at most ``slat``, ``thickness`` thick: they lap the frame by ``lap`` at the sides and the
    head, in guides ``clearance`` behind it, and roll up on a ``barrel`` behind the head; ``opened`` by as many percent
    of the light's height."""

    kind: Literal["rolling"]
    slat: Size = mm("80")
    thickness: Size = mm("18")
    lap: Gap = mm("40")
    clearance: Gap = mm("1")
    barrel: Size = mm("160")
    opened: Percent = 0.0
    finish: Key | None = None


@dataclass(frozen=True)
class Way:
    """The line of the hinges in the plane of v and w, from the ``foot`` of the light: up at ``w`` to the ``head``,
    then onto the coil. Of a curtain ``length`` long whose foot is at ``start``, what is not yet on the coil
    tells how thick that is; ``inner`` is the radius of its innermost hinge, a layer ``pitch`` thick, mm. Round the
    coil a curtain of chords takes up to ``longer`` times its length."""

    foot: float
    head: float
    w: float
    start: float
    length: float
    inner: float
    pitch: float
    full: float
    longer: float = 1.0

    @cached_property
    def centre(self) -> tuple[float, float]:
        """The axis of the coil: v and w. Rolled up altogether it touches the line of the guides, mm."""
        return self.head + self.full + OVER, self.w - self.full

    @cached_property
    def radius(self) -> float:
        """How far the outermost hinge is from the axis: by halving, so that what is on the coil is what is left, mm."""
        low, high = self.inner, self.full
        for _ in range(80):
            middle = (low + high) / 2
            wound = (self.length - self._run(middle)) * self.longer
            if pi * (middle**2 - self.inner**2) / self.pitch < wound:
                low = middle
            else:
                high = middle
        return (low + high) / 2

    def _run(self, radius: float) -> float:
        """How much of the curtain is not on a coil of a radius, mm."""
        far = hypot(self.head - self.centre[0], self.w - self.centre[1])
        return self.head - self.start + sqrt(far**2 - radius**2)

    @cached_property
    def _touches(self) -> tuple[float, float]:
        """How far along it the line is on the coil, and at which angle from the outside."""
        v, w = self.head - self.centre[0], self.w - self.centre[1]
        far = hypot(v, w)
        tangent = sqrt(far**2 - self.radius**2)
        return self.head - self.foot + tangent, atan2(v, w) + acos(self.radius / far)

    def at(self, along: float) -> tuple[float, float]:
        """Where it is so far along: v and w, mm."""
        up = self.head - self.foot
        if along <= up:
            return self.foot + along, self.w
        reached, angle = self._touches
        v, w = self.centre
        if along < reached:
            share = (along - up) / (reached - up)
            end = v + self.radius * sin(angle), w + self.radius * cos(angle)
            return self.head + share * (end[0] - self.head), self.w + share * (end[1] - self.w)
        turned = (self.radius - sqrt(max(self.radius**2 - self.pitch * (along - reached) / pi, 0.0))) * 2 * pi
        turned /= self.pitch
        r = self.radius - self.pitch * turned / (2 * pi)
        return v + r * sin(angle + turned), w + r * cos(angle + turned)

    def after(self, along: float, chord: float) -> float:
        """Where the point is that is a chord behind another, along it."""
        return chord_behind(self.at, along, chord)


@dataclass(frozen=True, eq=False)
class Curtain(Behind):
    """The slats: their height, where their hinges are (v, w) from the foot up, the left and the right edge of the
    slats, and the line that they are on."""

    slat: float = 0.0
    hinges: tuple[tuple[float, float], ...] = ()
    ends: tuple[float, float] = (0.0, 0.0)
    way: Way | None = None


def _count(light: Light, fill: Rolling) -> int:
    """How many slats close the light; those on the coil come in addition."""
    return max(1, ceil((light.clear.height + fill.lap.mm) / fill.slat.mm))


def _solve(light: Light, fill: Rolling, solving: Solving) -> Curtain:
    """The slats where they are.

    Raises
    ------
    Refusal
        When the light is no rectangle, or a slat is too low or too thin.
    """
    check_rectangle(light, "an overhead door", "Slats can run only behind a rectangular light.")
    clear, lap = light.clear, fill.lap.mm
    front = light.ring.back + fill.clearance.mm + Fraction(GUIDE[1] + GUIDE[2])
    slat = (clear.height + lap) / _count(light, fill)
    _check_slats(light, fill, slat)
    high, thick, w = float(slat), float(fill.thickness.mm), -float(front + fill.thickness.mm)
    inner = hypot(float(fill.barrel.mm) / 2 + LAYER_CLEAR, high / 2) + LAYER_CLEAR
    pitch = hypot(inner + thick, high / 2) - inner + LAYER_CLEAR
    # A slat begins to lean a slat's height below where the line bends, which is where the guides end.
    foot, head = float(clear.y), float(clear.head + lap) + high
    # Shut, the curtain goes half round the barrel; its length is a whole number of slats.
    full_length = float(clear.height) + head - foot + pi * inner + 2 * OVER + 2 * inner
    longer = asin(high / 2 / inner) / (high / 2 / inner)
    full = sqrt(inner**2 + pitch * full_length * longer / pi)
    shut = Way(foot, head, w, foot, full_length, inner, pitch, full)
    slats = ceil((shut._run(inner) + pi * inner) / high)
    opened = Way(
        foot, head, w, foot + float(clear.height) * fill.opened / 100, slats * high, inner, pitch, full, longer
    )
    along, places = opened.start - foot, []
    for _ in range(slats):
        places.append(opened.at(along))
        along = opened.after(along, high)
    places.append(opened.at(along))
    ends = (float(clear.x - lap), float(clear.right + lap))
    aside = GUIDE[2] + GUIDE[1] + PLATE
    across = (ends[0] - aside, ends[1] + aside)
    return Curtain(across=across, slat=high, hinges=tuple(places), ends=ends, way=opened)


def _check_slats(light: Light, fill: Rolling, slat: Fraction) -> None:
    """Refuse slats that cannot be hinged, or go round no barrel."""
    entry = light.entry
    if slat < LEAST_SLAT:
        raise Refusal(
            f"{entry}.slat" if fill.slat.mm < LEAST_SLAT else f"{entry}.kind",
            "slats that can be hinged",
            f"A slat would be {exact_mm(slat)} high; it is at least {exact_mm(LEAST_SLAT)}.",
            f"Make it {exact_mm(LEAST_SLAT * 2)}." if fill.slat.mm < LEAST_SLAT else "Make the light higher.",
            LEAST_SLAT * 2 if fill.slat.mm < LEAST_SLAT else None,
        )
    if fill.barrel.mm < slat:
        raise Refusal(
            f"{entry}.barrel",
            "a barrel that slats go round",
            f"Slats {exact_mm(slat)} high do not go round a barrel {exact_mm(fill.barrel.mm)} thick.",
            f"Make it at least {ceil(slat)} thick, or the slats lower.",
            Fraction(ceil(slat)),
        )
    most = max(slat, light.clear.height)
    if fill.barrel.mm > most:
        raise Refusal(
            f"{entry}.barrel",
            "a barrel no thicker than the light is high",
            f"A barrel {exact_mm(fill.barrel.mm)} thick is more than the {exact_mm(most)} that the light is high.",
            f"Make it at most {exact_mm(most)} thick.",
            most,
        )
    if 2 * fill.thickness.mm > slat:
        raise Refusal(
            f"{entry}.thickness",
            "slats that can be hinged",
            f"A slat {exact_mm(slat)} high and {exact_mm(fill.thickness.mm)} thick would not turn about its hinge.",
            f"Make it at most {floor(slat / 2)} thick.",
            Fraction(floor(slat / 2)),
        )


def _slat_section(high: float, thick: float) -> Section:
    """A slat from hinge to hinge, as (v, w) with its hinges on w = 0: worked off at both edges of its outer face."""
    top, edge = high - JOINT, thick / 3
    return tidy([(0.0, 0.0), (top, 0.0), (top, thick - edge), (top - edge, thick), (edge, thick), (0.0, thick - edge)])


def _members(light: Light, finishes: Finishes, bed: Bed | None) -> Iterator[Member]:
    fill, content, key = light.fill, light.content, light.key
    assert isinstance(fill, Rolling)
    assert isinstance(content, Curtain)
    left, right = content.ends
    section = _slat_section(content.slat, float(fill.thickness.mm))
    corners = np.array([[(u, v, w) for v, w in section] for u in (left, right)])
    form = Sweep(corners, section)
    finish = fill.finish or finishes.of("slat")
    for number, ((v0, w0), (v1, w1)) in enumerate(zip(content.hinges, content.hinges[1:], strict=False)):
        lean = atan2(w1 - w0, v1 - v0)
        matrix = np.eye(4)
        matrix[1:3, 1:3] = [[cos(lean), -sin(lean)], [sin(lean), cos(lean)]]
        matrix[1:3, 3] = v0, w0
        name = f"slat.{key}.{number + 1}"
        yield Member(name, light.entry, "slat", finish, ALONG_U, Placed(form, matrix), key)
    yield from _guides(light, fill, content, finishes.of("track"))


def _guides(light: Light, fill: Rolling, content: Curtain, finish: str) -> Iterator[Member]:
    """The two guides, the barrel, and the plates that carry it."""
    assert content.way is not None
    way, (left, right), key = content.way, content.ends, light.key
    wide, sheet, free = GUIDE
    front, back = way.w + float(fill.thickness.mm) + free, way.w - free
    v, w = way.centre
    reach = way.full + float(fill.thickness.mm) + PLATE
    for side, edge, out in (("left", left, -1.0), ("right", right, 1.0)):
        web, lip = edge + out * (free + sheet), edge + out * (free + sheet - wide)
        drawn = [(web, front + sheet), (lip, front + sheet), (lip, front), (web - out * sheet, front)]
        drawn += [(web - out * sheet, back), (lip, back), (lip, back - sheet), (web, back - sheet)]
        section = tidy(drawn)
        corners = np.array([[(u, height, z) for u, z in section] for height in (way.head - content.slat, way.foot)])
        yield Member(f"track.{key}.{side}", light.entry, "track", finish, ALONG_V, Sweep(corners, section), key)
        a, b = sorted((edge + out * (free + sheet), edge + out * (free + sheet + PLATE)))
        plate = Box((a, way.head - content.slat, w - reach), (b, v + reach, front + sheet))
        yield Member(f"track.{key}.plate.{side}", light.entry, "track", finish, ALONG_V, plate, key)
    start, end = left - free - sheet, right + free + sheet
    barrel = rod([(start, v, w), (end, v, w)], disc(float(fill.barrel.mm)))
    yield Member(f"track.{key}.barrel", light.entry, "track", finish, ALONG_U, barrel, key)


def _symbols(light: Light) -> Iterable[Symbol]:
    return [Symbol(arrow_in(light.loop.bounds, (0.0, 1.0)), True, light.entry, "slides")]


def _say(w: Writer, path: str, light: Light) -> None:
    fill = light.fill
    assert isinstance(fill, Rolling)
    assert isinstance(light.content, Curtain)
    w.say(
        f"{path}.slat",
        "Slats at most",
        w.length(f"{path}.slat", fill.slat, "Height of a slat"),
        "high,",
        w.length(f"{path}.thickness", fill.thickness, "Thickness of a slat"),
        "thick, lapping the frame by",
        w.length(f"{path}.lap", fill.lap, "Lap behind the frame"),
        ",",
        w.length(f"{path}.clearance", fill.clearance, "Clearance of the guides"),
        "in guides behind it; the barrel",
        w.length(f"{path}.barrel", fill.barrel, "Thickness of the barrel"),
        "thick.",
        w.finish(f"{path}.finish", fill.finish, "Finish of the slats", usual=w.of_role("slat")),
        "Opened",
        w.number(f"{path}.opened", fill.opened, "Opened in percent"),
        "%.",
        nested=True,
        told=(f"{len(light.content.hinges) - 1} slats, each {light.content.slat:.1f} mm high.",),
    )


KIND = FILLINGS.register(
    Filling(
        "rolling",
        Rolling,
        "a rolling curtain",
        lambda fill: "rolling curtain",
        _solve,
        _members,
        order=29,
        say=_say,
        symbols=_symbols,
        door=lambda fill: ("ROLLINGUP", "ROLLINGUP"),
        pieces=lambda light, fill: (_count(light, fill) + ceil(4 * fill.barrel.mm / fill.slat.mm) + 12, "slats"),
        clears=clears_behind,
    )
)
