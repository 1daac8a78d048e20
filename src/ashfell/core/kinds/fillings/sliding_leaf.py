"""Leaves that slide along a wall: hung from a rail on one of its faces, or into a pocket inside it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from math import inf
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field
from shapely.geometry import Polygon, box

from ashfell.core.base.document import Gap, Side, Size, mm
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.filling import FILLINGS, Filling
from ashfell.core.kinds.fillings.behind import Behind
from ashfell.core.kinds.fillings.hung import fresh_hung
from ashfell.core.kinds.fillings.over import Over
from ashfell.core.kinds.fillings.passed import SweptSliding, refuse_in_pocket
from ashfell.core.kinds.fillings.rail import REACH, STRAP, least_beside, rail_members
from ashfell.core.kinds.fillings.sashes import (
    Sashes,
    check_each,
    check_rectangle,
    sash_body,
    sash_members,
    sash_pieces,
    say_ring,
)
from ashfell.core.kinds.hardware import FreeFace
from ashfell.core.kinds.opening import Hand, Swept
from ashfell.core.kinds.roles import Finishes
from ashfell.core.kinds.symbol import Symbol, arrow
from ashfell.core.parts import ALONG_V, Member
from ashfell.core.plane.loop import Loop
from ashfell.core.solid.form import Box
from ashfell.core.unit.beside import Beside
from ashfell.core.unit.layout import Bed, Content, Light, Rect, SashLayout
from ashfell.core.unit.say.writer import Writer
from ashfell.core.unit.solve.body import Solving

if TYPE_CHECKING:
    from ashfell.core.unit.document.unit import UnitDocument

HIDDEN = {
    "outside": (frozenset({"inside"}), "flush outside"),
    "inside": (frozenset({"outside"}), "flush inside"),
    "pocket": (frozenset({"outside", "inside"}), "centred"),
}
"""From which sides the wall hides leaves, and how their unit stands in it, by where they run."""
LEAST_LEAF = Fraction(100)
"""The narrowest leaf, mm."""
LEAST_LINING = Fraction(5)
"""The thinnest half of a jamb beside a pocket, mm."""


class SlidingLeaf(Sashes):
    """One leaf that slides to its ``hand``, or two that part: on the ``outside`` or the ``inside`` of the frame,
    ``clearance`` before its face, lapping the light by ``lap`` at the sides and the head; or into a ``pocket`` in the
    wall, ``clearance`` free on its faces. Beside a pocket the frame has no jamb of its own: its two halves are ``jamb``
    wide. Leaves are ``foot`` above the floor, and ``gap`` clear of the jamb that they close against, of the head in a
    pocket, and of each other."""

    kind: Literal["sliding-leaf"]
    runs: Literal["outside", "inside", "pocket"] = "outside"
    hand: Hand = "left"
    leaves: Annotated[int, Field(ge=1, le=2)] = 1
    face: Gap = mm("100")
    sides: dict[Side, Size] = {"sill": mm("200")}
    depth: Size = mm("44")
    clearance: Gap = mm("8")
    lap: Gap = mm("40")
    foot: Gap = mm("8")
    gap: Gap = mm("4")
    jamb: Size = mm("40")
    joint: Literal["mitred", "jambs", "head"] = "jambs"
    role: ClassVar[Literal["sash", "leaf"]] = "leaf"

    @property
    def ways(self) -> tuple[tuple[str, float], ...]:
        """Its leaves by name, and the sense of u each slides in."""
        if self.leaves == 2:
            return ("left", -1.0), ("right", 1.0)
        return (("", -1.0 if self.hand == "left" else 1.0),)

    def free_face(self, light: Light, sash: SashLayout, face: str) -> FreeFace:
        """What of a face takes hardware: towards the frame or in a pocket no more than its clearance."""
        towards = self.runs == "pocket" or face != self.runs
        region = sash.body.ring.loop.polygon
        if not towards:
            left, foot, right, head = region.bounds
            region = box(left, foot, right, head - STRAP[2])
        return FreeFace(region, float(self.clearance.mm) if towards else inf)


@dataclass(frozen=True, eq=False)
class Slid(Content):
    """The leaves of a light, and all that they pass over: left, foot, right, head, mm."""

    passes: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)

    @property
    def spread(self) -> Polygon:
        """All that they pass over."""
        return box(*self.passes)


def _solve(light: Light, fill: SlidingLeaf, solving: Solving) -> Slid:
    """The leaves of a light.

    Raises
    ------
    Refusal
        When the light is no rectangle, or they have no room.
    """
    check_rectangle(light, "sliding leaves", "Leaves can slide only past a rectangular light.")
    planes = _in_pocket(light, fill) if fill.runs == "pocket" else _before(light, fill)
    rects = _rects(light, fill)
    found = []
    for (name, way), rect in zip(fill.ways, rects, strict=True):
        loop = Loop.rectangle(float(rect.x), float(rect.y), float(rect.right), float(rect.head))
        body = sash_body(light, loop, rect, planes, name or "sash", solving)
        far = way * float(_travel(light, fill, rect))
        share = Fraction(fill.opened_of(name)).limit_denominator(10**6) / 100
        motion = None
        if share:
            motion = np.eye(4)
            motion[0, 3] = far * float(share)
        found.append(SashLayout(name, body, motion, (), (far, 0.0)))
    check_each(light, found)
    ends = [
        (float(rect.x) + min(far.slides[0], 0.0), float(rect.right) + max(far.slides[0], 0.0))
        for rect, far in zip(rects, found, strict=True)
    ]
    passes = min(a for a, _ in ends), float(rects[0].y), max(b for _, b in ends), float(rects[0].head)
    pockets = tuple(_pocket(fill, light, sash, planes) for sash in found) if fill.runs == "pocket" else ()
    hidden, stands = HIDDEN[fill.runs]
    return Slid(sashes=tuple(found), pockets=pockets, passes=passes, hidden=hidden, stands=stands)


def _before(light: Light, fill: SlidingLeaf) -> tuple[Fraction, Fraction]:
    """Front and back of leaves on a face of the frame, mm behind the unit's outer face."""
    if fill.runs == "inside":
        front = light.ring.back + fill.clearance.mm
        return front, front + fill.depth.mm
    back = light.ring.front - fill.clearance.mm
    return back - fill.depth.mm, back


