"""A file is written by the worker; a large one by a process of its own, with limits on time and memory, that can be
stopped at any time."""

from __future__ import annotations

import resource
import subprocess
import sys
import time
from tempfile import TemporaryFile

from django_tasks import task

from ashfell.studio.handover.management.commands.hand_over import hand_over
from ashfell.studio.handover.models import Handover

SECONDS, MEMORY = 600, 4 * 2**30
CALM = 0.2
"""How often it is looked after, seconds."""
RAISED = 1
"""How a process ends in which something was raised."""
KEPT = 30
"""How many files of a project are kept."""


@task(priority=10)
def write_file(handover_id: int) -> str:
    """Write the file of a hand-over, unless it was cancelled or is there already."""
    found = Handover.objects.filter(pk=handover_id).first()
    if found is None or not found.is_open:
        return "nothing to do"
    Handover.objects.filter(pk=handover_id, state=Handover.State.WAITING).update(state=Handover.State.WRITING)
    if found.is_small:
        return _at_once(found)
    return _apart(found)


def _at_once(found: Handover) -> str:
    """Here: a process of its own would take longer to begin than to write."""
    try:
        hand_over(found.pk)
    except Exception as error:
        found.settle(Handover.State.FAILED, f"{type(error).__name__}: {error}")
        raise
    found.refresh_from_db()
    _clear(found)
    return found.state


def _apart(found: Handover) -> str:
    """In a process of its own, which is stopped when it takes too much or nobody wants it any more."""
    until = time.monotonic() + SECONDS
    with TemporaryFile("w+") as told:
        child = subprocess.Popen(command(found.pk), stdout=subprocess.DEVNULL, stderr=told, preexec_fn=_limits)
        while child.poll() is None:
            found.refresh_from_db()
            if not found.is_open or time.monotonic() > until:
                child.kill()
                child.wait()
                found.settle(Handover.State.FAILED, _too_much())
                return "stopped"
            time.sleep(CALM)
        found.refresh_from_db()
        if found.is_open:
            told.seek(0)
            last = (told.read().strip().splitlines() or ["Nothing was written."])[-1]
            short = child.returncode != RAISED or "MemoryError" in last
            found.settle(Handover.State.FAILED, _too_much() if short else last)
            return "failed"
    _clear(found)
    return found.state


def command(number: int) -> list[str]:
    """What writes a file."""
    return [sys.executable, "-m", "django", "hand_over", str(number)]


def _limits() -> None:
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS + 1))


def _too_much() -> str:
    return (
        f"Writing it takes more than {SECONDS // 60} minutes or more memory than a file may. "
        "Hand over one storey or one unit at a time."
    )


def _clear(found: Handover) -> None:
    """Remove the oldest files of a project; that they were asked for is kept."""
    for one in found.project.handovers.filter(state=Handover.State.DONE, size__gt=0)[KEPT:]:
        one.file.unlink(missing_ok=True)
        Handover.objects.filter(pk=one.pk).update(size=0)
