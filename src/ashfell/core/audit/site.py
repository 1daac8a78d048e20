"""The audit of a site: what was left out, every definition's solids, units in their openings, and what runs
into what.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator, Sequence
from dataclasses import replace
from fractions import Fraction

import numpy as np
import shapely
from shapely.geometry import MultiPoint, Polygon

from ashfell.core.audit.finding import Finding
from ashfell.core.audit.solids import KEPT, NEAR, audit_parts, near_pairs, shared_volumes
from ashfell.core.audit.swings import audit_swings
from ashfell.core.base.address import Address
from ashfell.core.base.kept import kept
from ashfell.core.base.lengths import exact, show
from ashfell.core.base.progress import steps
from ashfell.core.parts import Part, bounds, box_corners
from ashfell.core.plane.loop import SIDES
from ashfell.core.plane.points import Floats
from ashfell.core.site.document.placement import COPY, Placement
from ashfell.core.site.document.wall import Wall
from ashfell.core.site.hosts.host import Host, Layer
from ashfell.core.site.hosts.wall import WallHost
from ashfell.core.site.instance import Instance
from ashfell.core.site.opening import Opening, gap_of, opening_for
from ashfell.core.site.scene import Scene
from ashfell.core.site.standing import Standing, in_host, with_pockets
from ashfell.core.site.stands_in import FITS, fit_of
from ashfell.core.site.variant import planes_in, recess_of
from ashfell.core.unit.make import Unit
from ashfell.core.unit.members.faces import side_faces

WIDEST_GAP = Fraction(30)
"""An installation gap above this is told, mm (common practice, no source)."""
THIN = 50.0
"""Less wall than this beside or above an opening is told, mm (common practice, no source)."""
FINE = 1e-3
"""What stands in a site where angles and places of some decimals say may run into something by so little, mm."""
MEET = 1e-3
"""Footprints that share less than this only touch, mm²."""
BESIDE = 1.0
"""How far beyond what a unit reaches its host is looked at, mm."""


def _models_in_openings(scene: Scene) -> Iterator[Finding]:
    """What of models does not fit the openings that they stand in as they are."""
    left_out = {place for place, _ in scene.refused}
    for one in scene.document.surroundings:
        place = Address("surroundings") / one.id
        if not one.opening or place in left_out:
            continue
        fit = fit_of(one, scene.openings[one.opening])
        size = f"“{one.name}” is {fit.width:.6g} mm wide and {fit.height:.6g} mm high; its opening is "
        size += f"{exact(fit.opening.width)} by {exact(fit.opening.height)}"
        words = [
            f"{over:.6g} mm too {way}" for over, way in zip(fit.over, ("wide", "high"), strict=True) if over > FITS
        ]
        if words:
            remedy = f"Make the opening {fit.width:.6g} by {fit.height:.6g} mm, or the model less high."
            yield Finding("fault", "a model that fits its opening", place, f"{size}: {' and '.join(words)}.", remedy)
        elif max(-over for over in fit.over) > FITS:
            beside, above = (max(0.0, -over) for over in fit.over)
            told = f"{size}: {beside / 2:.6g} mm are left on each side, {above:.6g} mm above."
            yield Finding("note", "a model that fits its opening", place, told, "Close the gap, or leave it.")


def audit_scene(scene: Scene) -> list[Finding]:
    """All findings about a site."""
    found = [Finding("fault", r.rule, place, r.message, r.remedy) for place, r in scene.refused]
    found += _models_in_openings(scene)
    for name, parts in steps(scene.definitions.items(), "units checked"):
        if name in scene.brought:
            continue
        found += [finding.within(name) for finding in audit_parts(parts)]
    for key, standing in steps(scene.standing.items(), "walls checked"):
        found += _thin(standing)
        cut = {opening.placement: opening for opening in standing.openings}
        placed = [placement for placement in scene.site.placements_in.get(key, ()) if placement.id in cut]
        for placement in placed:
            unit = scene.units.get(placement.id)
            if unit is None or not standing.host.built:
                continue
            found += _in_its_opening(placement, unit, standing.host)
            found += _against_its_host(placement, unit, standing, cut[placement.id])
    return [*found, *audit_swings(scene), *_placed_overlaps(scene)]


def _thin(standing: Standing) -> Iterator[Finding]:
    """Openings with little wall left beside or above them; none left is meant, as at a corner or under a beam."""
    if not standing.host.built:
        return
    host, boxes = standing.host, [one.polygon.bounds for one in standing.openings]
    for one, (left, foot, right, head) in zip(standing.openings, boxes, strict=True):
        near = _near_openings(standing, np.array([[left - THIN, foot], [right + THIN, head]]))
        apart = min((float(one.polygon.distance(other.polygon)) for other in near if other is not one), default=THIN)
        for room, where in (
            (left, f"before it to the start of “{host.name}”"),
            (float(host.length) - right, f"behind it to the end of “{host.name}”"),
            (float(host.room_above(one)), f"above it to the top of “{host.name}”"),
            (apart, "between it and the next opening"),
        ):
            if NEAR < room < THIN:
                yield Finding(
                    "warning",
                    "wall beside the opening",
                    Address("placements") / one.placement.partition(COPY)[0],
                    f"Only {show(Fraction(round(room * 100), 100))} mm of wall is left {where}.",
                    f"{THIN:g} mm or more stands; none at all can be meant.",
                )


def _in_its_opening(placement: Placement, unit: Unit, host: Host) -> Iterator[Finding]:
    place, rule = Address("placements") / placement.entry, "unit in its opening"
    front, back = planes_in(placement, unit.layout, host.thickness)
    recess = recess_of(placement, unit.layout, host.thickness)
    for out, where, way in (
        (back - host.thickness, "inner", 1 if placement.turned else -1),
        (-front, "outer", -1 if placement.turned else 1),
    ):
        meant = placement.stands == "recessed" and placement.recess.mm < 0 and out == -recess
        if out > 0 and not meant:
            less = "at most" if way < 0 else "at least"
            yield Finding(
                "warning",
                rule,
                place,
                f"The frame stands {show(out)} mm out of the wall's {where} face.",
                f"Recess it {less} {show(recess + way * out)} mm.",
            )
    widest = max(gap_of(placement, side) for side in SIDES)
    if widest > WIDEST_GAP:
        yield Finding(
            "warning",
            rule,
            place,
            f"The installation gap of {show(widest)} mm stays open.",
            f"{show(WIDEST_GAP)} mm or less is usual.",
        )


# --- a unit and the host that it is in --------------------------------------------------------------------------------


Gaps = tuple[tuple[str, Fraction], ...]
"""The installation gap of each of a unit's own sides, mm; the first is that of any other."""


