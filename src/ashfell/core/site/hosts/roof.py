"""Roof planes: rectangles and trapezes in a sloping plane, their edges plumb."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from fractions import Fraction
from functools import cached_property
from math import cos, radians, sin, tan

import manifold3d
import numpy as np
from shapely.affinity import translate
from shapely.geometry import Polygon, box
from shapely.ops import unary_union

from ashfell.core.base.address import Address
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.parts import ALONG_U, Part
from ashfell.core.plane.points import Floats, polygons
from ashfell.core.site.document.roof import Roof
from ashfell.core.site.hosts.cut import less, parts_beside, shapes
from ashfell.core.site.hosts.host import Host, Layer
from ashfell.core.site.opening import Opening
from ashfell.core.solid.plate import plate
from ashfell.core.solid.topology import Solid

ROUNDED = 10**9
"""Lengths up a slope are kept to parts of a mm."""
LEAST = 1.0
"""What is left of a plane beside a reveal at least, mm."""
EDGE = 1e-6
"""What is nearer than this to the edge of a plane lies on it, mm."""


class RoofHost(Host):
    """A roof plane. Its foot is the edge of its eaves, its length that of this edge.

    Raises
    ------
    Refusal
        When its hips leave nothing of it.
    """

    def __init__(self, roof: Roof) -> None:
        self.roof = roof
        self.id, self.entry, self.name = roof.id, Address("roofs") / roof.id, roof.name
        slope, self.slope = cos(radians(roof.slope)), roof.slope
        self.length = roof.length.mm + 2 * roof.verge.mm
        self.height = Fraction(round(float(roof.run.mm + roof.eaves.mm) / slope * ROUNDED), ROUNDED)
        self.thickness = roof.thickness.mm
        most = self.length
        if roof.hip_start.mm + roof.hip_end.mm > most:
            raise Refusal(
                "hip_start",
                "a roof plane between its hips",
                f"Hips of {exact_mm(roof.hip_start.mm)} and {exact_mm(roof.hip_end.mm)} leave nothing of "
                f"{exact_mm(self.length)}.",
                f"Make this one {exact_mm(max(most - roof.hip_end.mm, Fraction(0)))} or less.",
                max(most - roof.hip_end.mm, Fraction(0)),
            )
        self.top = ((Fraction(0), self.height), (self.length, self.height))

    @property
    def clear(self) -> tuple[Fraction, Fraction]:
        return Fraction(0), self.length

    def frame(self, u: float = 0.0) -> Floats:
        roof, turn, slope = self.roof, radians(self.roof.angle), radians(self.roof.slope)
        along, out = np.array([cos(turn), sin(turn), 0.0]), np.array([sin(turn), -cos(turn), 0.0])
        up = np.array([0.0, 0.0, 1.0])
        eaves, foot = float(roof.eaves.mm), np.array([float(roof.x.mm), float(roof.y.mm), float(roof.level.mm)])
        matrix = np.eye(4)
        matrix[:3, 0], matrix[:3, 1] = along, up * sin(slope) - out * cos(slope)
        matrix[:3, 2] = out * sin(slope) + up * cos(slope)
        matrix[:3, 3] = foot - along * float(roof.verge.mm) + out * eaves - up * eaves * tan(slope)
        return matrix

    def room_above(self, opening: Opening) -> Fraction:
        if self.polygon.covers(opening.polygon):
            return super().room_above(opening)
        low, high = 0.0, float(self.height)
        for _ in range(60):  # the highest place that leaves it within the hips
            middle = (low + high) / 2
            fits = self.polygon.covers(translate(opening.polygon, 0, middle - float(opening.z)))
            low, high = (middle, high) if fits else (low, middle)
        return Fraction(round(low)) - opening.z - 1

    def covers(self, reach: Polygon) -> bool:
        return bool(self.polygon.buffer(-LEAST).covers(reach))

    @property
    def section(self) -> tuple[Layer, ...]:
        thickness, lining = float(self.thickness), float(self.roof.lining.mm)
        body: Layer = ("body", self.roof.outside, lining - thickness, 0.0)
        return (body, ("lining", self.roof.inside, -thickness, lining - thickness)) if lining else (body,)

    @cached_property
    def polygon(self) -> Polygon:
        """Its face, laid out flat, mm."""
        length, height = float(self.length), float(self.height)
        left, right = float(self.roof.hip_start.mm), length - float(self.roof.hip_end.mm)
        ridge = [(right, height), (left, height)] if right > left else [(left, height)]
        return Polygon([(0.0, 0.0), (length, 0.0), *ridge])

    def parts(self, openings: Sequence[Opening]) -> tuple[Part, ...]:
        shaped = shapes(openings)
        return tuple(part for layer in self.section for part in self._layer(layer, openings, shaped))

    def _layer(
        self, layer: Layer, openings: Sequence[Opening], shaped: Sequence[manifold3d.Manifold]
    ) -> Iterator[Part]:
        name, finish, low, high = layer
        region = self.polygon.difference(unary_union([one.polygon for one in openings if one.reveal is None]))
        pieces = [solid for piece in polygons(region) for solid in less(self._plumb(plate(piece, low, high)), shaped)]
        for index, piece in enumerate(pieces):
            key = f"{name}.{index + 1}" if len(pieces) > 1 else name
            yield Part(key, self.entry, "wall", finish, ALONG_U, piece)

    def _plumb(self, solid: Solid) -> Solid:
        """A piece with what lies on the edges of the plane cut plumb."""
        vertices = solid.vertices.copy()
        length, height = float(self.length), float(self.height)
        hips = (float(self.roof.hip_start.mm), float(self.roof.hip_end.mm))
        u, v, w = vertices.T
        left, right = u - hips[0] * v / height, length - u - hips[1] * v / height
        on = np.abs(np.stack([v, height - v, left, right])).min(axis=0) < EDGE
        vertices[on, 1] += w[on] * tan(radians(self.roof.slope))
        return replace(solid, vertices=vertices)

    def around(
        self, opening: Opening, margin: float, others: Sequence[Opening] = (), section: tuple[Layer, ...] = ()
    ) -> list[Part]:
        left, foot, right, head = opening.polygon.bounds
        near = self.polygon.intersection(box(left - margin, foot - margin, right + margin, head + margin))
        return parts_beside(self.entry, near, section or self.section, (opening, *others))

    def plan(self, openings: Sequence[Opening]) -> list[Floats]:
        corners = np.array([(*point, 0.0) for point in list(self.polygon.exterior.coords)[:-1]])
        matrix = self.frame()
        return [np.asarray((corners @ matrix[:3, :3].T + matrix[:3, 3])[:, :2])]

    def on_plan(self, low: float, high: float, back: float, front: float) -> list[Floats]:
        corners = np.array([(low, 0.0, back), (high, 0.0, back), (high, 0.0, front), (low, 0.0, front)])
        matrix = self.frame()
        return [np.asarray((corners @ matrix[:3, :3].T + matrix[:3, 3])[:, :2])]
