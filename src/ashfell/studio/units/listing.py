"""The build-up list: the sentences that specify a unit, from outside in, with their values in place.

A sentence is made of words and fields; the page shows each field as what it takes to change it.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any, Literal

from ashfell.core.base.address import entry_below
from ashfell.core.base.lengths import Length, Style, exact, named, show
from ashfell.core.base.spacing import RULE_NAMES, Spacing
from ashfell.core.kinds.fillings.glass import Glass
from ashfell.core.kinds.fillings.louvres import Louvres
from ashfell.core.kinds.fillings.muntins import Muntins, muntin_spacing
from ashfell.core.kinds.fillings.panel import Panel
from ashfell.core.kinds.fillings.sash import KINDS as OPENINGS
from ashfell.core.kinds.fillings.sash import Sash
from ashfell.core.kinds.fillings.sliders import Sliders
from ashfell.core.kinds.outline0 import KINDS as OUTLINES
from ashfell.core.plane.loop import Loop
from ashfell.core.solid.section import EDGES, Edge, OwnSection
from ashfell.core.unit import Unit
from ashfell.core.unit.document.cell import Cell
from ashfell.core.unit.document.members import AXES, Axis, Division
from ashfell.core.unit.document.trim import Sill
from ashfell.core.unit.layout import CellLayout, Layout, Light, Ring
from ashfell.core.unit.members.glazing import covers
from ashfell.core.unit.solve.cell import other_rules
from ashfell.studio.units.sheet import cell_path, field_at

MOST_OWN = 8
"""With more bars than this none is offered sizes of its own in the list; their strip has their faces."""
FILLINGS = {
    "glass": "fixed glass", "sash": "a sash", "sliders": "sliding sashes", "panel": "a panel", "louvres": "louvres", "open": "nothing",
}  # fmt: skip


Options = tuple[tuple[str, str], ...]
"""What can be chosen: keys and their words."""


@dataclass(frozen=True)
class Entry:
    """A value in a sentence: an input for a length or number, or a choice."""

    entry: str
    value: str
    label: str
    kind: Literal["length", "number", "choice", "text"] = "length"
    options: Options = ()
    title: str = ""
    hint: str = ""

    @property
    def size(self) -> int:
        return max(3, len(self.value or self.hint) + 1)


@dataclass(frozen=True)
class Action:
    """Something a press does to the document."""

    entry: str
    words: str
    label: str
    value: str = ""
    looks: Literal["set", "at", "points"] = "set"
    points: str = ""
    """Whose points are shown then."""


@dataclass(frozen=True)
class Sentence:
    """One sentence: words, entries and actions in order, what it did, and the entry it stands for."""

    entry: str
    parts: tuple[str | Entry | Action, ...]
    told: tuple[str, ...] = ()
    nested: bool = False

    @property
    def spaced(self) -> list[tuple[str, str | Entry | Action]]:
        """The parts with the space before each: none before a point or comma, and an entry keeps to what follows it."""
        return [("" if isinstance(part, str) and part[:1] in ",.;:°%" else " ", part) for part in self.parts]


@dataclass
class _Writer:
    """Makes fields in one style."""

    style: Style
    finishes: Mapping[str, str]
    sentences: list[Sentence] = field(default_factory=list)

    def length(self, entry: str, value: Length | None, label: str, hint: str = "") -> Entry:
        text = show(value.mm, self.style) if value else ""
        return Entry(entry, text, label, title=_title(value) if value else "", hint=hint)

    def number(self, entry: str, value: object, label: str) -> Entry:
        return Entry(entry, f"{value:g}" if isinstance(value, float) else str(value), label, "number")

    def choice(self, entry: str, value: str, options: Mapping[str, str], label: str) -> Entry:
        return Entry(entry, value, label, "choice", tuple(options.items()))

    def finish(self, entry: str, value: str | None, label: str, own: bool = True) -> Entry:
        options = ({"": "as its role"} if own else {}) | dict(self.finishes)
        return self.choice(entry, value or "", options, label)

    def edge(self, entry: str, edge: Edge, label: str) -> tuple[str | Entry, ...]:
        kind = self.choice(f"{entry}.kind", edge.kind, EDGES, f"{label} edge")
        return (
            ("edges", kind, self.length(f"{entry}.size", edge.size, f"{label} edge size"))
            if edge.kind != "square"
            else ("edges", kind)
        )

    def section(self, entry: str, section: OwnSection | None, edge: tuple[Any, ...], label: str) -> tuple[Any, ...]:
        """Worked edges, or a section of one's own in their place."""
        path = f"{entry}.section"
        if section is None:
            draw = Action(f"{path}.drawn", "Own section", f"Draw a section of its own for {label}", points=path)
            return (*edge, draw)
        return (
            f"own section of {len(section)} points", Action(path, "Draw", f"Draw the section of {label}", looks="points"),
            Action(path, "×", f"Go back to worked edges for {label}"),
        )  # fmt: skip

    def say(self, entry: str, *parts: Any, told: tuple[str, ...] = (), nested: bool = False) -> None:
        flat: list[str | Entry | Action] = []
        for part in parts:
            flat += part if isinstance(part, tuple) else [part]
        self.sentences.append(Sentence(entry, tuple(flat), told, nested))


