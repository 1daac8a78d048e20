"""Many people at once, each with some seconds of thought between two things that they do, also while one brings a
drawing of very many lines and one opens the largest unit: how long they wait, against an empty page in the same run."""

from __future__ import annotations

import json
import random
import threading
import time
from dataclasses import dataclass, field
from statistics import median, quantiles
from typing import Any

from bench.served import ROOT, TOKEN, Person, empty_page, people, served

THOUGHT = 3.0
"""Seconds between two things that somebody does, on average."""
LASTS = 45.0
"""How long is measured, seconds."""
CROWDS = ((50, True, 0.3), (200, False, 1.0), (200, True, None))
"""How many people, whether there are the two with much to do beside them, and what 95 of 100 answers may take, seconds;
nothing where it is only told."""
OK = 200
KEYS = ("clubroom-window", "entrance", "inside-leaf")
WORST = 40_000
"""How many loose lines the worst drawing has."""


@dataclass
class Told:
    """What was measured: seconds by kind of page, and what went wrong."""

    taken: dict[str, list[float]] = field(default_factory=dict)
    wrong: list[str] = field(default_factory=list)

    def ask(self, kind: str, person: Person, path: str, form: dict[str, str] | None = None) -> None:
        """Ask for something, and write down how long it took."""
        begun = time.perf_counter()
        try:
            status: int | str = person.ask(path, form)[0]
        except OSError as error:
            status = str(error)
        if status != OK:
            self.wrong.append(f"{kind}: {status}")
        self.taken.setdefault(kind, []).append(time.perf_counter() - begun)


def main() -> None:
    with served() as server:
        units, site, largest = documents()
        for count, has_heavy, most in CROWDS:
            crowd = people(server.port, count, units, site)
            heavy = people(server.port, 2, units | {"largest": largest}, site)
            told = _measured(crowd, heavy if has_heavy else [])
            all_taken = sorted(seconds for taken in told.taken.values() for seconds in taken)
            empty = empty_page(crowd[0][0])
            late = quantiles(all_taken, n=20)[-1]
            verdict = "" if most is None else _verdict(most, late <= most and not told.wrong)
            beside = ", and two with much to do" if has_heavy else ""
            half, empties = median(all_taken) * 1000, late / empty
            print(f"{count} people{beside}, {len(all_taken)} answers in {LASTS:.0f} s: half in {half:.0f} ms")
            print(f"  95 of 100 within {late * 1000:.0f} ms, {empties:.1f} empty pages{verdict}")
            print(f"  {len(told.wrong)} wrong {sorted(set(told.wrong))[:3]}")
            for kind, taken in sorted(told.taken.items()):
                half, longest = median(taken) * 1000, max(taken) * 1000
                print(f"  {kind}: {len(taken)}, half in {half:.0f}, all in {longest:.0f} ms")


def _verdict(most: float, reached: bool) -> str:
    return f" (goal {most * 1000:.0f} ms, {'reached' if reached else 'missed'})"


def documents() -> tuple[dict[str, Any], dict[str, Any], dict[str, Any]]:
    """Units and a site of ordinary size, and the largest unit."""
    from ashfell.core.base.document import dump
    from ashfell.core.site.document.site import read_site
    from ashfell.core.unit.document.unit import read_unit
    from ashfell.services.documents import load_site

    folder = ROOT / "demo" / "heron-reach"
    held = {path.stem: json.loads(path.read_text()) for path in sorted((folder / "units").glob("*.json"))}
    whole = dump(read_site(load_site(folder / "site.json")))
    placed = [one for one in whole["placements"] if one.get("unit") in KEYS]
    site = whole | {"units": {}, "finishes": {}, "placements": placed}
    lights = {"lights": [{}] * 60, "bars": ["50"] * 59}
    largest = {"name": "Largest", "width": "30 m", "height": "30 m", "columns": lights, "rows": lights}
    return {key: dump(read_unit(held[key])) for key in KEYS}, site, dump(read_unit(largest))


def _measured(crowd: list[tuple[Person, int]], heavy: list[tuple[Person, int]]) -> Told:
    told, until = Told(), time.monotonic() + LASTS
    threads = [threading.Thread(target=_at_work, args=(told, *one, until)) for one in crowd]
    if heavy:
        (brings, _), (opens, project) = heavy
        threads += [threading.Thread(target=_brings, args=(brings, until))]
        threads += [threading.Thread(target=_opens, args=(opens, project, until))]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return told


def _at_work(told: Told, person: Person, project: int, until: float) -> None:
    """Look at pages, type numbers, ask who is here."""
    pick = random.Random(project)
    time.sleep(pick.uniform(0, THOUGHT))
    at, units = f"/projects/{project}/", f"/projects/{project}/units/"
    while time.monotonic() < until:
        unit = f"{units}{pick.choice(KEYS)}/"
        what = pick.choices(("unit", "typing", "3D", "units", "site", "who is here"), (3, 6, 2, 1, 1, 4))[0]
        if what == "typing":
            form = {"entry": "frame.face", "value": f"{pick.uniform(50, 60):.2f}", "keep": "0"}
            told.ask(what, person, f"{unit}edit/", form)
        elif what == "who is here":
            told.ask(what, person, f"{at}here/", {"what": "site:site"})
        else:
            told.ask(what, person, {"unit": unit, "3D": f"{unit}view.glb", "units": units, "site": at}[what])
        time.sleep(pick.uniform(0.5, 1.5) * THOUGHT)


def _brings(person: Person, until: float) -> None:
    """Bring a drawing of very many loose lines, again and again: the worker is at it all the time."""
    pick = random.Random(1)
    lines = (f"0\nLINE\n8\n0\n10\n{pick.random() * 9e4:.1f}\n20\n{pick.random() * 9e4:.1f}\n" for _ in range(WORST))
    ends = (f"11\n{pick.random() * 9e4:.1f}\n21\n{pick.random() * 9e4:.1f}\n" for _ in range(WORST))
    drawn = "".join(line + end for line, end in zip(lines, ends, strict=True))
    file = f"0\nSECTION\n2\nENTITIES\n{drawn}0\nENDSEC\n0\nEOF\n"
    edge = "----bench"
    token = f'--{edge}\r\nContent-Disposition: form-data; name="csrfmiddlewaretoken"\r\n\r\n{TOKEN}\r\n'
    head = f'--{edge}\r\nContent-Disposition: form-data; name="file"; filename="worst.dxf"\r\n\r\n'
    body = f"{token}{head}{file}\r\n--{edge}--\r\n".encode()
    while time.monotonic() < until:
        person.ask("/take-in/", body=body, kind=f"multipart/form-data; boundary={edge}")
        time.sleep(THOUGHT)


def _opens(person: Person, project: int, until: float) -> None:
    """Open the largest unit again and again."""
    while time.monotonic() < until:
        person.ask(f"/projects/{project}/units/largest/")
        time.sleep(THOUGHT)


if __name__ == "__main__":
    main()
