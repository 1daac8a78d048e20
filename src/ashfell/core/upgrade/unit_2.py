"""Units of the second format: a casing on all sides that a sill ran into goes where it has room, and what was said of
lights that are not there, which meant nothing, is left out."""

from __future__ import annotations

from typing import Any

Data = dict[str, Any]
FORMAT = "ashfell/unit/2"


def upgrade(data: Data) -> Data:
    """A unit of the second format as one of the third."""
    made = _with_lights_there(data) | {"format": "ashfell/unit/3"}
    trim = data.get("trim")
    if isinstance(trim, dict):
        made["trim"] = trim | {side: _fitting(trim[side]) for side in SIDES & trim.keys()}
    return made


SIDES = {"outside", "inside"}


def _fitting(casing: object) -> object:
    if isinstance(casing, dict) and casing.get("sides") == "all":
        return {key: value for key, value in casing.items() if key != "sides"}
    return casing


def _with_lights_there(cell: Data) -> Data:
    """A cell without entries for lights that it does not have, and so on inwards."""
    made = dict(cell)
    if isinstance(cells := cell.get("cells"), dict):
        across, up = _count(cell.get("columns")), _count(cell.get("rows"))
        there = {f"c{i + 1}r{j + 1}" for i in range(across) for j in range(up)} if across * up > 1 else set()
        made["cells"] = {key: _with_lights_there(own) for key, own in cells.items() if key in there}
    fill = cell.get("fill")
    if isinstance(fill, dict) and isinstance(fill.get("content"), dict):
        made["fill"] = fill | {"content": _with_lights_there(fill["content"])}
    return made


def _count(division: object) -> int:
    lights = division.get("lights") if isinstance(division, dict) else None
    return len(lights) if isinstance(lights, list) else 1
