"""From a unit document to its exact layout, or the reason why it cannot be built."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from itertools import pairwise

import numpy as np
from shapely.geometry import Polygon, box
from shapely.geometry.polygon import orient

from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import Light as Wanted
from ashfell.core.base.spacing import Rule, Spacing, alternatives, divide, exact_mm
from ashfell.core.plane.cut import band
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import Floats, polygons
from ashfell.core.solid.section import Edge
from ashfell.core.unit.angled import angled_bars
from ashfell.core.unit.document import AXES, Axis, BarEntry, Cell, Division, ExtraRing, Fill, Glass, UnitDocument
from ashfell.core.unit.layout import BarRun, Body, Field, Layout, Light, Rect, Ring, Seat, entry_below
from ashfell.core.unit.opening import sashes_of
from ashfell.core.unit.outlines import outline_of
from ashfell.core.unit.own_sections import (
    LEAST_STOP,
    LEAST_WEB,
    check_rebated,
    fitted_section,
    own_section,
    with_own_section,
    worked,
)

LEAST_GLASS = Fraction(10)
"""The narrowest strip of glass between gaskets, mm."""
FINE = Fraction(1, 1000)
"""What a coordinate of a curve is rounded to where it becomes a size, mm."""
GLASS = Glass()


def solve(document: UnitDocument) -> Layout:
    """Solve a unit.

    Raises
    ------
    Refusal
        With the entry, the rule, the numbers and the nearest value that would work.
    """
    outer = Rect(Fraction(0), Fraction(0), document.width.mm, document.height.mm)
    outline = outline_of(document.outline, float(outer.width), float(outer.height))
    loop = outline.facets()
    faces = _side_faces(loop, document.frame.face.mm, {k: v.mm for k, v in document.frame.sides.items()}, "frame.sides")
    inside = [ring for ring in document.frame.rings if ring.place == "inside"]
    frame = Ring(
        "", "frame", "frame", loop, faces, _frame_clear(document, loop, faces), Fraction(0), document.frame.depth.mm,
        worked(document.frame), document.frame.joint, document.glazing,
        section=own_section(document.frame.section, "frame.section"),
    )  # fmt: skip
    rings = [*_extra_rings(document, frame)]
    innermost = rings[-1][0] if inside else frame
    extent = _extent(frame, outer)
    if inside:
        _check_plain(frame)
        extent = _measured(innermost.clear, outer)
    body = solve_body(document, innermost, outer if not inside else innermost_rect(innermost), extent, ("", ""))
    shown = [frame, *(ring for ring, _ in rings if ring is not innermost)] if inside else [ring for ring, _ in rings]
    return Layout(outer, outline, tuple(shown), body)


def _frame_clear(document: UnitDocument, loop: Loop, faces: Floats) -> Loop:
    """The inner edge of the frame; where there is none, the lights have no room, and that is what is said."""
    try:
        return _clear(loop, faces, "frame.face")
    except Refusal:
        ring = Ring("", "frame", "frame", loop, faces, loop, Fraction(0), document.frame.depth.mm, document.frame.edge)
        face = document.frame.face.mm
        for axis, size in (("columns", document.width.mm), ("rows", document.height.mm)):
            _divide(ring, document, axis, (face, size - face), (Fraction(0), size), "")  # type: ignore[arg-type]
        raise


def innermost_rect(ring: Ring) -> Rect:
    """The overall size of a ring that is not the frame."""
    left, foot, right, head = (rounded(value) for value in ring.loop.bounds)
    return Rect(left, foot, right - left, head - foot)


def rounded(value: float) -> Fraction:
    """A coordinate of a curve as a size."""
    whole = Fraction(round(value * 4), 4)
    return whole if abs(float(whole) - value) < 1e-7 else round(Fraction(value) / FINE) * FINE


def _side_faces(loop: Loop, face: Fraction, sides: dict[str, Fraction], entry: str) -> Floats:
    """The face along each edge; sides are named singly or as ``jambs``."""
    names = set(loop.tags)
    for name in sides:
        if name not in names and not (name == "jambs" and names & {"left", "right"}):
            raise Refusal(
                f"{entry}.{name}", "a side of this outline", f"This outline has no side “{name}”.",
                f"Its sides are {', '.join(dict.fromkeys(loop.tags))}.",
            )  # fmt: skip

    def of(tag: str) -> float:
        own = sides.get(tag, sides.get("jambs") if tag in ("left", "right") else None)
        return float(own if own is not None else face)

    found = np.array([of(tag) for tag in loop.tags])
    for k, (tag, curved) in enumerate(zip(loop.tags, loop.curved, strict=True)):
        beside = found[[k - 1, (k + 1) % len(found)]]
        if curved and tag.startswith("corner") and (np.abs(beside - found[k]) > 1e-9).any():
            raise Refusal(
                f"{entry}.{tag}", "an even face round curved corners",
                f"A curved corner {found[k]:g} mm wide cannot run into a side {beside[np.abs(beside - found[k]).argmax()]:g} mm wide.",
                "Give the sides beside curved corners the same width.",
            )  # fmt: skip
    return found


def _clear(loop: Loop, faces: Floats, entry: str) -> Loop:
    """The inner edge of a ring."""
    try:
        return loop.inset(faces)
    except Refusal as refusal:
        raise replace(refusal, entry=entry) from None


Extent = dict[Axis, tuple[Fraction, Fraction]]
"""From where to where the clear opening goes along each axis, mm in unit space."""


def _extent(ring: Ring, outer: Rect) -> Extent:
    """The clear opening's bounds; exact where an edge or a quadrant lies one face inside the overall size."""
    found: Extent = {}
    for k, axis in enumerate(AXES):
        low, high = (outer.x, outer.right) if axis == "columns" else (outer.y, outer.head)
        found[axis] = (
            _exact(ring.clear.bounds[k], [low + face for face in ring.exact_faces]),
            _exact(ring.clear.bounds[k + 2], [high - face for face in ring.exact_faces]),
        )  # fmt: skip
    return found


