"""Regular polygons and stars."""

from __future__ import annotations

from math import cos, pi, radians, sin
from typing import Annotated, Any, Literal

from pydantic import Field

from ashfell.core.base.document import Data, dump
from ashfell.core.kinds.outline import OUTLINES, OutlineEntry, OutlineKind
from ashfell.core.plane.curves import stretched
from ashfell.core.plane.outline import Outline
from ashfell.core.unit.say.writer import Writer


class Polygonal(OutlineEntry):
    """A regular polygon or a star in the overall size; ``turn`` in degrees, ``inner`` is the star's inner radius as a
    share.
    """

    kind: Literal["polygon", "star"]
    points: Annotated[int, Field(ge=3, le=24)] = 6
    turn: float = 0.0
    inner: Annotated[float, Field(gt=0.1, lt=0.95)] = 0.5


def _polygonal(entry: Polygonal, width: float, height: float) -> Outline:
    count = entry.points * (2 if entry.kind == "star" else 1)
    turn = (
        pi / 2 + radians(entry.turn) + (pi / entry.points if entry.kind == "polygon" and entry.points % 2 == 0 else 0)
    )
    radii = [entry.inner if entry.kind == "star" and k % 2 else 1.0 for k in range(count)]
    raw = [(r * cos(turn + 2 * pi * k / count), r * sin(turn + 2 * pi * k / count), 0.0) for k, r in enumerate(radii)]
    return stretched(Outline.of(raw), width, height)


def _say(w: Writer, path: str, entry: Polygonal) -> list[Any]:
    turn = w.number(f"{path}.turn", entry.turn, "Turn in degrees")
    return [",", w.number(f"{path}.points", entry.points, "Points"), "points, turned", turn, "°"]


def _say_star(w: Writer, path: str, entry: Polygonal) -> list[Any]:
    inner = w.number(f"{path}.inner", entry.inner, "Inner radius as a share")
    return [*_say(w, path, entry), ", inner points at", inner]


def _new_star(unit: Data) -> Data:
    return dump(Polygonal(kind="star", points=5))


POLYGON = OUTLINES.register(OutlineKind("polygon", "Regular polygon", Polygonal, _polygonal, order=120, say=_say))
STAR = OUTLINES.register(OutlineKind("star", "Star", Polygonal, _polygonal, order=130, say=_say_star, fresh=_new_star))
