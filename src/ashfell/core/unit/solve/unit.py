"""From a unit document to its exact layout, or the reason why it cannot be built."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction

import numpy as np

from ashfell.core.base.address import Address
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.outline import outline_of
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import Floats
from ashfell.core.unit.document.members import ExtraRing
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.layout import Layout, Rect, Ring
from ashfell.core.unit.members.faces import side_faces
from ashfell.core.unit.members.limits import check_plain
from ashfell.core.unit.members.own_section import own_section, worked
from ashfell.core.unit.members.ring import ring_members
from ashfell.core.unit.members.trim import trim_members
from ashfell.core.unit.solve.body import Solving
from ashfell.core.unit.solve.cell import divided
from ashfell.core.unit.solve.extent import extent_of, measured, rounded


def laid_out(document: UnitDocument) -> Layout:
    """A unit laid out: everything in it that has a size, and all the members that are to be made.

    Parameters
    ----------
    document : UnitDocument

    Raises
    ------
    Refusal
        With the entry, the rule, the numbers and the nearest value that would work.
    """
    outer = Rect(Fraction(0), Fraction(0), document.width.mm, document.height.mm)
    outline = outline_of(document.outline, float(outer.width), float(outer.height))
    loop = outline.facets()
    faces = side_faces(loop, document.frame.face.mm, {k: v.mm for k, v in document.frame.sides.items()}, "frame.sides")
    inside = [ring for ring in document.frame.rings if ring.place == "inside"]
    frame = Ring(
        "",
        "frame",
        "frame",
        loop,
        faces,
        _frame_clear(document, loop, faces),
        Fraction(0),
        document.frame.depth.mm,
        worked(document.frame),
        document.frame.joint,
        document.glazing,
        section=own_section(document.frame.section, "frame.section"),
        own_sides=frozenset(document.frame.sides),
    )
    rings = [*_extra_rings(document, frame)]
    innermost = rings[-1][0] if inside else frame
    extent = extent_of(frame, outer)
    if inside:
        check_plain(frame)
        extent = measured(innermost.clear, outer)
    solving = Solving(document.finishes)
    rect = innermost_rect(innermost) if inside else outer
    try:
        body = solving.body(document, innermost, rect, extent, ("", ""))
    except Refusal as refusal:
        raise _over_all(refusal, outer, rect) from None
    shown = [frame, *(ring for ring, _ in rings if ring is not innermost)] if inside else [ring for ring, _ in rings]
    members = [*(member for ring in shown for member in ring_members(ring, document.finishes)), *body.members]
    layout = Layout(outer, outline, tuple(shown), body, tuple(members))
    return replace(layout, members=(*members, *trim_members(document, layout)))


def _over_all(refusal: Refusal, outer: Rect, rect: Rect) -> Refusal:
    """The refusal of what has no room inside rings: the nearest size of the unit is that over all of them."""
    more = {"width": outer.width - rect.width, "height": outer.height - rect.height}.get(refusal.entry)
    if more is None or refusal.nearest is None:
        return refusal
    nearest = refusal.nearest + more
    remedy = refusal.remedy.replace(exact_mm(refusal.nearest), exact_mm(nearest))
    return replace(refusal, nearest=nearest, remedy=remedy)


def _frame_clear(document: UnitDocument, loop: Loop, faces: Floats) -> Loop:
    """The inner edge of the frame; where there is none, the lights have no room, and that is what is said."""
    try:
        return _clear(loop, faces, "frame.face")
    except Refusal:
        ring = Ring("", "frame", "frame", loop, faces, loop, Fraction(0), document.frame.depth.mm, document.frame.edge)
        face = document.frame.face.mm
        for axis, size in (("columns", document.width.mm), ("rows", document.height.mm)):
            divided(ring, document, axis, (face, size - face), (Fraction(0), size), "")  # type: ignore[arg-type]
        raise


def innermost_rect(ring: Ring) -> Rect:
    """The overall size of a ring that is not the frame."""
    left, foot, right, head = (rounded(value) for value in ring.loop.bounds)
    return Rect(left, foot, right - left, head - foot)


def _clear(loop: Loop, faces: Floats, entry: str) -> Loop:
    """The inner edge of a ring."""
    try:
        return loop.inset(faces)
    except Refusal as refusal:
        if not refusal.nearest and entry.startswith("frame.rings."):
            ring = Address(entry).parent
            remedy = "Leave the ring out, or make the unit larger."
            raise Refusal(ring, "room for the ring", refusal.message, remedy) from None
        raise replace(refusal, entry=entry) from None


def _extra_rings(document: UnitDocument, frame: Ring) -> Iterator[tuple[Ring, str]]:
    """Outside rings from the frame outwards, then inside ones from it inwards."""
    for place in ("outside", "inside"):
        last = frame
        for index, ring in enumerate(document.frame.rings):
            if ring.place == place:
                for number in range(ring.count):
                    last = _extra_ring(document, ring, last, f"frame.rings.{index}", f"{index + 1}.{number + 1}")
                    yield last, place


def _extra_ring(document: UnitDocument, ring: ExtraRing, last: Ring, entry: str, key: str) -> Ring:
    face, start = float(ring.face.mm), last.clear if ring.place == "inside" else last.loop
    steps = side_faces(start, ring.step.mm, {k: v.mm for k, v in ring.steps.items()}, f"{entry}.steps")
    loop = _clear(start, steps, f"{entry}.step") if ring.place == "inside" else start.inset(-steps - face)
    faces = np.full(len(loop.tags), face)
    depth = ring.depth.mm if ring.depth else document.frame.depth.mm
    section = own_section(ring.section, f"{entry}.section", proud=True)
    made = Ring(
        key,
        entry,
        "frame",
        loop,
        faces,
        _clear(loop, faces, f"{entry}.face"),
        ring.setback.mm,
        ring.setback.mm + depth,
        worked(ring),
        glazing=document.glazing,
        section=section,
    )
    check_plain(made)
    return made
