"""A lantern: glass that rises from all sides of a rectangle to a ridge, or to a point, on hips, a ridge and rafters.

Its planes rise from the outer edge of the frame's face by one slope. What it is made of is told on the plan: a region
is lifted to between two heights along those planes, so bars lie under the glass, caps on it, and nothing overlaps that
does not on the plan.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from functools import partial
from math import ceil, cos, radians, tan
from typing import Annotated, Literal

import manifold3d
import numpy as np
from pydantic import Field
from shapely.geometry import LineString, Polygon, box
from shapely.ops import unary_union

from ashfell.core.base.document import Gap, Key, Size, mm
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.filling import FILLINGS, FillEntry, Filling
from ashfell.core.kinds.fillings.over import Over, check_lap, clears_over
from ashfell.core.kinds.roles import Finishes
from ashfell.core.parts import Direction, Member
from ashfell.core.plane.points import Floats, polygons
from ashfell.core.solid.boolean import of_manifold
from ashfell.core.solid.form import Carved
from ashfell.core.solid.plate import loft
from ashfell.core.solid.topology import Solid
from ashfell.core.unit.layout import Bed, Light
from ashfell.core.unit.say.writer import Writer
from ashfell.core.unit.solve.body import Solving

LEAST_BAY = Fraction(60)
"""The narrowest glass between two rafters at the eaves, mm."""
LEAST_PIECE = 1.0
"""A piece smaller than this on the plan is left out, mm²."""
SPIKE = 1e-3
"""What is thinner than twice this on the plan is nothing, mm."""
JOINT = 0.4
"""The joint between panes as a share of the bar under it."""
CAP = 5.0
"""How thick a cap is, mm (common practice, no source)."""


class Lantern(FillEntry):
    """Glass ``thickness`` thick that rises by ``slope`` degrees from all sides; bars ``bar`` wide and ``depth`` deep
    under hips, ridge and rafters, which stand at most ``apart``; it stands on the frame by ``lap``."""

    kind: Literal["lantern"]
    slope: Annotated[float, Field(ge=5, le=60)] = 25.0
    bar: Size = mm("50")
    depth: Size = mm("60")
    apart: Size = mm("700")
    thickness: Size = mm("28")
    lap: Gap = mm("30")
    finish: Key | None = None


@dataclass(frozen=True, eq=False)
class Raised(Over):
    """The planes of a lantern, each over its part of the plan: how high it is at a point is ``rise`` of (u, v, 1), from
    the face of the frame; and on the plan what its bars and its panes are."""

    facets: tuple[tuple[Polygon, Floats], ...] = ()
    bars: tuple[tuple[str, Polygon, Direction], ...] = ()
    bays: tuple[Polygon, ...] = ()
    joints: tuple[Polygon, ...] = ()

    def lifted(self, region: Polygon, heights: tuple[float, float], front: float) -> list[Solid]:
        """What lies over a region between two heights over the planes, told square to the plan, as one piece where it
        hangs together."""
        solids = []
        for facet, rise in self.facets:
            for piece in polygons(region.intersection(facet)):
                if piece.area > LEAST_PIECE:
                    solids.append(_prism(piece, rise, heights, front))
        if len(solids) < 2:
            return solids
        union = manifold3d.Manifold.batch_boolean([one.manifold() for one in solids], manifold3d.OpType.Add)
        return of_manifold(union)

    def top(self) -> float:
        """How high its ridge is over the frame, mm."""
        return max(
            float(
                (np.column_stack([np.array(facet.exterior.coords), np.ones(len(facet.exterior.coords))]) @ rise).max()
            )
            for facet, rise in self.facets
        )


def _full(region: Polygon) -> list[Polygon]:
    """The pieces of a region without what of it has no width."""
    opened = region.buffer(-SPIKE, join_style="mitre").buffer(SPIKE, join_style="mitre")
    return [piece for piece in polygons(opened) if piece.area > LEAST_PIECE]


def _around(piece: Polygon) -> Floats:
    """The outline of a piece, counter-clockwise, (n, 2)."""
    points = np.array(piece.exterior.coords)[:-1]
    return points if piece.exterior.is_ccw else points[::-1]


def _prism(piece: Polygon, rise: Floats, heights: tuple[float, float], front: float) -> Solid:
    """A piece of the plan between two heights over a plane."""
    points = _around(piece)
    over = np.column_stack([points, np.ones(len(points))]) @ rise + front
    return loft(np.stack([np.column_stack([points, over + height]) for height in heights]))


def _solve(light: Light, fill: Lantern, solving: Solving) -> Raised:
    """The planes, the bars and the panes of a lantern.

    Raises
    ------
    Refusal
        When the light is no rectangle, or too small.
    """
    if not light.is_rectangle:
        raise Refusal(
            f"{light.entry}.kind",
            "a lantern over a rectangle",
            "A lantern rises from the sides of a rectangle.",
            "Choose another outline, or another filling.",
        )
    lap = float(fill.lap.mm)
    check_lap(light, fill)
    if fill.apart.mm < fill.bar.mm + LEAST_BAY:
        raise Refusal(
            f"{light.entry}.apart",
            "glass between the rafters",
            f"Rafters {exact_mm(fill.apart.mm)} apart leave less than {exact_mm(LEAST_BAY)} of glass between bars "
            f"{exact_mm(fill.bar.mm)} wide.",
            f"Make it at least {exact_mm(fill.bar.mm + LEAST_BAY)}.",
            fill.bar.mm + LEAST_BAY,
        )
    left, foot, right, head = light.loop.bounds
    least = 2 * (fill.bar.mm + LEAST_BAY)
    if min(light.clear.width, light.clear.height) < least:
        raise Refusal(
            f"{light.entry}.kind",
            "a light that takes a lantern",
            f"Bars {exact_mm(fill.bar.mm)} wide ask for a light of {exact_mm(least)} at least.",
            "Make the light larger, or choose another filling.",
        )
    low, base, high, top = left - lap, foot - lap, right + lap, head + lap
    half = min(high - low, top - base) / 2
    slope = tan(radians(fill.slope))
    wide = high - low >= top - base
    ends = [(low + half, base + half), (high - half, top - half)]
    a, b = (ends[0], (ends[1][0], ends[0][1])) if wide else (ends[0], (ends[0][0], ends[1][1]))
    corners = [(low, base), (high, base), (high, top), (low, top)]
    if wide:
        outlines = [[corners[0], corners[1], b, a], [corners[1], corners[2], b], [corners[2], corners[3], a, b]]
        outlines += [[corners[3], corners[0], a]]
    else:
        outlines = [[corners[0], corners[1], a], [corners[1], corners[2], b, a], [corners[2], corners[3], b]]
        outlines += [[corners[3], corners[0], a, b]]
    rises = [(0.0, slope, -slope * base), (-slope, 0.0, slope * high), (0.0, -slope, slope * top)]
    rises += [(slope, 0.0, -slope * low)]
    facets = tuple((Polygon(points), np.array(rise)) for points, rise in zip(outlines, rises, strict=True))
    hips = [(corners[0], a), (corners[1], b if wide else a), (corners[2], b), (corners[3], a if wide else b)]
    lines = {"hip": [LineString(line) for line in hips], "ridge": [LineString([a, b])] if a != b else []}
    lines["rafter"] = [*_rafters(fill, corners, (a, b), half)]
    return _parted(light, fill, facets, lines, box(low, base, high, top))


def _rafters(
    fill: Lantern,
    corners: list[tuple[float, float]],
    ridge: tuple[tuple[float, float], tuple[float, float]],
    half: float,
) -> Iterator[LineString]:
    """The lines of the rafters, square to the eaves: spaced evenly over each side, up to a hip or the ridge."""
    for start, end in zip(corners, corners[1:] + corners[:1], strict=True):
        way = np.subtract(end, start)
        length = float(np.hypot(*way))
        count = ceil(length / float(fill.apart.mm))
        inwards = np.array([-way[1], way[0]]) / length
        for k in range(1, count):
            along = length * k / count
            far = min(along, length - along, half)
            foot = np.array(start) + way / length * along
            yield LineString([foot, foot + inwards * far])


def _parted(
    light: Light,
    fill: Lantern,
    facets: tuple[tuple[Polygon, Floats], ...],
    lines: dict[str, list[LineString]],
    whole: Polygon,
) -> Raised:
    """The plan parted into bars, joints and panes. Hips and the ridge run through as one, rafters end at them."""
    wide, within = float(fill.bar.mm), light.loop.polygon
    bars: list[tuple[str, Polygon, Direction]] = []
    taken = Polygon()
    for name in ("ridge", "hip", "rafter"):
        for number, line in enumerate(lines[name]):
            way = np.subtract(line.coords[-1], line.coords[0])
            way = way / max(float(np.hypot(*way)), 1e-9)
            region = line.buffer(wide / 2, cap_style="square").intersection(within).difference(taken)
            own = max(_full(region), key=lambda piece: piece.area, default=None)
            if own is None:
                continue
            bars.append((f"{name}.{number + 1}", own, (float(way[0]), float(way[1]), 0.0)))
            if name != "rafter":  # rafters stand apart from each other
                taken = unary_union([taken, own])
    joint = wide * JOINT
    strips = [line.buffer(joint / 2, cap_style="square") for name in lines for line in lines[name]]
    gaps = unary_union(strips).intersection(whole)
    panes = [piece for facet, _ in facets for piece in _full(facet.difference(gaps))]
    joints = _full(gaps)
    return Raised(
        facets=facets,
        bars=tuple(bars),
        bays=tuple(panes),
        joints=tuple(joints),
        covers=whole,
        crown=_crown(fill, facets),
        proud=Fraction(1),
    )


def _crown(fill: Lantern, facets: Iterable[tuple[Polygon, Floats]]) -> Floats:
    """The corners of the planes, as high as the caps over them, (n, 3)."""
    over = (float(fill.thickness.mm) + CAP) / cos(radians(fill.slope))
    found = []
    for facet, rise in facets:
        points = np.array(facet.exterior.coords)[:-1]
        found.append(np.column_stack([points, np.column_stack([points, np.ones(len(points))]) @ rise + over]))
    return np.concatenate(found)


def _members(light: Light, finishes: Finishes, bed: Bed | None) -> Iterator[Member]:
    fill, content, key = light.fill, light.content, light.key
    assert isinstance(fill, Lantern)
    assert isinstance(content, Raised)
    front = -float(light.ring.front)
    square = 1 / cos(radians(fill.slope))
    thick, deep = float(fill.thickness.mm) * square, float(fill.depth.mm) * square
    bar, glass = finishes.of("bar"), fill.finish or finishes.of("glass")

    def form(region: Polygon, heights: tuple[float, float]) -> Carved:
        longest = float(np.hypot(*np.ptp(np.array(region.exterior.coords), axis=0)))
        return Carved(partial(content.lifted, region, heights, front), longest)

    for name, region, way in content.bars:
        yield Member(f"bar.{key}.{name}", light.entry, "bar", bar, way, form(region, (-deep, 0.0)), key)
    for number, region in enumerate(content.bays):
        yield Member(
            f"glass.{key}.{number + 1}", light.entry, "glass", glass, (0.0, 1.0, 0.0), form(region, (0.0, thick)), key
        )
    for number, region in enumerate(content.joints):
        own = form(region, (0.0, thick))
        yield Member(
            f"gasket.{key}.{number + 1}", light.entry, "gasket", finishes.of("gasket"), (0.0, 1.0, 0.0), own, key
        )
        cap = form(region.buffer(CAP, join_style="mitre").intersection(content.covers), (thick, thick + CAP * square))
        yield Member(f"bar.{key}.cap.{number + 1}", light.entry, "bar", bar, (0.0, 1.0, 0.0), cap, key)
    eaves = content.covers.difference(light.loop.polygon)
    rest = partial(_eaves, content, eaves, front)
    long = float(max(np.ptp(np.array(content.covers.exterior.coords), axis=0)))
    yield Member(f"bar.{key}.eaves", light.entry, "bar", bar, (1.0, 0.0, 0.0), Carved(rest, long), key)


def _eaves(content: Raised, region: Polygon, front: float) -> list[Solid]:
    """What closes the wedge between the frame's face and the glass over it."""
    solids = []
    for facet, rise in content.facets:
        for piece in polygons(region.intersection(facet)):
            if piece.area > LEAST_PIECE:
                solids.append(_wedge(piece, rise, front))
    union = manifold3d.Manifold.batch_boolean([one.manifold() for one in solids], manifold3d.OpType.Add)
    return of_manifold(union)


