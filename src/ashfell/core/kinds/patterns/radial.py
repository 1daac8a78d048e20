"""Muntins as circles about a centre, and spokes from the innermost of them outwards, evenly over the angle above the
foot.
"""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from math import ceil, cos, floor, hypot, pi, sin
from typing import TYPE_CHECKING, Any

import numpy as np
from shapely.geometry import LineString, Point

from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.pattern import PATTERNS, Ground, Pattern, Strip, band_of
from ashfell.core.plane.loop import Loop
from ashfell.core.unit.say.writer import Action, Writer

if TYPE_CHECKING:
    from ashfell.core.kinds.fillings.muntins import Muntins
    from ashfell.core.unit.layout import Light

CIRCLE_CHORD = 0.1
"""Chord tolerance of circles, mm."""


def _strips(ground: Ground) -> Iterator[Strip]:
    width = float(ground.muntins.width.mm)
    left, foot, right, _ = ground.region.bounds
    centre = ((left + right) / 2, foot)
    if ground.muntins.centre:
        centre = (
            float(ground.light.clear.x + ground.muntins.centre[0].mm),
            float(ground.light.clear.y + ground.muntins.centre[1].mm),
        )
    radii = sorted(float(size.mm) for size in ground.muntins.circles)
    for radius in radii:
        if radius <= width / 2:
            index = next(n for n, size in enumerate(ground.muntins.circles) if float(size.mm) == radius)
            least = Fraction(floor(width / 2) + 1)
            raise Refusal(
                f"{ground.entry}.circles.{index}",
                "a circle wider than its bar",
                f"A circle of {radius:g} mm is no wider than its bar of {width:g} mm.",
                f"Make it {least} mm or more.",
                least,
            )
        circle = _circle(centre, radius, width / 2)
        yield Strip(ground.entry, band_of(circle, width / 2, ground.entry), None, width, circle)
    far = (
        hypot(ground.region.bounds[2] - ground.region.bounds[0], ground.region.bounds[3] - ground.region.bounds[1]) * 2
    )
    round_ = ground.region.contains(Point(centre[0], centre[1])) and ground.muntins.centre is not None
    start = radii[0] if radii else 0.0
    for k in range(ground.muntins.spokes):
        angle = 2 * pi * k / ground.muntins.spokes + pi / 2 if round_ else pi * (k + 1) / (ground.muntins.spokes + 1)
        ends = tuple((centre[0] + r * cos(angle), centre[1] + r * sin(angle)) for r in (start, far))
        area = LineString(ends).buffer(width / 2, cap_style="flat")
        yield Strip(ground.entry, area, ends, width)  # type: ignore[arg-type]


def _circle(centre: tuple[float, float], radius: float, more: float) -> Loop:
    """A circle in as many facets as one that is ``more`` wide needs, mm."""
    pieces = max(16, ceil(pi / np.arccos(max(0.0, 1 - CIRCLE_CHORD / (radius + more))) / 4) * 4)
    turns = np.arange(pieces) * 2 * pi / pieces
    points = np.column_stack([np.cos(turns), np.sin(turns)]) * radius + centre
    return Loop.through(points, ("circle",) * pieces, (True,) * pieces)


def _say(w: Writer, path: str, muntins: Muntins) -> list[Any]:
    parts: list[Any] = [":", w.number(f"{path}.spokes", muntins.spokes, "Spokes"), "spokes"]
    for index, size in enumerate(muntins.circles):
        own = f"{path}.circles.{index}"
        parts += [", circle", w.length(own, size, f"Radius of circle {index + 1}")]
        parts += [Action(f"{own}.removed", "×", f"Remove circle {index + 1}")]
    return [*parts, Action(f"{path}.circles.added", "Add circle", "Add a circle of muntins")]


def _count(light: Light, muntins: Muntins) -> int:
    circles = len(muntins.circles)
    return 2 * circles + muntins.spokes * (circles + 1)


RADIAL = PATTERNS.register(Pattern("radial", "spokes and circles", _strips, _say, _count, order=40))
