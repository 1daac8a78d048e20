"""What pages, and later others, do with kept records: find, change, save with the revision it started from, go back,
duplicate.

Nothing here knows of requests or pages. Every function goes through the projects of the person who asks.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

from django.db import transaction
from django.db.models import Count, Max, OuterRef, Q, QuerySet, Subquery
from django.db.models.functions import Coalesce
from django.http import Http404
from django.shortcuts import get_object_or_404

from ashfell.core.base.differences import differences, with_differences
from ashfell.core.base.document import Data
from ashfell.core.base.refusal import Refusal
from ashfell.core.finish import LIBRARY
from ashfell.core.finishing.uses import named
from ashfell.core.unit.words import entry_words
from ashfell.services.kept.models import REVISION, Membership, Project, Record, Revision, Role, Stale
from ashfell.services.kept.prepared import Prepared

Way = Literal["undo", "redo", "choose"]
WAYS: tuple[Way, ...] = ("undo", "redo", "choose")


def project_of(person: Any, project: int) -> Project:
    """A project of the person's own; 404 for anybody else's."""
    return get_object_or_404(Project, pk=project, members=person)


def role_in(person: Any, project: int) -> str:
    """What a person may do in a project; empty for one who is no member of it, or where it is in the bin."""
    found = MEMBERSHIP.first(person=person.pk, project=project)
    return found.role if found else ""


MEMBERSHIP = Prepared(
    lambda person, project: Membership.objects.filter(user=person, project=project, project__binned=None),
    "person",
    "project",
)
PROJECT = Prepared(lambda project: Project.objects.filter(pk=project), "project")
RECORD = Prepared(
    lambda person, project, kind, key: Record.objects.filter(
        project__members=person, project__binned=None, project=project, kind=kind, key=key
    ),
    *("person", "project", "kind", "key"),
)


def projects_of(person: Any) -> QuerySet[Project]:
    """The projects of a person."""
    return Project.objects.filter(members=person)


def listed_projects_of(person: Any) -> QuerySet[Project]:
    """The same, each with how many units it has (``counted``) and its newest finished picture (``shown``)."""
    units = Record.objects.filter(project=OuterRef("pk"), kind=Record.Kind.UNIT).order_by().values("project")
    done = Q(pictures__state="done", pictures__sheet=None, pictures__binned=None)
    newest = Project.objects.filter(pk=OuterRef("pk")).annotate(newest=Max("pictures", filter=done)).values("newest")
    counted = Coalesce(Subquery(units.annotate(count=Count("pk")).values("count")), 0)
    return projects_of(person).annotate(counted=counted, shown=Subquery(newest))


def binned_projects_of(person: Any) -> QuerySet[Project]:
    """The projects in the bin that a person owns."""
    own = Project.everything.filter(memberships__user=person, memberships__role=Role.OWNER)
    return own.exclude(binned=None)


def record_of(person: Any, project: int, kind: str, key: str) -> Record:
    """A document of one of the person's own projects, with the project and what is in force; 404 for any other."""
    found = RECORD.first(person=person.pk, project=project, kind=kind, key=key)
    owner = PROJECT.first(project=project) if found else None
    if found is None or owner is None:  # which may be deleted in between
        raise Http404(f"There is no {kind} “{key}” in this project.")
    found.project = owner
    found.current = REVISION.first(revision=found.current_id)
    return found


def start(project: Project, kind: str, name: str, data: Data, person: Any, underlay: Data | None = None) -> Record:
    """A new record under a free key made from its name.

    Raises
    ------
    Refusal
        When it names a finish that the project does not have.
    """
    if kind != Record.Kind.FINISH:
        refuse_unknown_finishes(project, data)
    with transaction.atomic():  # which begins with the lock to write, so that nobody else takes the key meanwhile
        return Record.start(project, kind, project.free_key(kind, name), data, person, underlay)


def refuse_unknown_finishes(project: Project, data: Data, before: Data | None = None) -> None:
    """Refuse a document that names a finish there is not; one that it named before may stay.

    Raises
    ------
    Refusal
    """
    wanted = named(data)
    if wanted.keys() <= LIBRARY.keys():
        return
    own = set(project.finishes.values_list("key", flat=True))
    unknown = wanted.keys() - LIBRARY.keys() - own - (named(before).keys() if before else set())
    if unknown:
        key = min(unknown)
        remedy = "Choose one that ships or is the project's own, or take it into the project first."
        raise Refusal(str(wanted[key]), "a known finish", f"There is no finish “{key}” in “{project.name}”.", remedy)


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
    Refusal
        When it names a finish that the project does not have, and that it did not name before.
    """
    if data is not record.data and record.kind != Record.Kind.FINISH:
        refuse_unknown_finishes(record.project, data, record.data)
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


@dataclass(frozen=True)
class Rival:
    """An entry that a stale save would have changed: what it was, what is in force, and what was offered; ``clash`` is
    whether both changed it."""

    entry: str
    words: str
    before: Any
    theirs: Any
    mine: Any
    clash: bool


def rivals(record: Record, offered: Revision) -> list[Rival]:
    """What an offered version changed of the one it started from, beside what is in force."""
    before = offered.parent.document if offered.parent else record.data
    theirs = differences(before, record.data)
    found = []
    for one in differences(before, offered.document):
        met = [other for other in theirs if _overlap(one.entry, other.entry)]
        now = next((other.after for other in met if other.entry == one.entry), one.before)
        if now != one.after:
            found.append(Rival(one.entry, entry_words(one.entry), one.before, now, one.after, bool(met)))
    return found


def _overlap(one: str, other: str) -> bool:
    return f"{one}.".startswith(f"{other}.") or f"{other}.".startswith(f"{one}.")


def take_of_both(record: Record, number: int, base: int, taken: Sequence[str], person: Any) -> None:
    """Let what is in force stay, with those entries of an offered version that were chosen; all of it when that is what
    is chosen and nobody else changed anything it does not know.

    Raises
    ------
    Stale
        When what was in force when it was offered is not any more; the offer is made again.
    """
    if number == base:
        return  # it goes on from what is in force
    offered = revision_of(record, number)
    if base != record.current_id:
        raise Stale(offered)
    before = offered.parent.document if offered.parent else record.data
    chosen = [one for one in differences(before, offered.document) if one.entry in taken]
    if chosen:
        data = with_differences(record.data, chosen)
        laid = offered.parent is not None and offered.underlay != offered.parent.underlay
        under: Any = offered.underlay if laid else "as it is"
        words = f"Of both: {', '.join(one.entry for one in chosen)}"
        record.save_change(data, base, person, words, under)


def revision_of(record: Record, revision: object) -> Revision:
    """A revision of a record; 404 when it has none of that number."""
    text = str(revision)
    return get_object_or_404(record.revisions, pk=int(text) if text.isdecimal() and len(text) < 15 else 0)


def name_version(record: Record, revision: Revision, label: str) -> None:
    """Give a revision a name, or take it away."""
    record.revisions.filter(pk=revision.pk).update(label=label.strip()[:80])
