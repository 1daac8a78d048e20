"""From a solved unit to its parts."""

from __future__ import annotations

from ashfell.core.parts import Part, parts_of
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.layout import Layout
from ashfell.core.unit.promise import solve


def build(document: UnitDocument, layout: Layout | None = None) -> tuple[Part, ...]:
    """The parts of a unit: closed, outward, touching only where they are fitted.

    Parameters
    ----------
    document : UnitDocument
    layout : Layout, optional
        What :func:`~ashfell.core.unit.solve.unit.solve` made of the document, when it is known already: then nothing is
        refused.

    Raises
    ------
    Refusal
        When the unit cannot be built.
    """
    return parts_of((layout or solve(document)).members)