def _exact(value: float, candidates: Sequence[Fraction]) -> Fraction:
    near = [c for c in candidates if abs(float(c) - value) < 0.02]
    return min(near, key=lambda c: abs(float(c) - value)) if near else rounded(value)


def _measured(loop: Loop, outer: Rect) -> Extent:
    left, foot, right, head = (rounded(value) for value in loop.bounds)
    return {"columns": (left, right), "rows": (foot, head)}


def _extra_rings(document: UnitDocument, frame: Ring) -> Iterator[tuple[Ring, str]]:
    """Outside rings from the frame outwards, then inside ones from it inwards."""
    for place in ("outside", "inside"):
        last = frame
        for index, ring in enumerate(document.frame.rings):
            if ring.place == place:
                for number in range(ring.count):
                    last = _extra_ring(document, ring, last, f"frame.rings.{index}", f"{index + 1}.{number + 1}")
                    yield last, place


def _extra_ring(document: UnitDocument, ring: ExtraRing, last: Ring, entry: str, key: str) -> Ring:
    face, start = float(ring.face.mm), last.clear if ring.place == "inside" else last.loop
    steps = _side_faces(start, ring.step.mm, {k: v.mm for k, v in ring.steps.items()}, f"{entry}.steps")
    loop = _clear(start, steps, f"{entry}.step") if ring.place == "inside" else start.inset(-steps - face)
    faces = np.full(len(loop.tags), face)
    depth = ring.depth.mm if ring.depth else document.frame.depth.mm
    section = own_section(ring.section, f"{entry}.section", proud=True)
    made = Ring(
        key, entry, "frame", loop, faces, _clear(loop, faces, f"{entry}.face"), ring.setback.mm,
        ring.setback.mm + depth, worked(ring), glazing=document.glazing, section=section,
    )  # fmt: skip
    _check_plain(made)
    return made


# --- what a ring holds ------------------------------------------------------------------------------------------------


