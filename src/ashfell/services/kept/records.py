"""What pages, and later others, do with kept records: find, change, save with the revision it started from, go back,
duplicate.

Nothing here knows of requests or pages. Every function goes through the projects of the person who asks.
"""

from __future__ import annotations

from typing import Any, Literal

from django.db import transaction
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from ashfell.core.base.document import Data
from ashfell.services.kept.models import Membership, Project, Record, Revision, Role

Way = Literal["undo", "redo", "choose"]
WAYS: tuple[Way, ...] = ("undo", "redo", "choose")


def project_of(person: Any, project: int) -> Project:
    """A project of the person's own; 404 for anybody else's."""
    return get_object_or_404(Project, pk=project, members=person)


def role_in(person: Any, project: int) -> str:
    """What a person may do in a project; empty for one who is no member of it, or where it is in the bin."""
    found = Membership.objects.filter(user=person, project=project, project__binned=None)
    return str(found.values_list("role", flat=True).first() or "")


def projects_of(person: Any) -> QuerySet[Project]:
    """The projects of a person."""
    return Project.objects.filter(members=person)


def binned_projects_of(person: Any) -> QuerySet[Project]:
    """The projects in the bin that a person owns."""
    own = Project.everything.filter(memberships__user=person, memberships__role=Role.OWNER)
    return own.exclude(binned=None)


def record_of(person: Any, project: int, kind: str, key: str) -> Record:
    """A document of one of the person's own projects."""
    found = Record.objects.select_related("project", "current__parent")
    own = {"project__members": person, "project__binned": None}
    return get_object_or_404(found, **own, project=project, kind=kind, key=key)


def start(project: Project, kind: str, name: str, data: Data, person: Any, underlay: Data | None = None) -> Record:
    """A new record under a free key made from its name."""
    with transaction.atomic():  # which begins with the lock to write, so that nobody else takes the key meanwhile
        return Record.start(project, kind, project.free_key(kind, name), data, person, underlay)


def duplicate(record: Record, person: Any) -> Record:
    """A copy of a unit, with what lies under it."""
    name = f"{record.name[:72]}, copy"
    return start(record.project, record.kind, name, record.data | {"name": name}, person, record.underlay)


def save(record: Record, data: Data, base: int, person: Any, words: str, underlay: Any = "as it is") -> None:
    """Keep a change that started from revision ``base``; nothing is kept where nothing changed.

    Raises
    ------
    Stale
        When somebody was faster; what was to be saved is kept as a revision that is offered.
    """
    same = data == record.data and underlay in ("as it is", record.underlay)
    if not same or base != record.current_id:
        record.save_change(data, base, person, words, underlay)


def move(record: Record, way: Way, base: int, revision: int = 0) -> bool:
    """Undo, redo, or take one of two offered versions; False when there is nothing to move to or somebody was
    faster.
    """
    if way == "choose":
        return record.choose(get_object_or_404(record.revisions, pk=revision), record.current_id or 0)
    target = record.undone if way == "undo" else record.redone
    return target is not None and record.choose(target, base)


def revision_of(record: Record, revision: object) -> Revision:
    """A revision of a record; 404 when it has none of that number."""
    text = str(revision)
    return get_object_or_404(record.revisions, pk=int(text) if text.isdecimal() and len(text) < 15 else 0)


def name_version(record: Record, revision: Revision, label: str) -> None:
    """Give a revision a name, or take it away."""
    record.revisions.filter(pk=revision.pk).update(label=label.strip()[:80])


def units_of(project: Project) -> Data:
    """The units and own finishes that a project's site may use."""
    return {
        "units": {record.key: record.data for record in project.units},
        "finishes": {record.key: record.data for record in project.finishes},
    }
