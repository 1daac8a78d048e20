"""A unit in words: names for entries, and what differs between two documents."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

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
        elif before == "cells":
            words[-1] = f"light {step}"
        else:
            words.append(NAMES.get(step, step.replace("_", " ")))
    text = ", ".join(words)
    return text[:1].upper() + text[1:]


def differences(before: Data, after: Data) -> list[str]:
    """What differs between two unit documents, one sentence each."""
    a, b = dict(_flat(before, "")), dict(_flat(after, ""))
    found = []
    for entry in sorted({*a, *b}, key=lambda key: (key not in ("width", "height"), key)):
        if entry == "format" or a.get(entry) == b.get(entry):
            continue
        name = entry_words(entry)
        if entry not in a:
            found.append(f"{name}: {b[entry]} was added.")
        elif entry not in b:
            found.append(f"{name}: {a[entry]} is gone.")
        else:
            found.append(f"{name}: {a[entry]} became {b[entry]}.")
    return found


def _flat(value: Any, path: str) -> Iterator[tuple[str, str]]:
    if isinstance(value, dict):
        for key, inner in value.items():
            yield from _flat(inner, f"{path}.{key}" if path else key)
    elif isinstance(value, list):
        for index, inner in enumerate(value):
            yield from _flat(inner, f"{path}.{index}")
    elif value is not None:
        yield path, str(value)
