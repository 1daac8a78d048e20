"""The audit of a unit: its solids, and whether its lights are as equal as somebody may think."""

from __future__ import annotations

from collections.abc import Iterator

from ashfell.core.audit.finding import Finding
from ashfell.core.audit.solids import audit_parts
from ashfell.core.base.address import entry_below
from ashfell.core.base.lengths import Style, show
from ashfell.core.base.spacing import RULE_NAMES
from ashfell.core.unit.document.members import AXES
from ashfell.core.unit.layout import Layout
from ashfell.core.unit.make import Unit
from ashfell.core.unit.singled import unknown_parts


def audit_unit(unit: Unit, style: Style = Style()) -> list[Finding]:
    """All findings about one unit: solids, overlaps, equal lights."""
    return [*audit_parts(unit.parts), *audit_lights(unit.layout, style), *_singled(unit)]


def _singled(unit: Unit) -> Iterator[Finding]:
    """Parts that were singled out and are not there any more."""
    for name in unknown_parts(unit.document.grain, unit.layout):
        told = f"There is no part “{name}” any more whose grain could be turned."
        yield Finding("note", "grain of a part", "grain", told, "Turn all grain back, or leave it: it does no harm.")
    for name in unknown_parts(unit.document.painted, unit.layout):
        told = f"There is no part “{name}” any more that could have a finish of its own."
        yield Finding("note", "finish of a part", "painted", told, "Let it go, or leave it: it does no harm.")


def audit_lights(layout: Layout, style: Style = Style()) -> Iterator[Finding]:
    """Sharing lights that are not equal, and what equal clear lights would be."""
    for path, cell in layout.cells.items():
        for axis in AXES:
            spacing = cell.spacing(axis)
            if spacing.lights_are_equal or len({light.share for light in getattr(cell.cell, axis).lights}) > 1:
                continue
            sizes = ", ".join(show(light.size, style) for light in spacing.lights)
            clear = cell.rules(axis).get("clear")
            equal = next((show(light.size, style) for light in clear.lights if not light.fixed), "") if clear else ""
            yield Finding(
                "note",
                "equal lights",
                entry_below(path, axis),
                f"The clear lights are {sizes}: {RULE_NAMES[spacing.rule]} was asked for.",
                f"Equal clear lights would be {equal} each." if equal else "",
            )
