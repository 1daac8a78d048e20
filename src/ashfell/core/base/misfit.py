"""What does not fit the model of a document, in the project's own words: entry, rule, and what may stand there."""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction
from typing import Any

from pydantic_core import ErrorDetails

from ashfell.core.base.refusal import Refusal

SMALLEST, LARGEST = Fraction(1, 100), Fraction(1_000_000)
"""The least size, and the largest length, mm."""


def refusal_of(error: ErrorDetails) -> Refusal:
    """A model's validation error in the project's own words."""
    entry = ".".join(str(place) for place in error["loc"] if place != "[key]")
    context, kind = error.get("ctx", {}), error["type"]
    if kind == "length":
        return Refusal(entry, "a length", str(context["reason"]), position=int(context["position"]))
    if kind in SIZES:
        rule, message, remedy, nearest = SIZES[kind]
        return Refusal(entry, rule, message.format(context.get("text", "")), remedy, nearest)
    if kind == "missing":
        return Refusal(entry, "a needed entry", f"The entry “{entry}” is missing.", "Give it.")
    if kind == "extra_forbidden":
        return Refusal(entry, "known entries only", f"There is no entry “{entry}”.", "Leave it out.")
    rule, remedy = _asked(kind, context)
    if rule:
        return Refusal(entry, rule, f"{_quoted(error.get('input'))} cannot stand at “{entry}”.", remedy)
    return Refusal(entry, kind.replace("_", " "), f"{error['msg'].rstrip('.')}.", "Change it, or leave it out.")


SIZES: dict[str, tuple[str, str, str, Fraction]] = {
    "size": ("a size above zero", "A size of {} cannot be built.", "Type a length above zero.", Fraction(1)),
    "gap": ("not below zero", "{} is below zero.", "Type zero or more.", Fraction(0)),
    "too_small": (
        "a size that can be made",
        "A size of {} is too small to be made.",
        "Make it 0.01 mm or more.",
        SMALLEST,
    ),
    "too_large": ("a length within a building", "{} is more than any building.", "Make it 1 km at most.", LARGEST),
}
"""For each error of a length its rule, message, remedy and nearest value."""


def _quoted(value: object) -> str:
    """What was given, short enough to be read."""
    if isinstance(value, list | tuple):
        return f"A list of {len(value)}"
    if isinstance(value, Mapping):
        return "An object"
    text = str(value)
    return f"“{text if len(text) <= 40 else text[:39] + '…'}”"


COMPARED = {"ge": "at least", "gt": "more than", "le": "at most", "lt": "less than"}
READ_AS = {
    "int": "a whole number",
    "float": "a number",
    "string": "text",
    "bool": "true or false",
    "decimal": "a number",
    "fraction": "a number",
}
AS_OBJECT = {"model": "an object", "dict": "an object", "tuple": "a list", "list": "a list"}


def _asked(kind: str, context: Mapping[str, Any]) -> tuple[str, str]:
    """The rule that a value breaks, and what may stand there; nothing for an error that has words of its own."""
    for name, words in COMPARED.items():
        if name in context:
            than = context[name]
            than = int(than) if isinstance(than, float) and than.is_integer() else than
            return f"{words} {than}", f"Type {words} {than}."
    if kind == "literal_error":
        return "one of a few", f"Choose {context['expected'].replace(chr(39), '')}."
    if kind.startswith("string_too") or kind.startswith("too_"):
        most, least = context.get("max_length"), context.get("min_length")
        what = "characters" if kind.startswith("string") else "entries"
        words = f"at most {most}" if most is not None else f"at least {least}"
        return f"{words} {what}", f"Give {words} {what}."
    if kind == "string_pattern_mismatch":
        return (
            "a name of lower-case letters",
            "Use a to z, digits, hyphens and points only, and begin with a letter or digit.",
        )
    first = kind.partition("_")[0]
    if first in READ_AS:
        return READ_AS[first], f"Type {READ_AS[first]}."
    if first in AS_OBJECT:
        return AS_OBJECT[first], f"Give {AS_OBJECT[first]}."
    return "", ""
