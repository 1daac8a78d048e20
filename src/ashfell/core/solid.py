"""Closed solids: how they are made from sections and loops, and what can be measured on them.

A solid is vertices and a *topology*: which vertices make which triangle, and which triangles make one face. The same
topology serves all solids of one kind, so that many members are made by one array operation.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction
from functools import cached_property, lru_cache
from itertools import accumulate

import manifold3d
import mapbox_earcut
import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon

from ashfell.core.plane import TOUCH, Floats, Loop, area, insets, too_far

Indices = NDArray[np.int32]
Section = tuple[tuple[float, float], ...]
"""A cross-section: points (across, w), counter-clockwise, mm."""
Profile = Sequence[tuple[float, float, float]]
"""A section for a ring of any face: points (share of the face, further inwards, w), mm. ``(1, -2, 0)`` is 2 mm before the
inner edge."""


Paths = tuple[Indices, ...]
"""Closed paths of vertices."""


@dataclass(frozen=True, eq=False)
class Topology:
    """Triangles (m, 3), outward by the right-hand rule, and for each the face it belongs to. A face is flat, or the band
    that one edge of a section leaves along a curve. ``known`` are the paths round faces that its maker can tell."""

    triangles: Indices
    face_of_triangle: Indices
    known: Mapping[int, Paths] = field(default_factory=dict)

    @cached_property
    def first_triangles(self) -> Indices:
        """The first triangle of each face."""
        return np.asarray(np.unique(self.face_of_triangle, return_index=True)[1], dtype=np.int32)

    @cached_property
    def _loops(self) -> dict[int, Paths]:
        return dict(self.known)

    def loops(self, face: int) -> Paths:
        """The closed paths of vertices round a face; more than one where it has holes."""
        if face not in self._loops:
            own = self.triangles[self.face_of_triangle == face].tolist()
            ahead = {edge for a, b, c in own for edge in ((a, b), (b, c), (c, a))}
            self._loops[face] = _chained({(a, b) for a, b in ahead if (b, a) not in ahead})
        return self._loops[face]


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
class Solid:
    """A closed solid with outward faces.

    Attributes
    ----------
    vertices : (n, 3)
        mm.
    topology : Topology
    flow : (3m, 2) or None
        Where each triangle's corners lie along and across a bent member, mm: its grain follows it.
    """

    vertices: Floats
    topology: Topology
    flow: Floats | None = None

    @property
    def triangles(self) -> Indices:
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
        length = np.linalg.norm(normal, axis=1, keepdims=True)
        return np.asarray(normal / np.where(length > 0, length, 1))

    @cached_property
    def corner_normals(self) -> Floats:
        """Unit normal at each triangle's corners, (3m, 3): smooth along a bent member, else that of the triangle."""
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

    def moved(self, matrix: Floats) -> Solid:
        """The solid under a rigid motion (4, 4) that keeps handedness."""
        return replace(self, vertices=self.vertices @ matrix[:3, :3].T + matrix[:3, 3])

    def manifold(self) -> manifold3d.Manifold:
        """The solid for boolean operations."""
        return manifold3d.Manifold(
            manifold3d.Mesh64(
                np.ascontiguousarray(self.vertices), np.ascontiguousarray(self.triangles, dtype=np.uint64)
            )
        )


NOTHING = Solid(np.zeros((0, 3)), Topology(np.zeros((0, 3), dtype=np.int32), np.zeros(0, dtype=np.int32)))
"""What is left of a member that an inset has shrunk away."""


def of_manifold(made: manifold3d.Manifold) -> list[Solid]:
    """What a boolean operation left, one solid for each piece, coplanar triangles being one face."""
    return [_of_mesh(piece.to_mesh64()) for piece in made.decompose()]


def _of_mesh(mesh: manifold3d.Mesh64) -> Solid:
    vertices = np.ascontiguousarray(mesh.vert_properties, dtype=float)[:, :3].copy()
    triangles = np.asarray(mesh.tri_verts, dtype=np.int32)
    bare = Solid(vertices, Topology(triangles, np.arange(len(triangles), dtype=np.int32)))
    planes = np.column_stack([bare.normals * 1e4, (bare.normals * vertices[triangles[:, 0]]).sum(axis=1) * 1e2])
    return Solid(vertices, Topology(triangles, _alike(np.round(planes))[1]))


