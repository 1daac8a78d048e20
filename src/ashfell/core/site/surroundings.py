"""What stands round the building: where it stands, and what it is made of, once for all that are alike."""

from __future__ import annotations

from fractions import Fraction
from math import cos, radians, sin

import numpy as np

from ashfell.core.base.address import Address
from ashfell.core.base.lengths import exact
from ashfell.core.parts import ALONG_U, Part
from ashfell.core.plane.points import Floats
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.document.surrounding import Surrounding

APART = Fraction(6000)
"""How far beyond the building and from the one before it something is put, mm."""
OWN = ("id", "name", "x", "y", "level", "turn", "opening", "recess")
"""What those that are alike may differ in."""


def shape_of(one: Surrounding) -> str:
    """What those that are alike have in common, as a key."""
    return "|".join(str(value) for name, value in one.model_dump(exclude=set(OWN)).items() if name != "format")


def parts_of(one: Surrounding) -> tuple[Part, ...]:
    """What one is made of, its middle at the origin.

    Raises
    ------
    Refusal
        When its sizes do not go together.
    """
    entry = Address("surroundings") / one.id
    pieces = one.of.made(one)
    return tuple(Part(name, entry, "surrounding", finish, ALONG_U, solid) for name, finish, solid in pieces)


def place_of(one: Surrounding) -> Floats:
    """Where one stands in the site, (4, 4)."""
    turn = radians(one.turn)
    matrix = np.eye(4)
    matrix[:2, :2] = [[cos(turn), -sin(turn)], [sin(turn), cos(turn)]]
    matrix[:3, 3] = [float(one.x.mm), float(one.y.mm), float(one.level.mm)]
    return matrix


def outline_of(one: Surrounding) -> Floats:
    """Its outline from above in the site, (c, 2) mm."""
    matrix = place_of(one)
    return np.asarray(one.of.outline(one) @ matrix[:2, :2].T + matrix[:2, 3])


def beside_of(site: SiteDocument) -> tuple[str, str]:
    """Where one is put when nobody says so: beyond the right edge of the walls and of what stands beside them."""
    spots = [(wall.x.mm, wall.y.mm, wall.length.mm if wall.angle == 0 else 0) for wall in site.walls]
    right = max((x + long for x, _, long in spots), default=Fraction(0))
    up = sum((y for _, y, _ in spots), Fraction(0)) / max(1, len(spots))
    beyond = max((one.x.mm + one.width.mm / 2 for one in site.surroundings), default=right)
    return exact(Fraction(round(max(right, beyond) + APART))), exact(Fraction(round(up)))
