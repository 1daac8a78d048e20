"""Rectangles, each corner square, rounded, clipped or scooped."""

from __future__ import annotations

from fractions import Fraction
from math import cos, floor, hypot, pi, sin, tan
from typing import Annotated, Any, Literal, get_args

from pydantic import Field

from ashfell.core.base.document import Document, Gap
from ashfell.core.base.lengths import Length
from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.outline import OUTLINES, OutlineEntry, OutlineKind
from ashfell.core.plane.curves import without_empty
from ashfell.core.plane.outline import Outline
from ashfell.core.unit.say.writer import Action, Writer

CornerKind = Literal["square", "rounded", "clipped", "scooped"]


class Corner(Document):
    """One corner of a rectangle: how it is shaped, and how far from the corner that begins."""

    kind: CornerKind = "square"
    size: Gap = Length.read("0")


class Rectangle(OutlineEntry):
    """A rectangle; corners in the order lower left, lower right, upper right, upper left, or one for all."""

    kind: Literal["rectangle"] = "rectangle"
    corners: Annotated[tuple[Corner, ...], Field(max_length=4)] = ()


def _rectangle(entry: Rectangle, width: float, height: float) -> Outline:
    if not entry.corners:
        return Outline.rectangle(width, height)
    corners = entry.corners * 4 if len(entry.corners) == 1 else (*entry.corners, *[Corner()] * 4)[:4]
    sizes = [0.0 if corner.kind == "square" else float(corner.size.mm) for corner in corners]
    for index, (size, ahead) in enumerate(zip(sizes, (*sizes[1:], sizes[0]), strict=True)):
        side = height if index % 2 else width
        if size + ahead > side:
            larger = index if size >= ahead else (index + 1) % 4
            most = side / 2 if len(entry.corners) == 1 else max(side - min(size, ahead), side / 2)
            nearest = Fraction(floor(most * 100), 100)
            raise Refusal(
                f"outline.corners.{min(larger, len(entry.corners) - 1)}.size",
                "corners fit their side",
                f"Corners of {size:g} and {ahead:g} mm do not fit a side of {side:g} mm.",
                f"This one can take {float(nearest):g} mm.",
                nearest,
            )
    square = [(0.0, 0.0), (width, 0.0), (width, height), (0.0, height)]
    headings = [0.0, pi / 2, pi, 3 * pi / 2]
    names = ["sill", "right", "head", "left"]
    nodes: list[tuple[float, float, float]] = []
    found: list[str] = []
    for (x, y), heading, corner, size, name in zip(square, headings, corners, sizes, names, strict=True):
        back, on = heading - pi / 2, heading
        start = (x - size * cos(back), y - size * sin(back))
        end = (x + size * cos(on), y + size * sin(on))
        if size:
            bulge = {"rounded": tan(pi / 8), "clipped": 0.0, "scooped": -tan(pi / 8), "square": 0.0}[corner.kind]
            nodes.append((*start, bulge))
            found.append(f"corner.{len([n for n in found if n.startswith('corner')]) + 1}")
        if not nodes or hypot(nodes[-1][0] - end[0], nodes[-1][1] - end[1]) > 1e-9:
            nodes.append((*end, 0.0))
            found.append(name)
    return without_empty(nodes, found)


CORNERS = ("lower left", "lower right", "upper right", "upper left")


def _say(w: Writer, path: str, entry: Rectangle) -> list[Any]:
    corners: tuple[Corner, ...] = entry.corners
    parts: list[Any] = []
    shapes = {kind: kind for kind in get_args(CornerKind)}
    for index, corner in enumerate(corners):
        own, number = f"{path}.corners.{index}", index + 1
        parts += ["; each corner" if len(corners) == 1 else f"; {CORNERS[index]}"]
        parts += [w.choice(f"{own}.kind", corner.kind, shapes, f"Corner {number}")]
        if corner.kind != "square":
            parts += [w.length(f"{own}.size", corner.size, f"Size of corner {number}")]
    if len(corners) < len(CORNERS):
        words = "Another corner" if corners else "Shape corners"
        parts += [Action(f"{path}.corners.added", words, "Shape a corner")]
    if corners:
        parts += [Action(f"{path}.corners.{len(corners) - 1}.removed", "×", "Leave out the last corner")]
    return parts


RECTANGLE = OUTLINES.register(OutlineKind("rectangle", "Rectangle", Rectangle, _rectangle, order=10, say=_say))
