"""From the core's sheets in millimetres of paper to CSS pixels and SVG."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import fields, replace
from functools import cache, lru_cache
from html import escape
from typing import Any, TypeVar

from django.utils.safestring import SafeString

from ashfell.core.drawing.sheet import Points
from ashfell.formats.svg import PX

Placed = TypeVar("Placed")


def in_pixels(one: Placed) -> Placed:
    """A value whose numbers are millimetres of paper, in CSS pixels."""
    kind: Any = type(one)
    lengths = {name: round(getattr(one, name) * PX, 2) for name in _lengths(kind)}
    return replace(one, **lengths)  # type: ignore[type-var]


@cache
def _lengths(of: Any) -> tuple[str, ...]:
    """The entries of a kind of value that are millimetres of paper."""
    return tuple(f.name for f in fields(of) if f.type == "float")


def all_in_pixels(values: Iterable[object]) -> tuple[object, ...]:
    """Many of them."""
    return tuple(in_pixels(value) for value in values)


def path(points: Points, closed: bool = True) -> str:
    """SVG path data through points."""
    return "M" + "L".join(f"{x * PX:.5g} {y * PX:.5g}" for x, y in points) + ("Z" if closed else "")


def words(text: object) -> SafeString:
    """Text as it stands on a page."""
    return SafeString(escape(str(text)))


@lru_cache(maxsize=16384)
def _attribute(name: str, value: str) -> str:
    """An attribute as it is written; most on a page are those of the page before."""
    return f' {name}="{escape(value)}"'


def element(name: str, attributes: Mapping[str, object], inside: SafeString | None = None) -> SafeString:
    """An element of a page with its attributes, of which those that are None are left out; empty, or round what is
    ``inside``."""
    told = "".join(_attribute(key, str(value)) for key, value in attributes.items() if value is not None)
    return SafeString(f"<{name}{told}/>" if inside is None else f"<{name}{told}>{inside}</{name}>")
