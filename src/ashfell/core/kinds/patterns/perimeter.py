"""Muntins that follow each edge at a distance, going on to the edges they cross."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from math import ceil
from typing import TYPE_CHECKING, Any

from shapely.geometry import Polygon, box

from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.pattern import PATTERNS, Ground, Pattern, Strip, band_of
from ashfell.core.plane.points import polygons

if TYPE_CHECKING:
    from ashfell.core.kinds.fillings.muntins import Muntins
    from ashfell.core.unit.say.writer import Writer


def _strips(ground: Ground) -> Iterator[Strip]:
    width, inset = float(ground.muntins.width.mm), float(ground.muntins.inset.mm)
    left, foot, right, head = ground.region.bounds
    if 2 * (inset + width) >= min(right - left, head - foot):
        most = min(right - left, head - foot) / 2 - width
        if most <= 1:
            raise Refusal(
                f"{ground.entry}.kind",
                "glass between the bars",
                f"Bars {width:g} mm wide along the edges leave nothing between them.",
                "Choose another pattern, or make the bars narrower.",
            )
        raise Refusal(
            f"{ground.entry}.inset",
            "glass between the bars",
            f"Bars {inset:g} mm from the edges leave nothing between them.",
            f"They can be at most {ceil(most) - 1} mm from the edges.",
            Fraction(ceil(most) - 1),
        )
    if ground.light.is_rectangle:
        for upright, at in (
            (True, left + inset),
            (True, right - inset - width),
            (False, foot + inset),
            (False, head - inset - width),
        ):
            middle = at + width / 2
            line = ((middle, foot - 1), (middle, head + 1)) if upright else ((left - 1, middle), (right + 1, middle))
            area = box(at, foot - 1, at + width, head + 1) if upright else box(left - 1, at, right + 1, at + width)
            yield Strip(ground.entry, area, line, width)
        return
    try:
        middle = ground.light.loop.inset(inset + width / 2, ground.entry)
        yield Strip(ground.entry, band_of(middle, width / 2, ground.entry), None, width, middle)
        return
    except Refusal:
        pass  # in a hollow light what is set in may be several rings
    outer = Polygon(ground.light.loop.points).buffer(-inset, join_style="mitre", mitre_limit=20)
    inner = outer.buffer(-width, join_style="mitre", mitre_limit=20)
    yield from (Strip(ground.entry, ring, None, width) for ring in polygons(outer.difference(inner)))


def _say(w: Writer, path: str, muntins: Muntins) -> list[Any]:
    return ["set", w.length(f"{path}.inset", muntins.inset, "Inset of the perimeter bars"), "in"]


PERIMETER = PATTERNS.register(
    Pattern("perimeter", "a perimeter pattern", _strips, _say, lambda light, muntins: 12, order=20)
)
