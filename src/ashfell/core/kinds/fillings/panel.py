"""Panels in the rebate: flat, raised, or framed by a moulding."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from typing import Any, Literal

import numpy as np

from ashfell.core.base.document import Key, Size, mm
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.filling import FILLINGS, FillEntry, Filling
from ashfell.core.kinds.roles import ROLES, Finishes, Role
from ashfell.core.parts import ALONG_V, Member
from ashfell.core.plane.points import Floats, without_repeats
from ashfell.core.solid.form import Form, Loft, Slab
from ashfell.core.solid.ring import ring_corners
from ashfell.core.solid.section import Edge, edge_points
from ashfell.core.unit.layout import Bed, Light
from ashfell.core.unit.members.glazing import Seated, gasket_of, pane_of, planes_for, planes_of
from ashfell.core.unit.members.limits import check_edge
from ashfell.core.unit.members.ring import strips
from ashfell.core.unit.say.writer import Writer

ROLES.register(Role("panel", "Panels", "white-paint", (236, 231, 221), 90))


class Panel(FillEntry):
    """A panel in the rebate: flat, raised (``margin`` to the foot of a ``bevel`` up to a field ``rise`` higher), or
    flat and framed by a moulding ``margin`` wide that stands ``rise`` proud."""

    kind: Literal["panel"]
    style: Literal["flat", "raised", "framed"] = "raised"
    thickness: Size = mm("24")
    margin: Size = mm("30")
    bevel: Size = mm("25")
    rise: Size = mm("8")
    edge: Edge = Edge(kind="ovolo", size=mm("6"))
    finish: Key | None = None


@dataclass(frozen=True, eq=False)
class PanelContent(Seated):
    """A panel solved; ``levels`` are the rising paths (c, 3) of a raised one, mm."""

    levels: tuple[Floats, ...] = ()


def _solve(light: Light, fill: Panel, solving: object) -> PanelContent:
    """Where it lies; the foot of its bevel and its field.

    Raises
    ------
    Refusal
        When it has no room in the rebate, or its margins meet, or its moulding has no face left.
    """
    gasket = light.seat.glazing.gasket
    planes, shows = planes_for(light, fill.thickness.mm, None, gasket), float(gasket.shows.mm)
    pane, entry = pane_of(light, fill.thickness.mm), f"{light.ring.glazing_entry}.gasket"
    margin, rise = float(fill.margin.mm), float(fill.rise.mm)
    if fill.style == "framed":
        check_edge(fill.edge, fill.margin.mm, fill.rise.mm, f"{light.entry}.edge", "the moulding")
    levels: tuple[Floats, ...] = ()
    if fill.style == "raised":
        front = -float(planes.front)
        steps = ((shows + margin, front), (shows + margin + float(fill.bevel.mm), front + rise))
        levels = tuple(_level(_within(light, more, fill), w) for more, w in steps)
    if fill.style == "framed":
        _within(light, shows + margin, fill)
    proud = Fraction(0) if fill.style == "flat" else fill.rise.mm
    return PanelContent(panes=(pane,), proud=proud, planes=planes, gasket=gasket, gasket_entry=entry, levels=levels)


def _within(light: Light, more: float, fill: Panel) -> Floats:
    """The path that far within a light, (c, 2) mm."""
    nothing = np.zeros(len(light.loop.points))
    try:
        return ring_corners([light.loop], nothing, [(1.0, more, 0.0)], f"{light.entry}.margin")[0, :, 0, :2]
    except Refusal as refusal:
        bevel = f" with a bevel of {exact_mm(fill.bevel.mm)}" if fill.style == "raised" else ""
        raise Refusal(
            f"{light.entry}.style",
            "a field within the margins",
            f"A margin of {exact_mm(fill.margin.mm)}{bevel} leaves no field.",
            "Make the panel flat, or its margin and bevel narrower.",
        ) from refusal


def _level(points: Floats, w: float) -> Floats:
    return np.column_stack([points, np.full(len(points), w)])


def _members(light: Light, finishes: Finishes, bed: Bed | None) -> Iterator[Member]:
    assert isinstance(light.fill, Panel)
    assert isinstance(light.content, PanelContent)
    assert bed is not None
    fill, planes = light.fill, planes_of(light)
    finish, front, back = fill.finish or finishes.of("panel"), -float(planes.front), -float(planes.back)
    slab: Form = Slab((without_repeats(bed.pane),), back, front)
    if light.content.levels:
        slab = Loft(np.array([_level(bed.pane, back), _level(bed.pane, front), *light.content.levels]))
    yield Member(f"panel.{light.key}", light.entry, "panel", finish, ALONG_V, slab, light.key)
    if fill.style == "framed":
        margin, rise, shows = float(fill.margin.mm), float(fill.rise.mm), float(gasket_of(light).shows.mm)
        worked = [(0.0, shows + margin - x, front + rise - y) for x, y in edge_points(fill.edge)]
        profile = [(0.0, shows, front), (0.0, shows, front + rise), *worked, (0.0, shows + margin, front)]
        naming = ("panel", f"moulding.{light.key}", light.entry, finish)
        yield from strips(light, np.zeros(len(bed.pane)), profile, naming, frozenset())


def _say(w: Writer, path: str, light: Light) -> None:
    fill: Any = light.fill
    styles = {"flat": "Flat", "raised": "Raised", "framed": "Framed"}
    parts: list[Any] = [
        w.choice(f"{path}.style", fill.style, styles, "Style of the panel"),
        "panel",
        w.length(f"{path}.thickness", fill.thickness, "Thickness of the panel"),
        "thick,",
        w.finish(f"{path}.finish", fill.finish, "Finish of this panel", usual=w.of_role("panel")),
    ]
    if fill.style != "flat":
        parts += [", margin", w.length(f"{path}.margin", fill.margin, "Margin of the panel")]
        parts += [", rising", w.length(f"{path}.rise", fill.rise, "Rise of the panel")]
    if fill.style == "raised":
        parts += ["over a bevel of", w.length(f"{path}.bevel", fill.bevel, "Bevel of the panel")]
    w.say(f"{path}.style", *parts, ".", nested=True)


KIND = FILLINGS.register(
    Filling(
        "panel",
        Panel,
        "a panel",
        lambda fill: "panel",
        _solve,
        _members,
        order=40,
        seated=True,
        pieces=lambda light, fill: (3, "panels"),
        say=_say,
        operation=lambda fill, name: "FIXEDCASEMENT",
    )
)
