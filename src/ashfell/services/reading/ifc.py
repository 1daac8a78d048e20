"""IFC 2x3 and 4: storeys, straight walls, openings, windows, doors and level slabs become a site.

Run as a module it reads a file on its standard input and writes what it understood as JSON.
"""

from __future__ import annotations

import re
import sys
from collections.abc import Iterator
from dataclasses import dataclass
from math import atan2, degrees
from typing import Any, cast

import numpy as np
from numpy.typing import NDArray

from ashfell.core.base.document import Data
from ashfell.core.base.refusal import Refusal
from ashfell.services.reading import ifc_slabs, ifc_units, ifc_walls
from ashfell.services.reading.understood import Understood

MOST = 20_000
"""The most walls, openings or slabs that are read."""
FLAT = 0.5
"""How far corners of a face may be from level or plumb, mm."""
DIGITS = 6

Points = NDArray[np.float64]


@dataclass(frozen=True)
class Box:
    """A straight wall, or a slab, in its own space: from corner to corner, mm."""

    low: Points
    high: Points

    @property
    def size(self) -> Points:
        return self.high - self.low


Found = tuple[Data, Points, ifc_walls.Course, Box]
"""What of a wall is said by its course, where it starts, that course, and its box where it is laid out flat."""


class Reader:
    """Reads one file."""

    def __init__(self, file: Any) -> None:
        import ifcopenshell.geom
        import ifcopenshell.util.placement
        import ifcopenshell.util.unit

        self.file, self.geom = file, cast(Any, ifcopenshell.geom)
        self.placed = ifcopenshell.util.placement.get_local_placement
        self.mm = float(ifcopenshell.util.unit.calculate_unit_scale(file)) * 1000
        self.settings: Any = self.geom.settings()
        self.settings.set("disable-opening-subtractions", True)
        self.left: list[str] = []
        self.noted: list[str] = []
        self.keys: set[str] = set()
        self.units = ifc_units.Units(self)

    def read(self) -> Understood:
        """The site of the file."""
        names = [one.Name for one in self.file.by_type("IfcProject") if one.Name]
        storeys, levels = self._storeys()
        walls, placements = [], []
        for wall in self.file.by_type("IfcWall")[:MOST]:
            found = self._wall(wall, levels)
            if found is not None:
                walls.append(found[0])
                placements += found[1]
        tables, lights = self._slabs()
        placements += lights
        for filling in [*self.file.by_type("IfcWindow"), *self.file.by_type("IfcDoor")]:
            if not filling.FillsVoids:
                self.left.append(f"“{filling.Name or filling.Tag}”: it stands in no opening of a wall.")
        for kind in ("IfcRoof", "IfcCurtainWall", "IfcStair"):
            count = len(self.file.by_type(kind))
            if count:
                self.left.append(f"{count} of {kind}: there is nothing like it to make of it.")
        site: Data = {"name": (names or ["From IFC"])[0][:80], "storeys": storeys, "walls": walls} | tables
        site |= {"placements": placements, "units": self.units.made}
        return Understood({key: value for key, value in site.items() if value}, self.left, self.noted)

    # --- storeys

    def _storeys(self) -> tuple[list[Data], dict[int, tuple[str, float]]]:
        """The storeys, and for each in the file its id and its level, mm."""
        found = sorted(self.file.by_type("IfcBuildingStorey"), key=lambda one: float(one.Elevation or 0))
        levels = [float(one.Elevation or 0) * self.mm for one in found]
        if len(found) < 2 or abs(levels[0]) > FLAT or min(np.diff(levels)) < 500:
            if len(found) > 1:
                self.noted.append(
                    "Its storeys do not stand one on the other from level 0: walls have their own levels."
                )
            return [], {}
        heights = [*np.diff(levels).tolist(), 3000.0]
        told, by_number = [], {}
        for one, level, height in zip(found, levels, heights, strict=True):
            key = self.key(one.Name or "storey", "storey")
            told.append({"id": key, "name": _name(one.Name, "Storey"), "height": length(height)})
            by_number[one.id()] = key, level
        return told, by_number

    def _storey_of(self, product: Any, levels: dict[int, tuple[str, float]]) -> tuple[str, float]:
        for relation in getattr(product, "ContainedInStructure", ()):
            if relation.RelatingStructure.id() in levels:
                return levels[relation.RelatingStructure.id()]
        return "", 0.0

    # --- walls

    def _wall(self, wall: Any, levels: dict[int, tuple[str, float]]) -> tuple[Data, list[Data]] | None:
        name, shape = _name(wall.Name, "Wall"), self.shape(wall)
        if shape is None:
            self.left.append(f"Wall “{name}”: it has no body.")
            return None
        points, matrix = shape[0], self.matrix(wall)
        if abs(matrix[2, 2] - 1) > 1e-6:
            self.left.append(f"Wall “{name}”: it does not stand upright.")
            return None
        if straight := _box_of_wall(points):
            made, start, course, box = self._straight(name, points, matrix, straight)
        elif band := ifc_walls.bent(*shape):
            made, start, course, box = _bent(band, points, matrix)
        else:
            self.left.append(f"Wall “{name}”: it is not straight, nor a band of one thickness.")
            return None
        if box.size.min() < 1:
            self.left.append(f"Wall “{name}”: it is less than 1 mm thick.")
            return None
        storey, level = self._storey_of(wall, levels)
        key = self.key(wall.Tag or wall.Name or "wall", "wall")
        told: Data = {"id": key, "name": name, "lining": "0", "x": length(start[0]), "y": length(start[1])}
        told |= {"base": length(start[2] - level)} | ({"storey": storey} if storey else {})
        return told | made, list(self.openings(wall, key, course, box))

    def _straight(self, name: str, points: Points, matrix: Points, box: Box) -> Found:
        long, thick, high = box.size
        top = _top(points, box)
        if top is None:
            self.noted.append(f"Wall “{name}”: its top is not level, and is taken as level where it is highest.")
        start = matrix @ (box.low[0], box.low[1], box.low[2], 1)
        angle = round(degrees(atan2(matrix[1, 0], matrix[0, 0])), 9) % 360
        made = {"angle": angle, "length": length(long), "height": length(high), "thickness": length(thick)}
        return made | (top or {}), start, ifc_walls.straight(matrix), box

    def openings(self, wall: Any, key: str, course: ifc_walls.Course, box: Box) -> Iterator[Data]:
        """The openings of a wall: from its start and its foot, with what fills them."""
        for relation in wall.HasOpenings[:MOST]:
            opening = relation.RelatedOpeningElement
            points = self.points(opening)
            if points is None:
                self.left.append(f"Opening “{opening.Name or opening.id()}”: it has no body.")
                continue
            matrix = self.matrix(opening)
            placed = course.flat(points @ matrix[:3, :3].T + matrix[:3, 3])
            # A reveal may widen inwards: an opening is as large as it is at the outer face.
            face = placed[placed[:, 1] < placed[:, 1].min() + FLAT]
            low, high = face.min(axis=0), face.max(axis=0)
            low, high = _as_told(opening, low, high)
            x, z, width, height = low[0] - box.low[0], low[2] - box.low[2], high[0] - low[0], high[2] - low[2]
            filling = next((one.RelatedBuildingElement for one in opening.HasFillings), None)
            told = (filling.Tag or filling.Name) if filling else opening.Name
            made: Data = {
                "id": self.key(told or "opening", "opening"),
                "wall": key,
                "offset": length(x),
                "sill": length(max(z, 0.0)),
                "width": length(width),
                "height": length(height + min(z, 0.0)),
            }
            if filling is not None and filling.is_a() in ("IfcWindow", "IfcDoor"):
                made |= self.units.placed(filling, made, course.back((low[0] + high[0]) / 2), box)
                gap = _own(opening).get("Gap")
                if isinstance(gap, float) and gap > 0 and "gap" in made:
                    made["gap"] = length(gap)
            yield {name: value for name, value in made.items() if value is not None}

    # --- slabs

    def _slabs(self) -> tuple[dict[str, list[Data]], list[Data]]:
        """Plates and roof planes, by their tables, and the openings of these."""
        tables, placements = dict[str, list[Data]](), list[Data]()
        for slab in self.file.by_type("IfcSlab")[:MOST]:
            name = _name(slab.Name, "Plate")
            try:
                table, made, openings = ifc_slabs.read_slab(self, slab, name)
            except ifc_slabs.Unlike as why:
                self.left.append(f"Slab “{name}”: {why}.")
                continue
            tables.setdefault(table, []).append(made)
            placements += openings
        return tables, placements

    # --- the file's geometry

    def points(self, product: Any) -> Points | None:
        """The corners of a product's body in its own space, mm."""
        found = self.shape(product)
        return found[0] if found is not None else None

    def shape(self, product: Any) -> tuple[Points, NDArray[np.int64]] | None:
        """The same with its triangles (n, 3)."""
        if not product.Representation:
            return None
        try:
            made: Any = self.geom.create_shape(self.settings, product)
        except RuntimeError:
            return None
        found = np.array(made.geometry.verts, dtype=float).reshape(-1, 3) * 1000
        if len(found) < 4 or not np.isfinite(found).all():
            return None
        return found, np.array(made.geometry.faces, dtype=np.int64).reshape(-1, 3)

    def matrix(self, product: Any) -> Points:
        """Where a product stands, (4, 4) mm."""
        found = np.array(self.placed(product.ObjectPlacement), dtype=float)
        found[:3, 3] *= self.mm
        return found

    def key(self, text: str, kind: str) -> str:
        """A key that is free, from a name."""
        stem = re.sub(r"[^a-z0-9]+", "-", str(text).lower()).strip("-")[:40] or kind
        found, number = stem, 1
        while found in self.keys:
            number += 1
            found = f"{stem}-{number}"
        self.keys.add(found)
        return found