def _title(value: Length) -> str:
    precise = exact(value.mm)
    return precise if value.text in (precise, precise.removesuffix(" mm")) else f"{value.text} = {precise}"


def build_up(unit: Unit, style: Style, finishes: Mapping[str, str], at: str) -> list[Sentence]:
    """The sentences of a unit; those of the cell at a path and of what fills it stand where the division does."""
    at = cell_path(at)
    w = _Writer(style, finishes)
    document, layout = unit.document, unit.layout
    _outline(w, unit)
    _frame(w, unit)
    shown = field_at(unit, at)
    chosen = [light for light in layout.lights if light.path == at]
    if at:
        w.say("at", *_crumbs(unit, at))
    _division(w, unit, shown)
    if shown.cell.is_divided:
        _bars(w, shown)
        _mixed(w, unit, shown)
    _light(w, unit, at, chosen[0] if chosen else None, shown)
    _glazing(w, "glazing", document, bool(layout.root.cell.is_divided), _panes(w, layout))
    _trim(w, unit)
    return w.sentences


def _outline(w: _Writer, unit: Unit) -> None:
    document, outline = unit.document, unit.document.outline
    kind: str = outline.kind
    parts: list[Any] = [
        w.choice("outline.kind", kind, OUTLINES, "Outline"), w.length("width", document.width, "Overall width"), "wide,",
        w.length("height", document.height, "Overall height"), "high",
    ]  # fmt: skip
    data: dict[str, Any] = dict(outline)
    if kind in ("segmental", "three-centred", "elliptical", "raked"):
        parts += [", rising", w.length("outline.rise", data["rise"], "Rise of the head", "a sixth")]
    if kind == "raked":
        parts += [
            ", high on the",
            w.choice("outline.high", data["high"], {"left": "left", "right": "right"}, "High side"),
        ]
    if kind == "pointed":
        parts += [", arcs of radius", w.length("outline.radius", data["radius"], "Radius of the arcs", "the width")]
    if kind in ("quarter-round", "d"):
        sides = {"foot": "left", "right": "right"}
        parts += [
            ", upright on the",
            w.choice("outline.straight", "right" if data["straight"] == "right" else "foot", sides, "Upright side"),
        ]
    if kind in ("polygon", "star"):
        parts += [
            ",",
            w.number("outline.points", data["points"], "Points"),
            "points, turned",
            w.number("outline.turn", data["turn"], "Turn in degrees"),
            "°",
        ]
    if kind == "star":
        parts += [", inner points at", w.number("outline.inner", data["inner"], "Inner radius as a share")]
    if kind == "rectangle":
        for index, corner in enumerate(data["corners"]):
            words = (
                "each corner"
                if len(data["corners"]) == 1
                else ("lower left", "lower right", "upper right", "upper left")[index]
            )
            parts += [
                f"; {words}",
                w.choice(
                    f"outline.corners.{index}.kind",
                    corner.kind,
                    {k: k for k in ("square", "rounded", "clipped", "scooped")},
                    f"Corner {index + 1}",
                ),
            ]
            if corner.kind != "square":
                parts += [w.length(f"outline.corners.{index}.size", corner.size, f"Size of corner {index + 1}")]
        if len(data["corners"]) < 4:
            parts += [
                Action(
                    "outline.corners.added",
                    "Shape corners" if not data["corners"] else "Another corner",
                    "Shape a corner",
                )
            ]
        if data["corners"]:
            parts += [Action(f"outline.corners.{len(data['corners']) - 1}.removed", "×", "Leave out the last corner")]
    if kind == "path":
        parts += [
            f", through {len(data['nodes'])} nodes",
            Action("outline.nodes", "Draw", "Draw the nodes of the outline", looks="points"),
        ]
    w.say("outline", *parts, ".")


