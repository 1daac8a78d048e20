"""Muntins on the faces of the glass: where their strips run, and their solids."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from math import atan2, ceil, cos, floor, hypot, pi, sin

import manifold3d
import numpy as np
import shapely
from shapely.geometry import LineString, Point, Polygon, box

from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import Light as Wanted
from ashfell.core.base.spacing import Spacing, divide, exact_mm
from ashfell.core.parts import Direction, Part
from ashfell.core.plane.points import Floats, polygons
from ashfell.core.solid.boolean import of_manifold
from ashfell.core.solid.plate import plate
from ashfell.core.solid.ring import ring_corners
from ashfell.core.solid.section import Edge, edge_points
from ashfell.core.solid.sweep import strip, tidy
from ashfell.core.solid.topology import Solid
from ashfell.core.unit.document import AXES, Axis, Cell, Finishes, Glass, Muntins
from ashfell.core.unit.glazing import gasket_of, planes_of
from ashfell.core.unit.layout import Field, Light, entry_below

CIRCLE_CHORD = 0.1
"""Chord tolerance of circles among the muntins, mm."""


@dataclass(frozen=True)
class Strip:
    """A muntin's whole stretch before it is cut: its region, and its centre line where that is straight."""

    entry: str
    region: Polygon
    line: tuple[tuple[float, float], tuple[float, float]] | None
    width: float


def muntins_of(light: Light) -> Muntins | None:
    """The muntins of a light, if it has some."""
    return light.fill.muntins if isinstance(light.fill, Glass) else None


def muntin_spacing(light: Light, axis: Axis) -> Spacing:
    """How a grid of muntins divides the glass that is seen between the gaskets.

    Raises
    ------
    Refusal
        When they leave no glass.
    """
    muntins = muntins_of(light)
    assert muntins is not None
    shows = gasket_of(light).shows.mm
    span = light.clear.width if axis == "columns" else light.clear.height
    division = getattr(muntins, axis)
    return divide(
        span, start=shows, end=shows, bars=[bar.face.mm for bar in division.bars], rule=division.rule,
        lights=[Wanted(entry.size.mm if entry.size else None, entry.share) for entry in division.lights], least=Fraction(5),
        entry=f"{light.entry}.muntins.{axis}", noun="glass", way="wide" if axis == "columns" else "high",
    )  # fmt: skip


def muntin_field(light: Light) -> Field | None:
    """A grid of muntins as a cell, for its strips; None where the light has no grid."""
    muntins = muntins_of(light)
    if muntins is None or muntins.kind != "grid":
        return None
    columns, rows = (muntin_spacing(light, axis) for axis in AXES)
    cell = Cell(columns=muntins.columns, rows=muntins.rows)
    edges: dict[Axis, str] = dict.fromkeys(AXES, "")
    return Field(
        f"{light.entry}.muntins",
        f"{light.key}.muntins.",
        cell,
        columns,
        rows,
        light.clear.x,
        light.clear.y,
        light.loop,
        edges,
    )


def muntin_parts(light: Light, finishes: Finishes) -> Iterator[Part]:
    """The muntins on one or both faces of a light's glass, cut where they cross: those before run through."""
    muntins = muntins_of(light)
    if muntins is None:
        return
    _check(light, muntins)
    region = _seen(light)
    planes, proud = planes_of(light), float(muntins.proud.mm)
    taken: Polygon = Polygon()
    pieces: list[tuple[Strip, Polygon]] = []
    for one in strips_of(light, muntins, region):
        cut = one.region.intersection(region).difference(taken)
        pieces += [(one, piece) for piece in polygons(cut) if piece.area > 1.0]
        taken = shapely.union(taken, one.region)
    faces = {"outer": ("outer",), "inner": ("inner",), "both": ("outer", "inner")}[muntins.faces]
    for face in faces:
        low, high = (
            (-float(planes.front), -float(planes.front) + proud)
            if face == "outer"
            else (-float(planes.back) - proud, -float(planes.back))
        )
        for number, (one, piece) in enumerate(pieces):
            for more, solid in enumerate(_solids(one, piece, muntins.edge, low, high, face == "inner")):
                key = f"muntin.{light.key}.{face}.{number + 1}" + (f".{more + 1}" if more else "")
                yield Part(key, one.entry, "muntin", finishes.muntin, _grain(one, piece), solid)


def panes_seen(light: Light) -> list[Polygon]:
    """The pieces of glass that are seen between the muntins of a light, from the lower left."""
    muntins, region = muntins_of(light), _seen(light)
    if muntins is None:
        return [region]
    strips = shapely.union_all([one.region for one in strips_of(light, muntins, region)])
    return sorted(polygons(region.difference(strips)), key=lambda p: (round(p.bounds[1], 3), p.bounds[0]))


def _seen(light: Light) -> Polygon:
    shows = float(gasket_of(light).shows.mm)
    points = ring_corners([light.loop], np.zeros(len(light.loop.points)), [(0.0, shows, 0.0)], light.entry)
    return Polygon(points[0, :, 0, :2]).buffer(0)


