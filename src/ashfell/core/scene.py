"""From a site document to instances of parts."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ashfell.core.base.refusal import Refusal
from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats
from ashfell.core.unit.build import build
from ashfell.core.wall.chain import Ends, mitres
from ashfell.core.wall.document import Placement, SiteDocument, Wall
from ashfell.core.wall.fit import Opening, fit_openings, opening_of
from ashfell.core.wall.solid import plate_part, wall_matrix, wall_parts


@dataclass(frozen=True, eq=False)
class Instance:
    """One use of a definition: where in the site (4, 4) its parts stand, mm."""

    id: str
    definition: str
    entry: str
    matrix: Floats


@dataclass(frozen=True)
class Scene:
    """All that stands on a site.

    ``definitions`` are parts in their own space, by name; ``instances`` place them. ``refused`` are the entries that
    could not be built, each with its reason; the rest of the scene stands without them.
    """

    definitions: dict[str, tuple[Part, ...]]
    instances: tuple[Instance, ...]
    openings: dict[str, Opening]
    refused: tuple[tuple[str, Refusal], ...]

    @cached_property
    def parts(self) -> tuple[Part, ...]:
        """Every part in the site's space, mm, its id behind that of its instance."""
        return tuple(
            part.moved(instance.matrix, f"{instance.id}/")
            for instance in self.instances
            for part in self.definitions[instance.definition]
        )


def build_scene(site: SiteDocument) -> Scene:
    """The scene of a site. What cannot be built is left out and told in ``refused``; nothing raises."""
    refused: list[tuple[str, Refusal]] = []
    definitions: dict[str, tuple[Part, ...]] = {}
    for placed in dict.fromkeys(placement.unit for placement in site.placements):
        _build_unit(site, placed, definitions, refused)
    instances: list[Instance] = []
    openings: dict[str, Opening] = {}
    ends = mitres(site.walls)
    for wall, placements in _by_wall(site, refused):
        _stand(site, wall, ends[wall.id], placements, (definitions, instances, openings, refused))
    for plate in site.plates:
        definitions[f"plate.{plate.id}"] = (plate_part(plate),)
        instances.append(Instance(plate.id, f"plate.{plate.id}", f"plates.{plate.id}", np.eye(4)))
    return Scene(definitions, tuple(instances), openings, tuple(refused))


_Draft = tuple[dict[str, tuple[Part, ...]], list[Instance], dict[str, Opening], list[tuple[str, Refusal]]]


def _build_unit(
    site: SiteDocument, key: str, definitions: dict[str, tuple[Part, ...]], refused: list[tuple[str, Refusal]]
) -> None:
    unit = site.units.get(key)
    if unit is None:
        refused.append(
            (f"units.{key}", Refusal("unit", "a known unit", f"There is no unit “{key}”.", "Choose another."))
        )
        return
    try:
        definitions[f"unit.{key}"] = build(unit)
    except Refusal as refusal:
        refused.append((f"units.{key}", refusal))


def _by_wall(site: SiteDocument, refused: list[tuple[str, Refusal]]) -> list[tuple[Wall, list[Placement]]]:
    found: dict[str, list[Placement]] = defaultdict(list)
    for placement in site.placements:
        if site.wall(placement.wall) is None:
            refused.append((
                f"placements.{placement.id}",
                Refusal("wall", "a known wall", f"There is no wall “{placement.wall}”.", "Choose another."),
            ))  # fmt: skip
        found[placement.wall].append(placement)
    return [(wall, found[wall.id]) for wall in site.walls]


def _stand(site: SiteDocument, wall: Wall, ends: Ends, placements: list[Placement], draft: _Draft) -> None:
    """One wall with its openings, and the units in them."""
    definitions, instances, openings, refused = draft
    known = [placement for placement in placements if f"unit.{placement.unit}" in definitions]
    good, bad = fit_openings(wall, [opening_of(wall, p, site.units[p.unit]) for p in known], ends)
    refused.extend((f"placements.{placement}", refusal) for placement, refusal in bad)
    openings.update((opening.placement, opening) for opening in good)
    standing = wall_matrix(wall)
    definitions[f"wall.{wall.id}"] = wall_parts(wall, good, ends)
    instances.append(Instance(wall.id, f"wall.{wall.id}", f"walls.{wall.id}", standing))
    for placement in known:
        if placement.id in openings:
            matrix = standing @ _in_wall(placement, openings[placement.id])
            instances.append(Instance(placement.id, f"unit.{placement.unit}", f"placements.{placement.id}", matrix))


def _in_wall(placement: Placement, opening: Opening) -> Floats:
    gap = placement.gap.mm
    matrix = np.eye(4)
    matrix[:3, 3] = float(opening.x + gap), float(opening.z + gap), -float(placement.recess.mm)
    return matrix
