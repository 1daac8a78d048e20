"""Sashes that slide past each other on tracks."""

from __future__ import annotations

from collections.abc import Iterable
from fractions import Fraction
from math import inf
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from ashfell.core.base.document import Data, Gap, Size, mm
from ashfell.core.base.lengths import parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.filling import FILLINGS, Filling
from ashfell.core.kinds.fillings.sashes import (
    THINNER,
    Sashes,
    check_each,
    check_rectangle,
    depth_for,
    fresh_sizes,
    sash_body,
    sash_members,
    sash_pieces,
    say_ring,
    thinner_glazing,
)
from ashfell.core.kinds.hardware import FreeFace
from ashfell.core.kinds.opening import SLIDINGS, Sliding, SlidingKey
from ashfell.core.kinds.symbol import Symbol, arrow
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import Floats
from ashfell.core.unit.layout import Content, Light, Rect, SashLayout
from ashfell.core.unit.say.writer import Writer
from ashfell.core.unit.solve.body import Solving


class Sliders(Sashes):
    """Sashes that slide past each other: ``up`` (two, the upper one outside the lower), or ``across`` (two or more, on
    ``tracks`` counted from the outside). ``meeting`` is the face of the rails or stiles that lap; ``gap`` lies between
    tracks.
    """

    kind: Literal["sliders"]
    slide: SlidingKey = "up"
    panels: Annotated[int, Field(ge=2, le=8)] = 2
    tracks: Annotated[tuple[Annotated[int, Field(ge=1, le=8)], ...], Field(max_length=8)] = ()
    moves: Literal["lower", "upper", "both"] = "lower"
    meeting: Size | None = None
    gap: Gap = mm("4")
    depth: Size = mm("34")

    @property
    def sliding(self) -> Sliding:
        """The record of its way of sliding."""
        return SLIDINGS[self.slide]

    def free_face(self, light: Light, sash: SashLayout, face: str) -> FreeFace:
        """What of a face takes hardware: towards another track no more than the gap."""
        ring = sash.body.ring
        others = [one.body.ring for one in light.sashes if one is not sash]
        gaps = [ring.front - one.back if face == "outside" else one.front - ring.back for one in others]
        beside = [float(gap) for gap in gaps if gap >= 0]
        return FreeFace(ring.loop.polygon, min(beside, default=inf))


def _solve(light: Light, fill: Sliders, solving: Solving) -> Content:
    """The sashes in a light, each on its track.

    Raises
    ------
    Refusal
        When the light is no rectangle, or they have no room in the ring.
    """
    check_rectangle(light, "sliding sashes", "Sashes can slide only in a rectangular light.")
    panels = fill.sliding.panels(light, fill)
    most = max(panel.track for panel in panels)
    found = []
    for panel in panels:
        share = float(Fraction(fill.opened_of(panel.name)).limit_denominator(10**6) / 100)
        planes = _track(light, fill, panel.track, most)
        body = sash_body(light, _loop(panel.rect), panel.rect, planes, panel.name, solving, panel.faces)
        found.append(SashLayout(panel.name, body, _slid(panel.slides, share), (), panel.slides))
    check_each(light, found, handed=fill.sliding.handed)
    return Content(sashes=tuple(found))


def _track(light: Light, fill: Sliders, track: int, of: int) -> tuple[Fraction, Fraction]:
    """Front and back of a track behind the unit's outer face, mm."""
    step, depth = fill.depth.mm + fill.gap.mm, light.ring.back - light.ring.front
    front = light.ring.front + fill.setback.mm + (track - 1) * step
    needed = fill.setback.mm + of * step - fill.gap.mm
    if needed > depth:
        most = (depth - fill.setback.mm + fill.gap.mm) / of - fill.gap.mm
        raise Refusal(
            f"{light.entry}.depth",
            "all tracks within the frame",
            f"{of} tracks of sashes {exact_mm(fill.depth.mm)} deep need {exact_mm(needed)}; the frame is "
            f"{exact_mm(depth)} deep.",
            f"Make the sashes at most {exact_mm(most)} deep, or the frame {exact_mm(needed)}.",
            most,
        )
    return front, front + fill.depth.mm


def _loop(rect: Rect) -> Loop:
    return Loop.rectangle(float(rect.x), float(rect.y), float(rect.right), float(rect.head))


def _slid(by: tuple[float, float], share: float) -> Floats | None:
    if not share or by == (0.0, 0.0):
        return None
    matrix = np.eye(4)
    matrix[:2, 3] = by[0] * share, by[1] * share
    return matrix


def _symbols(light: Light) -> Iterable[Symbol]:
    return [Symbol(arrow(sash), False, light.entry, "slides") for sash in light.sashes if sash.slides != (0.0, 0.0)]


def _fresh(data: Data, fill: Data, fits: Any) -> None:
    usual = parse(fill["depth"])
    tried = []
    for thickness in THINNER:
        needed = depth_for(thinner_glazing(data, thickness))
        tried.append((thickness, needed if thickness else max(needed, usual)))
    fresh_sizes(data, fill, tried, fits)


def _say(w: Writer, path: str, light: Light) -> None:
    fill = light.fill
    assert isinstance(fill, Sliders)
    ways = {key: record.words for key, record in SLIDINGS.items()}
    slide = w.choice(f"{path}.slide", fill.slide, ways, "Way of sliding")
    w.say(
        f"{path}.slide",
        "They slide",
        slide,
        *fill.sliding.say(w, path, fill),
        f", meeting {fill.sliding.meeting}",
        w.length(f"{path}.meeting", fill.meeting, "Face of the meeting rails", "as the ring"),
        "wide,",
        w.length(f"{path}.gap", fill.gap, "Gap between tracks"),
        "between tracks.",
        nested=True,
    )
    say_ring(w, path, light, fill.sliding.handed)


KIND = FILLINGS.register(
    Filling(
        "sliders",
        Sliders,
        "sliding sashes",
        lambda fill: f"sliding {fill.slide}",
        _solve,
        sash_members,
        order=30,
        say=_say,
        symbols=_symbols,
        operation=lambda fill, name: fill.sliding.operation,
        pieces=lambda light, fill: (sash_pieces(fill, fill.panels), "parts of sashes"),
        fresh=_fresh,
    )
)
