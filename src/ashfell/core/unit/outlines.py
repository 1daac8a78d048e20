"""The outlines a unit can have: each kind of entry, and the closed path of lines and arcs it stands for."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from math import atan2, cos, hypot, pi, radians, sin, sqrt, tan
from typing import Annotated, Any, Literal

from pydantic import Field

from ashfell.core.base.document import Document, Gap, Size
from ashfell.core.base.lengths import Length
from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.outline import Outline
from ashfell.core.plane.segment import Point, arch, bulge_of

ELLIPSE_ARCS = 12
"""Arcs for each quarter of an ellipse; with 12 it is met within 0.01 mm at 2 m."""

CornerKind = Literal["square", "rounded", "clipped", "scooped"]


class Corner(Document):
    """One corner of a rectangle: how it is shaped, and how far from the corner that begins."""

    kind: CornerKind = "square"
    size: Gap = Length.read("0")


class Rectangle(Document):
    """A rectangle; corners in the order lower left, lower right, upper right, upper left, or one for all."""

    kind: Literal["rectangle"] = "rectangle"
    corners: Annotated[tuple[Corner, ...], Field(max_length=4)] = ()


class Head(Document):
    """A rectangle with a shaped head. ``rise`` is how far the head stands above the springing; for a raked head how much
    higher ``high`` side is. A semicircular head needs none, a pointed one has a ``radius`` instead (half the width or more)."""

    kind: Literal["segmental", "semicircular", "three-centred", "elliptical", "pointed", "raked"]
    rise: Size | None = None
    radius: Size | None = None
    high: Literal["left", "right"] = "right"


class Round(Document):
    """A circle or ellipse (by overall width and height), or a part of a circle on a straight side."""

    kind: Literal["ellipse", "half-round", "quarter-round", "d"]
    straight: Literal["foot", "left", "right"] = "foot"


class Polygonal(Document):
    """A regular polygon or a star in the overall size; ``turn`` in degrees, ``inner`` is the star's inner radius as a share."""

    kind: Literal["polygon", "star"]
    points: Annotated[int, Field(ge=3, le=24)] = 6
    turn: float = 0.0
    inner: Annotated[float, Field(gt=0.1, lt=0.95)] = 0.5


class Node(Document):
    """A node of a free path; ``bulge`` of the segment that leaves it: 0 is a line, 1 a half circle turning left."""

    x: Length
    y: Length
    bulge: Annotated[float, Field(ge=-3, le=3)] = 0.0


class Path(Document):
    """A free closed path, in its own coordinates; the overall size scales it when it differs from the path's."""

    kind: Literal["path"]
    nodes: Annotated[tuple[Node, ...], Field(min_length=2, max_length=400)]


OutlineEntry = Annotated[Rectangle | Head | Round | Polygonal | Path, Field(discriminator="kind")]
KINDS: dict[str, str] = {
    "rectangle": "Rectangle", "segmental": "Segmental head", "semicircular": "Semicircular head",
    "three-centred": "Three-centred head", "elliptical": "Elliptical head", "pointed": "Pointed head", "raked": "Raked head",
    "ellipse": "Circle or ellipse", "half-round": "Half-round", "quarter-round": "Quarter-round", "d": "D",
    "polygon": "Regular polygon", "star": "Star", "path": "Free path",
}  # fmt: skip
"""Every kind by its name in the list."""


def outline_of(entry: Any, width: float, height: float) -> Outline:
    """The outline of an entry in its overall size, mm; its lower left corner is the origin.

    Raises
    ------
    Refusal
        When the entry does not fit the size, with the value that would.
    """
    return _MAKERS[entry.kind](entry, width, height)


def _rectangle(entry: Rectangle, width: float, height: float) -> Outline:
    if not entry.corners:
        return Outline.rectangle(width, height)
    corners = entry.corners * 4 if len(entry.corners) == 1 else (*entry.corners, *[Corner()] * 4)[:4]
    sizes = [0.0 if corner.kind == "square" else float(corner.size.mm) for corner in corners]
    for index, (size, ahead) in enumerate(zip(sizes, (*sizes[1:], sizes[0]), strict=True)):
        side = height if index % 2 else width
        if size + ahead > side:
            raise Refusal(
                f"outline.corners.{min(index, len(entry.corners) - 1)}.size", "corners fit their side",
                f"Corners of {size:g} and {ahead:g} mm do not fit a side of {side:g} mm.",
                f"Together they can take {side:g} mm.",
            )  # fmt: skip
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
    return _without_empty(nodes, found)


def _without_empty(nodes: list[tuple[float, float, float]], names: list[str]) -> Outline:
    """The outline without segments of no length (corners that take a whole side)."""
    ahead = [*nodes[1:], nodes[0]]
    keep = [k for k, (a, b) in enumerate(zip(nodes, ahead, strict=True)) if hypot(a[0] - b[0], a[1] - b[1]) > 1e-6]
    return Outline.of([nodes[k] for k in keep], [names[k] for k in keep])


