"""Fixed glass: one pane or several with spacers between, leaded, or with muntins on its faces."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from typing import Any, Literal

import numpy as np
from shapely.geometry import Polygon

from ashfell.core.base.document import Key, Size
from ashfell.core.kinds.filling import FILLINGS, FillEntry, Filling
from ashfell.core.kinds.fillings.leaded import Lead, LeadLayout, lead_members, say_lead, solve_lead
from ashfell.core.kinds.fillings.muntins import (
    MuntinLayout,
    Muntins,
    muntin_members,
    muntin_pieces,
    say_muntins,
    solve_muntins,
)
from ashfell.core.kinds.roles import Finishes
from ashfell.core.parts import ALONG_V, Member
from ashfell.core.plane.points import Floats, without_repeats
from ashfell.core.solid.form import Box, Form, Slab, rings
from ashfell.core.solid.ring import between, ring_corners
from ashfell.core.unit.document.glazing import Gasket
from ashfell.core.unit.layout import Bed, CellLayout, Light
from ashfell.core.unit.members.glazing import (
    SQUARE,
    Planes,
    Seated,
    covers,
    pane_of,
    planes_for,
    planes_of,
)
from ashfell.core.unit.say.writer import Action, Said, Writer


class Glass(FillEntry):
    """Fixed glass; what it does not say is as in the unit's glazing."""

    kind: Literal["glass"] = "glass"
    thickness: Size | None = None
    setback: Size | None = None
    gasket: Gasket | None = None
    finish: Key | None = None
    lead: Lead | None = None
    muntins: Muntins | None = None


@dataclass(frozen=True, eq=False)
class GlassContent(Seated):
    """Glass solved: front and back of each pane behind the unit's outer face, mm, the inner edge of the spacers between
    them, and its leading or muntins."""

    sheets: tuple[tuple[Fraction, Fraction], ...] = ()
    spacing: Floats | None = None
    muntins: MuntinLayout | None = None
    lead: LeadLayout | None = None

    @property
    def seen(self) -> tuple[Polygon, ...]:
        return self.muntins.seen if self.muntins else ()

    @property
    def grid(self) -> CellLayout | None:
        return self.muntins.grid if self.muntins else None


def _pieces(light: Light, fill: Glass) -> tuple[int, str]:
    if fill.lead:
        return 2 * fill.lead.across * fill.lead.up, "pieces of leaded glass, each counted twice"
    count, what = muntin_pieces(light, fill.muntins) if fill.muntins else (0, "panes")
    return count + 1, what


def _solve(light: Light, fill: Glass, solving: object) -> GlassContent:
    """Where the glass lies, and what divides it.

    Raises
    ------
    Refusal
        When it has no room in the rebate, or its muntins or cames leave nothing to be seen.
    """
    glazing = light.seat.glazing
    gasket = fill.gasket or glazing.gasket
    thickness = fill.thickness.mm if fill.thickness else glazing.thickness.mm
    told = ("thickness", Fraction(0))
    if fill.lead:
        told = ("lead.glass", 2 * fill.lead.proud.mm)
        thickness = fill.lead.glass.mm + 2 * fill.lead.proud.mm
    planes = planes_for(light, thickness, fill.setback.mm if fill.setback else None, gasket, told)
    lead = solve_lead(light, fill.lead, gasket) if fill.lead else None
    muntins = solve_muntins(light, fill.muntins, planes, gasket) if fill.muntins else None
    sheets = _sheets(light, planes)
    spacing = None
    if len(sheets) > 1 and not lead:
        entry = light.ring.glazing_entry
        inwards = np.where(covers(light) > 0, 0.0, float(light.seat.cover))
        spacing = ring_corners([light.loop], inwards, [(1.0, 0.0, 0.0)], entry)[:, :, 0, :2]
    return GlassContent(
        panes=(pane_of(light, thickness),),
        planes=planes,
        gasket=gasket,
        gasket_entry=f"{light.entry}.gasket" if fill.gasket else f"{light.ring.glazing_entry}.gasket",
        sheets=sheets,
        spacing=spacing,
        muntins=muntins,
        lead=lead,
    )


def _sheets(light: Light, planes: Planes) -> tuple[tuple[Fraction, Fraction], ...]:
    """Front and back of each pane; one only where the cavities would have no depth."""
    glazing, total = light.seat.glazing, planes.back - planes.front
    if glazing.panes == 1 or total <= glazing.panes * glazing.pane.mm:
        return ((planes.front, planes.back),)
    step = glazing.pane.mm + (total - glazing.panes * glazing.pane.mm) / (glazing.panes - 1)
    fronts = [planes.front + number * step for number in range(glazing.panes)]
    return tuple((front, front + glazing.pane.mm) for front in fronts)


