"""Closed solids: how they are made from sections and outlines, and what can be measured on them.

A solid is vertices and flat faces; the same *topology* (which vertices make which face) serves all solids of one kind,
so that many members are made by one array operation.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property, lru_cache

import mapbox_earcut
import numpy as np
from numpy.typing import NDArray

from ashfell.core.outline import Outline

Floats = NDArray[np.float64]
Indices = NDArray[np.int32]
Face = tuple[int, ...]
Section = tuple[tuple[float, float], ...]
"""A cross-section: points (across, w), counter-clockwise, mm."""


@dataclass(frozen=True, eq=False)
class Topology:
    """Which vertices make which flat face, outward by the right-hand rule, and the triangles of those faces."""

    faces: tuple[Face, ...]
    triangles: Indices
    face_of_triangle: Indices

    @classmethod
    def of(cls, faces: Sequence[Face], triangles: Sequence[Sequence[Face]]) -> Topology:
        """From faces and, for each, its triangles."""
        flat = np.array([triangle for group in triangles for triangle in group], dtype=np.int32)
        owner = np.repeat(np.arange(len(faces), dtype=np.int32), [len(group) for group in triangles])
        return cls(tuple(faces), flat, owner.astype(np.int32))


@dataclass(frozen=True, eq=False)
class Solid:
    """A closed solid with outward faces: ``vertices`` (n, 3), mm."""

    vertices: Floats
    topology: Topology

    @property
    def triangles(self) -> Indices:
        return self.topology.triangles

    @property
    def bounds(self) -> Floats:
        """(2, 3): least and greatest corner, mm."""
        return np.array([self.vertices.min(axis=0), self.vertices.max(axis=0)])

    @cached_property
    def volume(self) -> float:
        """mm³; positive when the faces look outwards (divergence theorem)."""
        a, b, c = (self.vertices[self.triangles[:, k]] - self.vertices[0] for k in range(3))
        return float(np.einsum("ij,ij->", a, np.cross(b, c)) / 6)

    @cached_property
    def is_closed(self) -> bool:
        """Whether every edge is used once in each direction."""
        t = self.triangles.astype(np.int64)
        edges = np.concatenate([t[:, [0, 1]], t[:, [1, 2]], t[:, [2, 0]]])
        size = len(self.vertices)
        forth = np.sort(edges[:, 0] * size + edges[:, 1])
        back = np.sort(edges[:, 1] * size + edges[:, 0])
        return bool(len(np.unique(forth)) == len(forth) and np.array_equal(forth, back))

    @cached_property
    def normals(self) -> Floats:
        """Unit normal of each triangle, (m, 3)."""
        a, b, c = (self.vertices[self.triangles[:, k]] for k in range(3))
        normal = np.cross(b - a, c - a)
        return np.asarray(normal / np.linalg.norm(normal, axis=1, keepdims=True))

    def moved(self, matrix: Floats) -> Solid:
        """The solid under a rigid motion (4, 4) that keeps handedness."""
        return Solid(self.vertices @ matrix[:3, :3].T + matrix[:3, 3], self.topology)


def polygon_triangles(points: Floats, rings: Sequence[int]) -> Indices:
    """Triangles (m, 3) of a polygon with holes: ``points`` (n, 2) of all rings, ``rings`` the end index of each."""
    flat = mapbox_earcut.triangulate_float64(np.ascontiguousarray(points), np.asarray(rings, dtype=np.uint32))
    return np.asarray(flat, dtype=np.int32).reshape(-1, 3)


def tidy(section: Sequence[tuple[float, float]]) -> Section:
    """The section without repeated points, counter-clockwise."""
    points = [p for p, q in zip(section, (*section[1:], section[0]), strict=True) if p != q]
    area = sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(points, (*points[1:], points[0]), strict=True))
    return tuple(points if area > 0 else reversed(points))


@lru_cache(maxsize=512)
def _prism(section: Section) -> Topology:
    """Topology of a section swept from one end (vertices 0 to k - 1) to the other (k to 2k - 1)."""
    count = len(section)
    cap = polygon_triangles(np.array(section), [count]).tolist()
    sides = [(j, (j + 1) % count, count + (j + 1) % count, count + j) for j in range(count)]
    faces = [*sides, tuple(range(count - 1, -1, -1)), tuple(range(count, 2 * count))]
    triangles = [[(a, b, c), (a, c, d)] for a, b, c, d in sides]
    return Topology.of(
        faces,
        [*triangles, [(c, b, a) for a, b, c in cap], [(a + count, b + count, c + count) for a, b, c in cap]],
    )


@lru_cache(maxsize=512)
def _ring(section: Section, corners: int) -> Topology:
    """Topology of a section swept round a closed path: corner i has vertices i * k to i * k + k - 1."""
    count = len(section)
    faces = [
        (i * count + j, i * count + (j + 1) % count, after * count + (j + 1) % count, after * count + j)
        for i in range(corners)
        for after in [(i + 1) % corners]
        for j in range(count)
    ]
    return Topology.of(faces, [[(a, b, c), (a, c, d)] for a, b, c, d in faces])


def round_outline(outline: Outline, section: Section) -> Floats:
    """A section laid round an outline, every inset an exact offset of it.

    Parameters
    ----------
    outline : Outline
        mm.
    section : Section
        Points (inset, w): how far inwards from the outline, and at which w.

    Returns
    -------
    (1, c, k, 3)
        For each station of the outline the section's k points there.
    """
    stations = outline.stations()
    inset = {by: outline.offset(by).at(stations)[None] for by in {point[0] for point in section}}
    return between([inset[by] for by, _ in section], [w for _, w in section])


def between(loops: Sequence[Floats], depths: Sequence[float | Fraction]) -> Floats:
    """The corners (n, c, k, 3) of a section whose k points each follow a closed path (n, c, 2) of their own, at a w of
    their own: for rings whose sides differ."""
    placed = np.empty((*loops[0].shape[:2], len(loops), 3))
    for index, (loop, depth) in enumerate(zip(loops, depths, strict=True)):
        placed[:, :, index, :2] = loop
        placed[:, :, index, 2] = float(depth)
    return placed


def mitred_members(corners: Floats, section: Section) -> list[list[Solid]]:
    """For each closed path its members, one per side, mitred at the corners; side i starts at corner i.

    ``corners`` (n, c, k, 3) is from :func:`round_outline` or :func:`between`; ``section`` tells its faces.
    """
    both = np.concatenate([corners, np.roll(corners, -1, axis=1)], axis=2)
    topology = _prism(section)
    return [[Solid(member, topology) for member in path] for path in both]


def rings(corners: Floats, section: Section) -> list[Solid]:
    """As :func:`mitred_members`, but one ring for each closed path."""
    topology = _ring(section, corners.shape[1])
    return [Solid(ring.reshape(-1, 3), topology) for ring in corners]


def boxes(lows: Floats, highs: Floats) -> list[Solid]:
    """Boxes from their least and greatest corners, (n, 3) each, mm."""
    lows, highs = np.asarray(lows), np.asarray(highs)
    pick = np.array([[0, 0], [1, 0], [1, 1], [0, 1]])
    ends = np.stack([lows, highs], axis=1)
    vertices = np.empty((len(lows), 8, 3))
    vertices[:, :4, 0] = vertices[:, 4:, 0] = ends[:, pick[:, 0], 0]
    vertices[:, :4, 1] = vertices[:, 4:, 1] = ends[:, pick[:, 1], 1]
    vertices[:, :4, 2], vertices[:, 4:, 2] = lows[:, None, 2], highs[:, None, 2]
    topology = _prism(((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)))
    return [Solid(box, topology) for box in vertices]


def extrusions(outlines: Sequence[Floats], low: float, high: float) -> Solid:
    """A flat plate with holes: the first outline (n, 2) counter-clockwise, holes clockwise, from ``low`` to ``high``."""
    points = np.concatenate(outlines)
    ends = np.cumsum([len(outline) for outline in outlines])
    count = len(points)
    cap = polygon_triangles(points, ends.tolist())
    ahead = np.arange(1, count + 1, dtype=np.int32)
    ahead[ends - 1] = np.concatenate([[0], ends[:-1]])
    here = np.arange(count, dtype=np.int32)
    sides = np.stack([here, ahead, ahead + count, here + count], axis=1)
    side_triangles = sides[:, [0, 1, 2, 0, 2, 3]].reshape(-1, 3)
    owners = np.concatenate([np.repeat(here, 2), np.full(len(cap), count), np.full(len(cap), count + 1)])
    vertices = np.empty((2 * count, 3))
    vertices[:count, :2] = vertices[count:, :2] = points
    vertices[:count, 2], vertices[count:, 2] = low, high
    triangles = np.concatenate([side_triangles, cap[:, ::-1], cap + count]).astype(np.int32)
    return Solid(vertices, Topology((), triangles, owners.astype(np.int32)))