def _check(light: Light, muntins: Muntins) -> None:
    room = float(planes_of(light).front - light.ring.front)
    if float(muntins.proud.mm) < muntins.edge.drop or 2 * muntins.edge.reach >= float(muntins.width.mm):
        raise Refusal(
            f"{light.entry}.muntins.edge.size", "a face between worked edges",
            f"An edge worked by {muntins.edge.reach:g} mm is too large for muntins {exact_mm(muntins.width.mm)} wide that stand {exact_mm(muntins.proud.mm)} proud.",
            f"It must stay below {min(float(muntins.width.mm) / 2, float(muntins.proud.mm)):g} mm.",
        )  # fmt: skip
    if muntins.faces != "inner" and float(muntins.proud.mm) > room:
        raise Refusal(
            f"{light.entry}.muntins.proud", "muntins behind the frame's face",
            f"Muntins that stand {exact_mm(muntins.proud.mm)} before glass set back {room:g} mm stand out of the frame.",
            f"They can stand {room:g} mm proud, or the glass be set back more.", Fraction(room).limit_denominator(1000),
        )  # fmt: skip


def strips_of(light: Light, muntins: Muntins, region: Polygon) -> Iterator[Strip]:
    """The strips of a pattern, those that run through before those that stop at them."""
    makers = {"grid": _grid, "perimeter": _perimeter, "diamond": _diamond, "radial": _radial}
    yield from makers[muntins.kind](light, muntins, region)


def _entry(light: Light, rest: str = "") -> str:
    return entry_below(f"{light.entry}.muntins", rest) if rest else f"{light.entry}.muntins"


def _grid(light: Light, muntins: Muntins, region: Polygon) -> Iterator[Strip]:
    left, foot, right, head = region.bounds
    for axis in AXES:
        origin = light.clear.x if axis == "columns" else light.clear.y
        for bar in muntin_spacing(light, axis).bars:
            low, high, middle = (float(value + origin) for value in (bar.start, bar.end, bar.centre))
            upright = axis == "columns"
            area = box(low, foot - 1, high, head + 1) if upright else box(left - 1, low, right + 1, high)
            line = ((middle, foot - 1), (middle, head + 1)) if upright else ((left - 1, middle), (right + 1, middle))
            yield Strip(_entry(light, f"{axis}.bars.{bar.index}"), area, line, float(bar.size))


def _perimeter(light: Light, muntins: Muntins, region: Polygon) -> Iterator[Strip]:
    """Bars that follow each edge at a distance, going on to the edges they cross."""
    width, inset = float(muntins.width.mm), float(muntins.inset.mm)
    left, foot, right, head = region.bounds
    if 2 * (inset + width) >= min(right - left, head - foot):
        most = min(right - left, head - foot) / 2 - width
        raise Refusal(
            f"{_entry(light)}.inset", "glass between the bars", f"Bars {inset:g} mm from the edges leave nothing between them.",
            f"They can be at most {most:.1f} mm from the edges.", Fraction(floor(most)),
        )  # fmt: skip
    points = (
        light.loop.points
        if not light.loop.is_rectangle
        else np.array(box(left, foot, right, head).exterior.coords)[:-1]
    )
    if light.loop.is_rectangle:
        for upright, at in (
            (True, left + inset),
            (True, right - inset - width),
            (False, foot + inset),
            (False, head - inset - width),
        ):
            line = (
                ((at + width / 2, foot - 1), (at + width / 2, head + 1))
                if upright
                else ((left - 1, at + width / 2), (right + 1, at + width / 2))
            )
            area = box(at, foot - 1, at + width, head + 1) if upright else box(left - 1, at, right + 1, at + width)
            yield Strip(_entry(light), area, line, width)
        return
    outer = Polygon(points).buffer(-inset, join_style="mitre", mitre_limit=20)
    inner = outer.buffer(-width, join_style="mitre", mitre_limit=20)
    yield from (Strip(_entry(light), ring, None, width) for ring in polygons(outer.difference(inner)))


def _diamond(light: Light, muntins: Muntins, region: Polygon) -> Iterator[Strip]:
    """Two sets of slanting bars through the corners of diamonds, one of which stands in the middle."""
    pitch, rise, width = float(muntins.pitch.mm), float(muntins.rise.mm), float(muntins.width.mm)
    if min(pitch, rise) <= width * hypot(pitch, rise) / max(pitch, rise):
        raise Refusal(
            f"{_entry(light)}.pitch",
            "glass in the diamonds",
            f"Diamonds {pitch:g} by {rise:g} mm are no larger than the bars.",
            "Make them larger.",
        )
    left, foot, right, head = region.bounds
    middle, reach = ((left + right) / 2, (foot + head) / 2), hypot(right - left, head - foot)
    along = pitch / hypot(pitch, rise), rise / hypot(pitch, rise)
    step = pitch * rise / hypot(pitch, rise)
    count = ceil(reach / step / 2) + 1
    for sign in (1.0, -1.0):
        direction, normal = (sign * along[0], along[1]), (-along[1], sign * along[0])
        for k in range(-count, count):
            at = (middle[0] + normal[0] * step * (k + 0.5), middle[1] + normal[1] * step * (k + 0.5))
            line = tuple((at[0] + s * reach * direction[0], at[1] + s * reach * direction[1]) for s in (-1, 1))
            area = LineString(line).buffer(width / 2, cap_style="flat")
            if area.intersects(region):
                yield Strip(_entry(light), area, line, width)  # type: ignore[arg-type]


