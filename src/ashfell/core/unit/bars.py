"""The solid of a mullion or transom: a face before the stops, a stem behind them that goes on into the rebates."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

import numpy as np

from ashfell.core.solid import Floats, Section, Solid, Topology, polygon_triangles

STEM = (0, 1, 2, 3)
FLANGE = (0, 3, 4, 5, 6, 7, 8, 9)


def bar_section(face: float, rebate: float, front: float, stop: float, back: float, chamfer: float) -> Section:
    """Ten points of a T: stem 0 to 3, then the face round from the right; across 0 is the bar's centre line, mm.

    ``front``, ``stop`` and ``back`` are distances behind the unit's outer face.
    """
    half, stem = face / 2, face / 2 - rebate
    return (
        (-stem, -stop), (-stem, -back), (stem, -back), (stem, -stop), (half, -stop), (half, -front - chamfer),
        (half - chamfer, -front), (-half + chamfer, -front), (-half, -front - chamfer), (-half, -stop),
    )  # fmt: skip


def bars(sections: Floats, stations: Floats, along_v: Sequence[bool], across: Floats, chamfered: bool) -> list[Solid]:
    """Bars of one topology.

    Parameters
    ----------
    sections : (n, 10, 2)
        From :func:`bar_section`.
    stations : (n, 4)
        Along the bar: tongue begins, face begins, face ends, tongue ends, mm.
    along_v : n of bool
        Mullions run along v, transoms along u.
    across : (n,)
        Where the centre line is on the other axis, mm.
    chamfered : bool
        Whether the chamfer is above zero; without it the points of each arris are one.
    """
    vertices = np.empty((len(sections), 4, 10, 3))
    vertices[..., 0] = stations[:, :, None]
    vertices[..., 1] = across[:, None, None] + sections[:, None, :, 0]
    vertices[..., 2] = sections[:, None, :, 1]
    upright = np.asarray(along_v)
    vertices[upright] = np.stack(
        [
            2 * across[upright][:, None, None] - vertices[upright][..., 1],
            vertices[upright][..., 0],
            vertices[upright][..., 2],
        ],
        axis=-1,
    )
    topology, used = _topology(chamfered)
    flat = vertices.reshape(len(sections), 40, 3)[:, list(used)]
    return [Solid(bar, topology) for bar in flat]


@lru_cache(maxsize=2)
def _topology(chamfered: bool) -> tuple[Topology, tuple[int, ...]]:
    """Faces of the stepped bar, and which of its 4 x 10 points they use."""
    flange = FLANGE if chamfered else tuple(index for index in FLANGE if index not in (5, 8))
    whole = (0, 1, 2, 3, *flange[2:])
    groups = [*_sides(STEM, 0), *_sides(whole, 1), *_sides(STEM, 2)]
    groups += [_cap(STEM, 0, -1), _cap(flange, 1, -1), _cap(flange, 2, 1), _cap(STEM, 3, 1)]
    used = tuple(sorted({index for face, _ in groups for index in face}))
    new = {old: index for index, old in enumerate(used)}
    faces = [tuple(new[index] for index in face) for face, _ in groups]
    triangles = [[tuple(new[index] for index in triangle) for triangle in group] for _, group in groups]
    return Topology.of(faces, triangles), used


_Group = tuple[tuple[int, ...], list[tuple[int, ...]]]
"""A face and its triangles, as indices into 4 stations x 10 points."""


def _sides(ring: Sequence[int], station: int) -> list[_Group]:
    low, high = 10 * station, 10 * station + 10
    quads = [(low + a, low + b, high + b, high + a) for a, b in zip(ring, (*ring[1:], ring[0]), strict=True)]
    return [(quad, [quad[:3], (quad[0], *quad[2:])]) for quad in quads]


def _cap(ring: Sequence[int], station: int, looks: int) -> _Group:
    """The face that closes a ring at a station; ``looks`` is 1 for along the bar, -1 for back."""
    model = np.array(bar_section(10, 3, 0, 4, 10, 1))[list(ring)]
    names = [10 * station + index for index in ring]
    triangles = [
        tuple(names[index] for index in triangle[::looks]) for triangle in polygon_triangles(model, [len(ring)])
    ]
    return tuple(names[::looks]), triangles
