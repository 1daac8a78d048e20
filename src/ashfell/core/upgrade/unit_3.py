"""Units of the third format: a casing that said the wall's face is that of the frame, which was what every casing began
with, follows the wall it is placed in."""

from __future__ import annotations

from typing import Any

Data = dict[str, Any]
FORMAT = "ashfell/unit/3"


def upgrade(data: Data) -> Data:
    """A unit of the third format as one of the fourth."""
    made = data | {"format": "ashfell/unit/4"}
    trim = data.get("trim")
    if isinstance(trim, dict):
        made["trim"] = {key: _following(own) if key in SIDES else own for key, own in trim.items()}
    return made


SIDES = ("outside", "inside")


def _following(casing: object) -> object:
    if isinstance(casing, dict) and casing.get("forward") in ("0", 0):
        return {key: value for key, value in casing.items() if key != "forward"}
    return casing
