"""Places in a unit document: walked to, read as what the schema says stands there, set."""

from __future__ import annotations

import copy
import json
from fractions import Fraction
from types import NoneType, UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from pydantic import BaseModel, RootModel

from ashfell.core.base.address import Address, cell_place
from ashfell.core.base.document import Data, dump, typed_length
from ashfell.core.base.lengths import Length, Unit
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.registry import OneOf
from ashfell.core.kinds.filling import usual_fill
from ashfell.core.unit.document.cell import Cell
from ashfell.core.unit.document.unit import UnitDocument


def unknown(address: str, remedy: str = "") -> Refusal:
    """The refusal of an address at which nothing stands."""
    return Refusal(address, "a known entry", f"There is no entry “{address}”.", remedy)


def at(data: Data, address: str, make: bool = True) -> Any:
    """What stands at an address; with ``make`` a light that says nothing yet gets a cell, a filling or a glazing to say
    it in.

    Raises
    ------
    Refusal
        When there is no such entry, also when its cell has no light of that column and row.
    """
    here: Any = data
    walked = Address()
    for step in Address(address).steps:
        try:
            if isinstance(here, list):
                here = here[int(step)]
                continue
            if make:
                _make(data, here, walked, step)
            here = here[step]
            walked = walked / step
        except (KeyError, IndexError, ValueError, TypeError) as error:
            raise unknown(address) from error
    return here


def _make(data: Data, here: Any, walked: Address, step: str) -> None:
    """What is not there yet and may be."""
    if step not in here and walked.last == "cells" and cell_place(step):
        owner = at(data, walked.parent, make=False)
        refuse_no_light(owner, walked / step)
        here[step] = dump(Cell())
    if step == "fill" and here.get("fill") is None:
        here["fill"] = _fill_around(data, walked)
    if walked.last == "each" and step not in here:
        here[step] = {"content": None, "glazing": None, "opened": None, "hand": None}
    if step == "content" and here.get("content") is None:
        here["content"] = copy.deepcopy(at(data, walked.parent.parent, make=False)["content"])
    if step == "glazing" and here.get("glazing") is None:
        here["glazing"] = copy.deepcopy(data["glazing"])


def _fill_around(data: Data, cell: Address) -> Data:
    """The filling of a cell that has none of its own: that of the nearest cell around it in the same ring."""
    while cell.parent.last == "cells":
        cell = cell.parent.parent
        if fill := at(data, cell, make=False).get("fill"):
            return copy.deepcopy(fill)
    return dump(usual_fill())


def refuse_no_light(owner: Data, address: Address) -> None:
    """Refuse a light of a column or row that a cell does not have.

    Raises
    ------
    Refusal
    """
    place = cell_place(address.last)
    across, up = len(owner["columns"]["lights"]), len(owner["rows"]["lights"])
    if across == up == 1 and not owner.get("angled"):
        raise Refusal(
            address, "a light that is there", "It is one light and not divided.", "Leave the cell out of the address."
        )
    if place is None or place[0] > across or place[1] > up:
        raise Refusal(
            address,
            "a light that is there",
            f"There is no light {address.last}: it has {across} across and {up} up.",
            f"Name one from c1r1 to c{across}r{up}.",
        )


def put(data: Data, address: str, value: str, bare: Unit, model: type[BaseModel] = UnitDocument) -> None:
    """One value set, read as what the schema of a ``model`` says stands there; an empty one leaves out what may be left
    out.

    Raises
    ------
    Refusal
        When there is no such entry, or the value cannot stand there.
    """
    path, last = Address(address).parent, Address(address).last
    if not last:
        raise unknown(address)
    holder = at(data, path)
    kind = _kind_at(data, address, model)
    if isinstance(holder, list):
        if not last.isdigit() or int(last) >= len(holder):
            raise unknown(address)
        holder[int(last)] = _read(address, value, kind, bare)
        return
    if not isinstance(holder, dict):
        raise unknown(address)
    if not value.strip() and any(get_origin(option) is dict for option in _options(_kind_at(data, path, model))):
        holder.pop(last, None)
    else:
        holder[last] = _read(address, value, kind, bare)


