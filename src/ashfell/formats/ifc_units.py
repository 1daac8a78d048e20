"""Units as windows and doors of IFC4: a type for each definition, with its lining and panels, an occurrence for each
use."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Mapping, Sequence

import numpy as np

from ashfell.core.base.document import dump
from ashfell.core.coats import coated, finishes_of
from ashfell.core.parts import Part
from ashfell.core.site.instance import Instance
from ashfell.core.site.scene import Scene
from ashfell.core.unit.ifc import Properties, door_properties, lining_properties
from ashfell.core.unit.make import Unit
from ashfell.formats.ifc_file import INWARDS, File, turned
from ashfell.formats.step import Enum, Ref, Typed

MIRROR = np.diag([-1.0, 1.0, 1.0, 1.0])
SWAPPED = {"LEFT": "RIGHT", "RIGHT": "LEFT"}
"""What changes places in a mirror."""
WINDOW_LINING = (
    "LiningDepth", "LiningThickness", "TransomThickness", "MullionThickness", "FirstTransomOffset",
    "SecondTransomOffset", "FirstMullionOffset", "SecondMullionOffset",
)  # fmt: skip
DOOR_LINING = (
    "LiningDepth", "LiningThickness", "ThresholdDepth", "ThresholdThickness", "TransomThickness", "TransomOffset",
    None, None, "CasingThickness", "CasingDepth",
)  # fmt: skip
DOCUMENT = "Ashfell_Unit"
"""The set of properties that holds a unit's document."""
CONSTITUENTS = {"glass": "Glazing", "pane": "Glazing"}
"""What a material is of, by the role of a part; anything else is framing."""


