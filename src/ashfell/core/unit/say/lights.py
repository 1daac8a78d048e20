"""Sentences of the light that is looked at: what fills it, and what can be done to it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ashfell.core.base.address import Address, entry_below
from ashfell.core.base.lengths import named
from ashfell.core.kinds.filling import FILLINGS
from ashfell.core.unit import Unit
from ashfell.core.unit.document.cell import Cell
from ashfell.core.unit.layout import CellLayout, Light
from ashfell.core.unit.say.writer import Action, Writer, list_actions


def say_light(w: Writer, unit: Unit, at: str, light: Light | None, shown: CellLayout) -> None:
    """The light that is looked at, and what fills it."""
    cell: Cell = light_cell(unit, at) or shown.cell
    path = entry_below(at, "fill")
    if light is None:
        if not at:
            return
        _merging(w, at, cell)
        return
    around = "as around it" if at else "fixed glass"
    said = cell.fill.kind if cell.fill else ""
    options = ({"": around} if at else {}) | {key: record.choice for key, record in FILLINGS.items()}
    size = f"{named(light.clear.width, w.style)} by {named(light.clear.height, w.style)} clear"
    title = f"Light {light.key}," if at else "The light,"
    w.say(
        path,
        title,
        size,
        ", holds",
        w.choice(f"{path}.kind", said if at else (said or "glass"), options, "Filling"),
        ".",
        *_light_actions(at, cell),
    )
    order = tuple(_ordering(at, shown))
    if order:
        w.say(f"{at}.place", *order, nested=True)
    say = light.filling.say
    w.about = path
    if say and (said or not at):
        say(w, path, light)
    elif say:
        give = Action(
            f"{path}.kind", "Give it sizes of its own", "Give this light a filling of its own", light.fill.kind
        )
        w.say(f"{path}.own", give, nested=True)
    w.about = ""
    for index, bar in enumerate(cell.angled):
        own = f"{entry_below(at, 'angled')}.{index}"
        w.say(
            own,
            "Angled bar",
            w.length(f"{own}.face", bar.face, f"Face of angled bar {index + 1}"),
            "wide, from",
            w.length(f"{own}.x1", bar.x1, f"Start across of angled bar {index + 1}"),
            ",",
            w.length(f"{own}.y1", bar.y1, f"Start up of angled bar {index + 1}"),
            "to",
            w.length(f"{own}.x2", bar.x2, f"End across of angled bar {index + 1}"),
            ",",
            w.length(f"{own}.y2", bar.y2, f"End up of angled bar {index + 1}"),
            ", bulging",
            w.number(f"{own}.bulge", bar.bulge, f"Bulge of angled bar {index + 1}"),
            ".",
            list_actions(own, f"angled bar {index + 1}"),
            nested=True,
        )


def light_cell(unit: Unit, at: str) -> Cell | None:
    """The cell a path stands for, where the document says one."""
    here: Any = unit.document
    for step in at.split(".") if at else ():
        here = here.get(step) if isinstance(here, dict) else getattr(here, step, None)
        if here is None:
            return Cell()
    return here if isinstance(here, Cell) else None


def _light_actions(at: str, cell: Cell) -> Iterator[Action]:
    split, angled = entry_below(at, "split"), entry_below(at, "angled.added")
    yield Action(split, "Split across", "Split this light side by side", "columns")
    yield Action(split, "Split up", "Split this light one above the other", "rows")
    yield Action(angled, "Angled bar", "Add an angled bar to this light")
    if Address(at).of_cell():
        yield Action(f"{at}.merged", "Merge right", "Merge with the light to the right", "right")
        yield Action(f"{at}.merged", "Merge up", "Merge with the light above", "up")
        if cell.span != (1, 1):
            yield Action(f"{at}.merged", "Part again", "Part the merged light again", "none")
        for value, words in (("row", "Copy along row"), ("column", "Copy along column"), ("all", "Copy to all")):
            yield Action(f"{at}.fill.copied", words, f"{words} of lights", value)
        yield Action(f"{at}.cleared", "Reset", "Make this light like the others again")


def _ordering(at: str, shown: CellLayout) -> Iterator[str | Action]:
    """A light's column and row moved, copied or taken away."""
    found = Address(at).of_cell()
    if found is None:
        return
    for axis, number, back, on in (("columns", found.place[0], "←", "→"), ("rows", found.place[1], "↓", "↑")):
        count = len(getattr(shown.cell, axis).lights)
        if count < 2:
            continue
        word, path = axis.rstrip("s"), f"{entry_below(shown.path, axis)}.lights.{number - 1}"
        yield f"{word.capitalize()} {number} of {count}"
        if number > 1:
            yield Action(f"{path}.raised", back, f"Move {word} {number} back")
        if number < count:
            yield Action(f"{path}.lowered", on, f"Move {word} {number} on")
        yield Action(f"{path}.duplicated", "Copy", f"Duplicate {word} {number}")
        yield Action(f"{path}.removed", "×", f"Remove {word} {number}")


def _merging(w: Writer, at: str, cell: Cell) -> None:
    actions = [action for action in _light_actions(at, cell) if action.words in ("Part again", "Reset")]
    if actions:
        w.say(f"{at}.cell", "This light is divided.", *actions)
