"""Rectangles with a shaped head: arched, pointed or raked."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from math import atan2, ceil, cos, floor, pi, sin, sqrt
from typing import Any, Literal

from ashfell.core.base.document import Size
from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.outline import OUTLINES, OutlineEntry, OutlineKind
from ashfell.core.plane.curves import ELLIPSE_ARCS, elliptic, without_empty
from ashfell.core.plane.outline import Outline
from ashfell.core.plane.segment import arch, bulge_of
from ashfell.core.unit.say.writer import Writer


class Head(OutlineEntry):
    """A rectangle with a shaped head. ``rise`` is how far the head stands above the springing; for a raked head how
    much higher ``high`` side is. A semicircular head needs none, a pointed one has a ``radius`` instead (half the width
    or more).
    """

    kind: Literal["segmental", "semicircular", "three-centred", "elliptical", "pointed", "raked"]
    rise: Size | None = None
    radius: Size | None = None
    high: Literal["left", "right"] = "right"


def _under_head(width: float, spring: tuple[float, float], head: Sequence[tuple[float, float, float]]) -> Outline:
    """Sill, right jamb to the springing, the head's nodes from right to left, left jamb."""
    nodes = [(0.0, 0.0, 0.0), (width, 0.0, 0.0), *head, (0.0, spring[0], 0.0)]
    names = ["sill", "right", *["head"] * len(head), "left"]
    return without_empty([(float(x), float(y), float(b)) for x, y, b in nodes], names)


def _head(entry: Head, width: float, height: float) -> Outline:
    if entry.kind == "pointed":
        return _pointed(entry, width, height)
    rise = width / 2 if entry.kind == "semicircular" else float(entry.rise.mm) if entry.rise else width / 6
    _fits_below(rise, height, entry.rise is not None and entry.kind != "semicircular")
    spring = height - rise
    if entry.kind == "raked":
        left, right = (height, spring) if entry.high == "left" else (spring, height)
        return _under_head(width, (left, right), [(width, right, 0.0)])
    if entry.kind in ("segmental", "semicircular"):
        if rise > width / 2 + 1e-9:
            raise Refusal(
                "outline.rise",
                "a segmental head is at most half round",
                f"A rise of {rise:g} mm is more than half of {width:g} mm.",
                f"The rise can be at most {width / 2:g} mm.",
                _below(width / 2),
            )
        return _under_head(width, (spring, spring), [(width, spring, _segmental_bulge(width, rise))])
    arcs = _three_centred(width, rise) if entry.kind == "three-centred" else _half_ellipse(width, rise)
    return _under_head(width, (spring, spring), [(x, spring + y, bulge) for x, y, bulge in arcs])


def _fits_below(rise: float, height: float, given: bool) -> None:
    """Refuse a head that leaves no jambs; its rise where that is ``given``, else the height."""
    if rise < height:
        return
    most, least = _below(height - 1), Fraction(ceil(rise) + 1)
    raise Refusal(
        "outline.rise" if given and most > 0 else "height",
        "jambs below the springing",
        f"A head that rises {rise:g} mm leaves nothing of a height of {height:g} mm.",
        f"Let it rise {float(most):g} mm at most." if given and most > 0 else f"Make the unit {least} mm high or more.",
        most if given and most > 0 else least,
    )


def _below(size: float) -> Fraction:
    """A size rounded down to a hundredth of a millimetre."""
    return Fraction(floor(size * 100 + 1e-6), 100)


def _segmental_bulge(span: float, rise: float) -> float:
    """The bulge of an arc over a chord: rise over half the span."""
    assert abs(arch(span, rise)) > 0
    return 2 * rise / span


def _three_centred(width: float, rise: float) -> list[tuple[float, float, float]]:
    """Three arcs, smooth where they meet; the two haunches have two thirds of the radius that a quarter would."""
    half = width / 2
    if rise > half:
        raise Refusal(
            "outline.rise",
            "a three-centred head is at most half round",
            f"A rise of {rise:g} mm is more than half of {width:g} mm.",
            f"The rise can be at most {half:g} mm.",
            _below(half),
        )
    small = rise * 2 / 3
    # The crown's centre lies k below the springing: crown radius = rise + k touches the haunch circles from outside in.
    reach = half - small
    k = (reach**2 - (rise - small) ** 2) / (2 * (rise - small)) if rise - small > 1e-9 else 0.0
    crown = rise + k
    angle = atan2(k, reach)
    touch = (half - small + small * cos(angle), small * sin(angle))
    return (
        [
            (width, 0.0, bulge_of(angle)),
            (half + touch[0], touch[1], bulge_of(2 * (pi / 2 - angle))),
            (half - touch[0], touch[1], bulge_of(angle)),
        ]
        if crown > 0
        else []
    )


def _half_ellipse(width: float, rise: float) -> list[tuple[float, float, float]]:
    nodes = elliptic(width, 2 * rise, 0.0, pi, 2 * ELLIPSE_ARCS)
    return [(x + width / 2, y, bulge) for x, y, bulge in nodes]


def _pointed(entry: Head, width: float, height: float) -> Outline:
    radius = float(entry.radius.mm) if entry.radius else width
    if radius <= width / 2:
        raise Refusal(
            "outline.radius",
            "two arcs that meet in a point",
            f"Arcs of radius {radius:g} mm do not meet in a point over {width:g} mm.",
            f"The radius must be above {width / 2:g} mm.",
            Fraction(floor(width / 2) + 1),
        )
    rise = sqrt(radius**2 - (radius - width / 2) ** 2)
    _fits_below(rise, height, False)
    angle = atan2(rise, radius - width / 2)
    spring = height - rise
    nodes = [
        (0.0, 0.0, 0.0),
        (width, 0.0, 0.0),
        (width, spring, bulge_of(angle)),
        (width / 2, height, bulge_of(angle)),
        (0.0, spring, 0.0),
    ]
    return without_empty(nodes, ["sill", "right", "head-right", "head-left", "left"])


def _rise(w: Writer, path: str, entry: Head) -> list[Any]:
    return [", rising", w.length(f"{path}.rise", entry.rise, "Rise of the head", "a sixth")]


def _raked(w: Writer, path: str, entry: Head) -> list[Any]:
    high = w.choice(f"{path}.high", entry.high, {"left": "left", "right": "right"}, "High side")
    return [*_rise(w, path, entry), ", high on the", high]


def _radius(w: Writer, path: str, entry: Head) -> list[Any]:
    return [", arcs of radius", w.length(f"{path}.radius", entry.radius, "Radius of the arcs", "the width")]


SEGMENTAL = OUTLINES.register(OutlineKind("segmental", "Segmental head", Head, _head, order=20, say=_rise))
SEMICIRCULAR = OUTLINES.register(OutlineKind("semicircular", "Semicircular head", Head, _head, order=30))
THREE_CENTRED = OUTLINES.register(OutlineKind("three-centred", "Three-centred head", Head, _head, order=40, say=_rise))
ELLIPTICAL = OUTLINES.register(OutlineKind("elliptical", "Elliptical head", Head, _head, order=50, say=_rise))
POINTED = OUTLINES.register(OutlineKind("pointed", "Pointed head", Head, _head, order=60, say=_radius))
RAKED = OUTLINES.register(OutlineKind("raked", "Raked head", Head, _head, order=70, say=_raked))
