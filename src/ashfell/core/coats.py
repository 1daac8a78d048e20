"""Coats: a part as it is finished, in one piece of surface for each of its finishes."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace

import numpy as np

from ashfell.core.parts import Part
from ashfell.core.solid.parted import parted


def coats(part: Part) -> tuple[Part, ...]:
    """The part itself, or, where its inner side has another finish, its surface before and behind the plane between:
    neither is closed then, and both have its name."""
    if part.inner is None:
        return (part,)
    outer, inner = parted(part.solid, np.array(part.inner.normal), part.inner.offset)
    sides = (outer, part.finish), (inner, part.inner.finish)
    return tuple(replace(part, solid=solid, finish=key, inner=None) for solid, key in sides if len(solid.triangles))


def coated(parts: Iterable[Part]) -> Iterator[Part]:
    """Every coat of some parts."""
    for part in parts:
        yield from coats(part)


def finishes_of(part: Part) -> tuple[str, ...]:
    """The keys of its finishes, the outer one first."""
    return (part.finish,) if part.inner is None else tuple(dict.fromkeys((part.finish, part.inner.finish)))
