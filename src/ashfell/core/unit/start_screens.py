"""Partitions and screens to start from, in round numbers of either system (common practice, no source)."""

from __future__ import annotations

from ashfell.core.base.document import Data
from ashfell.core.unit.start import Start
from ashfell.core.unit.start_doors import IN_LEAF

GROUP = "Partitions and screens"
THIN_GLASS: Data = {
    "thickness": "10",
    "setback": "20",
    "cover": "4",
    "clearance": "1",
    "gasket": {"thickness": "2", "shows": "1"},
    "bead": {"edge": {"kind": "square", "size": "0"}},
}
THIN_GLASS_IN_INCHES: Data = {
    "thickness": '3/8"',
    "setback": '3/4"',
    "cover": '5/32"',
    "clearance": '1/32"',
    "gasket": {"thickness": '1/16"', "shows": '1/32"'},
    "bead": {"edge": {"kind": "square", "size": "0"}},
}
SQUARE: Data = {"kind": "square", "size": "0"}
FROSTED: Data = {"fill": {"kind": "glass", "finish": "frosted-glass"}}
BOARD_BELOW: Data = {"c1r1": {"fill": {"kind": "flush"}}}
BAND: Data = {
    "columns": {"lights": [{}, {}], "bars": ["10"]},
    "rows": {"lights": [{}, {"size": "600"}, {}], "bars": ["10", "10"]},
    "bars": {"depth": "50", "edge": SQUARE, "through": "rows"},
    "cells": {"c1r2": FROSTED, "c2r2": FROSTED},
}
BAND_IN_INCHES: Data = {
    "columns": {"lights": [{}, {}], "bars": ['3/8"']},
    "rows": {"lights": [{}, {"size": '24"'}, {}], "bars": ['3/8"', '3/8"']},
    "bars": {"depth": '2"', "edge": SQUARE, "through": "rows"},
    "cells": {"c1r2": FROSTED, "c2r2": FROSTED},
}

SCREENS: dict[str, Start] = {
    "partition": Start(
        "Partition",
        "rings within rings, a frosted band, feet",
        {
            "width": "3000",
            "height": "2400",
            "frame": {
                "face": "30",
                "depth": "50",
                "edge": SQUARE,
                "rings": [
                    {"face": "20", "edge": SQUARE},
                    {
                        "face": "10",
                        "edge": SQUARE,
                        "steps": {"left": "400", "right": "400", "head": "100", "sill": "100"},
                        "outline": {"kind": "rectangle", "corners": [{"kind": "rounded", "size": "150"}]},
                        "infill": {"kind": "glass", "thickness": "10"},
                    },
                ],
            },
            "glazing": THIN_GLASS,
            "trim": {"feet": {}},
            "finishes": {"frame": "slate-paint", "bar": "slate-paint"},
        }
        | BAND,
        {
            "width": "10'",
            "height": "8'",
            "frame": {
                "face": '1 1/4"',
                "depth": '2"',
                "edge": SQUARE,
                "rings": [
                    {"face": '3/4"', "edge": SQUARE},
                    {
                        "face": '3/8"',
                        "edge": SQUARE,
                        "steps": {"left": '16"', "right": '16"', "head": '4"', "sill": '4"'},
                        "outline": {"kind": "rectangle", "corners": [{"kind": "rounded", "size": '6"'}]},
                        "infill": {"kind": "glass", "thickness": '3/8"'},
                    },
                ],
            },
            "glazing": THIN_GLASS_IN_INCHES,
            "trim": {"feet": {"width": '2 1/2"', "length": '16"', "height": '1/2"', "inset": '4"'}},
            "finishes": {"frame": "slate-paint", "bar": "slate-paint"},
        }
        | BAND_IN_INCHES,
        group=GROUP,
    ),
    "glass-screen": Start(
        "Glass screen with a leaf",
        "glass from floor to head, a leaf in the middle",
        {
            "width": "3600",
            "height": "2500",
            "frame": {"face": "40", "depth": "80", "edge": SQUARE, "sides": {"sill": "0"}, "joint": "jambs"},
            "glazing": IN_LEAF,
            "columns": {"lights": [{}, {"size": "906"}, {}], "bars": ["40", "40"]},
            "bars": {"edge": SQUARE},
            "cells": {
                "c2r1": {
                    "fill": {
                        "kind": "leaf",
                        "face": "70",
                        "sides": {},
                        "glazing": IN_LEAF,
                        "hardware": [{"kind": "lever", "height": "994"}],
                    }
                }
            },
            "finishes": {"frame": "slate-paint", "bar": "slate-paint", "leaf": "slate-paint"},
        },
        group=GROUP,
    ),
    "folding-screen": Start(
        "Folding screen",
        "five boarded leaves that fold away",
        {
            "width": "3200",
            "height": "2400",
            "frame": {"face": "40", "depth": "90", "sides": {"sill": "0"}, "joint": "jambs"},
            "fill": {
                "kind": "folding",
                "leaves": 5,
                "face": "60",
                "glazing": IN_LEAF,
                "content": {
                    "rows": {"lights": [{}, {}], "bars": ["60"]},
                    "cells": {"c1r1": {"fill": {"kind": "flush"}}},
                },
            },
        },
        group=GROUP,
    ),
    "sliding-screen": Start(
        "Sliding screen",
        "four panels on two tracks",
        {
            "width": "3600",
            "height": "2400",
            "frame": {"face": "40", "depth": "120", "sides": {"sill": "20"}},
            "glazing": THIN_GLASS | {"setback": "12"},
            "fill": {
                "kind": "sliders",
                "slide": "across",
                "panels": 4,
                "face": "40",
                "depth": "40",
                "content": {"rows": {"lights": [{}, {}, {}, {}], "bars": ["20", "20", "20"]}, "bars": {"edge": SQUARE}},
            },
        },
        group=GROUP,
    ),
}
"""By key."""
