"""Slabs of an IFC: level ones as plates, round corners where they are no rectangle; sloping ones as roof planes."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from math import acos, atan2, degrees
from typing import TYPE_CHECKING, Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon, box

from ashfell.core.base.document import Data
from ashfell.core.plane.points import polygons
from ashfell.services.reading.ifc_walls import straight

if TYPE_CHECKING:
    from ashfell.services.reading.ifc import Points, Reader

FLAT = 0.5
"""How far corners of a face may be from one plane, mm."""
LEVEL = 0.9999
"""The upward part of the normal of a level face."""
UPWARDS = 0.2
"""The same of the steepest that is a roof."""
SAME = 1e-4
"""How far the normals of one face may differ."""
LEAST = 1.0
"""A piece that is smaller is none, mm²."""
MOST_CORNERS = 200


class Unlike(Exception):
    """There is nothing like it to make of it; says why."""


@dataclass(frozen=True)
class Face:
    """The upper face of a slab: its outline from above, its unit normal, and how thick the slab is square to it, mm."""

    outline: Polygon
    normal: Points
    height: float
    thickness: float
    holes: int

    @property
    def is_level(self) -> bool:
        return bool(self.normal[2] > LEVEL)

    def z(self, x: float, y: float) -> float:
        """How high it lies at a place."""
        return float((self.height - self.normal[0] * x - self.normal[1] * y) / self.normal[2])


def read_slab(reader: Reader, slab: Any, name: str) -> tuple[str, Data, list[Data]]:
    """What a slab becomes: the table that it is an entry of, the entry, and its openings.

    Raises
    ------
    Unlike
    """
    shape = reader.shape(slab)
    if shape is None:
        raise Unlike("it has no body")
    points, triangles = shape
    matrix = reader.matrix(slab)
    face = upper_face(points @ matrix[:3, :3].T + matrix[:3, 3], triangles)
    if face.holes:
        reader.noted.append(f"Slab “{name}”: {face.holes} holes in its upper face are left out.")
    if face.is_level:
        return "plates", {"id": reader.key(slab.Tag or slab.Name or "plate", "plate"), "name": name} | _plate(face), []
    made, frame = _roof(face)
    key = reader.key(slab.Tag or slab.Name or "roof", "roof")
    return "roofs", {"id": key, "name": name} | made, list(_openings(reader, slab, key, frame))


def upper_face(points: Points, triangles: NDArray[np.int64]) -> Face:
    """The upper face of a slab as it stands.

    Raises
    ------
    Unlike
    """
    a, b, c = (points[triangles[:, k]] for k in range(3))
    across = np.cross(b - a, c - a)
    areas = np.linalg.norm(across, axis=1)
    held = areas > 1e-9
    normals = across[held] / areas[held][:, None]
    upwards = normals[:, 2] > UPWARDS
    if not upwards.any():
        raise Unlike("nothing of it looks up")
    heights = np.einsum("ij,ij->i", normals, a[held])
    corners = np.stack([a, b, c], axis=1)[held]
    # The uppermost of the largest: layers below it look up, too.
    weights = np.where(upwards, areas[held], 0.0)
    normal = normals[int(weights.argmax())]
    alike = upwards & (np.abs(normals - normal).max(axis=1) < SAME)
    height = float(heights[alike].max())
    top = alike & (np.abs(heights - height) < FLAT)
    flat = shapely.union_all(shapely.polygons(corners[top][..., :2])).buffer(FLAT / 100).buffer(-FLAT / 100)
    known = corners[top][..., :2].reshape(-1, 2)
    pieces = [piece for piece in polygons(flat) if piece.area > LEAST]
    if len(pieces) != 1:
        raise Unlike("its upper face is not one")
    (outline,) = pieces
    depths = points @ normal
    low = float(depths.min())
    if (depths < low + FLAT).sum() < 3:
        raise Unlike("its faces are not parallel")
    simple = np.array(shapely.simplify(Polygon(outline.exterior), FLAT / 50).exterior.coords)
    if len(simple) > MOST_CORNERS:
        raise Unlike(f"it has {len(simple) - 1} corners; at most {MOST_CORNERS} are read")
    exact = known[np.linalg.norm(simple[:, None] - known[None], axis=2).argmin(axis=1)]
    return Face(Polygon(exact), normal, height, height - low, len(outline.interiors))


def _plate(face: Face) -> Data:
    from ashfell.services.reading.ifc import length

    left, foot, right, head = face.outline.bounds
    shared = {"level": length(face.height / face.normal[2]), "thickness": length(face.thickness)}
    if box(left, foot, right, head).symmetric_difference(face.outline).area < FLAT * (right - left + head - foot):
        sizes = {"x": left, "y": foot, "width": right - left, "depth": head - foot}
        return {name: length(value) for name, value in sizes.items()} | shared
    corners = list(face.outline.exterior.coords)[:-1]
    return {"corners": [{"x": length(x), "y": length(y)} for x, y in corners]} | shared


def _roof(face: Face) -> tuple[Data, Points]:
    """A roof plane from its eaves up to its ridge, and where its upper face lies: along, inwards, up the slope.

    Raises
    ------
    Unlike
        When it is no rectangle, triangle or trapeze between two level edges.
    """
    from ashfell.services.reading.ifc import length

    out = face.normal[:2] / np.linalg.norm(face.normal[:2])
    angle = degrees(atan2(out[0], -out[1]))
    along = np.array([-out[1], out[0]])
    corners = np.array(face.outline.exterior.coords)[:-1]
    a, r = corners @ along, -(corners @ out)
    foot, head = r.min(), r.max()
    low, high = a[r < foot + FLAT], a[r > head - FLAT]
    if len(low) + len(high) != len(corners) or len(low) != 2:
        raise Unlike("it is no rectangle or trapeze from its eaves up")
    start, end = low.min(), low.max()
    hips = high.min() - start, end - high.max()
    if min(hips) < -FLAT:
        raise Unlike("it widens towards its ridge")
    place = along * start - out * foot
    level = face.z(*place.tolist())
    made = {
        "x": length(place[0]),
        "y": length(place[1]),
        "angle": round(angle, 9) % 360,
        "length": length(end - start),
        "run": length(head - foot),
        "slope": round(degrees(acos(min(1.0, float(face.normal[2])))), 9),
        "hip_start": length(max(0.0, hips[0])),
        "hip_end": length(max(0.0, hips[1])),
        "level": length(level),
        "thickness": length(face.thickness),
        "lining": "0",
    }
    frame = np.eye(4)
    frame[:3, 0], frame[:3, 1] = (*along, 0.0), -face.normal
    frame[:3, 2] = np.cross(frame[:3, 0], frame[:3, 1])
    frame[:3, 3] = (*place, level)
    return made, frame


def _openings(reader: Reader, slab: Any, key: str, frame: Points) -> Iterator[Data]:
    from ashfell.services.reading.ifc import Box

    yield from reader.openings(slab, key, straight(frame), Box(np.zeros(3), np.zeros(3)))
