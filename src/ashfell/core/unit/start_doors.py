"""Doors to start from, in round numbers of either system (common practice, no source)."""

from __future__ import annotations

from ashfell.core.base.document import Data
from ashfell.core.unit.start import Start

DOOR: Data = {
    "width": "986",
    "height": "2149",
    "frame": {"face": "40", "depth": "120", "sides": {"sill": "0"}, "joint": "jambs"},
}
"""The frame of a leaf 900 by 2100: 3 clear at the jambs and the head, 6 over the floor."""
DOOR_IN_INCHES: Data = {
    "width": '39 1/4"',
    "height": '81 7/8"',
    "frame": {
        "face": '1 1/2"',
        "depth": '4 1/2"',
        "sides": {"sill": "0"},
        "joint": "jambs",
        "edge": {"kind": "chamfer", "size": '1/16"'},
    },
}
"""The frame of a leaf 3'0" by 6'8": 1/8 in clear at the jambs and the head, 1/4 in over the floor."""
IN_LEAF: Data = {
    "thickness": "16",
    "setback": "14",
    "cover": "10",
    "clearance": "2",
    "gasket": {"thickness": "2", "shows": "1"},
    "bead": {"edge": {"kind": "chamfer", "size": "1"}},
}
IN_LEAF_IN_INCHES: Data = {
    "thickness": '5/8"',
    "setback": '9/16"',
    "cover": '3/8"',
    "clearance": '1/16"',
    "gasket": {"thickness": '1/16"', "shows": '1/32"'},
    "bead": {"edge": {"kind": "chamfer", "size": '1/32"'}},
}
LEVER: Data = {"kind": "lever", "height": "994"}
"""1000 above the floor."""
LEVER_IN_INCHES: Data = {"kind": "lever", "height": '38"', "edge": '2 3/8"'}
EASED: Data = {"kind": "chamfer", "size": "2"}


def _leaf(content: Data, **own: object) -> Data:
    """A leaf in millimetres."""
    return {"kind": "leaf", "glazing": IN_LEAF, "hardware": [LEVER], "content": content} | own


def _leaf_in_inches(content: Data, **own: object) -> Data:
    """A leaf in round inches: stiles and top rail 4 in, bottom rail 8 in (common practice, no source)."""
    return {
        "kind": "leaf",
        "face": '4"',
        "sides": {"sill": '8"'},
        "depth": '1 3/4"',
        "clearance": '1/8"',
        "foot": '1/4"',
        "stop": '1/2"',
        "glazing": IN_LEAF_IN_INCHES,
        "hardware": [LEVER_IN_INCHES],
        "content": content,
    } | own


PANEL: Data = {"kind": "panel", "thickness": "16", "rise": "6", "margin": "25", "bevel": "30"}
PANELS: Data = {
    "rows": {"lights": [{"size": "640"}, {}], "bars": ["160"]},
    "columns": {"lights": [{}, {}], "bars": ["100"]},
    "fill": PANEL,
}
PANEL_CELL: Data = {"rows": PANELS["rows"], "fill": PANEL}
PANELS_IN_INCHES: Data = {
    "rows": {"lights": [{"size": '24"'}, {}], "bars": ['6"']},
    "columns": {"lights": [{}, {}], "bars": ['4"']},
    "fill": PANEL | {"thickness": '5/8"', "rise": '1/4"', "margin": '1"', "bevel": '1 1/4"'},
}
SIDELIGHT: Data = {"rows": {"lights": [{"size": "250"}, {}], "bars": ["50"]}, "cells": {"c1r1": {"fill": PANEL}}}
SIDELIGHT_IN_INCHES: Data = {
    "rows": {"lights": [{"size": '10"'}, {}], "bars": ['2"']},
    "cells": {"c1r1": {"fill": PANELS_IN_INCHES["fill"]}},
}
PLANKS: Data = {"kind": "planks", "ledges": 3, "braces": "to the right"}