def _under_head(width: float, spring: tuple[float, float], head: Sequence[tuple[float, float, float]]) -> Outline:
    """Sill, right jamb to the springing, the head's nodes from right to left, left jamb."""
    nodes = [(0.0, 0.0, 0.0), (width, 0.0, 0.0), *head, (0.0, spring[0], 0.0)]
    names = ["sill", "right", *["head"] * len(head), "left"]
    return _without_empty([(float(x), float(y), float(b)) for x, y, b in nodes], names)


def _head(entry: Head, width: float, height: float) -> Outline:
    if entry.kind == "pointed":
        return _pointed(entry, width, height)
    rise = width / 2 if entry.kind == "semicircular" else float(entry.rise.mm) if entry.rise else width / 6
    _fits_below(rise, height)
    spring = height - rise
    if entry.kind == "raked":
        left, right = (height, spring) if entry.high == "left" else (spring, height)
        return _under_head(width, (left, right), [(width, right, 0.0)])
    if entry.kind in ("segmental", "semicircular"):
        if rise > width / 2 + 1e-9:
            raise Refusal(
                "outline.rise", "a segmental head is at most half round",
                f"A rise of {rise:g} mm is more than half of {width:g} mm.", f"The rise can be at most {width / 2:g} mm.",
            )  # fmt: skip
        return _under_head(width, (spring, spring), [(width, spring, _segmental_bulge(width, rise))])
    arcs = _three_centred(width, rise) if entry.kind == "three-centred" else _half_ellipse(width, rise)
    return _under_head(width, (spring, spring), [(x, spring + y, bulge) for x, y, bulge in arcs])


def _fits_below(rise: float, height: float) -> None:
    if rise >= height:
        raise Refusal(
            "outline.rise", "jambs below the springing",
            f"A head that rises {rise:g} mm leaves nothing of a height of {height:g} mm.",
            f"Make the unit higher than {rise:g} mm, or the rise smaller.",
        )  # fmt: skip


def _segmental_bulge(span: float, rise: float) -> float:
    """The bulge of an arc over a chord: rise over half the span."""
    assert abs(arch(span, rise)) > 0
    return 2 * rise / span


def _three_centred(width: float, rise: float) -> list[tuple[float, float, float]]:
    """Three arcs, smooth where they meet; the two haunches have two thirds of the radius that a quarter would."""
    half = width / 2
    if rise > half:
        raise Refusal(
            "outline.rise", "a three-centred head is at most half round",
            f"A rise of {rise:g} mm is more than half of {width:g} mm.", f"The rise can be at most {half:g} mm.",
        )  # fmt: skip
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


def _elliptic(width: float, height: float, first: float, last: float, pieces: int) -> list[tuple[float, float, float]]:
    """Nodes of arcs along an ellipse about the origin from one parameter to another; the end is left out."""
    a, b = width / 2, height / 2
    found = []
    for k in range(pieces):
        t0, t1 = (first + (last - first) * (k + n) / pieces for n in (0, 1))
        start, end = (a * cos(t0), b * sin(t0)), (a * cos(t1), b * sin(t1))
        middle = (a * cos((t0 + t1) / 2), b * sin((t0 + t1) / 2))
        found.append((*start, _through(start, middle, end)))
    return found


def _through(start: Point, middle: Point, end: Point) -> float:
    """The bulge of the arc from start to end through a point between."""
    chord = hypot(end[0] - start[0], end[1] - start[1])
    along = ((end[0] - start[0]) / chord, (end[1] - start[1]) / chord)
    x = (middle[0] - start[0]) * along[0] + (middle[1] - start[1]) * along[1]
    y = (middle[1] - start[1]) * along[0] - (middle[0] - start[0]) * along[1]
    radius_from = atan2(-y, x) + atan2(-y, chord - x)
    return tan(radius_from / 2)


def _half_ellipse(width: float, rise: float) -> list[tuple[float, float, float]]:
    nodes = _elliptic(width, 2 * rise, 0.0, pi, 2 * ELLIPSE_ARCS)
    return [(x + width / 2, y, bulge) for x, y, bulge in nodes]


def _pointed(entry: Head, width: float, height: float) -> Outline:
    radius = float(entry.radius.mm) if entry.radius else width
    if radius <= width / 2:
        raise Refusal(
            "outline.radius", "two arcs that meet in a point",
            f"Arcs of radius {radius:g} mm do not meet in a point over {width:g} mm.",
            f"The radius must be above {width / 2:g} mm.",
        )  # fmt: skip
    rise = sqrt(radius**2 - (radius - width / 2) ** 2)
    _fits_below(rise, height)
    angle = atan2(rise, radius - width / 2)
    spring = height - rise
    nodes = [
        (0.0, 0.0, 0.0), (width, 0.0, 0.0), (width, spring, bulge_of(angle)), (width / 2, height, bulge_of(angle)),
        (0.0, spring, 0.0),
    ]  # fmt: skip
    return _without_empty(nodes, ["sill", "right", "head-right", "head-left", "left"])


