"""What the instances of a scene are of: parts in their own space, by name."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from ashfell.core.parts import Part
from ashfell.core.site.standing import Standing


class Definitions(Mapping[str, tuple[Part, ...]]):
    """Parts by name; those of a host are cut when they are first asked for.

    Parameters
    ----------
    made : mapping
        Parts, or the host that they are of, by name.
    """

    def __init__(self, made: Mapping[str, tuple[Part, ...] | Standing]) -> None:
        self._made = dict(made)

    def __getitem__(self, name: str) -> tuple[Part, ...]:
        made = self._made[name]
        return made.parts if isinstance(made, Standing) else made

    def __iter__(self) -> Iterator[str]:
        return iter(self._made)

    def __len__(self) -> int:
        return len(self._made)
