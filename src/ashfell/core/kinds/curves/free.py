"""A free curve through points."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from fractions import Fraction
from typing import TYPE_CHECKING, Any, Literal

import numpy as np

from ashfell.core.base.document import Document, Place, Size, mm
from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.curve import CURVES, Curve, CurveKind
from ashfell.core.plane.points import Floats
from ashfell.core.unit.say.writer import Action

if TYPE_CHECKING:
    from ashfell.core.unit.say.writer import Writer


class Through(Document):
    """A point that a free curve goes through: ``along`` the straight between its ends, and ``out`` from it."""

    along: Size = mm("1000")
    out: Place = mm("0")


class Free(Curve):
    """A smooth curve from end to end through ``points``, which follow each other along the straight."""

    kind: Literal["free"] = "free"
    points: tuple[Through, ...] = (Through(along=mm("1000"), out=mm("500")), Through(along=mm("3000"), out=mm("-500")))


def _path(free: Free, length: float, count: int) -> Floats:
    places = [Fraction(0), *(point.along.mm for point in free.points), Fraction(length)]
    for index, (before, here) in enumerate(itertools.pairwise(places)):
        if here <= before:
            last = index == len(free.points)
            raise Refusal(
                f"curve.points.{index - last}.along",
                "points from start to end",
                f"Point {index + 1 - last} is not between its neighbours along the straight between the ends.",
                "Let each point stand behind the one before it, and the last before the end.",
                (places[index - 1] + Fraction(length)) / 2 if last else (before + places[index + 2]) / 2,
            )
    outs = [0.0, *(float(point.out.mm) for point in free.points), 0.0]
    if not any(outs):
        raise Refusal(
            "curve.points",
            "a curve",
            "None of its points stands off the straight.",
            "Move one out, or make the wall straight.",
        )
    from scipy.interpolate import CubicSpline  # it takes as long to read as all of the core

    knots = np.column_stack([[float(place) for place in places], outs])
    chords = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(knots, axis=0).T))])
    return np.asarray(CubicSpline(chords, knots, bc_type="natural")(np.linspace(0.0, chords[-1], count)))


def say_points(w: Writer, path: str, points: Sequence[Any], what: str) -> list[Any]:
    """The points of a curve, each ``along`` and ``out``, and what can be done to them; ``what`` one is called."""
    said: list[Any] = []
    for index, point in enumerate(points):
        own = f"{path}.points.{index}"
        said += [
            *(["and"] if index else []),
            w.length(f"{own}.along", point.along, f"Along, {what} {index + 1}"),
            "along",
            w.length(f"{own}.out", point.out, f"Out, {what} {index + 1}"),
            "out",
            Action(f"{own}.removed", "×", f"Take {what} {index + 1} away"),
        ]
    return said


def _say(w: Writer, path: str, free: Free) -> list[Any]:
    more = Action(f"{path}.points.added", "Point", "Let it go through another point")
    return ["through", *say_points(w, path, free.points, "point"), more]


FREE = CURVES.register(CurveKind("free", "a free curve", Free, _path, _say, order=40))
