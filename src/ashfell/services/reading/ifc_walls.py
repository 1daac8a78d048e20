"""The course of a wall of an IFC: straight, or bent in stretches, by the outline of its foot; and what is in it, as if
it were laid out flat.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon

from ashfell.core.base.document import Data
from ashfell.core.plane.points import polygons

if TYPE_CHECKING:
    from ashfell.services.reading.ifc import Points

FLAT = 0.5
"""How far corners of a face may be from level or plumb, mm."""
MOST = 60
"""Stretches of one wall."""
CAVITY = 300.0
"""Leaves of a wall stand no further apart, mm."""
ROUND = 0.5
"""How far the corners of an arc may be from it, mm."""


@dataclass(frozen=True)
class Course:
    """Where a wall stands: a frame for each stretch, from the wall laid out flat (along it, inwards, up) to the site,
    and at which places along it they begin and end, mm."""

    frames: tuple[Points, ...]
    marks: tuple[float, ...]

    def back(self, at: float) -> Points:
        """From the site to the wall laid out flat, at a place along it."""
        index = int(np.clip(np.searchsorted(self.marks, at, side="right") - 1, 0, len(self.frames) - 1))
        return np.asarray(np.linalg.inv(self.frames[index]))

    def flat(self, points: Points) -> Points:
        """Points in the site (n, 3) where the wall is laid out flat: each by the stretch that it is beside."""
        found = np.empty((len(self.frames), len(points), 3))
        off = np.empty((len(self.frames), len(points)))
        for index, (frame, (low, high)) in enumerate(zip(self.frames, pairwise(self.marks), strict=True)):
            back = np.linalg.inv(frame)
            own = points @ back[:3, :3].T + back[:3, 3]
            beyond = np.maximum(np.maximum(low - own[:, 0], own[:, 0] - high), 0.0)
            if len(self.frames) > 1:
                own[:, 0] = own[:, 0].clip(low, high)
            found[index], off[index] = own, beyond
        nearest = off.argmin(axis=0)
        return np.asarray(found[nearest, np.arange(len(points))])


def straight(matrix: Points) -> Course:
    """The course of a straight wall."""
    return Course((matrix,), (-np.inf, np.inf))


@dataclass(frozen=True)
class Bent:
    """A wall that bends: its outer corners from start to end (n + 1, 2) in its own space, and its thickness, mm."""

    corners: Points
    thickness: float

    @property
    def lengths(self) -> Points:
        return np.asarray(np.hypot(*np.diff(self.corners, axis=0).T))

    def course(self, matrix: Points, foot: float) -> Course:
        """Where its stretches stand, its foot at a height in its own space."""
        marks = np.concatenate([[0.0], np.cumsum(self.lengths)])
        frames = []
        for (a, b), at in zip(pairwise(self.corners), marks, strict=False):
            along = (b - a) / np.hypot(*(b - a))
            own = np.eye(4)
            own[:2, 0], own[:2, 1] = along, (-along[1], along[0])
            own[:3, 3] = (*(a - along * at), foot)
            frames.append(matrix @ own)
        return Course(tuple(frames), tuple(marks.tolist()))

    def said(self, told: Callable[[float], str]) -> Data:
        """What a document says of how it bends, lengths as they are ``told``: an arc, or its corners."""
        first, last = self.corners[0], self.corners[-1]
        along = (last - first) / np.hypot(*(last - first))
        out = np.array([along[1], -along[0]])
        reach = float(np.hypot(*(last - first)))
        if (arc := self._arc(along, out, reach)) is not None:
            return {"kind": "arc", "rise": told(arc), "facets": len(self.corners) - 1}
        inner = self.corners[1:-1] - first
        return {"kind": "bent", "points": [{"along": told(p @ along), "out": told(p @ out)} for p in inner]}

    def _arc(self, along: Points, out: Points, reach: float) -> float | None:
        """How far an arc rises over the straight between its ends, that all its corners lie on, equally far apart."""
        if len(self.corners) < 4 or np.ptp(self.lengths) > ROUND:
            return None
        own = self.corners - self.corners[0]
        x, y = own @ along - reach / 2, own @ out
        # A circle through both ends has its centre on the line between them: x² + (y - c)² = (reach / 2)² + c².
        far = np.abs(y).argmax()
        if abs(y[far]) < ROUND:
            return None
        c = float((x[far] ** 2 + y[far] ** 2 - (reach / 2) ** 2) / (2 * y[far]))
        radius = float(np.hypot(reach / 2, c))
        if np.abs(np.hypot(x, y - c) - radius).max() > ROUND:
            return None
        return c + radius if y[far] > 0 else c - radius


def bent(points: Points, triangles: NDArray[np.int64]) -> Bent | None:
    """How a wall bends, by the outline of its foot; None where that is no band of one thickness."""
    ring = _foot(points, triangles)
    if ring is None or len(ring) % 2 or not 6 <= len(ring) <= 2 * MOST + 2:
        return None
    half = len(ring) // 2
    found = [one for shift in range(len(ring)) if (one := _band(np.roll(ring, -shift, axis=0), half)) is not None]
    # Its own space begins where it begins.
    return min(found, key=lambda one: float(np.hypot(*one.corners[0])), default=None)


def _foot(points: Points, triangles: NDArray[np.int64]) -> Points | None:
    """The outline of the lowest faces, counter-clockwise, (n, 2)."""
    low = points[:, 2].min()
    level = (points[triangles][..., 2] < low + FLAT).all(axis=1)
    shapes = shapely.polygons(points[triangles[level]][..., :2]) if level.any() else []
    joined = shapely.union_all([one for one in shapes if one.area > 0]).buffer(FLAT / 50, join_style="mitre")
    pieces = [one for one in polygons(joined.buffer(-FLAT / 50, join_style="mitre")) if one.area > 1]
    if len(pieces) > 1:  # leaves with a cavity between them
        closed = shapely.union_all(pieces).buffer(CAVITY / 2, join_style="mitre", mitre_limit=20)
        pieces = [*polygons(closed.buffer(-CAVITY / 2, join_style="mitre", mitre_limit=20))]
    if len(pieces) != 1 or pieces[0].interiors:
        return None
    outline = shapely.simplify(Polygon(pieces[0].exterior), FLAT / 50)
    ring = np.array(shapely.orient_polygons(outline).exterior.coords)[:-1]
    if len(ring) > 2 * MOST + 2:
        return None
    known = points[points[:, 2] < low + FLAT][:, :2]
    return np.asarray(known[np.linalg.norm(ring[:, None] - known[None], axis=2).argmin(axis=1)])


def _band(ring: Points, half: int) -> Bent | None:
    """A band whose outer corners are the first of a ring, which runs so that what is within is on its left."""
    outer, inner = ring[:half], ring[half:][::-1]
    thick: list[float] = []
    for (a, b), (c, d) in zip(pairwise(outer), pairwise(inner), strict=True):
        long = np.hypot(*(b - a))
        if long < 1:
            return None
        left = np.array([-(b - a)[1], (b - a)[0]]) / long
        thick += [float((c - a) @ left), float((d - a) @ left)]
    if np.ptp(thick) > FLAT or min(thick) < 1 or _turns_back(outer):
        return None
    return Bent(outer, float(np.mean(thick)))


def _turns_back(outer: Points) -> bool:
    steps = np.diff(outer, axis=0)
    return bool((np.einsum("ij,ij->i", steps[:-1], steps[1:]) < 0).any())
