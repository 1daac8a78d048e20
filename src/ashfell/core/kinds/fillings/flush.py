"""A flush board as thick as its ring, with a viewing light of any outline in it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from functools import partial
from math import floor
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from ashfell.core.base.document import Document, Gap, Key, Size, mm
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.filling import FILLINGS, FillEntry, Filling
from ashfell.core.kinds.fillings.sashes import ring_extent, sash_members
from ashfell.core.kinds.outline import OUTLINES, OneOutline, outline, outline_of
from ashfell.core.kinds.roles import Finishes
from ashfell.core.parts import ALONG_V, Member
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import without_repeats
from ashfell.core.solid.boolean import of_manifold
from ashfell.core.solid.form import Carved, Form, Slab, Sweep
from ashfell.core.solid.section import Edge
from ashfell.core.solid.sweep import Section, tidy
from ashfell.core.solid.topology import Solid
from ashfell.core.unit.document.cell import Cell
from ashfell.core.unit.document.glazing import Glazing
from ashfell.core.unit.layout import Bed, Body, Content, Light, Rect, Ring, SashLayout
from ashfell.core.unit.say.writer import Action, Writer
from ashfell.core.unit.solve.body import Solving

LEAST_MARGIN = Fraction(10)
"""The least of a board beside its viewing light, mm."""
LEAST_LAND = Fraction(2)
"""The least of a board between its grooves and behind them, mm."""
LEAST_CLEAR = Fraction(30)
"""The least of a viewing light within its ring, mm."""
SHAPES = ("rectangle", "ellipse", "semicircular", "polygon")
"""The outlines that a viewing light is offered in words; any can be given."""


class View(Document):
    """A viewing light: its outline, ``width`` by ``height``, its foot so much above that of the board, its left edge
    ``across`` from the board's (null: in the middle), in a ring ``face`` wide round its ``content``."""

    outline: OneOutline = Field(default_factory=lambda: outline("rectangle"))
    width: Size = mm("250")
    height: Size = mm("600")
    foot: Gap = mm("1100")
    across: Gap | None = None
    face: Size = mm("40")
    edge: Edge = Edge()
    glazing: Glazing | None = None
    content: Cell = Field(default_factory=Cell)


class Grooves(Document):
    """V grooves in the outer face of a board, ``count`` of them, level or upright, that part it evenly."""

    count: Annotated[int, Field(ge=1, le=40)] = 3
    along: Literal["level", "upright"] = "level"
    width: Size = mm("8")
    depth: Size = mm("4")


class Flush(FillEntry):
    """A flush board: as thick as its ring, or ``thickness``, set back from its face, with or without a ``view`` and
    ``grooves``."""

    kind: Literal["flush"]
    thickness: Size | None = None
    setback: Gap = mm("0")
    view: View | None = None
    grooves: Grooves | None = None
    finish: Key | None = None


@dataclass(frozen=True, eq=False)
class Board(Content):
    """A board: its planes as w, mm. Its viewing light is a sash that does not move."""

    front: float = 0.0
    back: float = 0.0
    grooved: Section = ()
    """Across its grooves, as (v or u, w), mm; none where it has none."""


def _solve(light: Light, fill: Flush, solving: Solving) -> Board:
    """Where the board lies, and its viewing light.

    Raises
    ------
    Refusal
        When it is thicker than its ring leaves, or its viewing light has no room.
    """
    ring = light.ring
    room = ring.back - ring.front - fill.setback.mm
    thick = fill.thickness.mm if fill.thickness else room
    if thick > room or room <= 0:
        raise Refusal(
            f"{light.entry}.{'thickness' if room > 0 else 'setback'}",
            "a board within its ring",
            f"A board {exact_mm(max(thick, Fraction(0)))} thick, set back {exact_mm(fill.setback.mm)}, has no room in "
            f"a ring {exact_mm(ring.back - ring.front)} deep.",
            f"Make it at most {exact_mm(room)} thick." if room > 0 else "Set it back 0.",
            room if room > 0 else Fraction(0),
        )
    front = ring.front + fill.setback.mm
    view = _view(light, fill.view, (front, front + thick), solving) if fill.view else None
    sashes = (SashLayout("view", view, None, (), entry=f"{light.entry}.view"),) if view else ()
    grooved = _grooved(light, fill.grooves, (front, front + thick)) if fill.grooves else ()
    return Board(sashes=sashes, front=-float(front), back=-float(front + thick), grooved=grooved)


