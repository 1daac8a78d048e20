"""Where a new unit starts: ordinary sizes, in round numbers of the reader's own system (common practice, no source)."""

from __future__ import annotations

from ashfell.core.lengths import Unit
from ashfell.core.unit.document import UnitDocument, read_unit

METRIC = {"width": "1200", "height": "1200"}
INCHES = {
    "width": "4'", "height": "4'",
    "frame": {"face": '2"', "depth": '3 1/2"', "chamfer": '1/16"'},
    "bars": {"setback": "0", "chamfer": '1/16"'},
    "glazing": {
        "thickness": '1"', "setback": '1"', "cover": '1/2"', "clearance": '1/8"',
        "gasket": {"thickness": '1/8"', "shows": '1/16"'}, "bead": {"chamfer": '1/16"'},
    },
}  # fmt: skip


def ordinary_window(name: str, bare: Unit = "mm") -> UnitDocument:
    """A window of one light; a 4 ft window for readers of feet and inches."""
    return read_unit((INCHES if bare in ("in", "ft") else METRIC) | {"name": name})
