"""Finishes of the first format: tiles were square, of a number of metres, and flat."""

from __future__ import annotations

from typing import Any

Data = dict[str, Any]
FORMAT = "ashfell/finish/1"


def upgrade(data: Data) -> Data:
    """A finish of the first format as one of the second."""
    texture = data.get("texture")
    if isinstance(texture, dict) and isinstance(texture.get("tile"), (int, float)):
        kept = {name: value for name, value in texture.items() if name != "tile"}
        data = data | {"texture": kept | {"width": f"{texture['tile']:g} m"}}
    return data | {"format": "ashfell/finish/2"}
