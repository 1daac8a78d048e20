"""Booleans: solids handed to manifold3d, and taken back from it."""

from __future__ import annotations

import manifold3d
import numpy as np

from ashfell.core.solid.topology import Solid, faced

LEAST = 1e-3
"""The least volume of a piece, mm³."""


def of_manifold(made: manifold3d.Manifold) -> list[Solid]:
    """What a boolean operation left, one solid for each piece, coplanar triangles being one face; what has no volume is
    no piece."""
    return [_of_mesh(piece.to_mesh64()) for piece in made.decompose() if piece.volume() > LEAST]


def _of_mesh(mesh: manifold3d.Mesh64) -> Solid:
    vertices = np.ascontiguousarray(mesh.vert_properties, dtype=float)[:, :3].copy()
    triangles = np.asarray(mesh.tri_verts, dtype=np.int32)
    return faced(vertices, triangles)
