"""The largest units that are taken in, one of each kind of what is dear, and a site of 10,000 placements, on every page
that a person can ask a server for: the slowest answer and the most memory that its process came to, against a page with
nothing on it in the same run.

``python -m bench.largest`` for all of them, or with the names of some.
"""

from __future__ import annotations

import sys
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from bench.served import Person, Served, empty_page, people, served
from bench.units import lights

Data = dict[str, Any]
SECONDS, MEGABYTES = 5.0, 500
"""What an answer may take, and the process that gives it."""
PLACEMENTS = 10_000
BAR = 60
"""The face of a bar, mm."""
SASH = {"kind": "sash", "opening": "side-hung", "depth": "60", "swing": "in"}
GRID = {"width": "20", "edge": {"kind": "chamfer", "size": "4"}, "columns": lights(3, "20"), "rows": lights(3, "20")}
FILLS: dict[str, tuple[int, int, Data]] = {
    "open sashes": (700, 900, SASH | {"opened": 30}),
    "levers": (700, 900, SASH | {"hardware": [{"kind": "lever", "height": "450", "faces": "both"}]}),
    "swept muntins": (700, 900, {"kind": "glass", "muntins": GRID | {"kind": "grid"}}),
    "pairs": (1400, 1400, SASH | {"opening": "side-hung-pair", "meeting": {"kind": "rebated"}}),
    "folding": (3200, 2100, {"kind": "folding", "depth": "60", "opened": 40}),
    "domes": (900, 900, {"kind": "dome"}),
    "panels": (700, 900, {"kind": "panel"}),
    "lights": (700, 900, {"kind": "glass"}),
}
"""A light's width and height, mm, and what fills every one."""
MOST = 60
"""No list of lights is longer."""
PICTURE = {
    **{"eye_x": 3, "eye_y": -9, "eye_z": 2, "target_x": 3, "target_y": 0, "target_z": 1, "lens": 35},
    **{"sky": "clear", "light": "sun", "on": "sun", "by": "angle", "azimuth": 215, "altitude": 38},
    **{"size": "64 × 40", "quality": "draft", "exposure": 0},
}
"""What is asked of a picture."""
WITHIN = 7
"""How many lights a side a cell has where lights are in cells."""


def main() -> None:
    names = sys.argv[1:] or [*FILLS, "cells", "site"]
    worst = 0.0
    with served() as server:
        for name in names:
            steps = _of_site(server) if name == "site" else _of_unit(server, name)
            taken = dict(steps)
            slowest = sorted(taken, key=lambda what: taken[what], reverse=True)
            worst = max(worst, taken[slowest[0]])
            told = ", ".join(f"{what} {taken[what]:.2f}" for what in slowest[:4])
            print(f"{name}: {told} s; {_memory(server, 'VmRSS')} MB, at most {_memory(server, 'VmHWM')}", flush=True)
        peak = _memory(server, "VmHWM")
        ((person, _),) = people(server.port, 1, {}, {"name": "Site"})
        empties = worst / empty_page(person)
        print(f"slowest {worst:.2f} s, {empties:.0f} empty pages (goal {SECONDS:g} s, {_reached(worst, SECONDS)})")
        print(f"at most {peak} MB in one process (goal {MEGABYTES} MB, {_reached(peak, MEGABYTES)})")


def _reached(found: float, goal: float) -> str:
    return "reached" if found <= goal else "missed"


def largest(name: str) -> tuple[Data, int]:
    """The unit of most lights a side that is taken in, and how many lights a side that is."""
    from ashfell.core.base.refusal import Refusal
    from ashfell.core.unit import read_unit, solve

    fits, too_many = 1, MOST + 1
    while too_many - fits > 1:
        side = (fits + too_many) // 2
        try:
            solve(read_unit(_unit(name, side)))
        except Refusal as refusal:
            if refusal.rule != "a unit of bounded size":
                raise
            too_many = side
        else:
            fits = side
    return _unit(name, fits), fits


def _unit(name: str, side: int) -> Data:
    if name == "cells":
        within = {axis: lights(WITHIN, "20") for axis in ("columns", "rows")}
        cells = {f"c{i + 1}r{j + 1}": within for i in range(side) for j in range(side)}
        return _divided(side, 3000, 3000) | {"cells": cells}
    wide, high, fill = FILLS[name]
    return _divided(side, wide, high) | {"fill": fill}


def _divided(side: int, wide: int, high: int) -> Data:
    bars = {axis: lights(side, str(BAR)) for axis in ("columns", "rows")}
    around = 2 * BAR - BAR
    return {
        "name": "Largest",
        "width": str(side * (wide + BAR) + around),
        "height": str(side * (high + BAR) + around),
        "frame": {"face": str(BAR), "depth": "110"},
        **bars,
    }


