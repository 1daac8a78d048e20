"""The lining of a light that holds nothing in its rebate: what fills that, so that its reveal is plain."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ashfell.core.kinds.roles import Finishes
from ashfell.core.parts import Member
from ashfell.core.unit.layout import Light
from ashfell.core.unit.members.ring import strips


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
    by = -np.array(seat.rebates(light.loop), dtype=float)
    stop, back = -float(seat.stop_back), -float(seat.bead_back)
    profile = [(1.0, 0.0, back), (0.0, 0.0, back), (0.0, 0.0, stop), (1.0, 0.0, stop)]
    role = light.ring.role
    yield from strips(light, by, profile, (role, f"lining.{light.key}", light.ring.entry, finishes.of(role)))
