"""From a unit document to its exact layout, or the reason why it cannot be built."""

from __future__ import annotations

from fractions import Fraction

from ashfell.core.refusal import Refusal
from ashfell.core.spacing import Light, Rule, Spacing, alternatives, divide, exact_mm
from ashfell.core.unit.document import Axis, Division, UnitDocument
from ashfell.core.unit.layout import BarRun, Depths, Layout, LightCell, Rect

LEAST_WEB = Fraction(4)
"""What must remain of a member beside or between its rebates, mm."""
LEAST_STOP = Fraction(1)
"""What must remain of a stop or a bead behind its chamfer, mm."""
LEAST_GLASS = Fraction(10)
"""The narrowest strip of glass between gaskets, mm."""


def solve(document: UnitDocument) -> Layout:
    """Solve a unit.

    Raises
    ------
    Refusal
        With the entry, the rule, the numbers and the nearest value that would work.
    """
    glazing = document.glazing
    frame_rebate = glazing.cover.mm + glazing.clearance.mm
    bar_rebate = _bar_cover(document) + glazing.clearance.mm
    depths = _depths(document)
    _check_members(document, frame_rebate, bar_rebate, depths)
    columns, rows = divide_axis(document, "columns"), divide_axis(document, "rows")
    outer = Rect(Fraction(0), Fraction(0), document.width.mm, document.height.mm)
    bars = (*_bar_runs(document, columns, rows, "columns"), *_bar_runs(document, columns, rows, "rows"))
    return Layout(outer, columns, rows, _light_cells(document, columns, rows), bars, depths, frame_rebate)


def divide_axis(document: UnitDocument, axis: Axis) -> Spacing:
    """The spacing along one axis."""
    division = _division(document, axis)
    return divide(_span(document, axis), rule=division.rule, **_asked(document, axis))  # type: ignore[arg-type]


def other_rules(document: UnitDocument, axis: Axis) -> dict[Rule, Spacing]:
    """What each rule that fits gives along one axis, the document's own among them."""
    return alternatives(divide_axis(document, axis), **_asked(document, axis))


def _division(document: UnitDocument, axis: Axis) -> Division:
    return document.columns if axis == "columns" else document.rows


def _span(document: UnitDocument, axis: Axis) -> Fraction:
    return document.width.mm if axis == "columns" else document.height.mm


def _asked(document: UnitDocument, axis: Axis) -> dict[str, object]:
    division = _division(document, axis)
    face = document.frame.face.mm
    return {
        "start": face,
        "end": face,
        "bars": [bar.mm for bar in division.bars],
        "lights": [Light(light.size.mm if light.size else None, light.share) for light in division.lights],
        "edge_cover": document.glazing.cover.mm,
        "bar_cover": _bar_cover(document),
        "least": LEAST_GLASS + 2 * document.glazing.gasket.shows.mm,
        "entry": axis,
        "span_entry": "width" if axis == "columns" else "height",
        "way": "wide" if axis == "columns" else "high",
    }


def _bar_cover(document: UnitDocument) -> Fraction:
    glazing = document.glazing
    return glazing.bar_cover.mm if glazing.bar_cover else glazing.cover.mm


def _depths(document: UnitDocument) -> Depths:
    glazing, frame, bars = document.glazing, document.frame, document.bars
    glass_front = glazing.setback.mm
    glass_back = glass_front + glazing.thickness.mm
    bar_back = bars.setback.mm + bars.depth.mm if bars.depth else frame.depth.mm
    return Depths(
        bar_front=bars.setback.mm,
        stop_back=glass_front - glazing.gasket.thickness.mm,
        glass_front=glass_front,
        glass_back=glass_back,
        bead_front=glass_back + glazing.gasket.thickness.mm,
        bead_back=min(frame.depth.mm, bar_back),
        bar_back=bar_back,
        frame_back=frame.depth.mm,
    )


def _check_members(document: UnitDocument, frame_rebate: Fraction, bar_rebate: Fraction, depths: Depths) -> None:
    _check_faces(document, frame_rebate, bar_rebate)
    glazing = document.glazing
    front = max(
        document.frame.chamfer.mm, (depths.bar_front + document.bars.chamfer.mm) if _has_bars(document) else Fraction(0)
    )
    least_setback = front + LEAST_STOP + glazing.gasket.thickness.mm
    if glazing.setback.mm < least_setback:
        raise Refusal(
            "glazing.setback",
            "a stop before the glass",
            f"Glass set back {exact_mm(glazing.setback.mm)} with a gasket of {exact_mm(glazing.gasket.thickness.mm)} "
            f"leaves {exact_mm(depths.stop_back)} for the stop, of which the chamfer and set-back take {exact_mm(front)}.",
            f"Set the glass back at least {exact_mm(least_setback)}.",
            least_setback,
        )
    least_depth = depths.bead_front + glazing.bead.chamfer.mm + LEAST_STOP
    if depths.bead_back < least_depth:
        short_bar = depths.bar_back < depths.frame_back and _has_bars(document)
        entry, who = ("bars.depth", "bars") if short_bar else ("frame.depth", "frame")
        nearest = least_depth - (depths.bar_front if short_bar else 0)
        raise Refusal(
            entry,
            "a bead behind the glass",
            f"Glass {exact_mm(glazing.thickness.mm)} thick, set back {exact_mm(glazing.setback.mm)}, with its gaskets ends "
            f"{exact_mm(depths.bead_front)} behind the face; the {who} ending at {exact_mm(depths.bead_back)} hold no bead there.",
            f"Make the {who} at least {exact_mm(nearest)} deep.",
            nearest,
        )