def _frame(w: _Writer, unit: Unit) -> None:
    frame = unit.document.frame
    sides: list[Any] = []
    names = (
        dict.fromkeys(tag for tag in unit.layout.frame.loop.tags)
        if not frame.rings
        else dict.fromkeys(["sill", "right", "head", "left"])
    )
    for name in names:
        if name in frame.sides:
            sides += [
                f", {name}",
                w.length(f"frame.sides.{name}", frame.sides[name], f"Face of the {name}", "as the frame"),
            ]
    for name in ("head", "sill"):
        if name in names and name not in frame.sides:
            sides += [
                Action(f"frame.sides.{name}", f"Own {name}", f"Give the {name} a face of its own", frame.face.text)
            ]
    frame_ring = next((ring for ring in unit.layout.rings if ring.entry == "frame"), unit.layout.frame)
    w.say(
        "frame", "Frame", w.length("frame.face", frame.face, "Frame face"), "wide,", w.length("frame.depth", frame.depth, "Frame depth"), "deep,",
        w.choice("frame.joint", frame.joint, {"mitred": "mitred", "jambs": "butted, jambs through", "head": "butted, head and sill through"}, "Joint of the frame"),
        ",", w.section("frame", frame.section, w.edge("frame.edge", frame.edge, "Frame"), "the frame"), *sides, ".", Action("frame.rings.added", "Add ring", "Add a ring to the frame"), told=(f"Leaves {_clear(w, unit, frame_ring)} clear.",),
    )  # fmt: skip
    for index, ring in enumerate(frame.rings):
        path = f"frame.rings.{index}"
        made = [one for one in (*unit.layout.rings, unit.layout.frame) if one.entry == path][-1]
        told = (
            f"Leaves {_size(w, made.clear)} clear."
            if ring.place == "inside"
            else f"Makes it {_size(w, made.loop)} over all."
        )
        w.say(
            path, w.number(f"{path}.count", ring.count, f"How many rings {index + 1}"), "ring" if ring.count == 1 else "rings",
            w.choice(f"{path}.place", ring.place, {"inside": "inside", "outside": "outside"}, f"Place of ring {index + 1}"),
            w.length(f"{path}.face", ring.face, f"Face of ring {index + 1}"), "wide,", w.length(f"{path}.depth", ring.depth, f"Depth of ring {index + 1}", "as the frame"),
            "deep, set back", w.length(f"{path}.setback", ring.setback, f"Set-back of ring {index + 1}"), ", a step of",
            w.length(f"{path}.step", ring.step, f"Step to ring {index + 1}"), "away,", w.section(path, ring.section, w.edge(f"{path}.edge", ring.edge, f"Ring {index + 1}"), f"ring {index + 1}"), ".", _list_actions(path, f"ring {index + 1}"), told=(told,),
        )  # fmt: skip


def _size(w: _Writer, loop: Loop) -> str:
    left, foot, right, head = loop.bounds
    return _by(w, _tenth(right - left), _tenth(head - foot))


def _by(w: _Writer, width: Fraction, height: Fraction) -> str:
    return f"{show(width, w.style)} by {named(height, w.style)}"


def _clear(w: _Writer, unit: Unit, ring: Ring) -> str:
    """The clear opening of a ring: exact where lights are laid out in it."""
    if ring is not unit.layout.frame:
        return _size(w, ring.clear)
    spans = (unit.layout.spacing(axis).lights for axis in AXES)
    return _by(w, *(lights[-1].end - lights[0].start for lights in spans))


def _list_actions(path: str, what: str) -> tuple[Action, ...]:
    return (
        Action(f"{path}.raised", "↑", f"Move {what} up"), Action(f"{path}.lowered", "↓", f"Move {what} down"),
        Action(f"{path}.duplicated", "Copy", f"Duplicate {what}"), Action(f"{path}.removed", "×", f"Remove {what}"),
    )  # fmt: skip


def _crumbs(unit: Unit, at: str) -> Iterator[str | Action]:
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


def _division(w: _Writer, unit: Unit, shown: CellLayout) -> None:
    for axis in AXES:
        path, spacing = entry_below(shown.path, axis), shown.spacing(axis)
        others = _others(w.style, other_rules(unit.layout, shown.path, axis), spacing)
        _one_division(w, path, getattr(shown.cell, axis), spacing, axis, ("mullion", "transom"), others)


def _one_division(
    w: _Writer,
    path: str,
    division: Division,
    spacing: Spacing,
    axis: Axis,
    members: tuple[str, str],
    others: tuple[str, ...] = (),
) -> None:
    count, word = len(division.lights), "across" if axis == "columns" else "up"
    member = members[AXES.index(axis)]
    faces = {bar.face.mm for bar in division.bars}
    parts: list[Any] = [w.number(f"{path}.count", count, f"Lights {word}"), f"light{'s' if count > 1 else ''} {word}"]
    if count > 1:
        parts += [
            ", by", w.choice(f"{path}.rule", division.rule, RULE_NAMES, f"Rule {word}"), f", {member}{'s' if count > 2 else ''}",
            w.length(f"{path}.bars", division.bars[0].face if len(faces) == 1 else None, f"Face of all {member}s", "various"), "wide",
        ]  # fmt: skip
    actions = (
        Action(f"{path}.equal", "Equalise", f"Equalise the lights {word}"), Action(f"{path}.mirrored", "Mirror", f"Mirror the lights {word}"),
    ) if count > 1 else ()  # fmt: skip
    w.say(path, *parts, ".", *actions, told=(spacing.sentence(w.style), *others))


