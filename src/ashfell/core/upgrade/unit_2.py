"""Units of the second format: a casing on all sides that a sill ran into now goes where it has room."""

from __future__ import annotations

from typing import Any

Data = dict[str, Any]
FORMAT = "ashfell/unit/2"


def upgrade(data: Data) -> Data:
    """A unit of the second format as one of the third."""
    trim = data.get("trim")
    if not isinstance(trim, dict):
        return data | {"format": "ashfell/unit/3"}
    return data | {
        "format": "ashfell/unit/3",
        "trim": trim | {side: _fitting(trim[side]) for side in SIDES & trim.keys()},
    }


SIDES = {"outside", "inside"}


def _fitting(casing: object) -> object:
    if isinstance(casing, dict) and casing.get("sides") == "all":
        return {key: value for key, value in casing.items() if key != "sides"}
    return casing
