"""Drawings as values: what is seen of parts from one side, and the dimensions beside it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from math import cos
from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats
from ashfell.core.solid.rod import CREASE
from ashfell.core.solid.topology import Indices

LEVEL = 0.01
"""How much nearer a corner of a level face may be than another, mm."""
LIT_FROM = np.array([-0.35, 0.55, 0.76])
"""Where drawings are lit from: the upper left, in front."""


class Shape(NamedTuple):
    """One face as drawn: ``loops`` of points (k, 2) mm, the outer one and its holes; ``tone`` 0 (turned away from the
    light) to 1."""

    loops: tuple[Floats, ...]
    role: str
    part: str
    entry: str
    tone: float
    finish: str = ""
    light: str = ""
    lines: Floats | None = None
    """Those of its edges (k, 2, 2) that are seen as lines; where nothing is said, all of them are."""
    depth: float = 0.0
    """How near its nearest corner is, mm towards whoever looks."""
    level: bool = False
    """Whether all of it is as near."""


Facing = Literal["outside", "inside"]


def elevation(parts: Sequence[Part], facing: Facing = "outside") -> list[Shape]:
    """The faces that look towards somebody outside (or inside, where left and right change places), back to front."""
    solid = [part for part in parts if len(part.solid.triangles)]
    if not solid:
        return []
    looks = 1.0 if facing == "outside" else -1.0
    topologies = [part.solid.topology for part in solid]
    starts = np.cumsum([0, *(len(part.solid.vertices) for part in solid)])
    placed = np.concatenate([part.solid.vertices for part in solid]) * (looks, 1.0, looks)
    told = [topology.told_of_faces for topology in topologies]
    all_owners = np.repeat(np.arange(len(solid)), [len(of_faces) for of_faces in told])
    of_faces = np.concatenate(told)
    towards, tones = _towards(placed, of_faces[:, 1:] + starts[all_owners][:, None])
    owners, faces = all_owners[towards].tolist(), of_faces[towards, 0].tolist()
    paths = [topologies[owner].loops(face) for owner, face in zip(owners, faces, strict=True)]
    loops = [loop for own in paths for loop in own]
    if not loops:
        return []
    lengths = [len(loop) for loop in loops]
    of_loops = np.repeat(starts[owners], [len(own) for own in paths])
    points = placed[np.concatenate(loops) + np.repeat(of_loops, lengths)]
    begins = np.cumsum([0, *lengths])
    flat, heights = points[:, :2], points[:, 2]
    highest, lowest = (of.reduceat(heights, begins[:-1]).tolist() for of in (np.maximum, np.minimum))
    found, at, edges = list[tuple[float, Shape]](), 0, begins.tolist()
    for owner, own, tone in zip(owners, paths, tones, strict=True):
        if own:
            part, last = solid[owner], at + len(own)
            depth = max(highest[at:last])
            seen = tuple(flat[edges[k] : edges[k + 1]] for k in range(at, last))
            level = lowest[at] > depth - LEVEL
            shape = Shape(seen, part.role, part.id, part.entry, tone, part.finish, part.light, depth=depth, level=level)
            found.append((depth, shape))
            at = last
    return [shape for _, shape in sorted(found, key=lambda item: item[0])]


def smooth_elevation(parts: Sequence[Part]) -> list[Shape]:
    """As :func:`elevation` from outside, with lines only where something ends or faces meet in an edge: not where they
    look round."""
    found: list[tuple[float, Shape]] = []
    for part in parts:
        placed, topology = part.solid.vertices, part.solid.topology
        first = topology.first_triangles
        normals, faces = part.solid.normals[first], topology.face_of_triangle[first].tolist()
        towards, tones = _towards(placed, topology.triangles[first])
        tone, seen = dict(zip(towards.tolist(), tones, strict=True)), set(towards.tolist())
        edges = [[pair for loop in topology.loops(face) for pair in _pairs(loop)] for face in faces]
        owner = {pair: k for k, own in enumerate(edges) for pair in own}
        for k in towards.tolist():
            beside = ((pair, owner.get(pair[::-1], -1)) for pair in edges[k])
            sharp = [pair for pair, other in beside if other not in seen or normals[k] @ normals[other] < cos(CREASE)]
            loops = [placed[loop] for loop in topology.loops(faces[k])]
            lines = placed[np.array(sharp, dtype=np.intp).reshape(-1, 2)][..., :2]
            flat = tuple(loop[:, :2] for loop in loops)
            shape = Shape(flat, part.role, part.id, part.entry, tone[k], part.finish, part.light, lines)
            found.append((max(float(loop[:, 2].max()) for loop in loops), shape))
    return [shape for _, shape in sorted(found, key=lambda item: item[0])]


def _pairs(loop: Indices) -> Iterator[tuple[int, int]]:
    """The edges of a closed path."""
    points = loop.tolist()
    return zip(points, [*points[1:], points[0]], strict=True)


def _towards(placed: Floats, corners: Indices) -> tuple[NDArray[np.intp], list[float]]:
    """Which of the triangles with these corners (n, 3) look towards us, and the tone of each that does."""
    a, b, c = placed[corners].swapaxes(0, 1)
    (ux, uy, uz), (vx, vy, vz) = (b - a).T, (c - a).T
    normals = np.stack([uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx], axis=1)
    length = np.sqrt((normals**2).sum(axis=1))
    towards = np.flatnonzero(normals[:, 2] > 0.05 * length)
    tones: list[float] = np.clip(normals[towards] @ LIT_FROM / length[towards], 0, 1).tolist()
    return towards, tones


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