def _radial(light: Light, muntins: Muntins, region: Polygon) -> Iterator[Strip]:
    """Circles about a centre, and spokes from the innermost of them outwards, evenly over the angle above the foot."""
    width = float(muntins.width.mm)
    left, foot, right, _ = region.bounds
    centre = ((left + right) / 2, foot)
    if muntins.centre:
        centre = float(light.clear.x + muntins.centre[0].mm), float(light.clear.y + muntins.centre[1].mm)
    radii = sorted(float(size.mm) for size in muntins.circles)
    for radius in radii:
        if radius <= width / 2:
            raise Refusal(
                f"{_entry(light)}.circles",
                "a circle wider than its bar",
                f"A circle of {radius:g} mm is no wider than its bar of {width:g} mm.",
                "Make it larger.",
            )
        outer, inner = _disc(centre, radius + width / 2), _disc(centre, radius - width / 2)
        yield Strip(_entry(light), outer.difference(inner), None, width)
    far = hypot(region.bounds[2] - region.bounds[0], region.bounds[3] - region.bounds[1]) * 2
    round_ = region.contains(Point(centre[0], centre[1])) and muntins.centre is not None
    start = radii[0] if radii else 0.0
    for k in range(muntins.spokes):
        angle = 2 * pi * k / muntins.spokes + pi / 2 if round_ else pi * (k + 1) / (muntins.spokes + 1)
        ends = tuple((centre[0] + r * cos(angle), centre[1] + r * sin(angle)) for r in (start, far))
        area = LineString(ends).buffer(width / 2, cap_style="flat")
        yield Strip(_entry(light), area, ends, width)  # type: ignore[arg-type]


def _disc(centre: tuple[float, float], radius: float) -> Polygon:
    pieces = max(16, ceil(pi / np.arccos(max(0.0, 1 - CIRCLE_CHORD / radius)) / 4) * 4)
    turns = np.arange(pieces) * 2 * pi / pieces
    return Polygon(np.column_stack([centre[0] + radius * np.cos(turns), centre[1] + radius * np.sin(turns)]))


def _grain(one: Strip, piece: Polygon) -> Direction:
    if one.line is None:
        return (0.0, 1.0, 0.0)
    (x, y), (u, v) = one.line
    turn = atan2(v - y, u - x)
    return (cos(turn), sin(turn), 0.0)


def _solids(one: Strip, piece: Polygon, edge: Edge, low: float, high: float, turned: bool) -> list[Solid]:
    """A piece of a strip: a plate, or where its edges are worked a swept section cut to the piece."""
    if not edge.reach or one.line is None:
        return [plate(piece, low, high)]
    start, end = (np.array(point) for point in one.line)
    square = _square_ends(one, piece, start, end)
    if square is not None:
        return [_worked(*square, one.width, edge, low, high, turned)]
    whole = _worked(start, end, one.width, edge, low, high, turned)
    return of_manifold(whole.manifold() ^ _around(piece, low, high))


def _square_ends(one: Strip, piece: Polygon, start: Floats, end: Floats) -> tuple[Floats, Floats] | None:
    """Where the centre line of a piece begins and ends that is as wide as its strip and cut square; None for any other."""
    corners = np.array(piece.exterior.coords)[:-1]
    if piece.interiors or len(corners) != 4:
        return None
    length = float(np.hypot(*(end - start)))
    along = (end - start) / length
    far = (corners - start) @ along
    first, last = float(far.min()), float(far.max())
    if abs(piece.area - (last - first) * one.width) > 1e-6 * one.width:
        return None
    return start + along * first, start + along * last


def _around(piece: Polygon, low: float, high: float) -> manifold3d.Manifold:
    return plate(piece, low - 1, high + 1).manifold()


def _worked(start: Floats, end: Floats, width: float, edge: Edge, low: float, high: float, turned: bool) -> Solid:
    """A strip with worked edges along a line."""
    along = (end - start) / np.hypot(*(end - start))
    across = np.array([-along[1], along[0]])
    points = edge_points(edge)
    top = [*((width / 2 - x, y) for x, y in reversed(points)), *((-width / 2 + x, y) for x, y in points)]
    face, foot = (low, high) if turned else (high, low)
    sign = 1 if turned else -1
    section = tidy([*((a, face + sign * y) for a, y in top), (-width / 2, foot), (width / 2, foot)])
    corners = np.empty((2, len(section), 3))
    for k, at in enumerate((start, end)):
        corners[k, :, :2] = at + np.array([a for a, _ in section])[:, None] * across
        corners[k, :, 2] = [w for _, w in section]
    return strip(corners, section)