def solve_body(
    cell: Cell, ring: Ring, outer: Rect, extent: Extent, where: tuple[str, str], inherited: Fill = GLASS
) -> Body:
    """Everything inside a ring: ``where`` is the cell's document path and what the keys of its lights begin with. The ring
    has a rebate where something in it needs one."""
    if _needs_seat(cell, inherited):
        ring = replace(ring, seat=_seat(ring, cell, where[0]))
    else:
        _check_plain(ring)
    draft = _Draft(ring, [], [], [])
    edges = {axis: (outer.x, outer.right) if axis == "columns" else (outer.y, outer.head) for axis in AXES}
    _solve_cell(draft, cell, ring.clear, extent, edges, where, inherited)
    lights = tuple(replace(light, sashes=sashes_of(light, solve_body)) for light in draft.lights)
    return Body(ring, tuple(draft.fields), lights, tuple(draft.bars))


@dataclass
class _Draft:
    ring: Ring
    fields: list[Field]
    lights: list[Light]
    bars: list[BarRun]

    def front(self, cell: Cell, bar: BarEntry | None) -> Fraction:
        setback = bar.setback if bar and bar.setback is not None else cell.bars.setback
        return self.ring.front + setback.mm

    def back(self, cell: Cell, bar: BarEntry | None) -> Fraction:
        depth = bar.depth if bar and bar.depth is not None else cell.bars.depth
        return self.front(cell, bar) + depth.mm if depth else self.ring.back


def _needs_seat(cell: Cell, inherited: Fill) -> bool:
    fill = cell.fill or inherited
    if not cell.is_divided:
        return fill.kind in ("glass", "panel")
    keys = [f"c{i + 1}r{j + 1}" for i in range(len(cell.columns.lights)) for j in range(len(cell.rows.lights))]
    return any(_needs_seat(cell.cells.get(key, _EMPTY), fill) for key in keys)


_EMPTY = Cell()


def _solve_cell(
    draft: _Draft, cell: Cell, loop: Loop, clear: Extent, outer: dict[Axis, tuple[Fraction, Fraction]],
    where: tuple[str, str], inherited: Fill,
) -> None:  # fmt: skip
    path, key = where
    spacing = {axis: _divide(draft.ring, cell, axis, clear[axis], outer[axis], path) for axis in AXES}
    origin = {axis: outer[axis][0] for axis in AXES}
    entries = _edge_entries(draft.ring, path, outer, clear)
    field = Field(
        path, key, cell, spacing["columns"], spacing["rows"], origin["columns"], origin["rows"], loop, entries
    )
    draft.fields.append(field)
    fill = cell.fill or inherited
    if not cell.is_divided:
        draft.lights += _whole(draft, cell, field, fill)
        return
    owners = _owners(field)
    runs = [run for axis in AXES for run in _grid_runs(field, owners, axis)]
    for run in runs:
        draft.bars += _bar_runs(draft, field, run)
    for (i, j), (span_i, span_j) in _owned(owners).items():
        _solve_light(draft, field, (i, j), (span_i, span_j), fill)


def _edge_entries(
    ring: Ring, path: str, outer: dict[Axis, tuple[Fraction, Fraction]], clear: Extent
) -> dict[Axis, str]:
    """What typing over the perimeter's face changes: the ring's face, where the cell reaches from ring to ring."""
    return {axis: f"{ring.entry}.face" if outer[axis] != clear[axis] else "" for axis in AXES}


def _divide(
    ring: Ring, cell: Cell, axis: Axis, clear: tuple[Fraction, Fraction], outer: tuple[Fraction, Fraction], path: str
) -> Spacing:
    division: Division = getattr(cell, axis)
    return divide(outer[1] - outer[0], rule=division.rule, **asked(ring, cell, axis, clear, outer, path))  # type: ignore[arg-type]


def asked(
    ring: Ring, cell: Cell, axis: Axis, clear: tuple[Fraction, Fraction], outer: tuple[Fraction, Fraction], path: str
) -> dict[str, object]:
    """What :func:`~ashfell.core.spacing.divide` is given besides the span and the rule."""
    division: Division = getattr(cell, axis)
    seat = ring.seat
    whole = path == ""
    return {
        "start": clear[0] - outer[0],
        "end": outer[1] - clear[1],
        "bars": [bar.face.mm for bar in division.bars],
        "lights": [Wanted(light.size.mm if light.size else None, light.share) for light in division.lights],
        "edge_cover": seat.cover if seat else Fraction(0),
        "bar_cover": seat.bar_cover if seat else Fraction(0),
        "least": LEAST_GLASS + (2 * seat.glazing.gasket.shows.mm if seat else 0),
        "entry": entry_below(path, axis),
        "span_entry": ("width" if axis == "columns" else "height") if whole else "",
        "noun": "frame" if whole else "light" if outer == clear else "sash",
        "way": "wide" if axis == "columns" else "high",
    }


