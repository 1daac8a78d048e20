"""From a solved unit to its parts."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction

import numpy as np

from ashfell.core.parts import Direction, Part
from ashfell.core.solid import Floats, Section, between, boxes, mitred_members, rings, round_outline, tidy
from ashfell.core.unit.bars import bar_section, bars
from ashfell.core.unit.document import UnitDocument
from ashfell.core.unit.layout import Layout, Rect
from ashfell.core.unit.solve import solve

ALONG_U: Direction = (1.0, 0.0, 0.0)
ALONG_V: Direction = (0.0, 1.0, 0.0)
SIDES = ("sill", "right", "head", "left")
GRAINS = (ALONG_U, ALONG_V, ALONG_U, ALONG_V)
SQUARE: Section = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0))
EASED: Section = ((0.0, 0.0), (0.9, 0.0), (1.0, 0.1), (1.0, 1.0), (0.0, 1.0))
"""What sections of these kinds look like: enough to know their faces."""


def build(document: UnitDocument, layout: Layout | None = None) -> tuple[Part, ...]:
    """The parts of a unit: closed, outward, touching only where they are fitted.

    Parameters
    ----------
    document : UnitDocument
    layout : Layout, optional
        What :func:`~ashfell.core.unit.solve.solve` made of the document, when it is known already.

    Raises
    ------
    Refusal
        When the unit cannot be built.
    """
    layout = layout or solve(document)
    clear, panes = _paths([light.clear for light in layout.lights]), _paths([light.pane for light in layout.lights])
    return (
        *_frame(document, layout),
        *_bars(document, layout),
        *_glass(document, layout, panes),
        *_gaskets(document, layout, clear, panes),
        *_beads(document, layout, clear, panes),
    )


def _frame(document: UnitDocument, layout: Layout) -> list[Part]:
    section = frame_section(document, layout)
    (members,) = mitred_members(round_outline(layout.outline, section), section)
    finish = document.finishes.frame
    return [
        Part(f"frame.{side}", "frame", "frame", finish, grain, solid)
        for side, grain, solid in zip(SIDES, GRAINS, members, strict=True)
    ]


def frame_section(document: UnitDocument, layout: Layout) -> Section:
    """The frame's section: a stop before the glass, a rebate behind it, exposed arrises chamfered."""
    face, depth, ease = (float(size.mm) for size in (document.frame.face, document.frame.depth, document.frame.chamfer))
    stop, web = float(layout.depths.stop_back), face - float(layout.frame_rebate)
    return tidy([
        (ease, 0.0), (face - ease, 0.0), (face, -ease), (face, -stop), (web, -stop), (web, -depth),
        (ease, -depth), (0.0, -depth + ease), (0.0, -ease),
    ])  # fmt: skip


def _bars(document: UnitDocument, layout: Layout) -> list[Part]:
    runs = layout.bars
    if not runs:
        return []
    depths, chamfer = layout.depths, float(document.bars.chamfer.mm)
    front, stop, back = float(depths.bar_front), float(depths.stop_back), float(depths.bar_back)
    sections = {
        face: bar_section(float(face), float(runs[0].rebate), front, stop, back, chamfer)
        for face in {run.face for run in runs}
    }
    solids = bars(
        np.array([sections[run.face] for run in runs]),
        np.array([_stations(run.start, run.end, run.tongue_start, run.tongue_end) for run in runs]),
        [run.axis == "columns" for run in runs],
        np.array([float(run.across) for run in runs]),
        chamfer > 0,
    )
    finish = document.finishes.bar
    return [
        Part(run.id, run.entry, "bar", finish, ALONG_V if run.axis == "columns" else ALONG_U, solid)
        for run, solid in zip(runs, solids, strict=True)
    ]


def _stations(start: Fraction, end: Fraction, before: Fraction, behind: Fraction) -> tuple[float, float, float, float]:
    return float(start - before), float(start), float(end), float(end + behind)


def _glass(document: UnitDocument, layout: Layout, panes: Floats) -> list[Part]:
    depth = np.ones((len(panes), 1))
    lows = np.hstack([panes[:, 0], -float(layout.depths.glass_back) * depth])
    highs = np.hstack([panes[:, 2], -float(layout.depths.glass_front) * depth])
    finish = document.finishes.glass
    return [
        Part(f"glass.{light.key}", "glazing", "glass", finish, ALONG_V, solid)
        for light, solid in zip(layout.lights, boxes(lows, highs), strict=True)
    ]


def _gaskets(document: UnitDocument, layout: Layout, clear: Floats, panes: Floats) -> list[Part]:
    depths, inside = layout.depths, _inset(clear, document.glazing.gasket.shows.mm)
    planes = (("outer", depths.stop_back, depths.glass_front), ("inner", depths.glass_back, depths.bead_front))
    return [
        Part(f"gasket.{light.key}.{name}", "glazing.gasket", "gasket", document.finishes.gasket, ALONG_V, solid)
        for name, front, back in planes
        for light, solid in zip(
            layout.lights,
            rings(between([panes, inside, inside, panes], [-back, -back, -front, -front]), SQUARE),
            strict=True,
        )
    ]


def _beads(document: UnitDocument, layout: Layout, clear: Floats, panes: Floats) -> list[Part]:
    ease = document.glazing.bead.chamfer.mm
    front, back = -layout.depths.bead_front, -layout.depths.bead_back
    outside = _inset(panes, -document.glazing.clearance.mm)
    if ease:
        eased = _inset(clear, -ease)
        corners = between([outside, eased, clear, clear, outside], [back, back, back + ease, front, front])
    else:
        corners = between([outside, clear, clear, outside], [back, back, front, front])
    return [
        Part(f"bead.{light.key}.{side}", "glazing.bead", "bead", document.finishes.bead, grain, solid)
        for light, members in zip(layout.lights, mitred_members(corners, EASED if ease else SQUARE), strict=True)
        for side, grain, solid in zip(SIDES, GRAINS, members, strict=True)
    ]


def _paths(rects: Sequence[Rect]) -> Floats:
    """Corners (n, 4, 2) of rectangles, counter-clockwise from the lower left."""
    flat = np.array([(float(r.x), float(r.y), float(r.x + r.width), float(r.y + r.height)) for r in rects])
    return flat[:, [0, 1, 2, 1, 2, 3, 0, 3]].reshape(-1, 4, 2)


def _inset(paths: Floats, by: Fraction) -> Floats:
    """Rectangles (n, 4, 2) smaller by the same amount on every side (larger when negative), mm."""
    return paths + float(by) * np.array([[1.0, 1.0], [-1.0, 1.0], [-1.0, -1.0], [1.0, -1.0]])
