"""The solid of a straight wall: its face with openings as one planar region, given thickness."""

from __future__ import annotations

from collections.abc import Sequence
from math import cos, radians, sin

import numpy as np
from shapely.geometry import Polygon, box
from shapely.ops import unary_union

from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats
from ashfell.core.solid.plate import extrusions
from ashfell.core.solid.topology import Solid
from ashfell.core.solid.triangles import polygon_triangles
from ashfell.core.wall.chain import SQUARE_ENDS, Ends
from ashfell.core.wall.document import Plate, Wall
from ashfell.core.wall.fit import Opening


def wall_matrix(wall: Wall) -> Floats:
    """From the wall's own space (u along, v up, w outwards; origin at the foot of its start, on the outer face) to the
    site (x, y in plan, z up), mm."""
    turn = radians(wall.angle)
    matrix = np.eye(4)
    matrix[:3, 0] = cos(turn), sin(turn), 0.0
    matrix[:3, 1] = 0.0, 0.0, 1.0
    matrix[:3, 2] = sin(turn), -cos(turn), 0.0
    matrix[:3, 3] = float(wall.x.mm), float(wall.y.mm), 0.0
    return matrix


def wall_parts(wall: Wall, openings: Sequence[Opening], ends: Ends = SQUARE_ENDS) -> tuple[Part, ...]:
    """The wall's body and, where it has one, its lining, in the wall's own space; openings go through both."""
    thickness, lining = float(wall.thickness.mm), float(wall.lining.mm)
    body = _layer(wall, openings, ends, "body", wall.outside, lining - thickness, 0.0)
    if not lining:
        return body
    return (*body, *_layer(wall, openings, ends, "lining", wall.inside, -thickness, lining - thickness))


def _layer(
    wall: Wall, openings: Sequence[Opening], ends: Ends, name: str, finish: str, low: float, high: float
) -> tuple[Part, ...]:
    length = float(wall.length.mm)
    solids = [_mitred(solid, length, ends) for solid in wall_solids(length, float(wall.height.mm), openings, low, high)]
    many = len(solids) > 1
    return tuple(
        Part(f"{name}.{index + 1}" if many else name, f"walls.{wall.id}", "wall", finish, (1.0, 0.0, 0.0), solid)
        for index, solid in enumerate(solids)
    )


def _mitred(solid: Solid, length: float, ends: Ends) -> Solid:
    """The solid with its ends slanted into the mitres of the wall's corners."""
    vertices = solid.vertices.copy()
    for x, slope in ((0.0, ends.start), (length, -ends.end)):
        at_end = solid.vertices[:, 0] == x
        vertices[at_end, 0] -= slope * vertices[at_end, 2]
    return Solid(vertices, solid.topology)


def wall_solids(length: float, height: float, openings: Sequence[Opening], low: float, high: float) -> list[Solid]:
    """A wall face of ``length`` by ``height`` less its openings, from w = ``low`` to ``high``, mm.

    Openings that lie inside are holes; those that reach an edge of the wall cut into its outline, and may part it.
    """
    corners = np.array([(float(o.x), float(o.z), float(o.right), float(o.head)) for o in openings]).reshape(-1, 4)
    inside = (corners[:, 0] > 0) & (corners[:, 1] > 0) & (corners[:, 2] < length) & (corners[:, 3] < height)
    holes = corners[inside][:, [0, 1, 0, 3, 2, 3, 2, 1]].reshape(-1, 4, 2)
    if inside.all() and not _touching(corners):
        return [_in_strips(length, height, holes, low, high)]
    region = box(0, 0, length, height).difference(unary_union([box(*corner) for corner in corners]))
    pieces = [region] if isinstance(region, Polygon) else list(getattr(region, "geoms", []))
    return [_plate(piece, low, high) for piece in pieces if isinstance(piece, Polygon) and not piece.is_empty]


STRIP = 12
"""How many openings a strip of a wall holds before the next begins: triangulating them together costs more the more they are."""


def _in_strips(length: float, height: float, holes: Floats, low: float, high: float) -> Solid:
    """A wall with openings (n, 4, 2) apart from each other, triangulated strip by strip between upright lines that meet
    none of them."""
    holes = holes[np.argsort(holes[:, 0, 0], kind="stable")] if len(holes) else holes
    reached = np.maximum.accumulate(holes[:, 2, 0]) if len(holes) else np.zeros(0)
    cuts, starts = [], [0]
    for k in range(1, len(holes)):
        if k - starts[-1] >= STRIP and holes[k, 0, 0] > reached[k - 1]:
            cuts.append(float(holes[k, 0, 0] + reached[k - 1]) / 2)
            starts.append(k)
    across = [0.0, *cuts, length]
    outer = np.array([*((x, 0.0) for x in across), *((x, height) for x in reversed(across))])
    points, count = np.concatenate([outer, *holes]), len(outer)
    cap = []
    for strip, (first, last) in enumerate(zip(starts, [*starts[1:], len(holes)], strict=True)):
        border = [strip, strip + 1, count - 2 - strip, count - 1 - strip]
        own = np.array([*border, *range(count + 4 * first, count + 4 * last)], dtype=np.int32)
        ends = [4 * (k + 1) for k in range(last - first + 1)]
        cap.append(own[polygon_triangles(points[own], ends)])
    return extrusions([outer, *holes], low, high, np.concatenate(cap))


def _touching(corners: Floats) -> bool:
    """Whether any two openings share an edge or a corner; corners (n, 4) are sorted by x."""
    order = corners[np.argsort(corners[:, 0])]
    for reach in range(1, len(order)):
        first, second = order[:-reach], order[reach:]
        beside = second[:, 0] <= first[:, 2]
        if not beside.any():
            return False
        if (beside & (second[:, 1] <= first[:, 3]) & (first[:, 1] <= second[:, 3])).any():
            return True
    return False


def _plate(piece: Polygon, low: float, high: float) -> Solid:
    outer, *inner = [np.array(ring.coords)[:-1] for ring in (piece.exterior, *piece.interiors)]
    turned = [outer if piece.exterior.is_ccw else outer[::-1]]
    turned += [points[::-1] if ring.is_ccw else points for ring, points in zip(piece.interiors, inner, strict=True)]
    return extrusions(turned, low, high)


def plate_part(plate: Plate) -> Part:
    """A level plate, in the site's space."""
    x, y, top = float(plate.x.mm), float(plate.y.mm), float(plate.level.mm)
    width, depth, thickness = float(plate.width.mm), float(plate.depth.mm), float(plate.thickness.mm)
    outline = np.array([(x, y), (x + width, y), (x + width, y + depth), (x, y + depth)])
    solid = extrusions([outline], top - thickness, top)
    return Part(f"plate.{plate.id}", f"plates.{plate.id}", "plate", plate.finish, (1.0, 0.0, 0.0), solid)
