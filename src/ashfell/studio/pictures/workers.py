"""Workers, and what is done about dead ones.

Each worker holds a lock on a file of its own for as long as it lives; the system lets go of it however the worker ends.
A task that is marked as running by a worker whose lock is free is put back into the queue.
"""

from __future__ import annotations

import fcntl
from pathlib import Path
from typing import IO, Any

from django.apps import apps
from django.conf import settings
from django.utils import timezone
from django_tasks import TaskResultStatus
from django_tasks_db.models import DBTaskResult

from ashfell.studio.pictures.models import Picture

TRIES = 3
"""How many workers may die over one task."""
MADE_BY = {"gallery.Picture": ".trace_pass", "handover.Handover": ".write_file", "intake.Intake": ".read_brought"}
"""What is made by which task, the first argument of which is its number."""


def _lock_file(worker: str) -> Path:
    folder = Path(settings.VAR) / "workers"
    folder.mkdir(parents=True, exist_ok=True)
    return folder / f"{worker}.lock"


def hold(worker: str) -> IO[str]:
    """Take the worker's lock; it is held until the file is closed or the process ends."""
    file = _lock_file(worker).open("w")
    fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    return file


def is_alive(worker: str) -> bool:
    """Whether somebody holds the worker's lock."""
    with _lock_file(worker).open("w") as file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            return True
    _lock_file(worker).unlink(missing_ok=True)
    return False


def works_in_vain(process: int) -> bool:
    """Whether the worker of a process is at a picture that was cancelled meanwhile: it is not waited for then."""
    for result in DBTaskResult.objects.running():
        if result.worker_ids and result.worker_ids[-1].startswith(f"{process}-"):
            number = next(iter(result.args_kwargs.get("args", ())), 0)
            if result.task_path.endswith(".trace_pass"):
                return not Picture.objects.filter(pk=number, state__in=Picture.OPEN).exists()
    return False


def put_back() -> int:
    """Put the tasks of dead workers back into the queue; returns how many. One over which worker after worker died
    fails instead, and what it was to make says why."""
    count = 0
    for result in DBTaskResult.objects.running():
        if result.worker_ids and not is_alive(result.worker_ids[-1]):
            running = DBTaskResult.objects.filter(pk=result.pk, status=TaskResultStatus.RUNNING)
            if len(result.worker_ids) >= TRIES:
                running.update(status=TaskResultStatus.FAILED, finished_at=timezone.now())
                _give_up(result)
            else:
                count += running.update(status=TaskResultStatus.READY, started_at=None)
    return count


def _give_up(result: DBTaskResult[Any, Any]) -> None:
    """What a task was to make has failed."""
    number = next(iter(result.args_kwargs.get("args", ())), None)
    for label, task in MADE_BY.items():
        if result.task_path.endswith(task):
            found = apps.get_model(label)._default_manager.filter(pk=number).first()
            if found is not None:
                found.settle(
                    "failed", f"The worker ended {TRIES} times over it. Make it smaller, or tell who runs this server."
                )