def other_rules(layout: Layout, path: str, axis: Axis) -> dict[Rule, Spacing]:
    """What each rule that fits gives along one axis of a cell, the document's own among them."""
    field = layout.fields[path]
    ring = next(body.ring for body in layout.bodies if field in body.fields)
    spacing, origin = field.spacing(axis), field.origin(axis)
    outer = origin, origin + spacing.span
    clear = origin + spacing.lights[0].start, origin + spacing.lights[-1].end
    return alternatives(spacing, **asked(ring, field.cell, axis, clear, outer, path))


Owners = list[list[tuple[int, int]]]
"""For each column and row the light that takes its place: itself, or one that spans over it."""


def _owners(field: Field) -> Owners:
    columns, rows = len(field.columns.lights), len(field.rows.lights)
    owners: Owners = [[(i, j) for j in range(rows)] for i in range(columns)]
    for key, cell in field.cell.cells.items():
        i, j = (int(number) - 1 for number in key[1:].split("r"))
        if cell.span == (1, 1) or i >= columns or j >= rows:
            continue
        entry = entry_below(field.path, f"cells.{key}.span")
        if i + cell.span[0] > columns or j + cell.span[1] > rows:
            raise Refusal(
                entry, "a light within its cell",
                f"From column {i + 1}, row {j + 1} a light cannot span {cell.span[0]} by {cell.span[1]} of {columns} by {rows}.",
                f"It can span {columns - i} by {rows - j}.",
            )  # fmt: skip
        for a in range(i, i + cell.span[0]):
            for b in range(j, j + cell.span[1]):
                if owners[a][b] != (a, b):
                    raise Refusal(
                        entry,
                        "lights stay apart",
                        f"Two lights span column {a + 1}, row {b + 1}.",
                        "Split one of them.",
                    )
                owners[a][b] = (i, j)
    return owners


def _owned(owners: Owners) -> dict[tuple[int, int], tuple[int, int]]:
    """Each light that is there, and how far it spans."""
    found: dict[tuple[int, int], tuple[int, int]] = {}
    for j in range(len(owners[0])):
        for i in range(len(owners)):
            own_i, own_j = owners[i][j]
            found[own_i, own_j] = (i - own_i + 1, j - own_j + 1)
    return found


@dataclass(frozen=True)
class _GridRun:
    """A bar of a grid from one light of the other axis to another; ``opens`` and ``closes`` say at which ends it stops at a
    bar that runs through."""

    axis: Axis
    index: int
    first: int
    last: int
    opens: bool
    closes: bool


def _grid_runs(field: Field, owners: Owners, axis: Axis) -> Iterator[_GridRun]:
    """The bars of one axis: cut where a light spans over them, and where the other axis runs through."""
    count = len(field.spacing("rows" if axis == "columns" else "columns").lights)
    for index in range(len(field.spacing(axis).bars)):
        there = [not _spanned(owners, axis, index, at) for at in range(count)]
        first = None
        for at in range(count):
            if there[at] and first is None:
                first = at
            goes_on = at + 1 < count and there[at] and there[at + 1] and _through(field, owners, axis, index, at)
            if there[at] and not goes_on and first is not None:
                yield _GridRun(axis, index, first, at, first > 0, at + 1 < count)
                first = None


def _spanned(owners: Owners, axis: Axis, index: int, at: int) -> bool:
    """Whether one light lies on both sides of a bar, beside a light of the other axis."""
    if axis == "columns":
        return owners[index][at] == owners[index + 1][at]
    return owners[at][index] == owners[at][index + 1]


def _through(field: Field, owners: Owners, axis: Axis, index: int, at: int) -> bool:
    """Whether a bar goes on over the crossing behind light ``at`` of the other axis: at a T the one with both arms does."""
    other: Axis = "rows" if axis == "columns" else "columns"
    arms = not _spanned(owners, other, at, index), not _spanned(owners, other, at, index + 1)
    return field.cell.bars.through == axis if all(arms) else True


