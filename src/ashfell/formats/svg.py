"""SVG drawings: the elevation of a unit and the plan of a site, on a sheet measured in its own units."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache
from itertools import islice
from xml.sax.saxutils import escape, quoteattr

import numpy as np

from ashfell.core.base.lengths import Style, show
from ashfell.core.drawing.dimension import dimensions
from ashfell.core.drawing.view import Dimension, Shape
from ashfell.core.finish import TINT
from ashfell.core.plane.outline import Outline
from ashfell.core.plane.points import Floats
from ashfell.core.solid.topology import Indices
from ashfell.core.unit import Unit

INK = "#2f2c28"
PAPER: dict[str, tuple[int, int, int]] = {
    "frame": (244, 240, 231),
    "bar": (238, 233, 222),
    "sash": (250, 247, 240),
    "muntin": (246, 243, 235),
    "bead": (232, 226, 214),
    "panel": (236, 231, 221),
    "louvre": (240, 236, 228),
    "casing": (238, 234, 226),
    "sill": (228, 222, 211),
    "came": (96, 97, 98),
    "spacer": (190, 190, 188),
    "glass": (211, 221, 222),
    "gasket": (74, 71, 67),
}
"""What each role is filled with on paper, in full light."""


Extent = tuple[float, float, float, float]


def extent_of(shapes: Iterable[Shape]) -> Extent:
    """Left, foot, right and head of all that is drawn, mm."""
    points = np.concatenate([loop for shape in shapes for loop in shape.loops])
    (left, foot), (right, head) = points.min(axis=0).tolist(), points.max(axis=0).tolist()
    return left, foot, right, head


MANY, SEEN, PASSES = 24, 0.16, 2
"""A path of more points than this is drawn without those nobody would see missing, in sheet units."""


@dataclass(frozen=True)
class Sheet:
    """Where a drawing stands on its sheet: ``scale`` is sheet units per mm, ``left`` and ``foot`` are its origin."""

    width: float
    height: float
    scale: float
    left: float
    foot: float

    @classmethod
    def fitted(
        cls, across: float, up: float, size: tuple[float, float], margins: tuple[float, float, float, float]
    ) -> Sheet:
        """The largest drawing of ``across`` by ``up`` mm on a sheet of ``size``, centred between ``margins`` (left,
        right, top, foot)."""
        (width, height), (left, right, top, foot) = size, margins
        room_x, room_y = width - left - right, height - top - foot
        scale = min(room_x / across, room_y / up)
        return cls(
            width, height, scale, left + (room_x - across * scale) / 2, height - foot - (room_y - up * scale) / 2
        )

    @classmethod
    def fitted_to(cls, extent: Extent, size: tuple[float, float], margins: tuple[float, float, float, float]) -> Sheet:
        """As :meth:`fitted`, for a drawing from ``extent`` (left, foot, right, head), mm."""
        left, foot, right, head = extent
        made = cls.fitted(right - left, head - foot, size, margins)
        return replace(made, left=made.left - left * made.scale, foot=made.foot + foot * made.scale)

    def x(self, u: float | Fraction) -> float:
        return round(self.left + float(u) * self.scale, 2)

    def y(self, v: float | Fraction) -> float:
        return round(self.foot - float(v) * self.scale, 2)

    def paths(self, loops: Sequence[Floats]) -> list[str]:
        """A closed path for each loop of points (k, 2), in sheet coordinates as SVG writes them."""
        points = np.concatenate(loops) * (self.scale, -self.scale) + (self.left, self.foot)
        counts = np.array([len(loop) for loop in loops])
        for _ in range(PASSES if (counts > MANY).any() else 0):
            points, counts = _thinned(points, counts)
        numbers = iter(np.round(points, 2).ravel().tolist())
        return [_written(count) % tuple(islice(numbers, 2 * count)) for count in counts.tolist()]


def _thinned(points: Floats, counts: Indices) -> tuple[Floats, Indices]:
    """Closed paths one behind another, each of as many points as ``counts`` says: the long ones without every second point
    where nobody would see it missing."""
    starts = np.cumsum(counts) - counts
    place = np.arange(len(points))
    before, ahead = place - 1, place + 1
    before[starts] = starts + counts - 1
    ahead[starts + counts - 1] = starts
    chord, own = points[ahead] - points[before], points - points[before]
    away = np.abs(chord[:, 0] * own[:, 1] - chord[:, 1] * own[:, 0])
    second = (place - np.repeat(starts, counts)) % 2 == 1
    gone = second & np.repeat(counts > MANY, counts) & (away < SEEN * np.hypot(chord[:, 0], chord[:, 1]))
    return points[~gone], counts - np.add.reduceat(gone, starts, dtype=np.int64)


@lru_cache(maxsize=1024)
def _written(count: int) -> str:
    """How a closed path of so many points is written."""
    return f"M{' '.join(['%g,%g'] * count)}Z"


FINE, MOULDED = 0.9, 4
"""Bands narrower than this on the sheet are a moulding's where a part has so many of them: they are drawn as shading."""


