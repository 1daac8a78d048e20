"""Template tags for the numbers that are typed where they are seen."""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction
from typing import Any

from django import template

from ashfell.core.base.address import Address
from ashfell.core.base.lengths import Length, show
from ashfell.core.unit.say.writer import Writer

register = template.Library()


@register.inclusion_tag("_entry.html", takes_context=True)
def entry(context: dict[str, Any], path: str, value: Length | None, label: str, hint: str = "") -> dict[str, Any]:
    """An input for a length in a sentence; without a value it shows ``hint``."""
    return {"slot": Writer(context["style"], {}).length(path, value, label, hint)}


@register.simple_tag(takes_context=True)
def length(context: dict[str, Any], value: Fraction | Length) -> str:
    """A length in the project's unit."""
    return show(value.mm if isinstance(value, Length) else value, context["style"])


@register.inclusion_tag("_entry.html", takes_context=True)
def site_entry(context: dict[str, Any], table: str, key: str, name: str, value: Length, label: str) -> dict[str, Any]:
    """An input for a length of the site's entry of a key."""
    return entry(context, Address(table) / key / name, value, label)


@register.inclusion_tag("_finish_entry.html", takes_context=True)
def finish_entry(context: dict[str, Any], table: str, key: str, name: str, value: str, label: str) -> dict[str, Any]:
    """A choice of finish for the site's entry of a key."""
    return {"path": Address(table) / key / name, "value": value, "label": label, "finishes": context["finishes"]}


@register.filter
def words(text: str) -> list[str]:
    """The words of a text."""
    return text.split()


@register.filter
def pairs(text: str) -> list[list[str]]:
    """``"a:One b:Other"`` as pairs."""
    return [word.split(":", 1) for word in text.split()]


@register.simple_tag
def name_of(names: Mapping[str, str], key: str) -> str:
    """What a thing of a key is called; the key itself where there is none."""
    return names.get(key, key)
