"""Bars along any line or arc: what they leave of a light, and where they run."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction
from math import atan2, floor, hypot, pi

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon, box

from ashfell.core.base.address import entry_below
from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.cut import within
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import polygons
from ashfell.core.plane.segment import Segment
from ashfell.core.unit.document.cell import Cell
from ashfell.core.unit.document.members import AngledBar, Axis
from ashfell.core.unit.layout import BarRun, Ring
from ashfell.core.unit.members.bar import BESIDE, around
from ashfell.core.unit.members.limits import check_bar
from ashfell.core.unit.members.own_section import with_own_section, without_stop
from ashfell.core.unit.members.rebates import grown

FAR = 1e5
"""How far a bar's line goes on beyond its points, mm."""


def angled_bars(
    ring: Ring,
    cell: Cell,
    where: tuple[str, str],
    clear: dict[Axis, tuple[Fraction, Fraction]],
    loop: Loop,
    planes: tuple[Fraction, Fraction],
) -> tuple[list[Loop], list[BarRun]]:
    """The lights that angled bars leave of one, and the bars; a later bar stops at those before it.

    Parameters
    ----------
    ring, cell : Ring, Cell
    where : pair of str
        Address and key of the light.
    clear : dict
        Its clear opening along each axis, mm: the points of the bars are measured from its lower left.
    loop : Loop
        The light.
    planes : pair of Fraction
        Front and back of the bars behind the unit's outer face, mm.

    Raises
    ------
    Refusal
        When a bar does not part the light, or has no room for its rebates.
    """
    origin = float(clear["columns"][0]), float(clear["rows"][0])
    loops: list[Loop] = [loop]
    bars: list[BarRun] = []
    for index, bar in enumerate(cell.angled):
        entry, tag = entry_below(where[0], f"angled.{index}"), f"angled.{where[1]}.{index + 1}"
        made = _run(ring, cell, bar, (entry, tag), centre_line(bar, origin, entry, loop), planes)
        made = with_own_section(made, cell.bars.section, entry_below(where[0], "bars.section"))
        check_bar(ring, made, *(entry_below(where[0], f"bars.{name}") for name in ("edge", "depth")))
        parted, pieces = _parted(ring, loops, made, len(bars))
        if len(parted) == len(loops):
            raise Refusal(
                entry,
                "a bar that parts its light",
                f"Angled bar {index + 1} does not cross its light.",
                "Move its points so that it does.",
            )
        loops, bars = parted, [*bars, *pieces]
    return loops, _between_panes(ring, loops, bars, entry_below(where[0], "angled.0"))


MEET = 1e-3
"""How much two rebates may share by rounding, mm²."""


def _between_panes(ring: Ring, loops: Sequence[Loop], bars: Sequence[BarRun], entry: str) -> list[BarRun]:
    """The bars, their stems standing clear of what goes into the rebates of every light.

    Raises
    ------
    Refusal
        When the rebates of two lights run into each other.
    """
    if not ring.seat or not bars:
        return list(bars)
    panes = [Polygon(grown(ring, loop)).buffer(0) for loop in loops]
    first, second = shapely.STRtree(panes).query(panes, predicate="intersects")
    for a, b in zip(first.tolist(), second.tolist(), strict=True):
        if a < b and (shared := panes[a].intersection(panes[b]).area) > MEET:
            raise Refusal(
                entry,
                "rebates that stay apart",
                f"Where a bar meets an edge at a shallow angle the rebates of two lights share {shared:.4g} mm².",
                "Move its points, or make it straighter.",
            )
    filled = shapely.union_all(panes)
    return [
        replace(bar, stem_region=_largest(bar.stem_region.difference(filled), bar))
        if bar.stem_region
        else replace(bar, face_region=max(polygons(bar.face_region.difference(filled)), key=lambda piece: piece.area))
        if bar.face_region and not bar.rebate
        else bar
        for bar in bars
    ]


def _largest(region: Polygon, bar: BarRun) -> Polygon | None:
    """The piece of a stem that carries the bar's face."""
    assert bar.face_region is not None
    pieces = [piece for piece in polygons(region) if piece.intersects(bar.face_region)]
    return max(pieces, key=lambda piece: piece.area, default=None)


_Points = tuple[tuple[float, float], ...]


def _run(
    ring: Ring, cell: Cell, bar: AngledBar, names: tuple[str, str], points: _Points, planes: tuple[Fraction, Fraction]
) -> BarRun:
    """The whole bar, before it is cut to what it meets."""
    (entry, tag), (front, back), nothing = names, planes, Fraction(0)
    rebate, stop = (ring.seat.bar_rebate, ring.seat.stop_back) if ring.seat else (nothing, back)
    return BarRun(
        tag,
        entry,
        None,
        nothing,
        bar.face.mm,
        nothing,
        nothing,
        nothing,
        nothing,
        rebate,
        front,
        stop,
        back,
        cell.bars.edge,
        points=points,
    )