def _in_pocket(light: Light, fill: SlidingLeaf) -> tuple[Fraction, Fraction]:
    """Front and back of leaves in the middle of the frame's depth.

    Raises
    ------
    Refusal
        When the frame is too thin, or has a jamb in their way.
    """
    ring = light.ring
    room = ring.back - ring.front - 2 * (fill.clearance.mm + LEAST_LINING)
    if fill.depth.mm > room:
        raise Refusal(
            f"{light.entry}.depth" if room > 0 else f"{light.entry}.runs",
            "a leaf between the halves of its jamb",
            f"A leaf {exact_mm(fill.depth.mm)} deep, {exact_mm(fill.clearance.mm)} clear on both faces, leaves less "
            f"than {exact_mm(LEAST_LINING)} for each half of a jamb in a frame {exact_mm(ring.back - ring.front)}.",
            f"Make it at most {exact_mm(room)} deep." if room > 0 else "Let it run outside, or make the frame deeper.",
            room if room > 0 else None,
        )
    low, high = ring.loop.bounds[0], ring.loop.bounds[2]
    for _, way in fill.ways:
        side, edge, own = ("left", low, light.loop.bounds[0]) if way < 0 else ("right", high, light.loop.bounds[2])
        if side in ring.bare and abs(own - edge) < 1e-6:
            continue
        if ring.role != "frame" or not ring.loop.is_rectangle or abs(own - edge) > float(max(ring.exact_faces)) + 1e-6:
            raise Refusal(
                f"{light.entry}.runs",
                "a pocket in the wall",
                f"On the {side} of this light there is no wall that a leaf could slide into.",
                "Let it run outside or inside.",
            )
        raise Refusal(
            f"frame.sides.{side}",
            "no jamb before a pocket",
            f"The leaf slides to the {side}, where the frame has a jamb.",
            "Make it 0: the jamb is then in two halves, and the leaf goes between them.",
            Fraction(0),
        )
    front = (ring.front + ring.back - fill.depth.mm) / 2
    return front, front + fill.depth.mm


