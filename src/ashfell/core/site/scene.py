"""From a site document to instances of parts: units built once per content, hosts fitted again only where something
changed.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from shapely.geometry import Polygon

from ashfell.core.base.address import Address
from ashfell.core.base.progress import steps
from ashfell.core.base.refusal import Refusal
from ashfell.core.coats import coated
from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats
from ashfell.core.site.budget import check_shapes
from ashfell.core.site.cast import Cast, cast_of
from ashfell.core.site.coats import Coats
from ashfell.core.site.course import facets_of
from ashfell.core.site.definitions import Definitions
from ashfell.core.site.document.placement import Placement
from ashfell.core.site.document.roof import Roof
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.document.surrounding import Surrounding
from ashfell.core.site.document.wall import Wall
from ashfell.core.site.fit import as_entered
from ashfell.core.site.folded import crosses, folded, folds_under
from ashfell.core.site.hosts.chain import SQUARE_ENDS, Ends, ends_of
from ashfell.core.site.instance import Instance
from ashfell.core.site.opening import Opening
from ashfell.core.site.plates import plate_part, plate_shape
from ashfell.core.site.settle import Levels, settled
from ashfell.core.site.standing import Standing, in_host, stand
from ashfell.core.site.stands_in import in_their_openings
from ashfell.core.site.surroundings import parts_of, place_of, shape_of
from ashfell.core.unit.make import Unit

SURROUNDING = "surrounding."
"""What the definitions of what stands round the building begin with."""
MOST_BROUGHT = 2_000_000
"""The most triangles of models, those that are alike counted once."""


@dataclass(frozen=True, eq=False)
class Scene:
    """All that stands on a site.

    ``document`` is what it was made from, ``site`` that settled: its walls at their levels, every one of a repeat by
    itself. ``definitions`` are parts in their own space, by name; ``instances`` place them; ``standing`` are the hosts
    by id, ``plates`` what each plate covers in plan, ``units`` what is placed by placement, as it asks for it.
    ``refused`` are the entries that could not be
    built, each with its reason; the rest of the scene stands without them.
    """

    document: SiteDocument
    site: SiteDocument
    definitions: Definitions
    instances: tuple[Instance, ...]
    standing: Mapping[str, Standing]
    plates: Mapping[str, Polygon]
    units: Mapping[str, Unit]
    refused: tuple[tuple[str, Refusal], ...]

    @property
    def weight(self) -> float:
        """About how much memory it takes, bytes."""
        return 100_000.0 + 6_000.0 * len(self.instances)

    @cached_property
    def building(self) -> tuple[Instance, ...]:
        """What stands here besides what stands round it."""
        return tuple(one for one in self.instances if not one.definition.startswith(SURROUNDING))

    @cached_property
    def brought(self) -> frozenset[str]:
        """The definitions of models that were brought, which need not be closed."""
        models = (one for one in self.site.surroundings if "mesh" in one.of.entries)
        return frozenset(f"{SURROUNDING}{shape_of(one)}" for one in models)

    @property
    def counted(self) -> str:
        """How many parts stand in how many places, besides models that were brought."""
        looked_at = [one for one in self.instances if one.definition not in self.brought]
        return f"{sum(len(self.definitions[one.definition]) for one in looked_at)} parts in {len(looked_at)} places"

    @cached_property
    def openings(self) -> dict[str, Opening]:
        """Every opening that is cut, by its placement."""
        return {opening.placement: opening for one in self.standing.values() for opening in one.openings}

    @cached_property
    def brought_in(self) -> dict[str, Instance]:
        """The models that stand in openings as they were brought, by the placement of their opening."""
        within: dict[str, str] = {
            Address("surroundings") / one.id: one.opening for one in self.site.surroundings if one.opening
        }
        return {within[one.entry]: one for one in self.instances if one.entry in within}

    @cached_property
    def instance_of(self) -> dict[str, Instance]:
        """The instance of each placement, by its id."""
        return {instance.id: instance for instance in self.instances if instance.definition.startswith("unit.")}

    def storey_of(self, instance: Instance) -> str:
        """The id of the storey that something stands on, or lies on as its floor; a roof is of that which it reaches
        into. Empty without storeys."""
        standing = self.standing.get(instance.id)
        level = instance.matrix[2, 3]
        if standing is None:
            plate = self.site.plate_by_id.get(instance.id)
            level = float(plate.level.mm) if plate else level
        elif self.site.wall(instance.id) is None:
            level += standing.host.frame()[2, 1] * float(standing.host.height)
        return self.levels.at(level)

    @cached_property
    def levels(self) -> Levels:
        """The storeys of the site with their levels."""
        return Levels(self.document.storeys)

    @cached_property
    def parts(self) -> tuple[Part, ...]:
        """Every part in the site's space, mm, its id behind that of its instance."""
        return tuple(
            part.moved(instance.matrix, f"{instance.id}/")
            for instance in self.instances
            for part in self.definitions[instance.definition]
        )

    @cached_property
    def coats(self) -> Coats:
        """The same in one piece of surface for each finish."""
        return Coats({key: tuple(coated(parts)) for key, parts in self.definitions.items()}, self.instances)