def _others(style: Style, rules: Mapping[str, Spacing], spacing: Spacing) -> tuple[str, ...]:
    """What the other rules would give."""
    found: dict[str, list[str]] = {}
    for rule, other in rules.items():
        sizes = [light.size for light in other.lights]
        if sizes != [light.size for light in spacing.lights]:
            shown = (
                f"{show(sizes[0], style)} each" if len(set(sizes)) == 1 else " · ".join(show(s, style) for s in sizes)
            )
            found.setdefault(shown, []).append(RULE_NAMES[rule])  # type: ignore[index]
    return tuple(f"{' or '.join(rules).capitalize()} would give {sizes}." for sizes, rules in found.items())


def _bars(w: _Writer, shown: CellLayout) -> None:
    path, bars = entry_below(shown.path, "bars"), shown.cell.bars
    w.say(
        path, "Bars", w.length(f"{path}.depth", bars.depth, "Bar depth", "full"), "deep, set back", w.length(f"{path}.setback", bars.setback, "Bar set-back"),
        ",", w.section(path, bars.section, w.edge(f"{path}.edge", bars.edge, "Bar"), "all bars"), ";", w.choice(f"{path}.through", bars.through, {"columns": "mullions", "rows": "transoms"}, "Which bars run through"),
        "run through.",
    )  # fmt: skip
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


def _mixed(w: _Writer, unit: Unit, shown: CellLayout) -> None:
    """What each light of a divided cell holds, where they are not all plain glass."""
    lights = [light for light in unit.layout.lights if light.field == shown.path]
    told = [(light, _filling_words(light)) for light in lights]
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


def _filling_words(light: Light) -> str:
    fill = light.fill
    if isinstance(fill, Sash):
        return OPENINGS[fill.opening]
    if isinstance(fill, Sliders):
        return "sliding " + fill.slide
    if isinstance(fill, Glass):
        return "leaded glass" if fill.lead else "glass with muntins" if fill.muntins else "fixed glass"
    return FILLINGS[fill.kind].removeprefix("a ")


def _light(w: _Writer, unit: Unit, at: str, light: Light | None, shown: CellLayout) -> None:
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
    options = ({"": around} if at else {}) | FILLINGS
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
    if light.fill.kind in _FILL_WRITERS and (said or not at):
        _FILL_WRITERS[light.fill.kind](w, path, light)
    elif light.fill.kind in _FILL_WRITERS:
        w.say(
            f"{path}.own",
            Action(f"{path}.kind", "Give it sizes of its own", "Give this light a filling of its own", light.fill.kind),
            nested=True,
        )
    for index, bar in enumerate(cell.angled):
        own = f"{entry_below(at, 'angled')}.{index}"
        w.say(
            own, "Angled bar", w.length(f"{own}.face", bar.face, f"Face of angled bar {index + 1}"), "wide, from", w.length(f"{own}.x1", bar.x1, f"Start across of angled bar {index + 1}"), ",",
            w.length(f"{own}.y1", bar.y1, f"Start up of angled bar {index + 1}"), "to", w.length(f"{own}.x2", bar.x2, f"End across of angled bar {index + 1}"), ",",
            w.length(f"{own}.y2", bar.y2, f"End up of angled bar {index + 1}"), ", bulging", w.number(f"{own}.bulge", bar.bulge, f"Bulge of angled bar {index + 1}"), ".", _list_actions(own, f"angled bar {index + 1}"),
            nested=True,
        )  # fmt: skip


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
    if at.rpartition(".")[0].endswith("cells"):
        yield Action(f"{at}.merged", "Merge right", "Merge with the light to the right", "right")
        yield Action(f"{at}.merged", "Merge up", "Merge with the light above", "up")
        if cell.span != (1, 1):
            yield Action(f"{at}.merged", "Part again", "Part the merged light again", "none")
        for value, words in (("row", "Copy along row"), ("column", "Copy along column"), ("all", "Copy to all")):
            yield Action(f"{at}.fill.copied", words, f"{words} of lights", value)
        yield Action(f"{at}.cleared", "Reset", "Make this light like the others again")


