"""A plan in DXF: its lines and arcs by layer become walls, gaps between them openings, other arcs tell doors.

Run as a module it reads a file on its standard input, with options as JSON in its first argument, and writes what it
understood as JSON.
"""

from __future__ import annotations

import io
import json
import sys
from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator
from itertools import pairwise
from math import atan, atan2, hypot, sin
from typing import Any

import numpy as np
from ezdxf import recover
from ezdxf import units as dxf_units
from ezdxf.document import Drawing
from ezdxf.entities.arc import Arc
from ezdxf.entities.dxfgfx import DXFGraphic
from ezdxf.entities.insert import Insert
from ezdxf.entities.line import Line
from ezdxf.entities.lwpolyline import LWPolyline
from ezdxf.lldxf.const import DXFError

from ashfell.core.base.document import Data, read
from ashfell.core.base.refusal import Refusal
from ashfell.core.site.traced.faces import Rules
from ashfell.core.site.traced.rails import Floats
from ashfell.core.site.traced.walls import Heights, Traced, traced
from ashfell.formats.found import MM_OF
from ashfell.services.reading.options import PlanOptions
from ashfell.services.reading.understood import Understood

MOST = 200_000
"""The most lines that are read."""
DEEPEST = 4
"""How deep blocks in blocks are read."""
FARTHEST = 1e9
"""Coordinates beyond are none, mm."""
DRAWN = 40_000
"""The most lines that are laid under the plan."""
UNITS = {dxf_units.MM: "mm", dxf_units.CM: "cm", dxf_units.M: "m", dxf_units.IN: "in", dxf_units.FT: "ft"}
HATCHED = 12
"""How many layers are named in a sentence."""


def read_here(content: bytes, options: PlanOptions) -> Understood:
    """What is understood of a plan, read in this process.

    Raises
    ------
    Refusal
        When it cannot be read, has no unit, or holds no wall.
    """
    try:
        drawing, _ = recover.read(io.BytesIO(content))
        unit = UNITS.get(drawing.units, "")
    except (DXFError, OSError, ValueError, RecursionError, TypeError, AttributeError, KeyError) as error:
        raise _refused("The file cannot be read as DXF.", "Export it again as DXF.") from error
    if not (options.unit or unit):
        raise Refusal(
            "unit",
            "a unit for the drawing",
            "The drawing does not say in which unit it is.",
            "Choose mm, cm, m, in or ft.",
        )
    plan = Plan(drawing, MM_OF[options.unit or unit])
    chosen = set(options.layers) or plan.walls()
    if unknown := sorted(chosen - {*plan.lines, *plan.bows}):
        told = ", ".join(f"“{name}”" for name in sorted({*plan.lines, *plan.bows})[:HATCHED]) or "none"
        message = f"No line is on the layer “{unknown[0]}”."
        raise Refusal("layers", "layers of the drawing", message, f"Those with lines are {told}.")
    lines = plan.on(chosen)
    made = traced(lines, plan.swings, _rules(options), _heights(options), plan.bowed(chosen))
    if not made.walls:
        message = (
            f"Among {len(lines)} lines no two run beside each other {options.thinnest.text} to "
            f"{options.thickest.text} mm apart."
        )
        raise _refused(message, "Choose the layers that walls are drawn on, and between what walls are thick.")
    site: Data = {"name": "From DXF", "walls": made.walls, "placements": made.placements}
    found = Understood({key: value for key, value in site.items() if value})
    found.layers = [(name, len(plan.lines[name]), name in chosen) for name in sorted({*plan.lines} | chosen)]
    found.unit = options.unit or unit
    found.underlay = _underlay(plan.on(set(plan.lines)), made.origin)
    _tell(found, plan, made, chosen)
    return found


def _rules(options: PlanOptions) -> Rules:
    bounds = (options.thinnest, options.thickest, options.narrowest, options.widest)
    for low, high, name in ((*bounds[:2], "thickest"), (*bounds[2:], "widest")):
        if high.mm < low.mm:
            message = f"{high.text} is less than {low.text}, from where on it counts."
            raise Refusal(name, "a largest size that is not below the smallest", message, f"Type {low.text} or more.")
    return Rules(*(float(one.mm) for one in bounds))


