"""Models that stand in openings as they were brought, as they are seen in their wall."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from shapely.geometry import MultiPoint, Polygon

from ashfell.core.parts import Part
from ashfell.core.seen import Facing, Shape, elevation
from ashfell.core.site.opening import Opening
from ashfell.core.site.scene import Scene

MOST = 2000
"""Of a model of more triangles what goes round its pieces is drawn, and not each of its faces."""
WHOLE = 0.9
"""The tone of what is drawn as a whole."""


def brought_in(scene: Scene, one: Opening, wall: str, looks: Facing) -> tuple[str, Sequence[Shape]] | None:
    """The model in an opening, from its sill and its edge at the start of the wall; by a key that those that look alike
    have in common. Nothing where there is none."""
    instance = scene.brought_in.get(one.placement)
    if instance is None:
        return None
    frame = scene.standing[wall].host.frame(float(one.x + one.width / 2))
    here = np.linalg.inv(frame) @ instance.matrix
    here[:2, 3] -= float(one.x), float(one.z)
    parts = [part.moved(here) for part in scene.definitions[instance.definition]]
    key = f"{instance.definition} {here.round(4).tolist()} {looks}"
    if sum(len(part.solid.triangles) for part in parts) > MOST:
        return key, [shape for part in parts for shape in _around(part, 1.0 if looks == "outside" else -1.0)]
    return key, elevation(parts, looks)


def _around(part: Part, turn: float) -> list[Shape]:
    hull = MultiPoint(part.solid.vertices[:, :2] * (turn, 1.0)).convex_hull
    if not isinstance(hull, Polygon):
        return []
    loop = np.array(hull.exterior.coords)[:-1]
    return [Shape((loop,), part.role, part.id, part.entry, WHOLE, part.finish)]
