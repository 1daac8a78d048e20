"""Models that stand in an opening as they were brought: where that puts them, and what does not fit."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from fractions import Fraction
from itertools import islice
from math import atan2, cos, degrees, radians, sin

import numpy as np

from ashfell.core.base.document import mm
from ashfell.core.base.lengths import exact
from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.points import Floats
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.document.surrounding import Surrounding
from ashfell.core.site.opening import Opening
from ashfell.core.site.standing import Standing

RULE = "an opening for a model"
OFFERED = 60
"""How many openings are offered for a model."""
FITS = 0.5
"""How much larger than its opening a model may be, mm: what was rounded where it was modelled."""


@dataclass(frozen=True)
class Held:
    """An opening with the host that it is in."""

    standing: Standing
    opening: Opening


def held_by(standing: Mapping[str, Standing]) -> dict[str, Held]:
    """Every opening that is cut, by its placement."""
    return {opening.placement: Held(one, opening) for one in standing.values() for opening in one.openings}


def in_their_openings(
    surroundings: Iterable[Surrounding], standing: Mapping[str, Standing], units: Mapping[str, object]
) -> Iterator[tuple[Surrounding, Refusal | None]]:
    """Each where it stands, or why it cannot; those that stand in no opening are as they are."""
    held: dict[str, Held] | None = None
    for one in surroundings:
        if not one.opening:
            yield one, None
            continue
        held = held_by(standing) if held is None else held
        try:
            yield _stood(one, held, units), None
        except Refusal as refusal:
            yield one, refusal


def _stood(one: Surrounding, held: Mapping[str, Held], units: Mapping[str, object]) -> Surrounding:
    if one.opening not in held:
        told = f"There is no opening “{one.opening}”."
        raise Refusal("opening", RULE, told, "Choose another, or none.")
    if one.opening in units:
        told = f"A unit stands in the opening “{one.opening}”."
        raise Refusal("opening", RULE, told, "Choose another, or take the unit out of it.")
    at = held[one.opening]
    (left, near, foot), (right, _, _) = bounds_of(one).tolist()
    middle = float(at.opening.x + at.opening.width / 2)
    frame = at.standing.host.frame(middle)
    # Its middle in the middle, its foot on the sill, what of it is outermost behind the outer face by its recess.
    place = frame @ (middle - (left + right) / 2, float(at.opening.z) - foot, near - float(one.recess.mm), 1.0)
    heading = degrees(atan2(frame[1, 0], frame[0, 0]))
    turn = (one.turn + heading + 180) % 360 - 180
    x, y, level = (mm(exact(Fraction(round(float(value) * 1e6), 10**6))) for value in place[:3])
    return one.model_copy(update={"x": x, "y": y, "level": level, "turn": turn})


def bounds_of(one: Surrounding) -> Floats:
    """How far a model reaches, turned as it is: the least and the greatest x, y and z, (2, 3) mm; its front looks
    towards y below zero."""
    points = np.concatenate([solid.vertices for _, _, solid in one.of.made(one)])
    turn = radians(one.turn)
    across = points[:, 0] * cos(turn) - points[:, 1] * sin(turn)
    back = points[:, 0] * sin(turn) + points[:, 1] * cos(turn)
    turned = np.column_stack([across, back, points[:, 2]])
    return np.stack([turned.min(axis=0), turned.max(axis=0)])


@dataclass(frozen=True)
class Fit:
    """The size of a model in its opening and that of the opening, mm."""

    width: float
    height: float
    opening: Opening

    @property
    def over(self) -> tuple[float, float]:
        """By how much it is wider and higher than its opening; below zero, what is left beside and above it."""
        return self.width - float(self.opening.width), self.height - float(self.opening.height)


def fit_of(one: Surrounding, opening: Opening) -> Fit:
    """How a model fits an opening; it is as it was brought, however its host turns it."""
    low, high = bounds_of(one).tolist()
    return Fit(high[0] - low[0], high[2] - low[2], opening)


def vacant(openings: Iterable[str], site: SiteDocument, units: Mapping[str, object]) -> dict[str, str]:
    """The openings that a model may stand in, by id, as they are offered: those without a unit, the first of many."""
    free = islice((one for one in openings if one not in units), OFFERED)
    return {one: f"in {site.placement_by_id[one].mark or one}" for one in free}
