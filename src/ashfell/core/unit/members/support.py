"""What a free-standing unit stands on and is held by: feet under it, a rail on its head."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.roles import ROLES, Finishes, Role
from ashfell.core.parts import ALONG_U, Member
from ashfell.core.plane.points import following
from ashfell.core.solid.form import Box
from ashfell.core.unit.document.trim import Feet, TopRail, Trim
from ashfell.core.unit.layout import Layout

ROLES.register(Role("support", "Feet and rails", "brushed-metal", (186, 182, 176), 128))


def support_members(trim: Trim, layout: Layout, finishes: Finishes) -> Iterator[Member]:
    """The feet and the rail of a unit.

    Raises
    ------
    Refusal
        When its foot or its head is not level, or they have no room.
    """
    finish = finishes.of("support")
    if trim.feet:
        yield from _feet(trim, trim.feet, layout, finish)
    if trim.rail:
        yield _rail(trim, trim.rail, layout, finish)


def _feet(trim: Trim, feet: Feet, layout: Layout, finish: str) -> Iterator[Member]:
    left, foot, right, _ = layout.outermost.loop.bounds
    _check_level(layout, "sill", "trim.feet")
    if trim.sill:
        raise Refusal("trim.feet", "feet or a sill", "The sill is where the feet would be.", "Leave one of them out.")
    if any(casing is not None and casing.sides != "no sill" for casing in (trim.outside, trim.inside)) or trim.apron:
        told = "A casing or an apron is where the feet would be."
        raise Refusal("trim.feet", "feet or a casing", told, "Leave one of them out.")
    width, inset = feet.width.mm, feet.inset.mm
    room = layout.overall.width - 2 * inset - feet.count * width
    if room < 0:
        raise Refusal(
            "trim.feet.width",
            "room for the feet",
            f"{feet.count} feet {exact_mm(width)} wide, {exact_mm(inset)} from the ends, are wider than the unit.",
            f"Make them at most {exact_mm((layout.overall.width - 2 * inset) / feet.count)}."
            if layout.overall.width > 2 * inset
            else "Leave them out.",
            (layout.overall.width - 2 * inset) / feet.count if layout.overall.width > 2 * inset else None,
        )
    front, back = layout.depth
    middle, half = -float(front + back) / 2, float(feet.length.mm) / 2
    start, end = left + float(inset), right - float(inset) - float(width)
    for number in range(feet.count):
        u = start + (end - start) * (number / (feet.count - 1) if feet.count > 1 else 0.5)
        low, high = (u, foot - float(feet.height.mm), middle - half), (u + float(width), foot, middle + half)
        yield Member(f"support.foot.{number + 1}", "trim.feet", "support", finish, (0.0, 0.0, 1.0), Box(low, high))


def _rail(trim: Trim, rail: TopRail, layout: Layout, finish: str) -> Member:
    left, _, right, head = layout.outermost.loop.bounds
    _check_level(layout, "head", "trim.rail")
    if trim.head_drip or any(casing and casing.lap.mm < casing.width.mm for casing in (trim.outside, trim.inside)):
        message = "A casing or a drip is where the rail would be."
        raise Refusal("trim.rail", "a rail on a free head", message, "Leave it out.")
    front, back = layout.depth
    middle, half, over = -float(front + back) / 2, float(rail.width.mm) / 2, float(rail.over.mm)
    low, high = (left - over, head, middle - half), (right + over, head + float(rail.height.mm), middle + half)
    return Member("support.rail", "trim.rail", "support", finish, ALONG_U, Box(low, high))


def _check_level(layout: Layout, side: str, entry: str) -> None:
    loop = layout.outermost.loop
    left, foot, right, head = loop.bounds
    away = np.abs(loop.points[:, 1] - (foot if side == "sill" else head))
    level = loop.lengths[(away < 1e-6) & (following(away) < 1e-6)].sum()
    if level < (right - left) * 0.999:
        raise Refusal(
            entry,
            f"a level {side}",
            f"This outline has no level {side} from end to end.",
            "Leave it out, or choose another outline.",
        )
