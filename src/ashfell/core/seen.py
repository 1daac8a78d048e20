"""Drawings as values: what is seen of parts from one side, and the dimensions beside it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats

LIT_FROM = np.array([-0.35, 0.55, 0.76])
"""Where drawings are lit from: the upper left, in front."""


@dataclass(frozen=True)
class Shape:
    """One face as drawn: ``loops`` of points (k, 2) mm, the outer one and its holes; ``tone`` 0 (turned away from the
    light) to 1."""

    loops: tuple[Floats, ...]
    role: str
    part: str
    entry: str
    tone: float
    finish: str = ""
    light: str = ""


Facing = Literal["outside", "inside"]


def elevation(parts: Sequence[Part], facing: Facing = "outside") -> list[Shape]:
    """The faces that look towards somebody outside (or inside, where left and right change places), back to front."""
    found = [(depth, shape) for part in parts for depth, shape in _seen(part, 1.0 if facing == "outside" else -1.0)]
    return [shape for _, shape in sorted(found, key=lambda item: item[0])]


def _seen(part: Part, looks: float) -> Iterator[tuple[float, Shape]]:
    topology = part.solid.topology
    if not len(topology.triangles):
        return
    placed = part.solid.vertices * (looks, 1.0, looks)
    a, b, c = placed[topology.triangles[topology.first_triangles]].swapaxes(0, 1)
    (ux, uy, uz), (vx, vy, vz) = (b - a).T, (c - a).T
    normals = np.stack([uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx], axis=1)
    length = np.sqrt((normals**2).sum(axis=1))
    towards = np.flatnonzero(normals[:, 2] > 0.05 * length)
    tones = np.clip(normals[towards] @ LIT_FROM / length[towards], 0, 1).tolist()
    faces = topology.face_of_triangle[topology.first_triangles[towards]].tolist()
    for face, tone in zip(faces, tones, strict=True):
        points = [placed[loop] for loop in topology.loops(face)]
        if points:
            depth = max(float(loop[:, 2].max()) for loop in points)
            flat = tuple(loop[:, :2] for loop in points)
            yield depth, Shape(flat, part.role, part.id, part.entry, tone, part.finish, part.light)


CUT_TONE = 0.12
"""The tone of what is cut: darker than what is seen."""


CUTS: dict[str, Floats] = {
    "columns": np.array([[1.0, 0, 0, 0], [0, 0, -1.0, 0], [0, 1.0, 0, 0]]),
    "rows": np.array([[0, 0, -1.0, 0], [0, 1.0, 0, 0], [1.0, 0, 0, 0]]),
}
"""How a part is turned so that a cut is level: a section along the columns has u to the right and the inside above; one
along the rows has the outside on the left and v above."""


def section(parts: Sequence[Part], along: Literal["columns", "rows"], at: float) -> list[Shape]:
    """What a plane cuts: level at height ``at`` (along the columns), or upright at ``at`` from the left (along the
    rows), mm.
    """
    k = 1 if along == "columns" else 0
    found = []
    for part in parts:
        low, high = part.solid.bounds[:, k]
        if low < at < high:
            cut = part.solid.manifold().transform(CUTS[along]).slice(at)
            loops = tuple(np.asarray(loop, dtype=float) for loop in cut.to_polygons())
            if loops:
                found.append(Shape(loops, part.role, part.id, part.entry, CUT_TONE, part.finish, part.light))
    return found
