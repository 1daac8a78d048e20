"""What every product of an IFC file is made with: identities, placements, solids, finishes, properties."""

from __future__ import annotations

import uuid
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from ashfell.core.finish import Finish
from ashfell.core.finish.document import to_srgb
from ashfell.core.plane.points import Floats
from ashfell.core.solid.topology import Solid
from ashfell.formats.step import Enum, Ref, Step, Typed, Value, corners, points, ratios

LETTERS = "0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz_$"
SPACE = uuid.UUID("5c1d6f0e-3a77-5b0e-9a6a-0f1f6a2b9d11")
"""Of the identities of a file: what has the same address in a site of the same name has the same one each time."""

INWARDS = np.array([[1.0, 0, 0, 0], [0, 0, -1, 0], [0, 1, 0, 0], [0, 0, 0, 1]])
"""From the space of a host or a unit (v up, w outwards) to one with z up, whose y goes inwards."""


def identity(*words: str) -> str:
    """22 letters for what these words name (the compressed form of a UUID)."""
    value = uuid.uuid5(SPACE, "\x1f".join(words)).int
    found = []
    for _ in range(22):
        value, rest = divmod(value, 64)
        found.append(LETTERS[rest])
    return "".join(reversed(found))


def turned(matrix: Floats) -> Floats:
    """A placement of a host or unit as one of its space with z up."""
    return np.asarray(matrix @ np.linalg.inv(INWARDS))


@dataclass
class File:
    """An IFC4 file that is being written, mm."""

    step: Step
    finishes: Mapping[str, Finish]
    body: Ref
    world: Ref
    _styles: dict[str, Ref] = field(default_factory=dict)
    _materials: dict[str, Ref] = field(default_factory=dict)

    def guid(self, *words: str) -> str:
        """The identity of something in this file."""
        return identity(self.step.name, *words)

    # --- where things are

    def point(self, *values: float) -> Ref:
        return self.step.once("IfcCartesianPoint", [float(value) for value in values])

    def direction(self, *values: float) -> Ref:
        return self.step.once("IfcDirection", ratios(values))

    def axes(self, matrix: Floats) -> Ref:
        """A rigid motion (4, 4)."""
        return self.step.once(
            "IfcAxis2Placement3D",
            self.point(*matrix[:3, 3]),
            self.direction(*matrix[:3, 2]),
            self.direction(*matrix[:3, 0]),
        )

    def placement(self, matrix: Floats, within: Ref | None) -> Ref:
        return self.step.add("IfcLocalPlacement", within, self.axes(matrix))

    # --- what they look like

    def faces(self, solid: Solid, space: Floats = INWARDS) -> Ref:
        """A closed solid as its triangles, in another space."""
        moved = solid.moved(space)
        listed = self.step.add("IfcCartesianPointList3D", points(moved.vertices))
        return self.step.add("IfcTriangulatedFaceSet", listed, None, True, corners(_whole(moved)), None)

    def styled(self, item: Ref, finish: str) -> Ref:
        """An item in the look of a finish."""
        self.step.add("IfcStyledItem", item, [self.style(finish)], None)
        return item

    def shape(self, items: Sequence[Ref], kind: str = "Tessellation") -> Ref:
        """The body of a product."""
        shown = self.representation(items, kind)
        return self.step.add("IfcProductDefinitionShape", None, None, [shown])

    def representation(self, items: Sequence[Ref], kind: str = "Tessellation") -> Ref:
        return self.step.add("IfcShapeRepresentation", self.body, "Body", kind, list(items))

    def style(self, key: str) -> Ref:
        """A finish as a surface style."""
        if key not in self._styles:
            finish = self.finishes[key]
            rgb = [round(to_srgb(value), 4) for value in finish.linear]
            tint = self.step.once("IfcColourRgb", None, *rgb)
            shown = self.step.add(
                "IfcSurfaceStyleRendering",
                tint,
                0.85 * finish.transmission,
                *[None] * 5,
                Typed("IfcSpecularRoughness", max(finish.roughness, 1e-3)),
                Enum("GLASS" if finish.transmits else "METAL" if finish.metallic > 0.5 else "NOTDEFINED"),
            )
            self._styles[key] = self.step.add("IfcSurfaceStyle", finish.name, Enum("BOTH"), [shown])
        return self._styles[key]

    def material(self, key: str) -> Ref:
        """A finish as a material."""
        if key not in self._materials:
            finish = self.finishes[key]
            self._materials[key] = self.step.add("IfcMaterial", finish.name, None, finish.kind)
        return self._materials[key]

    # --- what is known of them

    def properties(self, of: Sequence[Ref], name: str, values: Mapping[str, Typed | None], *words: str) -> None:
        """A property set of some products; what is not known is left out."""
        known = [
            self.step.add("IfcPropertySingleValue", key, None, value, None)
            for key, value in values.items()
            if value is not None
        ]
        if known:
            told = self.step.add("IfcPropertySet", self.guid(name, *words), None, name, None, known)
            self.defines(of, told, name, *words)

    def quantities(self, of: Sequence[Ref], name: str, values: Mapping[str, float], *words: str) -> None:
        """A set of quantities of some products; lengths in mm, areas in m², volumes in m³ by their names."""
        known = [self._quantity(key, value) for key, value in values.items()]
        told = self.step.add("IfcElementQuantity", self.guid(name, *words), None, name, None, None, known)
        self.defines(of, told, name, *words)

    def _quantity(self, key: str, value: float) -> Ref:
        kind = "Volume" if "Volume" in key else "Area" if "Area" in key else "Length"
        return self.step.add(f"IfcQuantity{kind}", key, None, None, float(value), None)

    def defines(self, of: Sequence[Ref], told: Ref, *words: str) -> None:
        self.step.add("IfcRelDefinesByProperties", self.guid("defines", *words), None, None, None, list(of), told)

    def relate(self, kind: str, *values: Value, words: Iterable[str]) -> Ref:
        """A relation that has no name."""
        return self.step.add(kind, self.guid(kind, *words), None, None, None, *values)


def _whole(solid: Solid) -> Floats:
    """The triangles that have three corners apart."""
    found = solid.triangles
    return np.asarray(found[(found != np.roll(found, 1, axis=1)).all(axis=1)])
