"""Lamps: each kind says what shape gives its light, which entries it has, and what it begins as."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from ashfell.core.base.registry import Registry

Shape = Literal["ball", "plate", "cone"]
"""What gives the light: a ball to all sides, a plate from its one face by the cosine, a cone from a point."""


@dataclass(frozen=True)
class LampKind:
    """One kind of lamp.

    Attributes
    ----------
    key : str
        Its ``kind`` in documents.
    label : str
        As the page lists it.
    order : int
        Where it stands among the others.
    shape : str
    entries : tuple of str
        Which entries it has besides its place and its light.
    start : mapping
        What they begin as where a lamp becomes one of this kind.
    """

    key: str
    label: str
    order: int
    shape: Shape
    entries: tuple[str, ...]
    start: Mapping[str, str | float] = field(default_factory=dict)


LAMPS: Registry[LampKind] = Registry("kind of lamp", "ashfell.core.kinds.lamps")
