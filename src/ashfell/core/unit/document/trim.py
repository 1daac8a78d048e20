"""Entries of trim: casings, sill, apron, head drip."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ashfell.core.base.document import Document, Gap, Place, Size, mm
from ashfell.core.solid.section import Edge, OwnSection


class Casing(Document):
    """A surround on a face of the wall: ``width`` across, ``projection`` off the wall, its inner edge lapping the frame
    by ``lap`` (negative leaves a step), on all sides or without the sill; ``fitting`` leaves out the sill where a sill
    board stands there. ``forward`` is how far the wall's face stands before the frame's (behind it, inside); null: 0,
    and in a wall what that is there. ``section`` is an own one: x outwards from the inner edge, y off the wall."""

    width: Size = mm("70")
    projection: Size = mm("18")
    lap: Place = mm("10")
    sides: Literal["fitting", "all", "no sill"] = "fitting"
    forward: Place | None = None
    edge: Edge = Edge(kind="chamfer", size=mm("4"))
    section: OwnSection | None = None


class Drip(Document):
    """A groove under the front of a sill."""

    width: Size = mm("8")
    depth: Size = mm("6")
    back: Size = mm("15")


class Sill(Document):
    """A board under the unit: it stands ``projection`` out of the frame's face, slopes by ``fall`` over that (or by
    ``slope`` in degrees), is ``thickness`` thick at its back, goes ``under`` the frame, and has ``horns`` past the
    sides, a worked nosing and a drip. A ``section`` of your own takes the place of all that but the horns: x outwards
    from the frame's face, y upwards from its foot, at 0 and below."""

    projection: Size = mm("60")
    thickness: Size = mm("45")
    fall: Gap = mm("8")
    slope: Annotated[float, Field(ge=0, le=60)] | None = None
    under: Gap = mm("80")
    horns: Gap = mm("50")
    nosing: Edge = Edge(kind="round", size=mm("6"))
    drip: Drip | None = Drip()
    section: OwnSection | None = None


class Board(Document):
    """A board: an apron under the unit inside, or a drip over the head outside. A ``section`` of your own takes the
    place of height, projection and edge: x off the wall, y upwards."""

    height: Size = mm("90")
    projection: Size = mm("20")
    over: Gap = mm("40")
    edge: Edge = Edge(kind="chamfer", size=mm("3"))
    section: OwnSection | None = None


class InnerBoard(Document):
    """A board inside at the foot of the unit: ``thickness`` thick from the frame's foot up, from the back of the frame
    to ``projection`` beyond the wall's inner face, where it has ``horns`` past the sides; its front edges are worked.
    ``forward`` is how far that face stands behind the frame; null: 0, and in a wall what that is there."""

    thickness: Size = mm("25")
    projection: Size = mm("30")
    horns: Gap = mm("40")
    forward: Place | None = None
    edge: Edge = Edge(kind="round", size=mm("6"))


class Feet(Document):
    """What a free-standing unit stands on: ``count`` plates under it, ``width`` along it and ``length`` across, in the
    middle of its depth, ``height`` high, the outer ones ``inset`` from its ends."""

    count: Annotated[int, Field(ge=1, le=20)] = 2
    width: Size = mm("60")
    length: Size = mm("400")
    height: Size = mm("12")
    inset: Gap = mm("100")


class TopRail(Document):
    """A rail on the head of a free-standing unit: ``height`` high, ``width`` across, in the middle of its depth,
    reaching ``over`` its ends."""

    height: Size = mm("40")
    width: Size = mm("60")
    over: Gap = mm("0")


class Trim(Document):
    """What goes round a unit."""

    outside: Casing | None = None
    inside: Casing | None = None
    sill: Sill | None = None
    board: InnerBoard | None = None
    apron: Board | None = None
    head_drip: Board | None = None
    feet: Feet | None = None
    rail: TopRail | None = None
