"""Trace pictures: a worker process, started again when it dies."""

from __future__ import annotations

import math
import os
import signal
import subprocess
import sys
import time
from contextlib import suppress
from typing import Any

from django.core.management.base import BaseCommand, CommandParser
from django.db import DatabaseError
from django.utils.crypto import get_random_string
from django_tasks_db.management.commands.db_worker import Worker

from ashfell.studio.keeping import reserve
from ashfell.studio.keeping.checking import sweep
from ashfell.studio.keeping.waste import empty
from ashfell.studio.pictures.workers import hold, put_back, works_in_vain
from ashfell.studio.warm import warm_pictures

DAY = 24 * 3600
BEHIND = 10
"""How far the worker stands behind the web server where both want the same core."""
CALM = 1.0
"""Seconds between two looks at the worker, and before a dead one is started again."""


class Command(BaseCommand):
    help = "Trace pictures in a process of its own, started again when it dies. Stop with Ctrl+C or SIGTERM."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--alone", action="store_true", help="be the worker itself, not started again")
        parser.add_argument("--batch", action="store_true", help="with --alone: stop when the queue is empty")

    def handle(self, *args: Any, alone: bool, batch: bool, **options: Any) -> None:
        if alone:
            os.nice(BEHIND)
            work(batch)
        else:
            keep_working([sys.executable, sys.argv[0], "work", "--alone"])


def work(batch: bool = False) -> None:
    """Be a worker until told to stop."""
    name = f"{os.getpid()}-{get_random_string(8)}"
    with hold(name):
        put_back()
        if not batch:
            warm_pictures()
        worker = Worker(
            queue_names=["*"],
            interval=0.25,
            batch=batch,
            backend_name="default",
            startup_delay=False,
            max_tasks=None,
            worker_id=name,
            excluded_queue_names=[],
        )
        worker.configure_signals()
        worker.run()


def keep_working(command: list[str]) -> None:
    """Keep a worker alive until told to stop: started again when it ends, and when it works for nobody any more."""
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    child, emptied = subprocess.Popen(command), -math.inf
    try:
        while True:
            if time.monotonic() - emptied > DAY:
                empty()
                reserve.hold()
                sweep()
                emptied = time.monotonic()
            try:
                ended = child.wait(timeout=CALM)
            except subprocess.TimeoutExpired:
                with suppress(DatabaseError):
                    if works_in_vain(child.pid):
                        child.kill()
                continue
            sys.stderr.write(f"The worker ended ({ended}); another takes its place.\n")
            time.sleep(CALM)
            child = subprocess.Popen(command)
    except KeyboardInterrupt:
        pass
    finally:
        child.terminate()
        child.wait()
