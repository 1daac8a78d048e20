"""A pair of sashes hung on both sides of a light, and how their stiles meet in the middle: with a gap, in rebates that
lap, or under a stile planted on the one that opens first."""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction
from math import acos, degrees
from typing import TYPE_CHECKING, Literal

import manifold3d
from shapely.geometry import box

from ashfell.core.base.document import Document, Size, mm
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.fillings.sashes import sash_body
from ashfell.core.kinds.opening import Hand
from ashfell.core.parts import ALONG_V, Member
from ashfell.core.plane.cut import band
from ashfell.core.plane.loop import Loop
from ashfell.core.solid.boolean import of_manifold
from ashfell.core.solid.form import Form, Region
from ashfell.core.solid.stack import Stack
from ashfell.core.solid.topology import Solid
from ashfell.core.unit.layout import Body, Light, Rect
from ashfell.core.unit.members.own_section import LEAST_WEB
from ashfell.core.unit.solve.body import Solving

if TYPE_CHECKING:
    from ashfell.core.kinds.fillings.hung import Hung

FAR = 1e5
LEAST_HALF = Fraction(50)
"""The least that is left for the other of two, mm."""


class Meeting(Document):
    """How the stiles of a pair meet: with a gap as wide as the clearance; ``rebated``, each lapping the other by
    ``lap`` over half its depth; or ``planted``, a stile ``width`` wide and ``thickness`` thick on the one that opens
    first."""

    kind: Literal["gap", "rebated", "planted"] = "gap"
    lap: Size = mm("12")
    width: Size = mm("40")
    thickness: Size = mm("12")


@dataclass(frozen=True)
class Half:
    """One of a pair: the hand that it hangs on, whether it opens first, and what it is made of."""

    hand: Hand
    first: bool
    body: Body


def pair_of(
    light: Light, fill: Hung, solving: Solving, planes: tuple[Fraction, Fraction], whole: Loop, rect: Rect
) -> tuple[Half, Half]:
    """The leaves of a pair, the left one first: ``planes`` are their front and back, ``whole`` and ``rect`` the outline
    and the size of both together.

    Raises
    ------
    Refusal
        When a leaf has no room, or its stile is too narrow to be rebated.
    """
    lap = fill.meeting.lap.mm if fill.meeting.kind == "rebated" else Fraction(0)
    apart = (fill.clearance.mm - lap) / 2
    middle = rect.x + first_size(light, fill, rect.width, apart, fill.hand == "left") + apart
    left = _leaf(light, fill, solving, planes, (whole, rect), ("left", rect.x, middle - apart))
    right = _leaf(light, fill, solving, planes, (whole, rect), ("right", middle + apart, rect.right))
    if fill.meeting.kind == "rebated":
        _check_lap(light, fill, left.body)
        return _rebated(fill, left, float(middle)), _rebated(fill, right, float(middle))
    if fill.meeting.kind == "planted":
        return _planted(light, fill, left, whole, float(middle), solving), _planted(
            light, fill, right, whole, float(middle), solving
        )
    return left, right


def first_size(light: Light, fill: Hung, size: Fraction, apart: Fraction, from_start: bool) -> Fraction:
    """How wide the first of two is that share a size, mm, counted from the left or the foot: half, or what is given to
    the ``active`` one.

    Raises
    ------
    Refusal
        When the given size leaves nothing for the other.
    """
    if fill.active is None:
        return size / 2 - apart
    own = fill.active.mm
    most = size - 2 * apart - LEAST_HALF
    if own > most:
        raise Refusal(
            f"{light.entry}.active",
            "room for both parts",
            f"Of {exact_mm(size)} a part of {exact_mm(own)} leaves {exact_mm(size - 2 * apart - own)} for the other.",
            f"Make it at most {exact_mm(most)}, or leave it out for two halves." if most > 0 else "Leave it out.",
            most if most > 0 else None,
        )
    return own if from_start else size - own - 2 * apart


def parted(
    light: Light, fill: Hung, solving: Solving, planes: tuple[Fraction, Fraction], both: tuple[Loop, Rect]
) -> list[tuple[str, Body]]:
    """The parts of a leaf that is parted across, the lower one first, by name.

    Raises
    ------
    Refusal
        When one has no room.
    """
    whole, rect = both
    apart = fill.clearance.mm / 2
    lower = first_size(light, fill, rect.height, apart, True)
    found = []
    for name, low, high in (("lower", rect.y, rect.y + lower), ("upper", rect.y + lower + 2 * apart, rect.head)):
        bottom, top = (float(low), 1e7) if name == "upper" else (-1e7, float(high))
        part = band(whole, 1, bottom, top, "sill", "head")
        if not part:
            raise Refusal(
                f"{light.entry}.kind",
                "a light that takes both parts",
                f"The {name} part has no room in the light.",
                "Hang a single leaf, or choose another filling.",
            )
        own = Rect(rect.x, low, rect.width, high - low)
        found.append((name, sash_body(light, part[0], own, planes, name, solving)))
    return found


