"""Sections through a building where its units stand: upright through the middle of an opening, square to its wall or up
its roof plane, with all that is cut there."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from itertools import pairwise

import numpy as np
import shapely
from shapely.geometry import Polygon, box

from ashfell.core.base.lengths import Style, show
from ashfell.core.drawing.draft import Draft, Path, Size
from ashfell.core.kinds.roles import ROLES
from ashfell.core.parts import Part, bounds, box_corners
from ashfell.core.plane.points import Floats, polygons
from ashfell.core.seen import Shape, section
from ashfell.core.site.document.placement import Placement
from ashfell.core.site.hosts.host import Host
from ashfell.core.site.instance import Instance
from ashfell.core.site.opening import Opening, flipped, gap_of
from ashfell.core.site.plan import Shows, whole
from ashfell.core.site.scene import Scene
from ashfell.core.site.variant import planes_in

BEYOND = 900.0
"""How far inside and outside of a wall, below and above it, what is cut is drawn, mm."""
CHAIN = 150.0
"""How far chains of dimensions stand off what they measure, and off each other, mm."""
PANES = ("glass", "panel", "louvre", "leaf", "slat", "plank")
"""The roles of what fills lights."""
NEARER = 2.5
"""Sections are for a scale so many times that of elevations, 1:20 beside 1:50 (common practice, no source)."""
LEAST = 0.5
"""What is smaller is not drawn, mm²."""


def section_drafts(scene: Scene, style: Style, shows: Shows = whole) -> list[Draft]:
    """A section through every unit as it stands, those that stand alike in one host once, host by host."""
    found = _Cuts(scene)
    done: set[object] = set()
    drafts = []
    for key, standing in scene.standing.items():
        for opening in sorted(standing.openings, key=lambda one: one.x) if shows(key) else ():
            unit = scene.units.get(opening.placement)
            if unit is None or not standing.parts:
                continue
            placement = scene.site.placement_by_id[opening.placement]
            planes = planes_in(placement, unit.layout, standing.host.thickness)
            alike = key, scene.instance_of[opening.placement].definition, opening.z, opening.height, planes
            if alike not in done:
                done.add(alike)
                drafts.append(_draft(scene, found, style, standing.host, opening, placement))
    return drafts


class _Cuts:
    """What of a scene a plane cuts, found by an index of what stands where."""

    def __init__(self, scene: Scene) -> None:
        self.scene = scene
        extents = {name: bounds(parts) for name, parts in scene.definitions.items() if parts}
        self.held = [one for one in scene.building if one.definition in extents]
        self.boxes = {name: np.array([part.solid.bounds for part in scene.definitions[name]]) for name in extents}
        flat = [shapely.box(*_on_plan(extents[one.definition], one.matrix)) for one in self.held]
        self.tree = shapely.STRtree(flat)

    def at(self, space: Floats, low: float, high: float) -> Iterator[tuple[Instance, list[Shape]]]:
        """What is cut where u is 0 in a space of u, up and out (4, 4), between two places out of it, back to front:
        each with its outlines, the outside on the left."""
        inverse = np.linalg.inv(space)
        ends = [(space @ (0.0, 0.0, at, 1.0))[:2] for at in (low, high)]
        for index in sorted(self.tree.query(shapely.linestrings(ends), "intersects").tolist()):
            one = self.held[index]
            shapes = section([*self._reached(one, inverse @ one.matrix)], "rows", 0.0)
            if shapes:
                yield one, shapes

    def _reached(self, one: Instance, turn: Floats) -> Iterator[Part]:
        """The parts whose boxes reach to where u is 0, moved."""
        boxes, parts = self.boxes[one.definition], self.scene.definitions[one.definition]
        middles = boxes.mean(axis=1) @ turn[0, :3] + turn[0, 3]
        halves = (boxes[:, 1] - boxes[:, 0]) @ np.abs(turn[0, :3]) / 2
        for index in np.flatnonzero(np.abs(middles) < halves).tolist():
            yield parts[index].moved(turn, f"{one.id}/")


def _on_plan(extent: Floats, matrix: Floats) -> tuple[float, float, float, float]:
    """The box on the plan round a box (2, 3) that is turned and moved."""
    placed = box_corners(extent, matrix)[:, :2]
    (left, foot), (right, head) = placed.min(axis=0).tolist(), placed.max(axis=0).tolist()
    return left, foot, right, head


def _draft(scene: Scene, cuts: _Cuts, style: Style, host: Host, opening: Opening, placement: Placement) -> Draft:
    """One section. Its zero is the outer face of the host at the host's foot, the outside on the left."""
    at = _through(scene, opening, placement)
    space = _space(host, at)
    corners = [(float(v), -float(w)) for v in (0, host.height) for w in (0, host.thickness)]
    places = np.linalg.inv(space) @ host.frame(at) @ np.array([(at, v, w, 1.0) for v, w in corners]).T
    (foot, head), (back, front) = ((float(row.min()), float(row.max())) for row in places[1:3])
    room = box(-front - BEYOND, foot - BEYOND, -back + BEYOND, head + BEYOND)
    paths: list[Path] = []
    for one, shapes in cuts.at(space, back - BEYOND, front + BEYOND):
        for shape in shapes:
            paths += _paths(shape, bool(one.host), room)
    sizes = list[Size]()
    if scene.site.wall(host.id) is not None:
        us, vs = zip(*host.top, strict=True)
        top = Fraction(round(float(np.interp(at, [float(u) for u in us], [float(v) for v in vs])) * 100), 100)
        sizes += _heights(style, host, opening, placement, top)
        lowest = min((float(path.points[:, 1].min()) for path in paths), default=0.0)
        sizes += _depths(scene, style, host, placement, lowest)
    name = placement.mark or placement.id
    return Draft(f"{host.name}, section through {name}", tuple(paths), tuple(sizes), nearer=NEARER)


