"""A server and a worker of one's own, as the demo starts them, on a fresh folder, and people who are signed in."""

from __future__ import annotations

import http.client
import os
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field
from pathlib import Path
from statistics import median
from typing import Any
from urllib.parse import urlencode

ROOT = Path(__file__).parent.parent
TOKEN = "abcdefghijklmnopqrstuvwxyzabcdef"
"""What forms are told to be ours by."""


@dataclass
class Person:
    """Somebody with a browser: a session, and a connection that is kept."""

    port: int
    session: str
    line: http.client.HTTPConnection | None = None

    def ask(
        self, path: str, form: Mapping[str, str | Sequence[str]] | None = None, body: bytes = b"", kind: str = ""
    ) -> tuple[int, bytes]:
        """Get a page, or send a form or a body; its status and content.

        Raises
        ------
        OSError
            When there is no answer.
        """
        sent = urlencode(form, doseq=True).encode() if form is not None else body
        headers = {"Cookie": f"sessionid={self.session}; csrftoken={TOKEN}", "X-CSRFToken": TOKEN}
        if sent:
            headers["Content-Type"] = kind or "application/x-www-form-urlencoded"
        was_kept = self.line is not None
        try:
            self.line = self.line or http.client.HTTPConnection("127.0.0.1", self.port, timeout=40)
            self.line.request("POST" if sent else "GET", path, sent or None, headers)
            answer = self.line.getresponse()
            return answer.status, answer.read()
        except (OSError, http.client.HTTPException) as error:
            self.line = None
            # A server may close a connection that was kept for a while: then it is asked anew, as browsers do.
            if was_kept and isinstance(error, http.client.RemoteDisconnected):
                return self.ask(path, form, body, kind)
            raise OSError(str(error)) from error


@dataclass
class Served:
    """What runs, and where."""

    port: int
    var: Path
    place: dict[str, str]
    processes: dict[str, subprocess.Popen[bytes]] = field(default_factory=dict)

    def start(self, name: str) -> None:
        """Start the ``web`` server or the ``worker``."""
        from ashfell.studio.pictures.management.commands.demo import Command

        command = Command.server(self.port) if name == "web" else [sys.executable, "manage.py", "work"]
        with (self.var / f"{name}.log").open("ab") as log:
            self.processes[name] = subprocess.Popen(command, cwd=ROOT, env=self.place, stdout=log, stderr=log)

    def wait(self, seconds: float = 60) -> None:
        """Until the server answers."""
        until = time.monotonic() + seconds
        while time.monotonic() < until:
            with suppress(OSError):
                if Person(self.port, "").ask("/health")[0] == 200:
                    return
            time.sleep(0.2)
        raise TimeoutError("the server does not answer")


@contextmanager
def served() -> Iterator[Served]:
    """A server and a worker on a fresh database; both are stopped and their folder removed."""
    with socket.socket() as free, tempfile.TemporaryDirectory(prefix="ashfell-bench-") as folder:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
        free.close()
        os.environ |= {"ASHFELL_VAR": folder, "DJANGO_SETTINGS_MODULE": "ashfell.studio.settings"}
        import django

        django.setup()
        from django.core.management import call_command

        call_command("migrate", verbosity=0)
        found = Served(port, Path(folder), dict(os.environ))
        try:
            for name in ("web", "worker"):
                found.start(name)
            found.wait()
            yield found
        finally:
            for process in found.processes.values():
                process.terminate()
            for process in found.processes.values():
                process.wait(30)


def people(port: int, count: int, units: dict[str, Any], site: dict[str, Any]) -> list[tuple[Person, int]]:
    """People who are signed in, each with the number of a project of their own."""
    from django.conf import settings
    from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY, get_user_model
    from django.contrib.sessions.backends.db import SessionStore
    from django.db import transaction

    from ashfell.services.kept.models import Project, Record

    found = []
    with transaction.atomic():
        for number in range(count):
            person = get_user_model().objects.create(username=f"person-{number}-{os.getpid()}-{time.monotonic_ns()}")
            project = Project.objects.create(name=f"Project {number}")
            project.members.add(person)
            for key, data in units.items():
                Record.start(project, "unit", key, data, person)
            Record.start(project, "site", "site", site, person)
            session = SessionStore()
            session[SESSION_KEY], session[HASH_SESSION_KEY] = str(person.pk), person.get_session_auth_hash()
            session[BACKEND_SESSION_KEY] = settings.AUTHENTICATION_BACKENDS[-1]
            session.create()
            found.append((Person(port, str(session.session_key)), project.pk))
    return found


def empty_page(person: Person) -> float:
    """What a page with nothing on it takes when nobody else asks, seconds."""
    taken = []
    for _ in range(15):
        begun = time.perf_counter()
        person.ask("/account/")
        taken.append(time.perf_counter() - begun)
    return median(taken)