def length(value: float) -> str:
    """A length as a document holds it, mm."""
    rounded = round(float(value), DIGITS) + 0.0
    return f"{rounded:.{DIGITS}f}".rstrip("0").rstrip(".")


def _name(text: str | None, usual: str) -> str:
    return re.sub(r"[\x00-\x1f]", " ", text or "").strip()[:80] or usual


def _own(opening: Any, name: str = "Ashfell_Opening") -> Data:
    """The properties of an opening in a set of a name."""
    import ifcopenshell.util.element

    found: Data = ifcopenshell.util.element.get_psets(opening).get(name) or {}
    return found


def _as_told(opening: Any, low: Points, high: Points) -> tuple[Points, Points]:
    """An opening as this application tells it, where it does and what is cut reaches no less far: a reveal that widens,
    and a sill that is let in, take more."""
    own, sizes = _own(opening), _own(opening, "Qto_OpeningElementBaseQuantities")
    try:
        left, foot, head = (float(own[name]) for name in ("Offset", "Sill", "Head"))
        right = left + float(sizes["Width"])
    except (KeyError, TypeError, ValueError):
        return low, high
    stated = np.array([left, low[1], foot]), np.array([right, high[1], head])
    reaches = (stated[0] > low - FLAT).all() and (stated[1] < high + FLAT).all()
    large = (right - left) * (head - foot) > 0.25 * (high[0] - low[0]) * (high[2] - low[2])
    return stated if reaches and large else (low, high)