def _own_gaps(placement: Placement) -> Gaps:
    return (("", placement.gap.mm), *((side, gap.mm) for side, gap in sorted(placement.gaps.items())))


@kept(KEPT, lambda _, unit, *__: unit.weight)
def _reaching(unit: Unit, gaps: Gaps, recess: Fraction, thickness: Fraction) -> tuple[int, ...]:
    """Which parts of a unit reach beyond its opening within the thickness of its host; the same for all placements
    alike.
    """
    loop = unit.layout.outermost.loop
    (_, common), *own = gaps
    outline = Polygon(loop.inset(-side_faces(loop, common, dict(own), "gaps"), "gap").points)
    rectangle = loop.is_rectangle
    left, foot, right, head = outline.bounds
    low, high = float(recess - thickness), float(recess)
    found = []
    for index, part in enumerate(unit.parts):
        (u0, v0, w0), (u1, v1, w1) = part.solid.bounds.tolist()
        if w1 <= low + NEAR or w0 >= high - NEAR:
            continue
        inside = u0 >= left - NEAR and u1 <= right + NEAR and v0 >= foot - NEAR and v1 <= head + NEAR
        if inside and not rectangle:
            inside = _within(outline, part)
        if not inside:
            found.append(index)
    return tuple(found)


def _within(outline: Polygon, part: Part) -> bool:
    """Whether a part is seen inside an outline, taken as its hull where that is enough."""
    hull = MultiPoint(part.solid.vertices[:, :2]).convex_hull
    grown = outline.buffer(NEAR * 10)
    if grown.covers(hull):
        return True
    faces = shapely.polygons(part.solid.vertices[part.solid.triangles][:, :, :2])
    return bool(grown.covers(shapely.union_all(faces[shapely.area(faces) > 0].tolist())))