def _bar_runs(draft: _Draft, field: Field, run: _GridRun) -> Iterator[BarRun]:
    other: Axis = "rows" if run.axis == "columns" else "columns"
    own, lights = field.spacing(run.axis).bars[run.index], field.spacing(other).lights
    bar: BarEntry = getattr(field.cell, run.axis).bars[run.index]
    shift, along = field.origin(run.axis), field.origin(other)
    word, mark = ("mullion", "r") if run.axis == "columns" else ("transom", "c")
    whole = run.first == 0 and run.last == len(lights) - 1
    name = f"{word}.{field.key}{run.index + 1}" + ("" if whole else f".{mark}{run.first + 1}")
    seat = draft.ring.seat
    edge = seat.rebate if seat else Fraction(0)
    inner = seat.bar_rebate if seat else Fraction(0)
    made = BarRun(
        name, entry_below(field.path, f"{run.axis}.bars.{run.index}"), run.axis, own.centre + shift, own.size,
        lights[run.first].start + along, lights[run.last].end + along, inner if run.opens else edge,
        inner if run.closes else edge, inner, draft.front(field.cell, bar), seat.stop_back if seat else draft.back(field.cell, bar),
        draft.back(field.cell, bar), bar.edge or field.cell.bars.edge,
    )  # fmt: skip
    made = with_own_section(
        made,
        bar.section or field.cell.bars.section,
        f"{made.entry}.section" if bar.section else entry_below(field.path, "bars.section"),
    )
    _check_bar(draft.ring, made)
    yield from _fitted(draft, field, run, made)


def _fitted(draft: _Draft, field: Field, run: _GridRun, bar: BarRun) -> Iterator[BarRun]:
    """The bar as it is where its ends are square, else cut to what it meets (perhaps in several pieces, perhaps none)."""
    if field.loop.is_rectangle:
        covers = _edge_rebates(draft.ring, field.loop)
        low, high = (0, 2) if bar.axis == "columns" else (3, 1)
        yield replace(
            bar,
            tongue_start=bar.tongue_start if run.opens else covers[low],
            tongue_end=bar.tongue_end if run.closes else covers[high],
        )
        return
    half, stem = float(bar.face / 2), float(bar.face / 2 - bar.rebate)
    ends = float(bar.start), float(bar.end)
    reach = float(bar.tongue_start) if run.opens else 0.0, float(bar.tongue_end) if run.closes else 0.0
    far = -1e6 if not run.opens else ends[0], 1e6 if not run.closes else ends[1]
    face_strip = _strip_box(bar, half, far[0], far[1])
    stem_strip = _strip_box(bar, stem, far[0] - reach[0], far[1] + reach[1])
    rebated = field.loop.points if not draft.ring.seat else _grown(draft.ring, field.loop)
    stems = _pieces(stem_strip, Polygon(rebated))
    pieces = _pieces(face_strip, field.loop.polygon)
    for number, piece in enumerate(pieces):
        own = next((s for s in stems if s.intersects(piece)), None)
        name = bar.id if len(pieces) == 1 else f"{bar.id}.p{number + 1}"
        yield replace(bar, id=name, face_region=piece, stem_region=own)


def _pieces(strip: Polygon, region: Polygon) -> list[Polygon]:
    return sorted((orient(p) for p in polygons(strip.intersection(region))), key=lambda p: p.bounds)


def _strip_box(bar: BarRun, half: float, low: float, high: float) -> Polygon:
    across = float(bar.across)
    return (
        box(across - half, low, across + half, high)
        if bar.axis == "columns"
        else box(low, across - half, high, across + half)
    )


def _edge_rebates(ring: Ring, loop: Loop) -> list[Fraction]:
    if not ring.seat:
        return [Fraction(0)] * len(loop.tags)
    return ring.seat.rebates(loop)