def _round(entry: Round, width: float, height: float) -> Outline:
    if entry.kind == "ellipse":
        if abs(width - height) < 1e-9:
            return Outline.of([(0.0, height / 2, 1.0), (width, height / 2, 1.0)], ["ring", "ring"])
        nodes = _elliptic(width, height, 0.0, 2 * pi, 4 * ELLIPSE_ARCS)
        return Outline.of([(x + width / 2, y + height / 2, bulge) for x, y, bulge in nodes], ["ring"] * len(nodes))
    if entry.kind == "half-round":
        nodes = [
            (0.0, 0.0, 0.0),
            *((x + width / 2, y, bulge) for x, y, bulge in _elliptic(width, 2 * height, 0.0, pi, 2 * ELLIPSE_ARCS)),
        ]
        if abs(height - width / 2) < 1e-9:
            nodes = [(0.0, 0.0, 0.0), (width, 0.0, 1.0)]
        return Outline.of(nodes, ["sill", *["head"] * (len(nodes) - 1)])
    if entry.kind == "quarter-round":
        return _quarter(entry, width, height)
    return _d(entry, width, height)


def _quarter(entry: Round, width: float, height: float) -> Outline:
    """A quarter of an ellipse; its upright side is on the left, or on the right."""
    nodes = [(0.0, 0.0, 0.0), *_elliptic(2 * width, 2 * height, 0.0, pi / 2, ELLIPSE_ARCS), (0.0, height, 0.0)]
    if abs(width - height) < 1e-9:
        nodes = [(0.0, 0.0, 0.0), (width, 0.0, tan(pi / 8)), (0.0, height, 0.0)]
    names = ["sill", *["head"] * (len(nodes) - 2), "left"]
    outline = Outline.of(nodes, names)
    return outline if entry.straight != "right" else _mirrored(outline, width)


def _mirrored(outline: Outline, width: float) -> Outline:
    swap = {"left": "right", "right": "left"}
    flipped = [(width - s.end[0], s.end[1], s.bulge) for s in reversed(outline.segments)]
    return Outline.of(flipped, [swap.get(name, name) for name in reversed(outline.names)])


def _d(entry: Round, width: float, height: float) -> Outline:
    """A straight side on the left (or right), lines from it, and a half circle."""
    radius = height / 2
    if width < radius - 1e-9:
        raise Refusal(
            "width", "a half circle in a D", f"A D of height {height:g} mm is at least {radius:g} mm wide.",
            f"Make it {radius:g} mm wide or more.",
        )  # fmt: skip
    nodes = [(0.0, 0.0, 0.0), (width - radius, 0.0, 1.0), (width - radius, height, 0.0), (0.0, height, 0.0)]
    outline = _without_empty(nodes, ["sill", "right", "head", "left"])
    return _mirrored(outline, width) if entry.straight == "right" else outline


def _polygonal(entry: Polygonal, width: float, height: float) -> Outline:
    count = entry.points * (2 if entry.kind == "star" else 1)
    turn = (
        pi / 2 + radians(entry.turn) + (pi / entry.points if entry.kind == "polygon" and entry.points % 2 == 0 else 0)
    )
    radii = [entry.inner if entry.kind == "star" and k % 2 else 1.0 for k in range(count)]
    raw = [(r * cos(turn + 2 * pi * k / count), r * sin(turn + 2 * pi * k / count), 0.0) for k, r in enumerate(radii)]
    return _stretched(Outline.of(raw), width, height)


def _stretched(outline: Outline, width: float, height: float) -> Outline:
    """An outline brought to an overall size; with arcs it can only be made larger or smaller evenly."""
    left, foot, right, head = outline.bounds
    x, y = width / (right - left), height / (head - foot)
    curved = any(bulge for _, _, bulge in outline.nodes)
    if curved and abs(x / y - 1) > 1e-6:
        raise Refusal(
            "height", "arcs stay arcs",
            f"The path is {right - left:g} by {head - foot:g} mm; arcs can only be made larger or smaller evenly.",
            f"With a width of {width:g} mm the height must be {(head - foot) * x:.6g} mm.",
        )  # fmt: skip
    y = x if curved else y
    nodes = [((u - left) * x, (v - foot) * y, bulge) for u, v, bulge in outline.nodes]
    return Outline.of(
        [(0.0 if abs(u) < 1e-9 else u, 0.0 if abs(v) < 1e-9 else v, b) for u, v, b in nodes], outline.names
    )


def _path(entry: Path, width: float, height: float) -> Outline:
    outline = Outline.of([(float(node.x.mm), float(node.y.mm), node.bulge) for node in entry.nodes])
    if not outline.facets(1.0).polygon.is_valid:
        raise Refusal(
            "outline.nodes", "a path that does not cross itself", "The path crosses or touches itself.",
            "Put its nodes in order round the outline.",
        )  # fmt: skip
    return _stretched(outline, width, height)


_MAKERS: dict[str, Callable[[Any, float, float], Outline]] = {
    "rectangle": _rectangle, **dict.fromkeys(("segmental", "semicircular", "three-centred", "elliptical", "pointed", "raked"), _head),
    **dict.fromkeys(("ellipse", "half-round", "quarter-round", "d"), _round),
    "polygon": _polygonal, "star": _polygonal, "path": _path,
}  # fmt: skip
