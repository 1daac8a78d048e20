"""What lies on its frame over a light: how much of the plan it covers, and what must not be there."""

from __future__ import annotations

from dataclasses import dataclass, field
from fractions import Fraction
from math import floor
from typing import TYPE_CHECKING, Any

import numpy as np
from shapely.geometry import Polygon

from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.plane.points import TOUCH, Floats
from ashfell.core.unit.beside import Beside
from ashfell.core.unit.layout import Content, Light

if TYPE_CHECKING:
    from ashfell.core.unit.document.unit import UnitDocument


@dataclass(frozen=True, eq=False)
class Over(Content):
    """What lies over a light, with its lap on the frame; ``crown`` are points that nothing of it goes beyond, (n, 3):
    u, v and how high over the frame's face, mm."""

    covers: Polygon = field(default_factory=Polygon)
    crown: Floats = field(default_factory=lambda: np.zeros((0, 3)))

    @property
    def spread(self) -> Polygon:
        """All that it covers."""
        return self.covers


def check_lap(light: Light, fill: Any) -> None:
    """Refuse what lies on no outer face, and a lap that is wider than the frame it lies on.

    Raises
    ------
    Refusal
        With the frame's face.
    """
    ring = light.ring
    if ring.role == "leaf" or (ring.role == "sash" and ring.front > 0):
        raise Refusal(
            f"{light.entry}.kind",
            "nothing before what rises",
            "It would rise before what moves here, or in what stands before it.",
            "Choose another filling, or let the sash stand flush with the outer face.",
        )
    left_out = sorted(ring.bare & {*light.loop.tags})
    if left_out:
        raise Refusal(
            f"{light.entry}.kind",
            "a frame all round it",
            f"On the {left_out[0]} there is no member for it to lie on.",
            "Give that side a face, or choose another filling.",
        )
    if fill.lap.mm > ring.least_face:
        raise Refusal(
            f"{light.entry}.lap",
            "a lap on its frame",
            f"It cannot lie on {exact_mm(fill.lap.mm)} of a frame {exact_mm(ring.least_face)} wide.",
            f"Make it at most {exact_mm(ring.least_face)}.",
            ring.least_face,
        )


def clears_over(document: UnitDocument, beside: Beside, light: Light) -> None:
    """Beside it on the frame there is no other, and no casing.

    Raises
    ------
    Refusal
        With the lap that leaves them room.
    """
    fill: Any = light.fill
    assert isinstance(light.content, Over)
    room = light.ring.least_face
    if document.trim.outside:
        room = min(room, max(Fraction(0), light.ring.least_face - document.trim.outside.lap.mm))
    for other in beside.near(light, light.content.covers):
        if isinstance(other.content, Over) and other.content.covers.intersection(light.content.covers).area > TOUCH:
            room = min(room, _room_beside(light, other))
    if fill.lap.mm > room:
        raise Refusal(
            f"{light.entry}.lap",
            "a lap beside others",
            f"Beside a casing or another light it cannot lie on {exact_mm(fill.lap.mm)} of the frame.",
            f"Make it at most {exact_mm(room)}.",
            room,
        )


def _room_beside(light: Light, other: Light) -> Fraction:
    """How wide both may lap and not meet, to a hundredth of a millimetre: half their distance where they lie side by
    side; less where they meet corner to corner, since a lap has corners too."""
    apart = floor(other.loop.polygon.distance(light.loop.polygon) * 50)
    low, high = 0, apart + 1
    while high - low > 1:
        middle = (low + high) // 2 if high <= apart else apart
        laps = [one.loop.moved(-middle / 100) for one in (light, other)]
        if any(lap is None for lap in laps) or Polygon(laps[0]).intersection(Polygon(laps[1])).area > TOUCH:
            high = middle
        else:
            low = middle
    return Fraction(low, 100)
