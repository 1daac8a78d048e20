"""Closed solids: vertices, and a topology of triangles and faces that all solids of one kind share."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache
from itertools import islice, pairwise

import manifold3d
import numpy as np
from numpy.typing import NDArray

from ashfell.core.plane.points import Floats

Indices = NDArray[np.int32]


MANY = 256
"""From so many triangles on they are sorted by their faces once."""

Paths = tuple[Indices, ...]
"""Closed paths of vertices."""


@dataclass(frozen=True, eq=False)
class Topology:
    """Triangles (m, 3), outward by the right-hand rule, and for each the face it belongs to. A face is flat, or the
    band that one edge of a section leaves along a curve. ``known`` are the paths round faces that its maker can
    tell."""

    triangles: Indices
    face_of_triangle: Indices
    known: Mapping[int, Paths] = field(default_factory=dict)

    @cached_property
    def first_triangles(self) -> Indices:
        """The first triangle of each face."""
        return np.asarray(np.unique(self.face_of_triangle, return_index=True)[1], dtype=np.int32)

    @cached_property
    def told_of_faces(self) -> Indices:
        """The number of each face, and the corners of its first triangle, (f, 4)."""
        first = self.first_triangles
        return np.column_stack([self.face_of_triangle[first], self.triangles[first]])

    @cached_property
    def turned(self) -> Topology:
        """That of the mirror image: every triangle the other way round."""
        known = {face: tuple(path[::-1] for path in paths) for face, paths in self.known.items()}
        return Topology(np.ascontiguousarray(self.triangles[:, ::-1]), self.face_of_triangle, known)

    @cached_property
    def _loops(self) -> dict[int, Paths]:
        return dict(self.known)

    @cached_property
    def _sorted(self) -> tuple[Indices, Indices]:
        """The triangles by their faces, and where those of each begin."""
        order = np.argsort(self.face_of_triangle, kind="stable")
        ends = np.arange(self.face_of_triangle.max(initial=-1) + 2)
        return order.astype(np.int32), np.searchsorted(self.face_of_triangle[order], ends).astype(np.int32)

    def _of_face(self, face: int) -> Indices:
        if len(self.triangles) < MANY:
            return np.asarray(self.triangles[self.face_of_triangle == face], dtype=np.int32)
        order, starts = self._sorted
        return np.asarray(self.triangles[order[starts[face] : starts[face + 1]]], dtype=np.int32)

    def loops(self, face: int) -> Paths:
        """The closed paths of vertices round a face; more than one where it has holes."""
        if face not in self._loops:
            own = self._of_face(face).tolist()
            ring = _ring(own) if len(own) <= 2 else None
            if ring is not None:
                self._loops[face] = (np.array(ring, dtype=np.int32),)
            else:
                ahead = {edge for a, b, c in own for edge in ((a, b), (b, c), (c, a))}
                self._loops[face] = _chained({(a, b) for a, b in ahead if (b, a) not in ahead})
        return self._loops[face]


def shared(triangles: Indices, faces: Indices) -> Topology:
    """The topology of these triangles (m, 3) and their faces: one for all solids of the same, where it is small, so
    that the paths round its faces are found once."""
    if len(triangles) >= MANY:
        return Topology(triangles, faces)
    return _shared(triangles.astype(np.int32).tobytes(), faces.astype(np.int32).tobytes())


@lru_cache(maxsize=1024)
def _shared(triangles: bytes, faces: bytes) -> Topology:
    return Topology(np.frombuffer(triangles, np.int32).reshape(-1, 3), np.frombuffer(faces, np.int32))


def _ring(triangles: list[list[int]]) -> list[int] | None:
    """The path round one triangle, or two that share an edge, from its lowest vertex on; None where they do not."""
    if not triangles:
        return None
    ring = triangles[0]
    if len(triangles) == 2:
        first, second = triangles
        beside = [vertex for vertex in second if vertex not in first]
        if len(beside) != 1:
            return None
        k = next(k for k in range(3) if first[k] in second and first[k - 2] in second)
        a, b, c = first[k], first[k - 2], first[k - 1]
        if second[second.index(b) - 2] != a:
            return None
        ring = [a, beside[0], b, c]
    low = ring.index(min(ring))
    return [*ring[low:], *ring[:low]]


def _chained(edges: set[tuple[int, int]]) -> Paths:
    after: dict[int, list[int]] = {}
    for a, b in sorted(edges):
        after.setdefault(a, []).append(b)
    found = []
    while after:
        start = at = next(iter(after))
        path: list[int] = []
        while at in after:
            path.append(at)
            ahead = after[at].pop()
            if not after[at]:
                del after[at]
            at = ahead
            if at == start:
                break
        found.append(np.array(path, dtype=np.int32))
    return tuple(found)


@dataclass(frozen=True, eq=False)
class OfCorners:
    """What is told of the corners of a solid's triangles, made when it is asked for: only pictures and models ask."""

    told: Callable[[], Floats]

    @cached_property
    def values(self) -> Floats:
        """(3m, k)."""
        return self.told()

    def changed(self, change: Callable[[Floats], Floats]) -> OfCorners:
        """The same after a change."""
        return OfCorners(lambda: change(self.values))

    def of(self, triangles: NDArray[np.bool_]) -> OfCorners:
        """What is told of some triangles (m,)."""
        return self.changed(lambda values: values[np.repeat(triangles, 3)])


