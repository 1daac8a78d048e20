"""Glass and panels in their rebate: where they lie, gaskets on both faces, beads behind them; for many lights
at once.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.roles import Finishes
from ashfell.core.parts import ALONG_V, Member
from ashfell.core.plane.points import Floats
from ashfell.core.solid.form import members, rings
from ashfell.core.solid.ring import Profile, between, ring_corners
from ashfell.core.solid.section import edge_points
from ashfell.core.solid.sweep import Section
from ashfell.core.unit.document.glazing import Gasket
from ashfell.core.unit.layout import Bed, Content, Light, Pane
from ashfell.core.unit.members.mitres import bends, following_bends, oriented
from ashfell.core.unit.members.own_section import fitted_section, own_section, worked
from ashfell.core.unit.members.rebates import check_rebates, no_rebate
from ashfell.core.unit.members.ring import names_of, runs_of
from ashfell.core.unit.seat import Seat

LEAST_SHOWN = Fraction(1)
"""How far a gasket shows at least where glass ends with the outline, mm."""
SQUARE: Section = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0))


@dataclass(frozen=True)
class Planes:
    """Where the glass of one light lies, as distances behind the unit's outer face, mm."""

    stop_back: Fraction
    front: Fraction
    back: Fraction
    bead_front: Fraction
    bead_back: Fraction


@dataclass(frozen=True, eq=False)
class Seated(Content):
    """What lies in a rebate: its planes, its gasket and the entry that says it.

    Every seated filling's content is one.
    """

    planes: Planes | None = None
    gasket: Gasket | None = None
    gasket_entry: str = ""


def planes_of(light: Light) -> Planes:
    """The planes of what is seated in a solved light."""
    assert isinstance(light.content, Seated)
    assert light.content.planes is not None
    return light.content.planes


def gasket_of(light: Light) -> Gasket:
    """The gasket of what is seated in a solved light."""
    own = light.content.gasket if isinstance(light.content, Seated) else None
    return own or light.seat.glazing.gasket


def planes_for(
    light: Light,
    thickness: Fraction,
    setback: Fraction | None,
    gasket: Gasket,
    told: tuple[str, Fraction] = ("thickness", Fraction(0)),
) -> Planes:
    """The planes of glass or a panel of its own thickness, mm, and perhaps set-back: else as its ring's seat has them.
    ``told`` is which entry gives the thickness, and how much thicker it is than that, mm.

    Raises
    ------
    Refusal
        When its gasket or its bead has no room.
    """
    seat, seal = light.seat, gasket.thickness.mm
    front = foremost = seat.stop_back + seal
    if setback is not None:
        front = light.ring.front + setback
        if front < foremost:
            least = foremost - light.ring.front
            raise Refusal(
                f"{light.entry}.setback",
                "glass behind its stop",
                f"Glass set back {exact_mm(setback)} with a gasket of {exact_mm(seal)} would lie in the stop, which "
                "leaves it "
                f"no less than {exact_mm(least)}.",
                f"Set it back at least {exact_mm(least)}.",
                least,
            )
    if seat.bare & {*light.loop.tags} and gasket.shows.mm < LEAST_SHOWN:
        own = gasket is not seat.glazing.gasket
        raise Refusal(
            f"{light.entry}.gasket.shows" if own else f"{light.ring.glazing_entry}.gasket.shows",
            "a gasket where glass ends",
            f"Where the frame has no member the glass ends in its gasket, which shows {exact_mm(gasket.shows.mm)}.",
            f"Let it show {exact_mm(LEAST_SHOWN)} or more.",
            LEAST_SHOWN,
        )
    found = Planes(seat.stop_back, front, front + thickness, front + thickness + seal, seat.bead_back)
    least_bead = worked(seat.glazing.bead).exact_drop + 1
    if found.bead_back - found.bead_front < least_bead and found.bead_back != found.bead_front:
        entry, more = told
        most = seat.bead_back - least_bead - seal - front
        if most - more <= 0:
            room = seat.bead_back - least_bead - thickness - front
            deep = front + thickness + seal + least_bead - light.ring.front
            raise _bead_beside_gasket(light, gasket, room, deep)
        raise Refusal(
            f"{light.entry}.{entry}",
            "a bead behind the glass",
            f"{exact_mm(thickness)} thick, set back {exact_mm(front - light.ring.front)}, it leaves no bead in a frame "
            f"{exact_mm(light.ring.back - light.ring.front)} deep.",
            f"It can be at most {exact_mm(most - more)} thick.",
            most - more,
        )
    return found


