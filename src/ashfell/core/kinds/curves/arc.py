"""Arcs of circles, by their rise or by their radius."""

from __future__ import annotations

from fractions import Fraction
from math import asin, atan2, ceil, hypot
from typing import TYPE_CHECKING, Any, Literal

import numpy as np

from ashfell.core.base.document import Place, Size, mm
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.curve import CURVES, Curve, CurveKind
from ashfell.core.plane.points import Floats

if TYPE_CHECKING:
    from ashfell.core.unit.say.writer import Writer


class Arc(Curve):
    """An arc that rises by ``rise`` over the straight between its ends: outwards, or inwards below zero."""

    kind: Literal["arc"] = "arc"
    rise: Place = mm("1000")


class RadiusArc(Curve):
    """The smaller arc of a ``radius``, outwards, or ``inward``."""

    kind: Literal["radius"] = "radius"
    radius: Size = mm("4000")
    inward: bool = False


def _by_rise(arc: Arc, length: float, count: int) -> Floats:
    rise = float(arc.rise.mm)
    if rise == 0:
        raise Refusal(
            "curve.rise",
            "a curve",
            "A rise of 0 is no arc.",
            "Make it more or less than 0, or the wall straight.",
            Fraction(1000),
        )
    return _through(length, rise, count)


def _by_radius(arc: RadiusArc, length: float, count: int) -> Floats:
    radius = float(arc.radius.mm)
    if radius < length / 2:
        least = Fraction(ceil(length / 2))
        raise Refusal(
            "curve.radius",
            "an arc between its ends",
            f"No arc of radius {arc.radius.text} spans {length:.10g} mm.",
            f"Make the radius {exact_mm(least)} or more.",
            least,
        )
    half = asin(length / 2 / radius)
    rise = radius * (1 - np.cos(half))
    return _through(length, -rise if arc.inward else rise, count)


def _through(length: float, rise: float, count: int) -> Floats:
    """Points of the arc over a straight, equally far from each other."""
    half = 2 * atan2(rise, length / 2)
    radius = hypot(length / 2, rise) / (2 * np.sin(half / 2)) if rise else 0.0
    angles = np.linspace(-half, half, count)
    return np.column_stack([length / 2 + radius * np.sin(angles), radius * (np.cos(angles) - np.cos(half))])


def _say_rise(w: Writer, path: str, arc: Arc) -> list[Any]:
    return ["that rises", w.length(f"{path}.rise", arc.rise, "Rise of the arc")]


def _say_radius(w: Writer, path: str, arc: RadiusArc) -> list[Any]:
    ways = {"no": "outwards", "yes": "inwards"}
    return [
        "of radius",
        w.length(f"{path}.radius", arc.radius, "Radius of the arc"),
        w.choice(f"{path}.inward", "yes" if arc.inward else "no", ways, "Which way it bends"),
    ]


def _radius_of(arc: Arc, length: float) -> float:
    rise = abs(float(arc.rise.mm))
    return (length**2 / 4 + rise**2) / (2 * rise)


def _radius_said(arc: RadiusArc, length: float) -> float:
    return float(arc.radius.mm)


ARC = CURVES.register(CurveKind("arc", "an arc", Arc, _by_rise, _say_rise, order=10, radius=_radius_of))
RADIUS = CURVES.register(
    CurveKind("radius", "an arc by radius", RadiusArc, _by_radius, _say_radius, order=20, radius=_radius_said)
)
