"""What a ring holds, solved: its cells, lights and bars, and the members of all of it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

from ashfell.core.base.address import entry_below
from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.filling import FillEntry, filling_of, usual_fill
from ashfell.core.kinds.roles import Finishes
from ashfell.core.parts import Member
from ashfell.core.unit.document.cell import Cell
from ashfell.core.unit.document.members import AXES
from ashfell.core.unit.layout import BarRun, Body, Light, Rect, Ring
from ashfell.core.unit.members.bar import bar_members
from ashfell.core.unit.members.glazing import glazing_members
from ashfell.core.unit.members.limits import check_plain, seat_for
from ashfell.core.unit.members.lining import lining_members
from ashfell.core.unit.members.ring import ring_members
from ashfell.core.unit.members.tones import line_between, toned
from ashfell.core.unit.solve.budget import Budget
from ashfell.core.unit.solve.cell import EMPTY_CELL, solve_cell
from ashfell.core.unit.solve.draft import Draft
from ashfell.core.unit.solve.extent import Extent


@dataclass(frozen=True)
class Solving:
    """What solving a filling may need: the unit's finishes, those of its ``inner`` side, and budget, and the way to
    solve a ring in it."""

    finishes: Finishes
    inner: Mapping[str, str] = field(default_factory=dict)
    budget: Budget = field(default_factory=Budget)

    def body(
        self,
        cell: Cell,
        ring: Ring,
        outer: Rect,
        extent: Extent,
        where: tuple[str, str],
        inherited: FillEntry | None = None,
    ) -> Body:
        """Everything inside a ring, which has a rebate where something in it needs one.

        Parameters
        ----------
        cell : Cell
            What a document says of it.
        ring : Ring
        outer, extent : Rect, Extent
            The ring's overall size, and from where to where its clear opening goes, mm.
        where : pair of str
            The cell's address, and what the keys of its lights begin with.
        inherited : FillEntry, optional
            What fills lights that say nothing; fixed glass when nobody says anything.

        Raises
        ------
        Refusal
            When something in it cannot be built.
        """
        inherited = inherited or usual_fill()
        if cell.span != (1, 1):
            raise Refusal(
                entry_below(where[0], "span"),
                "a span over neighbours",
                "What fills a whole ring has no neighbours to span.",
                "Leave the span 1 by 1.",
            )
        if is_seated(cell, inherited):
            ring = replace(ring, seat=seat_for(ring, cell, where[0]))
        else:
            check_plain(ring)
        draft = Draft(ring, self.budget)
        edges = {axis: (outer.x, outer.right) if axis == "columns" else (outer.y, outer.head) for axis in AXES}
        solve_cell(draft, cell, ring.clear, extent, edges, where, inherited)
        self._count(draft.lights)
        lights = [replace(light, content=light.filling.solve(light, light.fill, self)) for light in draft.lights]
        members = tuple(self._members(ring, lights, draft.bars))
        if self.inner:
            members = tuple(toned(members, self.finishes, self.inner, line_between(ring, lights), lights))
        return Body(ring, tuple(draft.cells), tuple(lights), tuple(draft.bars), members)

    def _count(self, lights: Sequence[Light]) -> None:
        """What fills lights, counted for all of them before any of it is solved."""
        counts = [(light.filling.pieces(light, light.fill), light.entry) for light in lights]
        if dear := max(counts, default=None):
            (_, what), entry = dear
            self.budget.spend(sum(count for (count, _), _ in counts), entry, what)

    def _members(self, ring: Ring, lights: Sequence[Light], bars: Sequence[BarRun]) -> Iterator[Member]:
        """All that is to be made of a ring and what it holds."""
        yield from ring_members(ring, self.finishes)
        yield from bar_members(bars, self.finishes, ring.role)
        around, beds = glazing_members(lights, self.finishes)
        yield from around
        for light in lights:
            yield from lining_members(light, self.finishes)
            yield from light.filling.members(light, self.finishes, beds.get(light.key))


def is_seated(cell: Cell, inherited: FillEntry) -> bool:
    """Whether anything in a cell lies in the rebate of its ring, where ``inherited`` fills what says nothing."""
    fill = cell.fill or inherited
    if not cell.is_divided and not cell.cells:
        return filling_of(fill).seated
    keys = [f"c{i + 1}r{j + 1}" for i in range(len(cell.columns.lights)) for j in range(len(cell.rows.lights))]
    return any(is_seated(cell.cells.get(key, EMPTY_CELL), fill) for key in keys)