def _grooved(light: Light, grooves: Grooves, planes: tuple[Fraction, Fraction]) -> Section:
    """The section across the grooves of a board, over the bounds of its light."""
    left, foot, right, head = light.loop.bounds
    low, high = (foot, head) if grooves.along == "level" else (left, right)
    front, back = -float(planes[0]), -float(planes[1])
    count, wide, deep = grooves.count, grooves.width.mm, grooves.depth.mm
    room = Fraction(high - low).limit_denominator(10**6)
    land = (room - count * wide) / (count + 1)
    if land < LEAST_LAND:
        most = int((room - LEAST_LAND) // (wide + LEAST_LAND))
        raise Refusal(
            f"{light.entry}.grooves.count" if most >= 1 else f"{light.entry}.grooves",
            f"at most {most} grooves" if most >= 1 else "room between the grooves",
            f"{count} grooves {exact_mm(wide)} wide leave less than {exact_mm(LEAST_LAND)} between them of "
            f"{exact_mm(room)}.",
            f"Make them {most} at most." if most >= 1 else "Leave them out.",
        )
    left_over = planes[1] - planes[0] - LEAST_LAND
    if deep > left_over:
        raise Refusal(
            f"{light.entry}.grooves.depth" if left_over > 0 else f"{light.entry}.grooves",
            "something left behind the grooves",
            f"Grooves {exact_mm(deep)} deep leave less than {exact_mm(LEAST_LAND)} of a board "
            f"{exact_mm(planes[1] - planes[0])} thick.",
            f"Make them at most {exact_mm(left_over)} deep." if left_over > 0 else "Leave them out.",
            left_over if left_over > 0 else None,
        )
    drawn = [(low, front), (low, back), (high, back), (high, front)]
    for number in range(count, 0, -1):
        middle = low + float(number * land + (number - Fraction(1, 2)) * wide)
        half = float(wide) / 2
        drawn += [(middle + half, front), (middle, front - float(deep)), (middle - half, front)]
    return tidy(drawn)


def _view(light: Light, view: View, planes: tuple[Fraction, Fraction], solving: Solving) -> Body:
    entry = f"{light.entry}.view"
    left, foot, right, head = (Fraction(value).limit_denominator(10**6) for value in light.loop.bounds)
    _check_size(light, view, (right - left, head - foot))
    across = (right - left - view.width.mm) / 2 if view.across is None else view.across.mm
    rect = Rect(left + across, foot + view.foot.mm, view.width.mm, view.height.mm)
    try:
        made = outline_of(view.outline, float(rect.width), float(rect.height))
    except Refusal as refusal:
        raise _at(refusal, entry) from None
    loop = made.moved(float(rect.x), float(rect.y)).facets()
    around = light.loop.moved(float(LEAST_MARGIN))
    if around is None or not loop.polygon.within(Loop.through(around, light.loop.tags, light.loop.curved).polygon):
        raise Refusal(
            f"{light.entry}.view",
            "a viewing light within its board",
            f"A viewing light {exact_mm(view.width.mm)} by {exact_mm(view.height.mm)} comes nearer than "
            f"{exact_mm(LEAST_MARGIN)} to the edge of its board.",
            "Make it smaller, or leave it out.",
        )
    faces = np.full(len(loop.tags), float(view.face.mm))
    if loop.moved(faces) is None:
        raise _too_small(light, view)
    glazing, glazing_entry = (
        (view.glazing, f"{entry}.glazing") if view.glazing else (light.ring.glazing, light.ring.glazing_entry)
    )
    ring = Ring(
        f"{light.key}.view",
        entry,
        "leaf" if light.ring.role == "leaf" else "sash",
        loop,
        faces,
        loop.inset(faces, f"{entry}.face"),
        *planes,
        view.edge,
        glazing=glazing,
        glazing_entry=glazing_entry,
    )
    extent = ring_extent(ring.clear, rect, view.face.mm, {})
    try:
        return solving.body(view.content, ring, rect, extent, (f"{entry}.content", f"{light.key}.view."))
    except Refusal as refusal:
        if refusal.entry != f"{entry}.depth":
            raise
        raise Refusal(
            entry,
            "a viewing light within its board",
            f"{refusal.message} The board is {exact_mm(planes[1] - planes[0])} thick.",
            "Give the viewing light thinner glass, make the board thicker, or leave the viewing light out.",
        ) from None


def _check_size(light: Light, view: View, board: tuple[Fraction, Fraction]) -> None:
    """Refuse a viewing light that reaches beyond its board, with the size or the place that would not."""
    width, height = board
    for name, least, size, room in (
        ("across", view.across.mm if view.across else LEAST_MARGIN, view.width.mm, width),
        ("foot", view.foot.mm, view.height.mm, height),
    ):
        if least + size <= room - LEAST_MARGIN and (name == "foot" or view.across or size <= room - 2 * LEAST_MARGIN):
            continue
        of = "width" if name == "across" else "height"
        place = room - LEAST_MARGIN - size
        moved = place >= LEAST_MARGIN and (name == "foot" or view.across is not None)
        most = room - 2 * LEAST_MARGIN if not moved and least > room / 2 else room - LEAST_MARGIN - least
        if not moved and most < 2 * view.face.mm + LEAST_CLEAR:
            raise _too_small(light, view)
        entry, nearest = (name, _down(place)) if moved else (of, max(_down(most), LEAST_MARGIN))
        raise Refusal(
            f"{light.entry}.view.{entry}",
            "a viewing light within its board",
            f"From {exact_mm(least)} a viewing light of {exact_mm(size)} does not end {exact_mm(LEAST_MARGIN)} before "
            f"{exact_mm(room)}.",
            f"Make it at most {exact_mm(nearest)}.",
            nearest,
        )


def _too_small(light: Light, view: View) -> Refusal:
    return Refusal(
        f"{light.entry}.view",
        "a viewing light within its board",
        f"A ring {exact_mm(view.face.mm)} wide leaves nothing of the viewing light that this board has room for.",
        "Make its ring narrower, or leave the viewing light out.",
    )


def _down(value: Fraction) -> Fraction:
    """A length down to a hundredth of a millimetre."""
    return Fraction(floor(value * 100), 100)


def _at(refusal: Refusal, entry: str) -> Refusal:
    """The refusal of an outline, told of the one it is of."""
    return Refusal(
        f"{entry}.{refusal.entry}", refusal.rule, refusal.message, refusal.remedy, refusal.nearest, refusal.position
    )


def _members(light: Light, finishes: Finishes, bed: Bed | None) -> Iterator[Member]:
    assert isinstance(light.fill, Flush)
    assert isinstance(light.content, Board)
    holes = [sash.body.ring.loop.points[::-1] for sash in light.sashes]
    outlines = tuple(without_repeats(points) for points in (light.loop.points, *holes))
    finish = light.fill.finish or finishes.of("panel")
    form: Form = Slab(outlines, light.content.back, light.content.front)
    if light.content.grooved:
        form = _with_grooves(light, light.fill, form)
    yield Member(f"panel.{light.key}", light.entry, "panel", finish, ALONG_V, form, light.key)
    yield from sash_members(light, finishes, bed)


def _with_grooves(light: Light, fill: Flush, board: Form) -> Form:
    """A board with its grooves."""
    assert isinstance(light.content, Board)
    assert fill.grooves is not None
    left, foot, right, head = light.loop.bounds
    section = light.content.grooved
    if fill.grooves.along == "level":
        corners = np.array([[(u, v, w) for v, w in section] for u in (left, right)])
    else:
        corners = np.array([[(u, v, w) for u, w in section] for v in (head, foot)])
    whole = Sweep(corners, section)
    if light.is_rectangle and not light.sashes:
        return whole
    return Carved(partial(_shared, whole, board), board.length)


def _shared(one: Form, other: Form) -> list[Solid]:
    """What two forms have in common."""
    return of_manifold(one.solids()[0].manifold() ^ other.solids()[0].manifold())


def _say_grooves(w: Writer, path: str, grooves: Grooves | None) -> None:
    own = f"{path}.grooves"
    if grooves is None:
        w.say(own, Action(own, "Grooves", "Cut grooves into the face of the board", "yes"), nested=True)
        return
    w.say(
        own,
        w.number(f"{own}.count", grooves.count, "Grooves"),
        "grooves,",
        w.choice(f"{own}.along", grooves.along, {"level": "level", "upright": "upright"}, "Way of the grooves"),
        ",",
        w.length(f"{own}.width", grooves.width, "Width of a groove"),
        "wide and",
        w.length(f"{own}.depth", grooves.depth, "Depth of a groove"),
        "deep.",
        Action(own, "×", "Leave the grooves out", ""),
        nested=True,
    )


def _say(w: Writer, path: str, light: Light) -> None:
    fill: Any = light.fill
    w.say(
        f"{path}.thickness",
        "Flush board",
        w.length(f"{path}.thickness", fill.thickness, "Thickness of the board", "as its ring"),
        "thick, set back",
        w.length(f"{path}.setback", fill.setback, "Set-back of the board"),
        ",",
        w.finish(f"{path}.finish", fill.finish, "Finish of the board", usual=w.of_role("panel")),
        ".",
        nested=True,
    )
    _say_grooves(w, path, fill.grooves)
    if fill.view is None:
        give = Action(f"{path}.view", "Viewing light", "Cut a viewing light into the board", "yes")
        w.say(f"{path}.view", give, nested=True)
        return
    own, view = f"{path}.view", fill.view
    w.say(
        own,
        "Viewing light, a",
        w.choice(f"{own}.outline.kind", view.outline.kind, _shapes(view.outline.kind), "Outline of the viewing light"),
        w.length(f"{own}.width", view.width, "Width of the viewing light"),
        "by",
        w.length(f"{own}.height", view.height, "Height of the viewing light"),
        ", its foot",
        w.length(f"{own}.foot", view.foot, "Height of its foot"),
        "above that of the board,",
        w.length(f"{own}.across", view.across, "From the left edge of the board", "in the middle"),
        "across, its ring",
        w.length(f"{own}.face", view.face, "Face of the ring of the viewing light"),
        "wide.",
        Action(f"{own}.content", "Into it", "Look at what the viewing light holds", looks="at"),
        Action(own, "×", "Leave the viewing light out", ""),
        nested=True,
    )


def _shapes(own: str) -> dict[str, str]:
    return {key: OUTLINES[key].words.lower() for key in dict.fromkeys((*SHAPES, own))}


KIND = FILLINGS.register(
    Filling(
        "flush",
        Flush,
        "a flush board",
        lambda fill: "flush board",
        _solve,
        _members,
        order=42,
        say=_say,
        operation=lambda fill, name: "FIXEDCASEMENT",
        pieces=lambda light, fill: (4 if fill.view else 1, "boards"),
    )
)
