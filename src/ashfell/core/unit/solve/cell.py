"""Cells: divided into lights to any depth, each light filled."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from itertools import pairwise

import shapely
from shapely.geometry import Polygon

from ashfell.core.base.address import cell_place, entry_below
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import Asked, Spacing, Wanted, divide
from ashfell.core.kinds.filling import FillEntry
from ashfell.core.plane.cut import WITHIN_REACH, band
from ashfell.core.plane.loop import SIDES, Loop
from ashfell.core.unit.document.cell import Cell
from ashfell.core.unit.document.members import AXES, Axis, Division
from ashfell.core.unit.layout import CellLayout, Light, Rect, Ring
from ashfell.core.unit.members.angled import angled_bars
from ashfell.core.unit.members.rebates import LEAVES, grown, leaving, refuse_covers
from ashfell.core.unit.seat import Seat
from ashfell.core.unit.solve.bars import bar_runs
from ashfell.core.unit.solve.draft import Draft
from ashfell.core.unit.solve.extent import Extent, narrowed
from ashfell.core.unit.solve.grid import grid_runs, owned, owners_of
from ashfell.core.unit.solve.inside import is_inside

LEAST_GLASS = Fraction(10)
"""The narrowest strip of glass between gaskets, mm."""


EMPTY_CELL = Cell()


def solve_cell(
    draft: Draft,
    cell: Cell,
    loop: Loop,
    clear: Extent,
    outer: dict[Axis, tuple[Fraction, Fraction]],
    where: tuple[str, str],
    inherited: FillEntry,
) -> None:
    """A cell and all in it, added to what is known of its ring: ``clear`` is its clear opening along each axis,
    ``outer`` that with the perimeter members it is spaced between, ``where`` its address and what the keys of its
    lights begin with.

    Raises
    ------
    Refusal
        When its lights have no room, span over each other, or a bar cannot be built.
    """
    path, key = where
    draft.budget.enter(path)
    _check_lights(cell, path)
    count = len(cell.columns.lights) * len(cell.rows.lights)
    draft.budget.spend(count + count // 2 if path else count, entry_below(path, "columns"), "lights")
    made = {axis: divided(draft.ring, cell, axis, clear[axis], outer[axis], path) for axis in AXES}
    (columns, rows), asked = (made[axis][0] for axis in AXES), {axis: made[axis][1] for axis in AXES}
    entries = _edge_entries(draft.ring, path, outer, clear)
    owner = CellLayout(path, key, cell, columns, rows, outer["columns"][0], outer["rows"][0], loop, entries, asked)
    draft.cells.append(owner)
    fill = cell.fill or inherited
    if not cell.is_divided and not cell.cells:
        draft.lights += _whole(draft, cell, owner, fill)
        return
    owners = owners_of(owner)
    runs = [run for axis in AXES for run in grid_runs(owner, owners, axis)]
    for run in runs:
        draft.bars += bar_runs(draft, owner, run)
    columns_of: _Columns = {}
    for (i, j), (span_i, span_j) in owned(owners).items():
        _solve_light(draft, owner, (i, j), (span_i, span_j), fill, columns_of)


def _check_lights(cell: Cell, path: str) -> None:
    """Refuse entries for lights that are not there: nothing is ignored."""
    across, up = len(cell.columns.lights), len(cell.rows.lights)
    for key in cell.cells:
        column, row = cell_place(key) or (0, 0)
        if column > across or row > up or not column:
            there = "c1r1" if across == up == 1 else f"c1r1 to c{across}r{up}"
            raise Refusal(
                entry_below(path, f"cells.{key}"),
                "a light that is there",
                f"There is no light {key}: it has {across} across and {up} up.",
                f"Name one from {there}, or leave it out.",
            )
    if cell.angled and cell.cells and not cell.is_divided:
        raise Refusal(
            entry_below(path, "cells.c1r1"),
            "a light that is there",
            "Its angled bars part this light; one that is not divided otherwise has no lights by column and row.",
            "Say it of the cell itself, or leave it out.",
        )


def _edge_entries(
    ring: Ring, path: str, outer: dict[Axis, tuple[Fraction, Fraction]], clear: Extent
) -> dict[Axis, str]:
    """What typing over the perimeter's face changes: the ring's face, where the cell reaches from ring to ring."""
    return {axis: f"{ring.entry}.face" if outer[axis] != clear[axis] else "" for axis in AXES}


Ends = tuple[Fraction, Fraction]
"""From where to where, mm."""


def divided(ring: Ring, cell: Cell, axis: Axis, clear: Ends, outer: Ends, path: str) -> tuple[Spacing, Asked]:
    """A cell divided along one axis, and what was asked of :func:`~ashfell.core.base.spacing.divide` besides span and
    rule.

    Raises
    ------
    Refusal
        When the lights have no room.
    """
    division: Division = getattr(cell, axis)
    seat, whole, shared = ring.seat, path == "", any(light.size is None for light in division.lights)
    start, end = clear[0] - outer[0], outer[1] - clear[1]
    square = {start, end} <= {*ring.exact_faces}  # else a point is there, and how deep it is follows the outline's size
    asked: Asked = {
        "start": start,
        "end": end,
        "bars": [bar.face.mm for bar in division.bars],
        "lights": [Wanted(light.size.mm if light.size else None, light.share) for light in division.lights],
        "edge_covers": _edge_covers(seat, axis),
        "bar_cover": seat.bar_cover if seat else Fraction(0),
        "least": LEAST_GLASS + (2 * seat.glazing.gasket.shows.mm if seat else 0),
        "entry": entry_below(path, axis),
        "span_entry": ("width" if axis == "columns" else "height") if whole and (square or shared) else "",
        "noun": "frame" if whole else "light" if outer == clear else "sash",
        "way": "wide" if axis == "columns" else "high",
    }
    return divide(outer[1] - outer[0], rule=division.rule, **asked), asked


def _edge_covers(seat: Seat | None, axis: Axis) -> tuple[Fraction, Fraction]:
    """How far glass goes behind the members at both ends of an axis, mm."""
    first, last = (
        seat.cover if seat and side not in seat.bare else Fraction(0)
        for side in (("left", "right") if axis == "columns" else ("sill", "head"))
    )
    return first, last


_Columns = dict[tuple[int, int], Sequence[Loop]]
"""What of a cell lies in its columns from one to another."""


def _solve_light(
    draft: Draft,
    owner: CellLayout,
    at: tuple[int, int],
    span: tuple[int, int],
    fill: FillEntry,
    columns_of: _Columns,
) -> None:
    (i, j), key = at, f"c{at[0] + 1}r{at[1] + 1}"
    across, up = owner.columns.lights, owner.rows.lights
    clear: Extent = {
        "columns": (across[i].start + owner.left, across[i + span[0] - 1].end + owner.left),
        "rows": (up[j].start + owner.foot, up[j + span[1] - 1].end + owner.foot),
    }
    cell = owner.cell.cells.get(key, EMPTY_CELL)
    loops = _light_loops(owner, at, span, clear, columns_of)
    _refuse_touching(draft.ring, owner, key, loops)
    _refuse_leaving(draft, owner, key, loops)
    for number, loop in enumerate(loops):
        own = clear if loop.is_rectangle else narrowed(clear, loop)
        suffix = f".p{number + 1}" if len(loops) > 1 else ""
        where = entry_below(owner.path, f"cells.{key}"), f"{owner.key}{key}{suffix}"
        if cell.is_divided or cell.cells:
            solve_cell(draft, cell, loop, own, dict(own), (where[0], f"{where[1]}."), fill)
        else:
            draft.lights += _filled(draft, cell, where, owner.path, at, own, loop, cell.fill or fill)


def _refuse_touching(ring: Ring, owner: CellLayout, key: str, loops: Sequence[Loop]) -> None:
    """Refuse a light that a point of the outline all but parts: the glass of its pieces would meet behind it."""
    behind = [Polygon(grown(ring, loop)) for loop in loops] if ring.seat and len(loops) > 1 else []
    if any(a.intersection(b).area > 1e-6 for a, b in pairwise(behind)):
        raise Refusal(
            entry_below(owner.path, f"cells.{key}"),
            "pieces of a light that stay apart",
            "The outline parts this light into pieces so near each other that their glass would meet in the rebate.",
            "Move the bars beside it.",
        )


def _refuse_leaving(draft: Draft, owner: CellLayout, key: str, loops: Sequence[Loop]) -> None:
    """Refuse a light beside a curve or a concave side whose glass or lining would reach out of the rebate there, or
    into a bar; so it does, too, where it ends in a point between a bar and a side that all but run together."""
    if not draft.ring.seat or all(_is_square(owner, loop) for loop in loops):
        return
    behind = [Polygon(grown(draft.ring, loop)) for loop in loops]
    over = leaving(draft.ring, owner.loop, behind)
    if over > LEAVES and owner.loop.is_convex:
        refuse_covers(draft.ring, owner.loop, loops, key, over)
    beside = [loop if owner.loop.is_convex else None for loop in loops]
    into = max(_into(one, draft, loop) for one, loop in zip(behind, beside, strict=True))
    if over > LEAVES or into > INTO:
        raise Refusal(
            entry_below(owner.path, f"cells.{key}"),
            "glass within its rebate",
            f"Where its bars meet the outline the glass of light {key} would leave the rebate by "
            f"{max(over, into):.2f} mm².",
            "Move the bars beside it.",
        )


def _is_square(owner: CellLayout, loop: Loop) -> bool:
    """Whether what goes behind a light is a rectangle, and no hollow corner is near it."""
    if not loop.is_rectangle or owner.loop.is_convex:
        return loop.is_rectangle
    return is_inside(owner.loop, loop.bounds, WITHIN_REACH)


INTO = 1e-2
"""How much of what a light takes may be in bars by rounding, mm²."""


def _into(behind: Polygon, draft: Draft, loop: Loop | None) -> float:
    """How much of what a light takes is in bars, mm²; those beside it do not count where its ``loop`` is given: it lies
    in their rebates."""
    tags = set(loop.tags) if loop else set()
    bars, stems = draft.stems
    near = [k for k in stems.query(behind).tolist() if not {bars[k].id, bars[k].id.rpartition(".")[0]} & tags]
    return float(shapely.area(shapely.intersection(behind, stems.geometries[near])).max(initial=0.0))


def _refuse_tips(ring: Ring, loop: Loop, pieces: Sequence[Loop], entry: str) -> None:
    """Refuse an angled bar that meets an edge at so shallow an angle that the glass beside it leaves the rebate."""
    if not ring.seat:
        return
    over = leaving(ring, loop, [Polygon(grown(ring, piece)) for piece in pieces])
    if over > LEAVES:
        raise Refusal(
            entry,
            "rebates that stay apart",
            f"Where a bar meets an edge at a shallow angle the glass beside it leaves its rebate by {over:.4g} mm².",
            "Move its points, or make it straighter.",
        )


def _light_loops(
    owner: CellLayout, at: tuple[int, int], span: tuple[int, int], clear: Extent, columns_of: _Columns
) -> Sequence[Loop]:
    """The light's part of the owner; its edges named after what they run along. What lies in its columns is cut once
    for all lights in them."""
    (i, j), tags = at, {}
    last = i + span[0] - 1, j + span[1] - 1
    tags["left"] = f"mullion.{owner.key}{i}" if i else ""
    tags["right"] = f"mullion.{owner.key}{last[0] + 1}" if last[0] + 1 < len(owner.columns.lights) else ""
    tags["sill"] = f"transom.{owner.key}{j}" if j else ""
    tags["head"] = f"transom.{owner.key}{last[1] + 1}" if last[1] + 1 < len(owner.rows.lights) else ""
    (left, right), (foot, head) = ([float(end) for end in clear[axis]] for axis in AXES)
    if owner.loop.is_rectangle:
        own = dict(zip(SIDES, owner.loop.tags, strict=True))
        return [Loop.rectangle(left, foot, right, head, [tags[side] or own[side] for side in SIDES])]
    between_bars = owner.loop.is_convex and all(tags.values())
    if between_bars and is_inside(owner.loop, (left, foot, right, head), WITHIN_REACH):
        return [Loop.rectangle(left, foot, right, head, [tags[side] for side in SIDES])]
    if (i, last[0]) not in columns_of:
        columns_of[i, last[0]] = _between([owner.loop], 0, clear["columns"], (tags["left"], tags["right"]))
    return _between(columns_of[i, last[0]], 1, clear["rows"], (tags["sill"], tags["head"]))


def _between(
    loops: Sequence[Loop], axis: int, ends: tuple[Fraction, Fraction], tags: tuple[str, str]
) -> Sequence[Loop]:
    """What of loops lies between two bars along an axis; all of them where there is none."""
    low, high = tags
    if not low and not high:
        return loops
    low_at, high_at = float(ends[0]) if low else -1e7, float(ends[1]) if high else 1e7
    return [piece for loop in loops for piece in band(loop, axis, low_at, high_at, low, high)]


def _whole(draft: Draft, cell: Cell, owner: CellLayout, fill: FillEntry) -> list[Light]:
    """The one light of a cell that is not divided."""
    clear: Extent = {
        axis: (
            owner.origin(axis) + owner.spacing(axis).lights[0].start,
            owner.origin(axis) + owner.spacing(axis).lights[0].end,
        )
        for axis in AXES
    }
    return _filled(draft, cell, (owner.path, f"{owner.key}c1r1"), owner.path, (0, 0), clear, owner.loop, fill)


def _filled(
    draft: Draft,
    cell: Cell,
    where: tuple[str, str],
    of: str,
    at: tuple[int, int],
    clear: Extent,
    loop: Loop,
    fill: FillEntry,
) -> list[Light]:
    """A light, or the lights that angled bars make of it."""
    loops = [loop]
    if cell.angled:
        loops, bars = angled_bars(
            draft.ring, cell, where, clear, loop, (draft.front(cell, None), draft.back(cell, None))
        )
        draft.bars += bars
        _refuse_tips(draft.ring, loop, loops, entry_below(where[0], "angled.0"))
    found = []
    for number, piece in enumerate(loops):
        own = clear if piece is loop else narrowed(clear, piece)
        (left, right), (foot, head) = own["columns"], own["rows"]
        rect = Rect(left, foot, right - left, head - foot)
        suffix = f".a{number + 1}" if len(loops) > 1 else ""
        found.append(Light(where[1] + suffix, where[0], of, *at, rect, piece, fill, draft.ring))
    return found
