"""What a leaf would strike in a site before it is as far open as it turns: walls, and other leaves as they stand. It is
told on the plan, for what stands at the height of the leaf."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import MultiPoint, Polygon

from ashfell.core.audit.finding import Finding
from ashfell.core.base.address import Address
from ashfell.core.kinds.opening import Swept
from ashfell.core.plane.points import Floats
from ashfell.core.site.document.placement import COPY
from ashfell.core.site.scene import Scene

STRUCK = 2.0
"""How deep a leaf is in something that it strikes, mm."""


@dataclass(frozen=True, eq=False)
class Swing:
    """A leaf in a site: whose it is, in which light, what it sweeps over in its unit, and the unit's place."""

    placement: str
    light: str
    swept: Swept
    matrix: Floats

    def at(self, degrees: float) -> Polygon:
        """What it covers of the plan when it is turned so far."""
        return Polygon(self.swept.at(degrees) @ self.matrix[:2, (0, 2)].T + self.matrix[:2, 3])

    def reach(self) -> Polygon:
        """What no position of it leaves, but for what it may be in what it strikes."""
        corners = np.concatenate([self.swept.at(degrees) for degrees in self.swept.on_the_way()])
        return MultiPoint(corners @ self.matrix[:2, (0, 2)].T + self.matrix[:2, 3]).convex_hull.buffer(-STRUCK)

    @property
    def low(self) -> float:
        """Its foot, mm."""
        return float(self.matrix[2, 3]) + self.swept.foot

    @property
    def high(self) -> float:
        """Its head, mm."""
        return float(self.matrix[2, 3]) + self.swept.head


def swings_of(scene: Scene) -> Iterator[Swing]:
    """The leaves of a site that are moved over the plan."""
    for placement, unit in scene.units.items():
        for light in unit.layout.lights:
            for swept in (one for one in light.filling.sweeps(light) if one.strikes):
                yield Swing(placement, light.key, swept, scene.instance_of[placement].matrix)


def audit_swings(scene: Scene) -> Iterator[Finding]:
    """For each leaf that strikes something, what and at which angle."""
    swings = [*swings_of(scene)]
    if not swings:
        return
    walls = [
        (Polygon(piece), float(one.host.frame()[2, 3]), float(one.host.height), one.host.name)
        for one in scene.standing.values()
        if one.host.built and scene.site.wall(one.host.id) is not None
        for piece in one.host.plan(one.openings)
    ]
    others = [
        (one.at(one.swept.opened), one.low, one.high - one.low, f"the leaf of {one.placement}", one) for one in swings
    ]
    tree = shapely.STRtree([shape for shape, *_ in (*walls, *others)])
    solids = [*((*wall, None) for wall in walls), *others]
    for swing in swings:
        reach = swing.reach()
        near = [solids[k] for k in tree.query(reach)]
        beside = [
            (shape, name)
            for shape, low, tall, name, own in near
            if own is not swing and low < swing.high and low + tall > swing.low and not _paired(swing, own)
            if reach.intersects(shape)
        ]
        if not beside:
            continue
        for angle in swing.swept.on_the_way():
            inner = swing.at(angle).buffer(-STRUCK)
            struck = next((name for shape, name in beside if inner.intersects(shape)), None)
            if struck is not None:
                unit = swing.swept.unit
                turns = f"{abs(angle):g}{unit} of {abs(swing.swept.turns):g}{unit}"
                yield Finding(
                    "warning",
                    "room to open",
                    Address("placements") / swing.placement.partition(COPY)[0],
                    f"Opened by {turns}, its leaf {swing.light} strikes {struck}.",
                    "Move it, open it to the other side, or let it open less.",
                )
                break


def _paired(swing: Swing, other: Swing | None) -> bool:
    """Whether two leaves are of one unit: they were told apart where that was solved."""
    return other is not None and other.placement == swing.placement
