"""Reveals: openings that widen towards the inside, or are narrower before the frame that stands behind them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from fractions import Fraction

import numpy as np

from ashfell.core.base.lengths import Length
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.plane.loop import Loop
from ashfell.core.site.document.placement import Placement
from ashfell.core.site.opening import Opening
from ashfell.core.site.variant import planes_in
from ashfell.core.unit.layout import Layout
from ashfell.core.unit.members.faces import side_faces

BEYOND = 1.0
"""How far what is cut reaches beyond the faces of a host, mm."""


def revealed(opening: Opening, placement: Placement, layout: Layout | None, thickness: Fraction) -> Opening:
    """An opening with the reveal that its placement asks for, in a host of a thickness; the same one where it goes
    square through.

    Raises
    ------
    Refusal
        When the frame leaves no depth for it, or there is no side of a name.
    """
    splayed, stepped = _asked(placement.splay, placement.splays), _asked(placement.step, placement.steps)
    if not splayed and not stepped:
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
    if splayed:
        wide = loop.inset(-side_faces(loop, placement.splay.mm, _mm(placement.splays), "splays"), "splay").points
        levels = [*levels[:-1], (-float(back), loop.points), (-float(thickness), wide)]
    levels = [(BEYOND, levels[0][1]), *levels, (-float(thickness) - BEYOND, levels[-1][1])]
    return replace(opening, reveal=np.array([np.column_stack([p, np.full(len(p), w)]) for w, p in reversed(levels)]))


def _asked(common: Length, own: Mapping[str, Length]) -> bool:
    return bool(common.mm or any(size.mm for size in own.values()))


def _mm(sizes: Mapping[str, Length]) -> dict[str, Fraction]:
    return {side: size.mm for side, size in sizes.items()}
