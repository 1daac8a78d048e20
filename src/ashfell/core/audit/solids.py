"""What must hold for solids: closed, outward, and no two of them sharing volume."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

import numpy as np
import shapely

from ashfell.core.audit.finding import Finding
from ashfell.core.audit.tiles import crossings
from ashfell.core.base.kept import kept
from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats

OVERLAP = 0.01
"""Volume that two parts may share by rounding, mm³."""
NEAR = 1e-4
"""How far boxes must overlap before their solids are compared, mm."""
ASKEW = (17.0, 31.0, 43.0)
"""A turn, in degrees, that leaves nothing along an axis."""
KEPT = 32e6
"""How much of definitions is kept with what was found about them, bytes."""


@kept(KEPT, lambda _, parts: 3_000.0 * len(parts) + 50.0 * sum(len(part.solid.triangles) for part in parts))
def audit_parts(parts: tuple[Part, ...]) -> tuple[Finding, ...]:
    """All findings about the solids of one unit or host; those of the same parts are kept."""
    return (*audit_solids(parts), *audit_overlaps(parts))


def audit_solids(parts: Iterable[Part]) -> Iterator[Finding]:
    """Closed and outward."""
    for part in parts:
        if not part.solid.is_closed:
            yield Finding("fault", "closed", part.id, "Its faces do not close.", "Report this unit as a defect.")
        elif part.solid.volume <= 0:
            yield Finding("fault", "outward", part.id, "Its faces look inwards.", "Report this unit as a defect.")


def audit_overlaps(parts: Sequence[Part]) -> Iterator[Finding]:
    """Parts that share volume: boxes first, then the solids themselves by boolean intersection."""
    pairs = near_pairs(np.array([part.solid.bounds for part in parts])) if len(parts) > 1 else []
    yield from shared_volumes(parts, pairs)


def shared_volumes(parts: Sequence[Part], pairs: Iterable[tuple[int, int]], depth: float = 0.0) -> Iterator[Finding]:
    """Those of some pairs of parts that share volume: more than a sliver of a ``depth``, mm, over all of where their
    boxes meet. Of one that does not close it is not known."""
    closed = [(a, b) for a, b in pairs if parts[a].solid.is_closed and parts[b].solid.is_closed]
    for (a, b), met in crossings([part.solid for part in parts], closed, OVERLAP / 2).items():
        shared = sum((one.solid ^ other.solid).volume() for one, other in met)
        least = max(OVERLAP, depth * _widest(parts[a], parts[b])) if shared > OVERLAP else OVERLAP
        if shared > least:
            # Where faces lie on each other a boolean operation can see a sliver that is not there; turned, it does not.
            one, other = (parts[index].solid.manifold().rotate(ASKEW) for index in (a, b))
            shared = min(shared, (one ^ other).volume())
        if shared > least:
            place = f"{parts[a].id}, {parts[b].id}"
            yield Finding(
                "fault", "no overlap", place, f"They share {shared:.2f} mm³.", "Move one, or make it smaller."
            )


def _widest(one: Part, other: Part) -> float:
    """The largest side of the box in which the boxes of two parts meet, mm²."""
    (a, b), (c, d) = one.solid.bounds, other.solid.bounds
    sides = np.sort(np.minimum(b, d) - np.maximum(a, c))
    return float(sides[1] * sides[2])


def near_pairs(boxes: Floats) -> list[tuple[int, int]]:
    """Pairs of boxes (n, 2, 3) that overlap, found by an index over the first two axes."""
    if not len(boxes):
        return []
    low, high = boxes[:, 0], boxes[:, 1]
    flat = shapely.box(low[:, 0], low[:, 1], high[:, 0], high[:, 1])
    first, second = shapely.STRtree(flat).query(flat, predicate="intersects")
    kept = first < second
    a, b = first[kept], second[kept]
    meet = ((low[a] < high[b] - NEAR) & (low[b] < high[a] - NEAR)).all(axis=1)
    return sorted(zip(a[meet].tolist(), b[meet].tolist(), strict=True))
