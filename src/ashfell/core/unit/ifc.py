"""What IFC4 (ISO 16739-1) calls a unit's lining and panels: IfcWindowLiningProperties, IfcWindowPanelProperties."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ashfell.core.base.address import cell_place
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.layout import CellLayout, Layout, Light

Properties = dict[str, Any]

PARTITIONING = {
    (1, 1): "SINGLE_PANEL",
    (2, 1): "DOUBLE_PANEL_VERTICAL",
    (1, 2): "DOUBLE_PANEL_HORIZONTAL",
    (3, 1): "TRIPLE_PANEL_VERTICAL",
    (1, 3): "TRIPLE_PANEL_HORIZONTAL",
}
"""IfcWindowTypePartitioningEnum by columns and rows; anything else is USERDEFINED."""
POSITIONS = {
    (1, 1): ("MIDDLE",),
    (2, 1): ("LEFT", "RIGHT"),
    (1, 2): ("BOTTOM", "TOP"),
    (3, 1): ("LEFT", "MIDDLE", "RIGHT"),
    (1, 3): ("BOTTOM", "MIDDLE", "TOP"),
}


def lining_properties(document: UnitDocument, layout: Layout) -> Properties:
    """Attributes of IfcWindowLiningProperties (mm) and one IfcWindowPanelProperties for each light.

    ``LiningDepth`` is across the wall, ``LiningThickness`` is the frame's face. ``FirstTransomOffset`` runs from the
    bottom of the overall size to the transom's centre and ``FirstMullionOffset`` from its left to the mullion's,
    normalised to the overall size. ``LiningOffset`` is how far the frame stands behind the wall's face, which a
    placement sets.
    """
    root = layout.root
    count = len(root.columns.lights), len(root.rows.lights)
    found: Properties = {
        "PartitioningType": PARTITIONING.get(count, "USERDEFINED"),
        "LiningDepth": float(document.frame.depth.mm),
        "LiningThickness": float(document.frame.face.mm),
    }
    found |= _offsets(root)
    positions = POSITIONS.get(count, ())
    found["Panels"] = [
        {
            "OperationType": light.filling.operation(light.fill, sash.name if sash else ""),
            "PanelPosition": positions[_number(light)] if positions else "NOTDEFINED",
            "FrameDepth": float(ring.back - ring.front),
            "FrameThickness": float(ring.faces.max()),
        }
        for light in layout.body.lights
        for sash in (light.sashes or (None,))
        for ring in [sash.body.ring if sash else light.ring]
    ]
    return found


def door_properties(document: UnitDocument, layout: Layout) -> Properties:
    """What a unit is as an IfcDoorType, an IfcDoorLiningProperties and one IfcDoorPanelProperties for each leaf, mm;
    nothing where it holds no leaf.

    A leaf beside fixed lights is a door all the same: these are told as fixed panels. ``UserDefinedOperationType`` says
    in words what IFC4 has no name for.
    """
    lights = layout.body.lights
    doors = [light for light in lights if light.filling.door]
    if not doors:
        return {}
    told = [light.filling.door(light.fill) for light in doors if light.filling.door]
    operation = told[0][0] if len({one for one, _ in told}) == 1 else "USERDEFINED"
    rows = layout.root.rows
    found: Properties = {
        "OperationType": operation,
        "LiningDepth": float(document.frame.depth.mm),
        "LiningThickness": float(document.frame.face.mm),
    }
    if operation == "USERDEFINED":
        found["UserDefinedOperationType"] = ", ".join(light.filling.summary(light.fill) for light in doors)
    sill = document.frame.sides.get("sill", document.frame.face).mm
    if sill:
        found |= {"ThresholdDepth": float(document.frame.depth.mm), "ThresholdThickness": float(sill)}
    if rows.bars:
        found["TransomThickness"] = float(rows.bars[0].size)
        found["TransomOffset"] = float(rows.bars[0].centre)
    for casing in (document.trim.outside, document.trim.inside):
        if casing:
            found |= {"CasingDepth": float(casing.projection.mm), "CasingThickness": float(casing.width.mm)}
            break
    found["Panels"] = [panel for light in lights for panel in _door_panels(light, layout)]
    return found


def _door_panels(light: Light, layout: Layout) -> Iterator[Properties]:
    """A panel for each leaf of a light, or one that is fixed."""
    operation = light.filling.door(light.fill)[1] if light.filling.door else "FIXEDPANEL"
    span = layout.root.columns.span
    for sash in light.sashes if light.filling.door else (None,):
        ring = sash.body.ring if sash else light.ring
        left, _, right, _ = ring.loop.bounds if sash else light.loop.bounds
        middle = (left + right) / 2 / float(span or 1)
        yield {
            "PanelDepth": float(ring.back - ring.front),
            "PanelOperation": operation,
            "PanelWidth": min(1.0, (right - left) / float(layout.outer.width)),
            "PanelPosition": "LEFT" if middle < 0.4 else "RIGHT" if middle > 0.6 else "MIDDLE",
        }


def _number(light: Light) -> int:
    """The place of the light of the whole that a light is in, or is: counted along the one way it is divided."""
    column, row = cell_place(light.key.partition(".")[0]) or (1, 1)
    return max(column, row) - 1


def _offsets(root: CellLayout) -> Properties:
    found: Properties = {}
    for word, spacing in (("Transom", root.rows), ("Mullion", root.columns)):
        bars = spacing.bars[:2]
        if bars:
            found[f"{word}Thickness"] = float(bars[0].size)
        for name, bar in zip(("First", "Second"), bars, strict=False):
            found[f"{name}{word}Offset"] = float(bar.centre / spacing.span)
    return found
