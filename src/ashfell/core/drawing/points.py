"""The points of a closed path laid out: a section of one's own, or the nodes of a free outline, drawn large to be
moved, typed, added and taken away. Lengths on the sheet are millimetres of paper."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ashfell.core.base.address import Address
from ashfell.core.base.document import dump
from ashfell.core.base.lengths import Length, Style, show
from ashfell.core.base.refusal import Refusal
from ashfell.core.drawing.frame import SIZE
from ashfell.core.drawing.paper import Sheet
from ashfell.core.drawing.sheet import Points
from ashfell.core.solid.section import sampled
from ashfell.core.unit.edit.place import at
from ashfell.core.unit.edit.points import OPEN, POINTS
from ashfell.core.unit.layout import Ring
from ashfell.core.unit.make import Unit

MARGIN = 14.8
CHORD = 0.02
"""Chord tolerance of arcs as they are drawn, a share of the path's size."""


@dataclass(frozen=True)
class Point:
    """One point: the address it is kept at, where it stands on the sheet, its place in mm, and its numbers as they are
    shown.
    """

    entry: str
    number: int
    left: float
    top: float
    place: tuple[float, float]
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
    """A closed path with its points, on a sheet of its own; ``least`` is how few points it may have, ``axes`` what x
    and y are."""

    entry: str
    title: str
    paper: Sheet
    outline: Points
    points: tuple[Point, ...]
    guides: tuple[Guide, ...]
    least: int
    axes: str
    closed: bool = True


TITLES = {"section": "Section", "nodes": "Outline", "path": "Path", "profile": "Profile"}
AXES_OF_PATHS = {
    "nodes": "x to the right, y up",
    "path": "x off the face, y up",
    "profile": "x from the axis, y off the face",
}
OF_PIECE = "x outwards from the turns of the path, y across the leaf"
MEMBER = "x inwards from the edge, y forwards from the face"
AXES_OF = {
    "bead": "x inwards from the bottom of the rebate, y from the inner face",
    "sill": "x outwards from the frame’s face, y up from its foot",
    "apron": "x off the wall, y up",
    "head_drip": "x off the wall, y up",
    "outside": "x outwards from the inner edge, y off the wall",
    "inside": "x outwards from the inner edge, y off the wall",
    "muntins": "x across, y forwards from the face",
    "inner": "x across, y forwards from the face",
}
"""What x and y of a section are, by what it is for; those of any other member are :data:`MEMBER`."""


def points_sheet(unit: Unit, style: Style, entry: str) -> PointsSheet | None:
    """The points at an address; None where there are none."""
    if Address(entry).last not in POINTS:
        return None
    try:
        nodes = at(dump(unit.document), entry, make=False)
    except Refusal:
        return None
    if not nodes:
        return None
    placed = [(float(Length.read(n["x"]).mm), float(Length.read(n["y"]).mm), float(n["bulge"])) for n in nodes]
    guides = list(_guides(unit, entry))
    corners = np.array([(x, y) for x, y, _ in placed] + [corner for _, *box in guides for corner in _corners(*box)])
    low, high = corners.min(axis=0), corners.max(axis=0)
    last = Address(entry).last
    path = np.array(sampled(placed, (float(max(high - low)) or 1.0) * CHORD / 100, closed=last not in OPEN))
    low, high = np.minimum(low, path.min(axis=0)), np.maximum(high, path.max(axis=0))
    sheet = Sheet.fitted_to((*low.tolist(), *high.tolist()), SIZE, (MARGIN,) * 4)
    points = [
        Point(
            f"{entry}.{k}",
            k + 1,
            sheet.x(x),
            sheet.y(y),
            (x, y),
            show(Length.read(node["x"]).mm, style),
            show(Length.read(node["y"]).mm, style),
            f"{bulge:g}",
        )
        for k, (node, (x, y, bulge)) in enumerate(zip(nodes, placed, strict=True))
    ]
    return PointsSheet(
        entry,
        TITLES[last],
        sheet,
        tuple((sheet.x(x), sheet.y(y)) for x, y in path.tolist()),
        tuple(points),
        tuple(Guide(kind, sheet.x(x), sheet.y(y + h), w * sheet.scale, h * sheet.scale) for kind, x, y, w, h in guides),
        3 if last == "section" else 2,
        _axes(Address(entry)),
        closed=last not in OPEN,
    )


def _axes(entry: Address) -> str:
    """What x and y of the points at an address are."""
    if entry.last != "section":
        return AXES_OF_PATHS[entry.last]
    return OF_PIECE if entry.parent.parent.last == "hardware" else AXES_OF.get(entry.parent.last, MEMBER)


def _corners(x: float, y: float, width: float, height: float) -> tuple[tuple[float, float], ...]:
    return (x, y), (x + width, y + height)


def _guides(unit: Unit, entry: str) -> Iterator[tuple[str, float, float, float, float]]:
    """What a section is fitted to: kind, left, foot, width, height, mm."""
    ring = _ring_at(unit, entry)
    bar = next((bar for bar in unit.layout.bars if _is_of(entry, bar.entry)), None)
    if ring is not None:
        face, depth = float(ring.least_face), float(ring.back - ring.front)
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
    return next((ring for ring in unit.layout.all_rings if f"{ring.entry}.section" == entry), None)


def _is_of(entry: str, bar: str) -> bool:
    """Whether a bar is drawn with the section at an entry: its own, or the one all bars of its cell share."""
    found = Address(bar).of_division("bars")
    cell = found.holder if found else Address(bar).parent.parent
    return entry in (f"{bar}.section", cell / "bars.section")
