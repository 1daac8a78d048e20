"""Measuring on a drawing: the points that a page sends, and what it is answered."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from math import isfinite

from django.http import HttpRequest, JsonResponse

from ashfell.core.base.lengths import Style
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit.measure import Place, distance


@dataclass(frozen=True)
class Points:
    """Up to two points on a drawing, and how far from them may be what they snap to, all in mm."""

    points: tuple[tuple[float, float], ...]
    reach: float


def points_of(request: HttpRequest) -> Points:
    """The points that are measured.

    Raises
    ------
    Refusal
        When they are no numbers.
    """
    try:
        points = tuple((float(u), float(v)) for u, v in json.loads(request.POST.get("points", "[]")))[:2]
        reach = float(request.POST.get("reach", "10"))
        if not all(map(isfinite, (reach, *(value for point in points for value in point)))):
            raise ValueError("a place that is not a number")
    except (ValueError, TypeError, RecursionError) as error:
        raise Refusal("points", "two points", "The points that are measured cannot be read.", "Press again.") from error
    return Points(points, reach)


def measured(snapped: Sequence[Place], style: Style) -> JsonResponse:
    """Where the points are after snapping, and the distance between two of them in words."""
    text = distance(snapped[0], snapped[1], style) if len(snapped) == 2 else ""
    return JsonResponse({"snapped": [[float(u), float(v)] for u, v in snapped], "text": text})
