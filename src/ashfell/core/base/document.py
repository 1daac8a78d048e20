"""What all documents share: the field types, strict models, and reading with one kind of error."""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction
from typing import Annotated, Any, TypeVar

from pydantic import AfterValidator, BaseModel, ConfigDict, PlainSerializer, StringConstraints, ValidationError
from pydantic_core import ErrorDetails, PydanticCustomError

from ashfell.core.base.lengths import Length, LengthError, Unit
from ashfell.core.base.refusal import Refusal

Data = dict[str, Any]
"""A document as JSON data."""


SMALLEST, LARGEST = Fraction(1, 100), Fraction(1_000_000)
"""The least size, and the largest length, mm."""


def _above_zero(length: Length) -> Length:
    if length.mm <= 0:
        raise PydanticCustomError("size", "{text} is not above zero.", {"text": length.text})
    if length.mm < SMALLEST:
        raise PydanticCustomError("too_small", "{text} is too small to be made.", {"text": length.text})
    return _within_reach(length)


def _not_negative(length: Length) -> Length:
    if length.mm < 0:
        raise PydanticCustomError("gap", "{text} is below zero.", {"text": length.text})
    return _within_reach(length)


def _within_reach(length: Length) -> Length:
    if abs(length.mm) > LARGEST:
        raise PydanticCustomError("too_large", "{text} is more than any building.", {"text": length.text})
    return length


def _share(value: Fraction) -> Fraction:
    if not 0 < value <= 1000:
        raise PydanticCustomError("share", "A share is above 0 and at most 1000.", {})
    return value


Size = Annotated[Length, AfterValidator(_above_zero)]
"""A length above zero."""


Gap = Annotated[Length, AfterValidator(_not_negative)]
"""A length that may be zero."""


Place = Annotated[Length, AfterValidator(_within_reach)]
"""A length either way."""


Share = Annotated[
    Fraction,
    AfterValidator(_share),
    PlainSerializer(lambda value: int(value) if value.denominator == 1 else str(value)),
]
"""A part of what is left, relative to the other shares."""


Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]


Key = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9-]{0,59}$")]

Side = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9.-]{0,59}$")]
"""The name of a side of an outline: ``sill``, or with its number ``corner.1``."""


def mm(text: str) -> Length:
    """A length as a default of a field."""
    return Length.read(text)


class Document(BaseModel):
    """A strict, immutable part of a document: unknown entries are refused."""

    model_config = ConfigDict(extra="forbid", frozen=True, validate_default=True, serialize_by_alias=True)


Model = TypeVar("Model", bound=BaseModel)


def read(model: type[Model], data: Mapping[str, Any]) -> Model:
    """A document from JSON data.

    Raises
    ------
    Refusal
        For the first entry that is wrong, with its dotted path.
    """
    try:
        return model.model_validate(data)
    except ValidationError as error:
        raise refusal_of(error.errors()[0]) from error


def dump(document: BaseModel) -> dict[str, Any]:
    """The document as JSON data, lengths as they were typed."""
    return document.model_dump(mode="json")


def typed_length(entry: str, value: str, bare: Unit) -> str:
    """What is kept of a typed length: the text, with ``bare`` behind a number without a unit unless that is mm."""
    try:
        return Length.read(value, bare).text
    except LengthError as error:
        raise Refusal(entry, "a length", error.reason, position=error.position) from error


def refusal_of(error: ErrorDetails) -> Refusal:
    """A model's validation error in the project's own words."""
    entry = ".".join(str(place) for place in error["loc"])
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
            return f"{words} {context[name]}", f"Type {words} {context[name]}."
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
