"""The plan: hosts cut at the height of their openings, and the units in them, as seen from above."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ashfell.core.base.address import Address
from ashfell.core.plane.points import Floats
from ashfell.core.site.document import SiteDocument
from ashfell.core.site.hosts.host import Host
from ashfell.core.site.opening import Opening, gap_of
from ashfell.core.site.scene import Scene
from ashfell.core.site.variant import planes_in


@dataclass(frozen=True, eq=False)
class PlanHost:
    """A host in plan: its pieces between openings, and where the units stand, each with the address of its placement;
    (c, 2) in the site, mm. Its openings are sorted from its start."""

    host: Host
    solid: tuple[Floats, ...]
    units: tuple[tuple[Address, Floats], ...]
    openings: tuple[Opening, ...]


def plan(site: SiteDocument, scene: Scene) -> list[PlanHost]:
    """The hosts of a site cut at the height of their openings, seen from above."""
    found = []
    for key, standing in scene.standing.items():
        host, frame = standing.host, standing.host.frame()
        openings = tuple(sorted(standing.openings, key=lambda one: one.x))
        by_placement = {opening.placement: opening for opening in openings}
        placed = site.placements_in.get(key, ())
        stood = [placement for placement in placed if placement.id in by_placement and placement.id in scene.units]
        corners = np.empty((len(stood), 4, 3))
        for index, placement in enumerate(stood):
            opening = by_placement[placement.id]
            front, back = (-float(w) for w in planes_in(placement, scene.units[placement.id].layout, host.thickness))
            low = float(opening.x + gap_of(placement, "left"))
            high = float(opening.right - gap_of(placement, "right"))
            corners[index] = (low, 0, back), (high, 0, back), (high, 0, front), (low, 0, front)
        outlines = (corners @ frame[:3, :3].T + frame[:3, 3])[..., :2]
        entries = [Address("placements") / placement.id for placement in stood]
        units = tuple(zip(entries, outlines, strict=True))
        found.append(PlanHost(host, tuple(host.plan(openings)), units, openings))
    return found
