"""Straight walls, their ends square or cut to the mitre of a chain."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from fractions import Fraction
from functools import cached_property
from math import cos, radians, sin

import numpy as np
from shapely.geometry import box
from shapely.ops import unary_union

from ashfell.core.base.address import Address
from ashfell.core.parts import ALONG_U, Part
from ashfell.core.plane.points import Floats, polygons
from ashfell.core.site.document import Wall
from ashfell.core.site.hosts.chain import SQUARE_ENDS, Ends
from ashfell.core.site.hosts.face import face_solids
from ashfell.core.site.hosts.host import Host, Layer
from ashfell.core.site.opening import Opening
from ashfell.core.solid.plate import plate
from ashfell.core.solid.topology import Solid


class StraightWall(Host):
    """A wall of the document, with the ends that its neighbours give it."""

    def __init__(self, wall: Wall, ends: Ends = SQUARE_ENDS) -> None:
        self.wall, self.ends = wall, ends
        self.id, self.entry, self.name = wall.id, Address("walls") / wall.id, wall.name
        self.length, self.height, self.thickness = wall.length.mm, wall.height.mm, wall.thickness.mm

    @cached_property
    def clear(self) -> tuple[Fraction, Fraction]:
        """Between the mitres at its ends."""
        thickness = float(self.thickness)
        low, high = (Fraction(round(max(0.0, by) * thickness * 100), 100) for by in (self.ends.start, self.ends.end))
        return low, self.length - high

    def frame(self, u: float = 0.0) -> Floats:
        turn = radians(self.wall.angle)
        along = np.array([cos(turn), sin(turn), 0.0])
        matrix = np.eye(4)
        matrix[:3, 0], matrix[:3, 1], matrix[:3, 2] = along, (0.0, 0.0, 1.0), (sin(turn), -cos(turn), 0.0)
        matrix[:3, 3] = along * u + (float(self.wall.x.mm), float(self.wall.y.mm), 0.0)
        return matrix

    @property
    def section(self) -> tuple[Layer, ...]:
        """Its body and, where it has one, its lining."""
        thickness, lining = float(self.thickness), float(self.wall.lining.mm)
        body: Layer = ("body", self.wall.outside, lining - thickness, 0.0)
        return (body, ("lining", self.wall.inside, -thickness, lining - thickness)) if lining else (body,)

    def parts(self, openings: Sequence[Opening]) -> tuple[Part, ...]:
        return tuple(part for layer in self.section for part in self._layer(layer, openings))

    def _layer(self, layer: Layer, openings: Sequence[Opening]) -> Iterator[Part]:
        name, finish, low, high = layer
        length = float(self.length)
        solids = face_solids(length, float(self.height), openings, low, high)
        for index, solid in enumerate(solids):
            key = f"{name}.{index + 1}" if len(solids) > 1 else name
            yield Part(key, self.entry, "wall", finish, ALONG_U, self._mitred(solid, length))

    def _mitred(self, solid: Solid, length: float) -> Solid:
        """A solid with its ends slanted into the mitres of the wall's corners."""
        vertices = solid.vertices.copy()
        for x, slope in ((0.0, self.ends.start), (length, -self.ends.end)):
            at_end = solid.vertices[:, 0] == x
            vertices[at_end, 0] -= slope * vertices[at_end, 2]
        return Solid(vertices, solid.topology)

    def around(
        self, opening: Opening, margin: float, others: Sequence[Opening] = (), section: tuple[Layer, ...] = ()
    ) -> list[Part]:
        left, foot, right, head = opening.polygon.bounds
        near = box(
            max(0.0, left - margin),
            max(0.0, foot - margin),
            min(float(self.length), right + margin),
            min(float(self.height), head + margin),
        ).difference(unary_union([one.polygon for one in (opening, *others)]))
        return [
            Part(name, self.entry, "wall", finish, ALONG_U, plate(piece, low, high))
            for name, finish, low, high in section or self.section
            for piece in polygons(near)
        ]

    def plan(self, openings: Sequence[Opening]) -> list[Floats]:
        length, back, matrix = float(self.length), -float(self.thickness), self.frame()
        stretches = list(_between(openings, length))
        corners = np.empty((len(stretches), 4, 3))
        for index, (low, high) in enumerate(stretches):
            ends = Ends(self.ends.start * (low == 0), self.ends.end * (high == length))
            corners[index] = _stretch(low, high, back, 0.0, ends)
        return list((corners @ matrix[:3, :3].T + matrix[:3, 3])[..., :2])

    def on_plan(self, low: float, high: float, back: float, front: float, ends: Ends = SQUARE_ENDS) -> Floats:
        """A stretch of its thickness as seen from above, (4, 2) in the site, mm; its ends slanted."""
        corners, matrix = np.array(_stretch(low, high, back, front, ends)), self.frame()
        return np.asarray((corners @ matrix[:3, :3].T + matrix[:3, 3])[:, :2])


def _stretch(low: float, high: float, back: float, front: float, ends: Ends) -> tuple[tuple[float, float, float], ...]:
    """The corners of a stretch of its thickness, seen from above, in its own space; its ends slanted."""
    return (
        (low - ends.start * back, 0.0, back),
        (high + ends.end * back, 0.0, back),
        (high + ends.end * front, 0.0, front),
        (low - ends.start * front, 0.0, front),
    )


def _between(openings: Sequence[Opening], length: float) -> Iterator[tuple[float, float]]:
    """The stretches without an opening."""
    reached = 0.0
    for opening in sorted(openings, key=lambda one: one.x):
        if float(opening.x) > reached:
            yield reached, float(opening.x)
        reached = max(reached, float(opening.right))
    if reached < length:
        yield reached, length
