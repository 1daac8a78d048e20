"""Sites of the third format: without lamps and cameras."""

from __future__ import annotations

from typing import Any

Data = dict[str, Any]
FORMAT = "ashfell/site/3"


def upgrade(data: Data) -> Data:
    """A site of the third format as one of the fourth."""
    return {"lamps": [], "cameras": []} | data | {"format": "ashfell/site/4"}