@dataclass(frozen=True, eq=False)
class Solid:
    """A closed solid with outward faces.

    Attributes
    ----------
    vertices : (n, 3)
        mm.
    topology : Topology
    flow : OfCorners (3m, 2) or None
        Where they lie along and across a bent member, mm: its grain follows it.
    shading : OfCorners (3m, 3) or None
        The normal there, where it is not that of the triangle or of its face.
    """

    vertices: Floats
    topology: Topology
    flow: OfCorners | None = None
    shading: OfCorners | None = None

    @property
    def triangles(self) -> Indices:
        """Corners of its triangles, (m, 3) indices into ``vertices``."""
        return self.topology.triangles

    @cached_property
    def bounds(self) -> Floats:
        """(2, 3): least and greatest corner, mm."""
        return np.array([self.vertices.min(axis=0), self.vertices.max(axis=0)])

    @cached_property
    def volume(self) -> float:
        """mm³; positive when the faces look outwards (divergence theorem)."""
        if not len(self.triangles):
            return 0.0
        a, b, c = (self.vertices - self.vertices[0])[self.triangles.T]
        return float((a * _crossed(b, c)).sum() / 6)

    @cached_property
    def is_closed(self) -> bool:
        """Whether every edge is used once in each direction."""
        t = self.triangles.astype(np.int64)
        edges = np.concatenate([t[:, [0, 1]], t[:, [1, 2]], t[:, [2, 0]]])
        size = len(self.vertices)
        forth = np.sort(edges[:, 0] * size + edges[:, 1])
        back = np.sort(edges[:, 1] * size + edges[:, 0])
        return bool((forth[1:] != forth[:-1]).all() and np.array_equal(forth, back))

    @cached_property
    def normals(self) -> Floats:
        """Unit normal of each triangle, (m, 3)."""
        a, b, c = self.vertices[self.triangles.T]
        normal = _crossed(b - a, c - a)
        length = np.sqrt((normal**2).sum(axis=1, keepdims=True))
        return np.asarray(normal / np.where(length > 0, length, 1))

    @cached_property
    def corner_normals(self) -> Floats:
        """Unit normal at each triangle's corners, (3m, 3): smooth along a bent member, else that of the triangle."""
        if self.shading is not None:
            return self.shading.values
        flat = np.repeat(self.normals, 3, axis=0)
        if self.flow is None:
            return flat
        key = np.repeat(self.topology.face_of_triangle.astype(np.int64), 3) * len(
            self.vertices
        ) + self.triangles.reshape(-1)
        _, place = np.unique(key, return_inverse=True)
        summed = np.zeros((int(place.max()) + 1, 3))
        np.add.at(summed, place, flat)
        smooth = summed[place]
        return np.asarray(smooth / np.linalg.norm(smooth, axis=1, keepdims=True))

    def of_triangles(self, chosen: NDArray[np.bool_]) -> Solid:
        """What some of its triangles, (m,), make."""
        first, numbers = np.unique(self.triangles[chosen], return_inverse=True)
        left = numbers.reshape(-1, 3).astype(np.int32)
        flow, shading = (told and told.of(chosen) for told in (self.flow, self.shading))
        return Solid(self.vertices[first], shared(left, self.topology.face_of_triangle[chosen]), flow, shading)

    def moved(self, matrix: Floats) -> Solid:
        """The solid under a rigid motion (4, 4), or turned into its mirror image by one."""
        vertices = self.vertices @ matrix[:3, :3].T + matrix[:3, 3]
        shading = self.shading and self.shading.changed(lambda values: values @ matrix[:3, :3].T)
        if np.linalg.det(matrix[:3, :3]) > 0:
            return replace(self, vertices=vertices, shading=shading)
        flow, shading = (told and told.changed(_turned) for told in (self.flow, shading))
        return Solid(vertices, self.topology.turned, flow, shading)

    def manifold(self) -> manifold3d.Manifold:
        """The solid for boolean operations.

        Raises
        ------
        ValueError
            When it does not close: a boolean operation would go on with nothing in its place, and not say so.
        """
        made = _as_manifold(self.vertices, self.triangles)
        if abs(made.volume() - self.volume) > TAKEN * abs(self.volume):
            shaken = np.random.default_rng(1).uniform(-SHAKE, SHAKE, self.vertices.shape)
            made = _as_manifold(self.vertices + shaken, self.triangles)
        return made


