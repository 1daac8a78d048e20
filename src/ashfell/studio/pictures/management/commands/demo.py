"""Start everything on one machine with the demo project: database, web server, worker."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser

USER, PASSWORD = "wren", "quiet-water-21"


class Command(BaseCommand):
    help = "Migrate, load the demo project, and start the web server and the worker. Stop with Ctrl+C."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--port", type=int, default=8000)
        parser.add_argument("--folder", type=Path, default=Path("demo/heron-reach"))

    def handle(self, *args: Any, port: int, folder: Path, **options: Any) -> None:
        Path(settings.VAR).mkdir(parents=True, exist_ok=True)
        for counted in settings.COUNTED.glob("*.db"):
            counted.unlink()
        call_command("migrate", verbosity=0)
        call_command("load_demo", folder, user=USER, password=PASSWORD)
        running = [
            subprocess.Popen(self.server(port)),
            subprocess.Popen([sys.executable, sys.argv[0], "work"]),
        ]
        self.stdout.write(
            f"\n  Ashfell is at   http://127.0.0.1:{port}/\n  Sign in as      {USER}\n  with password   {PASSWORD}\n"
        )
        self.stdout.write("  Stop with Ctrl+C.\n\n")
        self.stdout.flush()
        signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
        try:
            running[0].wait()
        except KeyboardInterrupt:
            pass
        finally:
            for process in running:
                process.terminate()
            for process in running:
                process.wait()

    @staticmethod
    def server(port: int) -> list[str]:
        command = [sys.executable, "-m", "granian", "--interface", "wsgi", "ashfell.studio.wsgi:application"]
        workers = os.environ.get("ASHFELL_WORKERS") or str(2 * max(2, min(4, os.cpu_count() or 2)))
        # Most of the threads only wait for what slow clients send: see keeping/turns.
        return [
            *command,
            "--host",
            "127.0.0.1",
            "--port",
            str(port),
            "--workers",
            workers,
            "--blocking-threads",
            "64",
            "--http1-header-read-timeout",
            "10000",
            "--respawn-failed-workers",
            # One that is told to end while it begins would be waited for for ever.
            "--workers-kill-timeout",
            "10",
            "--log-level",
            "error",
        ]
