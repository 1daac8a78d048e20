"""Changes to a unit document, as somebody makes them on the drawing: pure functions from JSON data to JSON data."""

from __future__ import annotations

import copy

from ashfell.core.document import Data, place, read, typed_length
from ashfell.core.lengths import Unit, exact, parse
from ashfell.core.refusal import Refusal
from ashfell.core.unit.document import Axis, UnitDocument
from ashfell.core.unit.solve import divide_axis

AXES: tuple[Axis, Axis] = ("columns", "rows")
NOT_LENGTHS = ("name", "columns.rule", "rows.rule", "bars.through")
MAY_BE_EMPTY = ("bars.depth", "glazing.bar_cover")
MOST_LIGHTS = 60


def change(data: Data, entry: str, value: str, bare: Unit = "mm") -> Data:
    """One entry changed.

    Parameters
    ----------
    data : dict
        A valid unit document.
    entry : str
        Dotted path, e.g. ``"frame.face"``; or ``"columns.count"`` for how many lights, ``"columns.bars"`` for the face of
        all bars at once, ``"columns.lights.2.locked"`` to lock a light at its size or let it share again,
        ``"columns.bars.1.shift"`` to move a bar (the lights beside it take it up), ``"columns.equal"`` to let all lights
        share alike, ``"columns.mirrored"`` to turn the order round.
    value : str
        What was typed; a light's empty size lets it share what is left.
    bare : Unit
        The unit of a number typed without one.

    Raises
    ------
    Refusal
        When the value cannot be read or the entry does not exist. Whether the unit can then be built is for ``solve``.
    """
    changed = copy.deepcopy(data)
    axis, _, rest = entry.partition(".")
    if axis in AXES and rest == "count":
        _set_count(changed[axis], axis, value, changed["frame"]["face"])
    elif axis in AXES and rest == "bars":
        changed[axis]["bars"] = [typed_length(entry, value, bare)] * len(changed[axis]["bars"])
    elif axis in AXES and rest.startswith("lights.") and rest.endswith(".locked"):
        _set_locked(changed, axis, int(rest.split(".")[1]))
    elif axis in AXES and rest.startswith("bars.") and rest.endswith(".shift"):
        _shift(changed, axis, int(rest.split(".")[1]), typed_length(entry, value, bare))
    elif axis in AXES and rest == "equal":
        changed[axis]["lights"] = [{"size": None, "share": 1} for _ in changed[axis]["lights"]]
    elif axis in AXES and rest == "mirrored":
        changed[axis] |= {name: changed[axis][name][::-1] for name in ("lights", "bars")}
    elif axis in AXES and rest.startswith("lights.") and rest.endswith(".size") and not value.strip():
        place(changed, entry, None)
    elif entry in NOT_LENGTHS or axis == "finishes":
        place(changed, entry, value)
    elif entry in MAY_BE_EMPTY and not value.strip():
        place(changed, entry, None)
    else:
        place(changed, entry, typed_length(entry, value, bare))
    return changed


def _set_count(division: Data, axis: str, value: str, face: str) -> None:
    """More or fewer lights; a first bar is as wide as the frame."""
    entry = f"{axis}.count"
    try:
        count = int(value)
    except ValueError as error:
        raise Refusal(entry, "a whole number", f"“{value}” is not a number of lights.", "Type 1, 2, 3 …") from error
    if not 1 <= count <= MOST_LIGHTS:
        raise Refusal(entry, "1 to 60 lights", f"{count} lights cannot be laid out.", f"Type 1 to {MOST_LIGHTS}.")
    lights, bars = division["lights"], division["bars"]
    bar = bars[-1] if bars else face
    division["lights"] = (lights + [{"size": None, "share": 1}] * count)[:count]
    division["bars"] = (bars + [bar] * count)[: count - 1]


def _set_locked(data: Data, axis: Axis, index: int) -> None:
    light = data[axis]["lights"][index]
    if light["size"] is None:
        light["size"] = exact(divide_axis(read(UnitDocument, data), axis).lights[index].size)
    else:
        light["size"] = None


def _shift(data: Data, axis: Axis, index: int, by: str) -> None:
    """Move a bar: the light before it grows and the one behind it shrinks, and both keep those sizes; but one light of
    the division always goes on sharing, so that the unit can still be given another size."""
    lights = divide_axis(read(UnitDocument, data), axis).lights
    if not 0 <= index < len(lights) - 1:
        raise Refusal(f"{axis}.bars.{index}", "a known entry", f"There is no bar {index + 1} to move.")
    move = parse(by)
    entries = data[axis]["lights"]
    entries[index]["size"] = exact(lights[index].size + move)
    others = [entry for at, entry in enumerate(entries) if at not in (index, index + 1)]
    free = any(entry["size"] is None for entry in others)
    entries[index + 1]["size"] = exact(lights[index + 1].size - move) if free else None