def _leaf(
    light: Light,
    fill: Hung,
    solving: Solving,
    planes: tuple[Fraction, Fraction],
    both: tuple[Loop, Rect],
    place: tuple[Hand, Fraction, Fraction],
) -> Half:
    (whole, rect), (hand, low, high) = both, place
    left, right = (float(low), 1e7) if hand == "right" else (-1e7, float(high))
    halved = band(whole, 0, left, right, "left", "right")
    if not halved:
        raise Refusal(
            f"{light.entry}.kind",
            "a light that takes a sash",
            f"On its {hand} the light has no room for one of a pair.",
            "Hang a single sash, or choose another filling.",
        )
    body = sash_body(light, halved[0], Rect(low, rect.y, high - low, rect.height), planes, hand, solving)
    return Half(hand, hand == fill.hand, body)


def _check_lap(light: Light, fill: Hung, body: Body) -> None:
    ring, lap = body.ring, fill.meeting.lap.mm
    face = ring.least_face
    most = face - (ring.seat.rebate if ring.seat else Fraction(0)) - LEAST_WEB
    if lap > most:
        wider = face - most + lap
        raise Refusal(
            f"{light.entry}.meeting.lap" if most > 0 else f"{light.entry}.face",
            "a web beside the lap",
            f"Stiles of {exact_mm(face)} have no room for a lap of {exact_mm(lap)} beside their rebates.",
            f"Let them lap {exact_mm(most)} at most." if most > 0 else f"Make them {exact_mm(wider)} or more.",
            most if most > 0 else wider,
        )


def _rebated(fill: Hung, leaf: Half, middle: float) -> Half:
    """A leaf with what the other laps cut out of it: behind the lip of the one that opens first, before that of the
    other."""
    ring, half_lap, gap = leaf.body.ring, float(fill.meeting.lap.mm) / 2, float(fill.clearance.mm) / 2
    front, back = -float(ring.front), -float(ring.back)
    half = (front + back) / 2
    outer = (half, front + 1) if fill.swings_in == leaf.first else (back - 1, half)
    side = 1 if leaf.hand == "left" else -1
    edge = middle - side * (half_lap + gap)
    low, high = (edge, FAR) if side > 0 else (-FAR, edge)
    own = f"{ring.role}.{ring.key}."
    cut = tuple(
        replace(member, form=_less(member.form, (low, high), outer)) if member.id.startswith(own) else member
        for member in leaf.body.members
    )
    return replace(leaf, body=replace(leaf.body, members=cut))


def _less(form: Form, across: tuple[float, float], deep: tuple[float, float]) -> Form:
    """A form less a block from one u to another, between two w."""
    beside = form.beside(*across, *deep) if isinstance(form, Stack) else None
    return beside or Less(form, across, deep)


@dataclass(frozen=True, eq=False)
class Less(Form):
    """A form less a block, ``across`` from one u to another and ``deep`` between two w, mm."""

    form: Form
    across: tuple[float, float]
    deep: tuple[float, float]

    def solids(self) -> list[Solid]:
        (left, right), (low, high) = self.across, self.deep
        block = manifold3d.Manifold.cube([right - left, 2 * FAR, high - low]).translate([left, -FAR, low])
        made: list[Solid] = []
        for solid in self.form.solids():
            (u0, _, w0), (u1, _, w1) = solid.bounds.tolist()
            apart = u1 <= left or u0 >= right or w1 <= low or w0 >= high
            made += [solid] if apart else of_manifold(solid.manifold() - block)
        return made

    @property
    def length(self) -> float:
        """That of the form, mm."""
        return self.form.length


def _planted(light: Light, fill: Hung, leaf: Half, whole: Loop, middle: float, solving: Solving) -> Half:
    """The leaf that opens first with a stile planted on the face it swings to, over the gap."""
    if not leaf.first:
        return leaf
    ring, half, thick = leaf.body.ring, float(fill.meeting.width.mm) / 2, float(fill.meeting.thickness.mm)
    region = whole.polygon.intersection(box(middle - half, -FAR, middle + half, FAR))
    low, high = (
        (-float(ring.back) - thick, -float(ring.back))
        if fill.swings_in
        else (-float(ring.front), thick - float(ring.front))
    )
    stile = Member(
        f"{ring.role}.{ring.key}.planted",
        f"{light.entry}.meeting",
        ring.role,
        solving.finishes.of(ring.role),
        ALONG_V,
        Region(region, low, high),
        ring.key,
    )
    return replace(leaf, body=replace(leaf.body, members=(*leaf.body.members, stile)))


def opens_after(fill: Hung, leaf: Half, angle: float) -> bool:
    """Whether a leaf can open while the other stands at an angle, degrees: the one that opens first always, the other
    once that is out of its way."""
    if leaf.first:
        return True
    lapped = {
        "gap": fill.depth.mm,
        "rebated": fill.meeting.lap.mm,
        "planted": fill.meeting.width.mm / 2,
    }[fill.meeting.kind]
    bounds = leaf.body.ring.loop.bounds
    share = float(lapped + fill.clearance.mm) / (bounds[2] - bounds[0])
    return abs(angle) >= degrees(acos(max(-1.0, 1 - share)))
