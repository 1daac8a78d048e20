"""IFC4 (ISO 16739-1): a site with its storeys, walls, openings, units, roofs and plates.

A wall is whole, its openings void it, and what fills them are windows and doors: occurrences of types, whose geometry
is written once. Millimetres, z up; a wall's own y goes inwards from its outer face.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence

import manifold3d
import numpy as np

from ashfell.core import finish as finishes
from ashfell.core.base.address import Address
from ashfell.core.base.progress import steps
from ashfell.core.coats import finishes_of
from ashfell.core.finish import Finish
from ashfell.core.parts import ALONG_U, Part
from ashfell.core.plane.loop import SIDES
from ashfell.core.plane.points import Floats
from ashfell.core.site.document.wall import Wall
from ashfell.core.site.folded import crosses, folded, folds_under
from ashfell.core.site.hosts.host import Host
from ashfell.core.site.instance import Instance
from ashfell.core.site.opening import Opening, gap_of
from ashfell.core.site.scene import SURROUNDING, Scene
from ashfell.core.site.standing import Standing
from ashfell.core.solid.boolean import of_manifold
from ashfell.core.solid.topology import Solid
from ashfell.formats.ifc_file import File, turned
from ashfell.formats.ifc_units import Types
from ashfell.formats.step import DERIVED, Enum, Ref, Step, Typed

WORLD = np.eye(4)
LEAST = 1.0
"""What of a wall is taken by an opening is at least so large, mm³."""
CLEAR = 1.0
"""How far an opening is cut beyond the faces of a wall, mm."""


def write_ifc(
    name: str, scene: Scene, own: Mapping[str, Finish] | None = None, only: frozenset[str] | None = None
) -> bytes:
    """A site as IFC4; of it ``only`` the instances of some ids, where they are given.

    Raises
    ------
    Refusal
        When a part has a finish that is not known.
    """
    shown = [one for one in scene.instances if only is None or one.id in only]
    return _Building(name, scene, own or {}, shown).bytes()


class _Building:
    def __init__(self, name: str, scene: Scene, own: Mapping[str, Finish], shown: Sequence[Instance]) -> None:
        self.scene, self.shown = scene, shown
        used = {key for parts in scene.definitions.values() for part in parts for key in finishes_of(part)}
        used |= {leaf.finish for wall in scene.site.walls for leaf in wall.leaves if leaf.finish}
        step = Step("IFC4", name)
        self.file = _begun(step, {key: finishes.find(key, own) for key in sorted(used)})
        self.types = Types(self.file, scene)
        self.top, self.storeys, self.place_of = self._structure()
        self.contained: dict[str, list[Ref]] = defaultdict(list)
        self._all()

    def bytes(self) -> bytes:
        return self.file.step.bytes("DesignTransferView_V1.0")

    # --- project, site, building, storeys

    def _structure(self) -> tuple[Ref, dict[str, Ref], dict[str, Ref]]:
        file, step = self.file, self.file.step
        project = step.add(
            "IfcProject", file.guid("project"), None, step.name, None, None, None, None, [file.world], _units(step)
        )
        ground = file.placement(WORLD, None)
        element = Enum("ELEMENT")
        site = step.add(
            "IfcSite", file.guid("site"), None, step.name, None, None, ground, None, None, element,
            None, None, None, None, None,
        )  # fmt: skip
        house = file.placement(WORLD, ground)
        building = step.add(
            "IfcBuilding", file.guid("building"), None, step.name, None, None, house, None, None, element,
            None, None, None,
        )  # fmt: skip
        listed = [(one.id, one.name, float(self.scene.levels.of[one.id])) for one in self.scene.levels.storeys]
        storeys, places = {}, {}
        for key, words, level in listed or [("", "Ground", 0.0)]:
            # What stands on a storey is placed in the site, so that nothing moves when a level is corrected.
            places[key] = house
            own = file.placement(_lifted(level), house)
            storeys[key] = step.add(
                "IfcBuildingStorey", file.guid("storeys", key), None, words, None, None, own, None, None, element, level
            )
        file.relate("IfcRelAggregates", project, [site], words=["project"])
        file.relate("IfcRelAggregates", site, [building], words=["site"])
        file.relate("IfcRelAggregates", building, list(storeys.values()), words=["building"])
        return building, storeys, places

    def _all(self) -> None:
        inside: dict[str, list[Instance]] = defaultdict(list)
        for instance in self.shown:
            if instance.host:
                inside[instance.host].append(instance)
        for instance in steps([one for one in self.shown if not one.host], "walls and plates written"):
            storey = self._storey(instance)
            standing = self.scene.standing.get(instance.id)
            if instance.definition.startswith(SURROUNDING):
                self.contained[storey].append(self._beside(instance))
                continue
            if standing is None:
                self.contained[storey].append(self._plate(instance))
                continue
            product = self._host(standing, instance) if standing.parts else None
            if product is not None:
                self.contained[storey].append(product)
            self._openings(standing, instance, product, inside[instance.id], storey)
        for key, products in self.contained.items():
            self.file.relate("IfcRelContainedInSpatialStructure", products, self.storeys[key], words=["in", key])
        self.types.end()

    def _storey(self, instance: Instance) -> str:
        found = self.scene.storey_of(instance)
        return found if found in self.storeys else next(iter(self.storeys))

    # --- walls, roofs, plates

    def _plate(self, instance: Instance) -> Ref:
        parts = self.scene.definitions[instance.definition]
        items = [self.file.styled(self.file.faces(part.solid, WORLD), part.finish) for part in parts]
        plate = next(one for one in self.scene.site.plates if one.id == instance.id)
        slab = self.file.step.add(
            "IfcSlab", self.file.guid("plates", plate.id), None, plate.name, None, None,
            self.file.placement(WORLD, self._within(instance)), self.file.shape(items), plate.id, Enum("FLOOR"),
        )  # fmt: skip
        volume = sum(part.solid.volume for part in parts) / 1e9
        thickness = float(plate.thickness.mm)
        told = {"Width": thickness, "GrossArea": volume * 1e9 / thickness / 1e6, "GrossVolume": volume}
        self.file.quantities([slab], "Qto_SlabBaseQuantities", told, "plates", plate.id)
        self._made_of([slab], [parts[0].finish], "plates", plate.id)
        return slab

    def _beside(self, instance: Instance) -> Ref:
        """What stands round the building, as what it looks like."""
        one = next(one for one in self.scene.site.surroundings if Address("surroundings") / one.id == instance.entry)
        parts = self.scene.definitions[instance.definition]
        items = [self.file.styled(self.file.faces(part.solid), part.finish) for part in parts]
        return self.file.step.add(
            "IfcBuildingElementProxy", self.file.guid("surroundings", one.id), None, one.name, None, one.of.label,
            self.file.placement(turned(instance.matrix), self._within(instance)), self.file.shape(items), one.id,
            Enum("NOTDEFINED"),
        )  # fmt: skip

    def _within(self, instance: Instance) -> Ref:
        return self.place_of[self._storey(instance)]

    def _host(self, standing: Standing, instance: Instance) -> Ref:
        """A wall or a roof plane without its openings."""
        file, host = self.file, standing.host
        whole = host.parts(())
        items = [file.styled(file.faces(part.solid), part.finish) for part in whole]
        wall = self.scene.site.wall(host.id)
        place = file.placement(turned(instance.matrix), self._within(instance))
        kind, table, what = ("IfcWall", "walls", "SOLIDWALL") if wall else ("IfcSlab", "roofs", "ROOF")
        product = file.step.add(
            kind, file.guid(table, host.id), None, host.name, None, None, place, file.shape(items), host.id, Enum(what)
        )
        gross, net = (sum(part.solid.volume for part in parts) / 1e9 for parts in (whole, standing.parts))
        if wall:
            told = {"Length": float(host.length), "Height": float(host.height), "Width": float(host.thickness)}
            file.quantities(
                [product],
                "Qto_WallBaseQuantities",
                told | {"GrossVolume": gross, "NetVolume": net},
                table,
                host.id,
            )
            file.properties([product], "Pset_WallCommon", {"IsExternal": Typed("IfcBoolean", True)}, table, host.id)
            self._layers(product, wall, float(host.thickness))
        else:
            told = {"Width": float(host.thickness), "GrossVolume": gross, "NetVolume": net}
            file.quantities([product], "Qto_SlabBaseQuantities", told, table, host.id)
            self._made_of([product], [whole[0].finish], table, host.id)
        return product

    def _layers(self, product: Ref, wall: Wall, thickness: float) -> None:
        """What a wall is made of, from its outer face inwards."""
        file, step = self.file, self.file.step
        body = thickness - float(wall.lining.mm) - sum(float(leaf.thickness.mm) for leaf in wall.leaves)
        told: list[tuple[str | None, float]] = [(wall.outside, body)]
        told += [(leaf.finish, float(leaf.thickness.mm)) for leaf in wall.leaves]
        if wall.lining.mm:
            told.append((wall.inside, float(wall.lining.mm)))
        layers = [
            step.add("IfcMaterialLayer", file.material(key) if key else None, deep, None if key else True, *[None] * 4)
            for key, deep in told
        ]
        listed = step.add("IfcMaterialLayerSet", layers, wall.name, None)
        usage = step.add("IfcMaterialLayerSetUsage", listed, Enum("AXIS2"), Enum("POSITIVE"), 0.0, None)
        file.relate("IfcRelAssociatesMaterial", [product], usage, words=["material", "walls", wall.id])

    def _made_of(self, products: Sequence[Ref], keys: Sequence[str], *words: str) -> None:
        self.file.relate(
            "IfcRelAssociatesMaterial", list(products), self.file.material(keys[0]), words=["material", *words]
        )

    # --- openings and what fills them

    def _openings(
        self, standing: Standing, instance: Instance, product: Ref | None, stood: Sequence[Instance], storey: str
    ) -> None:
        units = {one.id: one for one in stood}
        taken = _taken(standing) if product is not None else {}
        for opening in standing.openings:
            unit = units.get(opening.placement)
            filled = self.types.occurrence(unit, self._within(instance)) if unit else None
            if filled is not None:
                self.contained[storey].append(filled)
            if product is None or opening.placement not in taken:
                continue
            void = self._void(opening, taken[opening.placement], instance, standing)
            words = ["openings", opening.placement]
            self.file.relate("IfcRelVoidsElement", product, void, words=words)
            if filled is not None:
                self.file.relate("IfcRelFillsElement", void, filled, words=words)

    def _void(self, opening: Opening, solids: Sequence[Solid], instance: Instance, standing: Standing) -> Ref:
        file = self.file
        items = [file.faces(solid) for solid in solids]
        place = file.placement(turned(instance.matrix), self._within(instance))
        void = file.step.add(
            "IfcOpeningElement", file.guid("openings", opening.placement), None, opening.placement, None, None,
            place, file.shape(items), opening.placement, Enum("OPENING"),
        )  # fmt: skip
        told = {
            "Width": float(opening.width),
            "Height": float(opening.height),
            "Depth": float(standing.host.thickness),
            "Area": opening.area / 1e6,
        }
        file.quantities([void], "Qto_OpeningElementBaseQuantities", told, "openings", opening.placement)
        where = {"Offset": float(opening.x), "Sill": float(opening.z), "Head": float(opening.head)}
        gaps = {gap_of(self.scene.site.placement_by_id[opening.placement], side) for side in SIDES}
        if len(gaps) == 1 and opening.placement in self.scene.units:
            where["Gap"] = float(gaps.pop())
        lengths = {key: Typed("IfcLengthMeasure", value) for key, value in where.items()}
        file.properties([void], "Ashfell_Opening", lengths, "openings", opening.placement)
        return void


# --- what an opening takes of its host


def _taken(standing: Standing) -> dict[str, list[Solid]]:
    """What each opening of a host voids, in the host's space: a prism a little deeper than the host, folded as that is;
    where it does not go square through, what the host has lost there."""
    host = standing.host
    found: dict[str, list[Solid]] = {}
    for one in standing.openings:
        if one.reveal is None and not one.pockets and not (one.flat and host.folds):
            found[one.placement] = _through(host, _prism(one.points, float(host.thickness)))
    rest = [one for one in standing.openings if one.placement not in found]
    if not rest:
        return found
    middles = np.array([_middle(host, one) for one in standing.openings])
    for piece in (of_manifold(one)[0] for one in _lost(standing).decompose() if one.volume() > LEAST):
        here = (host.frame() @ (*piece.bounds.mean(axis=0), 1))[:3]
        nearest = standing.openings[int(np.linalg.norm(middles - here, axis=1).argmin())]
        if nearest in rest:
            found.setdefault(nearest.placement, []).append(piece)
    return found


def _middle(host: Host, one: Opening) -> Floats:
    """The middle of an opening, in the site."""
    u, v = float(one.x + one.width / 2), float(one.z + one.height / 2)
    return np.asarray((host.frame(u) @ (u, v, -float(host.thickness) / 2, 1))[:3])


def _through(host: Host, prism: Solid) -> list[Solid]:
    """A solid laid out flat where it stands in a host that may fold, in the space of its first facet."""
    if not host.folds:
        return [prism]
    part = Part("opening", host.entry, "wall", "", ALONG_U, prism)
    back = np.linalg.inv(host.frame())
    if not crosses(host, [part], WORLD):
        return [prism.moved(back @ host.frame(float(prism.bounds[:, 0].mean())))]
    folds, matrix = folds_under(host, [part], WORLD)
    return [piece.solid.moved(back @ matrix) for piece in folded((part,), folds)]


def _lost(standing: Standing) -> manifold3d.Manifold:
    """A host without openings less the same with them."""
    whole, left = (_together(parts) for parts in (standing.host.parts(()), standing.parts))
    return whole - left


def _together(parts: Sequence[Part]) -> manifold3d.Manifold:
    return manifold3d.Manifold.batch_boolean([part.solid.manifold() for part in parts], manifold3d.OpType.Add)


def _prism(points: Floats, thickness: float) -> Solid:
    section = manifold3d.CrossSection([points.tolist()])
    raised = manifold3d.Manifold.extrude(section, thickness + 2 * CLEAR)
    return of_manifold(raised.translate((0.0, 0.0, -thickness - CLEAR)))[0]


# --- the head of a file


def _begun(step: Step, known: Mapping[str, Finish]) -> File:
    origin = step.once("IfcCartesianPoint", [0.0, 0.0, 0.0])
    axes = step.once("IfcAxis2Placement3D", origin, None, None)
    north = step.once("IfcDirection", [0.0, 1.0])
    world = step.add("IfcGeometricRepresentationContext", None, "Model", 3, 1e-5, axes, north)
    body = step.add(
        "IfcGeometricRepresentationSubContext", "Body", "Model", DERIVED, DERIVED, DERIVED, DERIVED, world, None,
        Enum("MODEL_VIEW"), None,
    )  # fmt: skip
    return File(step, known, body, world)


def _units(step: Step) -> Ref:
    listed = [
        step.add("IfcSIUnit", DERIVED, Enum(kind), Enum(prefix) if prefix else None, Enum(unit))
        for kind, prefix, unit in (
            ("LENGTHUNIT", "MILLI", "METRE"),
            ("AREAUNIT", "", "SQUARE_METRE"),
            ("VOLUMEUNIT", "", "CUBIC_METRE"),
            ("PLANEANGLEUNIT", "", "RADIAN"),
        )
    ]
    return step.add("IfcUnitAssignment", listed)


def _lifted(level: float) -> Floats:
    found = np.eye(4)
    found[2, 3] = level
    return found