SHAKE = 1e-6
"""How far points are moved while many holes are triangulated, mm: ear clipping leaves out points that lie in line."""


def polygon_triangles(points: Floats, rings: Sequence[int]) -> Indices:
    """Triangles (m, 3), counter-clockwise, of a polygon with holes that uses every point: ``points`` (n, 2) of all rings,
    ``rings`` the end index of each. Ear clipping, and where that leaves out points in line, the constrained Delaunay
    triangulation."""
    shaken = points if len(rings) < 3 else points + np.random.default_rng(1).uniform(-SHAKE, SHAKE, points.shape)
    flat = mapbox_earcut.triangulate_float64(np.ascontiguousarray(shaken), np.asarray(rings, dtype=np.uint32))
    triangles = np.asarray(flat, dtype=np.int32).reshape(-1, 3)
    if len(triangles) == len(points) + 2 * len(rings) - 4:
        return triangles
    single = _first_of_repeated(points, rings)
    if len(single) < len(points):
        ends = np.searchsorted(single, np.asarray(rings)).tolist()
        return single[polygon_triangles(points[single], ends)]
    return _delaunay(points, rings)


def _first_of_repeated(points: Floats, rings: Sequence[int]) -> Indices:
    """The points that are apart from the one before them in their ring."""
    starts = [0, *rings[:-1]]
    kept = [
        start + k
        for start, end in zip(starts, rings, strict=True)
        for k, gap in enumerate(np.abs(points[start:end] - np.roll(points[start:end], 1, axis=0)).sum(axis=1))
        if gap > 1e-7
    ]
    return np.array(kept, dtype=np.int32)


def _delaunay(points: Floats, rings: Sequence[int]) -> Indices:
    starts = [0, *rings[:-1]]
    outer, *holes = [points[a:b] for a, b in zip(starts, rings, strict=True)]
    made = shapely.constrained_delaunay_triangles(Polygon(outer, holes))
    corners = shapely.get_coordinates(made).reshape(-1, 4, 2)[:, :3]
    index = {(x, y): k for k, (x, y) in enumerate(points.tolist())}
    triangles = np.array([[index[x, y] for x, y in corner] for corner in corners.tolist()], dtype=np.int32).reshape(
        -1, 3
    )
    a, b, c = (points[triangles[:, k]] for k in range(3))
    turns = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])
    triangles[turns < 0] = triangles[turns < 0][:, ::-1]
    return triangles


def tidy(section: Sequence[tuple[float, float]]) -> Section:
    """The section without repeated points, counter-clockwise."""
    points = [p for p, q in zip(section, (*section[1:], section[0]), strict=True) if p != q]
    twice = sum(a * d - c * b for (a, b), (c, d) in zip(points, (*points[1:], points[0]), strict=True))
    return tuple(points if twice > 0 else reversed(points))


@lru_cache(maxsize=1024)
def _strip(section: Section, stations: int, closed: bool) -> Topology:
    """Topology of a section swept along stations, station i having vertices i * k to i * k + k - 1; face j is the band
    of the section's edge j, then come the caps of a strip that is not closed."""
    count = len(section)
    spans = stations if closed else stations - 1
    i, j = (grid.reshape(-1) for grid in np.meshgrid(np.arange(spans), np.arange(count), indexing="ij"))
    after, beside = (i + 1) % stations, (j + 1) % count
    a, b, c, d = i * count + j, i * count + beside, after * count + beside, after * count + j
    triangles = np.stack([a, b, c, a, c, d], axis=1).reshape(-1, 3)
    faces = np.repeat(j, 2)
    lines = np.arange(count * stations, dtype=np.int32).reshape(stations, count).T
    edges = [(lines[k], lines[(k + 1) % count, ::-1]) for k in range(count)]
    known: dict[int, Paths] = {k: edge if closed else (np.concatenate(edge),) for k, edge in enumerate(edges)}
    if not closed:
        known |= {count: (lines[::-1, 0],), count + 1: (lines[:, -1],)}
        cap = polygon_triangles(np.array(section), [count])
        last = cap + (stations - 1) * count
        triangles = np.concatenate([triangles, cap[:, ::-1], last])
        faces = np.concatenate([faces, np.full(len(cap), count), np.full(len(cap), count + 1)])
    return Topology(triangles.astype(np.int32), faces.astype(np.int32), known)


