"""Closed paths read from drawings, SVG and DXF, as outlines for units."""

from __future__ import annotations

import io
import itertools
from collections.abc import Iterator, Sequence
from math import floor, hypot, isfinite

import numpy as np
from ezdxf import path as dxf_path
from ezdxf import units as dxf_units
from ezdxf.entities.arc import Arc as DxfArc
from ezdxf.entities.dxfgfx import DXFGraphic
from ezdxf.entities.lwpolyline import LWPolyline
from ezdxf.filemanagement import read as read_dxf
from ezdxf.lldxf.const import DXFError
from svgelements import SVG, Arc, Close, CubicBezier, Line, Move, QuadraticBezier
from svgelements import Path as SvgPath
from svgelements import Shape as SvgShape

from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.outline import Outline
from ashfell.core.plane.segment import Point
from ashfell.core.solid.section import sampled
from ashfell.formats.found import MM_OF, Found, Node

CHORD = 0.1
"""Chord tolerance of splines, mm."""
FINEST = 1e-6
"""The least tolerance of a curve, of its size."""
JOIN = 0.01
"""Ends nearer than this meet, mm."""
MOST_NODES = 400


def read_paths(content: bytes, name: str, unit: str = "") -> list[Found]:
    """The closed paths of a drawing, the largest first.

    Parameters
    ----------
    content : bytes
    name : str
        File name; its ending tells the format.
    unit : str
        Unit of the drawing's coordinates where it does not say so itself: mm, cm, m, in, ft or px.

    Raises
    ------
    Refusal
        When it cannot be read, has no unit, or nothing in it is closed.
    """
    ending = name.rpartition(".")[2].lower()
    if ending not in ("svg", "dxf"):
        raise Refusal(
            "file", "an SVG or DXF drawing", f"“{name}” is neither SVG nor DXF.", "Choose a drawing in one of these."
        )
    chains = list(_svg_chains(content, unit) if ending == "svg" else _dxf_chains(content, unit))
    closed = [found for chain in chains if (found := _closed(chain)) is not None]
    if not closed:
        what = f"{len(chains)} open path{'s' if len(chains) != 1 else ''}" if chains else "no path"
        raise Refusal(
            "file",
            "a closed path",
            f"The drawing holds {what}, none of them closed.",
            "Close the outline in the drawing.",
        )
    return sorted(closed, key=lambda found: -found.width * found.height)[:40]


def read_lines(content: bytes, name: str, unit: str = "") -> tuple[str, float, float]:
    """Everything a drawing draws, to be traced over: SVG path data with y downwards from the foot, mm, and its width
    and height.

    Raises
    ------
    Refusal
        When it cannot be read, has no unit, or draws nothing.
    """
    read = _svg_chains if name.lower().endswith("svg") else _dxf_chains
    chains = [np.array(sampled(chain, CHORD, closed=False)) for chain in read(content, unit) if len(chain) > 1]
    if not chains:
        raise Refusal(
            "file", "a drawing with lines", "There is nothing to trace in the drawing.", "Choose another one."
        )
    points = np.concatenate(chains)
    (left, foot), (right, head) = points.min(axis=0).tolist(), points.max(axis=0).tolist()
    if len(points) > MOST_POINTS or right - left < JOIN:
        raise Refusal(
            "file",
            "a drawing of a sensible size",
            f"The drawing has {len(points)} points over {right - left:g} mm.",
            "Make it simpler.",
        )
    lines = ("M" + "L".join(f"{x - left:.6g} {foot - y:.6g}" for x, y in chain.tolist()) for chain in chains)
    return "".join(lines), right - left, head - foot


MOST_POINTS = 40_000


def _closed(chain: Sequence[Node]) -> Found | None:
    """A chain as an outline, if it is closed and encloses something; the last node repeats the first."""
    if len(chain) < 3 or hypot(chain[0][0] - chain[-1][0], chain[0][1] - chain[-1][1]) > JOIN:
        return None
    nodes = [node for node, ahead in itertools.pairwise(chain) if hypot(node[0] - ahead[0], node[1] - ahead[1]) > 1e-6]
    if not 2 <= len(nodes) <= MOST_NODES:
        return None
    try:
        outline = Outline.of(nodes)
    except Refusal:
        return None
    left, foot, right, head = outline.bounds
    return Found(tuple((x - left, y - foot, bulge) for x, y, bulge in outline.nodes), right - left, head - foot)


# --- SVG --------------------------------------------------------------------------------------------------------------


def _svg_chains(content: bytes, unit: str) -> Iterator[list[Node]]:
    try:
        drawing = SVG.parse(io.BytesIO(content), reify=True)
    except Exception as error:  # the parser raises whatever its XML reader raises
        raise Refusal("file", "an SVG drawing", "The file cannot be read as SVG.", "Export it again.") from error
    scale = MM_OF[unit or "px"]
    for element in drawing.elements():
        if isinstance(element, SvgShape):
            for part in SvgPath(element).as_subpaths():
                yield [(x * scale, -y * scale, -bulge) for x, y, bulge in _svg_nodes(SvgPath(part), CHORD / scale)]


def _svg_nodes(path: SvgPath, chord: float) -> list[Node]:
    nodes: list[Node] = []
    for piece in path:
        if isinstance(piece, Move):
            nodes.append((float(piece.end.x), float(piece.end.y), 0.0))
            continue
        if piece.end is None or not nodes:
            continue
        if isinstance(piece, Arc) and abs(piece.rx - piece.ry) < 1e-6:
            steps = 2 if abs(piece.sweep) > 3 else 1
            points = [piece.point(k / steps) for k in range(1, steps + 1)]
            bulge = float(np.tan(piece.sweep / steps / 4))
            nodes[-1] = (*nodes[-1][:2], bulge)
            nodes += [(float(p.x), float(p.y), bulge if k < steps - 1 else 0.0) for k, p in enumerate(points)]
        elif isinstance(piece, (CubicBezier, QuadraticBezier, Arc)):
            count = max(4, min(60, int(np.ceil(float(piece.length(error=1e-3)) / max(chord * 20, 1e-6)))))
            nodes += [(float(p.x), float(p.y), 0.0) for p in (piece.point(k / count) for k in range(1, count + 1))]
        elif isinstance(piece, (Line, Close)):
            nodes.append((float(piece.end.x), float(piece.end.y), 0.0))
    return nodes


