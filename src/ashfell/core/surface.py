"""Surfaces: a part's triangles with their normals and texture coordinates, ready to be shown."""

from __future__ import annotations

import zlib
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats
from ashfell.core.solid.topology import alike

Integers = NDArray[np.int64]


@dataclass(frozen=True)
class Surface:
    """Triangles of a part ready to be shown: each corner has its own normal and texture coordinates.

    ``positions`` (n, 3) mm, ``normals`` (n, 3), ``texture`` (n, 2) metres with its first axis along the grain;
    ``triangles`` (m, 3) of them.
    """

    positions: Floats
    normals: Floats
    texture: Floats
    triangles: Integers


def surface(part: Part) -> Surface:
    """The surface of a part. Texture runs along the grain, following a bent member, and starts at a place of its own
    for each part of a unit, so that no two members show the same piece of timber; a wall's texture starts at its
    corner. Triangles without area close the solid, nobody sees them, and they are left out. Every corner stands
    alone."""
    solid = part.solid
    positions = solid.vertices[solid.triangles.reshape(-1)]
    texture = _texture(part, positions)
    normals = solid.corner_normals
    seen = (solid.normals**2).sum(axis=1) > 0.25
    if not seen.all():
        corners = np.repeat(seen, 3)
        positions, normals, texture = positions[corners], normals[corners], texture[corners]
    return Surface(positions, normals, texture, np.arange(len(positions)).reshape(-1, 3))


def indexed(part: Part) -> Surface:
    """As :func:`surface`, corners that are the same being one: those at one vertex that look the same way. A bent
    member keeps its own."""
    shown, solid = surface(part), part.solid
    if solid.flow is not None or solid.shading is not None or len(shown.positions) != 3 * len(solid.triangles):
        return shown
    size, looks = len(solid.vertices), alike(solid.normals.round(6))[1].astype(np.int64)
    key = np.repeat(looks, 3) * size + solid.triangles.reshape(-1)
    _, first, number = np.unique(key, return_index=True, return_inverse=True)
    triangles = number.reshape(-1, 3)
    return Surface(shown.positions[first], shown.normals[first], shown.texture[first], triangles)


def _texture(part: Part, positions: Floats) -> Floats:
    solid = part.solid
    if solid.flow is not None:
        return solid.flow / 1000 + _start(part)
    along, across = _axes(solid.normals, np.array(part.grain))
    metres = positions.reshape(-1, 3, 3) / 1000
    laid = metres @ np.stack([along, across], axis=-1)
    return np.asarray(laid.reshape(-1, 2) + _start(part))


def _axes(normals: Floats, grain: Floats) -> tuple[Floats, Floats]:
    """For each face the texture's two directions: along the grain, and square to it."""
    along = grain - normals * (normals @ grain)[:, None]
    length = np.sqrt((along**2).sum(axis=1))
    end_grain = length < 0.05
    if end_grain.any():
        helper = np.array([0.0, 0.0, 1.0]) if abs(grain[2]) < 0.9 else np.array([1.0, 0.0, 0.0])
        across = helper - normals[end_grain] * (normals[end_grain] @ helper)[:, None]
        along[end_grain], length[end_grain] = across, np.linalg.norm(across, axis=1)
    along = along / length[:, None]
    (nx, ny, nz), (ax, ay, az) = normals.T, along.T
    return along, np.stack([ny * az - nz * ay, nz * ax - nx * az, nx * ay - ny * ax], axis=1)


def _start(part: Part) -> Floats:
    if part.role in ("wall", "plate"):
        return np.array(part.shift) / 1000
    spread = zlib.crc32(part.id.encode())
    return np.array([(spread & 0xFFFF) / 0xFFFF, (spread >> 16) / 0xFFFF]) * 2.0
