"""Folding leaves: hinged to a jamb and to each other, their joints by turns on one face and on the other, so that they
fold flat against each other before the frame.

Every second pin runs in a line along the frame. Between two of those both leaves turn by the same angle, one each way;
the pins on the other face are a leaf's thickness off that line, so a chain of leaves first grows a little before it
shortens. Its free end stands clear of the jamb by what that takes.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from math import ceil, inf
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ashfell.core.base.document import Data, Gap, Side, Size, mm
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.filling import FILLINGS, Filling
from ashfell.core.kinds.fillings.closing import Closed, Closing, planes_of, stop_members, strip_of, within_clearance
from ashfell.core.kinds.fillings.hung import fresh_hung
from ashfell.core.kinds.fillings.leaf_chain import Chain, SweptFolding
from ashfell.core.kinds.fillings.sashes import (
    check_each,
    check_rectangle,
    sash_body,
    sash_members,
    sash_pieces,
    say_ring,
)
from ashfell.core.kinds.fillings.swing import Hinges, knuckle, middles
from ashfell.core.kinds.hardware import FreeFace
from ashfell.core.kinds.opening import Swept
from ashfell.core.kinds.roles import Finishes
from ashfell.core.kinds.symbol import Symbol, hung_symbol
from ashfell.core.parts import ALONG_V, Member
from ashfell.core.plane.loop import Loop
from ashfell.core.unit.layout import Bed, Body, Light, Rect, SashLayout
from ashfell.core.unit.say.writer import Writer
from ashfell.core.unit.solve.body import Solving

DEGREES = 90.0
"""How far every leaf turns when it is opened by 100 %."""
ANGLES = np.radians(np.linspace(0.0, DEGREES, 721))
"""Where a chain is looked at on its way, radians."""
LEAST_LEAF = Fraction(100)
"""The narrowest leaf, mm."""
WHOLE = Fraction(1, 2)
"""The clearance that folding takes is rounded up to a multiple of this, mm."""


class Folding(Closing):
    """Leaves of equal width that fold: ``to_right`` of them to the right, the others to the left. They are ``gap``
    apart; the free end of a chain is ``end`` clear of the jamb, or of the other chain (null: what folding takes). The
    joints have knuckles of their ``hinges`` (null: leaves turn about their edges)."""

    opens_together: ClassVar[bool] = True
    kind: Literal["folding"]
    leaves: Annotated[int, Field(ge=2, le=16)] = 4
    to_right: Annotated[int, Field(ge=0, le=16)] = 0
    face: Gap = mm("80")
    sides: dict[Side, Size] = {}
    depth: Size = mm("44")
    clearance: Gap = mm("4")
    gap: Gap = mm("3")
    end: Gap | None = None
    foot: Gap | None = mm("6")
    stop: Gap = mm("25")
    hinges: Hinges | None = Hinges(radius=mm("5"))
    joint: Literal["mitred", "jambs", "head"] = "jambs"
    role: ClassVar[Literal["sash", "leaf"]] = "leaf"
    has_foot_stop: ClassVar[bool] = False

    @property
    def pin(self) -> float:
        """How far its pins stand off the faces that meet, mm."""
        return float(self.hinges.radius.mm) if self.hinges else 0.0

    @property
    def apart(self) -> float:
        """How far the two lines of its pins are apart across the leaves, mm."""
        return float(self.depth.mm) + 2 * self.pin

    def free_face(self, light: Light, sash: SashLayout, face: str) -> FreeFace:
        """What of a face takes hardware: where it folds onto another, what stands out no more than the pins do."""
        assert isinstance(light.content, Folded)
        region = sash.body.ring.loop.polygon
        chain, number = light.content.of(sash)
        outer = (face == "inside") == self.swings_in
        # The outer face of the first of a chain lies on none, nor does the far one of its last.
        neighbour = number - 1 if outer == (number % 2 == 0) else number + 1
        meets = 0 <= neighbour < len(chain.leaves)
        return FreeFace(region, 2 * self.pin if meets and self.opened_of(sash.name) else inf)


@dataclass(frozen=True, eq=False)
class Folded(Closed):
    """The leaves of a light in their chains."""

    chains: tuple[Chain, ...] = ()

    def of(self, sash: SashLayout) -> tuple[Chain, int]:
        """The chain that a leaf is in, and its place in it."""
        return next((chain, chain.leaves.index(sash.name)) for chain in self.chains if sash.name in chain.leaves)


def _solve(light: Light, fill: Folding, solving: Solving) -> Folded:
    """The leaves of a light.

    Raises
    ------
    Refusal
        When the light is no rectangle, or they have no room in the ring or to fold.
    """
    check_rectangle(light, "folding leaves", "Leaves can fold only in a rectangular light.")
    if fill.to_right > fill.leaves:
        raise Refusal(
            f"{light.entry}.to_right",
            f"at most {fill.leaves} leaves",
            f"{fill.to_right} leaves cannot fold to the right: there are {fill.leaves}.",
            f"Make it {fill.leaves} at most.",
        )
    if fill.setback.mm and fill.hinges:
        raise Refusal(
            f"{light.entry}.hinges",
            "hinges before the frame's face",
            f"Set back {exact_mm(fill.setback.mm)}, the knuckles would stand in the jamb.",
            "Leave the hinges out, or set it back 0.",
        )
    planes = planes_of(light, fill)
    _, rect = within_clearance(light, fill)
    counts = [(True, fill.leaves - fill.to_right), (False, fill.to_right)]
    width = _width(light, fill, rect, [count for _, count in counts if count])
    found: list[SashLayout] = []
    chains: list[Chain] = []
    for left, count in counts:
        if count:
            chain = _chain(fill, rect, planes, (left, count), width)
            chains.append(chain)
            found += [_leaf(light, fill, solving, chain, index, (rect, planes, width)) for index in range(count)]
    found.sort(key=lambda sash: int(sash.name.rpartition(" ")[2]))
    check_each(light, found)
    return Folded(sashes=tuple(found), strip=strip_of(light, fill, planes), chains=tuple(chains))


def _width(light: Light, fill: Folding, rect: Rect, counts: list[int]) -> Fraction:
    """How wide each leaf is where the free end is clear by what folding takes, mm."""
    gap = fill.gap.mm
    joints = sum((count - 1) * gap for count in counts)
    jambs = fill.clearance.mm if len(counts) == 1 else Fraction(0)
    room = rect.width + jambs - joints

    def wide(end: Fraction) -> Fraction:
        return (room - end) / fill.leaves

    end = fill.clearance.mm if fill.end is None else fill.end.mm
    needed = Fraction(0)
    for _ in range(4):
        width = wide(end)
        if width < LEAST_LEAF:
            raise _too_narrow(light, fill, width, room - end)
        needed = sum((_grown(fill, width, count) for count in counts), Fraction(0))
        if fill.end is not None:
            break
        end = max(end, needed)
    if needed > end:
        raise Refusal(
            f"{light.entry}.end",
            "room to fold",
            f"The leaves reach {exact_mm(needed)} past their free end while they fold; {exact_mm(end)} is clear there.",
            f"Make it at least {exact_mm(needed)}, or leave it out.",
            needed,
        )
    return wide(end)


def _too_narrow(light: Light, fill: Folding, width: Fraction, room: Fraction) -> Refusal:
    most = int((room + fill.gap.mm * (fill.leaves - 1)) // (LEAST_LEAF + fill.gap.mm)) - 1
    message = f"{fill.leaves} leaves would be {exact_mm(width)} wide each; one is at least {exact_mm(LEAST_LEAF)}."
    if most < max(2, fill.to_right):
        return Refusal(
            f"{light.entry}.kind",
            "a light that takes a sash",
            message,
            "Make the light larger, or choose another filling.",
        )
    return Refusal(f"{light.entry}.leaves", f"at most {most} leaves", message, f"Make them {most} at most.")


def _grown(fill: Folding, width: Fraction, count: int) -> Fraction:
    """By how much a chain reaches past its free end on its way, rounded up, mm: how far both corners of that go, which
    turn about the pin of their leaf while that moves along."""
    half, depth = float(fill.gap.mm) / 2, float(fill.depth.mm)
    step, last = float(width) + 2 * half, count - 1
    far = float(width) * count + 2 * half * last
    odd = last % 2 == 1
    x = far - (last * step - half)
    cosine, sine = np.cos(ANGLES), np.sin(ANGLES)
    pins = last * (step * cosine + fill.apart * sine) - half
    offs = [z + (fill.apart if odd else 0.0) for z in (-fill.pin, -fill.pin - depth)]
    reached = max(float((pins + x * cosine - (-z if odd else z) * sine).max()) for z in offs) - far
    return ceil(round(reached, 6) / float(WHOLE)) * WHOLE


def _chain(
    fill: Folding, rect: Rect, planes: tuple[Fraction, Fraction], of: tuple[bool, int], width: Fraction
) -> Chain:
    left, count = of
    half = float(fill.gap.mm) / 2
    out = -1.0 if fill.swings_in else 1.0
    face = -float(planes[1] if fill.swings_in else planes[0])
    pin = (float(rect.x) - half if left else float(rect.right) + half, face + out * fill.pin)
    numbers = range(1, count + 1) if left else range(fill.leaves, fill.leaves - count, -1)
    names = tuple(f"leaf {number}" for number in numbers)
    return Chain(left, pin, float(width + fill.gap.mm), fill.apart, out, names)


def _leaf(
    light: Light,
    fill: Folding,
    solving: Solving,
    chain: Chain,
    index: int,
    of: tuple[Rect, tuple[Fraction, Fraction], Fraction],
) -> SashLayout:
    rect, planes, width = of
    along = (width + fill.gap.mm) * index
    x = rect.x + along if chain.left else rect.right - along - width
    own = Rect(x, rect.y, width, rect.height)
    loop = Loop.rectangle(float(own.x), float(own.y), float(own.right), float(own.head))
    body: Body = sash_body(light, loop, own, planes, chain.leaves[index], solving)
    angle = float(np.radians(DEGREES * fill.opened / 100))
    at = float(own.x if chain.left else own.right)
    axis = ((at, float(own.y)), (at, float(own.head)))
    return SashLayout(chain.leaves[index], body, chain.motion(index, angle) if angle else None, axis)


def _members(light: Light, finishes: Finishes, bed: Bed | None) -> Iterator[Member]:
    """The strip, the leaves, and the knuckles of their joints, which go with the leaf before them."""
    yield from stop_members(light, finishes)
    yield from sash_members(light, finishes, bed)
    fill, content = light.fill, light.content
    assert isinstance(fill, Folding)
    assert isinstance(content, Folded)
    if fill.hinges is None:
        return
    angle = float(np.radians(DEGREES * fill.opened / 100))
    entry = f"{light.entry}.hinges"
    for sash in light.sashes:
        chain, index = content.of(sash)
        (u, w), (x, z) = chain.at(index, 0.0), chain.at(index, angle)
        at = sash.axis[0][0]
        for number, middle in enumerate(middles(sash.body.ring.loop, at, fill.hinges, entry)):
            name = f"hardware.{light.key}.hinge.{sash.name.replace(' ', '')}.{number + 1}"
            form = knuckle(fill.hinges, (u, middle, w))
            member = Member(name, entry, "hardware", finishes.of("hardware"), ALONG_V, form, light.key)
            carried = np.eye(4)
            carried[0, 3], carried[2, 3] = x - u, z - w
            yield member.moved(carried if angle else None)


def _sweeps(light: Light) -> Iterator[Swept]:
    assert isinstance(light.fill, Folding)
    assert isinstance(light.content, Folded)
    for sash in light.sashes:
        chain, number = light.content.of(sash)
        ring = sash.body.ring
        left, foot, right, head = ring.loop.bounds
        front, back = -float(ring.front), -float(ring.back)
        corners = np.array([(left, back), (right, back), (right, front), (left, front)])
        pins = np.array([chain.at(number, 0.0), chain.at(number + 1, 0.0)])
        opened = DEGREES * light.fill.opened / 100
        yield SweptFolding(corners, pins[0], pins[1], DEGREES, opened, foot, head, chain=chain, number=number)


def _symbols(light: Light) -> Iterable[Symbol]:
    assert isinstance(light.fill, Folding)
    inwards = light.fill.swings_in
    return [hung_symbol(sash, inwards, light.entry, pivots=False, tilts=False) for sash in light.sashes]


def _say(w: Writer, path: str, light: Light) -> None:
    fill = light.fill
    assert isinstance(fill, Folding)
    first = light.sashes[0].body.ring.loop
    w.say(
        f"{path}.leaves",
        w.number(f"{path}.leaves", fill.leaves, "Leaves"),
        "leaves fold",
        w.choice(f"{path}.swing", fill.swing, {"out": "out", "in": "in"}, "Swing"),
        ",",
        w.number(f"{path}.to_right", fill.to_right, "Leaves that fold to the right"),
        "of them to the right;",
        w.length(f"{path}.gap", fill.gap, "Gap between leaves"),
        "apart, clear of the foot",
        w.length(f"{path}.foot", fill.foot, "Clearance under them", "as all round"),
        ", at the free end",
        w.length(f"{path}.end", fill.end, "Clearance at the free end", "what folding takes"),
        "; against a stop",
        w.length(f"{path}.stop", fill.stop, "Stop of the leaves"),
        "wide.",
        nested=True,
        told=(f"Each is {w.size(first)}.",),
    )
    say_ring(w, path, light)


def _fresh(data: Data, fill: Data, fits: Any) -> None:
    fresh_hung(data, fill, fits)
    if not fits() and fill.get("hinges"):
        fill["hinges"] = None
        fresh_hung(data, fill, fits)


def _door(fill: Any) -> tuple[str, str]:
    """As seen from outside."""
    if 0 < fill.to_right < fill.leaves:
        return "DOUBLE_DOOR_FOLDING", "FOLDING"
    return "FOLDING_TO_RIGHT" if fill.to_right else "FOLDING_TO_LEFT", "FOLDING"


def _pieces(light: Light, fill: Folding) -> tuple[int, str]:
    """How many pieces there will be."""
    return sash_pieces(fill, fill.leaves, fill.hinges.count if fill.hinges else 0), "parts of sashes"


KIND = FILLINGS.register(
    Filling(
        "folding",
        Folding,
        "folding leaves",
        lambda fill: f"{fill.leaves} folding leaves",
        _solve,
        _members,
        order=26,
        say=_say,
        symbols=_symbols,
        door=_door,
        pieces=_pieces,
        fresh=_fresh,
        sweeps=_sweeps,
    )
)