def _through(scene: Scene, opening: Opening, placement: Placement) -> float:
    """Where along its host a unit is cut: through the middle of a pane, where panes over each other are highest, and
    of such places that nearest to the unit's middle."""
    unit = scene.units[placement.id]
    size, left = unit.layout.overall, opening.x + gap_of(placement, "left")
    middle = float(size.x + size.right) / 2
    panes = np.array([part.solid.bounds for part in unit.parts if part.role in PANES]).reshape(-1, 2, 3)
    (low, foot), (high, head) = panes[:, 0, :2].T, panes[:, 1, :2].T
    places = np.unique(((low + high) / 2).round(6))
    cut = (places[:, None] > low) & (places[:, None] < high)
    order = sorted(zip(-(cut @ (head - foot)).round(3), abs(places - middle), places, strict=True))
    at = float(order[0][2]) if order else middle
    if flipped(placement):
        return float(left + size.right) - at
    return float(left - size.x) + at


def _space(host: Host, at: float) -> Floats:
    """Of a place along a host u, up and out of it, upright (4, 4)."""
    frame = host.frame(at)
    along, up = frame[:3, 0] / np.linalg.norm(frame[:3, 0]), np.array([0.0, 0.0, 1.0])
    space = np.eye(4)
    space[:3, 0], space[:3, 1], space[:3, 2] = along, up, np.cross(along, up)
    space[:3, 3] = (frame @ (at, 0.0, 0.0, 1.0))[:3]
    return space


def _paths(shape: Shape, in_host: bool, room: Polygon) -> Iterator[Path]:
    """A cut face: of a host hatched, of a unit on its role's paper."""
    outer, *holes = shape.loops
    made = Polygon(outer).buffer(0)
    for hole in holes:
        # What a plane cuts of a ring lies on either side of it: one is beside the other, and no hole in it.
        made = made.symmetric_difference(Polygon(hole).buffer(0))
    role = ROLES.get(shape.role)
    for piece in polygons(made.intersection(room)):
        if piece.area > LEAST:
            rings = [np.array(ring.coords)[:-1] for ring in (piece.exterior, *piece.interiors)]
            if in_host:
                yield Path(rings[0], shape.role, fill=role.paper if role else None, holes=tuple(rings[1:]))
            else:
                yield Path(rings[0], "wall", holes=tuple(rings[1:]), hatched=True)


def _heights(style: Style, host: Host, opening: Opening, placement: Placement, top: Fraction) -> Iterator[Size]:
    """Sill, opening and what is above it to the top there, outside; the unit inside, where gaps are round it."""
    heights = sorted({Fraction(0), opening.z, opening.head, top})
    for low, high in pairwise(heights):
        yield Size((0.0, float(low)), (0.0, float(high)), CHAIN, show(high - low, style))
    yield Size((0.0, 0.0), (0.0, float(top)), CHAIN * 2, show(top, style))
    gap = gap_of(placement, "sill"), gap_of(placement, "head")
    if any(gap):
        low, high = opening.z + gap[0], opening.head - gap[1]
        inner = float(host.thickness)
        yield Size((inner, float(low)), (inner, float(high)), -CHAIN, show(high - low, style))


def _depths(scene: Scene, style: Style, host: Host, placement: Placement, foot: float) -> Iterator[Size]:
    """Where the frame stands in the wall's thickness, below all that is drawn."""
    front, back = planes_in(placement, scene.units[placement.id].layout, host.thickness)
    stops = sorted({Fraction(0), front, back, host.thickness})
    for low, high in pairwise(stops):
        yield Size((float(low), foot), (float(high), foot), -CHAIN, show(high - low, style))
    if len(stops) > 2:
        yield Size((0.0, foot), (float(host.thickness), foot), -CHAIN * 2, show(host.thickness, style))
