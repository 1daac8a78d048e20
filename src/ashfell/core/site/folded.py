"""Units folded with the host that they stand in: every part cut at the folds and mitred there, one flat pane for each
facet.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import chain, pairwise

import numpy as np

from ashfell.core.parts import Part, bounds
from ashfell.core.plane.points import Floats
from ashfell.core.site.hosts.host import Host
from ashfell.core.solid.fold import Fold, facet_of, smoothed

ROUND = 9
"""Decimals of a mm to which folds are told."""
ALIKE = 5
"""Decimals of a mm by which units folded alike are told."""


@dataclass(frozen=True)
class Folds:
    """How a unit folds, seen from the facet that it begins in: the planes that bound the facets it reaches into, the
    first and the last open, where each of these facets stands, and where the unit does before it is folded; matrices by
    rows, mm."""

    planes: tuple[Fold, ...]
    frames: tuple[tuple[float, ...], ...]
    stands: tuple[float, ...]

    @property
    def near(self) -> tuple[float, ...]:
        """The same for all that fold alike, whatever was rounded on the way."""
        planes = [value for plane in self.planes for value in (plane.at, plane.slope, plane.pivot)]
        return tuple(round(value, ALIKE) + 0.0 for value in (*planes, *chain(*self.frames), *self.stands))


def crosses(host: Host, parts: Sequence[Part], in_host: Floats) -> bool:
    """Whether any of some parts, standing in a host laid out flat, reaches over one of its folds."""
    first, last = _reached(host, bounds(parts), in_host)
    return first != last


def _reached(host: Host, box: Floats, in_host: Floats) -> tuple[int, int]:
    """The first and the last facet of a host that a box reaches into."""
    corners = np.array([(u, v, w) for u in box[:, 0] for v in box[:, 1] for w in box[:, 2]])
    placed = corners @ in_host[:3, :3].T + in_host[:3, 3]
    (left, _, back), (right, _, front) = placed.min(axis=0), placed.max(axis=0)
    depth = float(back), float(front)
    first = sum(1 for fold in host.folds if left >= fold.behind.reach(*depth)[1])
    return first, sum(1 for fold in host.folds if right > fold.reach(*depth)[0])


def folds_under(host: Host, parts: Sequence[Part], in_host: Floats) -> tuple[Folds, Floats]:
    """How parts that stand in a host laid out flat fold with it, and where what they become then stands in the site,
    (4, 4)."""
    first, last = _reached(host, bounds(parts), in_host)
    open_ended = [Fold(-np.inf), *host.folds[first:last], Fold(np.inf)]
    start = 0.0 if first == 0 else host.folds[first - 1].at
    shift = np.eye(4)
    shift[0, 3] = start
    origin = host.frame(start) @ shift
    back = np.linalg.inv(origin)
    frames = []
    for index in range(first, last + 1):
        at = 0.0 if index == 0 else host.folds[index - 1].at
        frames.append(_kept(back @ host.frame(at) @ shift))
    planes = tuple(
        replace(plane, at=round(plane.at - start, ROUND), slope=round(plane.slope, 12)) for plane in open_ended
    )
    stands = np.linalg.inv(shift) @ in_host
    return Folds(planes, tuple(frames), _kept(stands)), origin


def _kept(matrix: Floats) -> tuple[float, ...]:
    rounded = np.round(matrix, 13)
    rounded[:3, 3] = np.round(matrix[:3, 3], ROUND)
    return tuple((rounded + 0.0).reshape(-1).tolist())


@lru_cache(maxsize=256)
def folded(parts: tuple[Part, ...], folds: Folds, smooth: bool = False) -> tuple[Part, ...]:
    """The parts of a unit folded, in the space of the facet that it begins in; those folded alike are kept. With
    ``smooth`` all but glass is shaded as if it ran on round the folds."""
    return tuple(piece for part in parts for piece in _pieces(part.moved(_matrix(folds.stands)), folds, smooth))


def _matrix(row: tuple[float, ...]) -> Floats:
    return np.array(row).reshape(4, 4)


def _pieces(part: Part, folds: Folds, smooth: bool) -> Iterator[Part]:
    """A part's piece in each facet, where that stands."""
    found: list[Part] = []
    for (start, end), frame in zip(pairwise(folds.planes), folds.frames, strict=True):
        before, behind = (plane if np.isfinite(plane.at) else None for plane in (start, end))
        planes = before and before.behind, behind
        for solid in facet_of(part.solid, *planes):
            if smooth and part.role != "glass":
                solid = smoothed(solid, *planes)
            found.append(replace(part, solid=solid).moved(_matrix(frame)))
    if len(found) == 1:
        yield from found
        return
    for number, piece in enumerate(found):
        yield replace(piece, id=f"{part.id}.f{number + 1}")
