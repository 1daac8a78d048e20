"""A whole project at once: all that is kept of it, and a project made of what was handed over."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from django.db import transaction
from django.utils.dateparse import parse_datetime

from ashfell.core.base.document import Data
from ashfell.services.kept.models import Project, Record, Revision, with_every_entry

TABLES = {"unit": "units", "finish": "finishes"}


def _name(record: Record) -> str:
    """What a document is called in a project's file."""
    return "site" if record.kind == Record.Kind.SITE else f"{TABLES[record.kind]}/{record.key}"


def underlays_of(project: Project) -> dict[str, Data]:
    """What lies under the documents of a project, by their names."""
    found = ((_name(record), record.underlay) for record in project.records.select_related("current"))
    return {name: under for name, under in found if under is not None}


def revisions_of(project: Project) -> dict[str, list[Data]]:
    """All revisions of the documents of a project, by their names, numbered from 1."""
    return {_name(record): list(_revisions(record)) for record in project.records.all()}


def _revisions(record: Record) -> Iterator[Data]:
    numbers: dict[int, int] = {}
    for number, one in enumerate(record.revisions.order_by("pk"), 1):
        numbers[one.pk] = number
        yield {
            "number": number,
            "parent": numbers.get(one.parent_id or 0, 0),
            "made": one.made.isoformat(),
            "words": one.words,
            "label": one.label,
            "data": one.data,
            "underlay": one.underlay,
            "offered": one.offered,
            "current": one.pk == record.current_id,
        }


@transaction.atomic
def take_in(
    site: Data,
    person: Any,
    name: str = "",
    underlays: Mapping[str, Data] = {},
    revisions: Mapping[str, Sequence[Data]] = {},
) -> Project:
    """A new project of a site with its units and finishes, with the revisions it is handed over with."""
    project = Project.objects.create(name=(name or str(site["name"]))[:80])
    project.members.add(person)
    documents = {"site": ("site", "site", site | {"units": {}, "finishes": {}})}
    for kind, table in TABLES.items():
        documents |= {f"{table}/{key}": (kind, key, data) for key, data in site.get(table, {}).items()}
    for called, (kind, key, data) in documents.items():
        if revisions.get(called):
            _with_revisions(Record.objects.create(project=project, kind=kind, key=key), revisions[called])
        else:
            Record.start(project, kind, key, data, person, underlays.get(called))
    return project


def _with_revisions(record: Record, revisions: Sequence[Data]) -> None:
    made: dict[int, Revision] = {}
    for one in revisions:
        own = {key: one[key] for key in ("underlay", "words", "label", "offered")}
        own["data"] = with_every_entry(record.kind, one["data"])
        made[one["number"]] = record.revisions.create(parent=made.get(one["parent"]), **own)
        # A revision tells when it was made by itself; these were made before.
        record.revisions.filter(pk=made[one["number"]].pk).update(made=parse_datetime(one["made"]))
        if one["current"]:
            record.current = made[one["number"]]
    record.save(update_fields=["current"])
