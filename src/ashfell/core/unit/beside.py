"""What stands beside each light of a unit, found without looking at all: of thousands of lights each meets few."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from functools import cached_property

import shapely
from shapely.geometry import Polygon

from ashfell.core.parts import Member, bounds, parts_of
from ashfell.core.unit.layout import Body, Layout, Light


def staying(body: Body) -> Mapping[str, tuple[Member, ...]]:
    """What of each light no sash moves, by the light's key; what is of no light by ``""``."""
    found: dict[str, list[Member]] = defaultdict(list)
    for member in body.members:
        if not member.sash:
            found[member.light].append(member)
    return {key: tuple(members) for key, members in found.items()}


class Beside:
    """A unit that is laid out, for one light after the other to look round in.

    Attributes
    ----------
    layout : Layout
    """

    def __init__(self, layout: Layout) -> None:
        self.layout = layout
        self._taken: dict[str, Polygon] = {}

    def near(self, light: Light, region: Polygon) -> list[Light]:
        """The other lights, in their order, that meet the box round a region of the elevation."""
        lights = self.layout.body.lights
        found = self._spread.query(shapely.box(*region.bounds)).tolist()
        return [lights[index] for index in sorted(found) if lights[index] is not light]

    def taken(self, light: Light) -> Polygon:
        """The box round all of a light that stays, on the elevation."""
        if light.key not in self._taken:
            (left, foot, _), (right, head, _) = bounds(parts_of(self._staying.get(light.key, ()))).tolist()
            self._taken[light.key] = shapely.box(left, foot, right, head)
        return self._taken[light.key]

    @cached_property
    def _staying(self) -> Mapping[str, tuple[Member, ...]]:
        return staying(self.layout.body)

    @cached_property
    def _spread(self) -> shapely.STRtree:
        return shapely.STRtree([light.content.spread or light.loop.polygon for light in self.layout.body.lights])
