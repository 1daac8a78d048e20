"""Cameras in a site document."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ashfell.core.base.document import Document, Gap, Key, Name, Place, mm

FRAME = 36.0
"""The width of the frame that a lens is told for, mm (the 24 by 36 mm of ISO 1007)."""


class Camera(Document):
    """A camera at ``x, y``, its eye ``z`` above the level of its ``storey`` (above 0 without one), that looks at
    ``to_x, to_y``, ``to_z`` above the same.

    The ``lens`` is told in mm for a frame 36 mm wide. With ``upright`` what is upright stays so: the picture is shifted
    and the camera not tilted. ``roll`` turns it clockwise, degrees; what is nearer than ``clip`` is left out, so that
    one looks into a room.
    """

    id: Key
    name: Name = "Camera"
    x: Place = mm("0")
    y: Place = mm("-8 m")
    z: Place = mm("1650")
    to_x: Place = mm("0")
    to_y: Place = mm("0")
    to_z: Place = mm("1650")
    storey: Key | None = None
    lens: Annotated[float, Field(ge=8, le=400)] = 38.0
    upright: bool = True
    roll: Annotated[float, Field(ge=-180, le=180)] = 0.0
    clip: Gap = mm("0")
