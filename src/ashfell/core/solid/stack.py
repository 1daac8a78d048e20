"""A stack: a solid of which every level is a rectangle, such as a member that lies square against worked ones."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ashfell.core.plane.points import TOUCH, Floats
from ashfell.core.solid.form import Form
from ashfell.core.solid.topology import Indices, Solid, Topology

SAME = 1e-9
"""How near two planes are taken for one, mm."""
OUTWARDS = np.array([-1.0, 1.0, 1.0, -1.0])
"""Which way each side of a rectangle lies: its foot, right, head and left."""


@dataclass(frozen=True, eq=False)
class Stack(Form):
    """Zones one on the other.

    Attributes
    ----------
    heights : (z, 2)
        The w where each zone begins and ends, which is where the next begins, mm.
    sides : (z, 2, 4)
        Where the foot, right, head and left of its rectangle are there (v, u, v, u), mm; between its two ends each side
        of a zone is a plane, and where a zone begins otherwise than the one below ends there is a step.
    """

    heights: Floats
    sides: Floats

    def solids(self) -> list[Solid]:
        if not len(self.heights):
            return []
        out = self.sides * OUTWARDS
        # At each break the rectangle below, the one above, and what both have.
        below, above = np.concatenate([out[:1, 0], out[:, 1]]), np.concatenate([out[:, 0], out[-1:, 1]])
        more = below - above
        ways = np.where(np.abs(more) < SAME, 0, np.sign(more)).astype(int)
        slopes = (out[:, 1] - out[:, 0]) / (self.heights[:, 1] - self.heights[:, 0])[:, None]
        on = (np.abs(slopes[1:] - slopes[:-1]) < SAME) & (ways[1:-1] == 0)
        topology, used = _pattern(tuple(map(tuple, ways.tolist())), tuple(map(tuple, on.tolist())))
        levels = np.stack([below, np.minimum(below, above), above], axis=1) * OUTWARDS
        placed = np.empty((*levels.shape[:2], 4, 3))
        placed[..., 0] = levels[..., [3, 1, 1, 3]]
        placed[..., 1] = levels[..., [0, 0, 2, 2]]
        placed[..., 2] = np.append(self.heights[:, 0], self.heights[-1, 1])[:, None, None]
        return [Solid(placed.reshape(-1, 3)[used], topology)]

    @property
    def length(self) -> float:
        """Its longest side, mm."""
        low, high = self.sides[..., [3, 0]], self.sides[..., [1, 2]]
        spans = high.reshape(-1, 2).max(axis=0) - low.reshape(-1, 2).min(axis=0) if len(low) else np.zeros(1)
        return float(spans.max())

    @property
    def is_sound(self) -> bool:
        """Whether each of its rectangles has some width, also what two share at a step."""
        shared = np.minimum(self.sides[1:, 0] * OUTWARDS, self.sides[:-1, 1] * OUTWARDS)
        out = np.concatenate([(self.sides * OUTWARDS).reshape(-1, 4), shared])
        return bool((out[:, :2] + out[:, [2, 3]] > TOUCH).all()) if len(out) else True

    def beside(self, low: float, high: float, bottom: float, top: float) -> Stack | None:
        """What is left of it beside a block from u ``low`` to ``high``, one of them beyond it, between two heights;
        None where that is no stack."""
        split = self._split_at(bottom)._split_at(top)
        side, limit = (3, high) if low < split.sides[..., 3].min(initial=np.inf) else (1, low)
        sides, within = split.sides.copy(), (split.heights[:, 0] >= bottom - SAME) & (split.heights[:, 1] <= top + SAME)
        reached = (sides[..., side] - limit) * OUTWARDS[side] > SAME
        if (reached[within, 0] != reached[within, 1]).any():
            return None
        sides[..., side] = np.where(reached & within[:, None], limit, sides[..., side])
        kept = np.flatnonzero((sides[..., 1] - sides[..., 3] > TOUCH).all(axis=1))
        if len(kept) and kept[-1] - kept[0] + 1 != len(kept):
            return None
        made = Stack(split.heights[kept], sides[kept])
        return made if made.is_sound else None

    def _split_at(self, height: float) -> Stack:
        """With a zone that ends at a height."""
        (place,) = np.nonzero((self.heights[:, 0] < height - SAME) & (self.heights[:, 1] > height + SAME))
        if not len(place):
            return self
        k = int(place[0])
        (start, end), (first, last) = self.heights[k], self.sides[k]
        between = first + (last - first) * ((height - start) / (end - start))
        heights, sides = np.array([[start, height], [height, end]]), np.array([[first, between], [between, last]])
        return Stack(
            np.concatenate([self.heights[:k], heights, self.heights[k + 1 :]]),
            np.concatenate([self.sides[:k], sides, self.sides[k + 1 :]]),
        )


Ways = tuple[tuple[int, ...], ...]
"""At each break, for each side, 1 where the rectangle below goes further out, -1 where the one above does, else 0."""
BELOW, SHARED, ABOVE = 0, 1, 2


@lru_cache(maxsize=256)
def _pattern(ways: Ways, on: tuple[tuple[bool, ...], ...]) -> tuple[Topology, Indices]:
    """The topology of all stacks with steps of one pattern, and which of the corners (break; below, shared, above;
    corner) are its vertices. ``on`` tells which sides run on in one plane over each break between zones."""
    made = _Faces()
    last = len(ways) - 1
    faces = [0, 1, 2, 3]
    for zone in range(last):
        if zone:
            faces = [faces[k] if on[zone - 1][k] else 4 * zone + k for k in range(4)]
        for k in range(4):
            foot, head = _chain(ways[zone], zone, ABOVE, k), _chain(ways[zone + 1], zone + 1, BELOW, k)
            made.add(faces[k], [(foot[0], b, a) for a, b in itertools.pairwise(head)])
            made.add(faces[k], [(a, b, head[-1]) for a, b in itertools.pairwise(foot)])
    face = 4 * last
    for brk in range(1, last):
        for k, way in enumerate(ways[brk]):
            if way:
                level = BELOW if way > 0 else ABOVE
                a, b, c, d = (
                    _corner(ways[brk], brk, at, n) for at, n in ((level, k), (level, k + 1), (1, k + 1), (1, k))
                )
                made.add(face + (way < 0), [(a, b, c), (a, c, d)] if way > 0 else [(c, b, a), (d, c, a)])
        face += 2
    low, high = ([_corner(ways[n], n, SHARED, k) for k in range(4)] for n in (0, last))
    made.add(face, [(low[2], low[1], low[0]), (low[3], low[2], low[0])])
    made.add(face + 1, [(high[0], high[1], high[2]), (high[0], high[2], high[3])])
    return made.done()


class _Faces:
    """Triangles of named corners, gathered face by face."""

    def __init__(self) -> None:
        self.triangles: list[tuple[int, int, int]] = []
        self.faces: list[int] = []

    def add(self, face: int, triangles: Sequence[tuple[int, int, int]]) -> None:
        """Triangles of a face."""
        self.triangles += triangles
        self.faces += [face] * len(triangles)

    def done(self) -> tuple[Topology, Indices]:
        """The topology, its faces counted from 0, and the corners that it uses, in the order of its vertices."""
        used, triangles = np.unique(np.array(self.triangles), return_inverse=True)
        _, faces = np.unique(np.array(self.faces), return_inverse=True)
        return Topology(triangles.reshape(-1, 3).astype(np.int32), faces.astype(np.int32)), used.astype(np.int32)


def _corner(ways: tuple[int, ...], brk: int, level: int, k: int) -> int:
    """The k-th corner of a rectangle at a break; one that is also a corner of what both have is known as that."""
    beside = ways[(k - 1) % 4], ways[k % 4]
    if (level == BELOW and max(beside) <= 0) or (level == ABOVE and min(beside) >= 0):
        level = SHARED
    return (brk * 3 + level) * 4 + k % 4


def _chain(ways: tuple[int, ...], brk: int, level: int, k: int) -> list[int]:
    """The corners along the k-th side of a rectangle at a break, with those of what both have that lie on it."""
    ends = [_corner(ways, brk, level, n) for n in (k, k + 1)]
    if (level == BELOW and ways[k] > 0) or (level == ABOVE and ways[k] < 0):
        return ends
    shared = [_corner(ways, brk, SHARED, n) for n in (k, k + 1)]
    return list(dict.fromkeys([ends[0], *shared, ends[1]]))
