"""Faces that nobody sees: those that lie against others all over."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats, area
from ashfell.core.solid.topology import Topology

NEAR = 0.01
"""Faces nearer to each other than this lie in one plane, mm."""
LEFT = 1e-4
"""A face of which less than this share is left beside those that cover it is hidden."""


@dataclass(frozen=True, eq=False)
class _Face:
    """A flat face of a part: its outline along two axes, and which way it looks along the third."""

    part: int
    face: int
    outline: BaseGeometry
    ahead: bool


def without_hidden(parts: Sequence[Part]) -> list[Part]:
    """Parts without the faces that lie against those of others all over: what glass shows its gaskets, what a bead
    shows its rebate. What is left of a part is not closed any more; a part of which nothing is left is left out."""
    planes: dict[tuple[float, ...], list[_Face]] = defaultdict(list)
    for number, part in enumerate(parts):
        for key, face in _faces(number, part):
            planes[key].append(face)
    hidden: dict[int, set[int]] = defaultdict(set)
    for faces in planes.values():
        for ahead in (True, False):
            own = [one for one in faces if one.ahead is ahead]
            others = [one for one in faces if one.ahead is not ahead]
            for one in _covered(own, others):
                hidden[one.part].add(one.face)
    return [kept for number, part in enumerate(parts) if (kept := _less(part, hidden[number])) is not None]


def _faces(number: int, part: Part) -> list[tuple[tuple[float, ...], _Face]]:
    """The flat faces of a part, each with its plane as a key that those that look the other way share."""
    solid, found = part.solid, []
    normals, owner = solid.normals, solid.topology.face_of_triangle
    first = solid.topology.first_triangles
    bent = set(
        owner[(np.abs(normals - normals[first][np.searchsorted(owner[first], owner)]) > 1e-6).any(axis=1)].tolist()
    )
    for triangle in first.tolist():
        face = int(owner[triangle])
        if face in bent:
            continue
        normal = normals[triangle]
        axis = int(np.abs(normal).argmax())
        ahead = bool(normal[axis] > 0)
        towards = normal if ahead else -normal
        offset = float(towards @ solid.vertices[solid.triangles[triangle, 0]])
        loops = [np.delete(solid.vertices[loop], axis, axis=1) for loop in solid.topology.loops(face)]
        outline = _outline(loops)
        if outline is not None:
            key = (*np.round(towards, 5).tolist(), round(offset / NEAR))
            found.append((key, _Face(number, face, outline, ahead)))
    return found


def _outline(loops: Sequence[Floats]) -> BaseGeometry | None:
    """A face with its holes; None where it is no sound polygon."""
    if not loops or any(len(loop) < 3 for loop in loops):
        return None
    outer, *holes = sorted(loops, key=lambda loop: -abs(area(loop)))
    made = Polygon(outer, holes)
    return made if made.is_valid and made.area > 0 else None


def _covered(own: Sequence[_Face], others: Sequence[_Face]) -> list[_Face]:
    """Those of some faces that others of the same plane, which look the other way, cover all over."""
    if not own or not others:
        return []
    shapes: NDArray[np.object_] = np.array([one.outline for one in others])
    tree = shapely.STRtree(shapes)
    found = []
    for one in own:
        near = [k for k in tree.query(one.outline, predicate="intersects").tolist() if others[k].part != one.part]
        if near and one.outline.difference(shapely.union_all(shapes[near])).area < LEFT * one.outline.area:
            found.append(one)
    return found


def _less(part: Part, hidden: set[int]) -> Part | None:
    if not hidden:
        return part
    solid, topology = part.solid, part.solid.topology
    stays = ~np.isin(topology.face_of_triangle, list(hidden))
    if not stays.any():
        return None
    of_corners = np.repeat(stays, 3)
    left = Topology(np.ascontiguousarray(topology.triangles[stays]), topology.face_of_triangle[stays])
    flow, shading = (told and told.changed(lambda values: values[of_corners]) for told in (solid.flow, solid.shading))
    return replace(part, solid=replace(solid, topology=left, flow=flow, shading=shading))
