"""A unit with some of its entries given other values than the generator gives them: any entry of the schema, each as
likely as any other."""

from __future__ import annotations

import random
from collections import defaultdict
from collections.abc import Iterator
from fractions import Fraction
from types import NoneType, UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from pydantic import BaseModel, RootModel
from pydantic.fields import FieldInfo

from ashfell.core.base.document import dump
from ashfell.core.base.lengths import Length
from ashfell.core.base.refusal import Refusal
from ashfell.core.finish import LIBRARY
from ashfell.core.kinds.roles import Finishes
from ashfell.core.unit import read_unit

Data = dict[str, Any]
Entry = tuple[Data, FieldInfo, str]
"""What holds an entry, what it is, and its name."""
NAMES = ("format", "name", "kind", "source", "item", "version", "tags", "painted", "grain", "content", "cells", "of")
"""Entries that are no size and no choice of a shape, or that others throw."""
MOULDED = ((0, -8), (0, -6), (5, 0), (13, 0), (18, -6), (18, -8))
SECTIONS = {
    owner: [{"x": str(x), "y": str(y)} for x, y in points]
    for owner, points in {
        "Casing": ((0, 0), (60, 0), (60, 14), (30, 22), (0, 16)),
        "Board": ((0, 0), (20, 0), (20, 70), (0, 90)),
        "Sill": ((-80, -40), (60, -48), (60, -8), (0, 0), (-80, 0)),
        "Muntins": MOULDED,
        "MuntinFace": MOULDED,
        "BarEntry": ((0, -60), (0, -4), (12, 0), (28, 0), (40, -4), (40, -60)),
    }.items()
}
"""Sections of their own, by what has them, mm."""
TWO_ROWS = {"rows": {"lights": [{}, {}], "bars": ["40"]}}
USUAL = {
    **{"depth": (60, 90), "size": (200, 500), "thickness": (4, 20), "forward": (-5, 30), "over": (130, 200)},
    **{"rim": (9, 16), "setback": (0, 8), "foot": (3, 14), "active": (150, 400), "down": (1, 4), "across": (20, 200)},
    **{"stop_depth": (10, 30), "radius": (230, 600), "rise": (20, 60), "length": (60, 300), "width": (30, 90)},
}
"""Lengths of entries that nothing is said of at first, mm."""


def varied(unit: Data, pick: random.Random, most: int = 4) -> Data:
    """The unit with up to so many entries changed; what its schema would refuse is left as it was."""
    data = dump(read_unit(unit))
    for _ in range(pick.randint(0, most)):
        kinds: dict[str, dict[str, list[Entry]]] = defaultdict(lambda: defaultdict(list))
        for owner, entry in entries(read_unit(data), data):
            kinds[owner][entry[2]].append(entry)
        name_of = pick.choice(sorted(kinds))
        own = kinds[name_of]
        holder, field, name = pick.choice(own[pick.choice(sorted(own))])
        before = holder[name]
        drawn = name == "section" and name_of in SECTIONS
        holder[name] = SECTIONS[name_of] if drawn else _another(holder, field.annotation, name, pick)
        try:
            data = dump(read_unit(data))
        except Refusal:
            holder[name] = before
    return data


def entries(model: BaseModel, data: Data) -> Iterator[tuple[str, Entry]]:
    """Every entry of a document and of all in it, with the kind of what holds it."""
    for name, field in type(model).model_fields.items():
        value = getattr(model, name)
        has_section = name == "section" and type(model).__name__ in SECTIONS
        if has_section or (name not in NAMES and _is_varied(field.annotation)):
            yield type(model).__name__, (data, field, name)
        if isinstance(value, BaseModel) and not isinstance(value, RootModel):
            yield from entries(value, data[name])
        elif isinstance(value, list | tuple):
            for one, own in zip(value, data[name], strict=True):
                if isinstance(one, BaseModel):
                    yield from entries(one, own)
        elif isinstance(value, dict):
            for key, one in value.items():
                if isinstance(one, BaseModel):
                    yield from entries(one, data[name][key])


def _plain(annotation: Any) -> tuple[Any, bool]:
    """What an entry is, and whether it may be left out."""
    optional = False
    while get_origin(annotation) in (Annotated, Union, UnionType):
        args = get_args(annotation)
        if get_origin(annotation) is Annotated:
            annotation = args[0]
        else:
            optional = optional or NoneType in args
            annotation = next(one for one in args if one is not NoneType)
    return annotation, optional


def _is_varied(annotation: Any) -> bool:
    kind, optional = _plain(annotation)
    if get_origin(kind) in (Literal, dict) or kind in (Length, bool, int, float, Fraction, str, Finishes):
        return True
    if not optional or not isinstance(kind, type) or not issubclass(kind, BaseModel):
        return False
    return "kind" not in kind.model_fields or not kind.model_fields["kind"].is_required()


def _another(holder: Data, annotation: Any, name: str, pick: random.Random) -> Any:
    """Another value of an entry."""
    value, (kind, optional) = holder[name], _plain(annotation)
    if get_origin(kind) is dict or kind is Finishes:
        return _map(holder, name, pick)
    if optional and value is not None and pick.random() < 0.2:
        return None
    if get_origin(kind) is Literal:
        return pick.choice(get_args(kind))
    if kind is Length:
        low, high = USUAL.get(name, (5, 30))
        return _length(_mm(value) * pick.uniform(0.7, 1.3) if value and _mm(value) else pick.uniform(low, high))
    if kind is bool:
        return not value
    if kind is int:
        return (value if value is not None else 1) + pick.choice((-1, 1, 2))
    if kind is float:
        return round(value * pick.uniform(0.6, 1.5), 3) if value else pick.choice((-0.2, 0.2, 5.0, 20.0, 45.0))
    if kind is Fraction:
        return pick.choice(("1/2", "3/2", "2"))
    if kind is str:
        return pick.choice(sorted(LIBRARY)) if name == "finish" else value
    return {} if value is None else value


def _map(holder: Data, name: str, pick: random.Random) -> Data:
    """Another table of what differs, by side, by sash or by role."""
    if name in ("sides", "steps"):
        low, high = (0, 30) if name == "steps" else (0.8 * _mm(holder["face"]), 1.8 * _mm(holder["face"]))
        keys = ("sill", "head", "jambs") if name == "steps" else ("sill", "head", "left", "right")
        return {key: _length(pick.uniform(low, high)) for key in pick.sample(keys, pick.randint(1, 2))}
    if name == "each":
        one = {"opened": pick.choice((0, 25, 100)), "content": pick.choice((None, TWO_ROWS)), "hand": None}
        if pick.random() < 0.3:
            one["glazing"] = {"thickness": _length(pick.uniform(4, 10)), "setback": "14", "clearance": "2"}
        return {_sash(holder, pick): one}
    return {pick.choice(("frame", "bar", "sash", "muntin", "bead")): pick.choice(sorted(LIBRARY))}


def _sash(fill: Data, pick: random.Random) -> str:
    """One of several sashes."""
    if fill["kind"] == "sliders":
        return pick.choice(("upper", "lower")) if fill["slide"] == "up" else f"panel-{pick.randint(1, fill['panels'])}"
    if fill["kind"] in ("folding", "sliding-leaf"):
        return f"leaf-{pick.randint(1, fill['leaves'])}"
    return pick.choice(("left", "right"))


def _mm(value: Any) -> float:
    return float(Length.read(value).mm)


def _length(mm: float) -> str:
    return str(round(mm * 4) / 4)