def _bent(band: ifc_walls.Bent, points: Points, matrix: Points) -> Found:
    """A wall that bends, from its first outer corner."""
    foot, head = points[:, 2].min(), points[:, 2].max()
    first, last = band.corners[0], band.corners[-1]
    start, end = (matrix @ (*corner, foot, 1.0) for corner in (first, last))
    made: Data = {
        "angle": round(degrees(atan2(end[1] - start[1], end[0] - start[0])), 9) % 360,
        "length": length(float(np.hypot(*(last - first)))),
        "height": length(head - foot),
        "thickness": length(band.thickness),
        "curve": band.said(length),
    }
    box = Box(np.zeros(3), np.array([band.lengths.sum(), band.thickness, head - foot]))
    return made, start, band.course(matrix, float(foot)), box


def _box_of_wall(points: Points) -> Box | None:
    """The box of a straight wall: the ends of its outer face, which is at its least y; None where it is not straight.
    At its corners it may be mitred."""
    low, high = points.min(axis=0), points.max(axis=0)
    outer = points[points[:, 1] < low[1] + FLAT]
    inner = points[points[:, 1] > high[1] - FLAT]
    between = points[(points[:, 1] >= low[1] + FLAT) & (points[:, 1] <= high[1] - FLAT)]
    spans = [np.ptp(face[:, 0]) for face in (outer, inner)]
    if min(spans) < 0.5 * (high[0] - low[0]):
        return None
    # Layers of a wall lie between its faces, and all reach to its ends: a bend has corners elsewhere at its foot.
    ends = [outer[:, 0].min(), inner[:, 0].min(), outer[:, 0].max(), inner[:, 0].max()]
    for x in between[between[:, 2] < low[2] + FLAT, 0]:
        if not (min(ends[:2]) - FLAT <= x <= max(ends[:2]) + FLAT or min(ends[2:]) - FLAT <= x <= max(ends[2:]) + FLAT):
            return None
    return Box(np.array([outer[:, 0].min(), low[1], low[2]]), np.array([outer[:, 0].max(), high[1], high[2]]))