def _heights(options: PlanOptions) -> Heights:
    return Heights(options.height.text, options.sill.text, options.window.text, options.door.text)


class Plan:
    """The straight lines of a drawing by layer, mm, and the arcs of all of them."""

    def __init__(self, drawing: Drawing, scale: float) -> None:
        self.scale, self.count = scale, 0
        self.lines: dict[str, list[tuple[float, float, float, float]]] = defaultdict(list)
        self.arcs: list[tuple[float, float, float]] = []
        self.bows: dict[str, list[tuple[float, float, float, float, float]]] = defaultdict(list)
        self.others: Counter[str] = Counter()
        hidden = {layer.dxf.name for layer in drawing.layers if layer.is_off() or layer.is_frozen()}
        self.hidden = hidden
        for entity in drawing.modelspace():
            self._take(entity, "", 0)

    @property
    def swings(self) -> Floats:
        return np.array(self.arcs, dtype=float).reshape(-1, 3)

    def walls(self) -> set[str]:
        """The layers whose names say that walls are on them; or else all that are shown."""
        drawn = {*self.lines, *self.bows}
        named = {name for name in drawn if "wall" in name.lower()}
        return named or set(self.lines) - self.hidden or drawn

    def on(self, layers: set[str]) -> Floats:
        """The lines of some layers, (n, 4) mm."""
        taken = [line for name in sorted(layers) for line in self.lines.get(name, ())]
        return np.array(taken, dtype=float).reshape(-1, 4)

    def bowed(self, layers: set[str]) -> Floats:
        """The arcs of some layers, (n, 5): centre and radius, mm, and their angles, radians."""
        taken = [arc for name in sorted(layers) for arc in self.bows.get(name, ())]
        return np.array(taken, dtype=float).reshape(-1, 5)

    def _take(self, entity: DXFGraphic, outer: str, deep: int) -> None:
        # What lies on layer 0 of a block is on the layer that the block is put on.
        layer = outer if outer and entity.dxf.layer == "0" else entity.dxf.layer
        if isinstance(entity, Line):
            self._line(layer, entity.dxf.start, entity.dxf.end)
        elif isinstance(entity, LWPolyline):
            points = [(x, y, bulge) for x, y, bulge in entity.get_points("xyb")]
            self._path(layer, [*points, points[0]] if entity.closed and points else points)
        elif entity.dxftype() == "POLYLINE" and (entity.is_2d_polyline or entity.is_3d_polyline):  # type: ignore[attr-defined]
            vertices: Any = list(entity.vertices)  # type: ignore[attr-defined]
            points = [(one.dxf.location.x, one.dxf.location.y, float(one.dxf.get("bulge", 0))) for one in vertices]
            closed = entity.is_closed  # type: ignore[attr-defined]
            self._path(layer, [*points, points[0]] if closed and points else points)
        elif isinstance(entity, Arc):
            # That of a mirrored block lies in a space of its own, seen from below.
            center = entity.ocs().to_wcs(entity.dxf.center)
            ends = entity.start_point, entity.end_point
            first, last = ends if entity.dxf.extrusion.z > 0 else ends[::-1]
            angles = (atan2(one.y - center.y, one.x - center.x) for one in (first, last))
            self._arc(layer, center.x, center.y, entity.dxf.radius, *angles)
        elif isinstance(entity, Insert) and deep < DEEPEST:
            for inner in _within(entity):
                self._take(inner, layer, deep + 1)
        else:
            self.others[entity.dxftype()] += 1

    def _path(self, layer: str, points: list[tuple[float, float, float]]) -> None:
        for (x1, y1, bulge), (x2, y2, _) in pairwise(points):
            if abs(bulge) < 1e-9:
                self._line(layer, (x1, y1), (x2, y2))
                continue
            # A bulge is the tangent of a quarter of the angle of its arc.
            chord, half = hypot(x2 - x1, y2 - y1), 2 * atan(bulge)
            radius = chord / 2 / sin(half)
            rise = (1 - bulge * bulge) / (4 * bulge)
            x, y = (x1 + x2) / 2 - (y2 - y1) * rise, (y1 + y2) / 2 + (x2 - x1) * rise
            ends = atan2(y1 - y, x1 - x), atan2(y2 - y, x2 - x)
            self._arc(layer, x, y, abs(radius), *(ends if bulge > 0 else ends[::-1]))

    def _line(self, layer: str, start: Any, end: Any) -> None:
        self._counted()
        line = tuple(float(at) * self.scale for at in (start[0], start[1], end[0], end[1]))
        if all(abs(at) < FARTHEST for at in line):
            self.lines[layer].append(line)  # type: ignore[arg-type]
        else:
            self.others["a line further away than 1,000 km"] += 1

    def _arc(self, layer: str, x: float, y: float, radius: float, start: float, end: float) -> None:
        self._counted()
        found = x * self.scale, y * self.scale, radius * self.scale
        if all(abs(at) < FARTHEST for at in found):
            self.arcs.append(found)
            self.bows[layer].append((*found, start, end))

    def _counted(self) -> None:
        self.count += 1
        if self.count > MOST:
            raise _refused(f"The drawing has more than {MOST} lines.", "Export the layers of the walls only.")


