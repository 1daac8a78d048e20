"""What a starting point is."""

from __future__ import annotations

from dataclasses import dataclass

from ashfell.core.base.document import Data


@dataclass(frozen=True)
class Start:
    """A starting point: its name, what it is for, and the entries that differ from an ordinary window; ``group`` is
    what one looks for it under."""

    name: str
    words: str
    metric: Data
    inches: Data | None = None
    group: str = "Windows"
