"""What lies in the bin, and what goes for good: records with their revisions, pictures and files with their bytes."""

from __future__ import annotations

import shutil
from datetime import timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from ashfell.core.base.refusal import Refusal
from ashfell.services.kept.finishes import uses_of
from ashfell.services.kept.models import Project, Published, Record, Revision
from ashfell.studio.handover.models import Handover
from ashfell.studio.pictures.models import Picture

DAYS = 30
"""How long something stays in the bin."""
NAMED = 6
"""How many of those that use something are named."""


def put_away(found: Record | Picture) -> None:
    """Put a unit, a finish or a picture into the bin.

    Raises
    ------
    Refusal
        When it is used, with what uses it.
    """
    if isinstance(found, Record):
        using = users_of(found)
        if using:
            more = f" and {len(using) - NAMED} more" if len(using) > NAMED else ""
            message = f"“{found.name}” is used by {', '.join(using[:NAMED])}{more}."
            raise Refusal(found.key, "something that is not used", message, "Give them another first.")
    elif found.is_open:
        found.settle(Picture.State.CANCELLED)
    found.put_away()


def users_of(record: Record) -> list[str]:
    """What of its project uses a unit or a finish."""
    if record.kind == Record.Kind.UNIT:
        site = record.project.site.data
        placed = (
            one
            for one in site["placements"]
            if one.get("unit") == record.key or record.key in ((one.get("repeat") or {}).get("then") or ())
        )
        return [f"opening {one.get('mark') or one['id']}" for one in placed]
    return [f"unit “{use.name}”" if use.name else "the site" for use in uses_of(record.project, record.key)]


def in_bin(project: Project) -> list[tuple[str, str, Any]]:
    """What of a project lies in the bin: its kind and key, what it is called, and since when."""
    found = [
        (f"{one.kind}:{one.key}", one.name, one.binned)
        for one in Record.everything.filter(project=project).exclude(binned=None).select_related("current")
    ]
    pictures = Picture.everything.filter(project=project).exclude(binned=None)
    found += [(f"picture:{one.pk}", f"Picture {one.pk}", one.binned) for one in pictures]
    return sorted(found, key=lambda one: one[2], reverse=True)


def found_in_bin(project: Project, what: str) -> Record | Picture | None:
    """Something of a project that lies in the bin, by its kind and key."""
    kind, _, key = what.partition(":")
    if kind == "picture":
        number = int(key) if key.isdecimal() and len(key) < 15 else 0
        return Picture.everything.filter(project=project, pk=number).exclude(binned=None).first()
    return Record.everything.filter(project=project, kind=kind, key=key).exclude(binned=None).first()


def remove(found: Record | Picture | Project) -> None:
    """Delete for good: there is no way back."""
    if isinstance(found, Project):
        _remove_project(found)
    elif isinstance(found, Record):
        with transaction.atomic():
            _unlink(Record.everything.filter(pk=found.pk))
            found.delete()
    else:
        folder = found.folder
        found.delete()
        shutil.rmtree(folder, ignore_errors=True)


def _remove_project(project: Project) -> None:
    folders = [one.folder for one in Picture.everything.filter(project=project)]
    files = [one.file for one in Handover.objects.filter(project=project)]
    with transaction.atomic():
        _unlink(Record.everything.filter(project=project))
        Record.everything.filter(project=project).delete()
        Picture.everything.filter(project=project).delete()
        project.delete()
    for folder in folders:
        shutil.rmtree(folder, ignore_errors=True)
    for file in files:
        file.unlink(missing_ok=True)


def _unlink(records: Any) -> None:
    """Let go of what holds revisions, so that they can go."""
    keys = list(records.values_list("pk", flat=True))
    Record.everything.filter(pk__in=keys).update(current=None)
    Revision.objects.filter(record__in=keys).update(parent=None)


def empty(days: float = DAYS) -> int:
    """Delete for good what has been in the bin for so long; returns how much it was."""
    before = timezone.now() - timedelta(days=days)
    count = 0
    for model in (Project, Record, Picture):
        for found in model.everything.filter(binned__lt=before):
            remove(found)
            count += 1
    return count + Published.everything.filter(binned__lt=before).delete()[0]
