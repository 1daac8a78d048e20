"""What openings take of a host besides going square through it: reveals and pockets, cut by booleans."""

from __future__ import annotations

from collections.abc import Sequence

import manifold3d
import numpy as np
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from ashfell.core.base.address import Address
from ashfell.core.parts import ALONG_U, Part
from ashfell.core.plane.points import Floats, polygons
from ashfell.core.site.hosts.host import Layer
from ashfell.core.site.opening import Opening
from ashfell.core.solid.boolean import of_manifold
from ashfell.core.solid.plate import loft, plate
from ashfell.core.solid.topology import Solid

TAKEN = 1e-6
"""Less than this taken of a solid leaves it as it is, mm³."""


def shapes(openings: Sequence[Opening]) -> list[manifold3d.Manifold]:
    """What openings take of a host laid out flat, besides going square through it."""
    reveals = [loft(one.reveal).manifold() for one in openings if one.reveal is not None]
    return [*reveals, *(pocket.manifold() for one in openings for pocket in one.pockets)]


def less(solid: Solid, cuts: Sequence[manifold3d.Manifold]) -> list[Solid]:
    """A solid less some others; itself where none of them reaches it."""
    near = [cut for cut in cuts if _boxes_meet(solid.bounds, cut.bounding_box())]
    if not near:
        return [solid]
    whole = solid.manifold()
    left = whole - manifold3d.Manifold.batch_boolean(near, manifold3d.OpType.Add)
    return [solid] if abs(left.volume() - whole.volume()) < TAKEN else of_manifold(left)


def parts_beside(
    entry: Address, near: BaseGeometry, section: Sequence[Layer], openings: Sequence[Opening]
) -> list[Part]:
    """What the layers of a host are of a region of its face, laid out flat, less some openings."""
    whole = near.difference(unary_union([one.polygon for one in openings if one.reveal is None]))
    shaped = shapes(openings)
    return [
        Part(name, entry, "wall", finish, ALONG_U, solid)
        for name, finish, low, high in section
        for piece in polygons(whole)
        for solid in less(plate(piece, low, high), shaped)
    ]


def _boxes_meet(box: Floats, other: Sequence[float]) -> bool:
    return bool((box[0] < np.array(other[3:])).all() and (np.array(other[:3]) < box[1]).all())
