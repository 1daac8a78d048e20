"""The sentence of a placement."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from ashfell.core.base.address import Address
from ashfell.core.base.lengths import show
from ashfell.core.kinds.roles import ROLES
from ashfell.core.site.document.placement import Placement
from ashfell.core.site.opening import Opening
from ashfell.core.unit.say.writer import Action, Sentence, Writer

MEASURED = {"start": "start", "centre": "centre", "end": "end", "equal": "piers alike"}
SECONDS = {"none": "all alike", "every second": "every second mirrored", "second half": "the second half mirrored"}
POSTS = {"no": "bars as drawn", "yes": "a post on each fold"}
FOLDS = {"yes": "folded with the wall", "no": "flat in a seat"}
REVEALS = {"square": "square", "plumb": "plumb", "flared": "flared, plumb foot and level head"}
STANDS = {
    "recessed": "recessed",
    "through": "as deep as the wall",
    "flush outside": "flush outside",
    "flush inside": "flush inside",
    "centred": "centred in the wall",
    "behind the leaf": "against the outer leaf",
}
FITS = {"no": "the unit", "yes": "the opening"}
HANDS = {"no": "as drawn", "yes": "mirrored"}
AS_UNIT = "as its unit"
FACES = {"no": "its outside out", "yes": "its outside in"}


@dataclass(frozen=True)
class Around:
    """What a placement can be said by: the units that can be chosen, the storeys, and the other openings of its wall,
    each by its key with its name; whether its wall folds, or slopes as a roof does; the ``finishes`` of its unit by
    role, and those that its ``panes`` may have."""

    units: Mapping[str, str]
    storeys: Mapping[str, str] = field(default_factory=dict)
    others: Mapping[str, str] = field(default_factory=dict)
    folds: bool = False
    slopes: bool = False
    finishes: Mapping[str, str] = field(default_factory=dict)
    panes: Mapping[str, str] = field(default_factory=dict)


def say_placement(w: Writer, placement: Placement, around: Around, opening: Opening | None) -> Sentence:
    """What somebody would say of a placement; ``opening`` is its opening where that is cut."""
    units = around.units
    path = Address("placements") / placement.id
    level = "head" if placement.head else "sill"
    height = placement.head or placement.sill
    other = "sill" if placement.head else "head"
    there = (opening.head if level == "sill" else opening.z) if opening else None
    parts: list[Any] = [
        w.choice(path / "unit", placement.unit or "", {"": "empty opening"} | dict(units), "Unit"),
        *_along(w, path, placement, around),
        f", {level} at",
        w.length(path / level, height, f"{level.capitalize()} height"),
    ]
    if around.storeys:
        floors = {"": "its foot"} | dict(around.storeys)
        parts += ["from", w.choice(path / "storey", placement.storey or "", floors, "Measured from the level of")]
    if there is not None:
        text = show(there, w.style)
        value = "" if level == "head" else text
        parts += [f"({other} at {text})", Action(path / "head", f"By {other}", f"Give its {other} instead", value)]
    hint = "as the unit" if placement.unit else ""
    parts += [
        ", size",
        w.length(path / "width", placement.width, "Width of its own", hint),
        "by",
        w.length(path / "height", placement.height, "Height of its own", hint),
        *(
            [w.choice(path / "fits", "yes" if placement.fits else "no", FITS, "What the size is of")]
            if _sized(placement)
            else []
        ),
        ", gap",
        w.length(path / "gap", placement.gap, "Installation gap"),
        *_sides(w, path, placement, "gap"),
        *_reveal(w, path, placement),
    ]
    if around.slopes:
        parts += [", reveal", w.choice(path / "reveal", placement.reveal, REVEALS, "How the opening is cut")]
    if placement.unit:
        parts += [", stands", w.choice(path / "stands", placement.stands, STANDS, "Where it stands in the wall")]
        if placement.stands == "recessed":
            parts += ["by", w.length(path / "recess", placement.recess, "Recess")]
        parts += [
            ",",
            w.choice(path / "mirrored", "yes" if placement.mirrored else "no", HANDS, "Hand"),
            ",",
            w.choice(path / "turned", "yes" if placement.turned else "no", FACES, "Which way it faces"),
            ", opened",
            w.number(path / "opened", placement.opened, "Opened in percent", "as drawn"),
            *(["%"] if placement.opened is not None else []),
            *_finishes(w, path, placement, around),
        ]
        parts += _where_it_folds(w, path, placement) if around.folds else []
    parts += _again(w, path, placement, units)
    return Sentence(path, (*_flat(parts), "."))


def _along(w: Writer, path: Address, placement: Placement, around: Around) -> list[Any]:
    """Where along its wall it stands."""
    measured = w.choice(path / "measured", placement.measured, MEASURED, "Measured from")
    said: list[Any] = ["with", measured] if placement.measured == "equal" else []
    if not said:
        said = [w.length(path / "offset", placement.offset, "Offset"), "from the", measured]
    if around.others:
        others = {"": "the wall's end"} | dict(around.others)
        for name, words in (("after", "behind"), ("until", "before")):
            own = getattr(placement, name)
            if own:
                ends = others | {"": "the wall's start"} if name == "after" else others
                said += [words, w.choice(path / name, own, ends, f"It stands {words}")]
            else:
                first, told = next(iter(around.others)), f"Measure it from an opening that it stands {words}"
                said += [Action(path / name, words.capitalize(), told, first)]
    return said


def _where_it_folds(w: Writer, path: Address, placement: Placement) -> list[Any]:
    """Whether it folds with its wall, and what of it stands on the folds."""
    folded = w.choice(path / "folded", "yes" if placement.folded else "no", FOLDS, "Where the wall folds")
    if not placement.folded:
        return [",", folded]
    posts = w.choice(path / "posts", "yes" if placement.posts else "no", POSTS, "Its bars where the wall folds")
    return [",", folded, ",", posts]


def _again(w: Writer, path: Address, placement: Placement, units: Mapping[str, str]) -> list[Any]:
    """How it is repeated, and the way to that."""
    repeat, own = placement.repeat, path / "repeat"
    if repeat is None:
        return [Action(own, "Repeat", "Repeat it along the wall or up the storeys", "1")]
    said: list[Any] = ["; again:", w.number(own / "along", repeat.along, "Times along"), "along"]
    if placement.measured != "equal":
        said += [", ", w.length(own / "gap", repeat.gap, "Gap between them"), "apart"]
    said += [",", w.number(own / "up", repeat.up, "Times up"), "up"]
    if repeat.up > 1:
        said += ["by", w.length(own / "rise", repeat.rise, "Rise from one to the next", "storeys")]
    if placement.unit:
        for index, unit in enumerate(repeat.then):
            said += [", then", w.choice(own / f"then.{index}", unit, units, f"Unit {index + 2} of the rhythm")]
            said += [Action(own / f"then.{index}.removed", "×", f"Take unit {index + 2} out of the rhythm")]
        said += [Action(own / "then.added", "Rhythm", "Let another unit follow in turn", placement.unit)]
        said += [",", w.choice(own / "mirrored", repeat.mirrored, SECONDS, "Which are mirrored")]
    said += [Action(path / "single", "Break up", "Make every one a placement of its own")]
    return [*said, Action(own, "×", "Do not repeat it")]


def _sized(placement: Placement) -> bool:
    """Whether it has a unit and a size of its own."""
    return bool(placement.unit and (placement.width or placement.height))


def _sides(w: Writer, path: Address, placement: Placement, what: str) -> list[Any]:
    """What is said of the sides that differ in a gap, splay or step, and the way to the next."""
    said: list[Any] = []
    own, common, name = getattr(placement, f"{what}s"), getattr(placement, what), what.capitalize()
    for side in ("left", "right", "head", "sill"):
        if side in own:
            said += [",", side, w.length(path / f"{what}s.{side}", own[side], f"{name} at the {side}", "as all")]
    more = next((side for side in ("sill", "head", "left", "right") if side not in own), "")
    if more:
        told = f"Give the {more} a {what} of its own"
        said += [Action(path / f"{what}s.{more}", f"Own at the {more}", told, common.text)]
    return said


def _reveal(w: Writer, path: Address, placement: Placement) -> list[Any]:
    """How its opening leaves the square, and the way to that."""
    said: list[Any] = []
    if placement.splay.mm or placement.splays:
        said += [", splayed", w.length(path / "splay", placement.splay, "Splay"), *_sides(w, path, placement, "splay")]
    else:
        said += [Action(path / "splay", "Splay", "Let the opening widen towards the inside", "50 mm")]
    if placement.step.mm or placement.steps:
        said += [", covered", w.length(path / "step", placement.step, "Step"), *_sides(w, path, placement, "step")]
    elif placement.unit:
        said += [Action(path / "step", "Step", "Let the wall before the frame cover its edge", "20 mm")]
    return said


def _finishes(w: Writer, path: Address, placement: Placement, around: Around) -> list[Any]:
    """The finishes that it has of its own, and the way to the next."""
    said: list[Any] = []
    for table, held in (("finishes", placement.finishes), ("inner", placement.inner)):
        side = " inside" if table == "inner" else ""
        for role, finish in held.items():
            words = ROLES[role].label.lower() + side
            offered = w.finishes if ROLES[role].sided else around.panes
            usual = around.finishes.get(role, "") if not side else ""
            told = f"{AS_UNIT}: {offered[usual]}" if usual in offered else AS_UNIT
            options = {"": told} | dict(offered)
            said += [f", {words}", w.choice(path / f"{table}.{role}", finish, options, f"Finish of its {words}")]
    for table, role in (("finishes", "frame"), ("inner", "frame"), ("finishes", "glass")):
        if role not in getattr(placement, table):
            words = ROLES[role].label.lower() + (" inside" if table == "inner" else "")
            first = around.finishes.get(role, ROLES[role].finish)
            said += [Action(path / f"{table}.{role}", f"Own {words}", f"Give its {words} a finish of its own", first)]
    return said


def _flat(parts: list[Any]) -> list[Any]:
    flat: list[Any] = []
    for part in parts:
        flat += part if isinstance(part, tuple) else [part]
    return flat
