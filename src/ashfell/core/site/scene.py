"""From a site document to instances of parts: units built once per content, walls fitted again only where something
changed.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property, lru_cache

import numpy as np

from ashfell.core.base.address import Address
from ashfell.core.base.refusal import Refusal
from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats
from ashfell.core.site.document import Placement, SiteDocument, Wall
from ashfell.core.site.fit import as_measured, fit_openings
from ashfell.core.site.hosts.chain import Ends, mitres
from ashfell.core.site.hosts.host import Host
from ashfell.core.site.hosts.straight import StraightWall
from ashfell.core.site.opening import Opening, flipped, gap_of, opening_for
from ashfell.core.site.plates import plate_part
from ashfell.core.site.variant import Variant, recess_of, variant_of
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.layout import Layout
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
    ``units`` what is placed by placement, as it asks for it. ``refused`` are the entries that could not be built, each
    with its reason; the rest of the scene stands without them.
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
    """The scene of a site. What cannot be built is left out and told in ``refused``; nothing raises. The opening of a
    placement whose unit cannot be built stays, empty, where it has a size of its own."""
    cast, refused = _cast(site)
    refused += [
        (
            Address("placements") / placement.id,
            Refusal("wall", "a known wall", f"There is no wall “{placement.wall}”.", "Choose another."),
        )
        for placement in site.placements
        if site.wall(placement.wall) is None
    ]
    definitions = {f"unit.{name}": unit.parts for name, unit in cast.by_name.items()}
    instances: list[Instance] = []
    standing: dict[str, Standing] = {}
    units: dict[str, Unit] = {}
    ends = mitres(site.walls)
    for wall in site.walls:
        placed = tuple(p for p in site.placements_in.get(wall.id, ()) if p.id not in cast.without_size)
        names = tuple(cast.name_of.get(p.id, "") for p in placed)
        own = tuple((name, cast.by_name[name]) for name in sorted({*names} - {""}))
        one = standing[wall.id] = stand(wall, ends[wall.id], placed, names, own)
        refused += [(Address("placements") / key, refusal) for key, refusal in one.refused]
        definitions[f"wall.{wall.id}"] = one.parts
        units |= {p.id: cast.by_name[name] for p, name in zip(placed, names, strict=True) if name}
        instances += _instances(one, placed, cast)
    for plate in site.plates:
        definitions[f"plate.{plate.id}"] = (plate_part(plate),)
        instances.append(Instance(plate.id, f"plate.{plate.id}", Address("plates") / plate.id, np.eye(4)))
    return Scene(definitions, tuple(instances), standing, units, tuple(refused))


@dataclass(frozen=True, eq=False)
class _Cast:
    """The units of a site as they are asked for: each once by a name of its own, and which of them a placement is.
    ``without_size`` are the placements whose unit is missing and that say nothing of their size."""

    by_name: dict[str, Unit]
    name_of: dict[str, str]
    without_size: frozenset[str]


def _cast(site: SiteDocument) -> tuple[_Cast, list[tuple[str, Refusal]]]:
    """Every unit that is placed, made once for all that ask for the same; and what is missing or cannot be built."""
    names: dict[Variant, str] = {}
    by_name: dict[str, Unit] = {}
    name_of: dict[str, str] = {}
    without, refused = [], []
    failed: dict[Variant, Refusal] = {}
    for placement in site.placements:
        if placement.unit is None:
            continue
        document, wall = site.units.get(placement.unit), site.wall(placement.wall)
        try:
            if document is None:
                raise Refusal("unit", "a known unit", f"There is no unit “{placement.unit}”.", "Choose another.")
            variant = variant_of(placement, document, wall.thickness.mm if wall else document.frame.depth.mm)
            if variant in failed:
                raise failed[variant]
            if variant not in names:
                by_name[name := _fresh_name(variant, by_name)] = _made(variant, document, failed)
                names[variant] = name
            name_of[placement.id] = names[variant]
        except Refusal as refusal:
            refused.append((_blamed(placement, refusal), refusal))
            if placement.width is None or placement.height is None:
                without.append(placement.id)
    return _Cast(by_name, name_of, frozenset(without)), [*dict(refused).items()]


def _fresh_name(variant: Variant, taken: Mapping[str, Unit]) -> str:
    """What a variant is called: its unit's key, with a number where others are made of that."""
    if variant.is_plain:
        return variant.unit
    return next(name for n in range(2, len(taken) + 3) if (name := f"{variant.unit}~{n}") not in taken)


