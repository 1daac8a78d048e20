"""Reveals: openings that widen towards the inside, or are narrower before the frame that stands behind them; in a roof
also plumb ones."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from fractions import Fraction
from math import radians, tan

import numpy as np

from ashfell.core.base.lengths import Length
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import Floats
from ashfell.core.site.document.placement import Placement
from ashfell.core.site.opening import Opening
from ashfell.core.site.variant import planes_in
from ashfell.core.unit.layout import Layout
from ashfell.core.unit.members.faces import side_faces

BEYOND = 1.0
"""How far what is cut reaches beyond the faces of a host, mm."""
UPRIGHT = 89.0
"""What is steeper is no slope, degrees."""


def revealed(
    opening: Opening, placement: Placement, layout: Layout | None, thickness: Fraction, slope: float = 90.0
) -> Opening:
    """An opening with the reveal that its placement asks for, in a host of a thickness and a slope in degrees; the same
    one where it goes square through.

    Raises
    ------
    Refusal
        When the frame leaves no depth for it, or there is no side of a name.
    """
    splayed, stepped = _asked(placement.splay, placement.splays), _asked(placement.step, placement.steps)
    leaning = _leaning(placement, slope)
    if not splayed and not stepped and leaning is None:
        return opening
    front, back = planes_in(placement, layout, thickness) if layout else (Fraction(0), Fraction(0))
    if splayed and back >= thickness:
        raise Refusal(
            "splay",
            "depth behind the frame",
            f"The frame ends {exact_mm(back)} behind the outer face of a wall {exact_mm(thickness)} thick; behind it "
            "nothing is left to splay.",
            "Make the splay 0, or let the frame stand further out.",
            Fraction(0),
        )
    if stepped and front <= 0:
        raise Refusal(
            "step",
            "depth before the frame",
            "Nothing of the wall stands before the frame to cover it.",
            "Make the step 0, or let the frame stand further in.",
            Fraction(0),
        )
    left, foot, right, head = (float(edge) for edge in (opening.x, opening.z, opening.right, opening.head))
    loop = opening.outline or Loop.rectangle(left, foot, right, head)
    levels = [(0.0, loop.points), (-float(thickness), loop.points)]
    if stepped:
        inner = loop.inset(side_faces(loop, placement.step.mm, _mm(placement.steps), "steps"), "step").points
        at = -float(front)
        levels = [(0.0, inner), (at, inner), (at, loop.points), levels[-1]]
    wide = loop.points
    if splayed:
        wide = loop.inset(-side_faces(loop, placement.splay.mm, _mm(placement.splays), "splays"), "splay").points
    if leaning is not None:
        wide = leaned(wide, leaning, float(thickness - max(back, Fraction(0))))
    if wide is not loop.points:
        levels = [*levels[:-1], (-float(back), loop.points), (-float(thickness), wide)]
    levels = [(BEYOND, levels[0][1]), *levels, (-float(thickness) - BEYOND, levels[-1][1])]
    reveal = np.array([np.column_stack([p, np.full(len(p), w)]) for w, p in reversed(levels)])
    return replace(opening, reveal=reveal, leans=leaning is not None and not splayed)


def _leaning(placement: Placement, slope: float) -> tuple[float, float] | None:
    """By how much the foot and the head of a reveal go up its host for each mm inwards; None where it is square.

    Raises
    ------
    Refusal
        Where it is asked for in what does not slope.
    """
    if placement.reveal == "square":
        return None
    if not 0 < slope < UPRIGHT:
        raise Refusal(
            "reveal",
            "a reveal in a slope",
            f"A reveal that is {placement.reveal} is cut in what slopes; this is at {slope:.4g}° from level.",
            "Make it square.",
        )
    steep = tan(radians(slope))
    return (-steep, -steep) if placement.reveal == "plumb" else (-steep, 1 / steep)


def leaned(points: Floats, by: tuple[float, float], deep: float) -> Floats:
    """An outline (c, 2) as it is ``deep`` mm further in, its foot and head moved up by shares of that, and what is
    between them by what is between those."""
    foot, head = points[:, 1].min(), points[:, 1].max()
    share = (points[:, 1] - foot) / (head - foot)
    return np.asarray(points + np.column_stack([np.zeros(len(points)), deep * (by[0] + share * (by[1] - by[0]))]))


def _asked(common: Length, own: Mapping[str, Length]) -> bool:
    return bool(common.mm or any(size.mm for size in own.values()))


def _mm(sizes: Mapping[str, Length]) -> dict[str, Fraction]:
    return {side: size.mm for side, size in sizes.items()}
