"""The plan: hosts cut at the height of their openings, and the units in them, as seen from above."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ashfell.core.base.address import Address
from ashfell.core.plane.points import Floats
from ashfell.core.site.document import SiteDocument
from ashfell.core.site.hosts.host import Host
from ashfell.core.site.opening import Opening
from ashfell.core.site.scene import Scene


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
        units = []
        for placement in site.placements_in.get(key, ()):
            opening = by_placement.get(placement.id)
            if opening is not None:
                front, back = (-float(placement.recess.mm + w) for w in scene.units[placement.unit].layout.depth)
                gap = float(placement.gap.mm)
                low, high = float(opening.x) + gap, float(opening.right) - gap
                corners = np.array([(low, 0, back), (high, 0, back), (high, 0, front), (low, 0, front)])
                outline = (corners @ frame[:3, :3].T + frame[:3, 3])[:, :2]
                units.append((Address("placements") / placement.id, outline))
        found.append(PlanHost(host, tuple(host.plan(openings)), tuple(units), openings))
    return found
