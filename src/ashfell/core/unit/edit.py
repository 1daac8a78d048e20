"""Changes to a unit document, as somebody makes them on the drawing: pure functions from JSON data to JSON data.

An entry is a dotted path into the document. Where its last word is one of :data:`ACTIONS` it does something to what stands
there; else it names one value, which is read as what the document's schema says it is.
"""

from __future__ import annotations

import copy
import json
import re
from collections.abc import Callable
from fractions import Fraction
from math import atan, tan
from types import NoneType, UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from pydantic import BaseModel

from ashfell.core.base.document import Data, dump, read, typed_length
from ashfell.core.base.lengths import Length, Unit, exact, parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import Spacing
from ashfell.core.kinds.fillings.glass import Glass
from ashfell.core.kinds.fillings.louvres import Louvres
from ashfell.core.kinds.fillings.muntins import muntin_spacing
from ashfell.core.kinds.fillings.open import Open
from ashfell.core.kinds.fillings.panel import Panel
from ashfell.core.kinds.fillings.sash import Sash
from ashfell.core.kinds.fillings.sliders import Sliders
from ashfell.core.plane.outline import Outline
from ashfell.core.plane.segment import Segment
from ashfell.core.solid.section import Edge, drawn
from ashfell.core.unit.document.cell import Cell
from ashfell.core.unit.document.members import AXES, AngledBar, Axis, ExtraRing
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.layout import entry_below
from ashfell.core.unit.outlines import Head, Path, Polygonal, Rectangle, Round
from ashfell.core.unit.solve.unit import solve

MOST_LIGHTS = 60
FILLS: dict[str, type[BaseModel]] = {
    "glass": Glass, "sash": Sash, "sliders": Sliders, "panel": Panel, "louvres": Louvres, "open": Open,
}  # fmt: skip
NEW_ITEM: dict[str, Callable[[], Data]] = {
    "rings": lambda: dump(ExtraRing()),
    "angled": lambda: dump(AngledBar.model_validate({"x1": "0", "y1": "0", "x2": "400", "y2": "400"})),
    "circles": lambda: "200",  # type: ignore[dict-item, return-value]
    "corners": lambda: {"kind": "square", "size": "0"},
    "tags": lambda: "tag",  # type: ignore[dict-item, return-value]
}


