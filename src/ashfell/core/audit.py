"""The audit: what is wrong or worth knowing, each finding with its place, its reason and its remedy."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import asdict, dataclass
from typing import Literal

import manifold3d
import numpy as np

from ashfell.core.base.address import entry_below
from ashfell.core.base.lengths import Style, show
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import RULE_NAMES
from ashfell.core.parts import Part
from ashfell.core.scene import Scene
from ashfell.core.unit import Layout, Unit
from ashfell.core.unit.document.members import AXES
from ashfell.core.wall.document import Placement, SiteDocument, Wall

Level = Literal["fault", "warning", "note"]

OVERLAP = 0.01
"""Volume that two parts may share by rounding, mm³."""
NEAR = 1e-4
"""How far boxes must overlap before their solids are compared, mm."""


@dataclass(frozen=True)
class Finding:
    """One finding: ``place`` is a document entry or a part; ``rule`` what was checked."""

    level: Level
    rule: str
    place: str
    reason: str
    remedy: str = ""

    def as_dict(self) -> dict[str, str]:
        return asdict(self)


ASKEW = (17.0, 31.0, 43.0)
"""A turn, in degrees, that leaves nothing along an axis."""


def audit_unit(unit: Unit, style: Style = Style()) -> list[Finding]:
    """All findings about one unit: solids, overlaps, equal lights."""
    return [*audit_solids(unit.parts), *audit_overlaps(unit.parts), *audit_lights(unit.layout, style)]


def audit_scene(site: SiteDocument, scene: Scene) -> list[Finding]:
    """All findings about a site: what was left out, each definition's solids, units in their openings."""
    found = [_left_out(place, refusal) for place, refusal in scene.refused]
    for name, parts in scene.definitions.items():
        found.extend(_at(name, finding) for finding in (*audit_solids(parts), *audit_overlaps(parts)))
    for placement in site.placements:
        wall = site.wall(placement.wall)
        if wall is not None and placement.id in scene.openings:
            found.extend(_audit_placement(site, placement, wall))
    found.extend(_audit_placed_overlaps(scene))
    return found


def audit_solids(parts: Iterable[Part]) -> Iterator[Finding]:
    """Closed and outward."""
    for part in parts:
        if not part.solid.is_closed:
            yield Finding("fault", "closed", part.id, "Its faces do not close.", "Report this unit as a defect.")
        elif part.solid.volume <= 0:
            yield Finding("fault", "outward", part.id, "Its faces look inwards.", "Report this unit as a defect.")


def audit_overlaps(parts: Sequence[Part]) -> Iterator[Finding]:
    """Parts that share volume: boxes first, then the solids themselves by boolean intersection."""
    pairs = _near_pairs(np.array([part.solid.bounds for part in parts])) if len(parts) > 1 else []
    solids: dict[int, manifold3d.Manifold] = {}
    for a, b in pairs:
        for index in (a, b):
            if index not in solids:
                solids[index] = parts[index].solid.manifold()
        shared = (solids[a] ^ solids[b]).volume()
        if shared > OVERLAP:
            # Where faces lie on each other a boolean operation can see a sliver that is not there; turned, it does not.
            shared = min(shared, (solids[a].rotate(ASKEW) ^ solids[b].rotate(ASKEW)).volume())
        if shared > OVERLAP:
            yield Finding(
                "fault", "no overlap", f"{parts[a].id}, {parts[b].id}",
                f"They share {shared:.2f} mm³.", "Move one, or make it smaller.",
            )  # fmt: skip


def _near_pairs(boxes: np.ndarray) -> list[tuple[int, int]]:
    low, high = boxes[:, 0], boxes[:, 1]
    near = np.ones((len(boxes), len(boxes)), dtype=bool)
    for k in range(3):
        near &= (low[:, None, k] < high[None, :, k] - NEAR) & (low[None, :, k] < high[:, None, k] - NEAR)
    return [(int(a), int(b)) for a, b in np.argwhere(np.triu(near, 1))]


def audit_lights(layout: Layout, style: Style = Style()) -> Iterator[Finding]:
    """Sharing lights that are not equal, and what equal clear lights would be."""
    for path, cell in layout.cells.items():
        for axis in AXES:
            spacing = cell.spacing(axis)
            if spacing.lights_are_equal or len({light.share for light in getattr(cell.cell, axis).lights}) > 1:
                continue
            sizes = ", ".join(show(light.size, style) for light in spacing.lights)
            clear = cell.rules(axis).get("clear")
            equal = next((show(light.size, style) for light in clear.lights if not light.fixed), "") if clear else ""
            yield Finding(
                "note", "equal lights", entry_below(path, axis),
                f"The clear lights are {sizes}: {RULE_NAMES[spacing.rule]} was asked for.",
                f"Equal clear lights would be {equal} each." if equal else "",
            )  # fmt: skip


def _left_out(place: str, refusal: Refusal) -> Finding:
    return Finding("fault", refusal.rule, place, refusal.message, refusal.remedy)


def _at(name: str, finding: Finding) -> Finding:
    return Finding(finding.level, finding.rule, f"{name}: {finding.place}", finding.reason, finding.remedy)


def _audit_placement(site: SiteDocument, placement: Placement, wall: Wall) -> Iterator[Finding]:
    unit, place = site.units[placement.unit], f"placements.{placement.id}"
    back = placement.recess.mm + unit.frame.depth.mm
    if back > wall.thickness.mm:
        yield Finding(
            "warning", "unit in its opening", place,
            f"The frame ends {show(back)} mm behind the wall's outer face and stands {show(back - wall.thickness.mm)} mm "
            f"out of the wall inside.",
            f"Recess it at most {show(wall.thickness.mm - unit.frame.depth.mm)} mm.",
        )  # fmt: skip
    if placement.recess.mm < 0:
        yield Finding(
            "warning", "unit in its opening", place,
            f"The frame stands {show(-placement.recess.mm)} mm out of the wall's outer face.", "Recess it 0 mm or more.",
        )  # fmt: skip
    if placement.gap.mm > 30:
        yield Finding(
            "warning", "unit in its opening", place,
            f"The installation gap of {show(placement.gap.mm)} mm stays open.", "30 mm or less is usual.",
        )  # fmt: skip


def _audit_placed_overlaps(scene: Scene) -> Iterator[Finding]:
    """Instances that run into each other: walls, plates, and units in walls, each taken as a whole."""
    groups = [
        [part.moved(instance.matrix, f"{instance.id}/") for part in scene.definitions[instance.definition]]
        for instance in scene.instances
    ]
    boxes = np.array([
        [np.min([p.solid.bounds[0] for p in g], axis=0), np.max([p.solid.bounds[1] for p in g], axis=0)] for g in groups
    ])  # fmt: skip
    for a, b in _near_pairs(boxes) if len(groups) > 1 else []:
        for one in groups[a]:
            near = [other for other in groups[b] if _boxes_meet(one, other)]
            for finding in audit_overlaps([one, *near]) if near else ():
                if one.id in finding.place.split(", "):
                    yield finding


def _boxes_meet(one: Part, other: Part) -> bool:
    a, b = one.solid.bounds, other.solid.bounds
    return bool((a[0] < b[1] - NEAR).all() and (b[0] < a[1] - NEAR).all())
