"""Units of the first format: a chamfer became a worked edge, a bar an entry."""

from __future__ import annotations

from typing import Any

Data = dict[str, Any]
FORMAT = "ashfell/unit/1"


def _edge(size: object) -> Data:
    return {"kind": "square" if size in ("0", 0) else "chamfer", "size": str(size)}


def upgrade(data: Data) -> Data:
    """A unit of the first format as one of the second."""
    made = data | {"format": "ashfell/unit/2"}
    for name in ("frame", "bars"):
        if name in data:
            kept = {key: value for key, value in data[name].items() if key != "chamfer"}
            made[name] = kept | ({"edge": _edge(data[name]["chamfer"])} if "chamfer" in data[name] else {})
    if "bead" in data.get("glazing", {}):
        made["glazing"] = data["glazing"] | {"bead": {"edge": _edge(data["glazing"]["bead"].get("chamfer", "0"))}}
    for axis in ("columns", "rows"):
        if "bars" in data.get(axis, {}):
            made[axis] = data[axis] | {"bars": [{"face": face} for face in data[axis]["bars"]]}
    return made
