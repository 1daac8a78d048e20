"""Workers, and what is done about dead ones.

Each worker holds a lock on a file of its own for as long as it lives; the system lets go of it however the worker ends.
A task that is marked as running by a worker whose lock is free is put back into the queue.
"""

from __future__ import annotations

import fcntl
from pathlib import Path
from typing import IO

from django.conf import settings
from django_tasks import TaskResultStatus
from django_tasks_db.models import DBTaskResult


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


def put_back() -> int:
    """Put the tasks of dead workers back into the queue; returns how many."""
    count = 0
    for result in DBTaskResult.objects.running():
        if result.worker_ids and not is_alive(result.worker_ids[-1]):
            running = DBTaskResult.objects.filter(pk=result.pk, status=TaskResultStatus.RUNNING)
            count += running.update(status=TaskResultStatus.READY, started_at=None)
    return count
