"""Opening symbols on an elevation: two lines that meet at the hinged side, or an arrow the way a sash slides.

The convention is that of ISO and EN drawings of windows (from memory): whole lines for a sash that swings towards the
one who looks, dashed ones for a sash that swings away.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from shapely.geometry import LineString, Polygon

from ashfell.core.unit.layout import Layout, SashLayout

Point = tuple[float, float]


@dataclass(frozen=True)
class Symbol:
    """One symbol: its lines as paths of points, mm, whether it swings inwards, and the address it is for."""

    paths: tuple[tuple[Point, ...], ...]
    inwards: bool
    entry: str
    kind: str


def symbols(layout: Layout) -> Iterator[Symbol]:
    """The symbols of everything that opens."""
    for light in layout.lights:
        yield from light.filling.symbols(light)


def hung_symbol(sash: SashLayout, inwards: bool, entry: str, pivots: bool, tilts: bool) -> Symbol:
    """Lines that meet at the hinged side; the axis alone of a sash that ``pivots``, both triangles of one that also
    ``tilts``.
    """
    left, foot, right, head = sash.body.ring.loop.bounds
    (x1, y1), (x2, y2) = sash.axis
    if pivots:
        return Symbol((((x1, y1), (x2, y2)),), inwards, entry, "turns")
    if x1 == x2:
        far = right if x1 == left else left
        paths = [((far, foot), (x1, (foot + head) / 2), (far, head))]
    else:
        far = foot if y1 == head else head
        paths = [((left, far), ((left + right) / 2, y1), (right, far))]
    if tilts:
        paths.append(((left, head), ((left + right) / 2, foot), (right, head)))
    within = sash.body.ring.loop.polygon
    return Symbol(tuple(piece for path in paths for piece in _inside(path, within)), inwards, entry, "swings")


def _inside(path: tuple[Point, ...], within: Polygon) -> Iterator[tuple[Point, ...]]:
    """What of a path lies on the sash."""
    cut = LineString(path).intersection(within)
    for piece in getattr(cut, "geoms", [cut]):
        if isinstance(piece, LineString) and piece.length:
            yield tuple((float(x), float(y)) for x, y in piece.coords)


def arrow(sash: SashLayout) -> tuple[tuple[Point, ...], ...]:
    """An arrow in the middle of a sash, the way it slides."""
    return arrow_in(sash.body.ring.loop.bounds, sash.slides)


def arrow_in(bounds: tuple[float, float, float, float], way: Point) -> tuple[tuple[Point, ...], ...]:
    """An arrow in the middle of something, by its left, foot, right and head, the way it goes."""
    left, foot, right, head = bounds
    x, y = (left + right) / 2, (foot + head) / 2
    size = min(right - left, head - foot) * 0.3
    dx, dy = way
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