def _bead_beside_gasket(light: Light, gasket: Gasket, most: Fraction, deep: Fraction) -> Refusal:
    """The refusal of what has no room for a bead however thin it is: its gasket is thicker than ``most``, or its ring,
    or bars that end before that, not ``deep`` enough, mm."""
    ring, bars = light.ring, light.seat.bars
    own = gasket is not light.seat.glazing.gasket and most > 0
    place, set_back = bars or (f"{ring.entry}.depth", Fraction(0))
    who = "bars" if bars else ring.role
    return Refusal(
        f"{light.entry}.gasket.thickness" if own else place,
        "a bead behind the glass",
        f"{'Between' if bars else 'In a'} {who} {exact_mm(light.seat.bead_back - ring.front - set_back)} deep nothing "
        f"is left for a bead behind gaskets of {exact_mm(gasket.thickness.mm)}.",
        f"Make the gasket at most {exact_mm(most)} thick."
        if own
        else f"Make the {who} at least {exact_mm(deep - set_back)} deep.",
        most if own else deep - set_back,
    )


def covers(light: Light) -> Floats:
    """How far glass goes behind each edge of its light, (c,) mm."""
    return light.seat.covers(light.loop)


def pane_of(light: Light, thickness: Fraction) -> Pane:
    """How large what is seated in a light is cut.

    Raises
    ------
    Refusal
        When there is no room behind the members round it.
    """
    if light.is_rectangle:
        foot, right, head, left = map(light.seat.cover_beside, light.loop.tags)
        return Pane(light.clear.width + left + right, light.clear.height + foot + head, thickness)
    points = light.loop.moved(-covers(light))
    if points is None:
        raise no_rebate(light.ring, light.seat, light.loop)
    (low_u, low_v), (high_u, high_v) = points.min(axis=0).tolist(), points.max(axis=0).tolist()
    return Pane(Fraction(high_u - low_u), Fraction(high_v - low_v), thickness, exact=False)


def glazing_members(lights: Sequence[Light], finishes: Finishes) -> tuple[list[Member], dict[str, Bed]]:
    """Gaskets and beads of all lights that hold something seated, and the bed each of those lies in, by the key of its
    light.

    Raises
    ------
    Refusal
        When a gasket or a bead has no room round a light, or its rebate runs into that of another.
    """
    groups: dict[tuple[object, ...], list[Light]] = defaultdict(list)
    check_rebates([light for light in lights if light.filling.seated])
    for light in lights:
        if light.filling.seated:
            runs = () if light.is_rectangle else tuple(runs_of(light.loop))
            alike = light.is_rectangle, len(light.loop.points), runs, planes_of(light), gasket_of(light).shows.mm
            groups[alike].append(light)
    made: list[Member] = []
    beds: dict[str, Bed] = {}
    for group in groups.values():
        made += _group_members(group, finishes, beds)
    return made, beds


