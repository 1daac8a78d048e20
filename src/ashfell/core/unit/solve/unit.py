"""From a unit document to its exact layout, or the reason why it cannot be built."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.outline import outline_of
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import Floats
from ashfell.core.unit.beside import Beside
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.layout import Layout, Rect, Ring
from ashfell.core.unit.members.between import between_members, check_pockets
from ashfell.core.unit.members.faces import check_left_out, side_faces
from ashfell.core.unit.members.inner_board import inner_board
from ashfell.core.unit.members.limits import check_plain
from ashfell.core.unit.members.own_section import own_section, worked
from ashfell.core.unit.members.ring import ring_members
from ashfell.core.unit.members.tones import line_between, toned
from ashfell.core.unit.members.trim import trim_members
from ashfell.core.unit.singled import grained, painted
from ashfell.core.unit.solve.body import Solving
from ashfell.core.unit.solve.cell import divided
from ashfell.core.unit.solve.extent import bounds_of, extent_of, measured
from ashfell.core.unit.solve.rings import check_inner, clear_of, holder_of, rings_of


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
    frame = _frame(document, outline.facets())
    rings = rings_of(document, frame)
    holder = holder_of(document, rings)
    others = tuple(ring for ring in rings if ring is not holder)
    for ring in others:
        check_plain(ring)
    solving = Solving(document.finishes, document.inner)
    rect = outer if holder is frame else innermost_rect(holder)
    extent = extent_of(frame, outer) if holder is frame else measured(holder.clear, outer)
    try:
        body = solving.body(document, holder, rect, extent, ("", ""))
    except Refusal as refusal:
        raise _over_all(refusal, outer, rect) from None
    check_inner(document, rings[rings.index(holder) + 1 :], body)
    between = [*between_members(document, rings, holder)]
    members = [
        *between,
        *(member for ring in others for member in ring_members(ring, document.finishes)),
        *body.members,
    ]
    layout = Layout(outer, outline, others, body, tuple(members), solving.budget.spent)
    beside = Beside(layout)
    for light in body.lights:
        light.filling.clears(document, beside, light)
    check_pockets(between, body.lights)
    whole = (*members, *inner_board(document, layout), *trim_members(document, layout))
    if document.inner:
        line = line_between(holder, body.lights)
        whole = tuple(toned(whole, document.finishes, document.inner, line))
    if document.grain:
        whole = grained(whole, document.grain)
    return replace(layout, members=painted(whole, document.painted) if document.painted else whole)


def _frame(document: UnitDocument, loop: Loop) -> Ring:
    """The ring round the outline."""
    own, sides = document.frame, {k: v.mm for k, v in document.frame.sides.items()}
    faces = side_faces(loop, own.face.mm, sides, "frame.sides")
    check_left_out(loop, own.face.mm, sides, "frame.sides")
    return Ring(
        "",
        "frame",
        "frame",
        loop,
        faces,
        _frame_clear(document, loop, faces),
        Fraction(0),
        own.depth.mm,
        worked(own),
        own.joint,
        document.glazing,
        section=own_section(own.section, "frame.section"),
        own_sides={side: f"sides.{side}" for side in sides},
    )


def _over_all(refusal: Refusal, outer: Rect, rect: Rect) -> Refusal:
    """The refusal of what has no room inside rings: the nearest size of the unit is that over all of them."""
    more = {"width": outer.width - rect.width, "height": outer.height - rect.height}.get(refusal.entry)
    if more is None or refusal.nearest is None:
        return refusal
    nearest = refusal.nearest + more
    remedy = refusal.remedy.replace(exact_mm(refusal.nearest), exact_mm(nearest))
    return replace(refusal, nearest=nearest, remedy=remedy)


def _widest_entry(document: UnitDocument, loop: Loop, faces: Floats) -> str:
    """The entry of the frame's widest face."""
    widest = {tag for tag, face in zip(loop.tags, faces.tolist(), strict=True) if face == faces.max()}
    sides = document.frame.sides
    own = sorted(widest & sides.keys()) or (["jambs"] if widest & {"left", "right"} and "jambs" in sides else [])
    return f"frame.sides.{own[0]}" if own else "frame.face"


def _frame_clear(document: UnitDocument, loop: Loop, faces: Floats) -> Loop:
    """The inner edge of the frame; where there is none, the lights have no room, and that is what is said."""
    try:
        return clear_of(loop, faces, _widest_entry(document, loop, faces))
    except Refusal:
        ring = Ring("", "frame", "frame", loop, faces, loop, Fraction(0), document.frame.depth.mm, document.frame.edge)
        face = document.frame.face.mm
        for axis, size in (("columns", document.width.mm), ("rows", document.height.mm)):
            divided(ring, document, axis, (face, size - face), (Fraction(0), size), "")  # type: ignore[arg-type]
        raise


def innermost_rect(ring: Ring) -> Rect:
    """The overall size of a ring that is not the frame."""
    left, foot, right, head = bounds_of(ring.loop)
    return Rect(left, foot, right - left, head - foot)
