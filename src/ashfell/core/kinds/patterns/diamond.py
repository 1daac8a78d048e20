"""Muntins in diamonds: two sets of slanting bars through their corners, one diamond standing in the middle."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from math import ceil, hypot, sqrt
from typing import TYPE_CHECKING, Any

from shapely.geometry import LineString

from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.pattern import PATTERNS, Ground, Pattern, Strip

if TYPE_CHECKING:
    from ashfell.core.kinds.fillings.muntins import Muntins
    from ashfell.core.unit.layout import Light
    from ashfell.core.unit.say.writer import Writer


def _strips(ground: Ground) -> Iterator[Strip]:
    pitch, rise, width = float(ground.muntins.pitch.mm), float(ground.muntins.rise.mm), float(ground.muntins.width.mm)
    if min(pitch, rise) <= width * hypot(pitch, rise) / max(pitch, rise):
        long, short = max(pitch, rise), min(pitch, rise)
        wide = long > width
        name = "pitch" if (pitch == short) == wide else "rise"
        least = Fraction(ceil(width * long / sqrt(long**2 - width**2) + 1) if wide else ceil(4 * width))
        raise Refusal(
            f"{ground.entry}.{name}",
            "glass in the diamonds",
            f"Diamonds {pitch:g} by {rise:g} mm are no larger than the bars.",
            f"Make the {name} at least {least} mm.",
            least,
        )
    left, foot, right, head = ground.region.bounds
    middle, reach = ((left + right) / 2, (foot + head) / 2), hypot(right - left, head - foot)
    along = pitch / hypot(pitch, rise), rise / hypot(pitch, rise)
    step = pitch * rise / hypot(pitch, rise)
    count = ceil(reach / step / 2) + 1
    for sign in (1.0, -1.0):
        direction, normal = (sign * along[0], along[1]), (-along[1], sign * along[0])
        for k in range(-count, count):
            at = (middle[0] + normal[0] * step * (k + 0.5), middle[1] + normal[1] * step * (k + 0.5))
            line = tuple((at[0] + s * reach * direction[0], at[1] + s * reach * direction[1]) for s in (-1, 1))
            area = LineString(line).buffer(width / 2, cap_style="flat")
            if area.intersects(ground.region):
                yield Strip(ground.entry, area, line, width)  # type: ignore[arg-type]


def _count(light: Light, muntins: Muntins) -> int:
    left, foot, right, head = light.loop.bounds
    across, up = (right - left) / float(muntins.pitch.mm), (head - foot) / float(muntins.rise.mm)
    return int(2 * across * up + across + up)


def _say(w: Writer, path: str, muntins: Muntins) -> list[Any]:
    return [
        w.length(f"{path}.pitch", muntins.pitch, "Width of the diamonds"),
        "wide and",
        w.length(f"{path}.rise", muntins.rise, "Height of the diamonds"),
        "high",
    ]


DIAMOND = PATTERNS.register(Pattern("diamond", "diamonds", _strips, _say, _count, order=30))
