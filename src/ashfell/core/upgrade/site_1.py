"""Sites of the first format: their placements had neither a size nor a hand of their own, and every one had a unit."""

from __future__ import annotations

from typing import Any

Data = dict[str, Any]
FORMAT = "ashfell/site/1"


def upgrade(data: Data) -> Data:
    """A site of the first format as one of the second."""
    return data | {"format": "ashfell/site/2"}
