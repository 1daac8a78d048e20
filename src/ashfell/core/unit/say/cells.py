"""Sentences of the cell that is looked at: the way to it, its division, its bars, what its lights hold."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from ashfell.core.base.address import entry_below
from ashfell.core.base.lengths import Style, show
from ashfell.core.base.spacing import RULE_NAMES, Rule, Spacing, in_runs
from ashfell.core.unit import Unit
from ashfell.core.unit.document.members import AXES
from ashfell.core.unit.layout import CellLayout
from ashfell.core.unit.say.division import say_division
from ashfell.core.unit.say.writer import Action, Writer

MOST_OWN = 8
"""With more bars than this none is offered sizes of its own in the list; their strip has their faces."""


def crumbs(unit: Unit, at: str) -> Iterator[str | Action]:
    """The way from the unit to what is looked at."""
    yield Action("", "Whole unit", "Look at the whole unit", looks="at")
    steps = at.split(".")
    for k in range(len(steps)):
        path = ".".join(steps[: k + 1])
        if steps[k - 1] == "cells" and k:
            yield "›"
            yield (
                f"light {steps[k]}"
                if path == at
                else Action(path, f"light {steps[k]}", f"Look at light {steps[k]}", looks="at")
            )
        if steps[k] == "content":
            yield "›"
            yield (
                "in its sash" if path == at else Action(path, "in its sash", "Look at what the sash holds", looks="at")
            )


def say_divisions(w: Writer, shown: CellLayout) -> None:
    """How a cell is divided along both axes."""
    for axis, member in zip(AXES, ("mullion", "transom"), strict=True):
        path, spacing = entry_below(shown.path, axis), shown.spacing(axis)
        others = _others(w.style, shown.rules(axis), spacing)
        say_division(w, path, getattr(shown.cell, axis), spacing, axis, member, others)


def _others(style: Style, rules: Mapping[Rule, Spacing], spacing: Spacing) -> tuple[str, ...]:
    """What the other rules would give."""
    found: dict[str, list[str]] = {}
    for rule, other in rules.items():
        sizes = [light.size for light in other.lights]
        if sizes != [light.size for light in spacing.lights]:
            shown = f"{show(sizes[0], style)} each" if len(set(sizes)) == 1 else in_runs(sizes, style)
            found.setdefault(shown, []).append(RULE_NAMES[rule])
    return tuple(f"{' or '.join(rules).capitalize()} would give {sizes}." for sizes, rules in found.items())


def say_bars(w: Writer, shown: CellLayout) -> None:
    """The sentence of the bars of a cell."""
    path, bars = entry_below(shown.path, "bars"), shown.cell.bars
    w.say(
        path,
        "Bars",
        w.length(f"{path}.depth", bars.depth, "Bar depth", "full"),
        "deep, set back",
        w.length(f"{path}.setback", bars.setback, "Bar set-back"),
        ",",
        w.section(path, bars.section, w.edge(f"{path}.edge", bars.edge, "Bar"), "all bars"),
        ";",
        w.choice(
            f"{path}.through", bars.through, {"columns": "mullions", "rows": "transoms"}, "Which bars run through"
        ),
        "run through.",
        about=shown.path,
        about_role="" if shown.path else "bar",
    )
    alike: list[Action] = []
    for axis in AXES:
        for index, bar in enumerate(getattr(shown.cell, axis).bars):
            own = f"{entry_below(shown.path, axis)}.bars.{index}"
            name = f"{'Mullion' if axis == 'columns' else 'Transom'} {index + 1}"
            if bar.depth is None and bar.setback is None and bar.edge is None and bar.section is None:
                alike.append(Action(f"{own}.setback", name, f"Give {name.lower()} sizes of its own", bars.setback.text))
            else:
                edge = (
                    w.edge(f"{own}.edge", bar.edge, name)
                    if bar.edge
                    else (Action(f"{own}.edge", "Own edges", f"Give {name.lower()} edges of its own", "yes"),)
                )
                w.say(
                    own,
                    name,
                    w.length(f"{own}.depth", bar.depth, f"{name} depth", "as the others"),
                    "deep, set back",
                    w.length(f"{own}.setback", bar.setback, f"{name} set-back", "as the others"),
                    ",",
                    w.section(own, bar.section, edge, name.lower()),
                    ".",
                    nested=True,
                )
    if 0 < len(alike) <= MOST_OWN:
        w.say(f"{path}.own", "Sizes of its own for", *alike, nested=True)


def say_lights(w: Writer, unit: Unit, shown: CellLayout) -> None:
    """What each light of a divided cell holds, where they are not all plain glass."""
    lights = [light for light in unit.layout.lights if light.cell == shown.path]
    told = [(light, light.filling.summary(light.fill)) for light in lights]
    if all(words == "fixed glass" for _, words in told) and not shown.cell.cells:
        w.say(f"{shown.path}.cells", "Each light holds fixed glass; pick one to change it.")
        return
    parts: list[Any] = []
    for light, words in told:
        parts.append(
            Action(light.path, f"{light.key.rpartition('.')[2]} {words}", f"Look at light {light.key}", looks="at")
        )
    inner = [key for key, cell in shown.cell.cells.items() if cell.is_divided]
    parts += [
        Action(entry_below(shown.path, f"cells.{key}"), f"{key} divided", f"Look at light {key}", looks="at")
        for key in inner
    ]
    w.say(f"{shown.path}.cells", *parts)
