"""Planks: boards of equal width side by side, with V joints, held by ledges and braces behind them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from functools import partial
from itertools import pairwise
from math import ceil, hypot
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field
from shapely.geometry import LineString, Polygon, box

from ashfell.core.base.document import Gap, Key, Size, mm
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.filling import FILLINGS, FillEntry, Filling
from ashfell.core.kinds.roles import ROLES, Finishes, Role
from ashfell.core.parts import ALONG_U, ALONG_V, Member
from ashfell.core.plane.points import polygons
from ashfell.core.solid.boolean import of_manifold
from ashfell.core.solid.ended import straight
from ashfell.core.solid.form import Carved, Form, Region, Sweep
from ashfell.core.solid.plate import plate
from ashfell.core.solid.sweep import tidy
from ashfell.core.solid.topology import Solid
from ashfell.core.unit.layout import Bed, Content, Light
from ashfell.core.unit.say.writer import Writer

ROLES.register(Role("plank", "Planks", "white-paint", (236, 231, 221), 92))
ROLES.register(Role("ledge", "Ledges and braces", "white-paint", (230, 224, 212), 94))
LEAST_FACE = Fraction(2)
"""The least that a joint leaves of a plank's face, mm."""
FAR = 1e4


class Planks(FillEntry):
    """Planks about ``width`` wide (as many equal ones as it takes for none to be wider), ``thickness`` thick, set back
    from the face; their edges worked off by ``joint`` where they meet. ``ledges`` of a ``ledge`` width hold them from
    behind, the first and the last ``rise`` from foot and head; ``braces`` go from ledge to ledge, rising to one side:
    they rise from the side of the hinges."""

    kind: Literal["planks"]
    width: Size = mm("120")
    thickness: Size = mm("20")
    setback: Gap = mm("0")
    joint: Gap = mm("3")
    along: Literal["upright", "level"] = "upright"
    ledges: Annotated[int, Field(ge=0, le=12)] = 0
    ledge: Size = mm("120")
    ledge_thickness: Size = mm("22")
    rise: Gap = mm("200")
    braces: Literal["none", "to the left", "to the right"] = "none"
    finish: Key | None = None


@dataclass(frozen=True, eq=False)
class Boards(Content):
    """The planks of a light: where each begins and ends across it, their planes as w, and its ledges and braces with
    the way that each runs, mm."""

    cuts: tuple[float, ...] = ()
    front: float = 0.0
    back: float = 0.0
    ledges: tuple[Polygon, ...] = ()
    braces: tuple[tuple[Polygon, tuple[float, float]], ...] = ()


def _count(light: Light, fill: Planks) -> int:
    left, foot, right, head = light.loop.bounds
    return max(1, ceil((right - left if fill.along == "upright" else head - foot) / float(fill.width.mm) - 1e-9))


def _solve(light: Light, fill: Planks, solving: object) -> Boards:
    """Where the planks, ledges and braces are.

    Raises
    ------
    Refusal
        When they are deeper than their ring, a joint leaves nothing of a plank, or the ledges have no room.
    """
    ring = light.ring
    _check_depth(light, fill)
    left, foot, right, head = light.loop.bounds
    low, high = (left, right) if fill.along == "upright" else (foot, head)
    cuts = tuple(np.linspace(low, high, _count(light, fill) + 1).tolist())
    face = Fraction((cuts[1] - cuts[0]) - 2 * float(fill.joint.mm)).limit_denominator(1000)
    if (len(cuts) > 2 and face < LEAST_FACE) or fill.joint.mm >= fill.thickness.mm:
        most = min(Fraction((cuts[1] - cuts[0]) / 2).limit_denominator(1000) - LEAST_FACE, fill.thickness.mm / 2)
        raise Refusal(
            f"{light.entry}.joint" if most > 0 else f"{light.entry}.width",
            "a face between the joints",
            f"Joints of {exact_mm(fill.joint.mm)} leave nothing of planks {cuts[1] - cuts[0]:.1f} mm wide and "
            f"{exact_mm(fill.thickness.mm)} thick.",
            f"Make the joints at most {exact_mm(most)}." if most > 0 else "Make the planks wider.",
            most if most > 0 else None,
        )
    front = -float(ring.front + fill.setback.mm)
    heights = _heights(light, fill)
    ledges = [box(left, at - float(fill.ledge.mm) / 2, right, at + float(fill.ledge.mm) / 2) for at in heights]
    within = light.loop.polygon
    return Boards(
        cuts=cuts,
        front=front,
        back=front - float(fill.thickness.mm),
        ledges=tuple(piece for one in ledges for piece in polygons(one.intersection(within))),
        braces=tuple(_braces(light, fill, heights)),
    )


