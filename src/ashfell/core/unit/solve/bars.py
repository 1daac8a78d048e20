"""Bars of a grid: where each begins, ends and reaches into the rebates of what it meets."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction

from shapely.geometry import Polygon
from shapely.geometry.polygon import orient

from ashfell.core.base.address import entry_below
from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.points import polygons
from ashfell.core.unit.document.members import Axis, BarEntry
from ashfell.core.unit.layout import BarRun, CellLayout
from ashfell.core.unit.members.bar import BESIDE, around
from ashfell.core.unit.members.limits import check_bar
from ashfell.core.unit.members.own_section import with_own_section, without_stop
from ashfell.core.unit.members.rebates import grown
from ashfell.core.unit.solve.draft import Draft
from ashfell.core.unit.solve.grid import GridRun
from ashfell.core.unit.solve.inside import is_inside, strip_of


def bar_runs(draft: Draft, owner: CellLayout, run: GridRun) -> Iterator[BarRun]:
    """The stretch of one bar of a grid, placed and checked, with its own section where it has one."""
    other: Axis = "rows" if run.axis == "columns" else "columns"
    own, lights = owner.spacing(run.axis).bars[run.index], owner.spacing(other).lights
    bar: BarEntry = getattr(owner.cell, run.axis).bars[run.index]
    shift, along = owner.origin(run.axis), owner.origin(other)
    word, mark = ("mullion", "r") if run.axis == "columns" else ("transom", "c")
    whole = run.first == 0 and run.last == len(lights) - 1
    name = f"{word}.{owner.key}{run.index + 1}" + ("" if whole else f".{mark}{run.first + 1}")
    seat = draft.ring.seat
    edge = seat.rebate if seat else Fraction(0)
    inner = seat.bar_rebate if seat else Fraction(0)
    made = BarRun(
        name,
        entry_below(owner.path, f"{run.axis}.bars.{run.index}"),
        run.axis,
        own.centre + shift,
        own.size,
        lights[run.first].start + along,
        lights[run.last].end + along,
        inner if run.opens else edge,
        inner if run.closes else edge,
        inner,
        draft.front(owner.cell, bar),
        seat.stop_back if seat else draft.back(owner.cell, bar),
        draft.back(owner.cell, bar),
        bar.edge or owner.cell.bars.edge,
    )
    made = with_own_section(
        made,
        bar.section or owner.cell.bars.section,
        f"{made.entry}.section" if bar.section else entry_below(owner.path, "bars.section"),
    )
    edge_entry, depth_entry = (
        f"{made.entry}.{name}" if getattr(bar, name) is not None else entry_below(owner.path, f"bars.{name}")
        for name in ("edge", "depth")
    )
    check_bar(draft.ring, made, edge_entry, depth_entry)
    yield from _fitted(draft, owner, run, made)


def _rebate_at(draft: Draft, tag: str) -> Fraction:
    """Depth of the rebate beside an edge, mm; none in a ring that has no seat."""
    return draft.ring.seat.rebate_beside(tag) if draft.ring.seat else Fraction(0)


def _fitted(draft: Draft, owner: CellLayout, run: GridRun, bar: BarRun) -> Iterator[BarRun]:
    """The bar as it is where its ends are square, else cut to what it meets (perhaps in several pieces, perhaps
    none).
    """
    if owner.loop.is_rectangle or (run.opens and run.closes and _is_clear(owner, bar)):
        low, high = (0, 2) if bar.axis == "columns" else (3, 1)
        yield without_stop(
            replace(
                bar,
                tongue_start=bar.tongue_start if run.opens else _rebate_at(draft, owner.loop.tags[low]),
                tongue_end=bar.tongue_end if run.closes else _rebate_at(draft, owner.loop.tags[high]),
            )
        )
        return
    half, stem = float(bar.face / 2), float(bar.face / 2 - bar.rebate)
    ends = float(bar.start), float(bar.end)
    reach = float(bar.tongue_start) if run.opens else 0.0, float(bar.tongue_end) if run.closes else 0.0
    far = -1e6 if not run.opens else ends[0], 1e6 if not run.closes else ends[1]
    face_strip = strip_of(bar, half, far[0], far[1])
    wider = strip_of(bar, half + BESIDE, far[0], far[1])
    stem_strip = strip_of(bar, stem, far[0] - reach[0], far[1] + reach[1])
    rebated = owner.loop.points if not draft.ring.seat else grown(draft.ring, owner.loop)
    stems = _pieces(stem_strip, Polygon(rebated))
    made = without_stop(bar)
    if made is not bar:
        within = Polygon(rebated)
        wider = strip_of(bar, stem + BESIDE, far[0] - reach[0], far[1] + reach[1])
        for number, region in enumerate(around(stems, wider, within)):
            name = bar.id if len(stems) == 1 else f"{bar.id}.p{number + 1}"
            yield replace(made, id=name, face_region=region)
        return
    pieces = _pieces(face_strip, owner.loop.polygon)
    if any(sum(stem.intersects(piece) for piece in pieces) > 1 for stem in stems):
        raise Refusal(
            bar.entry,
            "pieces of a bar that stay apart",
            "The outline parts this bar before the glass, and not behind it.",
            "Move it, or leave it out.",
        )
    for number, (piece, region) in enumerate(zip(pieces, around(pieces, wider, owner.loop.polygon), strict=True)):
        own = next((s for s in stems if s.intersects(piece)), None)
        name = bar.id if len(pieces) == 1 else f"{bar.id}.p{number + 1}"
        yield replace(bar, id=name, face_region=region, stem_region=own)


def _is_clear(owner: CellLayout, bar: BarRun) -> bool:
    """Whether a bar between two others lies clear of the outline, with what goes on into their rebates."""
    half, low, high = float(bar.face / 2) + BESIDE, float(bar.start - bar.tongue_start), float(bar.end + bar.tongue_end)
    return is_inside(owner.loop, strip_of(bar, half, low, high).bounds)


def _pieces(strip: Polygon, region: Polygon) -> list[Polygon]:
    return sorted((orient(p) for p in polygons(strip.intersection(region))), key=lambda p: p.bounds)