def _made(variant: Variant, document: UnitDocument, failed: dict[Variant, Refusal]) -> Unit:
    try:
        return made(variant.document(document))
    except Refusal as refusal:
        failed[variant] = refusal
        raise


def _blamed(placement: Placement, refusal: Refusal) -> str:
    """The address that a refusal of a unit is told at: the unit's own, or the placement that asks for a size of its
    own."""
    plain = placement.width is None and placement.height is None
    return Address("units") / (placement.unit or "") if plain else Address("placements") / placement.id


@lru_cache(maxsize=WALLS_KEPT)
def stand(
    wall: Wall,
    ends: Ends,
    placements: tuple[Placement, ...],
    names: tuple[str, ...],
    units: tuple[tuple[str, Unit], ...],
) -> Standing:
    """One wall with its openings, fitted and cut; that of the same wall, placements and units is kept.

    Parameters
    ----------
    wall, ends : Wall, Ends
    placements : tuple of Placement
        Those in it.
    names : tuple of str
        The name of what each of them places; empty for an opening without a unit.
    units : tuple of pairs
        The units that they place, by name.
    """
    host, layouts = StraightWall(wall, ends), {name: unit.layout for name, unit in units}
    wanted, bad = [], []
    for placement, name in zip(placements, names, strict=True):
        try:
            wanted.append(opening_for(placement, layouts.get(name), host.length))
        except Refusal as refusal:
            bad.append((placement.id, refusal))
    good, unfit = fit_openings(host, wanted)
    by_id, asked = {placement.id: placement for placement in placements}, {one.placement: one for one in wanted}
    bad += [(key, as_measured(refusal, by_id[key], asked[key], host)) for key, refusal in unfit]
    return Standing(host, tuple(good), host.parts(good), tuple(bad))


def _instances(one: Standing, placements: tuple[Placement, ...], cast: _Cast) -> list[Instance]:
    """A host, and the units in it."""
    host, frame = one.host, one.host.frame()
    openings = {opening.placement: opening for opening in one.openings}
    stood = [p for p in placements if p.id in openings and p.id in cast.name_of]
    names = [cast.name_of[placement.id] for placement in stood]
    layouts = {name: cast.by_name[name].layout for name in {*names}}
    here = in_host(stood, [openings[p.id] for p in stood], [layouts[name] for name in names], host.thickness)
    matrices = frame @ here
    found = [Instance(host.id, f"wall.{host.id}", host.entry, frame)]
    for index, placement in enumerate(stood):
        entry, unit = Address("placements") / placement.id, f"unit.{names[index]}"
        found.append(Instance(placement.id, unit, entry, matrices[index], host.id, here[index]))
    return found


def in_host(
    placements: Sequence[Placement], openings: Sequence[Opening], layouts: Sequence[Layout], thickness: Fraction
) -> Floats:
    """Where units stand in their host's space, (n, 4, 4) mm; mirror images where they are the other hand."""
    matrices = np.tile(np.eye(4), (len(placements), 1, 1))
    for index, (placement, opening, layout) in enumerate(zip(placements, openings, layouts, strict=True)):
        size, recess = layout.overall, recess_of(placement, layout, thickness)
        left, foot = opening.x + gap_of(placement, "left"), opening.z + gap_of(placement, "sill")
        over = left + size.right if flipped(placement) else left - size.x
        behind = thickness - recess if placement.turned else recess
        matrices[index, 0, 0] = -1.0 if flipped(placement) else 1.0
        matrices[index, 2, 2] = -1.0 if placement.turned else 1.0
        matrices[index, :3, 3] = float(over), float(foot - size.y), -float(behind)
    return matrices