def _check_depth(light: Light, fill: Planks) -> None:
    room = light.ring.back - light.ring.front - fill.setback.mm
    behind = fill.ledge_thickness.mm if fill.ledges else Fraction(0)
    if fill.thickness.mm + behind > room:
        most = room - behind
        entry = "thickness" if most > 0 else "ledges" if fill.ledges else "setback"
        raise Refusal(
            f"{light.entry}.{entry}",
            "at most 0 ledges" if entry == "ledges" else "planks within their ring",
            f"Planks {exact_mm(fill.thickness.mm)} thick"
            + (f" with ledges of {exact_mm(behind)}" if fill.ledges else "")
            + f" have {exact_mm(room)} of depth.",
            f"Make the planks at most {exact_mm(most)} thick." if most > 0 else "Make it 0, or the ring deeper.",
            most if most > 0 else None if entry == "ledges" else Fraction(0),
        )


def _heights(light: Light, fill: Planks) -> list[float]:
    """The middles of the ledges, from the foot up, mm."""
    if not fill.ledges:
        return []
    _, foot, _, head = light.loop.bounds
    low, high = foot + float(fill.rise.mm), head - float(fill.rise.mm)
    if fill.ledges == 1:
        return [(foot + head) / 2]
    step, half = (high - low) / (fill.ledges - 1), float(fill.ledge.mm) / 2
    if step < 2 * half or low - half < foot:
        most = int(max(0.0, (high - low) // (2 * half))) + 1 if low - half >= foot else 0
        raise Refusal(
            f"{light.entry}.ledges",
            f"at most {most if most > 1 else 0} ledges",
            f"{fill.ledges} ledges {exact_mm(fill.ledge.mm)} wide, {exact_mm(fill.rise.mm)} from foot and head, have "
            f"no room in a light {head - foot:g} mm high.",
            f"Make them {most} at most, or narrower." if most > 1 else "Make them 0.",
        )
    return [low + step * number for number in range(fill.ledges)]


def _braces(light: Light, fill: Planks, heights: list[float]) -> Iterator[tuple[Polygon, tuple[float, float]]]:
    if fill.braces == "none":
        return
    left, _, right, _ = light.loop.bounds
    half, within = float(fill.ledge.mm) / 2, light.loop.polygon
    for low, high in pairwise(heights):
        foot, head = low + half, high - half
        if head - foot < half:
            continue
        ends = (left, right) if fill.braces == "to the right" else (right, left)
        across = (ends[1] - ends[0]) * min(1.0, (head - foot) / (head - foot + half))
        start, end = np.array([ends[0], foot]), np.array([ends[0] + across, head])
        way = (end - start) / hypot(*(end - start))
        line = LineString([start - way * FAR, end + way * FAR]).buffer(half, cap_style="flat")
        for piece in polygons(line.intersection(box(left, foot, right, head)).intersection(within)):
            yield piece, (float(way[0]), float(way[1]))


def _members(light: Light, finishes: Finishes, bed: Bed | None) -> Iterator[Member]:
    fill, content = light.fill, light.content
    assert isinstance(fill, Planks)
    assert isinstance(content, Boards)
    finish, key = fill.finish or finishes.of("plank"), light.key
    grain = ALONG_V if fill.along == "upright" else ALONG_U
    last = len(content.cuts) - 2
    for number, (low, high) in enumerate(pairwise(content.cuts)):
        joints = (float(fill.joint.mm) if number else 0.0, float(fill.joint.mm) if number < last else 0.0)
        form = _plank(light, fill, (low, high), joints)
        yield Member(f"plank.{key}.{number + 1}", light.entry, "plank", finish, grain, form, key)
    behind = content.back - float(fill.ledge_thickness.mm)
    own = finishes.of("ledge")
    for number, region in enumerate(content.ledges):
        form = Region(region, behind, content.back)
        yield Member(f"ledge.{key}.{number + 1}", light.entry, "ledge", own, ALONG_U, form, key)
    for number, (region, way) in enumerate(content.braces):
        form = Region(region, behind, content.back)
        yield Member(f"brace.{key}.{number + 1}", light.entry, "ledge", own, (*way, 0.0), form, key)


def _plank(light: Light, fill: Planks, edges: tuple[float, float], joints: tuple[float, float]) -> Form:
    """One plank from edge to edge, worked off in front by its joints; cut to the outline of its light."""
    content = light.content
    assert isinstance(content, Boards)
    (low, high), (first, second) = edges, joints
    front, back = content.front, content.back
    drawn = [
        (low, back),
        (high, back),
        (high, front - second),
        (high - second, front),
        (low + first, front),
        (low, front - first),
    ]
    left, foot, right, head = light.loop.bounds
    section = tidy([point for point, after in zip(drawn, (*drawn[1:], drawn[0]), strict=True) if point != after])
    if fill.along == "upright":
        corners = np.array([[(u, v, w) for u, w in section] for v in (head, foot)])
    else:
        corners = np.array([[(u, v, w) for v, w in section] for u in (left, right)])
    whole = Sweep(corners, section)
    if light.is_rectangle:
        return whole
    across = box(low, foot, high, head) if fill.along == "upright" else box(left, low, right, high)
    pieces = polygons(across.intersection(light.loop.polygon))
    made = straight(pieces[0], corners, section) if len(pieces) == 1 else None
    return made or Carved(partial(_within, whole, light.loop.polygon, (back, front)), whole.length)


def _within(whole: Sweep, region: Polygon, planes: tuple[float, float]) -> list[Solid]:
    """What of a plank lies in the outline of its light."""
    around = plate(region, planes[0] - 1.0, planes[1] + 1.0).manifold()
    return of_manifold(whole.solids()[0].manifold() ^ around)


ALONG = {"upright": "upright", "level": "level"}
BRACES = {
    "none": "without braces",
    "to the left": "with braces rising to the left",
    "to the right": "with braces rising to the right",
}


def _say(w: Writer, path: str, light: Light) -> None:
    fill: Any = light.fill
    assert isinstance(light.content, Boards)
    cuts = light.content.cuts
    told = (f"{len(cuts) - 1} planks, each {cuts[1] - cuts[0]:.1f} mm wide.",)
    parts: list[Any] = [
        "Planks",
        w.choice(f"{path}.along", fill.along, ALONG, "Way the planks run"),
        ", at most",
        w.length(f"{path}.width", fill.width, "Width of the planks"),
        "wide,",
        w.length(f"{path}.thickness", fill.thickness, "Thickness of the planks"),
        "thick, set back",
        w.length(f"{path}.setback", fill.setback, "Set-back of the planks"),
        ", V joints of",
        w.length(f"{path}.joint", fill.joint, "Joint between planks"),
        ",",
        w.finish(f"{path}.finish", fill.finish, "Finish of the planks", usual=w.of_role("plank")),
        ";",
        w.number(f"{path}.ledges", fill.ledges, "Ledges"),
        "ledges",
    ]
    if fill.ledges:
        parts += [w.length(f"{path}.ledge", fill.ledge, "Width of the ledges"), "by"]
        parts += [w.length(f"{path}.ledge_thickness", fill.ledge_thickness, "Thickness of the ledges"), ","]
        parts += [w.length(f"{path}.rise", fill.rise, "Height of the first ledge"), "from foot and head,"]
        parts += [w.choice(f"{path}.braces", fill.braces, BRACES, "Braces")]
    w.say(f"{path}.width", *parts, ".", nested=True, told=told)


KIND = FILLINGS.register(
    Filling(
        "planks",
        Planks,
        "planks",
        lambda fill: "planks",
        _solve,
        _members,
        order=44,
        say=_say,
        operation=lambda fill, name: "FIXEDCASEMENT",
        pieces=lambda light, fill: (_count(light, fill) + 2 * fill.ledges, "planks"),
    )
)