def _ordering(at: str, shown: CellLayout) -> Iterator[str | Action]:
    """A light's column and row moved, copied or taken away."""
    match = re.search(r"(?:^|\.)cells\.c(\d+)r(\d+)$", at)
    if match is None:
        return
    for axis, number, back, on in (("columns", match[1], "←", "→"), ("rows", match[2], "↓", "↑")):
        count = len(getattr(shown.cell, axis).lights)
        if count < 2:
            continue
        word, path = axis.rstrip("s"), f"{entry_below(shown.path, axis)}.lights.{int(number) - 1}"
        yield f"{word.capitalize()} {number} of {count}"
        if int(number) > 1:
            yield Action(f"{path}.raised", back, f"Move {word} {number} back")
        if int(number) < count:
            yield Action(f"{path}.lowered", on, f"Move {word} {number} on")
        yield Action(f"{path}.duplicated", "Copy", f"Duplicate {word} {number}")
        yield Action(f"{path}.removed", "×", f"Remove {word} {number}")


def _merging(w: _Writer, at: str, cell: Cell) -> None:
    actions = [action for action in _light_actions(at, cell) if action.words in ("Part again", "Reset")]
    if actions:
        w.say(f"{at}.cell", "This light is divided.", *actions)


def _sash_ring(w: _Writer, path: str, fill: Sash | Sliders, light: Light) -> None:
    w.say(
        f"{path}.ring", "Its ring", w.length(f"{path}.face", fill.face, "Sash face"), "wide,", w.length(f"{path}.depth", fill.depth, "Sash depth"), "deep, set back",
        w.length(f"{path}.setback", fill.setback, "Sash set-back"), ",", w.length(f"{path}.clearance", fill.clearance, "Clearance of the sash"), "clear all round,",
        w.section(path, fill.section, w.edge(f"{path}.edge", fill.edge, "Sash"), "the sash"), ". Opened", w.number(f"{path}.opened", fill.opened, "Opened in percent"), "%.", nested=True,
        told=tuple(f"{sash.name.capitalize() or 'It'} is {_size(w, sash.body.ring.loop)}, {_size(w, sash.body.ring.clear)} clear within." for sash in light.sashes),
    )  # fmt: skip
    sides = {"sill": "bottom rail", "head": "top rail"}
    own: list[Any] = []
    for side, words in sides.items():
        if side in fill.sides:
            own += [
                words,
                w.length(f"{path}.sides.{side}", fill.sides[side], f"Face of the {words}", "as the ring"),
                ",",
            ]
        else:
            own += [
                Action(f"{path}.sides.{side}", f"Own {words}", f"Give the {words} a face of its own", fill.face.text)
            ]
    w.say(
        f"{path}.sides",
        *own,
        Action(f"{path}.content", "Into the sash", "Look at what the sash holds", looks="at"),
        nested=True,
    )


def _write_sash(w: _Writer, path: str, light: Light) -> None:
    fill = light.fill
    assert isinstance(fill, Sash)
    parts: list[Any] = ["It is", w.choice(f"{path}.opening", fill.opening, OPENINGS, "Opening")]
    if fill.opening in ("side-hung", "tilt-and-turn", "pivot-vertical"):
        parts += ["on the", w.choice(f"{path}.hand", fill.hand, {"left": "left", "right": "right"}, "Hinged side")]
    if fill.opening not in ("fixed", "tilt-and-turn"):
        parts += [", swings", w.choice(f"{path}.swing", fill.swing, {"out": "out", "in": "in"}, "Swing")]
    if fill.opening == "tilt-and-turn":
        parts += [
            ",",
            w.choice(
                f"{path}.tilted", "yes" if fill.tilted else "no", {"no": "turned", "yes": "tilted"}, "Turned or tilted"
            ),
        ]
    w.say(
        f"{path}.opening",
        *parts,
        ", against a stop",
        w.length(f"{path}.stop", fill.stop, "Stop of the sash"),
        "wide.",
        nested=True,
    )
    _sash_ring(w, path, fill, light)


def _write_sliders(w: _Writer, path: str, light: Light) -> None:
    fill = light.fill
    assert isinstance(fill, Sliders)
    parts: list[Any] = [
        "They slide",
        w.choice(f"{path}.slide", fill.slide, {"up": "up and down", "across": "across"}, "Way of sliding"),
    ]
    if fill.slide == "across":
        parts += [",", w.number(f"{path}.panels", fill.panels, "Panels"), "panels"]
    else:
        parts += [
            ",",
            w.choice(
                f"{path}.moves",
                fill.moves,
                {"lower": "the lower one moves", "upper": "the upper one moves", "both": "both move"},
                "Which sash moves",
            ),
        ]
    w.say(
        f"{path}.slide", *parts, ", meeting rails" if fill.slide == "up" else ", meeting stiles", w.length(f"{path}.meeting", fill.meeting, "Face of the meeting rails", "as the ring"),
        "wide,", w.length(f"{path}.gap", fill.gap, "Gap between tracks"), "between tracks.", nested=True,
    )  # fmt: skip
    _sash_ring(w, path, fill, light)


