"""Circles and ellipses, and parts of them on a straight side."""

from __future__ import annotations

from fractions import Fraction
from math import ceil, pi, tan
from typing import Any, Literal

from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.outline import OUTLINES, OutlineEntry, OutlineKind
from ashfell.core.plane.curves import ELLIPSE_ARCS, elliptic, without_empty
from ashfell.core.plane.outline import Outline
from ashfell.core.unit.say.writer import Writer


class Round(OutlineEntry):
    """A circle or ellipse (by overall width and height), or a part of a circle on a straight side."""

    kind: Literal["ellipse", "half-round", "quarter-round", "d"]
    straight: Literal["foot", "left", "right"] = "foot"


def _round(entry: Round, width: float, height: float) -> Outline:
    if entry.kind == "ellipse":
        if abs(width - height) < 1e-9:
            return Outline.of([(0.0, height / 2, 1.0), (width, height / 2, 1.0)], ["ring", "ring"])
        nodes = elliptic(width, height, 0.0, 2 * pi, 4 * ELLIPSE_ARCS)
        return Outline.of([(x + width / 2, y + height / 2, bulge) for x, y, bulge in nodes], ["ring"] * len(nodes))
    if entry.kind == "half-round":
        nodes = [
            (0.0, 0.0, 0.0),
            *((x + width / 2, y, bulge) for x, y, bulge in elliptic(width, 2 * height, 0.0, pi, 2 * ELLIPSE_ARCS)),
        ]
        if abs(height - width / 2) < 1e-9:
            nodes = [(0.0, 0.0, 0.0), (width, 0.0, 1.0)]
        return Outline.of(nodes, ["sill", *["head"] * (len(nodes) - 1)])
    if entry.kind == "quarter-round":
        return _quarter(entry, width, height)
    return _d(entry, width, height)


def _quarter(entry: Round, width: float, height: float) -> Outline:
    """A quarter of an ellipse; its upright side is on the left, or on the right."""
    nodes = [(0.0, 0.0, 0.0), *elliptic(2 * width, 2 * height, 0.0, pi / 2, ELLIPSE_ARCS), (0.0, height, 0.0)]
    if abs(width - height) < 1e-9:
        nodes = [(0.0, 0.0, 0.0), (width, 0.0, tan(pi / 8)), (0.0, height, 0.0)]
    names = ["sill", *["head"] * (len(nodes) - 2), "left"]
    outline = Outline.of(nodes, names)
    return outline if entry.straight != "right" else _mirrored(outline, width)


def _mirrored(outline: Outline, width: float) -> Outline:
    swap = {"left": "right", "right": "left"}
    flipped = [(width - s.end[0], s.end[1], s.bulge) for s in reversed(outline.segments)]
    return Outline.of(flipped, [swap.get(name, name) for name in reversed(outline.names)])


def _d(entry: Round, width: float, height: float) -> Outline:
    """A straight side on the left (or right), lines from it, and a half circle."""
    radius = height / 2
    if width < radius - 1e-9:
        raise Refusal(
            "width",
            "a half circle in a D",
            f"A D of height {height:g} mm is at least {radius:g} mm wide.",
            f"Make it {ceil(radius)} mm wide or more.",
            Fraction(ceil(radius)),
        )
    nodes = [(0.0, 0.0, 0.0), (width - radius, 0.0, 1.0), (width - radius, height, 0.0), (0.0, height, 0.0)]
    outline = without_empty(nodes, ["sill", "right", "head", "left"])
    return _mirrored(outline, width) if entry.straight == "right" else outline


def _upright(w: Writer, path: str, entry: Round) -> list[Any]:
    sides, now = {"foot": "left", "right": "right"}, "right" if entry.straight == "right" else "foot"
    return [", upright on the", w.choice(f"{path}.straight", now, sides, "Upright side")]


ELLIPSE = OUTLINES.register(OutlineKind("ellipse", "Circle or ellipse", Round, _round, order=80))
HALF_ROUND = OUTLINES.register(OutlineKind("half-round", "Half-round", Round, _round, order=90))
QUARTER_ROUND = OUTLINES.register(OutlineKind("quarter-round", "Quarter-round", Round, _round, order=100, say=_upright))
D = OUTLINES.register(OutlineKind("d", "D", Round, _round, order=110, say=_upright))