def _grown(ring: Ring, loop: Loop) -> Floats:
    """A loop grown to the bottom of the rebates beside it."""
    grown = loop.moved([-float(value) for value in _edge_rebates(ring, loop)])
    if grown is None:
        raise Refusal(
            ring.glazing_entry, "a rebate round every light",
            "Beside a concave side a light is so small that no rebate goes round it.", "Move the bars there, or make the cover smaller.",
        )  # fmt: skip
    return grown


def _solve_light(draft: _Draft, field: Field, at: tuple[int, int], span: tuple[int, int], fill: Fill) -> None:
    (i, j), key = at, f"c{at[0] + 1}r{at[1] + 1}"
    across, up = field.columns.lights, field.rows.lights
    clear: Extent = {
        "columns": (across[i].start + field.left, across[i + span[0] - 1].end + field.left),
        "rows": (up[j].start + field.foot, up[j + span[1] - 1].end + field.foot),
    }
    cell = field.cell.cells.get(key, _EMPTY)
    loops = _light_loops(field, at, span, clear)
    _refuse_touching(draft.ring, field, key, loops)
    _refuse_leaving(draft.ring, field, key, loops)
    for number, loop in enumerate(loops):
        own = clear if loop.is_rectangle else _narrowed(clear, loop)
        suffix = f".p{number + 1}" if len(loops) > 1 else ""
        where = entry_below(field.path, f"cells.{key}"), f"{field.key}{key}{suffix}"
        if cell.is_divided:
            _solve_cell(draft, cell, loop, own, dict(own), (where[0], f"{where[1]}."), fill)
        else:
            draft.lights += _filled(draft, cell, where, field.path, at, own, loop, cell.fill or fill)


def _refuse_touching(ring: Ring, field: Field, key: str, loops: Sequence[Loop]) -> None:
    """Refuse a light that a point of the outline all but parts: the glass of its pieces would meet behind it."""
    grown = [Polygon(_grown(ring, loop)) for loop in loops] if ring.seat and len(loops) > 1 else []
    if any(a.intersection(b).area > 1e-6 for a, b in pairwise(grown)):
        raise Refusal(
            entry_below(field.path, f"cells.{key}"), "pieces of a light that stay apart",
            "The outline parts this light into pieces so near each other that their glass would meet in the rebate.",
            "Move the bars beside it.",
        )  # fmt: skip


def _refuse_leaving(ring: Ring, field: Field, key: str, loops: Sequence[Loop]) -> None:
    """Refuse a light beside a concave side whose glass would reach out of the rebate there."""
    if not ring.seat or field.loop.is_convex:
        return
    room = Polygon(_grown(ring, field.loop)).buffer(1e-4)
    over = max((Polygon(_grown(ring, loop)).difference(room).area for loop in loops), default=0.0)
    if over > 1e-2:
        raise Refusal(
            entry_below(field.path, f"cells.{key}"), "glass within its rebate",
            f"Where its bars meet the concave outline the glass of light {key} would leave the rebate by {over:.2f} mm².",
            "Move the bars beside it.",
        )  # fmt: skip


def _narrowed(clear: Extent, loop: Loop) -> Extent:
    """The bounds of a light that a curve or slope cuts into; exact where it does not."""
    left, foot, right, head = loop.bounds
    return {
        "columns": (_exact(left, [clear["columns"][0]]), _exact(right, [clear["columns"][1]])),
        "rows": (_exact(foot, [clear["rows"][0]]), _exact(head, [clear["rows"][1]])),
    }


def _light_loops(field: Field, at: tuple[int, int], span: tuple[int, int], clear: Extent) -> list[Loop]:
    """The light's part of the field; its edges named after what they run along."""
    (i, j), tags = at, {}
    last = i + span[0] - 1, j + span[1] - 1
    tags["left"] = f"mullion.{field.key}{i}" if i else ""
    tags["right"] = f"mullion.{field.key}{last[0] + 1}" if last[0] + 1 < len(field.columns.lights) else ""
    tags["sill"] = f"transom.{field.key}{j}" if j else ""
    tags["head"] = f"transom.{field.key}{last[1] + 1}" if last[1] + 1 < len(field.rows.lights) else ""
    if field.loop.is_rectangle:
        own = dict(zip(("sill", "right", "head", "left"), field.loop.tags, strict=True))
        names = [tags[side] or own[side] for side in ("sill", "right", "head", "left")]
        (left, right), (foot, head) = clear["columns"], clear["rows"]
        return [Loop.rectangle(float(left), float(foot), float(right), float(head), names)]
    found = [field.loop]
    for axis, low, high, ends in ((0, "left", "right", clear["columns"]), (1, "sill", "head", clear["rows"])):
        low_at = float(ends[0]) if tags[low] else -1e7
        high_at = float(ends[1]) if tags[high] else 1e7
        if tags[low] or tags[high]:
            found = [piece for loop in found for piece in band(loop, axis, low_at, high_at, tags[low], tags[high])]
    return found


