"""Doors, screens and rooflights from a seed, at every twentieth of their way: nothing overlaps, all is closed.

Each begins as one to start from, with other sizes, hands, ways to open, contents and hardware; what is refused is
mended by what the refusal says. In the long run a thousand of them by steps of 5 %, daily some at a few places.
"""

from __future__ import annotations

import random

import pytest
from hypothesis import settings

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.document import dump
from ashfell.core.unit import read_unit
from ashfell.core.unit.edit.change import with_opened
from ashfell.core.unit.make import make
from ashfell.core.unit.starts import STARTS, start_from
from tests.core.remedied import remedied

IN_THE_LONG_RUN = settings.default is not None and settings.default.max_examples >= 1000
BATCHES, BATCH = (40, 25) if IN_THE_LONG_RUN else (4, 8)
KEYS = [key for key, start in STARTS.items() if start.group not in ("Windows",)]
CONTENTS = (
    {"fill": {"kind": "flush"}},
    {"fill": {"kind": "flush", "grooves": {"count": 3}}},
    {"fill": {"kind": "planks", "ledges": 2}},
    {"rows": {"lights": [{}, {}], "bars": ["80"]}, "fill": {"kind": "panel", "thickness": "14"}},
    {},
)
HARDWARE = ("lever", "knob", "bar-handle", "recessed-pull", "espagnolette", "stay", "swept-piece", "plate")


def any_door(seed: int) -> dict[str, object]:
    """The document of door number ``seed``."""
    pick = random.Random(f"door {seed}")
    key = pick.choice(KEYS)
    data = dump(start_from(key, f"{key} {seed}", pick.choice(("mm", "mm", "in"))))
    for side in ("width", "height"):
        size = float(getattr(read_unit(data), side).mm)
        data[side] = f"{size * pick.uniform(0.85, 1.35):.1f}"
    for fill in _fills(data):
        _vary(pick, fill)
    return data


def _fills(cell):
    if cell.get("fill"):
        yield cell["fill"]
    for inner in cell.get("cells", {}).values():
        yield from _fills(inner)


def _vary(pick: random.Random, fill: dict[str, object]) -> None:
    if "hand" in fill:
        fill["hand"] = pick.choice(("left", "right"))
    if "swing" in fill:
        fill["swing"] = pick.choice(("out", "in"))
    if "content" in fill and pick.random() < 0.4:
        fill["content"] = pick.choice(CONTENTS)
    if fill["kind"] == "leaf":
        fill["turns"] = pick.choice((90, 90, 120, 180))
        fill["stop_depth"] = pick.choice((None, "12"))
    if fill["kind"] == "folding":
        fill["leaves"] = pick.randint(2, 7)
        fill["to_right"] = pick.randint(0, 7)
    if fill["kind"] == "overhead":
        fill |= {"sections": pick.randint(1, 6), "radius": str(pick.randint(0, 500))}
    if fill["kind"] == "rolling":
        fill |= {"slat": str(pick.randint(40, 120)), "barrel": str(pick.randint(90, 240))}
    if "hardware" in fill and pick.random() < 0.5:
        kind = pick.choice(HARDWARE)
        fill["hardware"] = [{"kind": kind, "faces": pick.choice(("both", "outside", "inside")), "edge": "70"}]


def steps(seed: int) -> list[int]:
    return list(range(0, 101, 5)) if IN_THE_LONG_RUN else [0, random.Random(seed).randrange(5, 100, 5), 100]


def examined(seed: int) -> str:
    """What is wrong with door number ``seed``; empty when it is sound however far it is opened."""
    try:
        for percent in steps(seed):
            data, _ = remedied(with_opened(dump(read_unit(any_door(seed))), percent))
            found = [one for one in audit_unit(make(read_unit(data))) if one.level == "fault"]
            if found:
                return f"{seed} at {percent} %: {found[0].place}: {found[0].reason}"
    except Exception as error:  # whatever it is, it is a defect of this door, and the others are still to be seen
        return f"{seed}: {error!r}"
    return ""


@pytest.mark.parametrize("batch", range(BATCHES))
def test_doors_are_sound_however_far_they_are_opened(batch):
    seeds = range(batch * BATCH, (batch + 1) * BATCH)
    assert [told for seed in seeds if (told := examined(seed))] == []


def test_the_doors_are_of_every_start():
    assert {any_door(seed)["name"].rpartition(" ")[0] for seed in range(400)} == set(KEYS)
