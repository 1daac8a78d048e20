"""The coats of all that stands on a site: those of a definition are made once, and stand wherever it is used."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import overload

import numpy as np

from ashfell.core.parts import Part
from ashfell.core.site.instance import Instance
from ashfell.core.solid.topology import Indices


@dataclass(frozen=True, eq=False)
class Coats(Sequence[Part]):
    """Every coat in the site's space, mm, its id behind that of its instance: instance by instance, moved when it is
    asked for. ``definitions`` are coats in their own space."""

    definitions: Mapping[str, tuple[Part, ...]]
    instances: tuple[Instance, ...]

    @cached_property
    def firsts(self) -> Indices:
        """The number of the first coat of each instance, from 0, and how many there are in all, (n + 1,)."""
        counts = [len(self.definitions[one.definition]) for one in self.instances]
        return np.concatenate([[0], np.cumsum(counts, dtype=np.int64)]).astype(np.int32)

    @cached_property
    def triangles(self) -> int:
        """How many triangles all of them have, each counted wherever it stands."""
        return sum(self._of[one.definition] for one in self.instances)

    @cached_property
    def repeated(self) -> int:
        """How many of these stand elsewhere already."""
        return self.triangles - sum(self._of[key] for key in {one.definition for one in self.instances})

    @cached_property
    def _of(self) -> dict[str, int]:
        """How many triangles each definition has."""
        return {key: sum(len(part.solid.triangles) for part in parts) for key, parts in self.definitions.items()}

    def __len__(self) -> int:
        return int(self.firsts[-1])

    @overload
    def __getitem__(self, index: int) -> Part: ...

    @overload
    def __getitem__(self, index: slice) -> Sequence[Part]: ...

    def __getitem__(self, index: int | slice) -> Part | Sequence[Part]:
        if isinstance(index, slice):
            return [self[number] for number in range(*index.indices(len(self)))]
        number = index + len(self) if index < 0 else index
        if not 0 <= number < len(self):
            raise IndexError(index)
        at = int(np.searchsorted(self.firsts, number, side="right")) - 1
        one = self.instances[at]
        return self.definitions[one.definition][number - int(self.firsts[at])].moved(one.matrix, f"{one.id}/")

    def __iter__(self) -> Iterator[Part]:
        for one in self.instances:
            for part in self.definitions[one.definition]:
                yield part.moved(one.matrix, f"{one.id}/")

    @property
    def named(self) -> Iterator[Part]:
        """The same where its definition is: for who only asks what each is called."""
        for one in self.instances:
            for part in self.definitions[one.definition]:
                yield replace(part, id=f"{one.id}/{part.id}")
