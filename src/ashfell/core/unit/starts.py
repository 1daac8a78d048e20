"""Where a new unit starts: ordinary sizes, in round numbers of the reader's own system."""

from __future__ import annotations

from ashfell.core.base.lengths import Unit
from ashfell.core.unit.document.unit import UnitDocument, read_unit
from ashfell.core.unit.start_corners import CORNERS
from ashfell.core.unit.start_doors import DOORS
from ashfell.core.unit.start_rooflights import ROOFLIGHTS
from ashfell.core.unit.start_screens import SCREENS
from ashfell.core.unit.start_sliding import SLIDING
from ashfell.core.unit.start_windows import INCHES, METRIC, WINDOWS

STARTS = WINDOWS | DOORS | SLIDING | CORNERS | SCREENS | ROOFLIGHTS
"""Starting points by key."""


GROUPS = tuple(dict.fromkeys(start.group for start in STARTS.values()))
"""What one looks for them under, in order."""


def start_from(key: str, name: str, bare: Unit = "mm") -> UnitDocument:
    """A new unit from a starting point; for readers of feet and inches in their own round numbers where it has them."""
    start = STARTS[key]
    imperial = bare in ("in", "ft") and start.inches is not None
    return read_unit((INCHES | (start.inches or {}) if imperial else METRIC | start.metric) | {"name": name})


def ordinary_window(name: str, bare: Unit = "mm") -> UnitDocument:
    """A window of one light; a 4 ft window for readers of feet and inches."""
    return start_from("fixed", name, bare)
