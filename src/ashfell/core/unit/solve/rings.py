"""The rings of a frame: those round it and in it, which of them holds the glass, and how those inside that one lie
before or behind it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from fractions import Fraction
from random import Random

import numpy as np

from ashfell.core.base.address import Address
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.filling import usual_fill
from ashfell.core.kinds.outline import outline_of
from ashfell.core.plane.loop import SIDES, Loop
from ashfell.core.plane.points import TOUCH, Floats
from ashfell.core.unit.document.members import ExtraRing
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.layout import Body, Ring
from ashfell.core.unit.members.faces import exact_face, side_faces
from ashfell.core.unit.members.glazing import gasket_of, planes_of
from ashfell.core.unit.members.own_section import LEAST_WEB, own_section, worked
from ashfell.core.unit.solve.body import is_seated


def rings_of(document: UnitDocument, frame: Ring) -> list[Ring]:
    """All rings from the outermost inwards, the frame among them.

    Raises
    ------
    Refusal
        When one has no room, or its outline leaves the ring around it.
    """
    outside = [*_placed(document, frame, "outside")]
    return [*reversed(outside), frame, *_placed(document, frame, "inside")]


def holder_of(document: UnitDocument, rings: Sequence[Ring]) -> Ring:
    """The ring that holds what is in the unit.

    Raises
    ------
    Refusal
        When there is no ring of that number.
    """
    glazed, extra = document.frame.glazed, len(document.frame.rings)
    if glazed is None:
        return rings[-1]
    if glazed > extra:
        there = f"from 0 (the frame) to {extra}" if extra else "0, the frame, or leave it out"
        raise Refusal(
            "frame.glazed",
            "a ring that is there",
            f"There is no ring {glazed} to hold the glass.",
            f"Name one {there}.",
        )
    entry = f"frame.rings.{glazed - 1}" if glazed else "frame"
    return [ring for ring in rings if ring.entry == entry][-1]


def check_inner(document: UnitDocument, inner: Sequence[Ring], body: Body) -> None:
    """Refuse rings inside the one that holds the glass which would be in the glass, or before what moves.

    Raises
    ------
    Refusal
    """
    if not inner:
        return
    light = body.lights[0]
    plain = len(body.lights) == 1 and not body.bars and light.filling.seated and not light.content.seen
    if not plain:
        raise Refusal(
            "frame.glazed",
            "one light behind the rings inside",
            "The rings inside the one that holds the glass need a single light, of plain glass or a panel.",
            "Let the innermost ring hold it.",
        )
    planes, shows = planes_of(light), gasket_of(light).shows.mm
    for ring in inner:
        clear_of_gasket = light.loop.moved(float(shows))
        beside = clear_of_gasket is not None and ring.loop.polygon.within(
            Loop.through(clear_of_gasket, light.loop.tags, light.loop.curved).polygon.buffer(TOUCH)
        )
        front, back = (planes.front, planes.back) if beside else (planes.stop_back, planes.bead_front)
        front, back = front - light.content.proud, back + light.content.proud
        if ring.back > front and ring.front < back:
            raise _in_the_glass(ring, front)


def _in_the_glass(ring: Ring, front: Fraction) -> Refusal:
    room = front - ring.front
    return Refusal(
        f"{ring.entry}.depth" if room > 0 else "frame.glazed",
        "rings before the glass",
        f"A ring from {exact_mm(ring.front)} to {exact_mm(ring.back)} behind the face would stand in the glass, which "
        f"begins at {exact_mm(front)}.",
        f"Make it at most {exact_mm(room)} deep." if room > 0 else "Let the innermost ring hold the glass.",
        room if room > 0 else None,
    )


def clear_of(loop: Loop, faces: Floats, entry: str, least: Fraction | int = 0) -> Loop:
    """The inner edge of a ring, whose face is at ``least`` so wide for what it holds, mm.

    Raises
    ------
    Refusal
        When there is none.
    """
    try:
        return loop.inset(faces, entry)
    except Refusal as refusal:
        if (refusal.nearest or 0) <= least and entry.startswith("frame.rings."):
            raise _no_room(Address(entry).parent, refusal.message) from None
        raise


def _no_room(ring: str, message: str) -> Refusal:
    return Refusal(ring, "room for the ring", message, "Leave the ring out, or make the unit larger.")


def _placed(document: UnitDocument, frame: Ring, place: str) -> Iterator[Ring]:
    """The rings of a place, each from the one before it."""
    last = frame
    for index, ring in enumerate(document.frame.rings):
        if ring.place == place:
            entry = f"frame.rings.{index}"
            for number, share in enumerate(_shares(ring)):
                last = _ring(document, ring, last, entry, f"{index + 1}.{number + 1}", share)
                yield last


def _shares(ring: ExtraRing) -> list[Fraction]:
    """How much of its own step each ring of an entry takes: all as much, or by chance about that in sum."""
    if ring.seed is None or ring.count == 1:
        return [Fraction(1)] * ring.count
    chance = Random(ring.seed)
    parts = [Fraction(chance.randint(20, 180)) for _ in range(ring.count)]
    return [part * ring.count / sum(parts) for part in parts]


def _holds_glass(document: UnitDocument, entry: str) -> bool:
    """Whether a ring is that which holds the glass."""
    inside = [number for number, ring in enumerate(document.frame.rings, 1) if ring.place == "inside"]
    number = max(inside, default=0) if document.frame.glazed is None else document.frame.glazed
    return entry == f"frame.rings.{number - 1}" and is_seated(document, usual_fill())


def _step(ring: ExtraRing, entry: str) -> Fraction:
    """The step before each ring: its own, or what all of them leave of what they go over.

    Raises
    ------
    Refusal
        When they are wider than that.
    """
    if ring.over is None:
        return ring.step.mm
    faces = ring.count * ring.face.mm
    if faces > ring.over.mm:
        raise Refusal(
            f"{entry}.over",
            "room for all rings",
            f"{ring.count} rings of {exact_mm(ring.face.mm)} take {exact_mm(faces)}, more than "
            f"{exact_mm(ring.over.mm)}.",
            f"Let them go over {exact_mm(faces)} or more.",
            faces,
        )
    return (ring.over.mm - faces) / ring.count


def _ring(document: UnitDocument, ring: ExtraRing, last: Ring, entry: str, key: str, share: Fraction) -> Ring:
    inside, face = ring.place == "inside", ring.face.mm
    step, own = _step(ring, entry) * share, {side: size.mm * share for side, size in ring.steps.items()}
    start = last.clear if inside else last.loop
    loop = _outlined(ring, last, step, own, entry) if ring.outline else _following(ring, start, step, own, entry)
    bare = last.bare if not ring.outline else frozenset()
    faces = np.array([0.0 if tag in bare else float(face) for tag in loop.tags])
    least = document.glazing.cover.mm + document.glazing.clear + LEAST_WEB if _holds_glass(document, entry) else 0
    made = Ring(
        key,
        entry,
        "frame",
        loop,
        faces,
        clear_of(loop, faces, f"{entry}.face", least),
        ring.setback.mm,
        ring.setback.mm + (ring.depth.mm if ring.depth else document.frame.depth.mm),
        worked(ring),
        glazing=document.glazing,
        section=own_section(ring.section, f"{entry}.section", proud=True),
    )
    if ring.outline:
        _check_within(made, last, inside, entry)
    return made


def _following(ring: ExtraRing, start: Loop, step: Fraction, own: dict[str, Fraction], entry: str) -> Loop:
    """A ring's outer edge, its steps from the one before it."""
    steps = side_faces(start, step, own, f"{entry}.steps")
    if ring.place == "inside":
        moved = start.moved(steps) if ring.over or ring.seed is not None else steps
        if moved is None:
            raise _no_room(entry, "What the rings go over leaves nothing inside.")
        return clear_of(start, steps, f"{entry}.step")
    if start.moved(-steps - float(ring.face.mm)) is None:
        raise _no_room(entry, "Outside, the ring would close up in a hollow of the one before it.")
    return start.inset(-steps - float(ring.face.mm), f"{entry}.step")