def _own_gasket(w: _Writer, path: str, fill: Glass) -> tuple[Any, ...]:
    """A gasket of this light's own, or the way to one."""
    if fill.gasket is None:
        return (Action(path, "Own gasket", "Give this glass a gasket of its own", "yes"),)
    return (
        ", gasket", w.length(f"{path}.thickness", fill.gasket.thickness, "Thickness of this gasket"), "thick, showing",
        w.length(f"{path}.shows", fill.gasket.shows, "How far this gasket shows"), Action(path, "×", "Go back to the unit's gasket"),
    )  # fmt: skip


def _write_glass(w: _Writer, path: str, light: Light) -> None:
    fill = light.fill
    assert isinstance(fill, Glass)
    w.say(
        f"{path}.thickness", "Glass", w.length(f"{path}.thickness", fill.thickness, "Thickness of this glass", "as the unit's"), "thick, set back",
        w.length(f"{path}.setback", fill.setback, "Set-back of this glass", "as the unit's"), ",", w.finish(f"{path}.finish", fill.finish, "Finish of this glass"), *_own_gasket(w, f"{path}.gasket", fill), ".",
        Action(f"{path}.muntins", "No muntins" if fill.muntins else "Muntins", "Leave out the muntins" if fill.muntins else "Put muntins on this glass", "" if fill.muntins else "yes"),
        Action(f"{path}.lead", "No leading" if fill.lead else "Leading", "Leave out the leading" if fill.lead else "Make this leaded glass", "" if fill.lead else "yes"),
        nested=True,
    )  # fmt: skip
    if fill.muntins:
        _write_muntins(w, f"{path}.muntins", fill.muntins, light)
    if fill.lead:
        lead, own = fill.lead, f"{path}.lead"
        w.say(
            own, "Leaded in", w.choice(f"{own}.pattern", lead.pattern, {"grid": "a grid", "brick": "courses", "shards": "shards"}, "Pattern of the leading"), "of",
            w.number(f"{own}.across", lead.across, "Pieces across"), "by", w.number(f"{own}.up", lead.up, "Pieces up"), ", jittered", w.number(f"{own}.jitter", lead.jitter, "Jitter"),
            "from seed", w.number(f"{own}.seed", lead.seed, "Seed"), "; cames", w.length(f"{own}.came", lead.came, "Width of the cames"), "wide,", w.length(f"{own}.proud", lead.proud, "How far cames stand proud"),
            "proud, rim", w.length(f"{own}.rim", lead.rim, "Width of the rim came", "as the cames"), ".", nested=True,
        )  # fmt: skip
        w.say(
            f"{own}.colours", "Colours: hue", w.number(f"{own}.hue.low", lead.hue.low, "Hue from"), "to", w.number(f"{own}.hue.high", lead.hue.high, "Hue to"), "°, saturation",
            w.number(f"{own}.saturation.low", lead.saturation.low, "Saturation from"), "to", w.number(f"{own}.saturation.high", lead.saturation.high, "Saturation to"), ", lightness",
            w.number(f"{own}.lightness.low", lead.lightness.low, "Lightness from"), "to", w.number(f"{own}.lightness.high", lead.lightness.high, "Lightness to"), ";",
            w.number(f"{own}.plain", lead.plain, "Share left clear"), "left clear.", nested=True,
        )  # fmt: skip


def _write_muntins(w: _Writer, path: str, muntins: Muntins, light: Light) -> None:
    kinds = {
        "grid": "a grid",
        "perimeter": "a perimeter pattern",
        "diamond": "diamonds",
        "radial": "spokes and circles",
    }
    parts: list[Any] = [
        "Muntins", w.length(f"{path}.width", muntins.width, "Width of the muntins"), "wide,", w.length(f"{path}.proud", muntins.proud, "How far muntins stand proud"), "proud on",
        w.choice(f"{path}.faces", muntins.faces, {"outer": "the outer face", "inner": "the inner face", "both": "both faces"}, "Faces with muntins"), ",",
        w.edge(f"{path}.edge", muntins.edge, "Muntin"), ", in", w.choice(f"{path}.kind", muntins.kind, kinds, "Pattern of the muntins"),
    ]  # fmt: skip
    if muntins.kind == "perimeter":
        parts += ["set", w.length(f"{path}.inset", muntins.inset, "Inset of the perimeter bars"), "in"]
    if muntins.kind == "diamond":
        parts += [
            w.length(f"{path}.pitch", muntins.pitch, "Width of the diamonds"),
            "wide and",
            w.length(f"{path}.rise", muntins.rise, "Height of the diamonds"),
            "high",
        ]
    if muntins.kind == "radial":
        parts += [":", w.number(f"{path}.spokes", muntins.spokes, "Spokes"), "spokes"]
        for index, size in enumerate(muntins.circles):
            parts += [
                ", circle",
                w.length(f"{path}.circles.{index}", size, f"Radius of circle {index + 1}"),
                Action(f"{path}.circles.{index}.removed", "×", f"Remove circle {index + 1}"),
            ]
        parts += [Action(f"{path}.circles.added", "Add circle", "Add a circle of muntins")]
    w.say(path, *parts, ".", nested=True)
    if muntins.kind == "grid":
        w.say(f"{path}.strip", Action(path, "Their strips", "Show the strips of the muntins", looks="at"), nested=True)
        for axis in AXES:
            _one_division(
                w,
                f"{path}.{axis}",
                getattr(muntins, axis),
                muntin_spacing(light, axis),
                axis,
                ("upright muntin", "level muntin"),
            )