def strip(corners: Floats, section: Section, closed: bool = False, bent: bool = False) -> Solid:
    """A section swept along stations: ``corners`` (s, k, 3) mm; bent members carry their flow. What has no length anywhere
    has no triangles."""
    if not closed and np.abs(corners[1:] - corners[:-1]).max() < 1e-6:
        return NOTHING
    topology = _strip(section, len(corners), closed)
    made = Solid(corners.reshape(-1, 3), topology, _flow(corners, closed) if bent else None)
    if not _has_repeats(corners):
        return made
    made = welded(made)
    return made if abs(made.volume) > 1e-2 else NOTHING


def _flow(corners: Floats, closed: bool) -> Floats:
    """For each triangle's corners how far along the path and how far round the section they lie, mm."""
    stations, count = corners.shape[:2]
    middle = corners.mean(axis=1)
    steps = np.linalg.norm(np.roll(middle, -1, axis=0) - middle, axis=1)
    along = np.concatenate([[0.0], np.cumsum(steps)])
    round_ = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.roll(corners[0], -1, axis=0) - corners[0], axis=1))])
    spans = stations if closed else stations - 1
    i, j = (grid.reshape(-1) for grid in np.meshgrid(np.arange(spans), np.arange(count), indexing="ij"))
    a, b, c, d = (np.stack([along[m], round_[n]], axis=1) for m, n in ((i, j), (i, j + 1), (i + 1, j + 1), (i + 1, j)))
    flow = np.stack([a, b, c, a, c, d], axis=1).reshape(-1, 2)
    if closed:
        return flow
    caps = (count - 2) * 2
    return np.concatenate([flow, np.zeros((3 * caps, 2))])


def _has_repeats(corners: Floats) -> bool:
    """Whether stations (s, ..., 3) that follow each other share a point."""
    return bool((np.abs(corners[1:] - corners[:-1]).max(axis=-1) < 1e-9).any())


def welded(solid: Solid) -> Solid:
    """The solid with points of one place made one; triangles without area, and those that lie back to back, are left out."""
    first, place = _alike(np.round(solid.vertices, 7))
    triangles = place[solid.triangles].astype(np.int32)
    good = (
        (triangles[:, 0] != triangles[:, 1])
        & (triangles[:, 1] != triangles[:, 2])
        & (triangles[:, 2] != triangles[:, 0])
    )
    good[good] = ~_back_to_back(triangles[good])
    flow = solid.flow[np.repeat(good, 3)] if solid.flow is not None else None
    known = {
        face: tuple(_once(place[path].astype(np.int32)) for path in paths)
        for face, paths in solid.topology.known.items()
    }
    topology = Topology(triangles[good], solid.topology.face_of_triangle[good], known)
    return Solid(solid.vertices[first], topology, flow)


def _alike(rows: Floats) -> tuple[Indices, Indices]:
    """Of rows (n, k) the first of each kind, and for each row the number of its kind; far quicker than numpy's own."""
    columns = rows.T
    order = np.lexsort(columns[::-1])
    sorted_ = columns[:, order]
    new = np.concatenate([[True], (sorted_[:, 1:] != sorted_[:, :-1]).any(axis=0)])
    number = np.empty(len(order), dtype=np.int32)
    number[order] = np.cumsum(new) - 1
    return order[new].astype(np.int32), number


def _once(path: Indices) -> Indices:
    """A closed path without vertices that are the one before."""
    return np.asarray(path[path != np.concatenate([path[-1:], path[:-1]])])


def _back_to_back(triangles: Indices) -> NDArray[np.bool_]:
    """Triangles of whose corners another one is made, looking the other way."""
    size = int(triangles.max(initial=0)) + 1
    low, middle, high = np.sort(triangles.astype(np.int64), axis=1).T
    _, place, count = np.unique((low * size + middle) * size + high, return_inverse=True, return_counts=True)
    return np.asarray(count[place.reshape(-1)] == 2)