TAKEN, SHAKE = 1e-7, 1e-9
"""By what share of its volume a solid may differ when it is taken over for booleans: seldom, corners that lie exactly
over others are joined otherwise than they were; and how far they are moved then, mm."""


def _as_manifold(vertices: Floats, triangles: Indices) -> manifold3d.Manifold:
    mesh = manifold3d.Mesh64(np.ascontiguousarray(vertices), np.ascontiguousarray(triangles, dtype=np.uint64))
    made = manifold3d.Manifold(mesh)
    if made.status() != manifold3d.Error.NoError:
        raise ValueError(f"A solid of {len(triangles)} triangles does not close: {made.status().name}.")
    return made


NOTHING = Solid(np.zeros((0, 3)), Topology(np.zeros((0, 3), dtype=np.int32), np.zeros(0, dtype=np.int32)))
"""What is left of a member that an inset has shrunk away."""


def _crossed(a: Floats, b: Floats) -> Floats:
    """Cross products of vectors (m, 3); numpy's own takes several times as long."""
    (ax, ay, az), (bx, by, bz) = a.T, b.T
    return np.stack([ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx], axis=1)


def _turned(of_corners: Floats) -> Floats:
    """What is told of each triangle's corners, for triangles the other way round."""
    return of_corners.reshape(-1, 3, of_corners.shape[1])[:, ::-1].reshape(of_corners.shape)


def welded(solid: Solid) -> Solid:
    """The solid with points of one place made one; triangles without area, and those that lie back to back, are left
    out.
    """
    first, place = alike(np.round(solid.vertices, 7))
    if len(first) == len(place):
        return (
            solid
            if solid.topology.known
            else replace(solid, topology=shared(solid.triangles, solid.topology.face_of_triangle))
        )
    topology, stay = joined(solid.topology, place)
    return Solid(solid.vertices[first], topology, solid.flow and solid.flow.of(stay))


