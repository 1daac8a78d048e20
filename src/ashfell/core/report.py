"""The report: every part, every light, every finding, as plain data."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from ashfell.core.audit.finding import Finding
from ashfell.core.audit.site import audit_scene
from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.lengths import exact
from ashfell.core.instances import uses_of
from ashfell.core.parts import Member, Part
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.scene import Scene
from ashfell.core.unit import Unit
from ashfell.core.unit.document.members import AXES
from ashfell.core.unit.ifc import door_properties, lining_properties
from ashfell.core.unit.layout import CellLayout, Light, Rect
from ashfell.core.unit.sash_uses import sashes_of

Report = dict[str, Any]


def unit_report(unit: Unit) -> Report:
    """Parts, lights, spacing and findings of one unit; sizes as exact text and as float mm."""
    return {
        "format": "ashfell/unit-report/2",
        "name": unit.document.name,
        "outline": {
            "kind": unit.document.outline.kind,
            "area_mm2": unit.layout.outline.area,
            "length_mm": unit.layout.outline.length,
        },
        "spacing": _spacing(unit.layout.root),
        "cells": {path: _spacing(cell) for path, cell in unit.layout.cells.items() if path},
        "lights": [_light(light) for light in unit.layout.lights],
        "lining": lining_properties(unit.document, unit.layout),
        "door": door_properties(unit.document, unit.layout),
        "members": [_member(member) for member in unit.layout.members],
        "parts": part_rows(unit.parts),
        "definitions": definition_rows(unit.parts),
        "sashes": sash_rows(unit),
        "findings": findings_rows(audit_unit(unit)),
    }


def _light(light: Light) -> Report:
    """One light: its exact clear size (of its bounds, where it is no rectangle), its filling, and the glass in it."""
    operation = light.filling.operation
    found: Report = {
        "id": f"light.{light.key}",
        "column": light.column + 1,
        "row": light.row + 1,
        "entry": light.path,
        "rectangular": light.is_rectangle,
        "filling": light.fill.kind,
        "operation": operation(light.fill, ""),
        "clear": _size(light.clear),
        "clear_area_mm2": light.loop.area,
    }
    for pane in light.content.panes:
        found["pane"] = {"width_mm": float(pane.width), "height_mm": float(pane.height)}
        if pane.exact:
            found["pane"] |= {"width": exact(pane.width), "height": exact(pane.height)}
    if light.content.seen:
        found["seen_panes"] = [
            {"width_mm": p.bounds[2] - p.bounds[0], "height_mm": p.bounds[3] - p.bounds[1], "area_mm2": p.area}
            for p in light.content.seen
        ]
    if light.sashes:
        found["sashes"] = [
            {"name": sash.name or "sash", "operation": operation(light.fill, sash.name), "slides_mm": list(sash.slides)}
            for sash in light.sashes
        ]
    return found


def _member(member: Member) -> Report:
    """One member: how long it is along its axis, and the angles of its ends."""
    form = member.form
    return {
        "id": member.id,
        "entry": member.entry,
        "role": member.role,
        "length_mm": form.length,
        "cuts": list(form.cuts),
    }


def _size(rect: Rect) -> Report:
    return {
        "width": exact(rect.width),
        "height": exact(rect.height),
        "width_mm": float(rect.width),
        "height_mm": float(rect.height),
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
        "findings": findings_rows(audit_scene(scene)),
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
        | ({"inner": part.inner.finish} if part.inner else {})
        for part in parts
    ]


def definition_rows(parts: Sequence[Part]) -> list[Report]:
    """Equal parts: the first of each kind, and which are used again or as its mirror image."""
    definitions, uses = uses_of(parts)
    rows = [{"of": part.id, "uses": [], "mirrored": []} for part in definitions]
    for use in uses:
        rows[use.definition]["mirrored" if use.mirrored else "uses"].append(use.part.id)  # type: ignore[attr-defined]
    return rows


def sash_rows(unit: Unit) -> list[Report]:
    """Every sash with all that it holds: which it equals, and whether as its mirror image."""
    uses = sashes_of(unit.layout, unit.parts)[1]
    first = {use.definition: use.key for use in reversed(uses)}
    return [
        {
            "id": use.key,
            "entry": use.entry,
            "of": first[use.definition],
            "mirrored": use.mirrored,
            "parts": [part.id for part in use.parts],
        }
        for use in uses
    ]


def findings_rows(findings: Iterable[Finding]) -> list[dict[str, str]]:
    """One row for each finding of an audit."""
    return [finding.as_dict() for finding in findings]


def _spacing(cell: CellLayout) -> Report:
    return {
        axis: {
            "rule": cell.spacing(axis).rule,
            "sentence": cell.spacing(axis).sentence(),
            "clear": [exact(light.size) for light in cell.spacing(axis).lights],
            "centres": [exact(distance) for distance in cell.spacing(axis).centre_distances],
        }
        for axis in AXES
    }
