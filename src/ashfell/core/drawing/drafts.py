"""Drawings for files: elevations and sections of a unit, plans of a site by storey, elevations of its walls."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace
from fractions import Fraction
from functools import lru_cache
from hashlib import sha256
from itertools import pairwise

import numpy as np
import shapely
from shapely.geometry import Polygon

from ashfell.core.base.lengths import Style, show
from ashfell.core.drawing.brought import brought_in
from ashfell.core.drawing.dimension import Dimension, dimensions
from ashfell.core.drawing.draft import Draft, Path, Size, Use, Words
from ashfell.core.drawing.shaded import CLEAR, Extras, Reveal, Shadows, darker, shadow, streaks
from ashfell.core.drawing.sheet import VIEWS, View
from ashfell.core.drawing.wall_face import Looks, in_wall
from ashfell.core.kinds.roles import ROLES
from ashfell.core.kinds.symbol import symbols
from ashfell.core.plane.points import Floats, polygons
from ashfell.core.seen import Shape, elevation, section
from ashfell.core.site.opening import Opening, flipped, gap_of
from ashfell.core.site.plan import PlanHost, Shows, outlines_over, plan, whole
from ashfell.core.site.scene import Scene
from ashfell.core.site.settle import Levels
from ashfell.core.unit.make import Unit

CHAIN = 0.06
"""How far chains of dimensions stand off a drawing and off each other, of its longer side."""
LEAST = 0.02
"""What is smaller than this is no face that is seen, mm²."""
SNAP = 1e-4
"""What of faces is one point, mm."""
NO_EXTRAS = Extras()


# --- units


def unit_draft(
    unit: Unit, style: Style, view: View = "outside", sized: bool = True, extras: Extras = NO_EXTRAS
) -> Draft:
    """A view of a unit in its own millimetres; with its dimensions where it is to stand by itself."""
    paths = [*_seen(unit, view, extras), *(_symbols(unit, view) if view in ("outside", "inside") else ())]
    title = f"{unit.document.name}, {VIEWS[view].lower()}"
    return Draft(title, tuple(paths), tuple(_unit_sizes(unit, style, view)) if sized else ())


@lru_cache(maxsize=256)
def _seen(unit: Unit, view: View, extras: Extras = NO_EXTRAS) -> tuple[Path, ...]:
    """The faces of a unit that are seen."""
    return tuple(_faces(_shapes(unit, view), extras if view in ("outside", "inside") else NO_EXTRAS))


@lru_cache(maxsize=256)
def _seen_in_wall(
    unit: Unit, front: bool, extras: Extras = NO_EXTRAS, reveal: Reveal | None = None
) -> tuple[Path, ...]:
    """The same where it stands in a wall, of what that hides no more than the opening shows."""
    view: View = "outside" if front else "inside"
    hides = any(view in light.content.hidden for light in unit.layout.body.lights)
    if not hides and reveal is None:
        return _seen(unit, view, extras)
    return tuple(_faces(in_wall(unit, front) if hides else _shapes(unit, view), extras, reveal))


def _shapes(unit: Unit, view: View) -> Sequence[Shape]:
    outer = unit.layout.outer
    if view == "across":
        return section(unit.parts, "columns", float(outer.height) / 2)
    if view == "up":
        return section(unit.parts, "rows", float(outer.width) / 2)
    return unit.shapes if view == "outside" else elevation(unit.parts, "inside")


def _faces(shapes: Sequence[Shape], extras: Extras = NO_EXTRAS, reveal: Reveal | None = None) -> Iterator[Path]:
    """What is seen of faces that lie one over the other, back to front."""
    whole = _outlines(shapes)
    outlines = _uncovered(whole)
    cast = Shadows(shapes, whole, reveal) if extras.shadows else None
    if cast is not None:
        yield from cast.on_wall()
    for shape, outline in zip(shapes, outlines, strict=True):
        role = ROLES.get(shape.role)
        paper = role.paper if role else (228, 224, 216)
        tone = 1.0 if role and role.even else 0.62 + 0.5 * shape.tone
        fill = tuple(min(255, round(value * tone)) for value in paper)
        for piece in polygons(outline):
            if piece.area > LEAST:
                rings = [np.array(ring.coords)[:-1] for ring in (piece.exterior, *piece.interiors)]
                yield Path(rings[0], shape.role, fill=fill, holes=tuple(rings[1:]))  # type: ignore[arg-type]
                if cast is not None and shape.level:
                    yield from (shadow(dark, darker(fill)) for dark in cast.on(piece, shape.depth))
                if extras.streaks and shape.role == CLEAR:
                    yield from streaks(piece)


def _outlines(shapes: Sequence[Shape]) -> list[Polygon]:
    """The outline of each shape."""
    loops = [loop for shape in shapes for loop in shape.loops]
    rings = np.repeat(np.arange(len(loops)), [len(loop) for loop in loops])
    flat = np.concatenate(loops) if loops else np.zeros((0, 2))
    pieces = shapely.polygons(shapely.linearrings(flat, indices=rings))
    crossed = ~shapely.is_valid(pieces)
    pieces[crossed] = shapely.buffer(pieces[crossed], 0)
    firsts = np.cumsum([0, *(len(shape.loops) for shape in shapes)])[:-1]
    made = shapely.set_precision(pieces[firsts], SNAP)
    for index, (first, shape) in enumerate(zip(firsts.tolist(), shapes, strict=True)):
        for hole in range(first + 1, first + len(shape.loops)):
            # What a plane cuts of a ring lies on either side of it: one is beside the other, and no hole in it.
            made[index] = made[index].symmetric_difference(pieces[hole])
    return list(made)


def _uncovered(outlines: Sequence[Polygon]) -> list[Polygon]:
    """Each less those before it, which come after it in the list."""
    every = np.array(outlines, dtype=object)
    under, over = shapely.STRtree(outlines).query(every)
    later = over > under
    under, over = under[later], over[later]
    shapely.prepare(every)
    hidden = np.zeros(len(outlines), dtype=bool)
    hidden[under[shapely.covers(every[over], every[under])]] = True
    # What only touches takes nothing, and what is hidden itself hides no more than what hides it.
    kept = ~hidden[under] & ~hidden[over]
    under, over = under[kept], over[kept]
    takes = shapely.intersects(every[over], every[under]) & ~shapely.touches(every[over], every[under])
    before: dict[int, list[int]] = {}
    for one, other in zip(under[takes].tolist(), over[takes].tolist(), strict=True):
        before.setdefault(one, []).append(other)
    found = []
    for index, outline in enumerate(outlines):
        if hidden[index]:
            found.append(Polygon())
            continue
        others = [outlines[k] for k in before.get(index, ())]
        found.append(outline.difference(shapely.union_all(others)) if others else outline)
    return found


def _symbols(unit: Unit, view: View) -> Iterator[Path]:
    turn = (-1.0, 1.0) if view == "inside" else (1.0, 1.0)
    for symbol in symbols(unit.layout):
        away = symbol.inwards == (view == "outside") and symbol.kind != "slides"
        for path in symbol.paths:
            yield Path(np.array(path) * turn, "symbol", closed=False, dashed=away)


def _unit_sizes(unit: Unit, style: Style, view: View) -> Iterator[Size]:
    """The pieces of the whole, and the overall sizes: below and on the left; the depth of a section."""
    outer = unit.layout.outer
    off = CHAIN * float(max(outer.width, outer.height))
    told = dimensions(unit.layout)
    axes = {"across": ("columns",), "up": ("rows",)}.get(view, ("columns", "rows"))
    for dimension in told:
        pieces = [one for one in told if one.axis == dimension.axis and one.kind != "overall"]
        if dimension.axis not in axes or (dimension.kind != "overall" and len(pieces) < 2):
            continue
        chain = off * (2 if dimension.kind == "overall" and len(pieces) > 1 else 1)
        yield _unit_size(dimension, unit, style, view, chain)
    if view in ("across", "up"):
        yield _depth(unit, style, view, off)


def _unit_size(dimension: Dimension, unit: Unit, style: Style, view: View, off: float) -> Size:
    low, high, text = float(dimension.start), float(dimension.end), show(dimension.size, style)
    foot = -float(unit.document.frame.depth.mm) if view == "across" else 0.0
    left = -float(unit.layout.outer.width) if view == "inside" else 0.0
    if dimension.axis == "columns":
        ends = (-high, -low) if view == "inside" else (low, high)
        return Size((ends[0], foot), (ends[1], foot), -off, text)
    if view == "up":
        left = min(0.0, -float(unit.document.frame.depth.mm))
    return Size((left, low), (left, high), off, text)


def _depth(unit: Unit, style: Style, view: View, off: float) -> Size:
    deep, outer = unit.document.frame.depth.mm, unit.layout.outer
    if view == "across":
        right = float(outer.width)
        return Size((right, -float(deep)), (right, 0.0), -off, show(deep, style))
    head = float(outer.height)
    return Size((-float(deep), head), (0.0, head), off, show(deep, style))


# --- plans


def plan_drafts(scene: Scene, style: Style, shows: Shows = whole) -> dict[str, Draft]:
    """The plan of every storey, by its id; one where there are none. Where not all is shown, no storey of which nothing
    is."""
    levels = Levels(scene.site.storeys)
    named = [(one.id, one.name) for one in levels.storeys] or [("", "Plan")]
    drafts = {key: plan_draft(scene, style, levels, key, name, shows) for key, name in named}
    return {key: draft for key, draft in drafts.items() if shows is whole or draft.paths}


def plan_draft(scene: Scene, style: Style, levels: Levels, storey: str, title: str, shows: Shows = whole) -> Draft:
    """Walls cut, units in them, what their leaves sweep over, and what lies over it all. Where not all is shown,
    what stands below is not."""
    hosts = [one for one in plan(scene, levels, storey) if shows is whole or (shows(one.host.id) and not one.below)]
    corners = [points for one in hosts for points in one.solid]
    longest = float(np.ptp(np.concatenate(corners), axis=0).max()) if corners else 1000.0
    paths = [Path(one.points, "over", dashed=True) for one in outlines_over(scene, shows)]
    for one in hosts:
        layer = "below" if one.below else "wall"
        paths += [Path(points, layer, hatched=not one.below) for points in one.solid]
    for one in hosts:
        for unit in one.units:
            paths += [Path(piece, "unit", fill=(255, 255, 255)) for piece in unit.pieces]
            paths += [Path(line, "symbol", closed=False) for line in unit.sweeps]
    sizes = [size for one in hosts if not one.below for size in _along(one, style, longest * CHAIN / 2)]
    marks = [word for one in hosts for word in (*_marks(scene, one, longest), *_bends(one, style, longest))]
    return Draft(title, tuple(paths), tuple(sizes), tuple(marks))


TOUCH = Fraction(1, 10)
"""An opening that ends nearer to a fold ends there, mm."""
LEG = 3
"""A facet of so many times the thickness of its wall is a stretch that is measured by itself; others make a curve."""


def _along(one: PlanHost, style: Style, off: float) -> Iterator[Size]:
    """The chain of piers and openings outside a host, and its length. Along one that bends in long stretches each of
    them has its own; where it is a curve, the straight between the places that matter is measured."""
    length, ends = one.host.length, [end for opening in one.openings for end in (opening.x, opening.right)]
    folds = [Fraction(fold.at) for fold in one.host.folds]
    facets = [*pairwise([Fraction(0), *folds, length])]
    if folds and min(high - low for low, high in facets) >= LEG * one.host.thickness:
        for low, high in facets:
            stops = sorted({low, *(end for end in ends if low + TOUCH < end < high - TOUCH), high})
            yield from (_between(one, *pair, style, off) for pair in pairwise(stops))
            if len(stops) > 2:
                yield _between(one, low, high, style, off * 2)
    elif folds:
        yield from (_straight(one, *pair, style, off) for pair in pairwise(sorted({Fraction(0), *ends, length})))
    else:
        if one.openings:
            yield from (_between(one, *pair, style, off) for pair in pairwise(sorted({Fraction(0), *ends, length})))
        yield _between(one, Fraction(0), length, style, off * (2 if one.openings else 1))


def _between(one: PlanHost, low: Fraction, high: Fraction, style: Style, off: float) -> Size:
    frame = one.host.frame(float(low + high) / 2)
    told = Fraction(round((high - low) * 100), 100) if one.host.folds else high - low
    return _outside(one, frame, (frame, low), (frame, high), show(told, style), off)


def _straight(one: PlanHost, low: Fraction, high: Fraction, style: Style, off: float) -> Size:
    """The straight from one place on a curve to another."""
    ends = (one.host.frame(float(low)), low), (one.host.frame(float(high) - FOLD), high)
    made = _outside(one, one.host.frame(float(low + high) / 2), *ends, "", off)
    return replace(made, text=show(Fraction(round(made.length * 100), 100), style))


FOLD = 1e-6
"""How far before a fold a place is still on the facet before it, mm."""


def _outside(
    one: PlanHost, frame: Floats, low: tuple[Floats, Fraction], high: tuple[Floats, Fraction], text: str, off: float
) -> Size:
    """A dimension outside a host, ``frame`` that of where it is, between two places on its outer face."""
    ends = [turn @ (float(at), 0.0, 0.0, 1.0) for turn, at in (low, high)]
    (ax, ay), (bx, by) = ((round(float(end[0]), 6), round(float(end[1]), 6)) for end in ends)
    if (bx, by) < (ax, ay):  # read from below or from the right
        ax, ay, bx, by = bx, by, ax, ay
    outwards = frame[:2, 2]
    left = (-(by - ay), bx - ax)
    side = 1.0 if left[0] * outwards[0] + left[1] * outwards[1] > 0 else -1.0
    return Size((ax, ay), (bx, by), side * off, text)


def _bends(one: PlanHost, style: Style, longest: float) -> Iterator[Words]:
    """How long a bent host is along its line, and the radius of that, beyond its dimensions."""
    if not one.host.folds or one.below:
        return
    radius = f"R {show(one.host.radius, style)}, " if one.host.radius is not None else ""
    along = show(Fraction(round(one.host.length * 100), 100), style)
    middle = float(one.host.length) / 2
    at = one.host.frame(middle) @ (middle, 0.0, longest * CHAIN * 1.2, 1.0)
    yield Words(f"{radius}{along} along", (float(at[0]), float(at[1])), longest * 0.008)


def _marks(scene: Scene, one: PlanHost, longest: float) -> Iterator[Words]:
    """The mark of every unit, inside before it."""
    for opening in () if one.below else one.openings:
        placement = scene.site.placement_by_id[opening.placement]
        middle = float(opening.x + opening.width / 2)
        at = one.host.frame(middle) @ (middle, 0.0, -float(one.host.thickness) - longest * 0.02, 1.0)
        yield Words(placement.mark or placement.id, (float(at[0]), float(at[1])), longest * 0.008)


# --- walls


def wall_draft(scene: Scene, style: Style, wall: str, looks: Looks = "outside", extras: Extras = NO_EXTRAS) -> Draft:
    """A wall laid out flat with its openings and the units in them; each unit is drawn once and used."""
    standing = scene.standing[wall]
    host, turn = standing.host, 1.0 if looks == "outside" else -1.0
    corners = [(0.0, 0.0), (float(host.length), 0.0), *((float(u), float(v)) for u, v in reversed(host.top))]
    holes = [opening.points * (turn, 1.0) for opening in standing.openings]
    paths = [Path(np.array(corners) * (turn, 1.0), "wall"), *(Path(hole, "opening") for hole in holes)]
    used: dict[str, Draft] = {}
    uses = [use for one in standing.openings for use in _used(scene, one, looks, used, extras)]
    sizes = [
        replace(size, start=(turn * size.start[0], size.start[1]), end=(turn * size.end[0], size.end[1]))
        for size in _wall_sizes(host.length, host.height, standing.openings, style)
    ]
    if turn < 0:
        sizes = [replace(size, off=-size.off) for size in sizes]
    return Draft(host.name, tuple(paths), tuple(sizes), (), tuple(uses), used)


def _used(scene: Scene, one: Opening, looks: Looks, used: dict[str, Draft], extras: Extras) -> Iterator[Use]:
    unit = scene.units.get(one.placement)
    if unit is None:
        yield from _brought(scene, one, looks, used)
        return
    placement, size = scene.site.placement_by_id[one.placement], unit.layout.overall
    front = (looks == "outside") != placement.turned
    left, foot = one.x + gap_of(placement, "left"), one.z + gap_of(placement, "sill")
    origin = left + size.right if flipped(placement) else left - size.x
    at = float(origin) * (1 if looks == "outside" else -1), float(foot - size.y)
    key = f"{scene.instance_of[one.placement].definition.partition('@')[0]}-{'outside' if front else 'inside'}"
    reveal = _reveal(scene, one, looks, at) if extras.shadows else None
    if reveal is not None:
        key += f"-{sha256(repr(reveal).encode()).hexdigest()[:8]}"
    if key not in used:
        view: View = "outside" if front else "inside"
        paths = (*_seen_in_wall(unit, front, extras, reveal), *_symbols(unit, view))
        used[key] = Draft(f"{unit.document.name}, {VIEWS[view].lower()}", paths)
    yield Use(key, at, placement.mirrored)


def _brought(scene: Scene, one: Opening, looks: Looks, used: dict[str, Draft]) -> Iterator[Use]:
    """A model that stands in an opening as it was brought."""
    found = brought_in(scene, one, scene.site.placement_by_id[one.placement].wall, looks)
    if found is not None:
        key = f"model-{sha256(found[0].encode()).hexdigest()[:12]}"
        if key not in used:
            used[key] = Draft("Model", tuple(_faces(found[1])))
        yield Use(key, (float(one.x) * (1 if looks == "outside" else -1), float(one.z)))


def _reveal(scene: Scene, one: Opening, looks: Looks, at: tuple[float, float]) -> Reveal | None:
    """The opening that a unit stands in, as its drawing sees it."""
    placement, standing = scene.site.placement_by_id[one.placement], scene.instance_of[one.placement].in_host
    if standing is None:
        return None
    host = scene.standing[placement.wall].host
    face, turn = (0.0, 1.0) if looks == "outside" else (-float(host.thickness), -1.0)
    outline = (one.points * (turn, 1.0) - at) * (-1.0 if placement.mirrored else 1.0, 1.0)
    depth = round((face - float(standing[2, 3])) * turn, 6)
    return Reveal(tuple((x, y) for x, y in outline.round(6).tolist()), depth, placement.mirrored)


def _wall_sizes(length: Fraction, height: Fraction, openings: Sequence[Opening], style: Style) -> Iterator[Size]:
    off = CHAIN * float(max(length, height)) / 1.5
    stops = sorted({Fraction(0), *(end for one in openings for end in (one.x, one.right)), length})
    if openings:
        for low, high in pairwise(stops):
            yield Size((float(low), 0.0), (float(high), 0.0), -off, show(high - low, style))
    yield Size((0.0, 0.0), (float(length), 0.0), -off * (2 if openings else 1), show(length, style))
    heights = sorted({Fraction(0), *_levels(openings), height})
    if openings:
        for low, high in pairwise(heights):
            yield Size((0.0, float(low)), (0.0, float(high)), off, show(high - low, style))
    yield Size((0.0, 0.0), (0.0, float(height)), off * (2 if openings else 1), show(height, style))


def _levels(openings: Iterable[Opening]) -> Iterator[Fraction]:
    """Sill and head of the row that most openings stand in."""
    rows: dict[tuple[Fraction, Fraction], int] = {}
    for one in openings:
        rows[one.z, one.head] = rows.get((one.z, one.head), 0) + 1
    if rows:
        yield from max(rows, key=lambda row: rows[row])
