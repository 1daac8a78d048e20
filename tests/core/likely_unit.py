"""Units of every kind, any entry of the schema among what is asked for, of which nine of ten can be built as they are:
what hardly ever goes together is not asked for, and of what would be refused most is left as it was, or another unit
takes its place.

Every twentieth is as :func:`any_unit` has it, and many of those are refused at first.
"""

from __future__ import annotations

import random
from typing import Any

from tests.core.any_unit import any_unit
from tests.core.remedied import fits
from tests.core.varied import varied

Data = dict[str, Any]
WILD = 20
"""Every so many units are left as they are."""
REFUSED = 10
"""Every so many units are varied also where that is refused."""
SQUARE_ONLY = ("sliders", "folding", "sliding-leaf", "rolling", "overhead", "lantern", "dome")
AGAIN = 10**10
"""The number behind that of a unit whose place another takes that can be built."""
HUNG = ("sash", "leaf")
ROOM = 460
"""What a light is given that may hold a sash, mm."""
STOP = 18.0
"""How far behind a member's face its stop is where its section may be any, mm."""


def calm_unit(seed: int) -> Data:
    """The document of unit number ``seed`` before anything of it is varied."""
    unit = any_unit(seed)
    if seed % WILD:
        _calm(unit, random.Random(f"calm {seed}"))
    return unit


def likely_unit(seed: int) -> Data:
    """The document of unit number ``seed``."""
    unit = calm_unit(seed)
    other = varied(unit, random.Random(f"varied {seed}"))
    if not seed % REFUSED or fits(other):
        return other
    return unit if not seed % WILD or fits(unit) else calm_unit(seed + AGAIN)


def _calm(unit: Data, pick: random.Random) -> None:
    """Leave out what this outline, these sides and these sizes cannot have."""
    outline = unit["outline"]
    square = outline["kind"] == "rectangle" and not outline.get("corners") and not unit.get("angled")
    if square:
        for size, axis in (("width", "columns"), ("height", "rows")):
            unit[size] = str(max(float(unit[size]), 160 + _room(unit, axis)))
    _calm_frame(unit, square)
    _calm_trim(unit["trim"], square)
    _calm_cell(unit, square, pick)
    if unit["glazing"]["panes"] > 1:
        unit["glazing"]["thickness"] = "24"


def _mm(length: str) -> float:
    """A length as the generator writes it."""
    return float(length[:-3]) / 8 * 25.4 if length.endswith('"') else float(length)


def _size(section: list[Data]) -> tuple[float, float]:
    """How wide and how deep a section is, to its deepest point."""
    across = [float(point["x"]) for point in section]
    return max(across) - min(across), -min(float(point["y"]) for point in section)


def _room(cell: Data, axis: str) -> float:
    """What all lights of a cell along an axis want, mm."""
    lights = cell[axis]["lights"]
    within = max((_room(one, axis) for one in cell.get("cells", {}).values() if axis in one), default=ROOM)
    shares = sum(light.get("share", 1) for light in lights if not light.get("size"))
    fixed = sum(_mm(light["size"]) for light in lights if light.get("size"))
    return fixed + shares * max(ROOM, within) + 80 * len(lights)


def _calm_bars(cell: Data, deep: float, front: float) -> None:
    """The bars of a cell and all in its ring, which is so deep; a section's stop lies so far behind its face."""
    bars = [*cell.get("columns", {}).get("bars", ()), *cell.get("rows", {}).get("bars", ())]
    if (own := cell.get("bars")) and own.get("section"):
        face, depth = _size(own["section"])
        for bar in bars:
            bar["face"] = str(max(_mm(bar["face"]), face + 1))
        if depth > deep or front < STOP:
            del own["section"]
    for bar in bars:
        if bar.get("depth") and _mm(bar["depth"]) + 6 > deep:
            bar |= {"depth": None, "setback": None}
    for one in cell.get("cells", {}).values():
        _calm_bars(one, deep, front)


def _calm_frame(unit: Data, square: bool) -> None:
    frame, front = unit["frame"], _mm(unit["glazing"]["setback"]) - _mm(unit["glazing"]["gasket"]["thickness"])
    left_out = "0" in frame.get("sides", {}).values()
    if not square or left_out:
        frame.pop("joint", None)
    if front < STOP:
        frame.pop("section", None)
    if frame.get("section"):
        face, depth = _size(frame["section"])
        frame |= {"face": str(max(_mm(frame["face"]), face + 1)), "depth": str(max(_mm(frame["depth"]), depth + 1))}
        frame.pop("sides", None)
    _calm_bars(unit, _mm(frame["depth"]), front)
    for ring in frame.get("rings", ()):
        for name in ("outline", "steps"):
            ring.pop(name, None)
        if ring.get("section") and _size(ring["section"])[0] > _mm(ring["face"]):
            ring["face"] = str(_size(ring["section"])[0] + 1)
    whole = len(unit["columns"]["lights"]) == len(unit["rows"]["lights"]) == 1 and not unit.get("angled")
    if not whole or (unit.get("fill") or {"kind": "glass"})["kind"] not in ("glass", "panel"):
        frame.pop("glazed", None)


def _calm_trim(trim: Data, square: bool) -> None:
    if not square or trim.keys() & {"sill", "outside", "apron"}:
        trim.pop("feet", None)
    if not square:
        for name in ("rail", "sill"):
            trim.pop(name, None)
    if "outside" in trim and "sill" in trim:
        trim["outside"]["sides"] = "no sill"


def _calm_cell(cell: Data, square: bool, pick: random.Random) -> None:
    """The fillings of a cell and all within it."""
    fill = cell.get("fill")
    if fill:
        _calm_fill(cell, fill, square, pick)
        if fill.get("content"):
            _calm_cell(fill["content"], square, pick)
    if cell.get("angled"):
        cell["cells"] = {}
    for one in cell.get("cells", {}).values():
        _calm_cell(one, square and not one.get("angled"), pick)


def _calm_fill(cell: Data, fill: Data, square: bool, pick: random.Random) -> None:
    kind = fill["kind"]
    if not square and (kind in SQUARE_ONLY or (kind in HUNG and pick.random() < 0.7)):
        cell["fill"] = {"kind": "glass"}
        return
    if kind in HUNG:
        fill["clearance"] = "14"
        fill["content"] = fill.get("content") if square and pick.random() < 0.6 else {}
        if not square:
            fill |= {"opening": "fixed", "content": {}} | ({"joint": "mitred", "foot": None} if kind == "leaf" else {})
    if fill.get("section") and kind in ("sash", "leaf", "sliders"):
        face, depth = _size(fill["section"])
        if face >= _mm(fill.get("face", "50")) or depth >= _mm(fill.get("depth", "50")):
            del fill["section"]
    if view := fill.get("view"):
        fill["view"] = view | {"width": "90", "height": "90", "foot": "40"} if square else None
    if kind == "planks":
        fill["ledges"] = 0
    if fill.get("hardware") and pick.random() < 0.4:
        fill["hardware"] = []
    for own in fill.get("hardware", ()):
        own["turned"] = 0
        if own["kind"] in ("plate", "closer", "letter-plate"):
            own |= {"edge": str(_mm(own.get("width", "60")) / 2 + 10)}
