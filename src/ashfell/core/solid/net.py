"""A net: a plate between two levels with shafts through it, each narrower at both faces than between them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ashfell.core.plane.points import Floats
from ashfell.core.solid.form import Form
from ashfell.core.solid.topology import Indices, Paths, Solid, Topology, welded
from ashfell.core.solid.triangles import polygon_triangles

Hole = tuple[Floats, Floats]
"""The narrow path of a shaft at both faces, and the wide one between them: (n, 2) each, counter-clockwise, mm."""


@dataclass(frozen=True, eq=False)
class Net(Form):
    """A net in an outline (n, 2); ``levels`` are its back, where its shafts widen and narrow again, and its
    front, mm.
    """

    outline: Floats
    holes: tuple[Hole, ...]
    levels: tuple[float, float, float, float]

    def solids(self) -> list[Solid]:
        return [_net(self.outline, self.holes, self.levels)]


def _net(pane: Floats, holes: Sequence[Hole], levels: tuple[float, float, float, float]) -> Solid:
    """The cames as one closed solid: an outer and an inner flange with narrow holes, and hearts with wide ones between.

    Each hole is a shaft of four levels: narrow, wide, wide, narrow; the annuli between narrow and wide are the flanges'
    inner faces.
    """
    low, heart_low, heart_high, high = levels
    count = len(pane)
    flat = [pane, pane, *(path for narrow, wide in holes for path in (narrow, narrow, wide, wide, narrow, narrow))]
    heights = [low, high, *[low, heart_low, heart_low, heart_high, heart_high, high] * len(holes)]
    placed = np.empty((sum(map(len, flat)), 3))
    placed[:, :2] = np.concatenate(flat)
    placed[:, 2] = np.repeat(heights, [len(path) for path in flat])
    here = np.arange(count, dtype=np.int32)
    ahead = (here + 1) % count
    triangles = [np.stack([here, ahead, ahead + count, here, ahead + count, here + count], axis=1).reshape(-1, 3)]
    faces = [np.repeat(here, 2) + 2]
    base, face = 2 * count, count + 2
    caps: tuple[list[Indices], list[Indices]] = ([here], [here + count])
    known: dict[int, Paths] = {}
    for narrow, _ in holes:
        size = len(narrow)
        sides, owners = _shaft(size)
        round_ = np.arange(size, dtype=np.int32)
        triangles.append(sides + base)
        faces.append(owners + face)
        known |= {
            face + flange: (base + ring * size + round_, base + (ring + 1) * size + round_)
            for flange, ring in ((0, 1), (1, 3))
        }
        for cap, level in zip(caps, (0, 5), strict=True):
            cap.append(base + level * size + round_[::-1])
        base, face = base + 6 * size, face + 2 + 3 * size
    lower, upper = (np.concatenate(rings) for rings in caps)
    cap_triangles = polygon_triangles(placed[lower][:, :2], np.cumsum([len(ring) for ring in caps[0]]).tolist())
    triangles += [lower[cap_triangles][:, ::-1], upper[cap_triangles]]
    faces += [np.full(len(cap_triangles), which) for which in (0, 1)]
    known |= {which: tuple(rings) for which, rings in enumerate(caps)}
    topology = Topology(np.concatenate(triangles).astype(np.int32), np.concatenate(faces).astype(np.int32), known)
    return welded(Solid(placed, topology))


@lru_cache(maxsize=64)
def _shaft(size: int) -> tuple[Indices, Indices]:
    """The five rings between the six paths of a hole, and the face each triangle is of: the two flanges, then the
    walls.
    """
    k = np.arange(size)
    after = (k + 1) % size
    triangles, faces = [], []
    for ring in range(5):
        a, b = ring * size + k, ring * size + after
        c, d = b + size, a + size
        triangles.append(np.stack([a, c, b, a, d, c], axis=1).reshape(-1, 3))
        faces.append(np.full(2 * size, ring // 2) if ring in (1, 3) else np.repeat(k, 2) + 2 + ring // 2 * size)
    return np.concatenate(triangles).astype(np.int32), np.concatenate(faces).astype(np.int32)