def _of_unit(server: Served, name: str) -> Iterator[tuple[str, float]]:
    from ashfell.core.base.document import dump
    from ashfell.core.unit import read_unit

    data, side = largest(name)
    print(f"{name}: {side} x {side} lights", flush=True)
    ((person, project),) = people(server.port, 1, {"largest": dump(read_unit(data)), "other": dump(read_unit({}))}, {})
    units = f"/projects/{project}/units/"
    unit = f"{units}largest/"
    wider = {"entry": "width", "value": str(int(data["width"]) + 10)}
    pages = ["", "elevation.svg", "document.json", "view.glb", "sizes/", "history/", "audit/", "hardware/"]
    yield from _asked(person, {page or "page": (unit + page, None) for page in pages})
    sides = ("inside", "across", "up", "points")
    yield from _asked(person, {side: (f"{unit}?side={side}", None) for side in sides})
    yield from _asked(
        person,
        {
            "units": (units, None),
            "compare": (f"{units}compare/?a=largest&b=other", None),
            "typed": (f"{unit}edit/", wider | {"keep": "0"}),
            "typed in 3D": (f"{unit}view.glb", wider),
            "measured": (f"{unit}measure/", {"points": "[[1, 1], [900, 900]]", "reach": "10"}),
            "finish": (f"{unit}edit/", {"entry": "finishes.frame", "value": "ash-timber", "keep": "0"}),
            "kept": (f"{unit}edit/", wider | {"keep": "1", "base": _base(project, "largest")}),
        },
    )
    kept = {"base": _base(project, "largest")}
    words = ("undo", "duplicate", "publish")
    yield from _asked(person, {word: (f"{unit}{word}/", kept) for word in words})
    everywhere = {"entry": "finishes.frame", "value": "ash-timber"}
    yield from _asked(
        person, {"everywhere": (f"{units}everywhere/", everywhere), "catalogue": (f"{units}catalogue/", None)}
    )


def _of_site(server: Served) -> Iterator[tuple[str, float]]:
    from ashfell.core.base.document import dump
    from ashfell.core.site.document.site import read_site
    from bench.scenes import KEYS, site

    whole = dump(read_site(site(PLACEMENTS)))
    units = whole["units"]
    ((person, project),) = people(server.port, 1, units, whole | {"units": {}})
    at = f"/projects/{project}/"
    moved = {"entry": "placements.unit-7-7.sill", "value": "810", "at": "placements.unit-7-7"}
    pages = ("", "site.glb", "audit/", "fit/", "schedule.csv", "schedule.xlsx", "pictures/", "hand-over/", "units/")
    yield from _asked(person, {page or "page": (at + page, None) for page in pages})
    yield from _asked(
        person,
        {
            "wall": (f"{at}?side=outside&at=walls.wall-7", None),
            "schedule": (f"{at}?side=schedule", None),
            "typed": (f"{at}edit/", moved | {"keep": "0"}),
            "typed in 3D": (f"{at}site.glb", moved),
            "measured": (f"{at}measure/", {"points": "[[1, 1], [900, 900]]", "reach": "10"}),
            "picture": (f"{at}pictures/start/", PICTURE),
            "kept": (f"{at}edit/", moved | {"keep": "1", "base": _base(project, "site")}),
            "wall added": (f"{at}edit/", {"do": "add-wall", "from": "0; -9000", "to": "9000; -9000", "keep": "0"}),
            "fitted": (f"{at}fit/", {"at": [f"unit-3-{k}" for k in range(200)], "unit": KEYS[0], "way": "unit"}),
        },
    )
    yield from _asked(person, {"undo": (f"{at}site/undo/", {"base": _base(project, "site")})})
    lines = person.ask(f"{at}schedule.csv")[1].decode("utf-8-sig").replace(",800,", ",790,")
    yield from _asked(person, {"table taken in": (f"{at}schedule/in/", {"content": lines, "keep": "0"})})


def _base(project: int, key: str) -> str:
    """The number of the revision that is in force."""
    from ashfell.services.kept.models import Record

    return str(Record.objects.get(project=project, key=key).current_id)


def _asked(person: Person, what: dict[str, tuple[str, Data | None]]) -> Iterator[tuple[str, float]]:
    """How long each answer took, seconds."""
    for name, (path, form) in what.items():
        begun = time.perf_counter()
        status, content = person.ask(path, form)
        yield name, time.perf_counter() - begun
        if status >= 400:
            print(f"  {name}: {status} {content[:160]!r}")


def _memory(server: Served, what: str) -> int:
    """What the largest of the web server's processes is using, or came to at most, MB."""
    number = server.processes["web"].pid
    children = Path(f"/proc/{number}/task/{number}/children").read_text().split()
    told = [Path(f"/proc/{one}/status").read_text() for one in (number, *children)]
    return max(int(status.split(f"{what}:")[1].split()[0]) for status in told) * 1024 // 1_000_000


if __name__ == "__main__":
    main()
