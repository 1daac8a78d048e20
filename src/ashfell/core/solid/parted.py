"""A solid's surface parted by a plane: what of it lies before the plane, and what behind."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ashfell.core.plane.points import Floats
from ashfell.core.solid.topology import OfCorners, Solid, Topology, alike

Integers = NDArray[np.int64]
ON = 1e-6
"""What is nearer to the plane than this lies in it, mm."""


def parted(solid: Solid, normal: Floats, offset: float) -> tuple[Solid, Solid]:
    """The surface where ``normal`` (3,) · point is more than ``offset`` mm, and the rest of it. Neither is closed by
    itself, together they are; a face in the plane is of the side that it looks to. Faces, grain and shading stay.
    """
    apart = solid.vertices @ normal - offset
    apart[np.abs(apart) < ON] = 0.0
    signs = np.sign(apart[solid.triangles]).astype(np.int64)
    total = signs.sum(axis=1)
    level = (signs == 0).all(axis=1)
    before = np.where(level, solid.normals @ normal > 0, total > 0)
    across = np.nonzero((signs.min(axis=1) < 0) & (signs.max(axis=1) > 0))[0]
    whole = np.setdiff1d(np.arange(len(signs)), across)
    if len(across):
        bent = solid
        solid = replace(solid, shading=OfCorners(lambda: bent.corner_normals) if solid.flow else solid.shading)
    pieces = _pieces(solid.triangles, apart, signs, across)
    made = np.einsum(
        "kij,kjd->kid", pieces.shares, solid.vertices[solid.triangles[pieces.owner[:, None], pieces.order]]
    )
    first, number = alike(np.round(made.reshape(-1, 3), 7))
    vertices = np.concatenate([solid.vertices, made.reshape(-1, 3)[first]])
    triangles = number.reshape(-1, 3).astype(np.int64) + len(solid.vertices)
    front, back = (
        _surface(solid, vertices, triangles, pieces, whole[before[whole] == ahead], pieces.ahead == ahead)
        for ahead in (True, False)
    )
    return front, back


@dataclass(frozen=True, eq=False)
class _Pieces:
    """What cut triangles become, k of them: the triangle that each is of, the ``order`` (k, 3) in which its corners are
    taken, the ``shares`` (k, 3, 3) of these in the new corners, and whether it lies ahead of the plane."""

    owner: Integers
    order: Integers
    shares: Floats
    ahead: NDArray[np.bool_]


def _pieces(triangles: NDArray[np.int32], apart: Floats, signs: Integers, across: Integers) -> _Pieces:
    """The cut triangles in pieces: three of one with a corner alone on its side, two of one with a corner in the
    plane."""
    own = signs[across]
    touching = (own == 0).any(axis=1)
    alone = own == -np.sign(own.sum(axis=1, keepdims=True))
    first = np.where(touching, (own == 0).argmax(axis=1), alone.argmax(axis=1))
    order = (first[:, None] + np.arange(3)) % 3
    side = np.take_along_axis(own, order, axis=1)
    far = np.abs(np.take_along_axis(apart[triangles[across]], order, axis=1))
    a, b, c = np.broadcast_to(np.eye(3), (len(across), 3, 3)).transpose(1, 0, 2)
    found: list[tuple[NDArray[np.bool_], tuple[Floats, Floats, Floats], Integers]] = []
    on_ab, on_ac, on_bc = (_between(far, j, k) for j, k in ((0, 1), (0, 2), (1, 2)))
    found.append((~touching, (a, on_ab, on_ac), side[:, 0]))
    found.append((~touching, (on_ab, b, c), side[:, 1]))
    found.append((~touching, (on_ab, c, on_ac), side[:, 1]))
    found.append((touching, (a, b, on_bc), side[:, 1]))
    found.append((touching, (a, on_bc, c), side[:, 2]))
    return _Pieces(
        np.concatenate([across[which] for which, _, _ in found]),
        np.concatenate([order[which] for which, _, _ in found]),
        np.concatenate([np.stack(corners, axis=1)[which] for which, corners, _ in found]),
        np.concatenate([ahead[which] > 0 for which, _, ahead in found]),
    )


def _between(far: Floats, j: int, k: int) -> Floats:
    """The shares (n, 3) of corners in the point where the edge from ``j`` to ``k`` meets the plane."""
    shares = np.zeros((len(far), 3))
    both = far[:, j] + far[:, k]
    shares[:, j], shares[:, k] = far[:, k] / np.where(both, both, 1), far[:, j] / np.where(both, both, 1)
    return shares


def _surface(
    solid: Solid, vertices: Floats, triangles: Integers, pieces: _Pieces, whole: Integers, ours: NDArray[np.bool_]
) -> Solid:
    """The surface of some whole triangles and some pieces."""
    face = solid.topology.face_of_triangle
    used, corners = np.unique(np.concatenate([solid.triangles[whole], triangles[ours]]), return_inverse=True)
    faces = np.concatenate([face[whole], face[pieces.owner[ours]]])
    topology = Topology(corners.reshape(-1, 3).astype(np.int32), faces)

    flow, shading = (
        told and told.changed(lambda values: _told(values.reshape(len(face), 3, -1), pieces, whole, ours))
        for told in (solid.flow, solid.shading)
    )
    if shading is not None:
        shading = shading.changed(lambda values: values / np.linalg.norm(values, axis=1, keepdims=True))
    return Solid(vertices[used], topology, flow, shading)


def _told(of_corners: Floats, pieces: _Pieces, whole: Integers, ours: NDArray[np.bool_]) -> Floats:
    """What is told of the corners of triangles (m, 3, d), for whole ones and pieces, (3n, d)."""
    own = of_corners[pieces.owner[ours][:, None], pieces.order[ours]]
    mixed = np.einsum("kij,kjd->kid", pieces.shares[ours], own)
    return np.concatenate([of_corners[whole], mixed]).reshape(-1, of_corners.shape[2])
