"""Changes to divisions: how many lights, locked, moved, equal, mirrored."""

from __future__ import annotations

import copy
from collections.abc import Iterator
from fractions import Fraction
from typing import Literal

from ashfell.core.base.address import Address, OfDivision, cell_key, cell_place
from ashfell.core.base.document import Data, read, typed_length
from ashfell.core.base.lengths import Unit, exact, parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import Piece, Spacing
from ashfell.core.unit.document.members import AXES, Axis
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.edit.place import at, number, unknown
from ashfell.core.unit.solve.unit import laid_out

MOST_LIGHTS = 60
MUNTINS = "muntins"


def fills_in(cell: Data) -> Iterator[Data]:
    """Every filling in a cell, however deep."""
    if cell.get("fill"):
        yield cell["fill"]
        if "content" in cell["fill"]:
            yield from fills_in(cell["fill"]["content"])
        for one in cell["fill"].get("each", {}).values():
            yield from fills_in(one["content"] or {})
    for inner in cell.get("cells", {}).values():
        yield from fills_in(inner)


def sharing_light() -> Data:
    """A light that shares what is left."""
    return {"size": None, "share": 1}


def new_bar(face: str) -> Data:
    """A bar of a face, all else as the others have it."""
    return {"face": face, "depth": None, "setback": None, "edge": None, "section": None}


def axis_of(address: Address) -> Axis:
    """The axis that an address ends with.

    Raises
    ------
    Refusal
        When it does not.
    """
    if address.last not in AXES:
        raise unknown(address)
    return "columns" if address.last == "columns" else "rows"


def set_count(data: Data, address: Address, value: str, bare: Unit) -> None:
    """More or fewer lights; a first bar is as wide as the frame, or as muntins are."""
    axis, entry, text = axis_of(address), address / "count", value.strip()
    if not text.lstrip("-").isdigit():
        raise Refusal(entry, "a whole number", f"“{value}” is not a number of lights.", "Type 1, 2, 3 …")
    count = number(entry, text, whole=True)
    if not 1 <= count <= MOST_LIGHTS:
        raise Refusal(entry, "1 to 60 lights", f"{count} lights cannot be laid out.", f"Type 1 to {MOST_LIGHTS}.")
    owner = at(data, address.parent)
    lights, bars = owner[axis]["lights"], owner[axis]["bars"]
    face = owner["width"] if address.parent.last == MUNTINS else data["frame"]["face"]
    bar = bars[-1] if bars else new_bar(face)
    owner[axis]["lights"] = (lights + [sharing_light() for _ in range(count)])[:count]
    owner[axis]["bars"] = [copy.deepcopy(one) for one in (bars + [bar] * count)[: count - 1]]
    _drop_lost_cells(owner)


def _drop_lost_cells(owner: Data) -> None:
    """Cells beyond the last column or row are taken away, and spans end there. What is said of the one light that may
    be left is said of the whole."""
    across, up = len(owner["columns"]["lights"]), len(owner["rows"]["lights"])
    for key in list(owner.get("cells", {})):
        i, j = place_of(key)
        cell = owner["cells"][key]
        if i > across or j > up:
            del owner["cells"][key]
        else:
            cell["span"] = [min(cell["span"][0], across - i + 1), min(cell["span"][1], up - j + 1)]
    if across == up == 1 and owner.get("cells"):
        last = owner["cells"].pop("c1r1")
        divided = any(len(last[axis]["lights"]) > 1 for axis in AXES)
        owner |= {name: last[name] for name in ("columns", "rows", "bars", "cells", "angled") if divided}
        owner["fill"] = last["fill"] or owner["fill"]


def place_of(key: str) -> tuple[int, int]:
    """Column and row of a light's key.

    Raises
    ------
    Refusal
        When it is none.
    """
    place = cell_place(key)
    if place is None:
        raise unknown(key)
    return place


def set_all_bars(data: Data, address: Address, value: str, bare: Unit) -> None:
    """One face for all bars of a division."""
    text = typed_length(address / "bars", value, bare)
    division = at(data, address)
    division["bars"] = [bar | {"face": text} for bar in division["bars"]]


def _spacing(data: Data, holder: Address, axis: Axis) -> Spacing:
    """How a cell or a grid of muntins is divided now."""
    layout = laid_out(read(UnitDocument, data))
    if holder.last == MUNTINS:
        grid = next((light.content.grid for light in layout.lights if light.entry == holder.parent), None)
    else:
        grid = layout.cells.get(holder)
    if grid is None:
        raise unknown(holder)
    return grid.spacing(axis)