def _within(block: Insert) -> Iterator[DXFGraphic]:
    rows, columns = block.dxf.row_count, block.dxf.column_count
    if rows * columns > MOST:
        raise _refused(f"A block of the drawing is repeated {rows * columns} times.", "Export it without that block.")
    for one in block.multi_insert() if rows * columns > 1 else (block,):
        yield from one.virtual_entities()


def _underlay(lines: Floats, origin: tuple[float, float]) -> Data | None:
    """The drawing as something to trace over, as far as it is not too much."""
    if not 0 < len(lines) <= DRAWN:
        return None
    points = lines.reshape(-1, 2)
    (left, foot), (right, head) = points.min(axis=0), points.max(axis=0)
    if min(right - left, head - foot) < 1:
        return None
    path = "".join(f"M{a - left:.7g} {foot - b:.7g}L{c - left:.7g} {foot - d:.7g}" for a, b, c, d in lines.tolist())
    across = float(right - left)
    return {
        "name": "Plan",
        "image": "",
        "lines": path,
        "across": across,
        "up": float(head - foot),
        "x": f"{left - origin[0]:.10g}",
        "y": f"{foot - origin[1]:.10g}",
        "width": f"{across:.10g}",
    }


def _tell(found: Understood, plan: Plan, made: Traced, chosen: set[str]) -> None:
    """What of the drawing is not in the site, in words."""
    if len(made.left):
        long = float(np.hypot(made.left[:, 2] - made.left[:, 0], made.left[:, 3] - made.left[:, 1]).sum()) / 1000
        count = len(made.left)
        found.left.append(
            f"{count} line{'' if count == 1 else 's'} of {long:,.1f} m on the layers read: beside none of them is "
            "the other face of a wall."
        )
    if made.arcs_left:
        found.left.append(
            f"{made.arcs_left} × arc on the layers read: about the same centre is no other face of a wall."
        )
    unread = sorted(set(plan.lines) - chosen)
    if unread:
        more = f" and {len(unread) - HATCHED} more" if len(unread) > HATCHED else ""
        found.left.append(f"Layers not read: {', '.join(f'“{name}”' for name in unread[:HATCHED])}{more}.")
    for kind, count in sorted(plan.others.items()):
        found.left.append(f"{count} × {kind}: walls are read from lines and arcs.")
    x, y = made.origin
    if (x, y) != (0, 0):
        found.noted.append(f"The plan is moved by {-x:g}, {-y:g} mm, so that it begins at 0, 0.")
    doors = sum(one["sill"] == "0" for one in made.placements)
    windows = len(made.placements) - doors
    if made.placements:
        found.noted.append(
            f"A plan tells no heights: {windows} openings are as high as windows, {doors} beside an arc as doors."
        )


def _refused(message: str, remedy: str) -> Refusal:
    return Refusal("file", "a plan that can be read", message, remedy)


def main(arguments: Iterable[str] = sys.argv[1:]) -> int:
    """Read a file on standard input, write what was understood."""

    def make() -> Understood:
        options = read(PlanOptions, json.loads(next(iter(arguments), "{}")))
        return read_here(sys.stdin.buffer.read(), options)

    return Understood.tell(make)


if __name__ == "__main__":
    sys.exit(main())
