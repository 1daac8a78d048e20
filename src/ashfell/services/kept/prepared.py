"""Queries whose statement is made once.

Django makes the statement of a query set anew each time it is asked, which takes several times as long as SQLite takes
to answer it. What nearly every request asks is said as a query set all the same, and prepared here.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from typing import Any, Generic, TypeVar

from django.db.models import Model, QuerySet

Own = TypeVar("Own", bound=Model)
MARK = 10**15
"""Numbers from here on stand for what is asked, while the statement is made: no key of a row is as large."""


class Prepared(Generic[Own]):
    """A query of rows of one model, with what is asked of it in order: ``made`` answers with the query set for stand-
    ins of the ``names`` asked, each of which it must use as it is.

    A model that is beside another one (``select_related``) does not come with it.
    """

    def __init__(self, made: Callable[..., QuerySet[Own]], *names: str) -> None:
        self.made, self.names = made, names

    @cached_property
    def _statement(self) -> tuple[type[Own], str, tuple[Any, ...]]:
        """The model, the statement, and what fills it: names of what is asked, and values that are always the same."""
        stands_for = {MARK + place: name for place, name in enumerate(self.names)}
        found = self.made(**{name: mark for mark, name in stands_for.items()})
        statement, filled = found.query.sql_with_params()
        names = tuple(stands_for.get(int(one) if str(one).isdecimal() else -1, _Always(one)) for one in filled)
        missing = {*self.names} - {name for name in names if isinstance(name, str)}
        if missing:
            raise TypeError(f"{sorted(missing)} must be asked for as they are.")
        return found.model, statement, names

    def __call__(self, **asked: Any) -> list[Own]:
        """The rows, with every field of the model and what the query set annotates."""
        model, statement, names = self._statement
        filled = [name.value if isinstance(name, _Always) else asked[name] for name in names]
        return list(model._default_manager.raw(statement, filled))

    def first(self, **asked: Any) -> Own | None:
        """The first row; None where there is none."""
        return next(iter(self(**asked)), None)


class _Always:
    """A value that is part of the query."""

    def __init__(self, value: Any) -> None:
        self.value = value
