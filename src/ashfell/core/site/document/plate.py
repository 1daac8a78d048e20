"""Level plates in a site document: floors, ceilings, flat roofs, the ground."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ashfell.core.base.document import Document, Key, Name, Place, Size, mm


class Corner(Document):
    """A corner in the site."""

    x: Place = mm("0")
    y: Place = mm("0")


class Plate(Document):
    """A level plate. ``level`` is its upper face, above the level of its ``storey`` (above 0 without one).

    It is a rectangle from ``x, y``, ``width`` by ``depth``; or goes round ``corners``; or, with ``walls``, what these
    enclose: ``reach`` says to which of their faces; or the ``bay`` of a wall that bends out, between its first and its
    last corner.
    """

    id: Key
    name: Name = "Floor"
    x: Place = mm("0")
    y: Place = mm("0")
    width: Size = mm("4000")
    depth: Size = mm("4000")
    corners: Annotated[tuple[Corner, ...], Field(max_length=200)] = ()
    walls: tuple[Key, ...] = ()
    bay: Key | None = None
    reach: Literal["inside", "outside"] = "inside"
    storey: Key | None = None
    level: Place = mm("0")
    thickness: Size = mm("200")
    finish: Key = "floor-stone"