def _outlined(ring: ExtraRing, last: Ring, step: Fraction, own: dict[str, Fraction], entry: str) -> Loop:
    """The outer edge of a ring with an outline of its own."""
    assert ring.outline is not None
    names = {*SIDES, "jambs"}
    if unknown := [name for name in own if name not in names]:
        raise Refusal(
            f"{entry}.steps.{unknown[0]}",
            "a side of this outline",
            f"A ring with an outline of its own is placed by the sides of its box, not by “{unknown[0]}”.",
            f"Its sides are {', '.join(SIDES)}.",
        )
    foot, right, head, left = (float(exact_face(side, step, own)) for side in SIDES)
    bounds = np.array(last.clear.bounds if ring.place == "inside" else last.loop.bounds)
    face = float(ring.face.mm)
    inwards = (
        [left, foot, -right, -head]
        if ring.place == "inside"
        else [-left - face, -foot - face, right + face, head + face]
    )
    x, y, far, top = (bounds + inwards).tolist()
    if far - x < TOUCH or top - y < TOUCH:
        raise _no_room(entry, "Its steps leave nothing of the ring.")
    try:
        found = outline_of(ring.outline, far - x, top - y)
    except Refusal as refusal:
        if refusal.entry.startswith("outline"):
            raise replace(refusal, entry=f"{entry}.{refusal.entry}") from None
        raise _no_room(entry, refusal.message) from None
    return found.moved(x, y).facets()


def _check_within(made: Ring, last: Ring, inside: bool, entry: str) -> None:
    """Refuse a ring with an outline of its own that crosses the one before it."""
    outer, inner = (last.clear, made.loop) if inside else (made.clear, last.loop)
    if not inner.polygon.within(outer.polygon.buffer(TOUCH)):
        raise Refusal(
            f"{entry}.outline",
            "rings that do not cross",
            f"With this outline the ring crosses the one {'around' if inside else 'in'} it.",
            "Give it larger steps, or leave its outline out: it then follows the other.",
        )
