"""From a solved unit to its parts."""

from __future__ import annotations

from collections.abc import Iterator

from ashfell.core.parts import Part
from ashfell.core.unit.bars import bar_parts
from ashfell.core.unit.document import Finishes, UnitDocument
from ashfell.core.unit.fillings import lining_parts, louvre_parts, panel_parts, stop_parts
from ashfell.core.unit.glazing import glazing_parts
from ashfell.core.unit.layout import Body, Layout
from ashfell.core.unit.leaded import leaded_parts
from ashfell.core.unit.muntins import muntin_parts
from ashfell.core.unit.rings import ring_parts
from ashfell.core.unit.solve import solve
from ashfell.core.unit.trim import trim_parts

IN_A_LIGHT = (lining_parts, stop_parts, panel_parts, louvre_parts, leaded_parts, muntin_parts)
"""What is made light by light; each maker answers nothing where the light does not ask for it."""


def build(document: UnitDocument, layout: Layout | None = None) -> tuple[Part, ...]:
    """The parts of a unit: closed, outward, touching only where they are fitted.

    Parameters
    ----------
    document : UnitDocument
    layout : Layout, optional
        What :func:`~ashfell.core.unit.solve.solve` made of the document, when it is known already.

    Raises
    ------
    Refusal
        When the unit cannot be built.
    """
    layout = layout or solve(document)
    rings = [part for ring in layout.rings for part in ring_parts(ring, document.finishes)]
    return (*rings, *_body_parts(layout.body, document.finishes), *trim_parts(document, layout))


def _body_parts(body: Body, finishes: Finishes) -> Iterator[Part]:
    """A ring and all it holds; what an opened sash holds moves with it."""
    yield from ring_parts(body.ring, finishes)
    yield from bar_parts(body.bars, finishes)
    yield from glazing_parts(body.lights, finishes)
    for light in body.lights:
        for make in IN_A_LIGHT:
            yield from make(light, finishes)
        for sash in light.sashes:
            for part in _body_parts(sash.body, finishes):
                yield part if sash.motion is None else part.moved(sash.motion)