def _rects(light: Light, fill: SlidingLeaf) -> list[Rect]:
    """The leaves shut, mm."""
    clear, gap, foot = light.clear, fill.gap.mm, fill.foot.mm
    if fill.runs == "pocket":
        left = clear.x + (0 if fill.leaves == 2 or fill.hand == "left" else gap)
        right = clear.right - (0 if fill.leaves == 2 or fill.hand == "right" else gap)
        head = clear.head - gap
    else:
        left, right, head = clear.x - fill.lap.mm, clear.right + fill.lap.mm, clear.head + fill.lap.mm
    width = (right - left - gap * (fill.leaves - 1)) / fill.leaves
    height = head - clear.y - foot
    least = LEAST_LEAF
    if fill.runs == "pocket":
        least = max(least, fill.jamb.mm + gap + 1)
    elif fill.leaves == 2:
        least = max(least, least_beside(gap))
    if width < least or height < LEAST_LEAF:
        raise Refusal(
            f"{light.entry}.kind",
            "a light that takes a sash",
            f"A leaf would be {exact_mm(width)} wide and {exact_mm(height)} high; one is at least {exact_mm(least)} by "
            f"{exact_mm(LEAST_LEAF)}.",
            "Make the light larger, or choose another filling.",
        )
    y = clear.y + foot
    return [Rect(left + index * (width + gap), y, width, height) for index in range(fill.leaves)]


def _travel(light: Light, fill: SlidingLeaf, rect: Rect) -> Fraction:
    """How far a leaf slides: until its edge is where the light begins, or the half of the jamb ends, mm."""
    if fill.runs == "pocket":
        return rect.width - fill.jamb.mm
    return rect.width - fill.lap.mm


def _pocket(
    fill: SlidingLeaf, light: Light, sash: SashLayout, planes: tuple[Fraction, Fraction]
) -> tuple[tuple[float, float, float], tuple[float, float, float]]:
    """What a leaf needs of the wall beside the unit when it is open."""
    left, _, right, head = sash.body.ring.loop.bounds
    clear, far = float(fill.clearance.mm), sash.slides[0]
    across = (left + far - clear, left + 1.0) if far < 0 else (right - 1.0, right + far + clear)
    front, back = -float(planes[0]) + clear, -float(planes[1]) - clear
    return (across[0], float(light.clear.y), back), (across[1], head + clear, front)


def _members(light: Light, finishes: Finishes, bed: Bed | None) -> Iterator[Member]:
    yield from sash_members(light, finishes, bed)
    fill = light.fill
    assert isinstance(fill, SlidingLeaf)
    assert isinstance(light.content, Slid)
    if fill.runs == "pocket":
        yield from _halves(light, fill, finishes)
        return
    left, _, right, _ = light.content.passes
    yield from rail_members(light, (left, right), 1.0 if fill.runs == "outside" else -1.0, finishes)


def _halves(light: Light, fill: SlidingLeaf, finishes: Finishes) -> Iterator[Member]:
    """The two halves of each jamb that a leaf goes between."""
    ring, clear, width = light.ring, float(fill.clearance.mm), float(fill.jamb.mm)
    left, foot, right, head = light.loop.bounds
    own = light.sashes[0].body.ring
    depths = {
        "outside": (-float(own.front) + clear, -float(ring.front)),
        "inside": (-float(ring.back), -float(own.back) - clear),
    }
    for _, way in fill.ways:
        side, low, high = ("left", left, left + width) if way < 0 else ("right", right - width, right)
        for face, (back, front) in depths.items():
            key = f"frame.{light.key}.{side}.{face}"
            form = Box((low, foot, back), (high, head, front))
            yield Member(key, light.entry, "frame", finishes.of("frame"), ALONG_V, form, light.key)


