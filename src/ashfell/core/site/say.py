"""The sentence of a placement."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ashfell.core.base.address import Address
from ashfell.core.base.lengths import show
from ashfell.core.kinds.roles import ROLES
from ashfell.core.site.document.placement import Placement
from ashfell.core.site.opening import Opening
from ashfell.core.unit.say.writer import Action, Sentence, Writer

MEASURED = {"start": "start", "centre": "centre", "end": "end"}
STANDS = {
    "recessed": "recessed",
    "flush outside": "flush outside",
    "flush inside": "flush inside",
    "centred": "centred in the wall",
}
FITS = {"no": "the unit", "yes": "the opening"}
HANDS = {"no": "as drawn", "yes": "mirrored"}
FACES = {"no": "its outside out", "yes": "its outside in"}


def say_placement(w: Writer, placement: Placement, units: Mapping[str, str], opening: Opening | None) -> Sentence:
    """What somebody would say of a placement; ``units`` are those that can be chosen, ``opening`` its opening where
    that is cut."""
    path = Address("placements") / placement.id
    level = "head" if placement.head else "sill"
    height = placement.head or placement.sill
    other = "sill" if placement.head else "head"
    there = (opening.head if level == "sill" else opening.z) if opening else None
    parts: list[Any] = [
        w.choice(path / "unit", placement.unit or "", {"": "empty opening"} | dict(units), "Unit"),
        w.length(path / "offset", placement.offset, "Offset"),
        "from the",
        w.choice(path / "measured", placement.measured, MEASURED, "Measured from"),
        f", {level} at",
        w.length(path / level, height, f"{level.capitalize()} height"),
    ]
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
        *_sides(w, path, placement),
    ]
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
            "%",
            *_finishes(w, path, placement),
        ]
    return Sentence(path, (*_flat(parts), "."))


def _sized(placement: Placement) -> bool:
    """Whether it has a unit and a size of its own."""
    return bool(placement.unit and (placement.width or placement.height))


def _sides(w: Writer, path: Address, placement: Placement) -> list[Any]:
    said: list[Any] = []
    for side in ("left", "right", "head", "sill"):
        if side in placement.gaps:
            said += [",", side, w.length(path / f"gaps.{side}", placement.gaps[side], f"Gap at the {side}", "as all")]
    more = next((side for side in ("sill", "head", "left", "right") if side not in placement.gaps), "")
    if more:
        said += [
            Action(path / f"gaps.{more}", f"Own at the {more}", f"Give the {more} a gap of its own", placement.gap.text)
        ]
    return said


def _finishes(w: Writer, path: Address, placement: Placement) -> list[Any]:
    """The finishes that it has of its own, and the way to the next."""
    said: list[Any] = []
    for role, finish in placement.finishes.items():
        words = ROLES[role].label.lower()
        said += [f", {words}", w.finish(path / f"finishes.{role}", finish, f"Finish of its {words}")]
    for role in ("frame", "glass"):
        if role not in placement.finishes:
            words = ROLES[role].label.lower()
            said += [
                Action(
                    path / f"finishes.{role}",
                    f"Own {words}",
                    f"Give its {words} a finish of its own",
                    ROLES[role].finish,
                )
            ]
    return said


def _flat(parts: list[Any]) -> list[Any]:
    flat: list[Any] = []
    for part in parts:
        flat += part if isinstance(part, tuple) else [part]
    return flat
