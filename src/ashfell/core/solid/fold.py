"""Solids folded: laid out flat along u, cut where the surface folds, each piece carried on to the mitre between two
facets.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import manifold3d
import numpy as np
from numpy.typing import NDArray

from ashfell.core.plane.points import Floats
from ashfell.core.solid.boolean import of_manifold
from ashfell.core.solid.topology import OfCorners, Solid

Integers = NDArray[np.int64]

ON = 1e-7
"""What is nearer than this to a fold lies on it, mm."""
NEAR = 1e-4
"""And this near where it has been cut there, mm."""
FACING = 0.3
"""Faces that look less along the surface than this run on round a fold."""


@dataclass(frozen=True)
class Fold:
    """The plane of the mitre between two facets, as it is seen from the one before it: at ``at`` along it where w is
    ``pivot``, moving by ``slope`` for each mm of w outwards."""

    at: float
    slope: float = 0.0
    pivot: float = 0.0

    @property
    def behind(self) -> Fold:
        """As it is seen from the facet behind it."""
        return replace(self, slope=-self.slope)

    def along(self, w: float) -> float:
        """Where the plane is at a depth, u in mm."""
        return self.at + self.slope * (w - self.pivot)

    def reach(self, low: float, high: float) -> tuple[float, float]:
        """Between which places the plane stands from one depth to another, with where it folds, mm."""
        places = (self.at, self.along(low), self.along(high))
        return min(places), max(places)


def facet_of(solid: Solid, start: Fold | None, end: Fold | None) -> list[Solid]:
    """What of a solid, laid out flat, lies in a facet between two planes as they are seen from it, mm. What is cut at a
    fold is carried on, or cut back, to the mitre: as a straight run of its section there.

    Whatever shares no volume laid out flat shares none folded.
    """
    (left, _, back), (right, _, front) = solid.bounds.tolist()
    if (start and right <= start.at + ON) or (end and left >= end.at - ON):
        return []
    starts = start is not None and left < start.reach(back, front)[1] + ON
    ends = end is not None and right > end.reach(back, front)[0] - ON
    if not starts and not ends:
        return [solid]
    made = solid.manifold()
    if starts:
        assert start
        made = _mitred(made, start, (back, front), 1.0)
    if ends:
        assert end
        made = _mitred(made, end, (back, front), -1.0)
    return of_manifold(made.simplify(ON))


def smoothed(solid: Solid, start: Fold | None, end: Fold | None) -> Solid:
    """What lies in a facet, laid out flat, shaded as if its faces ran on round the folds that it reaches."""
    return replace(solid, shading=OfCorners(lambda: _running_on(solid, start, end)))


def _running_on(solid: Solid, start: Fold | None, end: Fold | None) -> Floats:
    corners = solid.vertices[solid.triangles.reshape(-1)]
    shading = solid.corner_normals.copy()
    for plane in (start, end):
        if plane is None:
            continue
        across = np.array([1.0, 0.0, -plane.slope]) / np.hypot(1.0, plane.slope)
        on = np.abs(corners[:, 0] - plane.at - plane.slope * (corners[:, 2] - plane.pivot)) < NEAR
        turns = on & (np.abs(shading[:, 0]) < FACING)
        shading[turns] -= (shading[turns] @ across)[:, None] * across
        shading[turns] /= np.linalg.norm(shading[turns], axis=1, keepdims=True)
    return shading


def _mitred(solid: manifold3d.Manifold, fold: Fold, depth: tuple[float, float], way: float) -> manifold3d.Manifold:
    """A solid cut at a fold, what lies ``way`` of it (1 behind it, -1 before it) being kept, and taken to its mitre."""
    cut = solid.trim_by_plane((way, 0.0, 0.0), way * fold.at)
    low, high = fold.reach(*depth)
    further = high - fold.at if way < 0 else fold.at - low
    if further > ON:
        cut = _carried_on(cut, fold.at, -way * (further + 1.0))
    normal = np.array([way, 0.0, -way * fold.slope])
    length = float(np.linalg.norm(normal))
    offset = way * (fold.at - fold.slope * fold.pivot) / length
    return cut.trim_by_plane(tuple((normal / length).tolist()), offset)


def _carried_on(solid: manifold3d.Manifold, at: float, by: float) -> manifold3d.Manifold:
    """A solid whose faces on the plane at u are moved along it, straight walls being left behind them."""
    mesh = solid.to_mesh64()
    vertices = np.asarray(mesh.vert_properties, dtype=float)[:, :3].copy()
    triangles = np.asarray(mesh.tri_verts, dtype=np.int64)
    on = np.abs(vertices[:, 0] - at) < ON
    vertices[on, 0] = at
    caps = on[triangles].all(axis=1)
    if not caps.any():
        return solid
    moved = np.full(len(vertices), -1, dtype=np.int64)
    own = np.unique(triangles[caps])
    moved[own] = len(vertices) + np.arange(len(own))
    sides = _sides(triangles[caps], moved)
    further = vertices[own] + (by, 0.0, 0.0)
    whole = np.concatenate([triangles[~caps], moved[triangles[caps]], sides])
    return manifold3d.Manifold(manifold3d.Mesh64(np.concatenate([vertices, further]), whole.astype(np.uint64)))


def _sides(caps: Integers, moved: Integers) -> Integers:
    """Two triangles for each edge round some caps, from where it was to where it is moved."""
    edges = np.concatenate([caps[:, [0, 1]], caps[:, [1, 2]], caps[:, [2, 0]]])
    known = {(int(a), int(b)) for a, b in edges}
    rim = np.array([(a, b) for a, b in known if (b, a) not in known], dtype=np.int64)
    a, b = rim[:, 0], rim[:, 1]
    return np.concatenate([np.stack([a, b, moved[b]], axis=1), np.stack([a, moved[b], moved[a]], axis=1)])
