"""Opened sashes of different lights keep clear of each other."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from math import ceil

import numpy as np
import shapely

from ashfell.core.base.document import dump, read
from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.points import TOUCH, Floats
from ashfell.core.solid.plate import plate
from ashfell.core.solid.topology import Solid
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.edit.change import change
from ashfell.core.unit.layout import Layout, Light, SashLayout
from ashfell.core.unit.solve.unit import laid_out

STEP = 10
"""In steps of what an opened amount is looked for that is clear, percent."""
TAKEN = 1.0
"""Sashes that share less than this only touch, mm³."""


@dataclass(frozen=True)
class Stood:
    """A sash of a light where it stands open or shut."""

    light: Light
    sash: SashLayout

    @property
    def moved(self) -> bool:
        """Whether it is not shut."""
        return self.sash.motion is not None and self.opened > 0

    @cached_property
    def solid(self) -> Solid:
        """All that is within its outer edge, as deep as it is."""
        ring = self.sash.body.ring
        outline = shapely.remove_repeated_points(ring.loop.polygon, TOUCH)
        whole = plate(outline, -float(ring.back), -float(ring.front))
        return whole if self.sash.motion is None else whole.moved(self.sash.motion)

    @property
    def bounds(self) -> Floats:
        """The box that it fills, (2, 3) mm."""
        return self.solid.bounds

    @property
    def entry(self) -> str:
        """The address of how far it is opened."""
        return f"{self.sash.entry_in(self.light)}.opened"

    @property
    def opened(self) -> float:
        """How far it is opened, percent."""
        return float(self.light.fill.opened_of(self.sash.name)) if hasattr(self.light.fill, "opened_of") else 0.0


def check_apart(document: UnitDocument, layout: Layout) -> None:
    """Refuse a sash that is opened so far that it goes through one of another light.

    Raises
    ------
    Refusal
        With an amount that is clear.
    """
    pair = next(meeting(layout), None)
    if pair is None:
        return
    ways = [(moved, met) for moved, met in (pair, pair[::-1]) if moved.opened]
    found = [(_clear(document, moved), moved, met) for moved, met in ways]
    clear, moved, met = max(found, key=lambda one: one[0])
    raise Refusal(
        moved.entry,
        f"at most {clear} percent",
        f"Opened by {moved.opened:g} %, the sash in {moved.light.key} goes through that in {met.light.key}"
        + (f", opened by {met.opened:g} %." if met.moved else "."),
        f"Open it by {clear} % at most.",
    )


def _clear(document: UnitDocument, moved: Stood) -> int:
    """The largest amount, in steps, by which a sash goes through no other."""
    data = dump(document)
    for amount in range(STEP * (ceil(moved.opened / STEP) - 1), 0, -STEP):
        layout = laid_out(read(UnitDocument, change(data, moved.entry, str(amount))))
        if all(moved.light.key not in (one.light.key, other.light.key) for one, other in meeting(layout)):
            return amount
    return 0


def meeting(layout: Layout) -> Iterator[tuple[Stood, Stood]]:
    """Sashes of different lights that go through each other."""
    stood = [Stood(light, sash) for light in layout.body.lights for sash in light.sashes]
    if len(stood) < 2 or not any(one.moved for one in stood):
        return
    bounds = np.array([one.bounds for one in stood])
    boxes = shapely.box(*bounds[:, 0, :2].T, *bounds[:, 1, :2].T)
    near = shapely.STRtree(boxes).query(boxes, predicate="intersects").T.tolist()
    for first, second in near:
        one, other = stood[first], stood[second]
        if first < second and one.light is not other.light and (one.moved or other.moved):
            low, high = np.maximum(bounds[first, 0], bounds[second, 0]), np.minimum(bounds[first, 1], bounds[second, 1])
            if (low < high).all() and (one.solid.manifold() ^ other.solid.manifold()).volume() > TAKEN:
                yield one, other