def _top(points: Points, box: Box) -> Data | None:
    """How high a wall is at its start, its end and between, as far as that differs; None where it is none of these."""
    outer = points[(points[:, 1] < box.low[1] + FLAT) & (points[:, 2] > box.low[2] + FLAT)]
    heights: dict[float, float] = {}
    for x, _, z in outer.tolist():
        at = round(x - box.low[0], 3)
        heights[at] = max(heights.get(at, 0.0), z - box.low[2])
    marks = sorted(heights)
    # Corners that lie on the line between their neighbours are those of other edges.
    kept = [
        at
        for index, at in enumerate(marks)
        if index in (0, len(marks) - 1) or not _between(marks[index - 1], at, marks[index + 1], heights)
    ]
    if len(kept) not in (2, 3) or kept[0] > FLAT or kept[-1] < box.size[0] - FLAT:
        return None
    start, end = heights[kept[0]], heights[kept[-1]]
    if len(kept) == 2:
        return {} if abs(start - end) < FLAT else {"height": length(start), "end_height": length(end)}
    found: Data = {"height": length(start), "ridge": {"at": length(kept[1]), "height": length(heights[kept[1]])}}
    return found | ({} if abs(start - end) < FLAT else {"end_height": length(end)})


def _between(before: float, at: float, after: float, heights: dict[float, float]) -> bool:
    share = (at - before) / (after - before)
    return abs(heights[before] + (heights[after] - heights[before]) * share - heights[at]) < FLAT


def read_here(content: bytes) -> Understood:
    """What is understood of a file, read in this process.

    Raises
    ------
    Refusal
        When it cannot be read, or there is no wall in it that can be made.
    """
    import ifcopenshell

    if not content.lstrip()[:13].startswith(b"ISO-10303-21;"):
        raise _refused("The file is no IFC.", "Choose a file that begins with ISO-10303-21.")
    try:
        file = ifcopenshell.file.from_string(content.decode("latin-1"))
        if file.schema not in ("IFC2X3", "IFC4", "IFC4X3"):
            raise ValueError(file.schema)
        found = Reader(file).read()
    except Exception as error:  # whatever a stranger's file does to the library that reads it
        raise _refused(f"The file cannot be read: {type(error).__name__}.", "Export it again as IFC4.") from error
    if not found.site.get("walls"):
        why = f" {found.left[0]}" if found.left else ""
        told = f"There is no wall in the file that can be made.{why}"
        raise _refused(told, "Export walls as straight solids.")
    return found


def _refused(message: str, remedy: str) -> Refusal:
    return Refusal("file", "a file that can be read", message, remedy)


def main() -> int:
    """Read a file on standard input, write what was understood."""
    return Understood.tell(lambda: read_here(sys.stdin.buffer.read()))


if __name__ == "__main__":
    sys.exit(main())