DOORS: dict[str, Start] = {
    "panelled-leaf": Start(
        "Panelled leaf",
        "four raised panels between stiles and rails",
        DOOR | {"fill": _leaf(PANELS)},
        DOOR_IN_INCHES | {"fill": _leaf_in_inches(PANELS_IN_INCHES)},
        group="Doors",
    ),
    "glazed-leaf": Start(
        "Glazed leaf",
        "glass over a panel",
        DOOR | {"fill": _leaf({"rows": PANELS["rows"], "cells": {"c1r1": {"fill": PANEL}}})},
        DOOR_IN_INCHES
        | {
            "fill": _leaf_in_inches(
                {"rows": PANELS_IN_INCHES["rows"], "cells": {"c1r1": {"fill": PANELS_IN_INCHES["fill"]}}}
            )
        },
        group="Doors",
    ),
    "flush-leaf": Start(
        "Flush leaf",
        "a flush board in an edge band",
        DOOR | {"fill": _leaf({"fill": {"kind": "flush"}}, face="8", sides={}, edge={"kind": "chamfer", "size": "1"})},
        DOOR_IN_INCHES
        | {
            "fill": _leaf_in_inches(
                {"fill": {"kind": "flush"}}, face='3/8"', sides={}, edge={"kind": "chamfer", "size": '1/32"'}
            )
        },
        group="Doors",
    ),
    "plank-leaf": Start(
        "Plank leaf",
        "planks on ledges and braces",
        DOOR | {"fill": _leaf({"fill": PLANKS}, face="0", sides={}, hand="left")},
        DOOR_IN_INCHES
        | {
            "fill": _leaf_in_inches(
                {
                    "fill": PLANKS
                    | {"width": '5"', "thickness": '13/16"', "joint": '1/8"', "ledge": '5"', "ledge_thickness": '7/8"'}
                    | {"rise": '8"'}
                },
                face="0",
                sides={},
            )
        },
        group="Doors",
    ),
    "stable-leaf": Start(
        "Stable leaf",
        "two parts that open by themselves",
        DOOR
        | {
            "fill": _leaf(
                {"fill": {"kind": "planks"}},
                opening="stable",
                active="1050",
                sides={},
                hinges={"count": 2},
                hardware=[LEVER | {"height": "900", "of": "lower"}],
            )
        },
        group="Doors",
    ),
    "pair": Start(
        "Pair of leaves",
        "two glazed leaves with rebated meeting stiles",
        DOOR
        | {
            "width": "1690",
            "fill": _leaf(
                {"rows": PANELS["rows"], "cells": {"c1r1": {"fill": PANEL}}},
                opening="side-hung-pair",
                clearance="4",
                meeting={"kind": "rebated"},
            ),
        },
        group="Doors",
    ),
    "unequal-pair": Start(
        "Unequal pair",
        "a wide leaf beside a narrow one",
        DOOR | {"width": "1390", "fill": _leaf(PANEL_CELL, opening="side-hung-pair", clearance="4", active="900")},
        group="Doors",
    ),
    "entrance": Start(
        "Entrance",
        "a leaf between sidelights",
        DOOR
        | {
            "width": "1830",
            "columns": {"lights": [{}, {"size": "906"}, {}], "bars": ["50", "50"]},
            "cells": {"c1r1": SIDELIGHT, "c2r1": {"fill": _leaf(PANELS)}, "c3r1": SIDELIGHT},
        },
        DOOR_IN_INCHES
        | {
            "width": '72"',
            "height": '84"',
            "frame": DOOR_IN_INCHES["frame"] | {"face": '2"', "depth": '6"'},
            "columns": {"lights": [{}, {"size": '36 1/4"'}, {}], "bars": ['2"', '2"']},
            "cells": {
                "c1r1": SIDELIGHT_IN_INCHES,
                "c2r1": {"fill": _leaf_in_inches(PANELS_IN_INCHES)},
                "c3r1": SIDELIGHT_IN_INCHES,
            },
        },
        group="Doors",
    ),
    "overlit-entrance": Start(
        "Entrance under an overlight",
        "a leaf, sidelights, and glass over all",
        DOOR
        | {
            "width": "1830",
            "height": "2600",
            "rows": {"lights": [{"size": "2109"}, {}], "bars": ["50"]},
            "bars": {"through": "rows"},
            "cells": {
                "c1r1": {
                    "columns": {"lights": [{}, {"size": "906"}, {}], "bars": ["50", "50"]},
                    "cells": {"c1r1": SIDELIGHT, "c2r1": {"fill": _leaf(PANELS)}, "c3r1": SIDELIGHT},
                }
            },
        },
        group="Doors",
    ),
}
"""By key."""
