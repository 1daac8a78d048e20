"""The unit: its document, its layout, its parts, its elevation.

document ─► solve ─► layout ─► build ─► parts
                       └─────────────► elevation
"""

from ashfell.core.unit.build import build
from ashfell.core.unit.document.unit import UnitDocument, read_unit
from ashfell.core.unit.layout import Layout
from ashfell.core.unit.make import Unit, make
from ashfell.core.unit.promise import solve

__all__ = ["Layout", "Unit", "UnitDocument", "build", "make", "read_unit", "solve"]
