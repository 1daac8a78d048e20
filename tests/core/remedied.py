"""What is refused is mended by what the refusal says, until it can be built.

Where a refusal names the nearest value that works, that value is typed at its entry. Where it says in words what to do,
one of :data:`WORDS` does it; a refusal that is not in there and names no value is left, for the test to fail on.
"""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from ashfell.core.base.address import Address
from ashfell.core.base.document import dump
from ashfell.core.base.lengths import exact
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit import read_unit, solve
from ashfell.core.unit.apart import check_apart
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.edit.change import change
from ashfell.core.unit.layout import Layout
from ashfell.core.unit.solve.unit import laid_out

Data = dict[str, Any]
NUMBER, AS_SAID = re.compile(r"\d+(?:[.]\d+)?"), "as said"
"""A number in a remedy; a mending types the last of them where it says so."""
MOST = 60
"""Changes after which a unit counts as one that cannot be mended."""


@dataclass(frozen=True)
class Mended:
    """A unit after every remedy: its data, its document, its layout, and what was refused on the way."""

    data: Data
    document: UnitDocument
    layout: Layout
    met: list[Refusal]


def remedied(data: Data) -> tuple[Data, list[Refusal]]:
    """The unit after every remedy, and what was refused on the way; raises as :func:`solved_at_last`."""
    made = solved_at_last(data)
    return made.data, made.met


_LAST: dict[str, tuple[UnitDocument, Layout]] = {}
"""The last unit that was found to fit, by its text."""


def fits(data: Data) -> bool:
    """Whether a unit can be built as it is; where not, no remedy is looked for."""
    _LAST.clear()
    try:
        document = read_unit(data)
        layout = laid_out(document)
        check_apart(document, layout)
    except Refusal:
        return False
    _LAST[json.dumps(data)] = document, layout
    return True


def solved(data: Data) -> tuple[UnitDocument, Layout] | Refusal:
    """A unit that is solved, or why it is not."""
    try:
        document = read_unit(data)
        return _LAST.get(json.dumps(data)) or (document, solve(document))
    except Refusal as refusal:
        return refusal


def solved_at_last(data: Data) -> Mended:
    """The unit after every remedy, solved.

    Raises
    ------
    Refusal
        When it is still refused, or a remedy cannot be applied.
    """
    met: list[Refusal] = []
    data = dump(read_unit(data))
    for _ in range(MOST):
        found = solved(data)
        if not isinstance(found, Refusal):
            return Mended(data, *found, met)
        met.append(found)
        data = mended(data, found)
    raise met[-1]


def mended(data: Data, refusal: Refusal) -> Data:
    """The unit with the remedy of one refusal applied."""
    if refusal.nearest is not None:
        return change(data, refusal.entry, exact(refusal.nearest))
    if refusal.rule.startswith(("at least ", "at most ")):
        return change(data, refusal.entry, refusal.rule.split()[2])
    if refusal.rule not in WORDS:
        raise refusal
    for address, value in WORDS[refusal.rule](Address(refusal.entry)):
        data = change(data, address, NUMBER.findall(refusal.remedy)[-1] if value == AS_SAID else value)
    if refusal.rule == "something remains inside" and data["outline"].get("corners"):
        data = change(data, "outline.corners", "[]")  # “or its corners smaller”
    return data


Changes = list[tuple[Address, str]]
Mending = Callable[[Address], Changes]
"""From the refused entry to what is changed, and to what."""


def at_entry(value: str, below: str = "") -> Mending:
    """Set a value at the refused entry, or below it."""
    return lambda entry: [(entry / below, value)]


def beside(name: str, value: str) -> Mending:
    """Set a value beside the refused entry."""
    return lambda entry: [(entry.parent / name, value)]


def like_the_others(entry: Address) -> Changes:
    """A light too small for its own division made one light like the others; a sash too small for its, glass."""
    if entry.parent.last == "content" and entry.parent.parent.last == "view":
        return [(entry.parent.parent, "")]
    if entry.parent.last == "content":
        of_its_own = entry.parent.parent.parent.last == "each"  # one of several sashes in a light
        return [(entry / "count", "1") if of_its_own else (entry.parent.parent / "kind", "glass")]
    return [(entry.parent / "cleared", "yes")]


def one_shares(entry: Address) -> Changes:
    """One light shares the rest: the one that is named, or the first of a division or of the whole unit."""
    if entry.last == "size":
        return [(entry, "")]
    axis = {"width": Address("columns"), "height": Address("rows")}.get(entry, entry)
    return [(axis / "lights.0.size", "")]


def no_own_sides(entry: Address) -> Changes:
    """All sides as wide as the rest."""
    sides = Address(entry).parent if entry.parent.last in ("sides", "steps") else Address(entry).parent.parent
    return [(sides / side, "") for side in ("sill", "head", "left", "right", "jambs")]


def undivided(entry: Address) -> Changes:
    """A cell whose bars stand in the way, without them."""
    cell = Address(entry).parent.parent
    return [(cell / axis / "count", "1") for axis in ("columns", "rows")]


