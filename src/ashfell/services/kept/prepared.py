"""Queries whose statement is made once.

Django makes the statement of a query set anew each time it is asked, which takes several times as long as SQLite takes
to answer it. What nearly every request asks is said as a query set all the same, and prepared here.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Generic, TypeVar

from django.db import connections
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
    def _statement(self) -> _Statement[Own]:
        stands_for = {MARK + place: name for place, name in enumerate(self.names)}
        found = self.made(**{name: mark for mark, name in stands_for.items()})
        compiler = found.query.get_compiler(found.db)
        text, filled = compiler.as_sql()
        names = tuple(stands_for.get(int(one) if str(one).isdecimal() else -1, _Always(one)) for one in filled)
        missing = {*self.names} - {name for name in names if isinstance(name, str)}
        if missing:
            raise TypeError(f"{sorted(missing)} must be asked for as they are.")
        columns = [column for column, _, _ in compiler.select]
        of_model = [columns[place].target.attname for place in compiler.klass_info["select_fields"]]
        read = [(place, *how) for place, how in compiler.get_converters(columns).items()]
        return _Statement(found.model, found.db, text, names, of_model, read, compiler.annotation_col_map)

    def __call__(self, **asked: Any) -> list[Own]:
        """The rows, with every field of the model and what the query set annotates."""
        return self._statement.answered(asked)

    def first(self, **asked: Any) -> Own | None:
        """The first row; None where there is none."""
        return next(iter(self(**asked)), None)


@dataclass(frozen=True)
class _Always:
    """A value that is part of the query."""

    value: Any


@dataclass(frozen=True)
class _Statement(Generic[Own]):
    """A statement: the model and its database, what it says, what fills it (names of what is asked, and values that
    are always the same), the fields of the model that its columns are, how columns are read by their places, and the
    places of what is annotated."""

    model: type[Own]
    database: str
    text: str
    filled: Sequence[str | _Always]
    fields: list[str]
    read: Sequence[tuple[int, Sequence[Callable[..., Any]], Any]]
    annotated: dict[str, int]

    def answered(self, asked: dict[str, Any]) -> list[Own]:
        """The rows for what is asked."""
        connection = connections[self.database]
        with connection.cursor() as cursor:
            cursor.execute(self.text, [one.value if isinstance(one, _Always) else asked[one] for one in self.filled])
            rows = [list(row) for row in cursor.fetchall()]
        found = []
        for row in rows:
            for place, ways, column in self.read:
                for way in ways:
                    row[place] = way(row[place], column, connection)
            made = self.model.from_db(self.database, self.fields, row[: len(self.fields)])
            for name, place in self.annotated.items():
                setattr(made, name, row[place])
            found.append(made)
        return found
