"""Glass and panels in their rebate: panes, spacers, gaskets on both faces, beads; for many lights at once."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats
from ashfell.core.solid.plate import boxes, extrusions
from ashfell.core.solid.ring import Profile, between, ring_corners
from ashfell.core.solid.section import edge_points
from ashfell.core.solid.sweep import Section, members, rings
from ashfell.core.unit.document import Finishes, Gasket, Glass, Panel
from ashfell.core.unit.layout import Light, Seat, is_bar
from ashfell.core.unit.rings import names_of, oriented, runs_of

SQUARE: Section = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0))
ALONG_V = (0.0, 1.0, 0.0)


@dataclass(frozen=True)
class Planes:
    """Where the glass of one light lies, as distances behind the unit's outer face, mm."""

    stop_back: Fraction
    front: Fraction
    back: Fraction
    bead_front: Fraction
    bead_back: Fraction


def planes_of(light: Light) -> Planes:
    """The planes of a light's glass or panel: those of its ring's seat, but for what the light says itself.

    Raises
    ------
    Refusal
        When its gasket or its bead has no room.
    """
    seat, fill = seat_of(light), light.fill
    assert isinstance(fill, (Glass, Panel))
    gasket = gasket_of(light).thickness.mm
    front = foremost = seat.stop_back + gasket
    if isinstance(fill, Glass) and fill.setback:
        front = light.ring.front + fill.setback.mm
        if front < foremost:
            least = foremost - light.ring.front
            raise Refusal(
                f"{light.entry}.setback", "glass behind its stop",
                f"Glass set back {exact_mm(fill.setback.mm)} with a gasket of {exact_mm(gasket)} would lie in the stop, which leaves it no less than {exact_mm(least)}.",
                f"Set it back at least {exact_mm(least)}.", least,
            )  # fmt: skip
    thickness = fill.thickness.mm if fill.thickness else seat.glazing.thickness.mm
    if isinstance(fill, Glass) and fill.lead:
        thickness = fill.lead.glass.mm + 2 * fill.lead.proud.mm
    found = Planes(seat.stop_back, front, front + thickness, front + thickness + gasket, seat.bead_back)
    least_bead = seat.glazing.bead.edge.exact_drop + 1
    if found.bead_back - found.bead_front < least_bead:
        most = seat.bead_back - least_bead - gasket - front
        raise Refusal(
            f"{light.entry}.thickness", "a bead behind the glass",
            f"{exact_mm(thickness)} thick, set back {exact_mm(front - light.ring.front)}, it leaves no bead in a frame {exact_mm(light.ring.back - light.ring.front)} deep.",
            f"It can be at most {exact_mm(max(most, Fraction(0)))} thick.", max(most, Fraction(0)),
        )  # fmt: skip
    return found


def seat_of(light: Light) -> Seat:
    assert light.ring.seat is not None
    return light.ring.seat


def gasket_of(light: Light) -> Gasket:
    """The gasket of a light's glass: its own, or that of its ring's glazing."""
    own = light.fill.gasket if isinstance(light.fill, Glass) else None
    return own or seat_of(light).glazing.gasket


def covers(light: Light) -> Floats:
    """How far glass goes behind each edge of its light, mm."""
    seat = seat_of(light)
    edge, bar = float(seat.cover), float(seat.bar_cover)
    return np.array([bar if is_bar(tag) else edge for tag in light.loop.tags])


def glazing_parts(lights: Sequence[Light], finishes: Finishes) -> Iterator[Part]:
    """Panes, spacers, gaskets and beads of all lights that hold glass or a panel; the panel or leaded light itself is for
    its own module."""
    groups: dict[object, list[tuple[Light, Planes]]] = defaultdict(list)
    for light in lights:
        if light.holds_glass:
            runs = tuple(runs_of(light.loop)) if not light.is_rectangle else ()
            planes = planes_of(light)
            groups[(light.is_rectangle, len(light.loop.points), runs, planes, gasket_of(light).shows.mm)].append(
                (light, planes)
            )
    for group in groups.values():
        yield from _group_parts([light for light, _ in group], group[0][1], finishes)


