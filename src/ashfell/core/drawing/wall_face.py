"""A wall as one looks at it: where its outline, its openings and the units in them are on a sheet."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Literal

import numpy as np
from shapely.geometry import Polygon

from ashfell.core.base.address import Address
from ashfell.core.base.lengths import Style, show
from ashfell.core.drawing.brought import brought_in
from ashfell.core.drawing.paper import Sheet
from ashfell.core.drawing.sheet import Points
from ashfell.core.plane.points import polygons
from ashfell.core.seen import Shape
from ashfell.core.site.document.placement import Placement
from ashfell.core.site.hosts.chain import chain_of
from ashfell.core.site.hosts.host import Host
from ashfell.core.site.opening import Opening, flipped, gap_of
from ashfell.core.site.scene import Scene
from ashfell.core.unit.make import Unit

Looks = Literal["outside", "inside"]
SEEN = 2.0
"""Units narrower than this on paper are drawn by their outline alone."""
TOLD = 0.6
"""Openings narrower than this on paper cannot be told from each other."""


@dataclass(frozen=True)
class Hole:
    """An opening on the sheet: its outline, the address of its placement, whether a unit is in it, and whether it is
    worked on."""

    points: Points
    entry: str
    label: str
    filled: bool
    picked: bool


@dataclass(frozen=True)
class Placed:
    """A unit where it stands: which of the drawings it is, where the origin of that is on the sheet, and whether it is
    turned over."""

    drawing: int
    x: float
    y: float
    over: bool


@dataclass(frozen=True)
class Elevation:
    """A wall as one looks at it; by itself, or in a chain that is laid out flat: ``shift`` is how far it begins along
    that, ``whole`` how long all of it is, ``rise`` how far it stands above the wall that is worked on, and ``lowest``
    where the foot of all of it is, mm."""

    host: Host
    looks: Looks
    paper: Sheet
    style: Style
    openings: tuple[Opening, ...]
    placements: dict[str, Placement]
    entered: dict[str, Placement]
    """Of each placement the entry that it is one of."""
    shift: float
    whole: float
    rise: float = 0.0
    lowest: float = 0.0

    def floor(self, key: str) -> Fraction:
        """From where the sill of a placement is measured, above the foot of the wall."""
        return self.placements[key].sill.mm - self.entered[key].sill.mm

    def x(self, u: Fraction | float) -> float:
        """Where a place along the wall is on the sheet."""
        along = self.shift + float(u)
        return self.paper.x(along if self.looks == "outside" else self.whole - along)

    def y(self, v: Fraction | float) -> float:
        """Where a height above its foot is on the sheet."""
        return self.paper.y(float(v) + self.rise)

    def span(self, low: Fraction, high: Fraction) -> tuple[float, float]:
        """From where to where a stretch of it is, from the left."""
        ends = self.x(low), self.x(high)
        return min(ends), max(ends)

    @property
    def sides(self) -> tuple[float, float]:
        """Its left and right edge on the sheet."""
        return self.span(Fraction(0), self.host.length)

    @property
    def edges(self) -> tuple[float, float]:
        """The left and right edge of all that is drawn."""
        return self.paper.x(0.0), self.paper.x(self.whole)

    @property
    def ground(self) -> float:
        """The foot of all that is drawn."""
        return self.paper.y(self.lowest)

    @property
    def outline(self) -> Points:
        """The wall itself."""
        corners = [(Fraction(0), Fraction(0)), (self.host.length, Fraction(0)), *reversed(self.host.top)]
        return tuple((self.x(u), self.y(v)) for u, v in corners)

    def is_small(self, one: Opening) -> bool:
        """Whether an opening cannot be told from others."""
        return float(one.width) * self.paper.scale < TOLD

    def outline_of(self, one: Opening) -> Points:
        """An opening."""
        return tuple((self.x(u), self.y(v)) for u, v in one.points.tolist())

    def hole(self, one: Opening, picked: bool, filled: bool) -> Hole:
        """An opening that can be picked."""
        placement = self.placements[one.placement]
        told = f"{placement.unit or 'Opening'}, {show(one.x, self.style)} along, sill at {show(one.z, self.style)}"
        return Hole(self.outline_of(one), Address("placements") / one.placement, told, filled, picked)


@dataclass
class Drawings:
    """The units of walls: each drawing once, and where they stand."""

    drawings: list[Sequence[Shape]] = field(default_factory=list)
    placed: list[Placed] = field(default_factory=list)
    _known: dict[tuple[int, bool], int] = field(default_factory=dict)
    _brought: dict[str, int] = field(default_factory=dict)

    def add(self, seen: Elevation, scene: Scene) -> None:
        """Those of one wall."""
        for one in seen.openings:
            unit = scene.units.get(one.placement)
            if unit is None:
                self._add_brought(seen, scene, one)
            if unit is None or float(one.width) * seen.paper.scale < SEEN:
                continue
            placement, size = seen.placements[one.placement], unit.layout.overall
            front = (seen.looks == "outside") != placement.turned
            if (id(unit), front) not in self._known:
                self._known[id(unit), front] = len(self.drawings)
                self.drawings.append(in_wall(unit, front))
            left, foot = one.x + gap_of(placement, "left"), one.z + gap_of(placement, "sill")
            origin = left + size.right if flipped(placement) else left - size.x
            place = seen.x(origin), seen.y(foot - size.y)
            self.placed.append(Placed(self._known[id(unit), front], *place, placement.mirrored))

    def _add_brought(self, seen: Elevation, scene: Scene, one: Opening) -> None:
        """A model that stands in an opening as it was brought."""
        found = brought_in(scene, one, seen.host.id, seen.looks)
        if found is not None:
            key, shapes = found
            if key not in self._brought:
                self._brought[key] = len(self.drawings)
                self.drawings.append(shapes)
            self.placed.append(Placed(self._brought[key], seen.x(one.x), seen.y(one.z), False))


def elevations(scene: Scene, style: Style, wall: str, looks: Looks, fitted: Fitted, unrolled: bool) -> list[Elevation]:
    """The wall that is worked on, and behind it those of its chain where that is laid out flat."""
    chain = [one for one in chain_of(scene.site.walls, wall) if one[0] in scene.standing] if unrolled else []
    hosts = [(scene.standing[key].host, reached) for key, reached in chain or [(wall, 0.0)]]
    first = min(reached for _, reached in hosts)
    bases = {host.id: float(scene.site.wall_by_id[host.id].base.mm) if chain else 0.0 for host, _ in hosts}
    own = bases[wall]
    whole = max(reached + float(host.length) for host, reached in hosts) - first
    lowest, highest = min(bases.values()), max(bases[host.id] + float(host.height) for host, _ in hosts)
    paper = fitted((0.0, lowest - own, whole, highest - own))
    found = []
    for host, reached in sorted(hosts, key=lambda one: one[0].id != wall):
        placements = {one.id: one for one in scene.site.placements_in.get(host.id, ())}
        entered = {key: scene.document.placement_by_id[one.entry] for key, one in placements.items()}
        openings = tuple(sorted(scene.standing[host.id].openings, key=lambda one: (one.x, one.z)))
        where = (reached - first, whole, bases[host.id] - own, lowest - own)
        found.append(Elevation(host, looks, paper, style, openings, placements, entered, *where))
    return found


Fitted = Callable[[tuple[float, float, float, float]], Sheet]
"""The sheet that holds an extent: left, foot, right, head, mm."""


def in_wall(unit: Unit, front: bool) -> Sequence[Shape]:
    """A unit as it is seen in its wall: of what that hides no more than the opening shows."""
    shapes: Sequence[Shape] = unit.shapes if front else unit.inside
    side = "outside" if front else "inside"
    looks = 1.0 if front else -1.0
    windows = {
        light.key: Polygon(light.loop.points * (looks, 1.0))
        for light in unit.layout.body.lights
        if side in light.content.hidden
    }
    if not windows:
        return shapes
    found = []
    for shape in shapes:
        window = windows.get(shape.light.partition(".")[0])
        if window is None:
            found.append(shape)
            continue
        loops = [piece for loop in shape.loops for piece in polygons(Polygon(loop).buffer(0).intersection(window))]
        if loops:
            clipped = tuple(np.array(piece.exterior.coords)[:-1] for piece in loops)
            found.append(shape._replace(loops=clipped))
    return found
