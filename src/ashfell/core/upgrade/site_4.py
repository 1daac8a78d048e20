"""Sites of the fourth format: with nothing round the building."""

from __future__ import annotations

from typing import Any

Data = dict[str, Any]
FORMAT = "ashfell/site/4"


def upgrade(data: Data) -> Data:
    """A site of the fourth format as one of the fifth."""
    return {"surroundings": []} | data | {"format": "ashfell/site/5"}