def ring_corners(loops: Sequence[Loop], faces: Floats, profile: Profile, entry: str = "offset") -> Floats:
    """A profile laid round loops of as many corners.

    Parameters
    ----------
    loops : n loops of c corners
        Outer edges.
    faces : (n, c) or (c,)
        Face of the ring along each edge, mm.
    profile : Profile
        k points.
    entry : str
        What is refused when an inset leaves nothing.

    Returns
    -------
    (n, c, k, 3)
    """
    points = np.array([loop.points for loop in loops])
    laid = np.array(profile)
    kinds = {kind: index for index, kind in enumerate(dict.fromkeys((share, more) for share, more, _ in profile))}
    shares = np.array(list(kinds))
    by = shares[:, 0, None, None] * faces + shares[:, 1, None, None]
    if by.shape[1] != len(points):
        by = by.repeat(len(points), axis=1)
    moved = _rectangles_inset(points, by) if all(loop.is_rectangle for loop in loops) else None
    if moved is None:
        moved = _loops_inset(loops, points, by, entry)
    placed = np.empty((*points.shape[:2], len(profile), 3))
    placed[..., :2] = moved[[kinds[share, more] for share, more, _ in profile]].transpose(1, 2, 0, 3)
    placed[..., 2] = laid[:, 2]
    return placed


INWARDS = np.array([[3, 0], [1, 0], [1, 2], [3, 2]])
"""For each corner of a rectangle the sides that move it along x and along y."""
TOWARDS = np.array([[1.0, 1.0], [-1.0, 1.0], [-1.0, -1.0], [1.0, -1.0]])
"""And which way, when they move inwards."""


def _rectangles_inset(points: Floats, by: Floats) -> Floats | None:
    """Rectangles (n, 4, 2) inset by (m, n, 4): sill, right, head, left; None where one has nothing left."""
    moved = points + by[..., INWARDS] * TOWARDS
    return None if (moved[..., 2, :] - moved[..., 0, :]).min() < TOUCH else moved


def _loops_inset(loops: Sequence[Loop], points: Floats, by: Floats, entry: str) -> Floats:
    """Loops (n, c, 2) inset by (m, n, c), all at once; those in which edges vanish one by one."""
    kinds, count = by.shape[:2]
    along, rest = np.array([loop.along for loop in loops]), np.array([loop.rest for loop in loops])
    flat = by.reshape(kinds * count, -1)
    moved, sound = insets(
        *(np.concatenate([values] * kinds) if values is not flat else flat for values in (points, flat, along, rest))
    )
    for index in np.flatnonzero(~sound):
        loop = loops[index % count]
        one = loop.moved(flat[index]) if flat[index].any() else loop.points
        if one is None:
            raise too_far(loop, flat[index], entry)
        moved[index] = one
    return moved.reshape(kinds, count, -1, 2)


def between(loops: Sequence[Floats], depths: Sequence[float | Fraction]) -> Floats:
    """The corners (n, c, k, 3) of a section whose k points each follow a closed path (n, c, 2) of their own, at a w of
    their own: for rings whose sides differ."""
    placed = np.empty((*loops[0].shape[:2], len(loops), 3))
    for index, (loop, depth) in enumerate(zip(loops, depths, strict=True)):
        placed[:, :, index, :2] = loop
        placed[:, :, index, 2] = float(depth)
    return placed


SIDE_TO_SIDE = np.array([[0, 1], [1, 2], [2, 3], [3, 0]])
"""The two corners of each side of a rectangle."""
Run = tuple[tuple[int, ...], bool, bool]
"""A member of a ring: its edges in order, whether it closes on itself, whether it is bent."""


def members(corners: Floats, section: Section, runs: Sequence[Run]) -> list[list[Solid]]:
    """For each loop its members, mitred where they meet: ``corners`` (n, c, k, 3); ``section`` tells the faces."""
    count = corners.shape[1]
    if count == 4 and len(runs) == 4:
        sides = corners[:, SIDE_TO_SIDE]
        if not _has_repeats(sides.transpose(2, 0, 1, 3, 4)):
            topology = _strip(section, 2, False)
            return [[Solid(side.reshape(-1, 3), topology) for side in own] for own in sides]
    made: list[list[Solid]] = [[] for _ in corners]
    for edges, closed, bent in runs:
        order = [*edges] if closed else [*edges, (edges[-1] + 1) % count]
        for own, stations in zip(made, corners[:, order], strict=True):
            own.append(strip(stations, section, closed, bent or len(edges) > 1))
    return made