def _options(kind: Any) -> list[Any]:
    """What a field's type may be, unions and annotations taken apart; a type of registered kinds stays whole."""
    if get_origin(kind) is Annotated:
        inner, *more = get_args(kind)
        return [kind] if any(isinstance(one, OneOf) for one in more) else _options(inner)
    if get_origin(kind) in (Union, UnionType):
        return [option for part in get_args(kind) for option in _options(part)]
    return [kind]


def _kind_at(data: Data, address: str, model: type[BaseModel]) -> Any:
    """The type of what stands at an address, from the models."""
    kind: Any = model
    here: Any = data
    for step in Address(address).steps:
        kind = _kind_below(kind, step, here, address)
        try:
            here = here[int(step)] if isinstance(here, list) else here.get(step) if isinstance(here, dict) else None
        except (IndexError, ValueError) as error:
            raise unknown(address) from error
    return kind


def _kind_below(kind: Any, step: str, here: Any, address: str) -> Any:
    tag = here.get("kind") if isinstance(here, dict) else None
    for option in _options(kind):
        found = _step(option, step, tag)
        if found is not None:
            return found
    raise unknown(address)


def _step(option: Any, step: str, tag: Any) -> Any:
    """The type one step further in, if a type has such a step."""
    origin = get_origin(option)
    if origin is Annotated:
        one = next(more for more in get_args(option) if isinstance(more, OneOf))
        record = one.registry.get(tag or one.usual)
        return _step(record.entry, step, None) if record else None
    if origin is dict:
        return get_args(option)[1]
    if origin is tuple:
        return get_args(option)[0]
    if not isinstance(option, type) or not issubclass(option, BaseModel):
        return None
    if issubclass(option, RootModel):
        return _step(option.model_fields["root"].annotation, step, None)
    field = option.model_fields.get(step)
    if field is None:
        return None
    return Annotated[field.annotation, *field.metadata] if field.metadata else field.annotation


def _read(address: str, value: str, kind: Any, bare: Unit) -> Any:
    """A typed value as JSON data of a kind."""
    options, text = _options(kind), value.strip()
    if not text and NoneType in options:
        return None
    for option in options:
        if option is Length:
            return typed_length(address, value, bare)
        if option is bool:
            return text in ("1", "true", "yes", "on")
        if option is int or option is float or option is Fraction:
            return number(address, text, whole=option is int, share=option is Fraction)
        if get_origin(option) is Literal:
            if text in get_args(option):
                return text
            choices = ", ".join(get_args(option))
            raise Refusal(address, "one of a list", f"“{text}” is not one of {choices}.", "Choose one of them.")
        if isinstance(option, type) and issubclass(option, BaseModel) and text in ("1", "yes", "on"):
            return dump(option())
        if option is str:
            return text
    if text[:1] in "[{" and text:
        return _json(address, text)
    raise Refusal(address, "a value", f"“{text}” cannot stand here.", "Change one of its parts.")


def number(address: str, text: str, whole: bool, share: bool = False) -> Any:
    """A number as JSON data: a whole one, one with decimals, or a share as a whole number or a fraction.

    Raises
    ------
    Refusal
        When it is none.
    """
    try:
        if share:
            value = Fraction(text)
            return int(value) if value.denominator == 1 else str(value)
        return int(text) if whole else float(text.removesuffix("°").removesuffix("%"))
    except (ValueError, ZeroDivisionError) as error:
        what = "a whole number" if whole else "a number"
        remedy = "Type 1, 2, 3 …" if whole else "Type a number, for example 12.5."
        raise Refusal(address, what, f"“{text}” is not {what}.", remedy) from error


def _json(address: str, text: str) -> Any:
    try:
        return json.loads(text)
    except ValueError as error:
        raise Refusal(address, "a value", "This cannot be read.", "Put the points as [[x, y], …].") from error
