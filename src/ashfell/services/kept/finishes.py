"""A project's own finishes: where they are used, another in their place, those of a person's other projects."""

from __future__ import annotations

import time
from collections.abc import Callable, Collection, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from django.db import transaction

from ashfell.core.base.address import Address
from ashfell.core.base.document import Data
from ashfell.core.finish import LIBRARY
from ashfell.core.finishing.uses import replaced, uses
from ashfell.core.unit import read_unit
from ashfell.core.unit.edit.change import change
from ashfell.services.kept.models import Project, Record
from ashfell.services.kept.records import refuse_unknown_finishes

MOST_OTHERS = 60
"""The most finishes of other projects that are offered."""


PATIENCE = 3.0
"""Seconds after which what was changed is kept and the rest left: nobody waits longer for a page."""


@dataclass(frozen=True)
class Changed:
    """The revisions that were made, one of each record that was changed, and how many records are left to be looked at
    when it is asked for again."""

    revisions: tuple[int, ...]
    left: int = 0

    def said(self, thing: str, none: str) -> str:
        """In words, what is changed being things; ``none`` where nothing was to be changed."""
        things = f"{counted(len(self.revisions), thing)} changed"
        if self.left:
            return f"{things}, {self.left} are still to be looked at: do it again to go on."
        return f"{things}." if self.revisions else none


def counted(count: int, thing: str) -> str:
    """So many of something.

    >>> counted(1, "unit"), counted(2, "unit")
    ('1 unit', '2 units')
    """
    return f"{count} {thing}{'' if count == 1 else 's'}"


@dataclass(frozen=True)
class Use:
    """How often a unit or the site names a finish."""

    record: Record
    name: str
    count: int


def uses_of(project: Project, key: str) -> list[Use]:
    """The units that name a finish, by name, and the site."""
    found = [(record, len(uses(record.data, key))) for record in _holders(project)]
    return [Use(record, "" if record.kind == "site" else record.name, count) for record, count in found if count]


def _holders(project: Project) -> Iterator[Record]:
    yield project.site
    yield from project.units


@transaction.atomic
def replace_everywhere(project: Project, key: str, other: str, person: Any, words: str) -> Changed:
    """Another finish in the place of one, in every unit and the site: a revision of each."""
    return _changed([*_holders(project)], lambda data: replaced(data, key, other), person, words)


ROLE_TABLES = ("finishes", "inner")
"""Entries of a unit that hold the finishes of roles."""


@transaction.atomic
def give_everywhere(project: Project, entry: Address, key: str, person: Any, words: str) -> Changed:
    """A role's finish (``finishes.frame``, ``inner.frame``) in every unit of a project that has another: a revision of
    each.

    Raises
    ------
    Refusal
        When that is no role, or there is no such finish.
    """

    def given(data: Data) -> Data:
        other = change(data, entry, key)
        if other == data:
            return data
        read_unit(other)
        refuse_unknown_finishes(project, other, data)
        return other

    return _changed([*project.units], given, person, words)


def _changed(records: Sequence[Record], other: Callable[[Data], Data], person: Any, words: str) -> Changed:
    """Records with other data where it differs, as many as there is time for."""
    begun, made = time.monotonic(), list[int]()
    for number, record in enumerate(records):
        if made and time.monotonic() - begun > PATIENCE:
            return Changed(tuple(made), len(records) - number)
        before = record.data
        data = other(before)
        if data is not before:
            made.append(record.save_change(data, record.current_id or 0, person, words).pk)
    return Changed(tuple(made))


@transaction.atomic
def taken_back(project: Project, revisions: Collection[int]) -> str:
    """Undo what was changed in many documents at once, where nobody changed them since; in words."""
    here = [key for key, current in project.records.values_list("pk", "current_id") if current in revisions]
    found = project.records.filter(pk__in=here).select_related("current__parent")
    undone = sum(record.undone is not None and record.choose(record.undone, record.current_id or 0) for record in found)
    told = f"{counted(undone, 'document')} as before."
    kept = len(revisions) - undone
    return f"{told} {kept} changed since, and {'is' if kept == 1 else 'are'} left so." if kept else told


@transaction.atomic
def start(project: Project, name: str, data: Data, person: Any) -> Record:
    """A new finish under a free key made from its name, which none that ships has."""
    key = project.free_key("finish", name)
    return Record.start(project, "finish", key if key not in LIBRARY else f"{key}-own", data, person)


def of_other_projects(person: Any, project: Project) -> list[tuple[Record, Data]]:
    """The finishes that a person made in other projects, those of one content once."""
    records = Record.objects.filter(kind="finish", project__members=person, project__binned=None).exclude(
        project=project
    )
    found: dict[str, tuple[Record, Data]] = {}
    own = {str(record.data) for record in project.finishes}
    for record in records.select_related("project", "current").order_by("-pk")[: 4 * MOST_OTHERS]:
        text = str(record.data)
        if text not in own:
            found.setdefault(text, (record, record.data))
    return [*found.values()][:MOST_OTHERS]
