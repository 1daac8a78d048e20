"""How far long work has come: told to whoever listens, and to nobody where nobody does."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import TypeVar

T = TypeVar("T")
Listener = Callable[[str, int, int], None]
"""Is told what is being done, how many of it are done, and how many there are."""
_listener: ContextVar[Listener | None] = ContextVar("listener", default=None)


@contextmanager
def heard_by(listener: Listener) -> Iterator[None]:
    """How far work within has come is told to ``listener``."""
    before = _listener.set(listener)
    try:
        yield
    finally:
        _listener.reset(before)


def tell(what: str, done: int, of: int) -> None:
    """Tell that so many of so many are done."""
    listener = _listener.get()
    if listener is not None:
        listener(what, done, of)


def steps(items: Collection[T], what: str) -> Iterator[T]:
    """The same items; after each it is told how many of them are done.

    Examples
    --------
    >>> with heard_by(print):
    ...     held = [*steps(["a", "b"], "walls")]
    walls 0 2
    walls 1 2
    walls 2 2
    """
    of = len(items)
    tell(what, 0, of)
    for number, item in enumerate(items, 1):
        yield item
        tell(what, number, of)