def _wedge(piece: Polygon, rise: Floats, front: float) -> Solid:
    """Over a piece of the plan, from the frame's face to a plane that meets it at the eaves."""
    points = _around(piece)
    over = np.maximum(np.column_stack([points, np.ones(len(points))]) @ rise, 0.0) + front
    return loft(np.stack([np.column_stack([points, np.full(len(points), front)]), np.column_stack([points, over])]))


def _pieces(light: Light, fill: Lantern) -> tuple[int, str]:
    around = 2 * (light.clear.width + light.clear.height)
    return int(around // fill.apart.mm) * 12 + 20, "pieces of a lantern"


def _say(w: Writer, path: str, light: Light) -> None:
    fill, content = light.fill, light.content
    assert isinstance(fill, Lantern)
    assert isinstance(content, Raised)
    w.say(
        f"{path}.slope",
        "A lantern that rises by",
        w.number(f"{path}.slope", fill.slope, "Slope of the lantern, in degrees"),
        "°, its bars",
        w.length(f"{path}.bar", fill.bar, "Width of the bars"),
        "wide and",
        w.length(f"{path}.depth", fill.depth, "Depth of the bars"),
        "deep, at most",
        w.length(f"{path}.apart", fill.apart, "Distance of the rafters"),
        "apart; glass",
        w.length(f"{path}.thickness", fill.thickness, "Thickness of the glass"),
        "thick, standing on the frame by",
        w.length(f"{path}.lap", fill.lap, "Lap on the frame"),
        ".",
        w.finish(f"{path}.finish", fill.finish, "Finish of the glass", usual=w.of_role("glass")),
        nested=True,
        told=(f"Its ridge is {content.top():.1f} mm over the frame; {len(content.bays)} panes.",),
    )


KIND = FILLINGS.register(
    Filling(
        "lantern",
        Lantern,
        "a lantern",
        lambda fill: "lantern",
        _solve,
        _members,
        order=62,
        say=_say,
        clears=clears_over,
        operation=lambda fill, name: "FIXEDCASEMENT",
        pieces=_pieces,
    )
)
