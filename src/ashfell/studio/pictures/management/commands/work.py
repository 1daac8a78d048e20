"""Trace pictures: a worker process, started again when it dies."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from typing import Any

from django.core.management.base import BaseCommand, CommandParser
from django.utils.crypto import get_random_string
from django_tasks_db.management.commands.db_worker import Worker

from ashfell.studio.keeping.waste import empty
from ashfell.studio.pictures.workers import hold, put_back

DAY = 24 * 3600
CALM = 1.0
"""Seconds before a dead worker is started again."""


class Command(BaseCommand):
    help = "Trace pictures in a process of its own, started again when it dies. Stop with Ctrl+C or SIGTERM."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--alone", action="store_true", help="be the worker itself, not started again")
        parser.add_argument("--batch", action="store_true", help="with --alone: stop when the queue is empty")

    def handle(self, *args: Any, alone: bool, batch: bool, **options: Any) -> None:
        if alone:
            work(batch)
        else:
            self.keep_one_working()

    def keep_one_working(self) -> None:
        command = [sys.executable, sys.argv[0], "work", "--alone"]
        signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
        child = subprocess.Popen(command)
        try:
            while True:
                empty()
                try:
                    ended = child.wait(timeout=DAY)
                except subprocess.TimeoutExpired:
                    continue
                self.stderr.write(f"The worker ended ({ended}); another takes its place.")
                time.sleep(CALM)
                child = subprocess.Popen(command)
        except KeyboardInterrupt:
            pass
        finally:
            child.terminate()
            child.wait()


def work(batch: bool = False) -> None:
    """Be a worker until told to stop."""
    name = f"{os.getpid()}-{get_random_string(8)}"
    with hold(name):
        put_back()
        worker = Worker(
            queue_names=["*"],
            interval=0.5,
            batch=batch,
            backend_name="default",
            startup_delay=False,
            max_tasks=None,
            worker_id=name,
            excluded_queue_names=[],
        )
        worker.configure_signals()
        worker.run()