def change(data: Data, entry: str, value: str, bare: Unit = "mm") -> Data:
    """One entry changed.

    Parameters
    ----------
    data : dict
        A valid unit document.
    entry : str
        Dotted path, e.g. ``"frame.face"``, ``"cells.c2r1.columns.lights.0.size"``; or a path whose last word acts:
        ``"columns.count"`` how many lights, ``"columns.bars"`` the face of all bars, ``"columns.lights.2.locked"`` to lock a
        light at its size or let it share again, ``"columns.bars.1.shift"`` to move a bar (the lights beside it take it up),
        ``"columns.lights.1.centres"`` and ``"columns.bars.1.running"`` to move one by typing over a distance of centres or a
        running size, ``"columns.equal"`` to let all lights share alike, ``"columns.mirrored"`` to turn the order round,
        ``"cells.c1r1.fill.kind"`` for another filling, ``".fill.copied"`` to give it to ``row``, ``column`` or ``all``,
        ``".split"`` into ``columns`` or ``rows``, ``".merged"`` with the light to its ``right`` or ``up``,
        ``".cleared"`` to make a light like the others again; ``".added"``, ``".removed"``, ``".raised"``, ``".lowered"``,
        ``".duplicated"`` for lists; ``".section.drawn"`` to begin a section of one's own from what is there, ``".halved"`` for
        a new point behind another, ``".placed"`` to move one to ``"x; y"``.
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
    path, _, last = entry.rpartition(".")
    act = ACTIONS.get(last)
    if entry == "name":
        changed["name"] = value
    elif last == "bars" and path.rpartition(".")[2] in AXES:
        _set_all_bars(changed, path, value, bare)
    elif act and _acts(last, path.rpartition(".")[2]):
        act(changed, path, value, bare)
    else:
        _set(changed, entry, value, bare)
    if entry.startswith("outline.nodes"):
        _follow_path(data, changed)
    return changed


def _follow_path(data: Data, changed: Data) -> None:
    """The overall size follows a free path whose nodes are changed, in the scale it has."""
    before, now = (
        Outline.of([(float(parse(str(n["x"]))), float(parse(str(n["y"]))), float(n.get("bulge", 0))) for n in one["outline"]["nodes"]]).bounds
        for one in (data, changed)
    )  # fmt: skip
    for k, size in enumerate(("width", "height")):
        if abs((now[k + 2] - now[k]) - (before[k + 2] - before[k])) > 1e-9:
            share = (now[k + 2] - now[k]) / (before[k + 2] - before[k])
            changed[size] = f"{float(parse(str(data[size]))) * share:.10g}"


def _acts(action: str, holder: str) -> bool:
    """Some actions share their word with a plain value: a ring's count, an edge's kind."""
    return {"kind": holder in ("fill", "outline"), "count": holder in AXES}.get(action, True)


def with_opened(data: Data, percent: float) -> Data:
    """The document with every sash opened as far."""
    changed = copy.deepcopy(data)
    for fill in _fills(changed):
        if "opened" in fill:
            fill["opened"] = percent
    return changed


def _fills(cell: Data) -> list[Data]:
    """Every filling in a cell, however deep."""
    found = [cell["fill"]] if cell.get("fill") else []
    inner = [fill["content"] for fill in found if "content" in fill]
    return [*found, *(fill for one in [*inner, *cell.get("cells", {}).values()] for fill in _fills(one))]


# --- finding a place --------------------------------------------------------------------------------------------------


def _unknown(entry: str) -> Refusal:
    return Refusal(entry, "a known entry", f"There is no entry “{entry}”.")


def at(data: Data, path: str, make: bool = True) -> Any:
    """What stands at a dotted path; a cell that is not there yet is made."""
    here: Any = data
    for step in path.split(".") if path else ():
        try:
            if isinstance(here, list):
                here = here[int(step)]
                continue
            if step not in here and re.fullmatch(r"c\d{1,2}r\d{1,2}", step) and make:
                here[step] = dump(Cell())
            if step == "fill" and here.get("fill") is None and make:
                here["fill"] = dump(Glass())
            if step == "glazing" and here.get("glazing") is None and make:
                here["glazing"] = copy.deepcopy(data["glazing"])
            here = here[step]
        except (KeyError, IndexError, ValueError, TypeError) as error:
            raise _unknown(path) from error
    return here


def _set(data: Data, entry: str, value: str, bare: Unit) -> None:
    """One value, read as what the schema says stands there."""
    path, _, last = entry.rpartition(".")
    if not last:
        raise _unknown(entry)
    holder = at(data, path)
    kind = _kind_at(data, entry)
    if isinstance(holder, list):
        if not last.isdigit() or int(last) >= len(holder):
            raise _unknown(entry)
        holder[int(last)] = _read(entry, value, kind, bare)
        return
    if not isinstance(holder, dict):
        raise _unknown(entry)
    read_value = _read(entry, value, kind, bare)
    if read_value is None and _is_table(_kind_at(data, path)):
        holder.pop(last, None)
    else:
        holder[last] = read_value


def _is_table(kind: Any) -> bool:
    return any(get_origin(option) is dict for option in _options(kind))


def _options(kind: Any) -> list[Any]:
    """What a field's type may be, unions and annotations taken apart."""
    if get_origin(kind) is Annotated:
        return _options(get_args(kind)[0])
    if get_origin(kind) in (Union, UnionType):
        return [option for part in get_args(kind) for option in _options(part)]
    return [kind]


def _kind_at(data: Data, path: str) -> Any:
    """The type of what stands at a path, from the models."""
    kind: Any = UnitDocument
    here: Any = data
    for step in path.split(".") if path else ():
        kind = _step_kind(kind, step, here, path)
        try:
            here = here[int(step)] if isinstance(here, list) else here.get(step) if isinstance(here, dict) else None
        except (IndexError, ValueError) as error:
            raise _unknown(path) from error
    return kind


def _step_kind(kind: Any, step: str, here: Any, path: str) -> Any:
    for option in _options(kind):
        origin = get_origin(option)
        if origin is dict:
            return get_args(option)[1]
        if origin is tuple:
            return get_args(option)[0]
        if isinstance(option, type) and issubclass(option, BaseModel):
            tag = here.get("kind") if isinstance(here, dict) else None
            field = option.model_fields.get(step)
            told = option.model_fields.get("kind")
            fits = tag is None or told is None or tag in get_args(told.annotation)
            if field is not None and fits:
                return Annotated[field.annotation, *field.metadata] if field.metadata else field.annotation
    raise _unknown(path)


