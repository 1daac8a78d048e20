"""One step for each earlier format; a document goes through as many as it needs."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from ashfell.core.upgrade import finish_1, site_1, site_2, site_3, site_4, unit_1, unit_2, unit_3

Data = dict[str, Any]

STEPS: dict[str, Callable[[Data], Data]] = {
    one.FORMAT: one.upgrade for one in (unit_1, unit_2, unit_3, site_1, site_2, site_3, site_4, finish_1)
}
"""From a format to what makes the next of it."""


def upgraded(data: Mapping[str, Any]) -> Mapping[str, Any]:
    """A document in the format that is in force; the same one where it is already. The units of a site are upgraded
    with it.

    >>> upgraded({"format": "ashfell/unit/1", "columns": {"bars": ["50"]}})["columns"]
    {'bars': [{'face': '50'}]}
    """
    while isinstance(data.get("format"), str) and data["format"] in STEPS:
        data = STEPS[data["format"]](dict(data))
    units = data.get("units")
    if isinstance(units, Mapping):
        fresh = {key: upgraded(unit) if isinstance(unit, Mapping) else unit for key, unit in units.items()}
        if any(fresh[key] is not units[key] for key in units):
            data = {**data, "units": fresh}
    return data
