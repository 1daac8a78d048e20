"""Sentences of a division: how many lights, by which rule, and what that gives."""

from __future__ import annotations

from typing import Any

from ashfell.core.base.spacing import RULE_NAMES, Spacing
from ashfell.core.unit.document.members import Axis, Division
from ashfell.core.unit.say.writer import Action, Writer


def say_division(
    w: Writer, path: str, division: Division, spacing: Spacing, axis: Axis, member: str, others: tuple[str, ...] = ()
) -> None:
    """One axis of a cell.

    Parameters
    ----------
    w : Writer
    path : str
        Address of the division.
    division, spacing : Division, Spacing
        What was asked for, and what it came to.
    axis : Axis
    member : str
        What its bars are called: "mullion".
    others : tuple of str
        What the other rules would give.
    """
    count, word = len(division.lights), "across" if axis == "columns" else "up"
    faces = {bar.face.mm for bar in division.bars}
    parts: list[Any] = [w.number(f"{path}.count", count, f"Lights {word}"), f"light{'s' if count > 1 else ''} {word}"]
    if count > 1:
        face = division.bars[0].face if len(faces) == 1 else None
        parts += [
            ", by",
            w.choice(f"{path}.rule", division.rule, RULE_NAMES, f"Rule {word}"),
            f", {member}{'s' if count > 2 else ''}",
            w.length(f"{path}.bars", face, f"Face of all {member}s", "various"),
            "wide",
        ]
    actions = (
        Action(f"{path}.equal", "Equalise", f"Equalise the lights {word}"),
        Action(f"{path}.mirrored", "Mirror", f"Mirror the lights {word}"),
    )
    w.say(path, *parts, ".", *(actions if count > 1 else ()), told=(spacing.sentence(w.style), *others))
