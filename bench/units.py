"""Units from plain to leaded round, and doors, that the benchmarks build."""

from __future__ import annotations

from ashfell.core.base.document import dump
from ashfell.core.unit import UnitDocument, read_unit
from ashfell.core.unit.edit.change import with_opened
from ashfell.core.unit.starts import STARTS, start_from


def lights(count: int, face: str = "50") -> dict[str, object]:
    """As many equal lights, bars between them."""
    return {"lights": [{}] * count, "bars": [face] * (count - 1)}


def _overhead() -> UnitDocument:
    """A sectional door of five sections of eight panels each, opened 60 %."""
    start = STARTS["overhead"].metric
    fill = start["fill"] | {"sections": 5, "face": "40", "content": {**start["fill"]["content"], "columns": lights(8)}}
    panel = fill["content"]["fill"] | {"margin": "15"}
    fill["content"]["fill"] = panel
    return read_unit(with_opened(dump(read_unit(start | {"width": "4000", "fill": fill})), 60))


DOORS = {
    "entrance with sidelights": start_from("entrance", "Entrance", "ft"),
    "panelled pair": start_from("pair", "Pair"),
    "overhead door of 5 by 8 panels at 60 %": _overhead(),
}
UNITS: dict[str, UnitDocument] = DOORS | {
    name: read_unit({"name": name, **data})
    for name, data in {
        "one light": {"width": "1200", "height": "1200"},
        "four by two lights": {
            "width": "2300",
            "height": "1600",
            "frame": {"face": "50", "depth": "90"},
            "columns": lights(4),
            "rows": lights(2),
        },
        "two sashes beside a fixed light": {
            "width": "2400",
            "height": "1400",
            "columns": lights(3),
            "cells": {key: {"fill": {"kind": "sash"}} for key in ("c1r1", "c3r1")},
        },
        "arched": {"width": "1500", "height": "2000", "outline": {"kind": "semicircular"}},
        "circle": {"width": "1000", "height": "1000", "outline": {"kind": "ellipse"}},
        "leaded round of 300 pieces": {
            "width": "1400",
            "height": "1400",
            "outline": {"kind": "ellipse"},
            "fill": {
                "kind": "glass",
                "lead": {"pattern": "shards", "across": 20, "up": 20, "jitter": 0.8, "plain": 0.1},
            },
        },
    }.items()
}
