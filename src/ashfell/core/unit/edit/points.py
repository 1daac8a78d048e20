"""Changes to the points of own sections and free outlines."""

from __future__ import annotations

from fractions import Fraction
from math import atan, tan
from typing import Any

from ashfell.core.base.address import Address
from ashfell.core.base.document import Data, read, typed_length
from ashfell.core.base.lengths import Unit, parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.outline import Outline
from ashfell.core.plane.segment import Segment
from ashfell.core.solid.section import Edge, drawn
from ashfell.core.unit.document.glazing import Glazing
from ashfell.core.unit.document.members import AXES
from ashfell.core.unit.edit.lists import item_at
from ashfell.core.unit.edit.place import at, unknown

OPEN = ("path", "profile")
"""Lists whose items are points of an open path."""
POINTS = ("section", "nodes", *OPEN)
"""Lists whose items are points of a path."""
NODES = "outline.nodes"


def _mm(text: object) -> Fraction:
    return parse(str(text))


Nodes = list[tuple[float, float, float]]


def draw(data: Data, address: Address, value: str, bare: Unit) -> None:
    """A section of one's own, begun from the face, depth and worked edges that are there."""
    holder, kind = at(data, address.parent), address.parent.last
    begin = BEGUN.get(kind)
    nodes = begin(data, address, holder) if begin else _member(data, address, holder)
    holder["section"] = [{"x": f"{x:.10g}", "y": f"{y:.10g}", "bulge": round(bulge, 9)} for x, y, bulge in nodes]


def _member(data: Data, address: Address, holder: Data) -> Nodes:
    """That of a ring, a bar or a casing."""
    cell = _cell_of(data, address)
    common = cell.get("bars", {})
    faces = [bar["face"] for axis in AXES for bar in cell.get(axis, {}).get("bars", ())]
    face = holder.get("face") or holder.get("width") or (faces or [data["frame"]["face"]])[0]
    depth = _mm(holder.get("projection") or holder.get("depth") or common.get("depth") or data["frame"]["depth"])
    edge = read(Edge, holder.get("edge") or common.get("edge") or {"kind": "square"})
    rise = depth if "projection" in holder else Fraction(0)
    return [(x, w + float(rise), bulge) for x, w, bulge in drawn(edge, float(_mm(face)), float(depth))]


def _muntins(data: Data, address: Address, holder: Data) -> Nodes:
    """That of muntins, or of those on the inner face."""
    whole = at(data, address.parent.parent) if address.parent.last == "inner" else holder
    proud, edge = holder.get("proud") or whole["proud"], holder.get("edge") or whole["edge"]
    return drawn(read(Edge, edge), float(_mm(whole["width"])), float(_mm(proud)))


def _bead(data: Data, address: Address, holder: Data) -> Nodes:
    """That of a bead, as large as its rebate in the frame."""
    glazing = read(Glazing, at(data, address.parent.parent))
    taken = glazing.setback.mm + glazing.thickness.mm + glazing.gasket.thickness.mm
    deep = max(_mm(data["frame"]["depth"]) - taken, Fraction(2))
    return drawn(glazing.bead.edge, float(glazing.cover.mm + glazing.clear), float(deep), both=False)


def _sill(data: Data, address: Address, holder: Data) -> Nodes:
    """That of a sill, without its nosing and drip."""
    out, thick, fall, under = (float(_mm(holder[name])) for name in ("projection", "thickness", "fall", "under"))
    return [(x, y, 0.0) for x, y in ((-under, -thick), (out, -thick), (out, -fall), (0.0, 0.0), (-under, 0.0))]


def _board(data: Data, address: Address, holder: Data) -> Nodes:
    """That of an apron or a drip."""
    out, high = float(_mm(holder["projection"])), float(_mm(holder["height"]))
    return [(x, y, 0.0) for x, y in ((0.0, 0.0), (out, 0.0), (out, high), (0.0, high))]


BEGUN = {
    "muntins": _muntins,
    "inner": _muntins,
    "bead": _bead,
    "sill": _sill,
    "apron": _board,
    "head_drip": _board,
}
"""What a section is begun from that is not a ring's, a bar's or a casing's, by what it is for."""


def _cell_of(data: Data, section: Address) -> Data:
    """The cell whose bars a section is drawn for: all of them, or one; nothing for any other section."""
    bar = section.parent.of_division("bars")
    if bar is not None:
        return dict(at(data, bar.holder))
    return dict(at(data, section.parent.parent)) if section.parent.last == "bars" else {}


def halve(data: Data, address: Address, value: str, bare: Unit) -> None:
    """A new point in the middle of what leaves a point, on its arc if it is one."""
    items, index = _points(data, address)
    if address.parent.last in OPEN and index == len(items) - 1:
        index -= 1  # behind its last point an open path has nothing to halve
    a, b = items[index], items[(index + 1) % len(items)]
    bulge = float(a.get("bulge", 0.0))
    start, end = ((float(_mm(p["x"])), float(_mm(p["y"]))) for p in (a, b))
    middle = Segment(start, end, bulge).point_at(0.5)
    half = round(tan(atan(bulge) / 2), 9)
    a["bulge"] = half
    items.insert(index + 1, {"x": f"{middle[0]:.10g}", "y": f"{middle[1]:.10g}", "bulge": half})


def move_point(data: Data, address: Address, value: str, bare: Unit) -> None:
    """A point moved to another place, ``"x; y"``."""
    items, index = _points(data, address)
    placed = value.split(";")
    if len(placed) != 2:
        raise Refusal(address / "placed", "a place", f"“{value}” is no place.", "Give it as x; y.")
    items[index] |= {axis: typed_length(address / axis, text, bare) for axis, text in zip("xy", placed, strict=True)}


def _points(data: Data, address: Address) -> tuple[list[Any], int]:
    if address.parent.last not in POINTS:
        raise unknown(address)
    return item_at(data, address)


def follow_path(data: Data, changed: Data) -> None:
    """The overall size follows a free path whose nodes are changed, in the scale it has."""
    before, now = (_bounds(one["outline"]["nodes"]) for one in (data, changed))
    for k, size in enumerate(("width", "height")):
        if abs((now[k + 2] - now[k]) - (before[k + 2] - before[k])) > 1e-9:
            share = (now[k + 2] - now[k]) / (before[k + 2] - before[k])
            changed[size] = f"{float(_mm(data[size])) * share:.10g}"


def _bounds(nodes: list[Data]) -> tuple[float, float, float, float]:
    return Outline.of([(float(_mm(n["x"])), float(_mm(n["y"])), float(n.get("bulge", 0))) for n in nodes]).bounds