def _write_panel(w: _Writer, path: str, light: Light) -> None:
    fill = light.fill
    assert isinstance(fill, Panel)
    parts: list[Any] = [
        w.choice(f"{path}.style", fill.style, {"flat": "Flat", "raised": "Raised", "framed": "Framed"}, "Style of the panel"), "panel",
        w.length(f"{path}.thickness", fill.thickness, "Thickness of the panel"), "thick,", w.finish(f"{path}.finish", fill.finish, "Finish of this panel"),
    ]  # fmt: skip
    if fill.style != "flat":
        parts += [
            ", margin",
            w.length(f"{path}.margin", fill.margin, "Margin of the panel"),
            ", rising",
            w.length(f"{path}.rise", fill.rise, "Rise of the panel"),
        ]
    if fill.style == "raised":
        parts += ["over a bevel of", w.length(f"{path}.bevel", fill.bevel, "Bevel of the panel")]
    w.say(f"{path}.style", *parts, ".", nested=True)


def _write_louvres(w: _Writer, path: str, light: Light) -> None:
    fill = light.fill
    assert isinstance(fill, Louvres)
    w.say(
        f"{path}.pitch", "Blades", w.length(f"{path}.blade", fill.blade, "Width of the blades"), "by", w.length(f"{path}.thickness", fill.thickness, "Thickness of the blades"), ",",
        w.length(f"{path}.pitch", fill.pitch, "Pitch of the blades"), "apart, at", w.number(f"{path}.angle", fill.angle, "Angle of the blades"), "°, set back",
        w.length(f"{path}.setback", fill.setback, "Set-back of the blades"), ",", w.finish(f"{path}.finish", fill.finish, "Finish of the blades"), ".", nested=True,
    )  # fmt: skip


_FILL_WRITERS = {
    "sash": _write_sash,
    "sliders": _write_sliders,
    "glass": _write_glass,
    "panel": _write_panel,
    "louvres": _write_louvres,
}


def _glazing(w: _Writer, path: str, holder: Any, bars: bool, told: tuple[str, ...] = ()) -> None:
    glazing = holder.glazing
    covers: list[Any] = [w.length(f"{path}.cover", glazing.cover, "Cover by the frame"), "by the frame"]
    if bars:
        covers += [
            "and",
            w.length(f"{path}.bar_cover", glazing.bar_cover, "Cover by the bars", "as much"),
            "by the bars",
        ]
    panes: list[Any] = [w.number(f"{path}.panes", glazing.panes, "Panes"), "pane" if glazing.panes == 1 else "panes"]
    if glazing.panes > 1:
        panes += ["of", w.length(f"{path}.pane", glazing.pane, "Thickness of each pane")]
    w.say(
        path, "Glass", w.length(f"{path}.thickness", glazing.thickness, "Glass thickness"), "thick, in", *panes, ", set back", w.length(f"{path}.setback", glazing.setback, "Glass set-back"),
        ", covered", *covers, ",", w.length(f"{path}.clearance", glazing.clearance, "Clearance in the rebate"), "clear in the rebate.", told=told,
    )  # fmt: skip
    w.say(
        f"{path}.gasket", "Gasket", w.length(f"{path}.gasket.thickness", glazing.gasket.thickness, "Gasket thickness"), "thick on both faces, showing",
        w.length(f"{path}.gasket.shows", glazing.gasket.shows, "How far the gasket shows"), ".",
    )  # fmt: skip
    w.say(f"{path}.bead", "Beads behind the glass,", w.edge(f"{path}.bead.edge", glazing.bead.edge, "Bead"), ".")