def shapes_svg(shapes: Iterable[Shape], sheet: Sheet) -> str:
    """Faces, back to front, each with the part and the entry it stands for."""
    drawn = list(shapes)
    if not drawn:
        return ""
    paths = iter(sheet.paths([loop for shape in drawn for loop in shape.loops]))
    fine = (_breadths(drawn) * sheet.scale < FINE).tolist()
    narrow = Counter(shape.part for shape, is_narrow in zip(drawn, fine, strict=True) if is_narrow)
    return "".join(
        f'<path d="{"".join(islice(paths, len(shape.loops)))}" fill-rule="evenodd" fill="{_fill(shape)}" class="part {shape.role}'
        f"{HAIRLINE if is_narrow and narrow[shape.part] >= MOULDED else CLOSED} "
        f"data-part={quoteattr(shape.part)} data-entry={quoteattr(shape.entry)}/>"
        for shape, is_narrow in zip(drawn, fine, strict=True)
    )


HAIRLINE, CLOSED = ' fine" stroke-width=".2" stroke-opacity=".5"', '"'
"""How the class of a face goes on."""


def _breadths(shapes: Sequence[Shape]) -> Floats:
    """How broad each face is, mm: a band is twice its area by its edges' length."""
    loops = [loop for shape in shapes for loop in shape.loops]
    ends = np.cumsum([len(loop) for loop in loops])
    starts = np.concatenate([[0], ends[:-1]])
    x, y = np.concatenate(loops).T
    ahead = np.arange(1, len(x) + 1)
    ahead[ends - 1] = starts
    first = starts[np.cumsum([0, *(len(shape.loops) for shape in shapes[:-1])])]
    area = np.add.reduceat(x * y[ahead] - x[ahead] * y, first) / 2
    length = np.add.reduceat(np.hypot(x[ahead] - x, y[ahead] - y), first)
    return np.asarray(2 * np.abs(area) / np.maximum(length, 1e-9))


def _fill(shape: Shape) -> str:
    tint = TINT.fullmatch(shape.finish)
    if tint:
        return f"#{tint[1]}"
    full = PAPER.get(shape.role, (228, 224, 216))
    tone = 1.0 if shape.role in ("glass", "gasket", "came") else 0.62 + 0.5 * shape.tone
    return "#" + "".join(f"{min(255, round(value * tone)):02x}" for value in full)


def elevation_svg(unit: Unit, style: Style = Style()) -> str:
    """The outer elevation with all its dimensions, as a file that stands alone."""
    sheet = Sheet.fitted_to(extent_of(unit.shapes), (900, 900), (130, 100, 60, 100))
    frame = (sheet.x(0), sheet.y(unit.layout.outer.height), sheet.x(unit.layout.outer.width), sheet.y(0))
    chains = "".join(_dimension_svg(dimension, sheet, frame, style) for dimension in dimensions(unit.layout))
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {sheet.width:g} {sheet.height:g}" '
        f'font-family="Barlow, sans-serif" font-size="13" fill="{INK}">'
        f"<title>{escape(unit.document.name)}</title>"
        f'<g stroke="{INK}" stroke-width=".6" stroke-linejoin="round">{shapes_svg(unit.shapes, sheet)}</g>'
        f'<g stroke="{INK}" stroke-width=".6">{chains}</g></svg>'
    )


def _dimension_svg(dimension: Dimension, sheet: Sheet, frame: tuple[float, float, float, float], style: Style) -> str:
    """One dimension line with ticks: overall sizes above and to the right, the chain below and to the left."""
    left, top, right, foot = frame
    overall, member = dimension.kind == "overall", dimension.kind in ("bar", "edge")
    text = escape(show(dimension.size, style))
    if dimension.axis == "columns":
        level = top - 24 if overall else foot + 34
        a, b = sheet.x(dimension.start), sheet.x(dimension.end)
        return _line(a, level, b, level) + _text((a + b) / 2, level + (22 if member else -7), text, "middle")
    level = right + 24 if overall else left - 34
    a, b = sheet.y(dimension.start), sheet.y(dimension.end)
    side = 8 if overall else -44 if member else -8
    return _line(level, a, level, b) + _text(level + side, (a + b) / 2 + 4, text, "start" if overall else "end")


def _line(x1: float, y1: float, x2: float, y2: float) -> str:
    ticks = "".join(f'<path d="M{x - 3:g} {y + 3:g}l6 -6" stroke-width="1.2"/>' for x, y in ((x1, y1), (x2, y2)))
    return f'<line x1="{x1:g}" y1="{y1:g}" x2="{x2:g}" y2="{y2:g}"/>{ticks}'


def _text(x: float, y: float, text: str, anchor: str) -> str:
    return f'<text x="{x:g}" y="{y:g}" text-anchor="{anchor}" stroke="none">{text}</text>'


def thumbnail_svg(unit: Unit) -> str:
    """The outer elevation alone, small."""
    sheet = Sheet.fitted_to(extent_of(unit.shapes), (200, 160), (6, 6, 6, 6))
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {sheet.width:g} {sheet.height:g}">'
        f'<g stroke="{INK}" stroke-width=".35" stroke-linejoin="round">{shapes_svg(unit.shapes, sheet)}</g></svg>'
    )


def path_svg(nodes: Iterable[tuple[float, float, float]]) -> str:
    """A closed path of lines and arcs alone, small."""
    points = Outline.of(nodes).facets(0.5).points
    sheet = Sheet.fitted_to((*points.min(axis=0).tolist(), *points.max(axis=0).tolist()), (200, 160), (6, 6, 6, 6))
    return f'<svg viewBox="0 0 200 160"><path d="{sheet.paths([points])[0]}" fill="none" stroke="{INK}"/></svg>'
