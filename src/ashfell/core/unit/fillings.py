"""What fills a light besides glass: panels, louvres, the strips a sash closes against, the lining of a light without glass."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil, cos, radians, sin

import numpy as np
from shapely.geometry import Point, box

from ashfell.core.base.refusal import Refusal
from ashfell.core.parts import Part
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import Floats, polygons
from ashfell.core.solid.plate import extrusions, loft
from ashfell.core.solid.ring import ring_corners
from ashfell.core.solid.section import edge_points
from ashfell.core.solid.sweep import strip, tidy
from ashfell.core.solid.topology import Solid
from ashfell.core.unit.document import Finishes, Louvres, Panel, Sash
from ashfell.core.unit.glazing import covers, gasket_of, planes_of, without_repeats
from ashfell.core.unit.layout import Light
from ashfell.core.unit.opening import hung_planes, swings_in
from ashfell.core.unit.rings import strips

ALONG_U, ALONG_V = (1.0, 0.0, 0.0), (0.0, 1.0, 0.0)


def lining_parts(light: Light, finishes: Finishes) -> Iterator[Part]:
    """What fills a ring's rebate round a light that holds no glass, so that its reveal is plain."""
    seat = light.ring.seat
    if seat is None or light.holds_glass:
        return
    by = -np.array(seat.rebates(light.loop), dtype=float)
    stop, back = -float(seat.stop_back), -float(seat.bead_back)
    profile = [(1.0, 0.0, back), (0.0, 0.0, back), (0.0, 0.0, stop), (1.0, 0.0, stop)]
    finish = finishes.sash if light.ring.role == "sash" else finishes.frame
    yield from strips(light.loop, by, profile, light.ring.role, f"lining.{light.key}", light.ring.entry, finish)


def stop_parts(light: Light, finishes: Finishes) -> Iterator[Part]:
    """The strip a hung sash closes against: behind one that swings out, before one that swings in."""
    fill = light.fill
    if not isinstance(fill, Sash) or not fill.stop.mm or fill.opening.startswith(("fixed", "pivot")):
        return
    front, back = hung_planes(light, fill)
    if swings_in(fill):
        low, high = -float(front), -float(light.ring.front) - light.ring.edge.drop
    else:
        low, high = -float(light.ring.seat.bead_back if light.ring.seat else light.ring.back), -float(back)
    width = float(fill.stop.mm)
    if high - low < 1:
        return
    profile = [(0.0, 0.0, low), (0.0, width, low), (0.0, width, high), (0.0, 0.0, high)]
    nothing = np.zeros(len(light.loop.points))
    yield from strips(light.loop, nothing, profile, "frame", f"stop.{light.key}", light.entry, finishes.frame)


def panel_parts(light: Light, finishes: Finishes) -> Iterator[Part]:
    """A flat, raised or framed panel in the rebate."""
    fill = light.fill
    if not isinstance(fill, Panel):
        return
    planes, finish = planes_of(light), fill.finish or finishes.panel
    front, back = -float(planes.front), -float(planes.back)
    slab = _around(light, -covers(light), 0.0)
    if fill.style == "raised":
        shows = float(gasket_of(light).shows.mm)
        margin, bevel, rise = (float(size.mm) for size in (fill.margin, fill.bevel, fill.rise))
        foot, field = (
            _around(light, np.zeros(len(slab)), shows + margin),
            _around(light, np.zeros(len(slab)), shows + margin + bevel),
        )
        levels = [(slab, back), (slab, front), (foot, front), (field, front + rise)]
        yield Part(f"panel.{light.key}", light.entry, "panel", finish, ALONG_V, _raised(levels))
        return
    yield Part(
        f"panel.{light.key}", light.entry, "panel", finish, ALONG_V, extrusions([without_repeats(slab)], back, front)
    )
    if fill.style == "framed":
        shows = float(gasket_of(light).shows.mm)
        margin, rise = float(fill.margin.mm), float(fill.rise.mm)
        if fill.edge.reach >= margin or fill.edge.drop > rise:
            raise Refusal(
                f"{light.entry}.edge.size", "a moulding with a face", f"An edge worked by {fill.edge.reach:g} mm is too large for a moulding {margin:g} by {rise:g} mm.",
                f"It must stay below {min(margin, rise):g} mm.",
            )  # fmt: skip
        worked = [(0.0, shows + margin - x, front + rise - y) for x, y in edge_points(fill.edge)]
        profile = [(0.0, shows, front), (0.0, shows, front + rise), *worked, (0.0, shows + margin, front)]
        yield from strips(
            light.loop, np.zeros(len(slab)), profile, "panel", f"moulding.{light.key}", light.entry, finish
        )


def _around(light: Light, by: Floats, more: float) -> Floats:
    return ring_corners([light.loop], by, [(1.0, more, 0.0)], f"{light.entry}.margin")[0, :, 0, :2]


def _raised(levels: list[tuple[Floats, float]]) -> Solid:
    return loft(np.array([np.column_stack([points, np.full(len(points), w)]) for points, w in levels]))


def louvre_parts(light: Light, finishes: Finishes) -> Iterator[Part]:
    """Blades across a light, falling towards the outside, a pitch apart from the foot up."""
    fill = light.fill
    if not isinstance(fill, Louvres):
        return
    angle, pitch = radians(fill.angle), float(fill.pitch.mm)
    blade, thick = float(fill.blade.mm), float(fill.thickness.mm)
    deep, high = blade * cos(angle) + thick * sin(angle), blade * sin(angle) + thick * cos(angle)
    front = float(light.ring.front + fill.setback.mm)
    room = float(light.ring.back - light.ring.front - fill.setback.mm)
    if deep > room:
        raise Refusal(
            f"{light.entry}.blade", "blades within the frame", f"Blades of {blade:g} mm at {fill.angle:g}° are {deep:.1f} mm deep; the frame leaves {room:g}.",
            f"They can be at most {max(0.0, (room - thick * sin(angle)) / cos(angle)):.1f} mm wide.",
        )  # fmt: skip
    if pitch * cos(angle) < thick:
        raise Refusal(
            f"{light.entry}.pitch", "blades stay apart", f"A pitch of {pitch:g} mm lets blades {thick:g} mm thick at {fill.angle:g}° touch.",
            f"It must be at least {ceil(thick / cos(angle))} mm.",
        )  # fmt: skip
    # A blade's section in (w, v): its outer lower corner is the origin; it rises towards the inside.
    corners = [
        (0.0, 0.0),
        (thick * sin(angle), thick * cos(angle)),
        (thick * sin(angle) - blade * cos(angle), thick * cos(angle) + blade * sin(angle)),
        (-blade * cos(angle), blade * sin(angle)),
    ]
    shift = max(x for x, _ in corners)
    section = tidy([(v, x - shift - front) for x, v in corners])
    _, foot, _, head = light.loop.bounds
    count = int((head - foot - high) // pitch) + 1 if head - foot >= high else 0
    start = foot + (head - foot - (count - 1) * pitch - high) / 2
    for number in range(count):
        v = start + number * pitch
        for more, ends in enumerate(_clear_between(light.loop, v, v + high)):
            placed = np.array([[(u, v + across, w) for across, w in section] for u in ends])
            key = f"louvre.{light.key}.{number + 1}" + (f".{more + 1}" if more else "")
            yield Part(key, light.entry, "louvre", fill.finish or finishes.louvre, ALONG_U, strip(placed, section))


LEAST_BLADE = 20.0
"""A blade shorter than this is left out, mm."""


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
