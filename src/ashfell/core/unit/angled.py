"""Bars along any line or arc: what they leave of a light, and where they run."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from math import hypot

import numpy as np
from shapely.geometry import LineString, Polygon, box

from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.cut import within
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import polygons
from ashfell.core.plane.segment import Segment
from ashfell.core.unit.document import AngledBar, Axis, Cell
from ashfell.core.unit.layout import BarRun, Ring, entry_below
from ashfell.core.unit.own_sections import with_own_section

FAR = 1e5
"""How far a bar's line goes on beyond its points, mm."""


def angled_bars(
    ring: Ring,
    cell: Cell,
    where: tuple[str, str],
    clear: dict[Axis, tuple[Fraction, Fraction]],
    loop: Loop,
    front: Fraction,
    back: Fraction,
) -> tuple[list[Loop], list[BarRun]]:
    """The lights that angled bars leave of one, and the bars; a later bar stops at those before it.

    Raises
    ------
    Refusal
        When a bar does not part the light.
    """
    origin = float(clear["columns"][0]), float(clear["rows"][0])
    loops: list[Loop] = [loop]
    bars: list[BarRun] = []
    for index, bar in enumerate(cell.angled):
        points = centre_line(bar, origin)
        entry = entry_below(where[0], f"angled.{index}")
        tag = f"angled.{where[1]}.{index + 1}"
        rebate = ring.seat.bar_rebate if ring.seat else Fraction(0)
        face, stem = (_strip(points, float(bar.face.mm / 2 - by)) for by in (Fraction(0), rebate))
        if stem is None or face is None or bar.face.mm <= 2 * rebate:
            raise Refusal(
                f"{entry}.face", "a web between the rebates", f"A bar of {float(bar.face.mm):g} mm has no room for two rebates of {float(rebate):g} mm.",
                f"Make it at least {float(2 * rebate + 4):g} mm.", 2 * rebate + 4,
            )  # fmt: skip
        made = BarRun(
            tag, entry, None, Fraction(0), bar.face.mm, Fraction(0), Fraction(0), Fraction(0), Fraction(0), rebate, front,
            ring.seat.stop_back if ring.seat else back, back, cell.bars.edge, points=points,
        )  # fmt: skip
        made = with_own_section(made, cell.bars.section, entry_below(where[0], "bars.section"))
        parted: list[Loop] = []
        for one in loops:
            pieces = polygons(one.polygon.difference(face))
            if len(pieces) < 2:
                parted.append(one)
                continue
            rest = box(*one.bounds).buffer(1.0).difference(face)
            parted += sorted(within(one, rest, tag), key=lambda piece: piece.bounds)
            grown = Polygon(one.points if not ring.seat else _grown(ring, one))
            stems = polygons(stem.intersection(grown))
            for number, piece in enumerate(polygons(face.intersection(one.polygon))):
                own = next((s for s in stems if s.intersects(piece)), None)
                bars.append(replace(made, id=f"{tag}.{len(bars) + number + 1}", face_region=piece, stem_region=own))
        if len(parted) == len(loops):
            raise Refusal(
                entry,
                "a bar that parts its light",
                f"Angled bar {index + 1} does not cross its light.",
                "Move its points so that it does.",
            )
        loops = parted
    return loops, bars


def _grown(ring: Ring, loop: Loop) -> np.ndarray:
    seat = ring.seat
    assert seat is not None
    grown = loop.moved([-float(rebate) for rebate in seat.rebates(loop)])
    return grown if grown is not None else loop.points


def centre_line(bar: AngledBar, origin: tuple[float, float]) -> tuple[tuple[float, float], ...]:
    """The centre line in unit space: a line goes on far beyond its points, an arc ends at them."""
    start, end = ((float(x.mm) + origin[0], float(y.mm) + origin[1]) for x, y in ((bar.x1, bar.y1), (bar.x2, bar.y2)))
    length = hypot(end[0] - start[0], end[1] - start[1])
    if length < 1:
        raise Refusal("angled", "two points", "The two points of an angled bar are one.", "Move one of them.")
    if bar.bulge:
        arc = Segment(start, end, bar.bulge)
        count = arc.pieces()
        return tuple(arc.point_at(k / count) for k in range(count + 1))
    along = (end[0] - start[0]) / length, (end[1] - start[1]) / length
    return (start[0] - FAR * along[0], start[1] - FAR * along[1]), (end[0] + FAR * along[0], end[1] + FAR * along[1])


def _strip(points: tuple[tuple[float, float], ...], half: float) -> Polygon | None:
    if half <= 0:
        return None
    made = LineString(points).buffer(half, cap_style="flat", join_style="mitre", mitre_limit=10)
    return made if isinstance(made, Polygon) else None
