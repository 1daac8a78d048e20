"""Solids compared in tiles: what can share volume is found in plan first, and of a large solid only the tiles that are
near are compared."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

import manifold3d
import numpy as np
import shapely

from ashfell.core.plane.points import Floats
from ashfell.core.solid.topology import Solid

MANY, OFTEN = 2_000, 8
"""A solid of more triangles than this is compared in tiles of fewer, where it is compared more often than this."""

Pair = tuple[int, int]


@dataclass(frozen=True, eq=False)
class Tile:
    """A solid, or a piece of one: its corners (n, 3), mm, and how it is made."""

    corners: Floats
    made: Callable[[], manifold3d.Manifold]

    @cached_property
    def solid(self) -> manifold3d.Manifold:
        """The solid for booleans."""
        return self.made()

    @cached_property
    def bounds(self) -> Floats:
        """(2, 3): least and greatest corner, mm."""
        return np.array([self.corners.min(axis=0), self.corners.max(axis=0)])


class Crossing(NamedTuple):
    """Two solids, by their numbers, and a tile of each."""

    pair: Pair
    tiles: tuple[Tile, Tile]


def crossings(solids: Sequence[Solid], pairs: Sequence[Pair], least: float) -> Mapping[Pair, list[tuple[Tile, Tile]]]:
    """For those of some pairs of solids that may share more volume than ``least``, mm³, the tiles that do."""
    times = Counter(index for pair in pairs for index in pair)
    tiles = {index: _tiles(solids[index], often) for index, often in times.items()}
    near = [Crossing(pair, met) for pair in pairs for met in _near(*(tiles[index] for index in pair))]
    over = _most_shared([crossing.tiles for crossing in near])
    found: dict[Pair, list[tuple[Tile, Tile]]] = defaultdict(list)
    for crossing, most in zip(near, over, strict=True):
        if most > least:
            found[crossing.pair].append(crossing.tiles)
    return found


def _tiles(solid: Solid, times: int) -> list[Tile]:
    if len(solid.triangles) <= MANY or times <= OFTEN:
        return [Tile(solid.vertices, solid.manifold)]
    return list(_halved(solid.manifold()))


def _halved(solid: manifold3d.Manifold) -> Iterator[Tile]:
    """A solid in pieces of few triangles, halved across its longest side again and again."""
    corners = np.asarray(solid.to_mesh64().vert_properties)[:, :3]
    low, high = corners.min(axis=0), corners.max(axis=0)
    axis = int((high - low).argmax())
    halves = solid.split_by_plane(np.eye(3)[axis], float(low[axis] + high[axis]) / 2) if solid.num_tri() > MANY else ()
    if not halves or max(half.num_tri() for half in halves) >= solid.num_tri():  # so dense that halving leads nowhere
        yield Tile(corners, lambda: solid)
        return
    for half in halves:
        yield from _halved(half)


def _near(some: Sequence[Tile], others: Sequence[Tile]) -> list[tuple[Tile, Tile]]:
    """Those tiles of two solids whose boxes meet."""
    if len(some) == len(others) == 1:
        return [(some[0], others[0])]
    one, other = (np.array([tile.bounds for tile in tiles]) for tiles in (some, others))
    low = np.maximum(one[:, None, 0], other[None, :, 0])
    high = np.minimum(one[:, None, 1], other[None, :, 1])
    return [(some[a], others[b]) for a, b in np.argwhere((low < high).all(axis=2)).tolist()]


def _most_shared(pairs: Sequence[tuple[Tile, Tile]]) -> list[float]:
    """The volume that each of some pairs can share at most, mm³: what the regions round them share as seen from the
    front, times how far they reach over each other in depth."""
    if not pairs:
        return []
    tiles = list({id(tile): tile for pair in pairs for tile in pair}.values())
    place = {id(tile): index for index, tile in enumerate(tiles)}
    regions = shapely.convex_hull([shapely.MultiPoint(tile.corners[:, :2]) for tile in tiles])
    depths = np.array([tile.bounds[:, 2] for tile in tiles])
    a, b = np.array([[place[id(tile)] for tile in pair] for pair in pairs]).T
    deep = np.minimum(depths[a, 1], depths[b, 1]) - np.maximum(depths[a, 0], depths[b, 0])
    over: list[float] = (shapely.area(shapely.intersection(regions[a], regions[b])) * deep).tolist()
    return over
