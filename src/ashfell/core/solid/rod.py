"""Rods and turned pieces: a section carried along a path with mitred or round turns, a profile turned round an axis."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from math import acos, ceil, cos, pi, sin, tan

import numpy as np

from ashfell.core.plane.points import Floats
from ashfell.core.solid.form import Form
from ashfell.core.solid.sweep import Section, strip_topology
from ashfell.core.solid.topology import OfCorners, Solid, Topology
from ashfell.core.solid.triangles import polygon_triangles

FINE = 0.2
"""How far facets may lie from a round turn, mm."""
LEAST_FACETS = 16
CREASE = 0.7
"""At what angle facets look as if they met in an edge, radians."""

Point3 = tuple[float, float, float]


def square(side: float, other: float | None = None) -> Section:
    """A rectangular section about the origin, mm."""
    x, y = side / 2, (side if other is None else other) / 2
    return ((-x, -y), (x, -y), (x, y), (-x, y))


def disc(diameter: float) -> Section:
    """A round section about the origin, mm."""
    count = facets_of(diameter / 2)
    angles = [2 * pi * (k + 0.5) / count for k in range(count)]
    return tuple((diameter / 2 * cos(angle), diameter / 2 * sin(angle)) for angle in angles)


def facets_of(radius: float) -> int:
    """How many facets a circle has, mm."""
    return max(LEAST_FACETS, 4 * ceil(pi / acos(max(0.0, 1 - FINE / max(radius, 2 * FINE))) / 4))


def rounded(path: Sequence[Point3], radius: float) -> list[Point3]:
    """A path with its turns rounded, (s, 3) mm. A turn that has no room for its radius is rounded by what there is."""
    points = np.array(path, dtype=float)
    found = [points[0]]
    for before, here, after in zip(points, points[1:], points[2:], strict=False):
        first, second = (before - here), (after - here)
        a, b = float(np.linalg.norm(first)), float(np.linalg.norm(second))
        first, second = first / a, second / b
        half = acos(float(np.clip(first @ second, -1, 1))) / 2
        if pi / 2 - half < 1e-6 or radius <= 0:
            found.append(here)
            continue
        back = min(radius / tan(half), a / 2 - 1e-3, b / 2 - 1e-3)
        own = back * tan(half)
        middle = here + (first + second) / np.linalg.norm(first + second) * own / sin(half)
        start, end = here + first * back - middle, here + second * back - middle
        turn = pi - 2 * half
        count = max(2, ceil(turn / (2 * pi) * facets_of(own)))
        for k in range(count + 1):
            share = k / count
            found.append(middle + (start * sin((1 - share) * turn) + end * sin(share * turn)) / sin(turn))
    found.append(points[-1])
    return [tuple(point.tolist()) for point in found]


@dataclass(frozen=True, eq=False)
class Skin(Form):
    """A solid between closed paths of as many points, one behind the other: ``levels`` (s, c, 3), mm, of which the
    first and the last are closed as ``section`` is. Each of its faces is one of a facet; it looks smooth where they
    meet at less than :data:`CREASE`."""

    levels: Floats
    section: Section

    def solids(self) -> list[Solid]:
        return [self._made]

    @cached_property
    def _made(self) -> Solid:
        """A piece is made once and stands in many places."""
        stations, count = self.levels.shape[:2]
        sides = strip_topology(((0.0, 0.0),) * count, stations, True)
        spans = len(sides.triangles) * (stations - 1) // stations
        cap = polygon_triangles(np.array(self.section), [count])
        triangles = np.concatenate([sides.triangles[:spans], cap[:, ::-1], cap + (stations - 1) * count])
        ends = np.repeat([spans, spans + 1], len(cap))
        faces = np.concatenate([np.arange(spans) // 2, ends])
        bare = Solid(self.levels.reshape(-1, 3), Topology(triangles.astype(np.int32), faces.astype(np.int32)))
        return replace(bare, shading=OfCorners(lambda: creased(bare)))

    @property
    def length(self) -> float:
        """Along its middle, mm."""
        return float(np.linalg.norm(np.diff(self.levels.mean(axis=1), axis=0), axis=1).sum())


def creased(solid: Solid) -> Floats:
    """The normal at each corner of its triangles, (3m, 3): that of all triangles there which hardly turn from it."""
    corners, normals = solid.triangles.reshape(-1), solid.normals
    order = np.argsort(corners, kind="stable")
    starts = np.searchsorted(corners[order], np.arange(len(solid.vertices)))
    counts = np.bincount(corners, minlength=len(solid.vertices))
    around = np.full((len(solid.vertices), int(counts.max())), -1)
    place = np.arange(len(corners)) - np.repeat(starts, counts)
    around[corners[order], place] = order // 3
    beside = around[corners]
    own = np.repeat(normals, 3, axis=0)
    other = normals[beside]
    near = (np.einsum("ckx,cx->ck", other, own) > cos(CREASE)) & (beside >= 0)
    summed = (other * near[..., None]).sum(axis=1)
    size = np.linalg.norm(summed, axis=1, keepdims=True)
    return np.asarray(np.where(size > 0, summed / np.where(size > 0, size, 1.0), (0.0, 0.0, 1.0)))


def rod(path: Sequence[Point3], section: Section) -> Skin:
    """A section carried along a plane path, its turns mitred: points (across, along the normal of the path's plane) of
    the section, mm."""
    points = np.array(path, dtype=float)
    ahead = np.diff(points, axis=0)
    ahead /= np.linalg.norm(ahead, axis=1)[:, None]
    normal = _normal_of(ahead)
    before, behind = np.vstack([ahead[:1], ahead]), np.vstack([ahead, ahead[-1:]])
    # Along the normal and across make a frame with the way ahead; at a turn the mitre carries what is across further.
    across = np.cross(normal, before), np.cross(normal, behind)
    mitre = across[0] + across[1]
    mitre /= np.linalg.norm(mitre, axis=1)[:, None]
    stretch = 1 / np.einsum("si,si->s", mitre, across[0])
    flat = np.array(section)
    corners = (
        points[:, None]
        + flat[None, :, :1] * (mitre * stretch[:, None])[:, None]
        + flat[None, :, 1:] * normal[None, None]
    )
    return Skin(corners, section)


def _normal_of(ahead: Floats) -> Floats:
    """The normal of the plane that a path lies in."""
    for way in ahead[1:]:
        found = np.cross(ahead[0], way)
        if np.linalg.norm(found) > 1e-9:
            return np.asarray(found / np.linalg.norm(found))
    helper = np.array([1.0, 0.0, 0.0]) if abs(ahead[0][0]) < 0.9 else np.array([0.0, 1.0, 0.0])
    found = np.cross(ahead[0], helper)
    return np.asarray(found / np.linalg.norm(found))


def turned(profile: Sequence[tuple[float, float]]) -> Skin:
    """A profile turned about the z axis: points (from the axis, along z), z never falling; what is on the axis closes
    it, mm."""
    rings = [(r, z) for r, z in profile if r > 0]
    count = facets_of(max(r for r, _ in rings))
    angles = 2 * pi * np.arange(count) / count
    circle = np.column_stack([np.cos(angles), np.sin(angles)])
    levels = np.empty((len(rings), count, 3))
    levels[..., :2] = circle[None] * np.array([r for r, _ in rings])[:, None, None]
    levels[..., 2] = np.array([z for _, z in rings])[:, None]
    return Skin(levels, tuple((float(x), float(y)) for x, y in circle))