def build_scene(document: SiteDocument) -> Scene:
    """The scene of a site. What cannot be built is left out and told in ``refused``; nothing raises. The opening of a
    placement whose unit cannot be built stays, empty, where it has a size of its own."""
    whole, entered = settled(document), document.placement_by_id
    site, building = whole.site, _Building(whole.site)
    cast, failed = cast_of(site)
    refused = [*whole.refused, *failed, *_without_host(site)]
    building.definitions |= {f"unit.{name}": unit.parts for name, unit in cast.by_name.items()}
    for one, ends in steps([*_hosts(site, refused)], "walls built"):
        placed = tuple(p for p in site.placements_in.get(one.id, ()) if p.id not in cast.without_size)
        names = tuple(cast.name_of.get(p.id, "") for p in placed)
        own = tuple((name, cast.by_name[name]) for name in sorted({*names} - {""}))
        try:
            standing = stand(one, ends, placed, names, own)
        except Refusal as refusal:
            refused.append((Address("walls" if isinstance(one, Wall) else "roofs") / one.id, refusal))
            continue
        refused += [_as_entered(site, entered, key, refusal) for key, refusal in standing.refused]
        building.stood(standing, placed, cast)
    hosts, plates = {key: one.host for key, one in building.standing.items()}, dict[str, Polygon]()
    for plate in site.plates:
        try:
            plates[plate.id] = plate_shape(plate, site, hosts)
            building.laid(plate.id, Address("plates") / plate.id, (plate_part(plate, plates[plate.id]),))
        except Refusal as refusal:
            refused.append((Address("plates") / plate.id, refusal))
    site, left_out = building.all_beside()
    refused += left_out
    once = {(place, refusal.entry, refusal.rule): (place, refusal) for place, refusal in reversed(refused)}
    told = tuple(reversed(once.values()))
    instances = tuple(building.instances)
    made = Definitions(building.definitions)
    return Scene(document, site, made, instances, building.standing, plates, building.units, told)


def _as_entered(
    site: SiteDocument, entered: Mapping[str, Placement], key: str, refusal: Refusal
) -> tuple[str, Refusal]:
    """A refusal of a placement with the address of its entry, as that would mend it."""
    placement = site.placement_by_id[key]
    return Address("placements") / placement.entry, as_entered(refusal, placement, entered[placement.entry])


def _without_host(site: SiteDocument) -> Iterator[tuple[str, Refusal]]:
    """The placements whose wall is not there."""
    hosts = {*(wall.id for wall in site.walls), *(roof.id for roof in site.roofs)}
    for placement in site.placements:
        if placement.wall not in hosts:
            told = f"There is no wall “{placement.wall}”."
            yield Address("placements") / placement.entry, Refusal("wall", "a known wall", told, "Choose another.")


def _hosts(site: SiteDocument, refused: list[tuple[str, Refusal]]) -> Iterable[tuple[Wall | Roof, Ends]]:
    """Walls and roofs with their ends; a wall whose curve is none is refused."""
    walls = []
    for wall in site.walls:
        try:
            facets_of(wall)
            walls.append(wall)
        except Refusal as refusal:
            refused.append((Address("walls") / wall.id, refusal))
    ends = ends_of(walls)
    return [*((wall, ends[wall.id]) for wall in walls), *((roof, SQUARE_ENDS) for roof in site.roofs)]


def _too_many(count: int) -> Refusal:
    return Refusal(
        "mesh",
        f"at most {MOST_BROUGHT} triangles of models",
        f"With this one the models of different sizes have {count} triangles; at most {MOST_BROUGHT} are shown.",
        "Take one away, let some be of one height, or make one lighter where it was modelled.",
    )