def _whole(draft: _Draft, cell: Cell, field: Field, fill: Fill) -> list[Light]:
    """The one light of a cell that is not divided."""
    clear: Extent = {
        axis: (
            field.origin(axis) + field.spacing(axis).lights[0].start,
            field.origin(axis) + field.spacing(axis).lights[0].end,
        )
        for axis in AXES
    }
    return _filled(draft, cell, (field.path, f"{field.key}c1r1"), field.path, (0, 0), clear, field.loop, fill)


def _filled(
    draft: _Draft,
    cell: Cell,
    where: tuple[str, str],
    field: str,
    at: tuple[int, int],
    clear: Extent,
    loop: Loop,
    fill: Fill,
) -> list[Light]:
    """A light, or the lights that angled bars make of it."""
    loops = [loop]
    if cell.angled:
        loops, bars = angled_bars(draft.ring, cell, where, clear, loop, draft.front(cell, None), draft.back(cell, None))
        draft.bars += bars
    found = []
    for number, piece in enumerate(loops):
        own = clear if piece is loop else _narrowed(clear, piece)
        (left, right), (foot, head) = own["columns"], own["rows"]
        rect = Rect(left, foot, right - left, head - foot)
        suffix = f".a{number + 1}" if len(loops) > 1 else ""
        found.append(Light(where[1] + suffix, where[0], field, *at, rect, piece, fill, draft.ring))
    return found


# --- what must hold ---------------------------------------------------------------------------------------------------


def _seat(ring: Ring, cell: Cell, path: str) -> Seat:
    """How its glazing sits in a ring whose cell has its bars.

    Raises
    ------
    Refusal
        When stop, rebate or bead have no room.
    """
    glazing = ring.glazing
    glass_front = ring.front + glazing.setback.mm
    glass_back = glass_front + glazing.thickness.mm
    seat = Seat(
        glazing, glass_front - glazing.gasket.thickness.mm, glass_front, glass_back, glass_back + glazing.gasket.thickness.mm,
        min([ring.back, *(ring.front + back for back in _bar_backs(cell))]),
    )  # fmt: skip
    _check_seat(seat, ring, cell, path)
    return seat


def _bar_backs(cell: Cell) -> Iterator[Fraction]:
    """Where the bars of a cell and of those in it end behind their ring's face, if not flush with it."""
    for bar in (bar for axis in AXES for bar in getattr(cell, axis).bars):
        depth = bar.depth or cell.bars.depth
        if depth:
            yield (bar.setback if bar.setback is not None else cell.bars.setback).mm + depth.mm
    for inner in cell.cells.values():
        yield from _bar_backs(inner)


def _check_plain(ring: Ring) -> None:
    if ring.section:
        fitted_section(ring.section, float(ring.faces.min()), float(ring.back - ring.front), f"{ring.entry}.section")
        return
    room = min(min(ring.exact_faces) / 2, (ring.back - ring.front) / 2)
    _check_edge(ring.edge, room, f"{ring.entry}.edge.size", f"the {ring.role}")


