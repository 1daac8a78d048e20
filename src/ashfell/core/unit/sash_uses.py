"""Equal sashes with all that they hold: one definition used many times, mirrored where they are handed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ashfell.core.instances import SAME
from ashfell.core.parts import Part, bounds
from ashfell.core.plane.points import Floats
from ashfell.core.unit.layout import Layout


@dataclass(frozen=True, eq=False)
class SashUse:
    """One use of a sash as a whole.

    Attributes
    ----------
    key, entry : str
        Its key in the unit, and its address.
    definition : int
        Which of the definitions it is.
    matrix : (4, 4)
        From where the definition stands shut to where this one stands, opened as it is, mm; it turns the definition
        into its mirror image in u where this one is handed the other way.
    parts : tuple of Part
        Its own parts, in the order of the definition's.
    mirrored : bool
    """

    key: str
    entry: str
    definition: int
    matrix: Floats
    parts: tuple[Part, ...]
    mirrored: bool


def sashes_of(layout: Layout, parts: Sequence[Part]) -> tuple[list[tuple[Part, ...]], list[SashUse]]:
    """The sashes of a unit: the parts of each kind of them (shut), and how every one uses such a kind. A sash within a
    sash belongs to that."""
    held: dict[str, list[Part]] = {}
    for part in parts:
        if part.sash:
            held.setdefault(part.sash, []).append(part)
    definitions: list[tuple[Part, ...]] = []
    known: dict[bytes, int] = {}
    uses = []
    for light in layout.body.lights:
        for sash in light.sashes:
            key, motion = sash.key_in(light), np.eye(4) if sash.motion is None else sash.motion
            own = held[key]
            shut = own if sash.motion is None else [part.moved(np.asarray(np.linalg.inv(motion))) for part in own]
            plain, turned = _group(shut, False), _group(shut, True)
            found = known.get(plain[0], known.get(turned[0]))
            if found is None:
                found = known[plain[0]] = len(definitions)
                definitions.append(tuple(shut[index] for index in plain[1]))
            mirrored = plain[0] not in known
            order = turned[1] if mirrored else plain[1]
            matrix = motion @ _onto(definitions[found], shut, mirrored)
            uses.append(
                SashUse(key, sash.entry_in(light), found, matrix, tuple(own[index] for index in order), mirrored)
            )
    return definitions, uses


def _group(parts: Sequence[Part], mirrored: bool) -> tuple[bytes, list[int]]:
    """What two equal groups of parts have in common, wherever they stand, and the order of their parts by that."""
    turn = np.array((-1.0, 1.0, 1.0) if mirrored else (1.0, 1.0, 1.0))
    placed = [part.solid.vertices * turn for part in parts]
    low = np.min([points.min(axis=0) for points in placed], axis=0)
    shapes = []
    for part, points in zip(parts, placed, strict=True):
        near = np.round(points - low, SAME) + 0.0
        grain = " ".join(f"{abs(way):.3f}" for way in part.grain)
        kind = f"{part.role} {part.finish} {grain} {len(part.solid.triangles)} ".encode()
        shapes.append(kind + bytes(near[np.lexsort(near.T)].tobytes()))
    order = sorted(range(len(parts)), key=lambda index: shapes[index])
    return b"|".join(shapes[index] for index in order), order


def _onto(definition: Sequence[Part], parts: Sequence[Part], mirrored: bool) -> Floats:
    """The motion (4, 4), or turning over, that lays a definition onto its equal."""
    low, high = bounds(definition)
    matrix = np.diag((-1.0 if mirrored else 1.0, 1.0, 1.0, 1.0))
    start = np.array([-high[0], low[1], low[2]]) if mirrored else low
    matrix[:3, 3] = bounds(parts)[0] - start
    return matrix