def _against_its_host(placement: Placement, unit: Unit, standing: Standing, opening: Opening) -> Iterator[Finding]:
    """What of a unit runs into the host beside its opening."""
    host, gaps = standing.host, _own_gaps(placement)
    recess = recess_of(placement, unit.layout, host.thickness)
    shaped = opening.reveal is not None
    reaching = tuple(range(len(unit.parts))) if shaped else _reaching(unit, gaps, recess, host.thickness)
    if not reaching:
        return
    (matrix,) = in_host([placement], [opening], [unit.layout], host.thickness)
    if opening.flat and host.seated(opening) is not None:
        yield from _in_its_seat(unit, placement, standing, host.seated(opening) @ matrix)
        return
    placed = _box(bounds([unit.parts[index] for index in reaching]), matrix)[:, :2]
    others = [other for other in _near_openings(standing, placed) if other is not opening]
    room = np.array([[0.0, 0.0], [float(host.length), float(host.height)]])
    near = bool((placed[0] < room[0] + BESIDE).any() or (placed[1] > room[1] - BESIDE).any())
    if others or near or shaped or placement.turned or placement.mirrored:
        yield from _beside(unit, reaching, opening, matrix, host, others, placement.id)
        return
    for finding in _alike(unit, gaps, recess, host.section):
        yield replace(finding, place=finding.place.replace(HERE, placement.id).replace(HOST, host.id))


HERE, HOST = "{here}", "{host}"
"""Stand for a placement and its host in findings that are the same for all placements alike."""


@kept(KEPT, lambda _, unit, *__: unit.weight)
def _alike(unit: Unit, gaps: Gaps, recess: Fraction, section: tuple[Layer, ...]) -> tuple[Finding, ...]:
    """What a unit runs into in any host of a section, away from its ends and other openings."""
    far = Fraction(4 * 10**5)
    wall = WallHost(
        Wall.model_validate(
            {
                "id": "far",
                "length": str(2 * far),
                "height": str(2 * far),
                "thickness": str(-min(low for *_, low, _ in section)),
                "lining": "0",
            }
        )
    )
    (_, common), *own = gaps
    placement = Placement.model_validate(
        {"id": "far", "wall": "far", "unit": "far", "offset": str(far), "sill": str(far), "recess": exact(recess)}
        | {"gap": exact(common), "gaps": {side: exact(gap) for side, gap in own}}
    )
    opening = with_pockets(opening_for(placement, unit.layout, far), placement, unit, wall.thickness)
    reaching = _reaching(unit, gaps, recess, wall.thickness)
    (matrix,) = in_host([placement], [opening], [unit.layout], wall.thickness)
    return tuple(_beside(unit, reaching, opening, matrix, wall, (), HERE, section))


def _beside(
    unit: Unit,
    reaching: Sequence[int],
    opening: Opening,
    matrix: Floats,
    host: Host,
    others: Sequence[Opening],
    name: str,
    section: tuple[Layer, ...] = (),
) -> Iterator[Finding]:
    """What parts of a unit run into its host, as they stand there."""
    own = [unit.parts[index].moved(matrix, f"{name}/") for index in reaching]
    edge = np.array(opening.polygon.bounds).reshape(2, 2)
    margin = float(max(np.abs(bounds(own)[:, :2] - edge).max(), 0.0)) + BESIDE
    held = HOST if section else host.id
    beside = [replace(part, id=f"{held}/{part.id}") for part in host.around(opening, margin, others, section)]
    pairs = [(k, len(own) + n) for k in range(len(own)) for n in range(len(beside)) if _boxes_meet(own[k], beside[n])]
    yield from shared_volumes([*own, *beside], pairs)


