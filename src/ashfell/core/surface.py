"""Surfaces: a part's triangles with their normals and texture coordinates, ready to be shown."""

from __future__ import annotations

import zlib
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats
from ashfell.core.solid.topology import Solid, alike

Integers = NDArray[np.int64]
AT_ONCE = 50_000
"""About how many triangles are worked on together: more only take more memory."""


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
    return surfaces([part])[0]


def surfaces(parts: Sequence[Part]) -> list[Surface]:
    """That of each of many parts, some thousands of triangles at once."""
    found, batch, count = list[Surface](), list[Part](), 0
    for part in parts:
        batch.append(part)
        count += len(part.solid.triangles)
        if count > AT_ONCE:
            found += _together(batch)
            batch, count = [], 0
    return [*found, *_together(batch)]


def _together(parts: Sequence[Part]) -> list[Surface]:
    if not parts:
        return []
    solids = [part.solid for part in parts]
    counts = np.array([len(solid.triangles) for solid in solids])
    ends = np.cumsum(counts)
    positions = np.concatenate([solid.vertices[solid.triangles.reshape(-1)] for solid in solids])
    normals = _normals(positions.reshape(-1, 3, 3))
    grains = np.repeat(np.array([part.grain for part in parts]), counts, axis=0)
    starts = np.repeat(np.array([_start(part) for part in parts]), 3 * counts, axis=0)
    texture = _texture(normals, grains, positions) + starts
    seen, looks = (normals**2).sum(axis=1) > 0.25, np.repeat(normals, 3, axis=0)
    found = []
    for part, solid, end, count in zip(parts, solids, ends.tolist(), counts.tolist(), strict=True):
        own, shown = slice(3 * (end - count), 3 * end), seen[end - count : end]
        corners = np.repeat(shown, 3) if not shown.all() else slice(None)
        bent = solid.flow is not None or solid.shading is not None
        normal = solid.corner_normals if bent else looks[own]
        places = texture[own] if solid.flow is None else solid.flow.values / 1000 + _start(part)
        left = positions[own][corners]
        triangles = np.arange(len(left)).reshape(-1, 3)
        found.append(Surface(left, normal[corners], places[corners], triangles))
    return found


def indexed(parts: Sequence[Part]) -> list[Surface]:
    """As :func:`surfaces`, corners that are the same being one: those at one vertex that look the same way. A bent
    member keeps its own."""
    return [_indexed(part.solid, shown) for part, shown in zip(parts, surfaces(parts), strict=True)]


def _indexed(solid: Solid, shown: Surface) -> Surface:
    if solid.flow is not None or solid.shading is not None or len(shown.positions) != 3 * len(solid.triangles):
        return shown
    size, looks = len(solid.vertices), alike(shown.normals[::3].round(6))[1].astype(np.int64)
    key = np.repeat(looks, 3) * size + solid.triangles.reshape(-1)
    _, first, number = np.unique(key, return_index=True, return_inverse=True)
    triangles = number.reshape(-1, 3)
    return Surface(shown.positions[first], shown.normals[first], shown.texture[first], triangles)


def _normals(corners: Floats) -> Floats:
    """The unit normals of triangles (m, 3, 3); nothing of one without area."""
    (ux, uy, uz), (vx, vy, vz) = (corners[:, 1] - corners[:, 0]).T, (corners[:, 2] - corners[:, 0]).T
    normals = np.stack([uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx], axis=1)
    length = np.sqrt((normals**2).sum(axis=1, keepdims=True))
    return np.asarray(normals / np.where(length > 0, length, 1))


def _texture(normals: Floats, grains: Floats, positions: Floats) -> Floats:
    """For the corners (3m, 3) of triangles where they lie along the grain of each and across it, m."""
    along, across = _axes(normals, grains)
    laid = positions.reshape(-1, 3, 3) / 1000 @ np.stack([along, across], axis=-1)
    return np.asarray(laid.reshape(-1, 2))


def _axes(normals: Floats, grains: Floats) -> tuple[Floats, Floats]:
    """For each face the texture's two directions: along its grain, and square to it."""
    along = _level_with(normals, grains)
    length = np.sqrt((along**2).sum(axis=1))
    end_grain = length < 0.05
    if end_grain.any():
        upright = np.abs(grains[end_grain, 2:]) >= 0.9
        helper = np.where(upright, np.array([1.0, 0.0, 0.0]), np.array([0.0, 0.0, 1.0]))
        across = _level_with(normals[end_grain], helper)
        along[end_grain], length[end_grain] = across, np.sqrt((across**2).sum(axis=1))
    along /= length[:, None]
    (nx, ny, nz), (ax, ay, az) = normals.T, along.T
    return along, np.stack([ny * az - nz * ay, nz * ax - nx * az, nx * ay - ny * ax], axis=1)


def _level_with(normals: Floats, ways: Floats) -> Floats:
    """What of ways (m, 3) lies in faces of those normals."""
    return np.asarray(ways - normals * (normals * ways).sum(axis=1, keepdims=True))


def _start(part: Part) -> Floats:
    if part.role in ("wall", "plate"):
        return np.array(part.shift) / 1000
    spread = zlib.crc32(part.id.encode())
    return np.array([(spread & 0xFFFF) / 0xFFFF, (spread >> 16) / 0xFFFF]) * 2.0