def _clears(document: UnitDocument, beside: Beside, light: Light) -> None:
    """Refuse what stands in the way of leaves on a face: a casing or a ring that stands out of it, a drip, and what
    opens beside them.

    Raises
    ------
    Refusal
        With the clearance that would do.
    """
    fill, content = light.fill, light.content
    assert isinstance(fill, SlidingLeaf)
    assert isinstance(content, Slid)
    if fill.runs == "pocket":
        refuse_in_pocket(beside.layout, light)
        return
    casing = document.trim.outside if fill.runs == "outside" else document.trim.inside
    front, back = beside.layout.depth
    out = light.ring.front - front if fill.runs == "outside" else back - light.ring.back
    if casing:
        out = max(out, casing.projection.mm + (casing.forward.mm if casing.forward else 0))
    if out > fill.clearance.mm:
        raise Refusal(
            f"{light.entry}.clearance",
            "a casing that clears the leaf",
            f"The leaf runs {exact_mm(fill.clearance.mm)} before the frame, and what is round that stands out "
            f"{exact_mm(out)}.",
            f"Make it at least {exact_mm(out)}, or leave the casing out.",
            out,
        )
    if document.trim.head_drip and fill.runs == "outside":
        raise Refusal(
            "trim.head_drip", "a drip that clears the leaf", "The leaf hangs where the drip is.", "Leave it out."
        )
    if document.trim.board and fill.runs == "inside":
        raise Refusal(
            "trim.board", "a board that clears the leaf", "The leaf runs where the board is.", "Leave it out."
        )
    high = content.passes[3] + REACH
    passed = box(*content.passes[:3], high)
    behind = [one for one in beside.layout.body.lights if isinstance(one.content, Behind)]
    for other in {one.key: one for one in (*beside.near(light, passed), *behind)}.values():
        near = box(*other.content.passes) if isinstance(other.content, Slid) else other.loop.polygon
        if isinstance(other.content, Over) and fill.runs == "outside":
            near = other.content.covers
        if isinstance(other.content, Behind) and fill.runs == "inside":
            near = near.union(beside.taken(other))
        moves = other.sashes or other.content.proud or isinstance(other.content, Behind | Over)
        if moves and near.intersection(passed).area > 1e-3:
            raise Refusal(
                f"{light.entry}.kind",
                "a light that takes a sash",
                f"Open, its leaf would stand before {other.key}, which opens or stands out itself.",
                "Choose another filling for one of them.",
            )


def _sweeps(light: Light) -> Iterator[Swept]:
    assert isinstance(light.fill, SlidingLeaf)
    for sash in light.sashes:
        ring = sash.body.ring
        left, foot, right, head = ring.loop.bounds
        front, back = -float(ring.front), -float(ring.back)
        corners = np.array([(left, back), (right, back), (right, front), (left, front)])
        far = sash.slides[0]
        opened = far * light.fill.opened_of(sash.name) / 100
        strikes = light.fill.runs != "pocket"
        yield SweptSliding(corners, corners[0], corners[1], far, opened, foot, head, strikes)


def _symbols(light: Light) -> Iterable[Symbol]:
    return [Symbol(arrow(sash), False, light.entry, "slides") for sash in light.sashes]


RUNS = {"outside": "outside", "inside": "inside", "pocket": "into a pocket"}
HANDS = {"left": "to the left", "right": "to the right"}


def _say(w: Writer, path: str, light: Light) -> None:
    fill = light.fill
    assert isinstance(fill, SlidingLeaf)
    parts: list[Any] = [
        w.number(f"{path}.leaves", fill.leaves, "Leaves"),
        "slides" if fill.leaves == 1 else "slide apart",
        w.choice(f"{path}.runs", fill.runs, RUNS, "Where they run"),
    ]
    if fill.leaves == 1:
        parts += [w.choice(f"{path}.hand", fill.hand, HANDS, "The way it slides")]
    if fill.runs == "pocket":
        parts += [", between halves of the jamb", w.length(f"{path}.jamb", fill.jamb, "Width of the halves"), "wide,"]
    else:
        parts += [", lapping the light by", w.length(f"{path}.lap", fill.lap, "Lap at the sides and the head"), ","]
    parts += [
        w.length(f"{path}.foot", fill.foot, "Clearance under it"),
        "above the foot,",
        w.length(f"{path}.gap", fill.gap, "Gap where it closes"),
        "where it closes.",
    ]
    w.say(f"{path}.runs", *parts, nested=True)
    say_ring(w, path, light, clear="on its faces," if fill.runs == "pocket" else "before the frame,")


def _door(fill: Any) -> tuple[str, str]:
    """As seen from outside."""
    return "DOUBLE_DOOR_SLIDING" if fill.leaves == 2 else f"SLIDING_TO_{fill.hand.upper()}", "SLIDING"


KIND = FILLINGS.register(
    Filling(
        "sliding-leaf",
        SlidingLeaf,
        "a sliding leaf",
        lambda fill: f"leaf, sliding {RUNS[fill.runs]}",
        _solve,
        _members,
        order=27,
        say=_say,
        symbols=_symbols,
        door=_door,
        pieces=lambda light, fill: (sash_pieces(fill, fill.leaves), "parts of sashes"),
        fresh=fresh_hung,
        clears=_clears,
        sweeps=_sweeps,
    )
)
