"""What every three-dimensional file is written from: parts once for each definition, and where they stand, z up, mm."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ashfell.core import finish as finishes
from ashfell.core.base.progress import steps
from ashfell.core.coats import finishes_of
from ashfell.core.finish import Finish
from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats
from ashfell.core.site.scene import Scene
from ashfell.core.unit.make import Unit

UPRIGHT = np.array([[1.0, 0, 0, 0], [0, 0, -1, 0], [0, 1, 0, 0], [0, 0, 0, 1]])
"""From a unit's own space (v up, w to the outside) to one with z up, its outside to the south."""


@dataclass(frozen=True)
class Placed:
    """One use of a definition: its name, the address of its entry, and where its parts stand (4, 4), mm."""

    name: str
    definition: str
    entry: str
    matrix: Floats


@dataclass(frozen=True)
class Model:
    """All that is written: definitions of parts by name, and their uses."""

    name: str
    definitions: Mapping[str, Sequence[Part]]
    placed: Sequence[Placed]
    own: Mapping[str, Finish]

    @property
    def finishes(self) -> dict[str, Finish]:
        """The finishes that its parts have, by key, in order of the alphabet.

        Raises
        ------
        Refusal
            When one of them is not known.
        """
        keys = {key for one in self.placed for part in self.definitions[one.definition] for key in finishes_of(part)}
        return {key: finishes.find(key, self.own) for key in sorted(keys)}

    def parts(self) -> Iterable[Part]:
        """Every part where it stands, its id behind the name of what it is of."""
        for one in steps(self.placed, "units written"):
            for part in self.definitions[one.definition]:
                yield part.moved(one.matrix, f"{one.name}/")


def of_unit(unit: Unit, own: Mapping[str, Finish] | None = None) -> Model:
    """A unit by itself, standing with its outer face to the south."""
    name = unit.document.name
    return Model(name, {"unit": unit.parts}, [Placed("unit", "unit", "unit", UPRIGHT)], own or {})


def of_scene(
    name: str, scene: Scene, own: Mapping[str, Finish] | None = None, only: frozenset[str] | None = None
) -> Model:
    """A site, or of it only the instances of some ids."""
    placed = [
        Placed(one.id, one.definition, one.entry, one.matrix)
        for one in scene.instances
        if scene.definitions[one.definition] and (only is None or one.id in only)
    ]
    used = {one.definition for one in placed}
    return Model(name, {key: parts for key, parts in scene.definitions.items() if key in used}, placed, own or {})