WORDS: dict[str, Mending] = {
    "a bar within its ring's depth": at_entry(""),
    "a bar that parts its light": at_entry("", "removed"),
    "a gasket where glass ends": at_entry("2"),
    "a hand that means something": at_entry(""),
    "a panel to slide past": at_entry(""),
    "a section off the wall": at_entry(""),
    "a side that can be left out": at_entry(""),
    "a web beside the rebate": at_entry(""),
    "a sill below the frame": at_entry(""),
    "an arc said once": at_entry(""),
    "arcs stay arcs": beside("width", AS_SAID),
    "muntins that can be worked": lambda entry: [(entry, "square" if entry.last == "kind" else "")],
    "one light behind the rings inside": at_entry(""),
    "rings before the glass": at_entry(""),
    "a side of this outline": at_entry(""),
    "a ring that is there": at_entry(""),
    "rings that do not cross": at_entry(""),
    "an arc that meets the edges": at_entry("", "removed"),
    "a casing that ends above the sill": at_entry("no sill"),
    "a drip within the sill": at_entry(""),
    "a field within the margins": at_entry("flat"),
    "a light that holds its glass": at_entry("open"),
    "a light that is there": at_entry(""),
    "an overhead door in a rectangle": at_entry("glass"),
    "folding leaves in a rectangle": at_entry("glass"),
    "sliding leaves in a rectangle": at_entry("glass"),
    "a leaf between the halves of its jamb": at_entry("outside"),
    "leaves that open together": at_entry(""),
    "a pocket in the wall": at_entry("outside"),
    "a drip that clears the leaf": at_entry(""),
    "a lantern over a rectangle": at_entry("glass"),
    "a light that takes a lantern": at_entry("glass"),
    "a dome over a full outline": at_entry("glass"),
    "a frame all round it": at_entry("glass"),
    "an infill round the glass": at_entry(""),
    "an infill clear of leaves": at_entry(""),
    "an infill as thick as its rings are deep": at_entry(""),
    "room between the rings": at_entry(""),
    "room for the feet": at_entry(""),
    "feet or a sill": at_entry(""),
    "nothing before what rises": at_entry("glass"),
    "feet or a casing": at_entry(""),
    "a rail on a free head": at_entry(""),
    "a level head": at_entry(""),
    "a section that goes round the turns": lambda entry: [(entry.parent / "removed", "")],
    "a path that does not turn back": lambda entry: [(entry.parent / "removed", "")],
    "room between the grooves": at_entry(""),
    "something left behind the grooves": at_entry(""),
    "a section that takes the rest": at_entry("[]"),
    "room for every section": lambda entry: [(entry.parent, "[]")],
    "a casing that clears the leaf": at_entry(""),
    "a casing that clears the hardware": lambda entry: [(entry.parent, "")],
    "a light that takes a sash": at_entry("glass"),
    "a light that takes both parts": at_entry("glass"),
    "room for both parts": at_entry(""),
    "room for its own side": at_entry(""),
    "a level foot": at_entry(""),
    "something remains inside": lambda _: [(Address(side), "4500") for side in ("width", "height")],  # and see mended
    "a level sill": at_entry(""),
    "a sill to stand behind": at_entry(""),
    "a casing that stands on the board": at_entry(""),
    "a board that clears the leaf": at_entry(""),
    "a viewing light within its board": lambda entry: [(entry if entry.last == "view" else entry.parent, "")],
    "hardware on its sash": lambda entry: [(entry.parent / "removed", "")],
    "hardware that stands clear": lambda entry: [(entry if entry.last == "hinges" else entry / "removed", "")],
    "hinges before the frame's face": at_entry(""),
    "room for the hinges": at_entry(""),
    "a rebate round every light": at_entry("3", "cover"),
    "rebates that keep clear": at_entry("1", "cover"),
    "a closed section": at_entry(""),
    "a section behind its face": at_entry(""),
    "a section inwards from the edge": at_entry(""),
    "a sash that is there": at_entry(""),
    "a section that fits its member": at_entry(""),
    "a sill to leave out": at_entry("all"),
    "a stop before the glass, a stem behind it": at_entry(""),
    "a stop before the glass": at_entry(""),
    "an even face round curved corners": no_own_sides,
    "an outline a sash can swing out of": beside("opening", "fixed"),
    "blades within the frame": at_entry("30"),
    "four straight members for butted joints": at_entry("mitred"),
    "glass between the bars": at_entry("grid"),
    "glass between the cames": at_entry(""),
    "glass within its rebate": undivided,
    "jambs that stand on a sill": lambda entry: [(entry, "" if entry.last == "sill" else "fitting")],
    "pieces of a bar that stay apart": lambda entry: [(entry.parent.parent / "count", "1")],
    "pieces of a light that stay apart": undivided,
    "rebates that stay apart": at_entry("", "removed"),
    "room for the ring": at_entry("", "removed"),
    "a unit of bounded size": lambda entry: [
        (entry / "count", "1") if entry.last == "columns" else (entry / "kind", "open")
    ],
    "room for every light": like_the_others,
    "the sum closes": one_shares,
    "sliding sashes in a rectangle": at_entry("glass"),
}
