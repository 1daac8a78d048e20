"""Kills at random moments: of the web server, its processes, the worker, what it started, and a backup, while people
save, ask for pictures and files, and bring drawings. No save that was acknowledged may be lost, nothing may stay stuck,
and the database must be whole: ``python -m bench.kills [COUNT] [SEED]``."""

from __future__ import annotations

import os
import random
import signal
import subprocess
import sys
import threading
import time
from contextlib import suppress
from pathlib import Path

from bench.people import OK, documents
from bench.served import ROOT, TOKEN, Person, Served, people, served

SAVING = 6
"""How many people save all the time."""
PAUSE = (0.2, 1.5)
"""How long nothing is killed between two kills, seconds."""
SETTLED = 300
"""How long what was asked for may take to come to an end once nothing is killed any more, seconds."""
EYE, TARGET = ("-4", "-9", "2"), ("4", "0", "2")
PICTURE = {
    **{f"eye_{axis}": value for axis, value in zip("xyz", EYE, strict=True)},
    **{f"target_{axis}": value for axis, value in zip("xyz", TARGET, strict=True)},
    **{"lens": "28", "azimuth": "150", "altitude": "35", "size": "96 × 64", "quality": "draft", "sky": "clear"},
}
"""A small picture."""
TARGETS = ("web server", "web process", "worker", "worker's process", "backup")


class Saving(threading.Thread):
    """Somebody who types one number after another; ``acknowledged`` are those that the server said it kept."""

    def __init__(self, person: Person, project: int, until: threading.Event) -> None:
        super().__init__(daemon=True)
        self.person, self.project, self.until = person, project, until
        self.acknowledged: list[str] = []
        self.unanswered = 0

    def run(self) -> None:
        address, number = f"/projects/{self.project}/units/entrance/edit/", 0
        while not self.until.is_set():
            number += 1
            value = f"{50 + number / 1000:.3f} mm"
            form = {"entry": "frame.face", "value": value, "keep": "1", "base": self._base()}
            try:
                status, _ = self.person.ask(address, form)
            except OSError:
                self.unanswered += 1
                time.sleep(0.1)
                continue
            if status == OK:
                self.acknowledged.append(value)
            time.sleep(0.05)

    def _base(self) -> str:
        """The version in force, read as another process does."""
        from ashfell.services.kept.models import Record

        return str(Record.objects.get(project=self.project, kind="unit", key="entrance").current_id)


def main(count: int, seed: int) -> int:
    pick = random.Random(seed)
    with served() as server:
        units, site, _ = documents()
        crowd = people(server.port, SAVING + 1, units, site)
        done = threading.Event()
        saving = [Saving(person, project, done) for person, project in crowd[:SAVING]]
        for one in saving:
            one.start()
        asking = threading.Thread(target=_asks, args=(*crowd[-1], done), daemon=True)
        asking.start()
        killed = dict.fromkeys(TARGETS, 0)
        while sum(killed.values()) < count:
            time.sleep(pick.uniform(*PAUSE))
            target = pick.choice(TARGETS)
            killed[target] += _kill(server, target, pick)
            if target == "web server":
                server.wait()
        done.set()
        for thread in (*saving, asking):
            thread.join(90)
        server.wait()
        return _judged(server, saving, killed)


def _asks(person: Person, project: int, done: threading.Event) -> None:
    """Ask for pictures and files, and bring a drawing, over and over."""
    edge = "----kills"
    token = f'--{edge}\r\nContent-Disposition: form-data; name="csrfmiddlewaretoken"\r\n\r\n{TOKEN}\r\n'
    head = f'--{edge}\r\nContent-Disposition: form-data; name="file"; filename="plan.dxf"\r\n\r\n'
    body = token.encode() + head.encode() + _plan() + f"\r\n--{edge}--\r\n".encode()
    while not done.is_set():
        with suppress(OSError):
            person.ask(f"/projects/{project}/pictures/start/", PICTURE)
            person.ask(f"/projects/{project}/hand-over/start/", {"what": "site", "format": "glb"})
            person.ask("/take-in/", body=body, kind=f"multipart/form-data; boundary={edge}")
        done.wait(4)


