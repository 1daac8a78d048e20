"""Drawings as values: what is seen of parts from one side, and the dimensions beside it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

import numpy as np

from ashfell.core.parts import Part
from ashfell.core.solid import Floats

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

    axis: Literal["columns", "rows"]
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
