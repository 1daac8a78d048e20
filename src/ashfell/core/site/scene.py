"""From a site document to instances of parts: units built once per content, walls fitted again only where something
changed.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from ashfell.core.base.address import Address
from ashfell.core.base.refusal import Refusal
from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats
from ashfell.core.site.document import Placement, SiteDocument, Wall
from ashfell.core.site.fit import fit_openings
from ashfell.core.site.hosts.chain import Ends, mitres
from ashfell.core.site.hosts.host import Host
from ashfell.core.site.hosts.straight import StraightWall
from ashfell.core.site.opening import Opening, opening_for
from ashfell.core.site.plates import plate_part
from ashfell.core.unit.make import Unit, made

WALLS_KEPT = 256
"""How many fitted walls are kept."""


@dataclass(frozen=True, eq=False)
class Instance:
    """One use of a definition: where in the site (4, 4) its parts stand, mm. What stands in a host also knows that, and
    where in it (4, 4) it stands."""

    id: str
    definition: str
    entry: str
    matrix: Floats
    host: str = ""
    in_host: Floats | None = None


@dataclass(frozen=True, eq=False)
class Standing:
    """A host with its openings cut: its parts in its own space, and the placements that could not be fitted with the
    reason.
    """

    host: Host
    openings: tuple[Opening, ...]
    parts: tuple[Part, ...]
    refused: tuple[tuple[str, Refusal], ...]

    @cached_property
    def starts(self) -> list[float]:
        """Where each opening begins along the host, sorted as they are, mm."""
        return [float(opening.x) for opening in self.openings]

    @cached_property
    def widest(self) -> float:
        """The width of the widest opening, mm."""
        return max((float(opening.width) for opening in self.openings), default=0.0)


@dataclass(frozen=True, eq=False)
class Scene:
    """All that stands on a site.

    ``definitions`` are parts in their own space, by name; ``instances`` place them; ``standing`` are the hosts by id,
    and ``units`` what is placed by key. ``refused`` are the entries that could not be built, each with its reason; the
    rest of the scene stands without them.
    """

    definitions: Mapping[str, tuple[Part, ...]]
    instances: tuple[Instance, ...]
    standing: Mapping[str, Standing]
    units: Mapping[str, Unit]
    refused: tuple[tuple[str, Refusal], ...]

    @cached_property
    def openings(self) -> dict[str, Opening]:
        """Every opening that is cut, by its placement."""
        return {opening.placement: opening for one in self.standing.values() for opening in one.openings}

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
    units, refused = _units(site)
    refused += [
        (
            Address("placements") / placement.id,
            Refusal("wall", "a known wall", f"There is no wall “{placement.wall}”.", "Choose another."),
        )
        for placement in site.placements
        if site.wall(placement.wall) is None
    ]
    definitions: dict[str, tuple[Part, ...]] = {f"unit.{key}": unit.parts for key, unit in units.items()}
    instances: list[Instance] = []
    standing: dict[str, Standing] = {}
    ends = mitres(site.walls)
    for wall in site.walls:
        placed = tuple(p for p in site.placements_in.get(wall.id, ()) if p.unit in units)
        known = tuple(sorted({p.unit for p in placed}))
        one = standing[wall.id] = stand(wall, ends[wall.id], placed, tuple((key, units[key]) for key in known))
        refused += [(Address("placements") / key, refusal) for key, refusal in one.refused]
        definitions[f"wall.{wall.id}"] = one.parts
        instances += _instances(one, placed, units)
    for plate in site.plates:
        definitions[f"plate.{plate.id}"] = (plate_part(plate),)
        instances.append(Instance(plate.id, f"plate.{plate.id}", Address("plates") / plate.id, np.eye(4)))
    return Scene(definitions, tuple(instances), standing, units, tuple(refused))


def _units(site: SiteDocument) -> tuple[dict[str, Unit], list[tuple[str, Refusal]]]:
    """Every unit that is placed, made once; and those that are missing or cannot be built."""
    units: dict[str, Unit] = {}
    refused: list[tuple[str, Refusal]] = []
    for key in dict.fromkeys(placement.unit for placement in site.placements):
        document = site.units.get(key)
        try:
            if document is None:
                raise Refusal("unit", "a known unit", f"There is no unit “{key}”.", "Choose another.")
            units[key] = made(document)
        except Refusal as refusal:
            refused.append((Address("units") / key, refusal))
    return units, refused


@lru_cache(maxsize=WALLS_KEPT)
def stand(wall: Wall, ends: Ends, placements: tuple[Placement, ...], units: tuple[tuple[str, Unit], ...]) -> Standing:
    """One wall with its openings, fitted and cut; that of the same wall, placements and units is kept.

    Parameters
    ----------
    wall, ends : Wall, Ends
    placements : tuple of Placement
        Those in it.
    units : tuple of pairs
        The units that they place, by key.
    """
    host, layouts = StraightWall(wall, ends), {key: unit.layout for key, unit in units}
    wanted = [opening_for(placement, layouts[placement.unit], host.length) for placement in placements]
    good, bad = fit_openings(host, wanted)
    return Standing(host, tuple(good), host.parts(good), tuple(bad))


def _instances(one: Standing, placements: tuple[Placement, ...], units: Mapping[str, Unit]) -> list[Instance]:
    """A host, and the units in it."""
    host, frame = one.host, one.host.frame()
    openings = {opening.placement: opening for opening in one.openings}
    stood = [placement for placement in placements if placement.id in openings]
    here = in_host(stood, [openings[placement.id] for placement in stood], units)
    matrices = frame @ here
    found = [Instance(host.id, f"wall.{host.id}", host.entry, frame)]
    for index, placement in enumerate(stood):
        entry = Address("placements") / placement.id
        unit = f"unit.{placement.unit}"
        found.append(Instance(placement.id, unit, entry, matrices[index], host.id, here[index]))
    return found


def in_host(placements: Sequence[Placement], openings: Sequence[Opening], units: Mapping[str, Unit]) -> Floats:
    """Where units stand in their host's space, (n, 4, 4) mm."""
    sizes = {key: units[key].layout.overall for key in {placement.unit for placement in placements}}
    corners = {key: (float(size.x), float(size.y)) for key, size in sizes.items()}
    matrices = np.tile(np.eye(4), (len(placements), 1, 1))
    for index, (placement, opening) in enumerate(zip(placements, openings, strict=True)):
        (left, foot), gap = corners[placement.unit], float(placement.gap.mm)
        at = float(opening.x) + gap - left, float(opening.z) + gap - foot, -float(placement.recess.mm)
        matrices[index, :3, 3] = at
    return matrices
