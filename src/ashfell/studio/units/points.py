"""The points of a closed path as a form: a section of one's own, or the nodes of a free outline, drawn large to be moved, typed,
added and taken away."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ashfell.core.base.document import dump
from ashfell.core.base.lengths import Length, Style, show
from ashfell.core.base.refusal import Refusal
from ashfell.core.solid.section import sampled
from ashfell.core.unit import Unit
from ashfell.core.unit.edit.place import at
from ashfell.core.unit.edit.points import POINTS
from ashfell.core.unit.layout import Ring
from ashfell.formats.svg import Sheet
from ashfell.studio.units.sheet import SIZE

MARGIN = 56.0
CHORD = 0.02
"""Chord tolerance of arcs as they are drawn, a share of the path's size."""


@dataclass(frozen=True)
class Point:
    """One point: where it stands on the sheet, and its numbers as they are shown."""

    entry: str
    number: int
    left: float
    top: float
    x: float
    y: float
    shown_x: str
    shown_y: str
    bulge: str


@dataclass(frozen=True)
class Guide:
    """A rectangle behind the path: the member it is fitted to, or its rebate."""

    kind: str
    x: float
    y: float
    width: float
    height: float


@dataclass(frozen=True)
class PointsSheet:
    """A closed path with its points, on a sheet of its own."""

    entry: str
    title: str
    width: float
    height: float
    scale: float
    left: float
    foot: float
    d: str
    points: tuple[Point, ...]
    guides: tuple[Guide, ...]
    least: int


def points_sheet(unit: Unit, style: Style, entry: str) -> PointsSheet | None:
    """The points at an entry; None where there are none."""
    if entry.rpartition(".")[2] not in POINTS:
        return None
    try:
        nodes = at(dump(unit.document), entry, make=False)
    except Refusal:
        return None
    if not nodes:
        return None
    placed = [(float(Length.read(n["x"]).mm), float(Length.read(n["y"]).mm), float(n["bulge"])) for n in nodes]
    rectangles = list(_guides(unit, entry))
    corners = np.array([(x, y) for x, y, _ in placed] + [corner for _, *box in rectangles for corner in _corners(*box)])
    low, high = corners.min(axis=0), corners.max(axis=0)
    size = float(max(high - low)) or 1.0
    path = np.array(sampled(placed, size * CHORD / 100, closed=True))
    low, high = np.minimum(low, path.min(axis=0)), np.maximum(high, path.max(axis=0))
    sheet = Sheet.fitted_to((*low.tolist(), *high.tolist()), SIZE, (MARGIN,) * 4)
    return PointsSheet(
        entry,
        "Section" if entry.endswith("section") else "Outline",
        *SIZE,
        round(sheet.scale, 6),
        round(sheet.left, 3),
        round(sheet.foot, 3),
        sheet.paths([path])[0],
        tuple(
            Point(
                f"{entry}.{k}", k + 1, sheet.x(x), sheet.y(y), x, y, show(Length.read(n["x"]).mm, style), show(Length.read(n["y"]).mm, style), f"{bulge:g}"
            )
            for k, (n, (x, y, bulge)) in enumerate(zip(nodes, placed, strict=True))
        ),
        tuple(
            Guide(kind, sheet.x(x), sheet.y(y + height), round(width * sheet.scale, 2), round(height * sheet.scale, 2))
            for kind, x, y, width, height in rectangles
        ),
        2 if entry.endswith("nodes") else 3,
    )  # fmt: skip


def _corners(x: float, y: float, width: float, height: float) -> tuple[tuple[float, float], ...]:
    return (x, y), (x + width, y + height)


def _guides(unit: Unit, entry: str) -> Iterator[tuple[str, float, float, float, float]]:
    """What a section is fitted to: kind, left, foot, width, height, mm."""
    ring = _ring_at(unit, entry)
    bar = next((bar for bar in unit.layout.bars if _is_of(entry, bar.entry)), None)
    if ring is not None:
        face, depth = float(ring.faces.min()), float(ring.back - ring.front)
        yield "member", 0.0, -depth, face, depth
        if ring.seat:
            rebate, stop = float(ring.seat.rebate), float(ring.seat.stop_back - ring.front)
            yield "rebate", face - rebate, -depth, rebate, depth - stop
    elif bar is not None:
        face, depth, rebate = float(bar.face), float(bar.back - bar.front), float(bar.rebate)
        yield "member", 0.0, -depth, face, depth
        if rebate:
            stop = float(bar.stop - bar.front)
            yield "rebate", 0.0, -depth, rebate, depth - stop
            yield "rebate", face - rebate, -depth, rebate, depth - stop


def _ring_at(unit: Unit, entry: str) -> Ring | None:
    rings = (*unit.layout.rings, *(body.ring for body in unit.layout.bodies))
    return next((ring for ring in rings if f"{ring.entry}.section" == entry), None)


def _is_of(entry: str, bar: str) -> bool:
    """Whether a bar is drawn with the section at an entry: its own, or the one all bars of its cell share."""
    if entry == f"{bar}.section":
        return True
    cell = bar
    for last in (".columns.", ".rows.", ".angled."):
        cell = f".{cell}".rpartition(last)[0].lstrip(".") if last in f".{cell}" else cell
    return entry == (f"{cell}.bars.section" if cell else "bars.section")