def _in_its_seat(unit: Unit, placement: Placement, standing: Standing, matrix: Floats) -> Iterator[Finding]:
    """What of a unit that stands flat in a seat of its own runs into its host, as both are in the site."""
    frame = standing.host.frame()
    own = [part.moved(matrix, f"{placement.id}/") for part in unit.parts]
    held = [part.moved(frame, f"{standing.host.id}/") for part in standing.parts]
    pairs = [(k, len(own) + n) for k in range(len(own)) for n in range(len(held)) if _boxes_meet(own[k], held[n])]
    yield from shared_volumes([*own, *held], pairs)


def _near_openings(standing: Standing, box: Floats) -> list[Opening]:
    """The openings that a box (2, 2) reaches; they are sorted from the start."""
    low = bisect_right(standing.starts, float(box[0, 0]) - standing.widest)
    high = bisect_right(standing.starts, float(box[1, 0]))
    return [one for one in standing.openings[low:high] if _meets(one, box)]


def _meets(opening: Opening, box: Floats) -> bool:
    left, foot, right, head = opening.polygon.bounds
    return bool(left < box[1, 0] and right > box[0, 0] and foot < box[1, 1] and head > box[0, 1])


def _boxes_meet(one: Part, other: Part) -> bool:
    a, b = one.solid.bounds, other.solid.bounds
    return bool((a[0] < b[1] - NEAR).all() and (b[0] < a[1] - NEAR).all())


# --- things that are not in each other --------------------------------------------------------------------------------


def _placed_overlaps(scene: Scene) -> Iterator[Finding]:
    """Instances that run into each other: walls, plates, and units, each but in its own host."""
    if len(scene.building) < 2:
        return
    extents = {name: bounds(parts) for name, parts in scene.definitions.items() if parts}
    held = [one for one in scene.building if one.definition in extents]
    boxes = np.array([_box(extents[one.definition], one.matrix) for one in held])
    for a, b in near_pairs(boxes):
        first, second = held[a], held[b]
        if second.host == first.id or first.host == second.id or not _may_meet(scene, first, second, extents):
            continue
        groups = [_placed(scene, one) for one in (first, second)]
        parts = [*groups[0], *groups[1]]
        pairs = [
            (k, len(groups[0]) + n)
            for k, one in enumerate(groups[0])
            for n, other in enumerate(groups[1])
            if _boxes_meet(one, other)
        ]
        yield from shared_volumes(parts, pairs, FINE)


def _placed(scene: Scene, one: Instance) -> list[Part]:
    return [part.moved(one.matrix, f"{one.id}/") for part in scene.definitions[one.definition]]


def _box(box: Floats, matrix: Floats) -> Floats:
    """The box round a box that is turned and moved."""
    placed = box_corners(box, matrix)
    return np.array([placed.min(axis=0), placed.max(axis=0)])


def _may_meet(scene: Scene, first: Instance, second: Instance, extents: dict[str, Floats]) -> bool:
    """Whether two instances whose boxes overlap can share volume: what is seen of them from above must."""
    if first.host and first.host == second.host and first.in_host is not None and second.in_host is not None:
        a, b = (_box(extents[one.definition], np.asarray(one.in_host)) for one in (first, second))
        return bool((a[0] < b[1] - NEAR).all() and (b[0] < a[1] - NEAR).all())
    one, other = (_footprint(scene, instance, extents) for instance in (first, second))
    return bool(one.intersection(other).area > MEET)


def _footprint(scene: Scene, one: Instance, extents: dict[str, Floats]) -> Polygon:
    standing = scene.standing.get(one.id)
    if standing is not None and one.definition.startswith("wall."):
        return shapely.union_all([Polygon(piece) for piece in standing.host.plan([])])
    placed = box_corners(extents[one.definition], one.matrix)
    return MultiPoint(placed[:, :2]).convex_hull
