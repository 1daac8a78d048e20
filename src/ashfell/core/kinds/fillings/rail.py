"""A rail over leaves that slide along a wall, and the hangers by which they run on it (sizes are common practice, no
source)."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from math import ceil

import numpy as np

from ashfell.core.kinds.roles import Finishes
from ashfell.core.parts import ALONG_U, ALONG_V, Member
from ashfell.core.solid.form import Box, Form, Placed
from ashfell.core.solid.rod import turned
from ashfell.core.unit.layout import Light

RAIL = (8.0, 40.0)
"""How thick and high the rail is, mm."""
OVER = 12.0
"""Between the leaf and its rail, mm."""
WHEEL = (35.0, 20.0)
"""Radius and thickness of a wheel on the rail, mm."""
STRAP = (40.0, 6.0, 150.0)
"""How wide and thick a hanger is, and how far down the leaf it reaches, mm."""
HANGERS = (0.15, 0.85)
"""Where the hangers are, as shares of a leaf's width."""
CLEAR = 1e-3
"""By how much a wheel stays clear of its rail, mm."""
REACH = OVER + RAIL[1] + 2 * WHEEL[0]
"""How far rail and wheels reach over the leaves, mm."""


def least_beside(gap: Fraction) -> Fraction:
    """How wide two leaves are at least that stand a gap apart, so that the wheels beside it clear each other, mm."""
    return Fraction(ceil((2 * WHEEL[0] + CLEAR - float(gap)) / (2 * HANGERS[0])))


def rail_members(light: Light, across: tuple[float, float], out: float, finishes: Finishes) -> Iterator[Member]:
    """The rail over the leaves of a light, ``across`` from end to end, and the hangers that go with them; ``out`` is 1
    where they run outside."""
    left, right = across
    head = light.sashes[0].body.ring.loop.bounds[3]
    own, finish = light.sashes[0].body.ring, finishes.of("track")
    front, back = -float(own.front), -float(own.back)
    middle, foot = (front + back) / 2, head + OVER
    rail = Box((left, foot, middle - RAIL[0] / 2), (right, foot + RAIL[1], middle + RAIL[0] / 2))
    yield Member(f"track.{light.key}.rail", light.entry, "track", finish, ALONG_U, rail, light.key)
    face, axle = (front if out > 0 else back), foot + RAIL[1] + WHEEL[0]
    for sash in light.sashes:
        low, _, high, _ = sash.body.ring.loop.bounds
        for number, share in enumerate(HANGERS):
            u = low + (high - low) * share
            name = f"track.{light.key}.{sash.name + '.' if sash.name else ''}"
            for kind, form in _hanger(u, (axle, head - STRAP[2]), (middle, face), out):
                key = f"{name}{kind}.{number + 1}"
                member = Member(key, light.entry, "track", finish, ALONG_V, form, light.key)
                yield member.moved(sash.motion)


def _hanger(
    u: float, heights: tuple[float, float], depths: tuple[float, float], out: float
) -> Iterator[tuple[str, Form]]:
    """A strap down the face of a leaf, and the wheel at its head with its axle: what each is called, and its form."""
    (axle, foot), (middle, face) = heights, depths
    half, thick = STRAP[0] / 2, STRAP[1] * out
    low, high = sorted((face, face + thick))
    yield "strap", Box((u - half, foot, low), (u + half, axle + half, high))
    radius, wide = WHEEL[0] - CLEAR, WHEEL[1] / 2
    along = np.eye(4)
    along[:3, 3] = u, axle, middle
    yield "wheel", Placed(turned([(0.0, -wide), (radius, -wide), (radius, wide), (0.0, wide)]), along)
    start, end = sorted((middle + out * wide, face))
    if end - start > 1.0:
        along = np.eye(4)
        along[:3, 3] = u, axle, start
        yield "axle", Placed(turned([(0.0, 0.0), (8.0, 0.0), (8.0, end - start), (0.0, end - start)]), along)