def _read(entry: str, value: str, kind: Any, bare: Unit) -> Any:
    """A typed value as JSON data of a kind."""
    options, text = _options(kind), value.strip()
    if not text and NoneType in options:
        return None
    for option in options:
        if option is Length:
            return typed_length(entry, value, bare)
        if option is bool:
            return text in ("1", "true", "yes", "on")
        if option is int or option is float or option is Fraction:
            return _number(entry, text, whole=option is int, share=option is Fraction)
        if get_origin(option) is Literal:
            if text in get_args(option):
                return text
            raise Refusal(
                entry, "one of a list", f"“{text}” is not one of {', '.join(get_args(option))}.", "Choose one of them."
            )
        if isinstance(option, type) and issubclass(option, BaseModel) and text in ("1", "yes", "on"):
            return dump(option())
        if option is str:
            return text
    if text[:1] in "[{" and text:
        return _json(entry, text)
    raise Refusal(entry, "a value", f"“{text}” cannot stand here.", "Change one of its parts.")


def _number(entry: str, text: str, whole: bool, share: bool) -> Any:
    try:
        if share:
            value = Fraction(text)
            return int(value) if value.denominator == 1 else str(value)
        return int(text) if whole else float(text.removesuffix("°").removesuffix("%"))
    except (ValueError, ZeroDivisionError) as error:
        what = "a whole number" if whole else "a number"
        raise Refusal(
            entry, what, f"“{text}” is not {what}.", "Type 1, 2, 3 …" if whole else "Type a number, for example 12.5."
        ) from error


def _json(entry: str, text: str) -> Any:
    try:
        return json.loads(text)
    except ValueError as error:
        raise Refusal(entry, "a value", "This cannot be read.", "Put the points as [[x, y], …].") from error


# --- divisions --------------------------------------------------------------------------------------------------------


def _count(data: Data, path: str, value: str, bare: Unit) -> None:
    """More or fewer lights; a first bar is as wide as the frame, or as muntins are."""
    holder, _, axis = path.rpartition(".")
    _axis_or_unknown(axis, path)
    entry = f"{path}.count"
    count = _number(entry, value.strip(), whole=True, share=False) if value.strip().lstrip("-").isdigit() else None
    if count is None:
        raise Refusal(entry, "a whole number", f"“{value}” is not a number of lights.", "Type 1, 2, 3 …")
    if not 1 <= count <= MOST_LIGHTS:
        raise Refusal(entry, "1 to 60 lights", f"{count} lights cannot be laid out.", f"Type 1 to {MOST_LIGHTS}.")
    owner = at(data, holder)
    lights, bars = owner[axis]["lights"], owner[axis]["bars"]
    face = owner["width"] if holder.endswith("muntins") else data["frame"]["face"]
    bar = bars[-1] if bars else _bar(face)
    owner[axis]["lights"] = (lights + [_sharing() for _ in range(count)])[:count]
    owner[axis]["bars"] = [copy.deepcopy(b) for b in (bars + [bar] * count)[: count - 1]]
    _drop_lost_cells(owner)


def _sharing() -> Data:
    return {"size": None, "share": 1}


def _bar(face: str) -> Data:
    return {"face": face, "depth": None, "setback": None, "edge": None, "section": None}


def _drop_lost_cells(owner: Data) -> None:
    """Cells beyond the last column or row are taken away, and spans end there."""
    across, up = len(owner["columns"]["lights"]), len(owner["rows"]["lights"])
    for key in list(owner.get("cells", {})):
        i, j = _place(key)
        cell = owner["cells"][key]
        if i > across or j > up:
            del owner["cells"][key]
        else:
            cell["span"] = [min(cell["span"][0], across - i + 1), min(cell["span"][1], up - j + 1)]


def _place(key: str) -> tuple[int, int]:
    column, row = key[1:].split("r")
    return int(column), int(row)


def _axis_or_unknown(axis: str, path: str) -> None:
    if axis not in AXES:
        raise _unknown(path)


def _set_all_bars(data: Data, path: str, value: str, bare: Unit) -> None:
    text = typed_length(f"{path}.bars", value, bare)
    division = at(data, path)
    division["bars"] = [bar | {"face": text} for bar in division["bars"]]