def _check_seat(seat: Seat, ring: Ring, cell: Cell, path: str) -> None:
    glazing, entry, ring_entry = seat.glazing, ring.glazing_entry, ring.entry
    narrowest = min(ring.exact_faces)
    least = seat.rebate + LEAST_WEB
    if narrowest < least:
        raise Refusal(
            f"{ring_entry}.face", "a web beside the rebate",
            f"A {ring.role} face of {exact_mm(narrowest)} has no room for a rebate of {exact_mm(seat.rebate)}.",
            f"Make it at least {exact_mm(least)}.", least,
        )  # fmt: skip
    if ring.section:
        check_rebated(ring, seat, narrowest)
    else:
        room = min(narrowest / 2, (ring.back - ring.front) / 2, narrowest - seat.rebate)
        _check_edge(ring.edge, room, f"{ring_entry}.edge.size", f"the {ring.role}")
    _check_edge(glazing.bead.edge, min(seat.rebate, seat.bar_rebate), f"{entry}.bead.edge.size", "the bead")
    front = max(
        ring.edge.exact_drop,
        (cell.bars.setback.mm + worked(cell.bars).exact_drop) if cell.is_divided else Fraction(0),
    )
    least_setback = front + LEAST_STOP + glazing.gasket.thickness.mm
    if glazing.setback.mm < least_setback:
        raise Refusal(
            f"{entry}.setback",
            "a stop before the glass",
            f"Glass set back {exact_mm(glazing.setback.mm)} with a gasket of {exact_mm(glazing.gasket.thickness.mm)} "
            f"leaves {exact_mm(seat.stop_back - ring.front)} for the stop, of which the worked edge and set-back take {exact_mm(front)}.",
            f"Set the glass back at least {exact_mm(least_setback)}.",
            least_setback,
        )
    least_depth = seat.bead_front + glazing.bead.edge.exact_drop + LEAST_STOP
    if seat.bead_back < least_depth:
        short_bar = seat.bead_back < ring.back
        place, who = (entry_below(path, "bars.depth"), "bars") if short_bar else (f"{ring_entry}.depth", ring.role)
        nearest = least_depth - ring.front - (cell.bars.setback.mm if short_bar else 0)
        raise Refusal(
            place,
            "a bead behind the glass",
            f"Glass {exact_mm(glazing.thickness.mm)} thick, set back {exact_mm(glazing.setback.mm)}, with its gaskets ends "
            f"{exact_mm(seat.bead_front - ring.front)} behind the face; the {who} ending at {exact_mm(seat.bead_back - ring.front)} hold no bead there.",
            f"Make the {who} at least {exact_mm(nearest)} deep.",
            nearest,
        )
    if glazing.panes > 1 and glazing.thickness.mm <= glazing.panes * glazing.pane.mm:
        least = glazing.panes * glazing.pane.mm + (glazing.panes - 1)
        raise Refusal(
            f"{entry}.thickness", "a cavity between the panes",
            f"{glazing.panes} panes of {exact_mm(glazing.pane.mm)} leave no cavity in {exact_mm(glazing.thickness.mm)}.",
            f"Make the glass at least {exact_mm(least)} thick.", least,
        )  # fmt: skip


def _check_edge(edge: Edge, room: Fraction, entry: str, who: str) -> None:
    taken = max(edge.exact_drop, edge.exact_reach)
    if taken and taken >= room:
        raise Refusal(
            entry, "a face between worked edges", f"An edge worked by {exact_mm(taken)} is too large for {who}.",
            f"It must stay below {exact_mm(room)}.", max(Fraction(0), room - Fraction(1, 10)),
        )  # fmt: skip


def _check_bar(ring: Ring, bar: BarRun) -> None:
    entry = f"{bar.entry}.face"
    least = max(2 * bar.rebate + LEAST_WEB, 2 * bar.edge.exact_reach + LEAST_STOP)
    if bar.face < least:
        raise Refusal(
            entry, "a web between the rebates",
            f"A bar of {exact_mm(bar.face)} has no room for two rebates of {exact_mm(bar.rebate)}.",
            f"Make it at least {exact_mm(least)}.", least,
        )  # fmt: skip
    depth = bar.stop - bar.front if ring.seat else bar.back - bar.front
    if bar.edge.exact_drop + LEAST_STOP > depth:
        raise Refusal(
            entry.replace(".face", ".edge.size"), "a stop behind the worked edge",
            f"An edge worked by {exact_mm(bar.edge.exact_drop)} leaves nothing of the {exact_mm(depth)} before the glass.",
            f"It must stay below {exact_mm(max(depth - LEAST_STOP, Fraction(0)))}.",
        )  # fmt: skip