def joined(topology: Topology, place: Indices) -> tuple[Topology, NDArray[np.bool_]]:
    """A topology by way of other vertices, ``place`` (v,) telling which each of its own has become; and which of its
    triangles, (m,), stay: none without area, and none that lie back to back."""
    triangles = place[topology.triangles].astype(np.int32)
    stay = (
        (triangles[:, 0] != triangles[:, 1])
        & (triangles[:, 1] != triangles[:, 2])
        & (triangles[:, 2] != triangles[:, 0])
    )
    stay[stay] = ~_back_to_back(triangles[stay])
    known = _known(topology.known, place)
    left, faces = triangles[stay], topology.face_of_triangle[stay]
    return Topology(left, faces, known) if known else shared(left, faces), stay


def torn(solid: Solid) -> list[Solid]:
    """The solids that one is: where it only touches itself, along edges that lie on each other, it is more than one."""
    if solid.is_closed:
        return [solid]
    from scipy.sparse import coo_array  # slow to read, and seldom wanted
    from scipy.sparse.csgraph import connected_components

    count, edges = len(solid.triangles), np.sort(solid.triangles[:, [[0, 1], [1, 2], [2, 0]]].reshape(-1, 2), axis=1)
    _, place, uses = np.unique(edges, axis=0, return_inverse=True, return_counts=True)
    order = np.argsort(place.reshape(-1), kind="stable")
    beside = order[uses[place.reshape(-1)[order]] == 2].reshape(-1, 2) // 3
    links = coo_array((np.ones(len(beside)), beside.T), shape=(count, count))
    number, piece = connected_components(links, directed=False)
    return [solid.of_triangles(piece == k) for k in range(number)]


def faced(vertices: Floats, triangles: Indices) -> Solid:
    """The solid of triangles (m, 3), coplanar ones being one face."""
    bare = Solid(vertices, Topology(triangles, np.arange(len(triangles), dtype=np.int32)))
    planes = np.column_stack([bare.normals * 1e4, (bare.normals * vertices[triangles[:, 0]]).sum(axis=1) * 1e2])
    return Solid(vertices, shared(triangles, alike(np.round(planes))[1]))


def alike(rows: Floats) -> tuple[Indices, Indices]:
    """Of rows (n, k) the first of each kind, and for each row the number of its kind; far quicker than numpy's own."""
    columns = rows.T
    order = np.lexsort(columns[::-1])
    sorted_ = columns[:, order]
    new = np.ones(len(order), dtype=bool)
    new[1:] = (sorted_[:, 1:] != sorted_[:, :-1]).any(axis=0)
    number = np.empty(len(order), dtype=np.int32)
    number[order] = np.cumsum(new) - 1
    return order[new].astype(np.int32), number


def _known(known: Mapping[int, Paths], place: Indices) -> dict[int, Paths]:
    """The paths round faces by way of other vertices, each once where it follows itself."""
    if not known:
        return {}
    paths = [path for own in known.values() for path in own]
    ends = np.cumsum([len(path) for path in paths])
    starts = ends - [len(path) for path in paths]
    flat = place[np.concatenate(paths)].astype(np.int32)
    before = np.roll(flat, 1)
    before[starts] = flat[ends - 1]
    kept = flat != before
    bounds = np.concatenate([[0], np.cumsum(np.add.reduceat(kept, starts))]).tolist()
    left = flat[kept]
    cut = iter([left[start:end] for start, end in pairwise(bounds)])
    return {face: tuple(path for path in islice(cut, len(own)) if len(path) > 2) for face, own in known.items()}


def _back_to_back(triangles: Indices) -> NDArray[np.bool_]:
    """Triangles of whose corners another one is made, looking the other way."""
    size = int(triangles.max(initial=0)) + 1
    a, b, c = triangles.astype(np.int64).T
    low, high = np.minimum(np.minimum(a, b), c), np.maximum(np.maximum(a, b), c)
    key = (low * size + (a + b + c - low - high)) * size + high
    order = np.argsort(key)
    twice = np.diff(key[order]) == 0
    found = np.zeros(len(key), dtype=bool)
    found[order[:-1][twice]] = found[order[1:][twice]] = True
    return found
