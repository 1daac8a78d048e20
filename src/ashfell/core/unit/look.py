"""What is looked at: the cell, or the grid of muntins, that an address stands for."""

from __future__ import annotations

from ashfell.core.base.address import Address
from ashfell.core.unit.layout import CellLayout, Layout

MUNTINS = "fill.muntins"


def cell_path(at: str) -> Address:
    """The cell that is looked at, also where the muntins on its glass are."""
    return Address(at.removesuffix(MUNTINS).rstrip(".")) if at.endswith(MUNTINS) else Address(at)


def looked_at(layout: Layout, at: str) -> CellLayout:
    """The cell at an address, or the one a light there belongs to; the whole unit where there is none."""
    cell = cell_path(at)
    light = next((light for light in layout.lights if light.path == cell), None)
    if light and cell != at:
        return light.content.grid or layout.cells[light.cell]
    if cell in layout.cells:
        return layout.cells[cell]
    return layout.cells[light.cell] if light else layout.root
