"""What stands round a building: each kind says which entries it has, what it begins as, and what it is made of."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Protocol

from ashfell.core.base.lengths import Length
from ashfell.core.base.registry import Registry
from ashfell.core.plane.points import Floats
from ashfell.core.solid.topology import Solid


class Sizes(Protocol):
    """What one is made by, as a document says it."""

    @property
    def width(self) -> Length: ...
    @property
    def depth(self) -> Length: ...
    @property
    def height(self) -> Length: ...
    @property
    def ridge(self) -> Length: ...
    @property
    def trunk(self) -> Length: ...
    @property
    def seed(self) -> int: ...
    @property
    def finish(self) -> str: ...
    @property
    def mesh(self) -> str: ...
    @property
    def as_brought(self) -> bool: ...


Pieces = list[tuple[str, str, Solid]]
"""What one is made of: name, finish, solid; its middle at the origin, its foot at w = 0, mm."""


@dataclass(frozen=True)
class SurroundingKind:
    """One kind of what stands round a building.

    Attributes
    ----------
    key : str
        Its ``kind`` in documents.
    label : str
        As the page lists it.
    order : int
        Where it stands among the others.
    entries : tuple of str
        Which entries it has besides its place, its height and its finish.
    start : mapping
        What they begin as where one becomes one of this kind.
    made : callable
        From a document's entry to what it is made of.
    outline : callable
        And to its outline from above, (c, 2) mm round its middle.
    """

    key: str
    label: str
    order: int
    entries: tuple[str, ...]
    made: Callable[[Sizes], Pieces]
    outline: Callable[[Sizes], Floats]
    start: Mapping[str, str | int] = field(default_factory=dict)


SURROUNDINGS: Registry[SurroundingKind] = Registry("kind of surrounding", "ashfell.core.kinds.surroundings")
