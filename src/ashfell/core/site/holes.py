"""Holes in the upright faces of a model: each is offered as an opening of a line that units stand on by themselves."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from math import atan2, degrees

import numpy as np
from shapely.geometry import Polygon, box

from ashfell.core.base.address import Address
from ashfell.core.base.document import Data
from ashfell.core.base.lengths import exact
from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.points import Floats, polygons
from ashfell.core.site.document.surrounding import Surrounding
from ashfell.core.site.edit import add
from ashfell.core.site.surroundings import place_of
from ashfell.core.solid.topology import Solid

UPRIGHT = 0.02
"""How far the normal of a face may be from level."""
LEAST_TRIANGLES = 4
"""A face of fewer triangles has no hole, nor a doorway."""
SMALLEST, LARGEST = 200.0, 20_000.0
"""How wide and how high a hole is that somebody would close with a unit, mm."""
OBLONG = 1e-3
"""How much of the rectangle round a hole may be beside it, as a share."""
DEEPEST = 1500.0
"""The thickest wall, mm."""
USUAL = Fraction(300)
"""The thickness where a hole has no other side, mm."""
MOST = 2000
"""The most holes of a model."""


@dataclass(frozen=True)
class Hole:
    """A hole in a face: where it begins along the face, its foot above that of the face, its size, mm; ``oblong`` is
    whether it is a rectangle, or only stands in one."""

    left: float
    foot: float
    width: float
    height: float
    oblong: bool


@dataclass(frozen=True)
class HoledFace:
    """An upright face with holes: where its line begins and which way it runs, seen from before it to the right, its
    foot, length and height, mm."""

    start: tuple[float, float]
    along: tuple[float, float]
    foot: float
    length: float
    height: float
    holes: tuple[Hole, ...]

    @property
    def out(self) -> Floats:
        """Which way it looks."""
        return np.array([self.along[1], -self.along[0]])

    @property
    def middle(self) -> Floats:
        """The middle of its line."""
        return np.array(self.start) + np.array(self.along) * self.length / 2

    def middles(self) -> Floats:
        """The middles of its holes in the site, (n, 3) mm."""
        across = np.array([hole.left + hole.width / 2 for hole in self.holes])
        up = np.array([self.foot + hole.foot + hole.height / 2 for hole in self.holes])
        return np.column_stack([np.array(self.start) + across[:, None] * np.array(self.along), up])


def holed_faces(one: Surrounding) -> list[HoledFace]:
    """The upright faces of a model that have holes, as it stands in its site.

    Raises
    ------
    Refusal
        When its mesh is not here.
    """
    matrix = place_of(one)
    found = [face for _, _, solid in one.of.made(one) for face in _faces(solid.moved(matrix))]
    return sorted(found, key=lambda face: (-len(face.holes), face.start))


def _faces(solid: Solid) -> Iterator[HoledFace]:
    of, triangles = solid.topology.face_of_triangle, solid.triangles
    a, b, c = (solid.vertices[triangles[:, k]] for k in range(3))
    turned = np.cross(b - a, c - a)
    summed = np.column_stack([np.bincount(of, turned[:, k]) for k in range(3)])
    long = np.linalg.norm(summed, axis=1)
    upright = (np.abs(summed[:, 2]) < UPRIGHT * long) & (np.bincount(of) >= LEAST_TRIANGLES)
    firsts = solid.topology.first_triangles
    for first in firsts[upright[of[firsts]]].tolist():
        normal = summed[of[first], :2] / np.hypot(*summed[of[first], :2])
        along = np.array([-normal[1], normal[0]])
        loops = solid.topology.loops(int(of[first]))
        flat = [np.column_stack([solid.vertices[loop, :2] @ along, solid.vertices[loop, 2]]) for loop in loops]
        off = float(solid.vertices[triangles[first, 0], :2] @ normal)
        face = _face([points for points in flat if len(points) > 2], along, off * normal)
        if face is not None:
            yield face


def _face(loops: Sequence[Floats], along: Floats, origin: Floats) -> HoledFace | None:
    """A face of paths (c, 2) along it and up; ``origin`` is the point of its plane that is nearest to 0."""
    shapes = [shape for points in loops if (shape := Polygon(points).buffer(0)).area > 0]
    if not shapes:
        return None
    whole = max(shapes, key=lambda shape: shape.area)
    left, foot, right, head = whole.bounds
    holes = [shape for shape in shapes if shape is not whole]
    for notch in polygons(box(*whole.bounds).difference(whole)):
        low = notch.bounds
        # A doorway: it begins at the foot, and something of the face is on either side of it and over it.
        if low[1] - foot < 1 and low[0] > left + 1 and low[2] < right - 1 and low[3] < head - 1:
            holes.append(notch)
    made = tuple(hole for shape in holes if (hole := _hole(shape, left, foot)) is not None)
    if not made:
        return None
    start = origin + left * along
    place, way = (float(start[0]), float(start[1])), (float(along[0]), float(along[1]))
    return HoledFace(place, way, foot, right - left, head - foot, made)


def _hole(shape: Polygon, left: float, foot: float) -> Hole | None:
    low_u, low_v, high_u, high_v = shape.bounds
    width, height = high_u - low_u, high_v - low_v
    if not (SMALLEST <= width <= LARGEST and SMALLEST <= height <= LARGEST):
        return None
    return Hole(low_u - left, low_v - foot, width, height, shape.area > (1 - OBLONG) * width * height)


def with_holes(data: Data, one: Surrounding) -> Data:
    """A site with a line for each outer face of a model that has holes, as thick as they are deep, and an opening for
    each hole; faces whose lines are there already are left out.

    Raises
    ------
    Refusal
        When there is none, or there are too many.
    """
    faces = holed_faces(one)
    count = sum(len(face.holes) for face in faces)
    if not count or count > MOST:
        told = f"It has {count}; at most {MOST} are taken." if count else "None of its upright faces has a hole in it."
        remedy = "Take in less of it." if count else "Draw walls beside it, and openings in them."
        raise Refusal(Address("surroundings") / one.id, "a model with holes for units", told, remedy)
    middle = np.array([float(one.x.mm), float(one.y.mm)])
    outer = [(face, depth) for face in faces for depth, inner in [_depth(face, faces, middle)] if not inner]
    there = {(wall["x"], wall["y"], wall["length"], wall["base"]) for wall in data["walls"]}
    for number, (face, depth) in enumerate(outer, 1):
        own: Data = {
            "name": f"{one.name}, face {number}",
            "x": _told(face.start[0]),
            "y": _told(face.start[1]),
            "angle": round(degrees(atan2(face.along[1], face.along[0])), 6) + 0.0,
            "length": _told(face.length),
            "base": _told(face.foot),
            "height": _told(face.height),
            "thickness": exact(depth),
            "lining": "0",
            "built": False,
        }
        if (own["x"], own["y"], own["length"], own["base"]) in there:
            continue  # taken before
        data = add(data, "walls", **own)
        for hole in face.holes:
            sizes = {"width": _told(hole.width), "height": _told(hole.height)}
            place = {"wall": data["walls"][-1]["id"], "offset": _told(hole.left), "sill": _told(max(hole.foot, 0.0))}
            data = add(data, "placements", unit=None, **place, **sizes)
    return data


def _depth(face: HoledFace, faces: Sequence[HoledFace], middle: Floats) -> tuple[Fraction, bool]:
    """How far behind a face the nearest one is that looks the other way and has a hole behind one of its holes; and
    whether the face is the inner one of the two: which looks towards the middle of the model."""
    own, nearest, behind_it = face.middles(), None, face
    for other in faces:
        if other is face or float(face.out @ other.out) > -1 + UPRIGHT**2:
            continue
        behind = float((np.array(face.start) - np.array(other.start)) @ face.out)
        if not 1 < behind < DEEPEST or (nearest is not None and behind >= nearest):
            continue
        apart = other.middles()[None] - own[:, None]
        apart[..., :2] += behind * face.out
        if (np.abs(apart).max(axis=-1) < 1).any():
            nearest, behind_it = behind, other
    if nearest is None:
        return USUAL, _has_outer(face, faces)
    own_way, other_way = (float((one.middle - middle) @ one.out) for one in (face, behind_it))
    first = faces.index(face) < faces.index(behind_it)
    # Of a wall that stands in the middle either may be the outer one.
    inner = own_way < other_way - 1 or (abs(own_way - other_way) <= 1 and not first)
    return Fraction(round(nearest * 10), 10), inner


def _has_outer(face: HoledFace, faces: Sequence[HoledFace]) -> bool:
    """Whether a face is one side of a sheet whose other side is in the same plane: the first of the two stands."""
    for other in faces:
        if other is face:
            return False
        alike = float(face.out @ other.out) < -1 + UPRIGHT**2
        if alike and abs(float((np.array(face.start) - np.array(other.start)) @ face.out)) < 1:
            return True
    return False


def _told(value: float) -> str:
    return exact(Fraction(round(value * 100), 100))
