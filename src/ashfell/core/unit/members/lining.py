"""The lining of a light that holds nothing in its rebate: what fills that, so that its reveal is plain."""

from __future__ import annotations

from collections.abc import Iterator

from shapely.geometry import Polygon

from ashfell.core.kinds.roles import Finishes
from ashfell.core.parts import ALONG_V, Member
from ashfell.core.plane.points import polygons
from ashfell.core.solid.form import Region
from ashfell.core.unit.layout import Light
from ashfell.core.unit.members.rebates import grown
from ashfell.core.unit.members.ring import strips

OVER = 1e-3
"""How much of a lining may be beyond the rebate of its ring by rounding, mm²."""


def _within_its_ring(light: Light) -> list[Polygon]:
    """What the lining of a light covers, where laid along its edges it would be more than its ring's rebate: beside a
    bar the last facet of a curve runs on past its end. Nothing where it would not."""
    ring, loop = light.ring, light.loop
    reached, rebate = (Polygon(grown(ring, one)).buffer(0) for one in (loop, ring.clear))
    if reached.difference(rebate).area < OVER:
        return []
    return [piece for piece in polygons((reached & rebate) - loop.polygon) if piece.area > OVER]


def lining_members(light: Light, finishes: Finishes) -> Iterator[Member]:
    """What fills a ring's rebate round a light without glass; nothing where there is glass, or no rebate.

    Raises
    ------
    Refusal
        When there is no room for it.
    """
    seat = light.ring.seat
    if seat is None or light.filling.seated:
        return
    by = -seat.rebates(light.loop)
    stop, back = -float(seat.stop_back), -float(seat.bead_back)
    profile = [(1.0, 0.0, back), (0.0, 0.0, back), (0.0, 0.0, stop), (1.0, 0.0, stop)]
    role = light.ring.role
    pieces = [] if light.is_rectangle else _within_its_ring(light)
    for number, piece in enumerate(pieces, 1):
        form, key = Region(piece, back, stop), f"lining.{light.key}.{number}"
        yield Member(key, light.ring.entry, role, finishes.of(role), ALONG_V, form, light.key)
    if pieces:
        return
    yield from strips(light, by, profile, (role, f"lining.{light.key}", light.ring.entry, finishes.of(role)))
