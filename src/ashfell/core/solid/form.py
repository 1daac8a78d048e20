"""Forms: what a solid is made from, decided with the layout and not yet made.

A form holds numbers alone (corners, outlines, heights): making it never refuses, and its lengths and cuts can be read
without making it.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property
from math import acos, degrees

import numpy as np
from shapely.geometry import Polygon

from ashfell.core.plane.points import Floats
from ashfell.core.solid.plate import boxes, extrusions, loft, plate
from ashfell.core.solid.sweep import Run, Section, ends_meet, has_repeats, strip, strip_topology
from ashfell.core.solid.topology import Solid, Topology, torn

SIDE_TO_SIDE = np.array([[0, 1], [1, 2], [2, 3], [3, 0]])
"""The two corners of each side of a rectangle."""


class Form(ABC):
    """What a solid, or a few of them, are made from."""

    @abstractmethod
    def solids(self) -> list[Solid]:
        """The solids; none where an inset has shrunk it away."""

    @classmethod
    def made(cls, forms: Sequence[Form]) -> list[list[Solid]]:
        """The solids of many forms of this kind."""
        return [form.solids() for form in forms]

    @property
    def length(self) -> float:
        """Its greatest length along its axis, mm; 0 where it has none."""
        return 0.0

    @property
    def cuts(self) -> tuple[float, float]:
        """The angle of its two ends, degrees: 90 is square, 45 a mitre."""
        return (90.0, 90.0)


@dataclass(frozen=True, eq=False)
class Sweep(Form):
    """A section along stations: ``corners`` (s, k, 3) mm. ``topology`` is known where no two stations share a point."""

    corners: Floats
    section: Section
    closed: bool = False
    bent: bool = False
    topology: Topology | None = None

    def solids(self) -> list[Solid]:
        if self.topology is not None:
            return [Solid(self.corners.reshape(-1, 3), self.topology)]
        made = strip(self.corners, self.section, self.closed, self.bent)
        if not len(made.triangles):
            return []
        return torn(made) if not self.closed and ends_meet(self.corners) else [made]

    @cached_property
    def length(self) -> float:
        """Along its longest edge, mm."""
        ahead = np.diff(self.corners, axis=0, append=self.corners[:1] if self.closed else self.corners[-1:])
        return float(np.linalg.norm(ahead, axis=2).sum(axis=0).max())

    @cached_property
    def cuts(self) -> tuple[float, float]:
        """The angle between each end and the edge it cuts, degrees."""
        if self.closed:
            return (90.0, 90.0)
        return _cut(self.corners[0], self.corners[1]), _cut(self.corners[-1], self.corners[-2])


def _cut(end: Floats, behind: Floats) -> float:
    """The angle between an end, taken in the plane of the unit, and the member."""
    along = (behind - end)[:, :2].mean(axis=0)
    low, high = end[:, :2] @ np.array([-along[1], along[0]]), end[:, :2]
    across = high[int(low.argmax())] - high[int(low.argmin())]
    size = float(np.hypot(*along) * np.hypot(*across))
    return degrees(acos(min(1.0, abs(float(along @ across)) / size))) if size > 1e-9 else 90.0


@dataclass(frozen=True, eq=False)
class Slab(Form):
    """A plate with holes between two heights: outlines (n, 2), the first counter-clockwise, holes clockwise, mm."""

    outlines: tuple[Floats, ...]
    low: float
    high: float

    def solids(self) -> list[Solid]:
        return [extrusions(self.outlines, self.low, self.high)]

    @property
    def length(self) -> float:
        """Its longer side, mm."""
        return float(np.ptp(self.outlines[0], axis=0).max())


@dataclass(frozen=True, eq=False)
class Region(Form):
    """A planar region, holes and all, between two heights, mm."""

    region: Polygon
    low: float
    high: float

    def solids(self) -> list[Solid]:
        return [plate(self.region, self.low, self.high)]

    @property
    def length(self) -> float:
        """Its longer side, mm."""
        left, foot, right, head = self.region.bounds
        return float(max(right - left, head - foot))


@dataclass(frozen=True, eq=False)
class Box(Form):
    """A box from its least corner to its greatest, mm."""

    low: tuple[float, float, float]
    high: tuple[float, float, float]

    def solids(self) -> list[Solid]:
        return boxes(np.array([self.low]), np.array([self.high]))

    @classmethod
    def made(cls, forms: Sequence[Form]) -> list[list[Solid]]:
        """All boxes by one array operation."""
        held = [form for form in forms if isinstance(form, Box)]
        return [[box] for box in boxes(np.array([f.low for f in held]), np.array([f.high for f in held]))]

    @property
    def length(self) -> float:
        """Its longest side, mm."""
        return max(b - a for a, b in zip(self.low, self.high, strict=True))


@dataclass(frozen=True, eq=False)
class Loft(Form):
    """A solid between level paths of as many points: ``levels`` (s, c, 3), mm."""

    levels: Floats

    def solids(self) -> list[Solid]:
        return [loft(self.levels)]


@dataclass(frozen=True, eq=False)
class Carved(Form):
    """What is truly three-dimensional: ``carve`` makes it by booleans when it is asked for. ``longest`` is how long it
    is, mm.
    """

    carve: Callable[[], list[Solid]]
    longest: float = 0.0

    def solids(self) -> list[Solid]:
        return self.carve()

    @property
    def length(self) -> float:
        return self.longest


@dataclass(frozen=True, eq=False)
class Placed(Form):
    """A form where it stands: moved, or turned into its mirror image, by ``matrix`` (4, 4)."""

    form: Form
    matrix: Floats

    def solids(self) -> list[Solid]:
        return [solid.moved(self.matrix) for solid in self.form.solids()]

    @property
    def length(self) -> float:
        return self.form.length


def members(corners: Floats, section: Section, runs: Sequence[Run]) -> list[list[Sweep]]:
    """For each loop its members, mitred where they meet.

    Parameters
    ----------
    corners : (n, c, k, 3)
        A profile laid round n loops of c corners, mm.
    section : Section
        Its k points, which tell the faces.
    runs : sequence of Run
        The members along a loop.
    """
    count = corners.shape[1]
    if count == 4 and len(runs) == 4:
        sides = corners[:, SIDE_TO_SIDE]
        if not has_repeats(sides.transpose(2, 0, 1, 3, 4)):
            topology = strip_topology(section, 2, False)
            return [[Sweep(side, section, topology=topology) for side in own] for own in sides]
    made: list[list[Sweep]] = [[] for _ in corners]
    for edges, closed, bent in runs:
        order = [*edges] if closed else [*edges, (edges[-1] + 1) % count]
        for own, stations in zip(made, corners[:, order], strict=True):
            own.append(Sweep(stations, section, closed, bent or len(edges) > 1))
    return made


def rings(corners: Floats, section: Section) -> list[Sweep]:
    """For each loop one ring without joints: ``corners`` (n, c, k, 3), mm."""
    if corners.shape[1] == 4 and not has_repeats(corners.swapaxes(0, 1), True):
        topology = strip_topology(section, 4, True)
        return [Sweep(ring, section, True, topology=topology) for ring in corners]
    return [Sweep(ring, section, closed=True, bent=True) for ring in corners]
