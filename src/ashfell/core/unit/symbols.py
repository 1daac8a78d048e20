"""Opening symbols on an elevation: two lines that meet at the hinged side, or an arrow the way a sash slides.

The convention is that of ISO and EN drawings of windows (from memory): whole lines for a sash that swings towards the one who
looks, dashed ones for a sash that swings away.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from shapely.geometry import LineString, Polygon

from ashfell.core.unit.document import Sash
from ashfell.core.unit.layout import Layout, Light, SashLayout
from ashfell.core.unit.opening import swings_in

Point = tuple[float, float]


@dataclass(frozen=True)
class Symbol:
    """One symbol: its lines as paths of points, mm, whether it swings inwards, and the light it is for."""

    paths: tuple[tuple[Point, ...], ...]
    inwards: bool
    entry: str
    kind: str


def symbols(layout: Layout) -> Iterator[Symbol]:
    """The symbols of all sashes that open."""
    for light in layout.lights:
        for sash in light.sashes:
            if isinstance(light.fill, Sash) and len(sash.axis) == 2:
                yield _hung(light, light.fill, sash)
            elif sash.slides != (0.0, 0.0):
                yield Symbol(_arrow(sash), False, light.entry, "slides")


def _hung(light: Light, fill: Sash, sash: SashLayout) -> Symbol:
    left, foot, right, head = sash.body.ring.loop.bounds
    (x1, y1), (x2, y2) = sash.axis
    upright = x1 == x2
    if fill.opening.startswith("pivot"):
        return Symbol((((x1, y1), (x2, y2)),), swings_in(fill), light.entry, "turns")
    tip = (x1, (foot + head) / 2) if upright else ((left + right) / 2, y1)
    far = right if x1 == left else left
    base = (
        ((far, foot), (far, head))
        if upright
        else ((left, foot if y1 == head else head), (right, foot if y1 == head else head))
    )
    paths = [(base[0], tip, base[1])]
    if fill.opening == "tilt-and-turn":
        paths.append(((left, head), ((left + right) / 2, foot), (right, head)))
    within = sash.body.ring.loop.polygon
    return Symbol(
        tuple(piece for path in paths for piece in _inside(path, within)), swings_in(fill), light.entry, "swings"
    )


def _inside(path: tuple[Point, ...], within: Polygon) -> Iterator[tuple[Point, ...]]:
    """What of a path lies on the sash."""
    cut = LineString(path).intersection(within)
    for piece in getattr(cut, "geoms", [cut]):
        if isinstance(piece, LineString) and piece.length:
            yield tuple((float(x), float(y)) for x, y in piece.coords)


def _arrow(sash: SashLayout) -> tuple[tuple[Point, ...], ...]:
    left, foot, right, head = sash.body.ring.loop.bounds
    x, y = (left + right) / 2, (foot + head) / 2
    size = min(right - left, head - foot) * 0.3
    dx, dy = sash.slides
    length = (dx**2 + dy**2) ** 0.5
    ux, uy = dx / length, dy / length
    tip, tail = (x + ux * size / 2, y + uy * size / 2), (x - ux * size / 2, y - uy * size / 2)
    barb = size * 0.22
    return (
        (tail, tip),
        (
            (tip[0] - ux * barb - uy * barb, tip[1] - uy * barb + ux * barb),
            tip,
            (tip[0] - ux * barb + uy * barb, tip[1] - uy * barb - ux * barb),
        ),
    )
