"""Equal parts: one definition used many times, turned into its mirror image where it is handed."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from ashfell.core.coats import finishes_of
from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats

SAME = 3
"""Decimals of a millimetre to which two parts must agree to be equal."""


@dataclass(frozen=True, eq=False)
class Use:
    """One use of a definition: the part it is of, moved by ``shift`` (3,) mm, its mirror image in u where
    ``mirrored``.
    """

    part: Part
    definition: int
    shift: Floats
    mirrored: bool


def uses_of(parts: Iterable[Part]) -> tuple[list[Part], list[Use]]:
    """The definitions (the first part of each kind) and how every part uses one, in order."""
    definitions: list[Part] = []
    known: dict[bytes, int] = {}
    uses = []
    for part in parts:
        own, turned = _shape(part, False), _shape(part, True)
        found = known.get(own, known.get(turned))
        if found is None:
            found = known[own] = len(definitions)
            definitions.append(part)
        mirrored = own not in known
        uses.append(Use(part, found, _shift(definitions[found], part, mirrored), mirrored))
    return definitions, uses


def _shape(part: Part, mirrored: bool) -> bytes:
    """What two equal parts have in common, wherever they stand."""
    points = part.solid.vertices * ((-1.0, 1.0, 1.0) if mirrored else (1.0, 1.0, 1.0))
    placed = np.round(points - points.min(axis=0), SAME) + 0.0
    order = np.lexsort(placed.T)
    return bytes(placed[order].tobytes()) + f"{part.role} {finishes_of(part)} {len(part.solid.triangles)}".encode()


def _shift(definition: Part, part: Part, mirrored: bool) -> Floats:
    low, high = definition.solid.bounds
    start = np.array([-high[0], low[1], low[2]]) if mirrored else low
    return np.asarray(part.solid.bounds[0] - start)
