"""The same solids as somebody makes them with booleans: what is extruded, where it is cut, what is taken away.

A recipe is neutral; :mod:`bench.by_manifold` and :mod:`bench.by_kernel` carry it out. It is made from what a layout
decided (sections, stations, outlines, heights), never from the triangles that were made of it.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import singledispatch
from typing import Generic, TypeVar

import numpy as np

from ashfell.core.parts import Member
from ashfell.core.plane.points import Floats, area
from ashfell.core.solid.form import Box, Form, Loft, Placed, Slab, Sweep
from ashfell.core.solid.net import Net
from ashfell.core.solid.rod import Skin
from ashfell.core.solid.stack import Stack
from ashfell.core.unit import UnitDocument
from ashfell.core.unit.layout import BarRun
from ashfell.core.unit.members.bar import CutBar, SquareBar, bar_section
from ashfell.core.unit.promise import solve

Made = TypeVar("Made")
FAR = 1e4


@dataclass(frozen=True)
class Prism:
    """A polygon (k, 2) in the plane of two axes, extruded along the third by a length, then cut by planes: of each only
    the side that ``normal · x >= offset`` is kept."""

    polygon: Floats
    origin: Floats
    x: Floats
    y: Floats
    z: Floats
    length: float
    planes: tuple[tuple[Floats, float], ...] = ()


@dataclass(frozen=True)
class Frustum:
    """What lies between two convex polygons of as many points, (k, 3) each."""

    below: Floats
    above: Floats


@dataclass(frozen=True, eq=False)
class Recipe:
    """One part: the union of some solids less that of others, or each of them within another; then moved. A piece of
    ``stock`` is made once and placed."""

    add: tuple[Prism | Frustum, ...]
    less: tuple[Prism, ...] = ()
    within: tuple[Prism, ...] = ()
    matrix: Floats | None = None
    stock: bool = False


class Stock(Generic[Made]):
    """Pieces of stock that were made, each once, by what they are made of."""

    def __init__(self, make: Callable[[Recipe], Made]) -> None:
        self._make = make
        self._made: dict[int, tuple[Recipe, Made]] = {}

    def of(self, recipe: Recipe) -> Made:
        """A piece before it is placed; made anew where it is not of stock."""
        if not recipe.stock:
            return self._make(recipe)
        key = id(recipe.add)
        if key not in self._made:
            self._made[key] = recipe, self._make(recipe)
        return self._made[key][1]


U, V, W = np.eye(3)


def level(points: Floats, low: float, high: float) -> Prism:
    """A polygon in plan, from one w to another."""
    return Prism(np.asarray(points, dtype=float), np.array([0.0, 0.0, low]), U, V, W, high - low)


def recipes(document: UnitDocument) -> list[Recipe]:
    """A recipe for each part of a unit."""
    return [recipe for member in solve(document).members for recipe in _of_member(member)]


def _of_member(member: Member) -> Iterator[Recipe]:
    for recipe in of_form(member.form):
        moved = [m for m in (member.motion, recipe.matrix) if m is not None]
        yield replace(recipe, matrix=np.linalg.multi_dot(moved) if len(moved) > 1 else moved[0]) if moved else recipe


@singledispatch
def of_form(form: Form) -> list[Recipe]:
    """What is made for a form: as many parts as it is."""
    raise NotImplementedError(type(form).__name__)


@of_form.register
def _(form: Placed) -> list[Recipe]:
    return [replace(recipe, matrix=form.matrix, stock=True) for recipe in of_form(form.form)]


@of_form.register
def _(form: Box) -> list[Recipe]:
    (u0, v0, w0), (u1, v1, w1) = form.low, form.high
    return [Recipe((level(np.array([(u0, v0), (u1, v0), (u1, v1), (u0, v1)]), w0, w1),))]


@of_form.register
def _(form: Slab) -> list[Recipe]:
    holes = tuple(level(hole, form.low - 1, form.high + 1) for hole in form.outlines[1:])
    return [Recipe((level(form.outlines[0], form.low, form.high),), holes)]


@of_form.register
def _(form: Loft) -> list[Recipe]:
    spans = zip(form.levels, form.levels[1:], strict=False)
    return [Recipe(tuple(Frustum(a, b) for a, b in spans if np.ptp([a[0, 2], b[0, 2]]) > 1e-9))]


@of_form.register
def _(form: Skin) -> list[Recipe]:
    return [Recipe(tuple(_span(a, b) for a, b in zip(form.levels, form.levels[1:], strict=False)))]


@of_form.register
def _(form: Sweep) -> list[Recipe]:
    if form.closed and len(form.section) == 4:
        paths = sorted((form.corners[:, k] for k in range(4)), key=lambda path: abs(area(path[:, :2])))
        low, high = np.ptp(form.corners[0, :, 2]), form.corners[0, :, 2].min()
        ends = float(high), float(high + low)
        return [Recipe((level(paths[-1][:, :2], *ends),), (level(paths[0][:, :2], ends[0] - 1, ends[1] + 1),))]
    stations = [*form.corners, form.corners[0]] if form.closed else form.corners
    spans = [_span(a, b) for a, b in itertools.pairwise(stations) if np.abs(a - b).max() > 1e-6]
    return [Recipe(tuple(spans))] if spans else []


def _span(start: Floats, end: Floats) -> Prism | Frustum:
    """What lies between two stations (k, 3): extruded far and cut by their planes where its edges run one way."""
    ahead = end - start
    longest = ahead[int(np.linalg.norm(ahead, axis=1).argmax())]
    d = longest / np.linalg.norm(longest)
    if np.linalg.norm(np.cross(ahead, d), axis=1).max() > 1e-6:
        return Frustum(start, end)
    x = np.cross(d, U if abs(d[0]) < 0.9 else V)
    x /= np.linalg.norm(x)
    y = np.cross(d, x)
    origin = start.mean(axis=0)
    polygon = (start - origin) @ np.column_stack([x, y])
    along = [(points - origin) @ d for points in (start, end)]
    if max(map(np.ptp, along)) < 1e-6:
        return Prism(polygon, origin + d * along[0][0], x, y, d, float(along[1][0] - along[0][0]))
    low, high = float(min(map(np.min, along))), float(max(map(np.max, along)))
    planes = (_plane(start, d), _plane(end, -d))
    return Prism(polygon, origin + d * (low - 10), x, y, d, high - low + 20, planes)


def _plane(points: Floats, way: Floats) -> tuple[Floats, float]:
    """The plane of some points, its normal that way."""
    normal = np.linalg.svd(points - points.mean(axis=0))[2][-1]
    normal = normal if normal @ way > 0 else -normal
    return normal, float(normal @ points.mean(axis=0))


@of_form.register
def _(form: Stack) -> list[Recipe]:
    """Its section extruded as far as it goes, less what is beyond each end where that is worked."""
    low, high = form.sides[..., [3, 0]], form.sides[..., [1, 2]]
    own = int((high.max(axis=(0, 1)) - low.min(axis=(0, 1))).argmax())
    start, end = float(low[..., own].min()), float(high[..., own].max())
    d, across = ((U, V), (V, -U))[own]
    sign = 1.0 if own == 0 else -1.0
    section = _between(form, sign * low[..., 1 - own], sign * high[..., 1 - own])
    less = []
    for ends, far in ((low[..., own], start - FAR), (high[..., own], end + FAR)):
        if np.ptp(ends) > 1e-9:
            beyond = _between(form, ends, np.full_like(ends, far))
            turned = (U, W, -V) if own == 0 else (V, W, U)
            less.append(Prism(beyond, -turned[2] * FAR, *turned, 2 * FAR))
    return [Recipe((Prism(section, d * start, across, W, d, end - start),), tuple(less))]


def _between(form: Stack, one: Floats, other: Floats) -> Floats:
    """The polygon (across, w) between two edges, each (z, 2) at the heights of a stack."""
    up = np.column_stack([one.reshape(-1), form.heights.reshape(-1)])
    down = np.column_stack([other.reshape(-1), form.heights.reshape(-1)])[::-1]
    points = np.concatenate([up, down])
    return points[np.abs(points - np.roll(points, 1, axis=0)).max(axis=1) > 1e-9]


@of_form.register
def _(form: SquareBar) -> list[Recipe]:
    stem_points, section = bar_section(form.run)
    d, across, base = _axes(form.run)
    stem, flange = np.array(section[:stem_points]), np.array(section[stem_points:])
    tongue_start, start, end, tongue_end = form.stations
    face = Prism(flange, base + d * start, across, W, d, end - start)
    return [Recipe((face, Prism(stem, base + d * tongue_start, across, W, d, tongue_end - tongue_start)))]


@of_form.register
def _(form: CutBar) -> list[Recipe]:
    run = form.run
    stem_points, section = bar_section(run)
    d, across, base = _axes(run)
    polygons = np.array(section[stem_points:]), np.array(section[:stem_points])
    regions = [region for region in (run.face_region, run.stem_region) if region is not None]
    within = [level(np.array(region.exterior.coords)[:-1], -float(run.back) - 1, 1.0) for region in regions]
    add = tuple(Prism(polygon, base - d * FAR, across, W, d, 2 * FAR) for polygon in polygons)
    return [Recipe(add, within=tuple(within))]


def _axes(run: BarRun) -> tuple[Floats, Floats, Floats]:
    """Which way a bar runs, what is across it, and where its axis is."""
    place = float(run.across)
    return (V, -U, U * place) if run.axis == "columns" else (U, V, V * place)


@of_form.register
def _(form: Net) -> list[Recipe]:
    low, heart_low, heart_high, high = form.levels
    less: Sequence[Prism] = [
        prism
        for narrow, wide in form.holes
        for prism in (level(narrow, low - 1, high + 1), level(wide, heart_low, heart_high))
    ]
    return [Recipe((level(form.outline, low, high),), tuple(less))]
