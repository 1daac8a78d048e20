"""What all documents share: the field types, strict models, and reading with one kind of error."""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction
from typing import Annotated, Any, TypeVar

from pydantic import AfterValidator, BaseModel, ConfigDict, PlainSerializer, StringConstraints, ValidationError
from pydantic_core import PydanticCustomError

from ashfell.core.base.lengths import Length, LengthError, Unit
from ashfell.core.base.misfit import LARGEST, SMALLEST, refusal_of
from ashfell.core.base.refusal import Refusal

Data = dict[str, Any]
"""A document as JSON data."""


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

    model_config = ConfigDict(extra="forbid", frozen=True, serialize_by_alias=True)


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
