"""Surfaces: a part's triangles with their normals and texture coordinates, ready to be shown."""

from __future__ import annotations

import zlib
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats


@dataclass(frozen=True)
class Surface:
    """Triangles of a part ready to be shown: each corner has its own normal and texture coordinates.

    ``positions`` (3m, 3) mm, ``normals`` (3m, 3), ``texture`` (3m, 2) metres with its first axis along the grain.
    """

    positions: Floats
    normals: Floats
    texture: Floats


def surface(part: Part) -> Surface:
    """The surface of a part. Texture runs along the grain, following a bent member, and starts at a place of its own for
    each part of a unit, so that no two members show the same piece of timber; a wall's texture starts at its corner."""
    solid = part.solid
    positions = solid.vertices[solid.triangles.reshape(-1)]
    if solid.flow is not None:
        texture = solid.flow / 1000
    else:
        along, across = _axes(solid.normals, np.array(part.grain))
        metres = positions.reshape(-1, 3, 3) / 1000
        texture = np.stack([np.einsum("mki,mi->mk", metres, axis) for axis in (along, across)], axis=-1).reshape(-1, 2)
    shown = Surface(positions, solid.corner_normals, texture + _start(part))
    seen = np.linalg.norm(solid.normals, axis=1) > 0.5
    return shown if seen.all() else _only(shown, np.repeat(seen, 3))


def _only(shown: Surface, corners: NDArray[np.bool_]) -> Surface:
    """The surface without triangles that have no area: they close the solid, and nobody sees them."""
    return Surface(shown.positions[corners], shown.normals[corners], shown.texture[corners])


def _axes(normals: Floats, grain: Floats) -> tuple[Floats, Floats]:
    """For each face the texture's two directions: along the grain, and square to it."""
    along = grain - normals * (normals @ grain)[:, None]
    length = np.linalg.norm(along, axis=1)
    end_grain = length < 0.05
    if end_grain.any():
        helper = np.array([0.0, 0.0, 1.0]) if abs(grain[2]) < 0.9 else np.array([1.0, 0.0, 0.0])
        across = helper - normals[end_grain] * (normals[end_grain] @ helper)[:, None]
        along[end_grain], length[end_grain] = across, np.linalg.norm(across, axis=1)
    along = along / length[:, None]
    return along, np.cross(normals, along)


def _start(part: Part) -> Floats:
    if part.role in ("wall", "plate"):
        return np.zeros(2)
    spread = zlib.crc32(part.id.encode())
    return np.array([(spread & 0xFFFF) / 0xFFFF, (spread >> 16) / 0xFFFF]) * 2.0