def _members(light: Light, finishes: Finishes, bed: Bed | None) -> Iterator[Member]:
    fill, content, planes = light.fill, light.content, planes_of(light)
    assert isinstance(fill, Glass)
    assert isinstance(content, GlassContent)
    assert bed is not None
    finish = fill.finish or finishes.of("glass")
    if fill.lead and content.lead:
        yield from lead_members(light, fill.lead, content.lead, planes, finishes, finish)
    else:
        yield from _pane_members(light, content, bed, finish, finishes)
    if fill.muntins and content.muntins:
        yield from muntin_members(light, fill.muntins, content.muntins, planes, finishes)


def _pane_members(light: Light, content: GlassContent, bed: Bed, finish: str, finishes: Finishes) -> Iterator[Member]:
    """One pane, or several with spacers between them."""
    assert isinstance(light.fill, Glass)
    own = light.path and (light.fill.thickness or light.fill.finish)
    entry, key = light.entry if own else light.ring.glazing_entry, f"glass.{light.key}"
    for number, (front, back) in enumerate(content.sheets):
        name = key if len(content.sheets) == 1 else f"{key}.pane{number + 1}"
        yield Member(name, entry, "glass", finish, ALONG_V, _sheet(light, bed.pane, front, back), light.key)
    if content.spacing is None:
        return
    for number, ((_, front), (back, _)) in enumerate(zip(content.sheets, content.sheets[1:], strict=False)):
        edge = [bed.pane[None], content.spacing, content.spacing, bed.pane[None]]
        (ring,) = rings(between(edge, [-back, -back, -front, -front]), SQUARE)
        name = f"spacer.{light.key}.{number + 1}"
        yield Member(name, entry, "spacer", finishes.of("spacer"), ALONG_V, ring, light.key)


def _sheet(light: Light, pane: Floats, front: Fraction, back: Fraction) -> Form:
    if light.is_rectangle:
        (left, foot), (right, head) = pane[0].tolist(), pane[2].tolist()
        return Box((left, foot, -float(back)), (right, head, -float(front)))
    return Slab((without_repeats(pane),), -float(back), -float(front))


def _own_gasket(w: Writer, path: str, fill: Glass) -> tuple[Said, ...]:
    """A gasket of this light's own, or the way to one."""
    if fill.gasket is None:
        return (Action(path, "Own gasket", "Give this glass a gasket of its own", "yes"),)
    return (
        ", gasket",
        w.length(f"{path}.thickness", fill.gasket.thickness, "Thickness of this gasket"),
        "thick, showing",
        w.length(f"{path}.shows", fill.gasket.shows, "How far this gasket shows"),
        Action(path, "×", "Go back to the unit's gasket"),
    )


def _say(w: Writer, path: str, light: Light) -> None:
    fill, content = light.fill, light.content
    assert isinstance(fill, Glass)
    assert isinstance(content, GlassContent)
    more: list[Any] = []
    for name, there, words, leave, put in (
        ("muntins", fill.muntins, "muntins", "Leave out the muntins", "Put muntins on this glass"),
        ("lead", fill.lead, "leading", "Leave out the leading", "Make this leaded glass"),
    ):
        action = Action(f"{path}.{name}", words.capitalize(), put, "yes")
        more.append(Action(f"{path}.{name}", f"No {words}", leave) if there else action)
    w.say(
        f"{path}.thickness",
        "Glass",
        w.length(f"{path}.thickness", fill.thickness, "Thickness of this glass", "as the unit's"),
        "thick, set back",
        w.length(f"{path}.setback", fill.setback, "Set-back of this glass", "as the unit's"),
        ",",
        w.finish(f"{path}.finish", fill.finish, "Finish of this glass", usual=w.of_role("glass")),
        *_own_gasket(w, f"{path}.gasket", fill),
        ".",
        *more,
        nested=True,
    )
    if fill.muntins and content.muntins:
        say_muntins(w, f"{path}.muntins", fill.muntins, content.muntins)
    if fill.lead:
        say_lead(w, f"{path}.lead", fill.lead)


def _summary(fill: Glass) -> str:
    return "leaded glass" if fill.lead else "glass with muntins" if fill.muntins else "fixed glass"


KIND = FILLINGS.register(
    Filling(
        "glass",
        Glass,
        "fixed glass",
        _summary,
        _solve,
        _members,
        order=10,
        seated=True,
        say=_say,
        operation=lambda fill, name: "FIXEDCASEMENT",
        pieces=_pieces,
    )
)