def _check_faces(document: UnitDocument, frame_rebate: Fraction, bar_rebate: Fraction) -> None:
    frame, bars = document.frame, document.bars
    least = frame_rebate + LEAST_WEB
    if frame.face.mm < least:
        raise Refusal(
            "frame.face", "a web beside the rebate",
            f"A frame face of {exact_mm(frame.face.mm)} has no room for a rebate of {exact_mm(frame_rebate)}.",
            f"Make it at least {exact_mm(least)}.", least,
        )  # fmt: skip
    least = max(2 * bar_rebate + LEAST_WEB, 2 * bars.chamfer.mm + LEAST_STOP)
    axes: tuple[Axis, Axis] = ("columns", "rows")
    for axis in axes:
        for index, bar in enumerate(_division(document, axis).bars):
            if bar.mm < least:
                raise Refusal(
                    f"{axis}.bars.{index}", "a web between the rebates",
                    f"A bar of {exact_mm(bar.mm)} has no room for two rebates of {exact_mm(bar_rebate)}.",
                    f"Make it at least {exact_mm(least)}.", least,
                )  # fmt: skip
    room = min(frame.face.mm / 2, frame.depth.mm / 2, frame.face.mm - frame_rebate)
    if frame.chamfer.mm >= room:
        raise _too_large("frame.chamfer", frame.chamfer.mm, room, "the frame")
    if document.glazing.bead.chamfer.mm >= min(frame_rebate, bar_rebate):
        raise _too_large(
            "glazing.bead.chamfer", document.glazing.bead.chamfer.mm, min(frame_rebate, bar_rebate), "the bead"
        )


def _too_large(entry: str, chamfer: Fraction, limit: Fraction, who: str) -> Refusal:
    return Refusal(
        entry, "a face between chamfers", f"A chamfer of {exact_mm(chamfer)} is too large for {who}.",
        f"It must stay below {exact_mm(limit)}.", limit - Fraction(1, 10),
    )  # fmt: skip


def _has_bars(document: UnitDocument) -> bool:
    return bool(document.columns.bars or document.rows.bars)


def _light_cells(document: UnitDocument, columns: Spacing, rows: Spacing) -> tuple[LightCell, ...]:
    edge, bar = document.glazing.cover.mm, _bar_cover(document)
    across = [bar] * (len(columns.lights) - 1)
    up = [bar] * (len(rows.lights) - 1)
    x_covers, y_covers = [edge, *across, edge], [edge, *up, edge]
    cells = []
    for j, row in enumerate(rows.lights):
        for i, column in enumerate(columns.lights):
            clear = Rect(column.start, row.start, column.size, row.size)
            pane = clear.grown(x_covers[i], x_covers[i + 1], y_covers[j], y_covers[j + 1])
            cells.append(LightCell(i, j, clear, pane))
    return tuple(cells)


def _bar_runs(document: UnitDocument, columns: Spacing, rows: Spacing, axis: Axis) -> list[BarRun]:
    """The bars of one axis: whole where that axis runs through, else one stretch per light of the other axis."""
    own, other = (columns, rows) if axis == "columns" else (rows, columns)
    edge = document.glazing.cover.mm + document.glazing.clearance.mm
    inner = _bar_cover(document) + document.glazing.clearance.mm
    count = len(other.lights)
    stretches: list[tuple[int | None, Fraction, Fraction, Fraction, Fraction]]
    if document.bars.through == axis or count == 1:
        stretches = [(None, other.lights[0].start, other.lights[-1].end, edge, edge)]
    else:
        stretches = [
            (
                light.index,
                light.start,
                light.end,
                inner if light.index else edge,
                edge if light.index == count - 1 else inner,
            )
            for light in other.lights
        ]
    return [
        BarRun(axis, bar.index, stretch, bar.centre, bar.size, start, end, before, behind, inner)
        for bar in own.bars
        for stretch, start, end, before, behind in stretches
    ]