class Types:
    """The types of windows and doors in a file, made as they are used."""

    def __init__(self, file: File, scene: Scene) -> None:
        self.file, self.scene = file, scene
        self._made: dict[tuple[str, bool], tuple[Ref, Ref]] = {}
        self._used: dict[tuple[str, bool], list[Ref]] = defaultdict(list)

    def occurrence(self, instance: Instance, within: Ref) -> Ref | None:
        """A unit where it stands; a window, or a door where it holds a leaf."""
        unit, parts = self.scene.units[instance.id], self.scene.definitions[instance.definition]
        if not parts:
            return None
        file, step = self.file, self.file.step
        mirrored = bool(np.linalg.det(instance.matrix[:3, :3]) < 0)
        key = instance.definition, mirrored
        if key not in self._made:
            self._made[key] = self._type(unit, parts, mirrored, f"{instance.definition}{'.mirrored' * mirrored}")
        _, mapped = self._made[key]
        origin = step.once("IfcCartesianTransformationOperator3D", None, None, file.point(0, 0, 0), None, None)
        shown = file.shape([step.add("IfcMappedItem", mapped, origin)], "MappedRepresentation")
        matrix = instance.matrix @ MIRROR if mirrored else instance.matrix
        place = file.placement(turned(matrix), within)
        door = door_properties(unit.document, unit.layout)
        outer = unit.layout.outer
        what = _kind(unit, door, mirrored)
        product = step.add(
            "IfcDoor" if door else "IfcWindow", file.guid("placements", instance.id), None, unit.document.name, None,
            None, place, shown, instance.id, float(outer.height), float(outer.width), *what,
        )  # fmt: skip
        self._used[key].append(product)
        self._told(product, unit, bool(door), instance.id)
        return product

    def end(self) -> None:
        """Say which products are of which type."""
        for key, products in self._used.items():
            words = ["type", key[0], "mirrored" if key[1] else ""]
            self.file.relate("IfcRelDefinesByType", products, self._made[key][0], words=words)

    # --- types

    def _type(self, unit: Unit, parts: Sequence[Part], mirrored: bool, name: str) -> tuple[Ref, Ref]:
        file, step = self.file, self.file.step
        space = INWARDS @ MIRROR if mirrored else INWARDS
        items = [file.styled(file.faces(part.solid, space), part.finish) for part in coated(parts)]
        mapped = step.add("IfcRepresentationMap", file.axes(np.eye(4)), file.representation(items))
        door = door_properties(unit.document, unit.layout)
        told = self._door_told(unit, door, mirrored, name) if door else self._window_told(unit, mirrored, name)
        what = _kind(unit, door, mirrored)
        made = step.add(
            "IfcDoorType" if door else "IfcWindowType", file.guid("types", name), None, unit.document.name, None, None,
            told, [mapped], name, None, what[0], what[1], False, what[2],
        )  # fmt: skip
        self._materials(made, parts, name)
        return made, mapped

    def _window_told(self, unit: Unit, mirrored: bool, name: str) -> list[Ref]:
        file, step = self.file, self.file.step
        told = lining_properties(unit.document, unit.layout)
        if mirrored:
            told = _mirrored_offsets(told)
        lining = step.add(
            "IfcWindowLiningProperties", file.guid("lining", name), None, None, None,
            *(told.get(one) for one in WINDOW_LINING), None, None, None, None,
        )  # fmt: skip
        panels = [
            step.add(
                "IfcWindowPanelProperties", file.guid("panel", name, str(number)), None, None, None,
                Enum(_hand(panel["OperationType"], mirrored)), Enum(_hand(panel["PanelPosition"], mirrored)),
                panel["FrameDepth"], panel["FrameThickness"], None,
            )
            for number, panel in enumerate(told["Panels"])
        ]  # fmt: skip
        return [lining, *panels, self._document(unit, mirrored, name)]

    def _document(self, unit: Unit, mirrored: bool, name: str) -> Ref:
        """The document of a unit, for those who take the file in again: it says what IFC has no words for."""
        step = self.file.step
        told = json.dumps(dump(unit.document), ensure_ascii=False, separators=(",", ":"))
        values = [("Document", Typed("IfcText", told)), ("Mirrored", Typed("IfcBoolean", mirrored))]
        listed = [step.add("IfcPropertySingleValue", key, None, value, None) for key, value in values]
        return step.add("IfcPropertySet", self.file.guid("document", name), None, DOCUMENT, None, listed)

    def _door_told(self, unit: Unit, told: Properties, mirrored: bool, name: str) -> list[Ref]:
        file, step = self.file, self.file.step
        lining = step.add(
            "IfcDoorLiningProperties", file.guid("lining", name), None, None, None,
            *(told.get(one) if one else None for one in DOOR_LINING), None, None, None,
        )  # fmt: skip
        panels = [
            step.add(
                "IfcDoorPanelProperties", file.guid("panel", name, str(number)), None, None, None,
                panel["PanelDepth"], Enum(panel["PanelOperation"]), panel["PanelWidth"],
                Enum(_hand(panel["PanelPosition"], mirrored)), None,
            )
            for number, panel in enumerate(told["Panels"])
        ]  # fmt: skip
        return [lining, *panels, self._document(unit, mirrored, name)]

    def _materials(self, made: Ref, parts: Sequence[Part], name: str) -> None:
        """What a type is made of: every finish of its parts, and whether as glazing or as framing."""
        file, step = self.file, self.file.step
        volumes: dict[tuple[str, str], float] = defaultdict(float)
        for part in parts:
            glazing = file.finishes[part.finish].transmits or part.role in CONSTITUENTS
            kind = "Glazing" if glazing else "Framing"
            volumes[kind, part.finish] += part.solid.volume
            volumes[kind, finishes_of(part)[-1]] += 0.0  # a coat
        listed = [
            step.add("IfcMaterialConstituent", kind, None, file.material(key), None, kind)
            for kind, key in sorted(volumes, key=lambda one: (one[0] == "Glazing", -volumes[one]))
        ]
        whole = step.add("IfcMaterialConstituentSet", None, None, listed)
        file.relate("IfcRelAssociatesMaterial", [made], whole, words=["material", "types", name])

    # --- what is known of an occurrence

    def _told(self, product: Ref, unit: Unit, door: bool, key: str) -> None:
        outer, layout = unit.layout.outer, unit.layout
        width, height = float(outer.width), float(outer.height)
        area = layout.outline.area / 1e6
        glass = sum(light.loop.area for light in layout.lights if light.content.panes or light.content.seen) / 1e6
        common = {
            "Reference": Typed("IfcIdentifier", unit.document.name[:255]),
            "GlazingAreaFraction": Typed("IfcPositiveRatioMeasure", min(1.0, glass / area)) if glass else None,
        }
        self.file.properties([product], f"Pset_{'Door' if door else 'Window'}Common", common, key)
        sizes = {"Width": width, "Height": height, "Perimeter": layout.outline.length, "Area": area}
        self.file.quantities([product], f"Qto_{'Door' if door else 'Window'}BaseQuantities", sizes, key)


def _kind(unit: Unit, door: Properties, mirrored: bool) -> tuple[Enum, Enum, str | None]:
    """The predefined type, how it opens or is parted, and in words what has no name of its own."""
    if door:
        operation = _hand(door["OperationType"], mirrored)
        return Enum("DOOR"), Enum(operation), door.get("UserDefinedOperationType")
    parted = lining_properties(unit.document, unit.layout)["PartitioningType"]
    root = unit.layout.root
    words = f"{len(root.columns.lights)} by {len(root.rows.lights)}" if parted == "USERDEFINED" else None
    return Enum("WINDOW"), Enum(parted), words


def _hand(word: str, mirrored: bool) -> str:
    """A word of an enumeration, with left and right changed where it is mirrored."""
    if not mirrored:
        return word
    return "_".join(SWAPPED.get(one, one) for one in word.split("_")) if "_" in word else _swapped(word)


def _swapped(word: str) -> str:
    for one, other in SWAPPED.items():
        if one in word:
            return word.replace(one, other)
    return word


def _mirrored_offsets(told: Mapping[str, object]) -> Properties:
    """Mullions counted from the other side."""
    found = dict(told)
    marks = [found.pop(f"{name}MullionOffset", None) for name in ("First", "Second")]
    known = sorted(1 - float(str(mark)) for mark in marks if mark is not None)
    return found | {f"{name}MullionOffset": mark for name, mark in zip(("First", "Second"), known, strict=False)}
