"""A model: what somebody modelled elsewhere, as large as its height says."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from shapely.geometry import MultiPoint, Polygon

from ashfell.core.kinds.surrounding import SURROUNDINGS, Pieces, Sizes, SurroundingKind
from ashfell.core.plane.points import Floats
from ashfell.core.solid.meshes import mesh


def _scale(one: Sizes) -> float:
    """How many times as large as it was brought."""
    return float(one.height.mm) / float(mesh(one.mesh).size[2])


def _made(one: Sizes) -> Pieces:
    grown = np.diag([*[_scale(one)] * 3, 1.0])
    return [
        (piece.name, piece.finish if one.as_brought else one.finish, piece.solid.moved(grown))
        for piece in mesh(one.mesh).pieces
    ]


def _outline(one: Sizes) -> Floats:
    """What goes round it from above."""
    return _around(one.mesh) * _scale(one)


@lru_cache(maxsize=64)
def _around(key: str) -> Floats:
    """What goes round a mesh from above, as large as it was brought."""
    points = np.concatenate([piece.solid.vertices[:, :2] for piece in mesh(key).pieces])
    around = MultiPoint(points).convex_hull
    if isinstance(around, Polygon):
        return np.array(around.exterior.coords)[:-1]
    return np.array(around.envelope.buffer(1.0).exterior.coords)[:-1]


MODEL = SURROUNDINGS.register(
    SurroundingKind("model", "model", 40, ("mesh",), _made, _outline, {"height": "3 m", "finish": "white-plaster"})
)
