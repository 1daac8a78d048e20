"""Roof planes in a site document."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ashfell.core.base.document import Document, Gap, Key, Name, Place, Size, mm
from ashfell.core.site.document.wall import Angle


class Roof(Document):
    """A roof plane. Seen from outside its eaves line runs from ``x, y`` to the right, ``length`` long at an ``angle``,
    in the plane of its upper face ``level`` above that of its ``storey`` (above 0 without one). From there it rises by
    ``slope`` degrees over ``run``, measured level; it falls on by ``eaves`` outside the line and runs on by ``verge``
    beyond both of its ends. Where it meets a hip, its upper edge is shorter by ``hip_start`` and ``hip_end``. Its
    thickness is square to it, its edges are plumb.
    """

    id: Key
    name: Name = "Roof"
    x: Place = mm("0")
    y: Place = mm("0")
    angle: Angle = 0.0
    length: Size = mm("6000")
    run: Size = mm("3000")
    slope: Annotated[float, Field(ge=0, le=75)] = 30.0
    eaves: Gap = mm("0")
    verge: Gap = mm("0")
    hip_start: Gap = mm("0")
    hip_end: Gap = mm("0")
    storey: Key | None = None
    level: Place = mm("3000")
    thickness: Size = mm("200")
    lining: Gap = mm("15")
    outside: Key = "slate-paint"
    inside: Key = "white-paint"