def _panes(w: _Writer, layout: Layout) -> tuple[str, ...]:
    """How large the glass is cut, sizes that are alike together."""
    found = Counter(
        _pane_size(w, light) for light in layout.lights if light.holds_glass and light.ring.glazing_entry == "glazing"
    )
    shown = [f"{count} of {size}" if count > 1 else size for size, count in found.most_common(MOST_PANES)]
    more = f", and {len(found) - MOST_PANES} more sizes" if len(found) > MOST_PANES else ""
    return (f"Cut to {', '.join(shown)}{more}.",) if shown else ()


def _pane_size(w: _Writer, light: Light) -> str:
    cover, points = covers(light), light.loop.moved(-covers(light))
    if light.is_rectangle or points is None:
        sill, right, head, left = (Fraction(float(size)).limit_denominator(10**6) for size in (*cover, *cover)[:4])
        return _by(w, light.clear.width + left + right, light.clear.height + sill + head)
    (left, foot), (right, head) = points.min(axis=0).tolist(), points.max(axis=0).tolist()
    return _by(w, _tenth(right - left), _tenth(head - foot))


def _tenth(size: float) -> Fraction:
    """What is measured on the facets of a curve, to a tenth of a millimetre."""
    return Fraction(round(size * 10), 10)


MOST_PANES = 3
TRIMS = (
    ("outside", "Casing outside"),
    ("inside", "Casing inside"),
    ("sill", "Sill"),
    ("apron", "Apron inside"),
    ("head_drip", "Drip over the head"),
)


def _trim(w: _Writer, unit: Unit) -> None:
    trim = unit.document.trim
    missing = [
        Action(f"trim.{key}", words, f"Add: {words.lower()}", "yes")
        for key, words in TRIMS
        if getattr(trim, key) is None
    ]
    for side in ("outside", "inside"):
        casing = getattr(trim, side)
        if casing:
            path = f"trim.{side}"
            w.say(
                path, f"Casing {side}", w.length(f"{path}.width", casing.width, f"Width of the casing {side}"), "wide,", w.length(f"{path}.projection", casing.projection, f"Projection of the casing {side}"),
                "off the wall, lapping the frame", w.length(f"{path}.lap", casing.lap, f"Lap of the casing {side}"), ", on",
                w.choice(f"{path}.sides", casing.sides, {"all": "all sides", "no sill": "all sides but the sill"}, f"Sides of the casing {side}"), ", the wall",
                w.length(f"{path}.forward", casing.forward, f"How far the wall stands before the frame {side}"), "before the frame,", w.section(path, casing.section, w.edge(f"{path}.edge", casing.edge, f"Casing {side}"), f"the casing {side}"), ".",
                Action(path, "×", f"Leave out the casing {side}"),
            )  # fmt: skip
    if trim.sill:
        sill = trim.sill
        w.say(
            "trim.sill", "Sill", w.length("trim.sill.thickness", sill.thickness, "Thickness of the sill"), "thick, standing", w.length("trim.sill.projection", sill.projection, "Projection of the sill"),
            "out, falling", *_fall(w, sill), ", with horns of", w.length("trim.sill.horns", sill.horns, "Horns of the sill"), ",",
            w.length("trim.sill.under", sill.under, "How far the sill goes under"), "under the frame,", w.edge("trim.sill.nosing", sill.nosing, "Nosing"), ".",
            Action("trim.sill.drip", "No drip" if sill.drip else "Drip", "Leave out the drip" if sill.drip else "Cut a drip", "" if sill.drip else "yes"), Action("trim.sill", "×", "Leave out the sill"),
        )  # fmt: skip
    for key, words in TRIMS[3:]:
        board = getattr(trim, key)
        if board:
            path = f"trim.{key}"
            w.say(
                path, words, w.length(f"{path}.height", board.height, f"Height: {words.lower()}"), "high, standing", w.length(f"{path}.projection", board.projection, f"Projection: {words.lower()}"),
                "out,", w.length(f"{path}.over", board.over, f"Overhang: {words.lower()}"), "past the sides,", w.edge(f"{path}.edge", board.edge, words), ".", Action(path, "×", f"Leave out: {words.lower()}"),
            )  # fmt: skip
    if missing:
        w.say("trim", "Add", *missing)


def _fall(w: _Writer, sill: Sill) -> tuple[str | Entry | Action, ...]:
    """How a sill sheds water: by a length over its projection, or by degrees."""
    if sill.slope is None:
        return w.length("trim.sill.fall", sill.fall, "Fall of the sill"), Action(
            "trim.sill.slope", "by degrees", "Slope the sill by degrees", "7"
        )
    return (
        w.number("trim.sill.slope", sill.slope, "Slope of the sill in degrees"),
        "°",
        Action("trim.sill.slope", "by a length", "Slope the sill by a length"),
    )