class _Building:
    """A scene as it is being built."""

    def __init__(self, site: SiteDocument) -> None:
        self.site = site
        self.definitions: dict[str, tuple[Part, ...] | Standing] = {}
        self.instances: list[Instance] = []
        self.standing: dict[str, Standing] = {}
        self.units: dict[str, Unit] = {}
        self._folded: dict[tuple[object, ...], str] = {}
        self._brought = 0
        self._shapes: set[str] = set()
        self._grown: set[tuple[str, int]] = set()

    def laid(self, key: str, entry: str, parts: tuple[Part, ...]) -> None:
        """Something that stands on its own."""
        self.definitions[f"plate.{key}"] = parts
        self.instances.append(Instance(key, f"plate.{key}", entry, np.eye(4)))

    def all_beside(self) -> tuple[SiteDocument, list[tuple[str, Refusal]]]:
        """All that stands round the building and in its openings as it was brought; the site with that where it
        stands, and what cannot."""
        stood: list[Surrounding] = []
        refused: list[tuple[str, Refusal]] = []
        for one, why in in_their_openings(self.site.surroundings, self.standing, self.units):
            stood.append(one)
            try:
                if why is not None:
                    raise why
                self.beside(one)
            except Refusal as refusal:
                refused.append((Address("surroundings") / one.id, refusal))
        return self.site.model_copy(update={"surroundings": tuple(stood)}), refused

    def beside(self, one: Surrounding) -> None:
        """Something that stands round the building; what is alike is made once."""
        definition, entry = f"{SURROUNDING}{shape_of(one)}", Address("surroundings") / one.id
        if definition not in self.definitions:
            self._shapes.add(definition)
            self._grown |= {(one.kind, one.seed)} if "seed" in one.of.entries else set()
            check_shapes(len(self._shapes), len(self._grown))
            parts = parts_of(one)
            if one.mesh:
                self._brought += sum(len(part.solid.triangles) for part in parts)
                if self._brought > MOST_BROUGHT:
                    raise _too_many(self._brought)
            self.definitions[definition] = parts
        self.instances.append(Instance(entry, definition, entry, place_of(one)))

    def stood(self, one: Standing, placements: tuple[Placement, ...], cast: Cast) -> None:
        """A host, and the units in it."""
        host, frame = one.host, one.host.frame()
        self.standing[host.id] = one
        self.definitions[f"wall.{host.id}"] = one
        self.instances.append(Instance(host.id, f"wall.{host.id}", host.entry, frame))
        openings = {opening.placement: opening for opening in one.openings}
        stood = [p for p in placements if p.id in openings and p.id in cast.name_of]
        names = [cast.name_of[placement.id] for placement in stood]
        self.units |= {p.id: cast.by_name[cast.name_of[p.id]] for p in placements if p.id in cast.name_of}
        layouts = [cast.by_name[name].layout for name in names]
        here = in_host(stood, [openings[p.id] for p in stood], layouts, host.thickness)
        matrices = frame @ here
        for index, placement in enumerate(stood):
            entry, name = Address("placements") / placement.entry, names[index]
            if host.folds:
                parts = cast.by_name[name].parts
                self.instances.append(self._in_facets(placement, name, parts, one, openings[placement.id], here[index]))
                continue
            matrix = matrices[index]
            self.instances.append(Instance(placement.id, f"unit.{name}", entry, matrix, host.id, here[index]))

    def _in_facets(
        self, placement: Placement, name: str, parts: tuple[Part, ...], one: Standing, opening: Opening, here: Floats
    ) -> Instance:
        """A unit in a host of facets: in one of them, folded over several, or flat in a seat of its own."""
        entry, host = Address("placements") / placement.entry, one.host
        seat = host.seated(opening) if opening.flat else None
        if seat is not None:
            definition, matrix = f"unit.{name}", seat @ here
        elif not crosses(host, parts, here):
            definition, matrix = f"unit.{name}", host.frame(float(opening.x + opening.width / 2)) @ here
        else:
            folds, matrix = folds_under(host, parts, here)
            definition = self._folded.setdefault(
                (name, host.smooth, *folds.near), f"unit.{name}@{len(self._folded) + 1}"
            )
            if definition not in self.definitions:
                self.definitions[definition] = folded(parts, folds, host.smooth)
        return Instance(placement.id, definition, entry, matrix, host.id, np.linalg.inv(host.frame()) @ matrix)


def part_of(scene: Scene, only: Collection[str]) -> Scene:
    """The instances of some ids as a scene of their own: the openings in their hosts with them, even empty ones."""
    placements = tuple(one for one in scene.site.placements if one.id in only or one.wall in only)
    entries = {one.entry for one in placements}
    typed = tuple(one for one in scene.document.placements if one.id in entries)
    return replace(
        scene,
        document=_with_placements(scene.document, typed),
        site=_with_placements(scene.site, placements),
        instances=tuple(one for one in scene.instances if one.id in only),
        standing={key: one for key, one in scene.standing.items() if key in only},
        units={key: one for key, one in scene.units.items() if key in only},
    )


def _with_placements(site: SiteDocument, placements: Sequence[Placement]) -> SiteDocument:
    """A site with other placements; nothing that was worked out from its own is left in it."""
    told = {name: getattr(site, name) for name in SiteDocument.model_fields}
    return SiteDocument.model_construct(**told | {"placements": tuple(placements)})