def _group_members(lights: Sequence[Light], finishes: Finishes, beds: dict[str, Bed]) -> Iterator[Member]:
    """Lights alike in everything but place and size."""
    first, planes = lights[0], planes_of(lights[0])
    rebates = -np.array([light.seat.rebates(light.loop) for light in lights])
    shows = float(gasket_of(first).shows.mm)
    shown = np.full(rebates.shape, shows)
    panes, inside, bottom = (
        _laid(lights, by, [(1.0, 0.0, 0.0)])[:, :, 0, :2]
        for by in (-np.array([covers(light) for light in lights]), shown, rebates)
    )
    for light, pane in zip(lights, panes, strict=True):
        beds[light.key] = Bed(pane)
    beaded = planes.bead_back > planes.bead_front
    faces = (
        ("outer", planes.stop_back, planes.front, not first.seat.stopless),
        ("inner", planes.back, planes.bead_front, beaded),
    )
    for name, front, back, held in faces:
        edge = panes if held else bottom
        gaskets = between([edge, inside, inside, edge], [-back, -back, -front, -front])
        for light, ring in zip(lights, rings(gaskets, SQUARE), strict=True):
            assert isinstance(light.content, Seated)
            own, key = light.content.gasket_entry, f"gasket.{light.key}.{name}"
            yield Member(key, own, "gasket", finishes.of("gasket"), ALONG_V, ring, light.key)
    if beaded:
        yield from _beads(lights, rebates, finishes)


def _beads(lights: Sequence[Light], rebates: Floats, finishes: Finishes) -> Iterator[Member]:
    """What holds the glass of lights that are alike, in rebates (n, c) of a depth for each edge, mm."""
    first, entry = lights[0], f"{lights[0].ring.glazing_entry}.bead"
    profile, section = bead_profile(first.seat, planes_of(first), f"{entry}.section")
    beads = _laid(lights, rebates, profile)
    laid = members(beads, section, runs_of(first.loop))
    for index, light in enumerate(lights):
        own_members, by = laid[index], rebates[index]
        if bends(light.loop, beads[index]):
            bare, face = by == 0, float(min(first.seat.rebate, first.seat.bar_rebate))
            followed, own = following_bends(light.loop, by, profile, -face, bare)
            own_members = members(ring_corners([light.loop], by, followed, entry, bare), own, runs_of(light.loop))[0]
        for (name, grain), form, (tag, _, _) in zip(names_of(light.loop), own_members, light.loop.runs(), strict=True):
            if tag not in light.seat.bare:
                key = f"bead.{light.key}.{name}"
                yield Member(key, entry, "bead", finishes.of("bead"), grain, form, light.key)


def _laid(lights: Sequence[Light], by: Floats, profile: Profile) -> Floats:
    """A profile laid round lights by distances (n, c) of their own for each edge, mm; on an edge without a member all
    of it, where it is told from its face.

    Raises
    ------
    Refusal
        Of the first light that it leaves nothing of.
    """
    bare = by == 0 if len(profile) > 1 else None
    try:
        return ring_corners([light.loop for light in lights], by, profile, "", bare)
    except Refusal as refusal:
        for light, own in zip(lights, by, strict=True):
            try:
                ring_corners([light.loop], own[None], profile, "")
            except Refusal:
                raise too_small(light) from refusal
        raise too_small(lights[-1]) from refusal


def too_small(light: Light) -> Refusal:
    """The refusal of a light that its gaskets and beads leave nothing of."""
    name = f"Light {light.key}" if light.key else "The light"
    return Refusal(
        f"{light.entry}.kind",
        "a light that holds its glass",
        f"{name} is so small that its gaskets and beads leave nothing of it.",
        "Move the bars beside it, or leave it open.",
    )


def bead_profile(seat: Seat, planes: Planes, entry: str) -> tuple[Profile, Section]:
    """What fills the rebate behind the glass, its inner edge worked, or a section of its own.

    Raises
    ------
    Refusal
        When its own section does not go into the rebate.
    """
    front, back = -float(planes.bead_front), -float(planes.bead_back)
    face, bead = float(min(seat.rebate, seat.bar_rebate)), seat.glazing.bead
    if bead.section is not None:
        drawn = own_section(bead.section, entry)
        placed = fitted_section(drawn or (), face, front - back, entry)
        points = [(1.0, x, back - w) if x <= face / 2 else (0.0, x - face, back - w) for x, w in placed]
    else:
        inner = [(0.0, -x, back + y) for x, y in edge_points(bead.edge)]
        points = [(1.0, 0.0, back), *inner, (0.0, 0.0, front), (1.0, 0.0, front)]
    return oriented(points, -face)
