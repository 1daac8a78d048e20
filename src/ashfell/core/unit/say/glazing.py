"""Sentences of the glazing that a unit's lights share."""

from __future__ import annotations

from collections import Counter
from typing import Any

from ashfell.core.base.lengths import show
from ashfell.core.unit.document.glazing import USUAL_CLEARANCE
from ashfell.core.unit.layout import Layout
from ashfell.core.unit.say.writer import Writer, tenth
from ashfell.core.unit.seat import Seat


def say_glazing(
    w: Writer, path: str, holder: Any, bars: bool, told: tuple[str, ...] = (), seat: Seat | None = None
) -> None:
    """The sentence of what a ring says of its glass, and where its bars are narrow of how far it goes behind them."""
    glazing, bead = holder.glazing, holder.glazing.bead
    usual = show(USUAL_CLEARANCE, w.style)
    covers: list[Any] = [w.length(f"{path}.cover", glazing.cover, "Cover by the frame"), "by the frame"]
    if bars:
        narrow = seat.narrow if seat else None
        hint = f"{show(narrow[0], w.style)}, {show(narrow[1], w.style)} clear, as they leave" if narrow else "as much"
        covers += [
            "and",
            w.length(f"{path}.bar_cover", glazing.bar_cover, "Cover by the bars", hint),
            "by the bars",
        ]
    panes: list[Any] = [w.number(f"{path}.panes", glazing.panes, "Panes"), "pane" if glazing.panes == 1 else "panes"]
    if glazing.panes > 1:
        panes += ["of", w.length(f"{path}.pane", glazing.pane, "Thickness of each pane")]
    w.say(
        path,
        "Glass",
        w.length(f"{path}.thickness", glazing.thickness, "Glass thickness"),
        "thick, in",
        *panes,
        ", set back",
        w.length(f"{path}.setback", glazing.setback, "Glass set-back"),
        ", covered",
        *covers,
        ",",
        w.length(f"{path}.clearance", glazing.clearance, "Clearance in the rebate", usual),
        "clear in the rebate.",
        told=told,
    )
    w.say(
        f"{path}.gasket",
        "Gasket",
        w.length(f"{path}.gasket.thickness", glazing.gasket.thickness, "Gasket thickness"),
        "thick on both faces, showing",
        w.length(f"{path}.gasket.shows", glazing.gasket.shows, "How far the gasket shows"),
        ".",
    )
    w.say(
        f"{path}.bead",
        "Beads behind the glass,",
        w.section(f"{path}.bead", bead.section, w.edge(f"{path}.bead.edge", bead.edge, "Bead"), "the beads"),
        ".",
    )


def panes_told(w: Writer, layout: Layout) -> tuple[str, ...]:
    """How large the glass is cut, sizes that are alike together."""
    sizes = Counter(
        (pane.width, pane.height) if pane.exact else (tenth(float(pane.width)), tenth(float(pane.height)))
        for light in layout.lights
        if light.ring.glazing_entry == "glazing"
        for pane in light.content.panes
    )
    found = Counter[str]()
    for size, count in sizes.items():
        found[w.by(*size)] += count
    shown = [f"{count} of {size}" if count > 1 else size for size, count in found.most_common(MOST_PANES)]
    more = f", and {len(found) - MOST_PANES} more sizes" if len(found) > MOST_PANES else ""
    return (f"Cut to {', '.join(shown)}{more}.",) if shown else ()


MOST_PANES = 3