def rings(corners: Floats, section: Section) -> list[Solid]:
    """For each loop one ring without joints: ``corners`` (n, c, k, 3)."""
    if corners.shape[1] == 4:
        topology = _strip(section, 4, True)
        return [Solid(ring.reshape(-1, 3), topology) for ring in corners]
    return [strip(ring, section, closed=True, bent=True) for ring in corners]


HIGH = np.array([[x, y, z] for z in (0, 1) for x, y in ((0, 0), (1, 0), (1, 1), (0, 1))], dtype=bool)
"""For each corner of a box which of its coordinates are the greater ones."""


def boxes(lows: Floats, highs: Floats) -> list[Solid]:
    """Boxes from their least and greatest corners, (n, 3) each, mm."""
    vertices = np.where(HIGH, np.asarray(highs)[:, None], np.asarray(lows)[:, None])
    topology = _strip(((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)), 2, False)
    return [Solid(box, topology) for box in vertices]


def extrusions(outlines: Sequence[Floats], low: float, top: float, cap: Indices | None = None) -> Solid:
    """A flat plate with holes: the first outline (n, 2) counter-clockwise, holes clockwise, from ``low`` to ``top``; ``cap``
    are its triangles, where they are known."""
    points = np.concatenate(outlines) if len(outlines) > 1 else outlines[0]
    ends = tuple(accumulate(len(outline) for outline in outlines))
    count = len(points)
    cap = polygon_triangles(points, ends) if cap is None else cap
    sides, owners, known = _sides(ends)
    vertices = np.empty((2 * count, 3))
    vertices[:count, :2] = vertices[count:, :2] = points
    vertices[:count, 2], vertices[count:, 2] = low, top
    triangles = np.concatenate([sides, cap[:, ::-1], cap + np.int32(count)])
    caps = np.repeat(np.array([count, count + 1], dtype=np.int32), len(cap))
    return Solid(vertices, Topology(triangles, np.concatenate([owners, caps]), known))


@lru_cache(maxsize=1024)
def _sides(ends: tuple[int, ...]) -> tuple[Indices, Indices, Mapping[int, Paths]]:
    """The sides of a plate whose rings end at these points: their triangles, the face of each, and the paths round its caps."""
    count = ends[-1]
    here = np.arange(count, dtype=np.int32)
    ahead = here + 1
    ahead[[end - 1 for end in ends]] = (0, *ends[:-1])
    triangles = np.stack([here, ahead, ahead + count, here, ahead + count, here + count], axis=1).reshape(-1, 3)
    high = tuple(np.split(here + count, ends[:-1]))
    return triangles, np.repeat(here, 2), {count: tuple(path[::-1] - count for path in high), count + 1: high}


def plate(region: Polygon, low: float, high: float) -> Solid:
    """A planar region, holes and all, from ``low`` to ``high``, mm."""
    outer, *inner = [np.array(ring.coords)[:-1] for ring in (region.exterior, *region.interiors)]
    return extrusions(
        [outer if area(outer) > 0 else outer[::-1], *(hole if area(hole) < 0 else hole[::-1] for hole in inner)],
        low,
        high,
    )


def loft(levels: Floats) -> Solid:
    """A solid between closed paths of as many points, one above the other: ``levels`` (s, c, 3), each counter-clockwise as
    seen from where they rise to, the first and last flat."""
    stations, count = levels.shape[:2]
    sides = _strip(((0.0, 0.0),) * count, stations, True)
    spans = len(sides.triangles) * (stations - 1) // stations
    first, last = (polygon_triangles(levels[k, :, :2], [count]) for k in (0, -1))
    triangles = np.concatenate([sides.triangles[:spans], first[:, ::-1], last + (stations - 1) * count])
    faces = np.concatenate([np.arange(spans) // 2, np.full(len(first), spans), np.full(len(last), spans + 1)])
    return welded(Solid(levels.reshape(-1, 3), Topology(triangles.astype(np.int32), faces.astype(np.int32))))
