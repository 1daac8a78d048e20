"""From the core's sheets in millimetres of paper to CSS pixels and SVG."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import fields, replace
from typing import TypeVar

from ashfell.core.drawing.sheet import Points
from ashfell.formats.svg import PX

Placed = TypeVar("Placed")


def in_pixels(one: Placed) -> Placed:
    """A value whose numbers are millimetres of paper, in CSS pixels."""
    lengths = {f.name: round(getattr(one, f.name) * PX, 2) for f in fields(one) if f.type == "float"}  # type: ignore[arg-type]
    return replace(one, **lengths)  # type: ignore[type-var]


def all_in_pixels(values: Iterable[object]) -> tuple[object, ...]:
    """Many of them."""
    return tuple(in_pixels(value) for value in values)


def path(points: Points, closed: bool = True) -> str:
    """SVG path data through points."""
    return "M" + "L".join(f"{x * PX:.5g} {y * PX:.5g}" for x, y in points) + ("Z" if closed else "")
