"""Whether all that is kept is whole: the database, documents, images, files, and what waits for a worker. What can be
mended is mended when that is asked for."""

from __future__ import annotations

import hashlib
import json
import re
import shutil
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import connection
from django.utils import timezone
from django_tasks_db.models import DBTaskResult

from ashfell.core.base.document import read
from ashfell.core.base.refusal import Refusal
from ashfell.services.kept.models import MODELS, Asset, Record, Revision
from ashfell.studio.handover.models import Handover
from ashfell.studio.handover.tasks import write_file
from ashfell.studio.intake.models import Intake
from ashfell.studio.intake.tasks import read_brought
from ashfell.studio.pictures.models import Picture
from ashfell.studio.pictures.tasks import ask_pass
from ashfell.studio.queued import Queued

IMAGE = re.compile(r'"([0-9a-f]{64})"')
"""How an image is referred to in a document."""
MOMENT = 3600.0
"""How old a file is that is of nothing, seconds."""
GONE, LEFT_OVER = "Its file is gone.", "It is of nothing that is kept."


@dataclass(frozen=True)
class Fault:
    """Something that is not as it should be: where, what, and what mends it, if anything does."""

    place: str
    words: str
    mend: Callable[[], object] | None = None


def faults() -> Iterator[Fault]:
    """All there are, one after another."""
    yield from _database()
    yield from _records()
    yield from _images()
    yield from _files(Picture, lambda picture: picture.image)
    yield from _files(Handover, lambda handover: handover.file, {"size__gt": 0})  # the oldest have none
    yield from _brought()
    yield from (Fault(f"{path.parent.name}/{path.name}", LEFT_OVER, partial(_remove, path)) for path in _strays())
    yield from _waiting(Picture, ".trace_pass", ask_pass)
    yield from _waiting(Handover, ".write_file", lambda one: write_file.enqueue(one.pk))
    yield from _waiting(Intake, ".read_brought", lambda one: read_brought.enqueue(one.pk))


def sweep() -> int:
    """Remove the files that are of nothing, which a killed process leaves; how many there were."""
    strays = [*_strays()]
    for path in strays:
        _remove(path)
    return len(strays)


def _database() -> Iterator[Fault]:
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA integrity_check")
        told = [str(row[0]) for row in cursor.fetchall()]
        yield from (Fault("database", words) for words in told if words != "ok")
        cursor.execute("PRAGMA foreign_key_check")
        for table, row, parent, _ in cursor.fetchall():
            yield Fault(f"{table} {row}", f"It refers to something in {parent} that is not there.")


def _records() -> Iterator[Fault]:
    """Each document can be read, and is one of its own versions."""
    for record in Record.everything.select_related("current").iterator():
        place = f"{record.kind} {record.key} of project {record.project_id}"
        current = record.current
        if current is None or current.record_id != record.pk:
            newest = record.revisions.filter(offered=False).last()
            mend = _put_in_force(record, newest) if newest else None
            yield Fault(place, "None of its versions is in force.", mend)
            continue
        try:
            read(MODELS[record.kind], current.document)
        except Refusal as refusal:
            yield Fault(place, f"Version {current.pk} cannot be read: {refusal}")


def _put_in_force(record: Record, newest: Revision) -> Callable[[], object]:
    return lambda: Record.everything.filter(pk=record.pk).update(current=newest)


def _images() -> Iterator[Fault]:
    """Each image is what its key says, and each that a version refers to is there."""
    keys = set()
    for asset in Asset.objects.iterator(chunk_size=20):
        keys.add(asset.pk)
        if hashlib.sha256(bytes(asset.content)).hexdigest() != asset.pk:
            yield Fault(f"image {asset.pk[:12]}", "It is not what it was when it was kept.")
    for revision in Revision.objects.iterator(chunk_size=200):
        for key in IMAGE.findall(json.dumps([revision.data, revision.underlay])):
            if key not in keys:
                yield Fault(f"version {revision.pk}", f"It refers to image {key[:12]}, which is not there.")


def _files(model: Any, file_of: Callable[[Any], Path], held: dict[str, Any] | None = None) -> Iterator[Fault]:
    """What is done has its file."""
    everything = getattr(model, "everything", model.objects)
    for one in everything.filter(state=model.State.DONE, **held or {}).iterator():
        if not file_of(one).exists():
            yield Fault(str(one), GONE, _fail(model, one.pk))


def _strays() -> Iterator[Path]:
    """Files that are of nothing."""
    for name, held in (("pictures", Picture.everything), ("handed", Handover.objects), ("brought", _held())):
        folder = Path(settings.VAR) / name
        known = {str(key) for key in held.values_list("pk", flat=True)}
        for path in sorted(folder.iterdir()) if folder.is_dir() else ():
            # What was written a moment ago may be of something that is about to be kept.
            if path.name not in known and time.time() - path.stat().st_mtime > MOMENT:
                yield path


def _held() -> Any:
    """What was brought and is neither kept nor left."""
    return Intake.objects.exclude(state__in=(Intake.State.KEPT, Intake.State.LEFT))


def _remove(path: Path) -> None:
    if path.is_dir():
        shutil.rmtree(path)
    else:
        path.unlink(missing_ok=True)


def _fail(model: Any, key: int) -> Callable[[], object]:
    everything = getattr(model, "everything", model.objects)
    told = {"state": model.State.FAILED, "reason": GONE, "finished": timezone.now()}
    return lambda: everything.filter(pk=key).update(**told)


def _brought() -> Iterator[Fault]:
    """What was brought and is not kept or left has its file."""
    for one in _held().exclude(state=Intake.State.FAILED).iterator():
        if not one.file.exists():
            yield Fault(f"{one.name}, brought", GONE, _fail(Intake, one.pk))


def _waiting(model: type[Queued], task: str, enqueue: Callable[[Any], object]) -> Iterator[Fault]:
    """What is open has a task that waits or is worked on."""
    open_tasks = DBTaskResult.objects.filter(task_path__endswith=task, status__in=("READY", "RUNNING"))
    served = {next(iter(args["args"]), None) for args in open_tasks.values_list("args_kwargs", flat=True)}
    manager: Any = model._default_manager
    for one in manager.filter(state__in=model.OPEN).iterator():
        if one.pk not in served:
            yield Fault(str(one), "Nothing makes it: no task of it waits.", partial(enqueue, one))