def _spacing(data: Data, holder: str, axis: Axis) -> Spacing:
    """How a cell or a grid of muntins is divided now."""
    layout = solve(read(UnitDocument, data))
    if holder.endswith("fill.muntins"):
        light = next((one for one in layout.lights if f"{one.entry}.muntins" == holder), None)
        if light is None:
            raise _unknown(holder)
        return muntin_spacing(light, axis)
    if holder not in layout.fields:
        raise _unknown(holder)
    return layout.fields[holder].spacing(axis)


def _division_of(path: str, part: str) -> tuple[str, Axis, int]:
    """Cell, axis and index of ``...columns.lights.2`` or ``...rows.bars.0``."""
    match = re.fullmatch(rf"(?:(.*)\.)?(columns|rows)\.{part}\.(\d+)", path)
    if match is None:
        raise _unknown(path)
    return match[1] or "", "columns" if match[2] == "columns" else "rows", int(match[3])


def _lock(data: Data, path: str, value: str, bare: Unit) -> None:
    holder, axis, index = _division_of(path, "lights")
    light = at(data, path)
    light["size"] = exact(_spacing(data, holder, axis).lights[index].size) if light["size"] is None else None


def _shift(data: Data, path: str, value: str, bare: Unit) -> None:
    """Move a bar: the light before it grows and the one behind it shrinks, and both keep those sizes; but one light of
    the division always goes on sharing, so that the unit can still be given another size."""
    holder, axis, index = _division_of(path, "bars")
    lights = _spacing(data, holder, axis).lights
    if not 0 <= index < len(lights) - 1:
        raise Refusal(path, "a known entry", f"There is no bar {index + 1} to move.")
    move = parse(typed_length(f"{path}.shift", value, bare))
    entries = at(data, entry_below(holder, f"{axis}.lights"))
    entries[index]["size"] = exact(lights[index].size + move)
    others = [entry for k, entry in enumerate(entries) if k not in (index, index + 1)]
    free = any(entry["size"] is None for entry in others)
    entries[index + 1]["size"] = exact(lights[index + 1].size - move) if free else None


def _centres(data: Data, path: str, value: str, bare: Unit) -> None:
    """The distance from the centre of the bar (or the clear edge) before a light to that behind it: the bar behind it moves,
    behind the last light the one before."""
    holder, axis, index = _division_of(path, "lights")
    spacing = _spacing(data, holder, axis)
    if not spacing.bars or index >= len(spacing.lights):
        raise Refusal(path, "a known entry", "There is no bar to move.")
    more = parse(typed_length(f"{path}.centres", value, bare)) - spacing.centre_distances[index]
    bar = min(index, len(spacing.bars) - 1)
    _move_bar(data, holder, axis, bar, more if bar == index else -more)


def _running(data: Data, path: str, value: str, bare: Unit) -> None:
    """Where a bar's centre is from the outer edge: the bar moves."""
    holder, axis, index = _division_of(path, "bars")
    bars = _spacing(data, holder, axis).bars
    if index >= len(bars):
        raise Refusal(path, "a known entry", f"There is no bar {index + 1} to move.")
    _move_bar(data, holder, axis, index, parse(typed_length(f"{path}.running", value, bare)) - bars[index].centre)


def _move_bar(data: Data, holder: str, axis: Axis, index: int, by: Fraction) -> None:
    if by:
        _shift(data, entry_below(holder, f"{axis}.bars.{index}"), exact(by), "mm")


def _equal(data: Data, path: str, value: str, bare: Unit) -> None:
    division = at(data, path)
    division["lights"] = [_sharing() for _ in division["lights"]]


def _mirror(data: Data, path: str, value: str, bare: Unit) -> None:
    """The order of lights and bars turned round, and what fills them with it."""
    holder, _, axis = path.rpartition(".")
    _axis_or_unknown(axis, path)
    owner, which = at(data, holder), AXES.index(axis)
    division = owner[axis]
    division |= {name: division[name][::-1] for name in ("lights", "bars")}
    count = len(division["lights"])
    moved = {}
    for key, cell in owner.get("cells", {}).items():
        place = list(_place(key))
        place[which] = count - place[which] - cell["span"][which] + 2
        moved[f"c{place[0]}r{place[1]}"] = _handed(cell) if which == 0 else cell
    if "cells" in owner:
        owner["cells"] = moved


