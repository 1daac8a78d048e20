"""Rectangles, each corner square, rounded, clipped or scooped."""

from __future__ import annotations

from fractions import Fraction
from math import cos, floor, hypot, pi, sin, sqrt, tan
from typing import Annotated, Any, Literal, get_args

from pydantic import Field

from ashfell.core.base.document import Document, Gap, Size
from ashfell.core.base.lengths import Length
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.outline import OUTLINES, OutlineEntry, OutlineKind
from ashfell.core.plane.curves import without_empty
from ashfell.core.plane.outline import Outline
from ashfell.core.unit.say.writer import Action, Writer

ROUNDED = 1e-9
"""What two corners may be longer than their side by rounding, mm."""
CornerKind = Literal["square", "rounded", "clipped", "scooped"]


class Corner(Document):
    """One corner of a rectangle: how it is shaped, and how far from the corner that begins. A rounded or scooped one is
    a quarter of a circle; with a ``rise`` over its chord, or a ``radius`` of its arc, it is flatter than that."""

    kind: CornerKind = "square"
    size: Gap = Length.read("0")
    rise: Size | None = None
    radius: Size | None = None


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
        if size + ahead > side + ROUNDED:
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
    for number, ((x, y), heading, corner, size, name) in enumerate(
        zip(square, headings, corners, sizes, names, strict=True)
    ):
        back, on = heading - pi / 2, heading
        start = (x - size * cos(back), y - size * sin(back))
        end = (x + size * cos(on), y + size * sin(on))
        if size:
            own = f"outline.corners.{min(number, len(entry.corners) - 1)}"
            nodes.append((*start, {"rounded": 1.0, "scooped": -1.0}.get(corner.kind, 0.0) * _bulge(corner, size, own)))
            found.append(f"corner.{len([n for n in found if n.startswith('corner')]) + 1}")
        if not nodes or hypot(nodes[-1][0] - end[0], nodes[-1][1] - end[1]) > 1e-9:
            nodes.append((*end, 0.0))
            found.append(name)
    return without_empty(nodes, found)


def _bulge(corner: Corner, size: float, entry: str) -> float:
    """The bulge of a corner's arc over the chord between its ends: rise over half of that.

    Raises
    ------
    Refusal
        When it would be more than a quarter of a circle, or is given twice.
    """
    half = size / sqrt(2)
    if corner.rise and corner.radius:
        raise Refusal(
            f"{entry}.radius",
            "an arc said once",
            "The arc of this corner is given by its rise and by its radius.",
            "Leave the radius out.",
        )
    if corner.radius:
        radius = float(corner.radius.mm)
        if radius < size - 1e-9:
            raise Refusal(
                f"{entry}.radius",
                "an arc of a quarter or less",
                f"A radius of {radius:g} mm is more than a quarter of a circle over a corner of {size:g} mm.",
                f"Make the radius {exact_mm(corner.size.mm)} or more.",
                corner.size.mm,
            )
        return half / (radius + sqrt(radius**2 - half**2))
    if corner.rise:
        rise, most = float(corner.rise.mm), half * tan(pi / 8)
        if rise > most + 1e-9:
            nearest = Fraction(floor(most * 100), 100)
            raise Refusal(
                f"{entry}.rise",
                "an arc of a quarter or less",
                f"A rise of {rise:g} mm is more than a quarter of a circle over a corner of {size:g} mm.",
                f"It can rise {exact_mm(nearest)} at most.",
                nearest,
            )
        return rise / half
    return tan(pi / 8)


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
        if corner.kind in ("rounded", "scooped"):
            if not corner.radius:
                parts += ["rising", w.length(f"{own}.rise", corner.rise, f"Rise of corner {number}", "a quarter")]
            if not corner.rise:
                hint = "a quarter"
                parts += [", radius", w.length(f"{own}.radius", corner.radius, f"Radius of corner {number}", hint)]
    if len(corners) < len(CORNERS):
        words = "Another corner" if corners else "Shape corners"
        parts += [Action(f"{path}.corners.added", words, "Shape a corner")]
    if corners:
        parts += [Action(f"{path}.corners.{len(corners) - 1}.removed", "×", "Leave out the last corner")]
    return parts


RECTANGLE = OUTLINES.register(OutlineKind("rectangle", "Rectangle", Rectangle, _rectangle, order=10, say=_say))
