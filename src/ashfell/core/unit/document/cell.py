"""The cell: a part of a unit, divided or filled."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ashfell.core.base.document import Document
from ashfell.core.kinds.filling import Fill
from ashfell.core.unit.document.members import AngledBar, Bars, CellKey, Division


class Cell(Document):
    """A part of a unit: divided into columns and rows, each light of which may be a cell of its own, or filled.

    ``cells`` are the lights that differ, by key: ``"c2r1"`` is the second column's lowest light. ``span`` lets one take
    the place of its neighbours to the right and above. What a cell does not say of its fill is that of the cell it is
    in.
    """

    columns: Division = Division()
    rows: Division = Division()
    bars: Bars = Bars()
    angled: Annotated[tuple[AngledBar, ...], Field(max_length=12)] = ()
    cells: dict[CellKey, Cell] = {}
    span: tuple[Annotated[int, Field(ge=1, le=60)], Annotated[int, Field(ge=1, le=60)]] = (1, 1)
    fill: Fill | None = None

    @property
    def is_divided(self) -> bool:
        return len(self.columns.lights) > 1 or len(self.rows.lights) > 1
