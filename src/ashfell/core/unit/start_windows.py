"""Windows to start from, in round numbers of either system (common practice, no source)."""

from __future__ import annotations

from ashfell.core.base.document import Data
from ashfell.core.unit.start import Start

METRIC: Data = {"width": "1200", "height": "1200"}
INCHES: Data = {
    "width": "4'",
    "height": "4'",
    "frame": {"face": '2"', "depth": '3 1/2"', "edge": {"kind": "chamfer", "size": '1/16"'}},
    "bars": {"setback": "0", "edge": {"kind": "chamfer", "size": '1/16"'}},
    "glazing": {
        "thickness": '1"',
        "setback": '1"',
        "cover": '1/2"',
        "clearance": '1/8"',
        "gasket": {"thickness": '1/8"', "shows": '1/16"'},
        "bead": {"edge": {"kind": "chamfer", "size": '1/16"'}},
    },
}


def _lights(count: int, face: str = "50") -> Data:
    return {"lights": [{}] * count, "bars": [face] * (count - 1)}


WINDOWS: dict[str, Start] = {
    "fixed": Start("Fixed light", "one pane of fixed glass", {}, {}),
    "casement": Start(
        "Casement",
        "one side-hung sash",
        {"width": "700", "height": "1200", "fill": {"kind": "sash"}},
        {
            "width": "2' 4\"",
            "height": "4'",
            "glazing": INCHES["glazing"] | {"thickness": '3/4"', "setback": '5/8"'},
            "fill": {"kind": "sash", "face": '2"', "depth": '2 1/4"', "clearance": '1/8"', "stop": '3/8"'},
        },
    ),
    "side-light": Start(
        "Two lights, one opening",
        "a fixed light beside a side-hung sash",
        {"width": "1500", "columns": _lights(2), "cells": {"c2r1": {"fill": {"kind": "sash", "hand": "right"}}}},
    ),
    "four-light": Start(
        "Four lights in a row", "equal clear lights between mullions", {"width": "2400", "columns": _lights(4)}
    ),
    "slider": Start(
        "Vertical slider",
        "two sashes that slide past each other",
        {
            "width": "900",
            "height": "1800",
            "frame": {"face": "50", "depth": "125"},
            "glazing": {"thickness": "6", "setback": "14", "cover": "8", "clearance": "2"},
            "fill": {"kind": "sliders", "slide": "up", "face": "40", "depth": "34"},
        },
        {
            "width": "3'",
            "height": "6'",
            "frame": {"face": '2"', "depth": '5"'},
            "glazing": {
                "thickness": '1/4"',
                "setback": '1/2"',
                "cover": '5/16"',
                "clearance": '1/16"',
                "gasket": {"thickness": '1/8"', "shows": '1/16"'},
            },
            "fill": {
                "kind": "sliders",
                "slide": "up",
                "face": '1"',
                "depth": '1 5/16"',
                "clearance": '1/8"',
                "gap": '1/8"',
            },
        },
    ),
    "arched": Start(
        "Arched window",
        "a semicircular head with spokes",
        {
            "width": "1000",
            "height": "1700",
            "outline": {"kind": "semicircular"},
            "rows": {"lights": [{"size": "1100"}, {}], "bars": ["50"]},
            "cells": {
                "c1r2": {"fill": {"kind": "glass", "muntins": {"kind": "radial", "spokes": 3, "circles": ["140"]}}}
            },
        },
    ),
    "round": Start(
        "Round window", "a circle of fixed glass", {"width": "700", "height": "700", "outline": {"kind": "ellipse"}}
    ),
    "leaded": Start(
        "Leaded light",
        "a jittered grid of coloured glass",
        {"width": "700", "height": "1000", "fill": {"kind": "glass", "lead": {}}},
    ),
    "louvred": Start(
        "Louvred opening",
        "blades that keep rain out",
        {"width": "800", "height": "800", "frame": {"depth": "100"}, "fill": {"kind": "louvres"}},
    ),
}
"""By key."""