def _group_parts(lights: Sequence[Light], planes: Planes, finishes: Finishes) -> Iterator[Part]:
    """Lights alike in everything but place and size."""
    seat, runs = seat_of(lights[0]), runs_of(lights[0].loop)
    loops = [light.loop for light in lights]
    behind = -np.array([covers(light) for light in lights])
    entry = f"{lights[0].ring.glazing_entry}"
    shows = float(gasket_of(lights[0]).shows.mm)
    profile, section = _bead_profile(seat, planes)
    corners = ring_corners(loops, behind, [(1.0, 0.0, 0.0), (0.0, shows, 0.0), *profile], f"{entry}.cover")
    panes, inside, beads = corners[:, :, 0, :2], corners[:, :, 1, :2], corners[:, :, 2:]
    for light, pane in zip(lights, panes, strict=True):
        if isinstance(light.fill, Glass) and not light.fill.lead:
            yield from _pane_parts(light, pane, planes, finishes)
    for name, front, back in (("outer", planes.stop_back, planes.front), ("inner", planes.back, planes.bead_front)):
        gaskets = between([panes, inside, inside, panes], [-back, -back, -front, -front])
        for light, ring in zip(lights, rings(gaskets, SQUARE), strict=True):
            own = f"{light.entry}.gasket" if isinstance(light.fill, Glass) and light.fill.gasket else f"{entry}.gasket"
            yield Part(f"gasket.{light.key}.{name}", own, "gasket", finishes.gasket, ALONG_V, ring)
    made = members(beads, section, runs)
    for light, own_members in zip(lights, made, strict=True):
        for (name, grain), solid in zip(names_of(light.loop), own_members, strict=True):
            if not len(solid.triangles):
                continue
            yield Part(f"bead.{light.key}.{name}", f"{entry}.bead", "bead", finishes.bead, grain, solid)


def _bead_profile(seat: Seat, planes: Planes) -> tuple[Profile, Section]:
    """What fills the rebate behind the glass, its inner edge worked."""
    outside, front, back = -float(seat.glazing.clearance.mm), -float(planes.bead_front), -float(planes.bead_back)
    worked = [(0.0, -x, back + y) for x, y in edge_points(seat.glazing.bead.edge)]
    points = [(1.0, outside, back), *worked, (0.0, 0.0, front), (1.0, outside, front)]
    return oriented(points, -float(min(seat.cover, seat.bar_cover)))


def _pane_parts(light: Light, pane: Floats, planes: Planes, finishes: Finishes) -> Iterator[Part]:
    """One pane, or several with spacers between them."""
    assert isinstance(light.fill, Glass)
    glazing, finish = seat_of(light).glazing, light.fill.finish or finishes.glass
    entry = light.entry if light.path and (light.fill.thickness or light.fill.finish) else light.ring.glazing_entry
    total = planes.back - planes.front
    if glazing.panes == 1 or total <= glazing.panes * glazing.pane.mm:
        yield _pane(light, f"glass.{light.key}", entry, finish, pane, planes.front, planes.back)
        return
    cavity = (total - glazing.panes * glazing.pane.mm) / (glazing.panes - 1)
    spacing = ring_corners([light.loop], -covers(light), [(0.0, 0.0, 0.0)], entry)[:, :, 0, :2]
    front = planes.front
    for number in range(glazing.panes):
        back = front + glazing.pane.mm
        yield _pane(light, f"glass.{light.key}.pane{number + 1}", entry, finish, pane, front, back)
        if number + 1 < glazing.panes:
            (ring,) = rings(
                between([pane[None], spacing, spacing, pane[None]], [-back - cavity, -back - cavity, -back, -back]),
                SQUARE,
            )
            yield Part(f"spacer.{light.key}.{number + 1}", entry, "spacer", finishes.spacer, ALONG_V, ring)
        front = back + cavity


def _pane(light: Light, key: str, entry: str, finish: str, pane: Floats, front: Fraction, back: Fraction) -> Part:
    if light.is_rectangle:
        low, high = [[*pane[0], -float(back)]], [[*pane[2], -float(front)]]
        (solid,) = boxes(np.array(low), np.array(high))
    else:
        solid = extrusions([without_repeats(pane)], -float(back), -float(front))
    return Part(key, entry, "glass", finish, ALONG_V, solid)


def without_repeats(points: Floats) -> Floats:
    """A path without points that are one with the point before."""
    apart = np.abs(points - np.roll(points, 1, axis=0)).sum(axis=1) > 1e-6
    return np.asarray(points[apart])
