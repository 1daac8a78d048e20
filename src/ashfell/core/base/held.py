"""What documents only name by the SHA-256 of its content: whatever holds one, it is the same one.

What holds some offers itself as a source; the core reads no files.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from typing import Generic, TypeVar

from ashfell.core.base.refusal import Refusal

Given = TypeVar("Given")
Made = TypeVar("Made")


class Held(Generic[Given, Made]):
    """Things by their keys.

    Parameters
    ----------
    made : callable
        What is made of what a source gives.
    missing : callable
        The refusal of a key that nothing holds.
    kept : int
        How many of them are kept.
    """

    def __init__(self, made: Callable[[Given], Made], missing: Callable[[str], Refusal], kept: int = 8) -> None:
        self._made, self._missing = made, missing
        self._sources: list[Callable[[str], Given | None]] = []
        self._kept = lru_cache(maxsize=kept)(self._found)

    def offer(self, source: Callable[[str], Given | None]) -> Callable[[str], Given | None]:
        """Add a source, which gives None for what it does not hold; it is asked before those that are there."""
        if source not in self._sources:
            self._sources.insert(0, source)
        return source

    def __call__(self, key: str) -> Made:
        """What has a key.

        Raises
        ------
        Refusal
            When nothing holds it.
        """
        return self._kept(key)

    def _found(self, key: str) -> Made:
        for source in self._sources:
            given = source(key)
            if given is not None:
                return self._made(given)
        raise self._missing(key)
