"""Changes to a unit document, as somebody makes them on the drawing: pure functions from JSON data to JSON data.

An address whose last word is one of :data:`ACTIONS` does something to what stands there; any other names one value,
which is read as what the document's schema says it is.
"""

from __future__ import annotations

import copy
from collections.abc import Callable

from ashfell.core.base.address import Address
from ashfell.core.base.document import Data
from ashfell.core.base.lengths import Unit
from ashfell.core.unit.document.members import AXES
from ashfell.core.unit.edit import divisions, hardware, lights, lists, points
from ashfell.core.unit.edit.place import put
from ashfell.core.unit.singled import paint, turn_grain

Act = Callable[[Data, Address, str, Unit], None]
"""What an action does: to the data, at an address, with a value, bare numbers being in a unit."""

ACTIONS: dict[str, Act] = {
    "count": divisions.set_count,
    "locked": divisions.lock,
    "shift": divisions.shift,
    "centres": divisions.set_centres,
    "running": divisions.set_running,
    "equal": divisions.equalise,
    "mirrored": divisions.mirror,
    "kind": lights.set_kind,
    "copied": lights.copy_fill,
    "split": lights.split,
    "merged": lights.merge,
    "cleared": lights.clear,
    "moved": hardware.move,
    "entrance": lights.make_entrance,
    "grain": turn_grain,
    "painted": paint,
    "added": lists.add,
    "removed": lists.remove,
    "duplicated": lists.duplicate,
    "raised": lists.move_up,
    "lowered": lists.move_down,
    "drawn": points.draw,
    "halved": points.halve,
    "placed": points.move_point,
}
"""What an address's last word does to what stands there."""


def change(data: Data, address: str, value: str, bare: Unit = "mm") -> Data:
    """One entry changed.

    Parameters
    ----------
    data : dict
        A valid unit document.
    address : str
        E.g. ``"frame.face"``, ``"cells.c2r1.columns.lights.0.size"``; or one whose last word acts: ``"columns.count"``
        how many lights, ``"columns.bars"`` the face of all bars, ``"columns.lights.2.locked"`` to lock a light at its
        size or let it share again, ``"columns.bars.1.shift"`` to move a bar (the lights beside it take it up),
        ``"columns.lights.1.centres"`` and ``"columns.bars.1.running"`` to move one by typing over a distance of centres
        or a running size, ``"columns.equal"`` to let all lights share alike, ``"columns.mirrored"`` to turn the order
        round, ``"cells.c1r1.fill.kind"`` for another filling, ``".fill.copied"`` to give it to ``row``, ``column`` or
        ``all``, ``".split"`` into ``columns`` or ``rows``, ``".merged"`` with the light to its ``right`` or ``up``,
        ``".cleared"`` to make a light like the others again; ``"grain"`` to turn that of a part by a quarter,
        ``"painted"`` to give ``"part; finish"`` its own;
        ``"entrance"`` to put a leaf between
        sidelights; ``".moved"`` to move hardware by ``"right; up"``; ``".added"``, ``".removed"``, ``".raised"``,
        ``".lowered"``, ``".duplicated"`` for lists; ``".section.drawn"`` to begin a section of one's own from what is
        there, ``".halved"`` for a new point behind another, ``".placed"`` to move one to ``"x; y"``.
    value : str
        What was typed; an empty one leaves out what may be left out.
    bare : Unit
        The unit of a number typed without one.

    Raises
    ------
    Refusal
        When the value cannot be read or the entry does not exist. Whether the unit can then be built is for ``solve``.
    """
    changed = copy.deepcopy(data)
    whole = Address(address)
    act = ACTIONS.get(whole.last)
    if whole == "name":
        changed["name"] = value
    elif whole.is_within("painted") and whole != "painted":
        paint(changed, whole, f"{address.partition('.')[2]}; {value}", bare)
    elif whole.last == "bars" and whole.parent.last in AXES:
        divisions.set_all_bars(changed, whole.parent, value, bare)
    elif act and _acts(whole):
        act(changed, whole.parent, value, bare)
    else:
        put(changed, whole, value, bare)
    if whole.is_within(points.NODES):
        points.follow_path(data, changed)
    return changed


def _acts(address: Address) -> bool:
    """Some actions share their word with a plain value: a ring's count, an edge's kind."""
    holder = address.parent.last
    return {"kind": holder in ("fill", "outline"), "count": holder in AXES}.get(address.last, True)


def with_opened(data: Data, percent: float) -> Data:
    """The document with every sash opened as far, 0 to 100."""
    changed = copy.deepcopy(data)
    for fill in divisions.fills_in(changed):
        if "opened" in fill:
            fill["opened"] = percent
            for one in fill.get("each", {}).values():
                one["opened"] = None
    return changed
