"""A wall that bends at corners: straight from point to point, as a bay or a corner of glass does."""

from __future__ import annotations

import itertools
from fractions import Fraction
from typing import TYPE_CHECKING, Annotated, Any, Literal

import numpy as np
from pydantic import Field
from shapely.geometry import LineString

from ashfell.core.base.document import Document, Place, mm
from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.curve import CURVES, Curve, CurveKind
from ashfell.core.kinds.curves.free import say_points
from ashfell.core.plane.points import Floats
from ashfell.core.unit.say.writer import Action

if TYPE_CHECKING:
    from ashfell.core.unit.say.writer import Writer

SHARPEST = 150.0
"""By how much it turns at most at a corner, degrees."""
LEAST = 1.0
"""The shortest stretch between two corners, mm."""


class Bend(Document):
    """A corner: ``along`` the straight between the ends of the wall, and ``out`` from it."""

    along: Place = mm("1000")
    out: Place = mm("0")


class Bent(Curve):
    """Straight stretches from end to end over its ``points``."""

    kind: Literal["bent"] = "bent"
    points: Annotated[tuple[Bend, ...], Field(max_length=60)] = (
        Bend(along=mm("1000"), out=mm("0")),
        Bend(along=mm("1600"), out=mm("600")),
        Bend(along=mm("2400"), out=mm("600")),
        Bend(along=mm("3000"), out=mm("0")),
    )


def _ends(bent: Bent, length: float) -> Floats:
    knots = np.array([(0.0, 0.0), *((float(p.along.mm), float(p.out.mm)) for p in bent.points), (length, 0.0)])
    last = len(bent.points)
    for index, (before, here) in enumerate(itertools.pairwise(knots.tolist())):
        if np.hypot(here[0] - before[0], here[1] - before[1]) < LEAST:
            raise Refusal(
                f"curve.points.{min(index, last - 1)}" if last else "curve.points",
                "corners that stand apart",
                f"Corner {min(index, last - 1) + 1} stands where its neighbour does.",
                "Take it away, or move it.",
            )
    ways = np.degrees(np.arctan2(*np.diff(knots, axis=0).T[::-1]))
    turns = np.abs((np.diff(ways) + 180) % 360 - 180)
    if not len(turns) or turns.max() < 1e-6:
        raise Refusal(
            "curve.points",
            "a curve",
            "None of its corners stands off the straight.",
            "Move one out, or make the wall straight.",
        )
    if turns.max() > SHARPEST:
        worst = int(turns.argmax())
        raise Refusal(
            f"curve.points.{worst}",
            f"a turn of {SHARPEST:g} degrees at most",
            f"At corner {worst + 1} it turns by {turns.max():.4g}°.",
            "Move it, or take it away.",
        )
    if not LineString(knots).is_simple:
        raise Refusal(
            "curve.points", "a line that does not cross itself", "Its stretches cross.", "Move or take away a corner."
        )
    return knots


def _path(bent: Bent, length: float, count: int) -> Floats:
    knots = _ends(bent, length)
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(knots, axis=0).T))])
    places = np.linspace(0.0, along[-1], count)
    return np.column_stack([np.interp(places, along, knots[:, axis]) for axis in (0, 1)])


def _say(w: Writer, path: str, bent: Bent) -> list[Any]:
    more = Action(f"{path}.points.added", "Corner", "Let it bend at another corner")
    return ["at", *say_points(w, path, bent.points, "corner"), more]


def bay_of(length: Fraction, sizes: tuple[Fraction, Fraction, Fraction]) -> list[dict[str, Fraction]]:
    """The corners of a bay in the middle of a wall: of a ``width`` between its first and last corner, standing out by
    ``depth``, its sides going along the wall by ``splay``; mm."""
    width, depth, splay = sizes
    start = (length - width) / 2
    nothing = Fraction(0)
    places = [(start, nothing), (start + splay, depth), (start + width - splay, depth), (start + width, nothing)]
    return [{"along": along, "out": out} for along, out in places]


BENT = CURVES.register(CurveKind("bent", "bent at corners", Bent, _path, _say, order=50, ends=_ends))
