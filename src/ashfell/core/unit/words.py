"""A unit in words: names for entries, and what differs between two documents."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ashfell.core.base.differences import Difference, differences
from ashfell.core.base.document import Data

NAMES = {
    "width": "Overall width",
    "height": "Overall height",
    "face": "face",
    "depth": "depth",
    "setback": "set-back",
    "edge": "edge",
    "columns": "columns",
    "rows": "rows",
    "fill": "filling",
    "size": "size",
    "lights": "light",
    "bars": "bar",
    "cells": "light",
    "glazing": "glass",
    "kind": "kind",
    "rule": "rule",
    "finishes": "finish of",
    "inner": "inner finish of",
}


def entry_words(entry: str) -> str:
    """A dotted path as somebody would say it.

    >>> entry_words("cells.c2r1.fill.face"), entry_words("columns.bars.0.face")
    ('Light c2r1, filling, face', 'Columns, bar 1, face')
    """
    words: list[str] = []
    steps = [step for step in entry.split(".") if step]
    for k, step in enumerate(steps):
        before = steps[k - 1] if k else ""
        if step.isdigit():
            words[-1] = f"{words[-1].rstrip('s')} {int(step) + 1}"
        elif before in ("finishes", "inner"):
            words[-1] = f"{words[-1]} {step}"
        elif before == "cells":
            words[-1] = f"light {step}"
        else:
            words.append(NAMES.get(step, step.replace("_", " ")))
    text = ", ".join(words)
    return text[:1].upper() + text[1:]


def difference_words(before: Data, after: Data) -> list[str]:
    """What differs between two unit documents, one sentence each: the overall size first.

    >>> difference_words({"width": "900", "frame": {"face": "50"}}, {"width": "900", "frame": {"face": "60"}})
    ['Frame, face: 50 became 60.']
    """
    found = [one for one in differences(before, after) if one.entry != "format"]
    found.sort(key=lambda one: one.entry not in ("width", "height"))
    return [line for one in found for line in _lines(one)]


def _lines(one: Difference) -> Iterator[str]:
    was, now = dict(_flat(one.before, one.entry)), dict(_flat(one.after, one.entry))
    for entry in {**was, **now}:
        name = entry_words(entry)
        if entry not in was:
            yield f"{name}: {now[entry]} was added."
        elif entry not in now:
            yield f"{name}: {was[entry]} is gone."
        else:
            yield f"{name}: {was[entry]} became {now[entry]}."


def _flat(value: Any, entry: str) -> Iterator[tuple[str, str]]:
    """What is in a value, entry by entry."""
    if isinstance(value, dict | list):
        for key, inner in value.items() if isinstance(value, dict) else enumerate(value):
            yield from _flat(inner, f"{entry}.{key}")
    elif value is not None:
        yield entry, str(value)