def _parted(ring: Ring, loops: Sequence[Loop], bar: BarRun, count: int) -> tuple[list[Loop], list[BarRun]]:
    """What a bar leaves of loops, and its piece in each; ``count`` bars are there before it."""
    half = float(bar.face / 2)
    face, wider, stem = (_strip(bar.points, by) for by in (half, half + BESIDE, half - float(bar.rebate)))
    parted: list[Loop] = []
    found: list[BarRun] = []
    for one in loops:
        if len(polygons(one.polygon.difference(face))) < 2:
            parted.append(one)
            continue
        rest = box(*one.bounds).buffer(1.0).difference(face)
        parted += sorted(within(one, rest, bar.id, curved=len(bar.points) > 2), key=lambda piece: piece.bounds)
        rebated = Polygon(grown(ring, one))
        stems = polygons(stem.intersection(rebated))
        plain = without_stop(bar)
        if plain is not bar:
            beside = _strip(bar.points, half - float(bar.rebate) + BESIDE)
            found += [
                replace(plain, id=f"{bar.id}.{count + len(found) + number + 1}", face_region=region)
                for number, region in enumerate(around(stems, beside, rebated))
            ]
            continue
        pieces = polygons(face.intersection(one.polygon))
        for number, (piece, region) in enumerate(zip(pieces, around(pieces, wider, one.polygon), strict=True)):
            own = next((s for s in stems if s.intersects(piece)), None)
            key = f"{bar.id}.{count + len(found) + number + 1}"
            found.append(replace(bar, id=key, face_region=region, stem_region=own))
    return parted, found


def centre_line(bar: AngledBar, origin: tuple[float, float], entry: str, loop: Loop) -> _Points:
    """The centre line in unit space, mm, of a bar that parts a loop: it goes on beyond its points to the edges, an arc
    along its circle.

    Raises
    ------
    Refusal
        When its two points are one, or it turns more sharply than it is wide, or never meets an edge.
    """
    start, end = ((float(x.mm) + origin[0], float(y.mm) + origin[1]) for x, y in ((bar.x1, bar.y1), (bar.x2, bar.y2)))
    length = hypot(end[0] - start[0], end[1] - start[1])
    if length < 1:
        raise Refusal(entry, "two points", "The two points of an angled bar are one.", "Move one of them.")
    if bar.bulge:
        return _along_arc(Segment(start, end, bar.bulge), float(bar.face.mm), entry, loop)
    along = (end[0] - start[0]) / length, (end[1] - start[1]) / length
    return (start[0] - FAR * along[0], start[1] - FAR * along[1]), (end[0] + FAR * along[0], end[1] + FAR * along[1])


def _along_arc(arc: Segment, face: float, entry: str, loop: Loop) -> _Points:
    """The centre line of a curved bar: its arc, continued at both ends until the whole face has left the loop."""
    radius, widest = abs(arc.radius), floor(2 * abs(arc.radius)) - 1
    if face > widest:
        raise Refusal(
            f"{entry}.face",
            "a bar narrower than its curve",
            f"An arc of radius {radius:.6g} mm turns too sharply for a bar of {face:g} mm.",
            f"Make it at most {widest} mm." if widest > 0 else "Make the arc flatter.",
            Fraction(widest) if widest > 0 else None,
        )
    count = arc.pieces()
    spare = int((2 * pi - abs(arc.angle) - face / radius) / abs(arc.angle) * count)
    before, after = (_till_outside(arc, face / 2, loop, end, sign / count, spare) for end, sign in ((0, -1), (1, 1)))
    if before + after > spare:
        raise Refusal(
            entry,
            "an arc that meets the edges",
            f"An arc of radius {radius:.6g} mm turns round within its light.",
            "Move its points, or make it flatter.",
        )
    return tuple(arc.point_at(k / count) for k in range(-before, count + after + 1))


def _till_outside(arc: Segment, half: float, loop: Loop, end: int, step: float, most: int) -> int:
    """After how many steps (shares of the arc) beyond an end none of a bar's face lies in a loop; more than ``most``
    when it never leaves."""
    (x, y), radius = arc.centre, abs(arc.radius)
    shares = end + step * np.arange(most + 1)
    turns = atan2(arc.start[1] - y, arc.start[0] - x) + arc.angle * shares
    outwards = np.column_stack([np.cos(turns), np.sin(turns)])
    ends = np.stack([outwards * (radius - half), outwards * (radius + half)], axis=1) + np.array((x, y))
    outside = np.flatnonzero(~shapely.intersects(loop.polygon, shapely.linestrings(ends)))
    return int(outside[0]) if len(outside) else most + 1


def _strip(points: _Points, half: float) -> Polygon:
    """The region within a distance of a line."""
    made = LineString(points).buffer(half, cap_style="flat", join_style="mitre", mitre_limit=10)
    return max(polygons(made), key=lambda piece: piece.area)
