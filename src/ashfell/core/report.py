"""The report: every part, every light, every finding, as plain data."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from ashfell.core.audit import Finding, audit_scene, audit_unit
from ashfell.core.lengths import exact
from ashfell.core.parts import Part
from ashfell.core.scene import Scene
from ashfell.core.unit import Layout, Unit
from ashfell.core.wall.document import SiteDocument

Report = dict[str, Any]


def unit_report(unit: Unit) -> Report:
    """Parts, lights, spacing and findings of one unit; sizes as exact text and as float mm."""
    return {
        "format": "ashfell/unit-report/1",
        "name": unit.document.name,
        "spacing": {axis: _spacing(unit.layout, axis) for axis in ("columns", "rows")},
        "lights": [
            {
                "id": f"light.{light.key}",
                "column": light.column + 1,
                "row": light.row + 1,
                "clear": {
                    "width": exact(light.clear.width),
                    "height": exact(light.clear.height),
                    "width_mm": float(light.clear.width),
                    "height_mm": float(light.clear.height),
                },
                "pane": {"width": exact(light.pane.width), "height": exact(light.pane.height)},
            }
            for light in unit.layout.lights
        ],
        "parts": part_rows(unit.parts),
        "findings": findings_rows(audit_unit(unit)),
    }


def scene_report(site: SiteDocument, scene: Scene) -> Report:
    """Parts of every instance, openings, and findings of a site."""
    return {
        "format": "ashfell/site-report/1",
        "name": site.name,
        "openings": [
            {
                "placement": opening.placement,
                "x": exact(opening.x),
                "sill": exact(opening.z),
                "head": exact(opening.head),
                "width": exact(opening.width),
                "height": exact(opening.height),
            }
            for opening in scene.openings.values()
        ],
        "parts": part_rows(scene.parts),
        "findings": findings_rows(audit_scene(site, scene)),
    }


def part_rows(parts: Iterable[Part]) -> list[Report]:
    """One row a part: role, finish, bounding box, volume, closed or not."""
    return [
        {
            "id": part.id,
            "entry": part.entry,
            "role": part.role,
            "finish": part.finish,
            "bounds_mm": part.solid.bounds.tolist(),
            "volume_mm3": part.solid.volume,
            "closed": part.solid.is_closed,
        }
        for part in parts
    ]


def findings_rows(findings: Iterable[Finding]) -> list[dict[str, str]]:
    return [finding.as_dict() for finding in findings]


def _spacing(layout: Layout, axis: str) -> Report:
    spacing = layout.columns if axis == "columns" else layout.rows
    return {
        "rule": spacing.rule,
        "sentence": spacing.sentence(),
        "clear": [exact(light.size) for light in spacing.lights],
        "centres": [exact(distance) for distance in spacing.centre_distances],
    }
