"""What can be taken hold of on an elevation: the hardware of the light that is looked at, with its two distances."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

from ashfell.core.base.lengths import entered, exact, show
from ashfell.core.drawing.frame import FIGURE, Drawing, figure_id, room_for
from ashfell.core.drawing.sheet import ELEVATIONS, Figure, Grip, Line
from ashfell.core.kinds.fillings.sashes import Sashes
from ashfell.core.kinds.hardware import FACES_OF, HardwarePlace, hardware_places

TICK = 1.06
STAGGERED = (0.5, 0.75, 0.3, 0.9)
"""How far down their lines the heights of one piece after the other are told, so that they do not meet."""
CLEAR = 1.2
"""Between a dimension and its figure, mm of paper."""


def held(drawing: Drawing, at: str) -> list[HardwarePlace]:
    """The hardware that is drawn on this face, of the light at an address."""
    if drawing.view not in ELEVATIONS:
        return []
    return [
        place
        for light in drawing.unit.layout.lights
        if light.path == at and isinstance(light.fill, Sashes)
        for place in hardware_places(light, light.fill)
        if drawing.view in FACES_OF[place.own.faces]
    ]


def grips(drawing: Drawing, places: list[HardwarePlace]) -> Iterator[Grip]:
    """Where each piece is taken hold of."""
    for place in places:
        label = f"{place.name.capitalize()}, {show(place.own.height.mm, drawing.style)} up; arrow keys move it"
        yield Grip(place.entry, label, drawing.x(place.u), drawing.paper.y(place.v))


def lines(drawing: Drawing, places: list[HardwarePlace]) -> Iterator[Line]:
    """The dimensions of each piece: from its edge, and from the foot."""
    for place in places:
        edge, x, y, foot = (
            drawing.x(place.edge),
            drawing.x(place.u),
            drawing.paper.y(place.v),
            drawing.paper.y(place.foot),
        )
        yield Line(edge, y, x, y)
        yield Line(x, foot, x, y)
        yield from (Line(end, y - TICK, end, y + TICK) for end in (edge, x))
        yield from (Line(x - TICK, end, x + TICK, end) for end in (foot, y))


def _on(drawing: Drawing, u: float, v: float) -> tuple[float, float]:
    return drawing.x(u), drawing.paper.y(v)


def figures(drawing: Drawing, places: list[HardwarePlace]) -> Iterator[Figure]:
    """Its two distances, which can be typed over."""
    for number, place in enumerate(places):
        edge, x, y, foot = (
            drawing.x(place.edge),
            drawing.x(place.u),
            drawing.paper.y(place.v),
            drawing.paper.y(place.foot),
        )
        wide, _ = room_for(show(place.own.height.mm, drawing.style), 20.0)
        inwards = CLEAR if x > edge else -CLEAR - wide
        yield _figure(
            drawing, place, "height", (x + inwards, y + (foot - y) * STAGGERED[number % len(STAGGERED)] - FIGURE / 2)
        )
        across, _ = room_for(show(place.own.edge.mm, drawing.style), 20.0)
        # Above its line, or below where another's is close above.
        above = any(0 < y - drawing.paper.y(other.v) < 2 * FIGURE for other in places)
        yield _figure(drawing, place, "edge", ((x + edge) / 2 - across / 2, y + CLEAR if above else y - FIGURE - CLEAR))


def _figure(drawing: Drawing, place: HardwarePlace, name: str, at: tuple[float, float]) -> Figure:
    length = place.own.height if name == "height" else place.own.edge
    size: Fraction = length.mm
    text = show(size, drawing.style)
    width, small = room_for(text, 20.0)
    words = "Height" if name == "height" else "Distance from the edge"
    entry = f"{place.entry}.{name}"
    kept = entered(length, size, drawing.style)
    x, y = at
    return Figure(
        figure_id(entry), entry, text, exact(size), f"{words} of the {place.name}", x, y, width, FIGURE,
        about=place.entry, small=small, typed=kept,
    )  # fmt: skip
