"""Sites of the second format: one level, straight walls of one height, and every placement by itself."""

from __future__ import annotations

from typing import Any

Data = dict[str, Any]
FORMAT = "ashfell/site/2"


def upgrade(data: Data) -> Data:
    """A site of the second format as one of the third."""
    return data | {"format": "ashfell/site/3"}