def _plan() -> bytes:
    """A room of four walls."""
    lines = []
    for inset in (0, 300):
        corners = [(inset, inset), (6000 - inset, inset), (6000 - inset, 4000 - inset), (inset, 4000 - inset)]
        for (x0, y0), (x1, y1) in zip(corners, [*corners[1:], corners[0]], strict=True):
            lines.append(f"0\nLINE\n8\nwalls\n10\n{x0}\n20\n{y0}\n11\n{x1}\n21\n{y1}\n")
    return f"0\nSECTION\n2\nENTITIES\n{''.join(lines)}0\nENDSEC\n0\nEOF\n".encode()


def _kill(server: Served, target: str, pick: random.Random) -> int:
    """Kill one, and start it again where nothing else does; how many were killed."""
    if target == "backup":
        archive = server.var.parent / f"{server.var.name}.tar.gz"
        command = [sys.executable, "manage.py", "backup", str(archive)]
        running = subprocess.Popen(command, cwd=ROOT, env=server.place, stdout=subprocess.DEVNULL)
        time.sleep(pick.uniform(1.0, 2.5))
        running.kill()
        running.wait()
        return 1
    name = "web" if target.startswith("web") else "worker"
    whole = server.processes[name]
    if target in ("web server", "worker"):
        for process in (whole.pid, *_below(whole.pid)):
            _end(process)
        whole.wait()
        server.start(name)
        return 1
    below = _below(whole.pid)
    if not below:
        return 0
    _end(pick.choice(below))
    return 1


def _end(process: int) -> None:
    with suppress(ProcessLookupError):
        os.kill(process, signal.SIGKILL)


def _below(process: int) -> list[int]:
    """What a process started, and what that started."""
    found = []
    for path in Path("/proc").glob("[0-9]*/stat"):
        with suppress(OSError, ValueError):
            parent = int(path.read_text().rpartition(")")[2].split()[1])
            if parent == process:
                found += [int(path.parent.name), *_below(int(path.parent.name))]
    return found


def _judged(server: Served, saving: list[Saving], killed: dict[str, int]) -> int:
    """Tell what was found; 0 where nothing was lost, stuck or broken."""
    from ashfell.services.kept.models import Record, Revision
    from ashfell.studio.handover.models import Handover
    from ashfell.studio.intake.models import Intake
    from ashfell.studio.keeping.checking import LEFT_OVER, faults
    from ashfell.studio.pictures.models import Picture

    asked: list[type[Picture] | type[Handover] | type[Intake]] = [Picture, Handover, Intake]
    until = time.monotonic() + SETTLED
    while time.monotonic() < until and any(kind.objects.filter(state__in=kind.OPEN).exists() for kind in asked):
        time.sleep(1)
    stuck = [str(one) for kind in asked for one in kind.objects.filter(state__in=kind.OPEN)]
    lost = []
    for one in saving:
        record = Record.objects.get(project=one.project, kind="unit", key="entrance")
        kept = {revision.data["frame"]["face"] for revision in Revision.objects.filter(record=record)}
        lost += [value for value in one.acknowledged if value not in kept]
    told = [*faults()]
    left_over = [fault for fault in told if fault.words == LEFT_OVER]
    found = [f"{fault.place}: {fault.words}" for fault in told if fault not in left_over]
    made = {kind.__name__: kind.objects.count() for kind in asked}
    print(f"killed: {', '.join(f'{count} times the {target}' for target, count in killed.items())}")
    print(f"{sum(len(one.acknowledged) for one in saving)} saves acknowledged, {len(lost)} lost {lost[:3]}")
    print(f"{sum(one.unanswered for one in saving)} were not answered; asked for: {made}, stuck: {stuck[:3]}")
    print(f"what is not whole: {found or 'nothing'}; files of nothing, which check_data removes: {len(left_over)}")
    return 1 if lost or stuck or found else 0


if __name__ == "__main__":
    sys.exit(main(*(int(text) for text in [*sys.argv[1:3], *("100", "1")[len(sys.argv[1:3]) :]])))
