"""What stands between rings that are apart: a pane or a board round the inner ring, in the middle of their depth."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from fractions import Fraction
from itertools import pairwise

from shapely.geometry import Polygon

from ashfell.core.base.address import Address
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.parts import ALONG_V, Member
from ashfell.core.plane.points import TOUCH, polygons
from ashfell.core.solid.form import Region
from ashfell.core.unit.document.members import ExtraRing
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.layout import Light, Ring

NECK, MITRE = 0.1, 20.0
"""What is narrower between two rings is nothing, mm; and by how much a sharp corner of it may reach out."""
LEAST_AREA = 1.0
"""Less than this between two rings is nothing, mm²."""


def between_members(document: UnitDocument, rings: Sequence[Ring], holder: Ring) -> Iterator[Member]:
    """The infill between the rings of a unit, from the outermost inwards.

    Raises
    ------
    Refusal
        When two rings leave nothing between them, share no depth for it, or one of them lies before the glass.
    """
    held = list(rings).index(holder)
    for index, (outer, inner) in enumerate(pairwise(rings)):
        entry = inner.entry if _entered(document, inner, "inside") else outer.entry
        ring = _entered(document, inner, "inside") or _entered(document, outer, "outside")
        if ring is None or ring.infill is None:
            continue
        path = f"{entry}.infill"
        if index >= held:
            raise Refusal(
                path,
                "an infill round the glass",
                "This ring lies before or behind the glass, which goes on behind it.",
                "Leave it out, or let the innermost ring hold the glass.",
            )
        front, back = max(outer.front, inner.front), min(outer.back, inner.back)
        thick = ring.infill.thickness.mm
        if thick > back - front:
            raise _too_thick(path, thick, back - front)
        low, high = (front + back - thick) / 2, (front + back + thick) / 2
        region = outer.clear.polygon.difference(inner.loop.polygon)
        pieces = [piece for whole in polygons(region) for piece in _parted(whole) if piece.area > LEAST_AREA]
        if not pieces:
            raise Refusal(
                path,
                "room between the rings",
                "The rings stand against each other: nothing is between them.",
                "Leave it out, or give the ring a step.",
            )
        role = "glass" if ring.infill.kind == "glass" else "panel"
        finish = ring.infill.finish or document.finishes.of(role)
        for number, piece in enumerate(pieces):
            name = f"{role}.between.{index + 1}" + (f".{number + 1}" if len(pieces) > 1 else "")
            yield Member(name, entry, role, finish, ALONG_V, Region(piece, -float(high), -float(low)))


def check_pockets(between: Sequence[Member], lights: Sequence[Light]) -> None:
    """Refuse an infill that a leaf slides through into the wall, on a side where the rings have no jamb.

    Raises
    ------
    Refusal
    """
    for light in (one for one in lights if one.content.pockets) if between else ():
        leaf, passed = light.sashes[0].body.ring, light.content.spread
        for member in between:
            form = member.form
            assert isinstance(form, Region)
            if (
                -form.high < leaf.back
                and -form.low > leaf.front
                and passed
                and form.region.intersection(passed).area > TOUCH
            ):
                raise Refusal(
                    f"{member.entry}.infill",
                    "an infill clear of leaves",
                    f"The leaf of light {light.key} slides through it into the wall.",
                    "Leave it out, or let the leaf run outside or inside.",
                )


def _parted(region: Polygon) -> list[Polygon]:
    """What is between two rings, open where one nearly touches the other: nothing could be made as narrow as that."""
    if all(hole.distance(region.exterior) >= NECK for hole in region.interiors):
        return [region]
    narrower = region.buffer(-NECK / 2, join_style="mitre", mitre_limit=MITRE)
    return polygons(narrower.buffer(NECK / 2, join_style="mitre", mitre_limit=MITRE))


def _entered(document: UnitDocument, ring: Ring, place: str) -> ExtraRing | None:
    """The entry of a ring of a place; None for the frame, and for one of the other place."""
    if ring.entry == "frame":
        return None
    own = document.frame.rings[int(Address(ring.entry).last)]
    return own if own.place == place else None


def _too_thick(path: str, thick: Fraction, room: Fraction) -> Refusal:
    return Refusal(
        f"{path}.thickness" if room > 0 else path,
        "an infill as thick as its rings are deep",
        f"{exact_mm(thick)} is more than the {exact_mm(max(room, Fraction(0)))} that both rings are deep together.",
        f"Make it at most {exact_mm(room)}." if room > 0 else "Leave it out.",
        room if room > 0 else None,
    )