def _division(address: Address, part: Literal["lights", "bars"]) -> OfDivision:
    found = address.of_division(part)
    if found is None:
        raise unknown(address)
    return found


def lock(data: Data, address: Address, value: str, bare: Unit) -> None:
    """Lock a light at the size it has, or let it share again."""
    holder, axis, index = _division(address, "lights")
    light = at(data, address)
    light["size"] = exact(_spacing(data, holder, axis).lights[index].size) if light["size"] is None else None


def _no_bar(address: Address, index: int) -> Refusal:
    return Refusal(address, "a known entry", f"There is no bar {index + 1} to move.")


def shift(data: Data, address: Address, value: str, bare: Unit) -> None:
    """Move a bar by a length."""
    holder, axis, index = _division(address, "bars")
    lights = _spacing(data, holder, axis).lights
    if index >= len(lights) - 1:
        raise _no_bar(address, index)
    _move(data, holder, axis, index, parse(typed_length(address / "shift", value, bare)), clear_sizes(lights))


def clear_sizes(lights: tuple[Piece, ...]) -> list[Fraction]:
    """The clear sizes of lights, mm."""
    return [light.size for light in lights]


def _move(data: Data, holder: Address, axis: Axis, index: int, by: Fraction, sizes: list[Fraction]) -> None:
    """The light before a bar grows and the one behind it shrinks, and both keep those sizes; but one light of the
    division always goes on sharing, so that the unit can still be given another size."""
    entries = at(data, holder / f"{axis}.lights")
    entries[index]["size"] = exact(sizes[index] + by)
    others = [entry for k, entry in enumerate(entries) if k not in (index, index + 1)]
    free = any(entry["size"] is None for entry in others)
    entries[index + 1]["size"] = exact(sizes[index + 1] - by) if free else None


def set_centres(data: Data, address: Address, value: str, bare: Unit) -> None:
    """The distance from the centre of the bar (or the clear edge) before a light to that behind it: the bar behind it
    moves, behind the last light the one before."""
    holder, axis, index = _division(address, "lights")
    spacing = _spacing(data, holder, axis)
    if not spacing.bars or index >= len(spacing.lights):
        raise Refusal(address, "a known entry", "There is no bar to move.")
    more = parse(typed_length(address / "centres", value, bare)) - spacing.centre_distances[index]
    bar = min(index, len(spacing.bars) - 1)
    if more:
        _move(data, holder, axis, bar, more if bar == index else -more, clear_sizes(spacing.lights))


def set_running(data: Data, address: Address, value: str, bare: Unit) -> None:
    """Where a bar's centre is from the outer edge: the bar moves."""
    holder, axis, index = _division(address, "bars")
    spacing = _spacing(data, holder, axis)
    if index >= len(spacing.bars):
        raise _no_bar(address, index)
    by = parse(typed_length(address / "running", value, bare)) - spacing.bars[index].centre
    if by:
        _move(data, holder, axis, index, by, clear_sizes(spacing.lights))


def equalise(data: Data, address: Address, value: str, bare: Unit) -> None:
    """All lights share alike."""
    division = at(data, address)
    division["lights"] = [sharing_light() for _ in division["lights"]]


def mirror(data: Data, address: Address, value: str, bare: Unit) -> None:
    """The order of lights and bars turned round, and what fills them with it."""
    axis = axis_of(address)
    owner, which = at(data, address.parent), AXES.index(axis)
    division = owner[axis]
    division |= {name: division[name][::-1] for name in ("lights", "bars")}
    count = len(division["lights"])
    moved = {}
    for key, cell in owner.get("cells", {}).items():
        place = list(place_of(key))
        place[which] = count - place[which] - cell["span"][which] + 2
        moved[cell_key(place[0], place[1])] = _handed(cell) if which == 0 else cell
    if "cells" in owner:
        owner["cells"] = moved


def _handed(cell: Data) -> Data:
    """A cell as its mirror image: sashes are hung on the other side."""
    turned = copy.deepcopy(cell)
    for fill in fills_in(turned):
        if "hand" in fill:
            fill["hand"] = "right" if fill["hand"] == "left" else "left"
    return turned
