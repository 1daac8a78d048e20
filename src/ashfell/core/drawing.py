"""Drawings as values: what is seen of parts from one side, and the dimensions beside it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

import numpy as np

from ashfell.core.parts import Part
from ashfell.core.solid import Floats
from ashfell.core.unit.document import Axis
from ashfell.core.unit.layout import Layout
from ashfell.core.wall.chain import SQUARE_ENDS, Ends, mitres
from ashfell.core.wall.document import SiteDocument, Wall
from ashfell.core.wall.fit import Opening
from ashfell.core.wall.solid import wall_matrix

LIGHT = np.array([-0.35, 0.55, 0.76])
"""Where drawings are lit from: the upper left, in front."""


@dataclass(frozen=True)
class Shape:
    """One flat face as drawn: ``points`` (k, 2) mm, ``tone`` 0 (turned away from the light) to 1."""

    points: Floats
    role: str
    part: str
    entry: str
    tone: float


@dataclass(frozen=True)
class Dimension:
    """One dimension along ``axis``: from ``start`` to ``end``, mm. ``entry`` is what typing over it changes."""

    axis: Axis
    kind: Literal["overall", "edge", "light", "bar"]
    index: int
    start: Fraction
    end: Fraction
    entry: str
    fixed: bool = True

    @property
    def size(self) -> Fraction:
        return self.end - self.start


def elevation(parts: Sequence[Part]) -> list[Shape]:
    """The faces that look outwards (towards +w), back to front."""
    found = [(depth, shape) for part in parts for depth, shape in _seen(part)]
    return [shape for _, shape in sorted(found, key=lambda item: item[0])]


def _seen(part: Part) -> Iterator[tuple[float, Shape]]:
    solid, topology = part.solid, part.solid.topology
    first = np.searchsorted(topology.face_of_triangle, np.arange(len(topology.faces)))
    normals = solid.normals[first]
    tones = np.clip(normals @ LIGHT, 0, 1)
    for face in np.flatnonzero(normals[:, 2] > 0.05):
        points = solid.vertices[list(topology.faces[face])]
        tone = float(tones[face])
        yield float(points[:, 2].max()), Shape(points[:, :2], part.role, part.id, part.entry, tone)


def dimensions(layout: Layout) -> list[Dimension]:
    """Every dimension of a unit's elevation: overall, perimeter faces, clear lights, bars; columns, then rows."""
    found: list[Dimension] = []
    overall: tuple[tuple[Axis, str], ...] = (("columns", "width"), ("rows", "height"))
    for axis, entry in overall:
        spacing = layout.spacing(axis)
        found.append(Dimension(axis, "overall", 0, Fraction(0), spacing.span, entry))
        entries = {"edge": "frame.face", "light": axis + ".lights.{}.size", "bar": axis + ".bars.{}"}
        found.extend(
            Dimension(
                axis,
                piece.kind,
                piece.index,
                piece.start,
                piece.end,
                entries[piece.kind].format(piece.index),
                piece.fixed,
            )
            for piece in spacing.pieces
        )
    return found


@dataclass(frozen=True)
class PlanWall:
    """A wall in plan: its outline, the pieces between its openings, and where the units stand; site mm."""

    wall: Wall
    solid: tuple[Floats, ...]
    units: tuple[tuple[str, Floats], ...]
    openings: tuple[Opening, ...]
    matrix: Floats


def plan(site: SiteDocument, openings: dict[str, Opening]) -> list[PlanWall]:
    """The walls of a site cut at the height of their openings, seen from above."""
    ends = mitres(site.walls)
    return [_plan_wall(site, wall, ends[wall.id], openings) for wall in site.walls]


def _plan_wall(site: SiteDocument, wall: Wall, ends: Ends, openings: dict[str, Opening]) -> PlanWall:
    placed = [p for p in site.placements if p.wall == wall.id and p.id in openings]
    own = sorted((openings[p.id] for p in placed), key=lambda opening: opening.x)
    matrix, thickness = wall_matrix(wall), float(wall.thickness.mm)
    length = float(wall.length.mm)
    solid = tuple(
        _on_plan(matrix, low, high, -thickness, 0.0, Ends(ends.start * (low == 0), ends.end * (high == length)))
        for low, high in _between(own, length)
    )
    units = []
    for placement in placed:
        opening, frame = openings[placement.id], site.units[placement.unit].frame
        gap, front = float(placement.gap.mm), -float(placement.recess.mm)
        low, high = float(opening.x) + gap, float(opening.right) - gap
        units.append((placement.id, _on_plan(matrix, low, high, front - float(frame.depth.mm), front)))
    return PlanWall(wall, solid, tuple(units), tuple(own), matrix)


def _between(openings: Iterable[Opening], length: float) -> Iterator[tuple[float, float]]:
    reached = 0.0
    for opening in openings:
        if float(opening.x) > reached:
            yield reached, float(opening.x)
        reached = max(reached, float(opening.right))
    if reached < length:
        yield reached, length


def _on_plan(matrix: Floats, low: float, high: float, back: float, front: float, ends: Ends = SQUARE_ENDS) -> Floats:
    """A stretch of a wall's thickness in the site, its ends slanted into the mitres."""
    corners = np.array([
        (low - ends.start * back, 0, back), (high + ends.end * back, 0, back),
        (high + ends.end * front, 0, front), (low - ends.start * front, 0, front),
    ])  # fmt: skip
    placed: Floats = (corners @ matrix[:3, :3].T + matrix[:3, 3])[:, :2]
    return placed
