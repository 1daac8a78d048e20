"""Level plates: floors, ceilings, flat roofs."""

from __future__ import annotations

import numpy as np

from ashfell.core.base.address import Address
from ashfell.core.parts import ALONG_U, Part
from ashfell.core.site.document import Plate
from ashfell.core.solid.plate import extrusions


def plate_part(plate: Plate) -> Part:
    """A level plate, in the site's space."""
    x, y, top = float(plate.x.mm), float(plate.y.mm), float(plate.level.mm)
    width, depth, thickness = float(plate.width.mm), float(plate.depth.mm), float(plate.thickness.mm)
    outline = np.array([(x, y), (x + width, y), (x + width, y + depth), (x, y + depth)])
    solid = extrusions([outline], top - thickness, top)
    return Part(f"plate.{plate.id}", Address("plates") / plate.id, "plate", plate.finish, ALONG_U, solid)
