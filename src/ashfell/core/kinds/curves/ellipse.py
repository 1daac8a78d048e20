"""Half an ellipse over the straight between the ends of a wall."""

from __future__ import annotations

from fractions import Fraction
from typing import TYPE_CHECKING, Any, Literal

import numpy as np

from ashfell.core.base.document import Place, mm
from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.curve import CURVES, Curve, CurveKind
from ashfell.core.plane.points import Floats

if TYPE_CHECKING:
    from ashfell.core.unit.say.writer import Writer


class Ellipse(Curve):
    """Half an ellipse that stands out by ``rise``, or inwards below zero."""

    kind: Literal["ellipse"] = "ellipse"
    rise: Place = mm("1000")


def _path(ellipse: Ellipse, length: float, count: int) -> Floats:
    rise = float(ellipse.rise.mm)
    if rise == 0:
        raise Refusal(
            "curve.rise",
            "a curve",
            "An ellipse that rises by 0 is none.",
            "Make it more or less than 0, or the wall straight.",
            Fraction(1000),
        )
    angles = np.linspace(np.pi, 0.0, count)
    return np.column_stack([length / 2 * (1 + np.cos(angles)), rise * np.sin(angles)])


def _say(w: Writer, path: str, ellipse: Ellipse) -> list[Any]:
    return ["that rises", w.length(f"{path}.rise", ellipse.rise, "Rise of the ellipse")]


ELLIPSE = CURVES.register(CurveKind("ellipse", "half an ellipse", Ellipse, _path, _say, order=30))
