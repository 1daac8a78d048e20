"""The plan: hosts cut at the height of their openings, and the units in them, as seen from above, storey by storey."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

import numpy as np

from ashfell.core.base.address import Address
from ashfell.core.plane.points import Floats
from ashfell.core.site.document.placement import Placement
from ashfell.core.site.hosts.host import Host
from ashfell.core.site.opening import Opening, gap_of
from ashfell.core.site.scene import Scene
from ashfell.core.site.settle import Levels
from ashfell.core.site.standing import Standing
from ashfell.core.site.variant import planes_in
from ashfell.core.unit.layout import Layout

GROUND = Levels(())
"""Of a site without storeys."""
SWEPT = 90.0
"""How far a leaf is drawn open, degrees (common practice, no source)."""
CUT = Fraction(1200)
"""How far above the floor of a storey walls are cut, mm (common practice, no source)."""


@dataclass(frozen=True, eq=False)
class PlanUnit:
    """A unit in plan: the address of its placement, its outline, a piece for each facet, and the lines of what its
    leaves sweep over; (c, 2) in the site, mm."""

    entry: str
    pieces: tuple[Floats, ...]
    sweeps: tuple[Floats, ...] = ()


@dataclass(frozen=True, eq=False)
class PlanHost:
    """A host in plan: its pieces between openings, and where the units stand; (c, 2) in the site, mm. Its openings are
    sorted from its start. ``below`` is whether it only stands in the storey below."""

    host: Host
    solid: tuple[Floats, ...]
    units: tuple[PlanUnit, ...]
    openings: tuple[Opening, ...]
    below: bool = False


@dataclass(frozen=True, eq=False)
class PlanOutline:
    """The outline of a plate or a roof over it, (c, 2) in the site, mm."""

    entry: str
    points: Floats


def storey_of(scene: Scene, levels: Levels, picked: str) -> str:
    """The id of the storey that what is picked stands in; the first where nothing is, empty without storeys."""
    table, key = ([*Address(picked).steps, "", ""])[:2]
    if table == "storeys" and key in levels.of:
        return key
    if not levels.storeys:
        return ""
    if table in ("lamps", "cameras"):
        own = next((one.storey for one in getattr(scene.site, table) if one.id == key), None)
        return own if own in levels.of else levels.storeys[0].id
    level = Fraction(0)
    wall = scene.site.wall(key) if table == "walls" else None
    opening = scene.openings.get(key) if table == "placements" else None
    if opening is not None:
        wall = scene.site.wall(scene.site.placement_by_id[key].wall)
        level = opening.z
    if wall is not None:
        level += wall.base.mm
    elif table == "plates":
        level = next((plate.level.mm for plate in scene.site.plates if plate.id == key), level)
    under = [key for key, low in levels.of.items() if low <= level]
    return under[-1] if under else levels.storeys[0].id


def plan(scene: Scene, levels: Levels = GROUND, storey: str = "") -> list[PlanHost]:
    """The hosts of a site cut at the height of their openings, seen from above: those of a storey, and behind them the
    walls of the one below; all of them where there are no storeys."""
    if storey not in levels.of:
        walls = [one for one in scene.standing.values() if scene.site.wall(one.host.id) is not None]
        return [_seen(scene, one, one.openings) for one in walls]
    low, high = levels.of[storey], levels.top(storey)
    found, below = [], []
    for one in scene.standing.values():
        wall = scene.site.wall(one.host.id)
        if wall is None:
            continue
        base, top = wall.base.mm, wall.base.mm + one.host.height
        if base < high and top > low and base <= low + CUT < top:
            inside = [opening for opening in one.openings if base + opening.z < high and base + opening.head > low]
            found.append(_seen(scene, one, inside))
        elif top <= low + CUT and top > low - CUT:
            below.append(_seen(scene, one, (), below=True))
    return [*below, *found]


def _seen(scene: Scene, one: Standing, openings: Sequence[Opening], below: bool = False) -> PlanHost:
    host = one.host
    sorted_ = tuple(sorted(openings, key=lambda opening: opening.x))
    by_placement = {opening.placement: opening for opening in sorted_}
    placed = scene.site.placements_in.get(host.id, ())
    stood = [placement for placement in placed if placement.id in by_placement and placement.id in scene.units]
    if host.folds:
        units = tuple(_unit(scene, host, placement, by_placement[placement.id]) for placement in stood)
    else:
        units = _units(scene, host, stood, by_placement)
    return PlanHost(host, tuple(host.plan(sorted_)), units, sorted_, below)


def _extent(scene: Scene, host: Host, placement: Placement, opening: Opening) -> tuple[float, float, float, float]:
    """From where to where a unit stands along its host, and from back to front, mm."""
    front, back = (-float(w) for w in planes_in(placement, scene.units[placement.id].layout, host.thickness))
    low = float(opening.x + gap_of(placement, "left"))
    return low, float(opening.right - gap_of(placement, "right")), back, front


def _units(scene: Scene, host: Host, stood: list[Placement], openings: dict[str, Opening]) -> tuple[PlanUnit, ...]:
    """The units of a straight host, all at once."""
    frame = host.frame()
    corners = np.empty((len(stood), 4, 3))
    for index, placement in enumerate(stood):
        low, high, back, front = _extent(scene, host, placement, openings[placement.id])
        corners[index] = (low, 0, back), (high, 0, back), (high, 0, front), (low, 0, front)
    outlines = (corners @ frame[:3, :3].T + frame[:3, 3])[..., :2]
    return tuple(
        PlanUnit(Address("placements") / placement.id, (outline,), _sweeps(scene, placement.id))
        for placement, outline in zip(stood, outlines, strict=True)
    )


@lru_cache(maxsize=512)
def _swept_lines(layout: Layout) -> tuple[Floats, ...]:
    """What the leaves of a unit sweep over, in its own space; told once for all its placements."""
    return tuple(swept.line(SWEPT) for light in layout.lights for swept in light.filling.sweeps(light))


def _sweeps(scene: Scene, placement: str) -> tuple[Floats, ...]:
    """What the leaves of a unit sweep over, where it stands."""
    lines = _swept_lines(scene.units[placement].layout)
    if not lines:
        return ()
    matrix = scene.instance_of[placement].matrix
    return tuple(np.asarray(line @ matrix[:2, (0, 2)].T + matrix[:2, 3]) for line in lines)


def _unit(scene: Scene, host: Host, placement: Placement, opening: Opening) -> PlanUnit:
    """A unit in a host that folds."""
    low, high, back, front = _extent(scene, host, placement, opening)
    entry = Address("placements") / placement.id
    seat = host.seated(opening) if opening.flat else None
    if seat is None:
        return PlanUnit(entry, tuple(host.on_plan(low, high, back, front)))
    corners = np.array([(low, 0, back), (high, 0, back), (high, 0, front), (low, 0, front)])
    return PlanUnit(entry, (np.asarray((corners @ seat[:3, :3].T + seat[:3, 3])[:, :2]),))


Shows = Callable[[str], bool]
"""Whether what stands under an id is drawn."""


def whole(key: str) -> bool:
    """All that stands is drawn."""
    return True


def outlines_over(scene: Scene, shows: Shows = whole) -> list[PlanOutline]:
    """The outlines of plates and roofs, of what is shown."""
    found = []
    for key, shape in scene.plates.items():
        if shows(key):
            found.append(PlanOutline(Address("plates") / key, np.array(shape.exterior.coords)[:-1]))
    for roof in scene.site.roofs:
        if roof.id in scene.standing and shows(roof.id):
            found.append(PlanOutline(Address("roofs") / roof.id, scene.standing[roof.id].host.plan([])[0]))
    return found