def _handed(cell: Data) -> Data:
    """A cell as its mirror image: sashes are hung on the other side."""
    turned = copy.deepcopy(cell)
    for fill in _fills(turned):
        if "hand" in fill:
            fill["hand"] = "right" if fill["hand"] == "left" else "left"
    return turned


# --- lights -----------------------------------------------------------------------------------------------------------


def _fill_kind(data: Data, path: str, value: str, bare: Unit) -> None:
    """Another filling with its usual sizes, or another kind of outline; an empty one is that of the cell around it."""
    if path.rpartition(".")[2] == "outline":
        _outline_kind(data, path, value)
        return
    holder, last = path.rpartition(".")[0], path.rpartition(".")[2]
    kind = FILLS.get(value)
    if value and kind is None:
        raise Refusal(f"{path}.kind", "a known filling", f"“{value}” is no filling.", f"Choose {', '.join(FILLS)}.")
    cell = at(data, holder)
    cell[last] = dump(kind.model_validate({"kind": value})) if kind else None
    if value in ("sash", "sliders"):
        _fit_sash(data, cell[last])


THINNER = ("", "20", "16", "10", "6")
"""Glass that a new sash tries in turn, mm; the first is the unit's own."""


def _fit_sash(data: Data, fill: Data) -> None:
    """Sizes for a new sash with which it fits its frame: as deep as its glass needs, with thinner glass of its own if the
    frame is too shallow for that. Where nothing fits it stays as it is, and is refused with the reason."""
    usual = copy.deepcopy(fill)
    for thickness in THINNER:
        glazing = copy.deepcopy(data["glazing"])
        if thickness:
            glazing |= {"thickness": thickness, "setback": "14", "cover": "8", "clearance": "2", "panes": 1}
            glazing["gasket"] = {"thickness": "3", "shows": "1"}
            glazing["bead"] = {"edge": {"kind": "chamfer", "size": "1", "down": None}}
        sizes = [parse(str(glazing[name])) for name in ("setback", "thickness")]
        needed = sum(
            sizes, parse(str(glazing["gasket"]["thickness"])) + parse(str(glazing["bead"]["edge"]["size"])) + 1
        )
        least = (
            max(needed, parse(usual["depth"]))
            if not thickness or (usual["kind"] == "sash" and thickness == THINNER[1])
            else needed
        )
        fill |= usual | {
            "depth": exact(Fraction(-(-least.numerator // least.denominator))),
            "glazing": glazing if thickness else None,
        }
        try:
            solve(read(UnitDocument, data))
        except Refusal:
            continue
        return
    fill |= usual


OUTLINES: dict[str, Callable[[str], BaseModel]] = {
    "rectangle": lambda kind: Rectangle(),
    **dict.fromkeys(("segmental", "semicircular", "three-centred", "elliptical", "pointed", "raked"), lambda kind: Head.model_validate({"kind": kind})),
    **dict.fromkeys(("ellipse", "half-round", "quarter-round", "d"), lambda kind: Round.model_validate({"kind": kind})),
    **dict.fromkeys(("polygon", "star"), lambda kind: Polygonal.model_validate({"kind": kind, "points": 5 if kind == "star" else 6})),
}  # fmt: skip


def _outline_kind(data: Data, path: str, value: str) -> None:
    if value == "path":
        width, height = data["width"], data["height"]
        nodes = [{"x": "0", "y": "0"}, {"x": width, "y": "0"}, {"x": width, "y": height}, {"x": "0", "y": height}]
        data["outline"] = dump(Path.model_validate({"kind": "path", "nodes": nodes}))
        return
    made = OUTLINES.get(value)
    if made is None:
        raise Refusal(
            f"{path}.kind", "a known outline", f"“{value}” is no outline.", f"Choose {', '.join(OUTLINES)} or path."
        )
    data["outline"] = dump(made(value))
    data["frame"]["sides"] = {}


def _copy_fill(data: Data, path: str, value: str, bare: Unit) -> None:
    """A light's filling given to its row, its column or all lights of its cell."""
    match = re.fullmatch(r"(?:(.*)\.)?cells\.(c\d+r\d+)\.fill", path)
    if match is None:
        raise _unknown(f"{path}.copied")
    owner, own = at(data, match[1] or ""), _place(match[2])
    fill = at(data, path.rpartition(".")[0])["fill"]
    for i in range(1, len(owner["columns"]["lights"]) + 1):
        for j in range(1, len(owner["rows"]["lights"]) + 1):
            if value == "all" or (value == "row" and j == own[1]) or (value == "column" and i == own[0]):
                owner["cells"].setdefault(f"c{i}r{j}", dump(Cell()))["fill"] = copy.deepcopy(fill)


def _split(data: Data, path: str, value: str, bare: Unit) -> None:
    """A light parted in two, side by side or one above the other."""
    _axis_or_unknown(value, f"{path}.split")
    cell = at(data, path)
    if len(cell["columns"]["lights"]) > 1 or len(cell["rows"]["lights"]) > 1:
        raise Refusal(
            f"{path}.split", "a whole light", "This light is divided already.", "Change how many lights it has."
        )
    cell[value] |= {"lights": [_sharing(), _sharing()], "bars": [_bar(data["frame"]["face"])]}


def _merge(data: Data, path: str, value: str, bare: Unit) -> None:
    """A light that also takes the place of the next one to the right or above."""
    match = re.fullmatch(r"(?:(.*)\.)?cells\.(c\d+r\d+)", path)
    if match is None:
        raise Refusal(
            f"{path}.merged", "a light among others", "There is no light beside this one.", "Divide the unit first."
        )
    owner, cell = at(data, match[1] or ""), at(data, path)
    i, j = _place(match[2])
    across, up = cell["span"]
    if value == "right":
        across += 1
    elif value == "up":
        up += 1
    else:
        across, up = 1, 1
    if i + across - 1 > len(owner["columns"]["lights"]) or j + up - 1 > len(owner["rows"]["lights"]):
        raise Refusal(
            f"{path}.merged",
            "a light within its cell",
            "There is no light on that side.",
            "Merge towards the other side.",
        )
    cell["span"] = [across, up]
    for key in list(owner["cells"]):
        a, b = _place(key)
        if key != match[2] and i <= a < i + across and j <= b < j + up:
            del owner["cells"][key]


def _clear(data: Data, path: str, value: str, bare: Unit) -> None:
    holder, _, key = path.rpartition(".")
    at(data, holder).pop(key, None)


# --- lists ------------------------------------------------------------------------------------------------------------


def _add(data: Data, path: str, value: str, bare: Unit) -> None:
    made = NEW_ITEM.get(path.rpartition(".")[2])
    if made is None:
        raise _unknown(path)
    at(data, path).append(value or made() if path.endswith("tags") else made())


def _item(data: Data, path: str) -> tuple[list[Any], int]:
    holder, _, index = path.rpartition(".")
    items = at(data, holder)
    if not isinstance(items, list) or not index.isdigit() or int(index) >= len(items):
        raise _unknown(path)
    return items, int(index)


LIGHT = re.compile(r"(?:(.*)\.)?(columns|rows)\.lights\.(\d+)")
"""A light of a division: with it go what fills it and a bar beside it."""


def _reordered(data: Data, path: str, order: Callable[[int, int], list[int]]) -> bool:
    """A division's lights in another order, told as the old number of each new one; False for any other list."""
    match = LIGHT.fullmatch(path)
    if match is None:
        return False
    owner, axis, index = at(data, match[1] or ""), match[2], int(match[3])
    lights, bars = owner[axis]["lights"], owner[axis]["bars"]
    if index >= len(lights):
        raise _unknown(path)
    new = order(index, len(lights))
    if not 1 <= len(new) <= MOST_LIGHTS:
        raise Refusal(
            path, "1 to 60 lights", f"{len(new)} lights cannot be laid out.", "Leave at least one, and at most 60."
        )
    which = AXES.index(axis)
    cells = owner.get("cells", {})
    if any(cell["span"][which] > 1 for cell in cells.values()):
        raise Refusal(
            path, "single lights", "A light spans over others here.", "Part the merged light first.",
        )  # fmt: skip
    spare = bars[min(index, len(bars) - 1)] if bars else _bar(data["frame"]["face"])
    owner[axis]["lights"] = [copy.deepcopy(lights[k]) for k in new]
    owner[axis]["bars"] = [copy.deepcopy(bar) for bar in (bars + [spare] * len(new))[: len(new) - 1]]
    moved = {}
    for key, cell in cells.items():
        place = list(_place(key))
        for k in (k for k, old in enumerate(new) if old + 1 == place[which]):
            put = [*place[:which], k + 1, *place[which + 1 :]]
            moved[f"c{put[0]}r{put[1]}"] = copy.deepcopy(cell)
    if "cells" in owner:
        owner["cells"] = moved
    return True


def _swapped(index: int, count: int, other: int) -> list[int]:
    new = list(range(count))
    if 0 <= other < count:
        new[index], new[other] = new[other], new[index]
    return new


def _remove(data: Data, path: str, value: str, bare: Unit) -> None:
    if _reordered(data, path, lambda index, count: [k for k in range(count) if k != index]):
        return
    items, index = _item(data, path)
    del items[index]


def _duplicate(data: Data, path: str, value: str, bare: Unit) -> None:
    if _reordered(data, path, lambda index, count: sorted([*range(count), index])):
        return
    items, index = _item(data, path)
    items.insert(index + 1, copy.deepcopy(items[index]))


def _raise(data: Data, path: str, value: str, bare: Unit) -> None:
    if _reordered(data, path, lambda index, count: _swapped(index, count, index - 1)):
        return
    items, index = _item(data, path)
    items.insert(max(0, index - 1), items.pop(index))


POINTS = ("section", "nodes")
"""Lists whose items are points of a closed path."""


def _draw(data: Data, path: str, value: str, bare: Unit) -> None:
    """A section of one's own, begun from the face, depth and worked edges that are there."""
    holder = at(data, path.rpartition(".")[0])
    alike = re.fullmatch(r"(?:(.*)\.)?(?:(?:columns|rows)\.bars\.\d+|bars)\.section", path)
    cell = at(data, alike[1] or "") if alike else {}
    common = cell.get("bars", {})
    faces = [bar["face"] for axis in AXES for bar in cell.get(axis, {}).get("bars", ())]
    face = holder.get("face") or holder.get("width") or (faces or [data["frame"]["face"]])[0]
    depth = parse(str(holder.get("projection") or holder.get("depth") or common.get("depth") or data["frame"]["depth"]))
    edge = read(Edge, holder.get("edge") or common.get("edge") or {"kind": "square"})
    rise = depth if "projection" in holder else Fraction(0)
    holder["section"] = [
        {"x": f"{x:.10g}", "y": f"{w + float(rise):.10g}", "bulge": round(bulge, 9)}
        for x, w, bulge in drawn(edge, float(parse(str(face))), float(depth))
    ]


def _halve(data: Data, path: str, value: str, bare: Unit) -> None:
    """A new point in the middle of what leaves a point, on its arc if it is one."""
    items, index = _points(data, path)
    a, b = items[index], items[(index + 1) % len(items)]
    bulge = float(a.get("bulge", 0.0))
    start, end = ((float(parse(str(p["x"]))), float(parse(str(p["y"])))) for p in (a, b))
    middle = Segment(start, end, bulge).point_at(0.5)
    half = round(tan(atan(bulge) / 2), 9)
    a["bulge"] = half
    items.insert(index + 1, {"x": f"{middle[0]:.10g}", "y": f"{middle[1]:.10g}", "bulge": half})


def _put(data: Data, path: str, value: str, bare: Unit) -> None:
    """A point moved to another place, ``"x; y"``."""
    items, index = _points(data, path)
    placed = value.split(";")
    if len(placed) != 2:
        raise Refusal(f"{path}.placed", "a place", f"“{value}” is no place.", "Give it as x; y.")
    items[index] |= {axis: typed_length(f"{path}.{axis}", text, bare) for axis, text in zip("xy", placed, strict=True)}


def _points(data: Data, path: str) -> tuple[list[Any], int]:
    if path.split(".")[-2:-1] not in ([name] for name in POINTS):
        raise _unknown(path)
    return _item(data, path)


def _lower(data: Data, path: str, value: str, bare: Unit) -> None:
    if _reordered(data, path, lambda index, count: _swapped(index, count, index + 1)):
        return
    items, index = _item(data, path)
    items.insert(index + 1, items.pop(index))


ACTIONS: dict[str, Callable[[Data, str, str, Unit], None]] = {
    "count": _count, "locked": _lock, "shift": _shift, "centres": _centres, "running": _running, "equal": _equal, "mirrored": _mirror,
    "kind": _fill_kind, "copied": _copy_fill, "split": _split, "merged": _merge, "cleared": _clear, "added": _add,
    "removed": _remove, "duplicated": _duplicate, "raised": _raise, "lowered": _lower, "drawn": _draw, "halved": _halve, "placed": _put,
}  # fmt: skip
"""What an entry's last word does to what stands there."""