# --- DXF --------------------------------------------------------------------------------------------------------------


def _dxf_chains(content: bytes, unit: str) -> Iterator[list[Node]]:
    try:
        drawing = read_dxf(io.StringIO(content.decode("utf-8", "replace")))
    except (DXFError, OSError, ValueError) as error:
        raise Refusal("file", "a DXF drawing", "The file cannot be read as DXF.", "Export it again.") from error
    said = {dxf_units.MM: "mm", dxf_units.CM: "cm", dxf_units.M: "m", dxf_units.IN: "in", dxf_units.FT: "ft"}.get(
        drawing.units, ""
    )
    if not said and not unit:
        raise Refusal("unit", "a unit for the drawing", "The drawing does not say in which unit it is.", "Choose one.")
    scale = MM_OF[said or unit]
    loose: list[list[Node]] = []
    for entity in drawing.modelspace():
        kind = entity.dxftype()
        if isinstance(entity, LWPolyline):
            nodes = [(float(x), float(y), float(bulge)) for x, y, bulge in entity.get_points("xyb")]
            chain = [*nodes, nodes[0]] if entity.closed and nodes else nodes
            yield [(x * scale, y * scale, bulge) for x, y, bulge in chain]
        elif kind == "CIRCLE":
            (cx, cy, _), r = entity.dxf.center, entity.dxf.radius
            yield [
                ((cx - r) * scale, cy * scale, 1.0),
                ((cx + r) * scale, cy * scale, 1.0),
                ((cx - r) * scale, cy * scale, 0.0),
            ]
        elif kind in ("LINE", "ARC", "SPLINE", "ELLIPSE", "POLYLINE"):
            loose.append([(x * scale, y * scale, bulge) for x, y, bulge in _dxf_nodes(entity, CHORD / scale)])
    yield from _joined([chain for chain in loose if len(chain) > 1 and _is_finite(chain)])


def _is_finite(chain: Sequence[Node]) -> bool:
    return all(isfinite(value) for node in chain for value in node)


def _dxf_nodes(entity: DXFGraphic, chord: float) -> list[Node]:
    if isinstance(entity, DxfArc):
        start, end = entity.start_point, entity.end_point
        sweep = (entity.dxf.end_angle - entity.dxf.start_angle) % 360
        return [(start.x, start.y, float(np.tan(np.radians(sweep) / 4))), (end.x, end.y, 0.0)]
    made = dxf_path.make_path(entity)
    # A millionth of what is far larger than any building is fine enough; else it alone would fill the memory.
    placed = np.array([(point.x, point.y) for point in made.control_vertices()]).reshape(-1, 2)
    size = float(np.ptp(placed, axis=0).max()) if len(placed) else 0.0
    return [(point.x, point.y, 0.0) for point in made.flattening(max(chord, FINEST * size))]


def _joined(chains: Sequence[list[Node]]) -> Iterator[list[Node]]:
    """Loose pieces put together where their ends meet; each is found by where it ends, so that the cost grows with
    their number."""
    ends = _Ends(chains)
    while (first := ends.any_left()) is not None:
        chain = list(chains[first])
        while hypot(chain[0][0] - chain[-1][0], chain[0][1] - chain[-1][1]) > JOIN:
            found = ends.at(chain[-1])
            if found is None:
                break
            index, at_start = found
            ends.take(index)
            chain[-1:] = chains[index] if at_start else _reversed(chains[index])
        yield chain


class _Ends:
    """The ends of pieces by the cells of a grid, so that those at a place are found at once."""

    def __init__(self, chains: Sequence[list[Node]]) -> None:
        self.chains = chains
        self.left = dict.fromkeys(reversed(range(len(chains))))
        self.cells: dict[tuple[int, int], list[tuple[int, bool]]] = {}
        for index, chain in enumerate(chains):
            for at_start, node in ((True, chain[0]), (False, chain[-1])):
                self.cells.setdefault(self.cell(node), []).append((index, at_start))

    @staticmethod
    def cell(node: Node) -> tuple[int, int]:
        return floor(node[0] / JOIN), floor(node[1] / JOIN)

    def any_left(self) -> int | None:
        """A piece that is not taken yet, which is taken by this."""
        return self.left.popitem()[0] if self.left else None

    def take(self, index: int) -> None:
        del self.left[index]

    def at(self, node: Node) -> tuple[int, bool] | None:
        """A piece that is left and ends at a place, and whether it begins there."""
        x, y = self.cell(node)
        for cell in ((x + i, y + j) for i in (0, 1, -1) for j in (0, 1, -1)):
            for index, at_start in self.cells.get(cell, ()):
                end = self.chains[index][0 if at_start else -1]
                if index in self.left and hypot(end[0] - node[0], end[1] - node[1]) <= JOIN:
                    return index, at_start
        return None


def _reversed(chain: list[Node]) -> list[Node]:
    points: list[Point] = [(x, y) for x, y, _ in reversed(chain)]
    bulges = [-bulge for _, _, bulge in reversed(chain[:-1])]
    return [(x, y, bulge) for (x, y), bulge in zip(points, [*bulges, 0.0], strict=True)]
