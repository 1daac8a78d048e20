"""Doors that slide, fold, roll or run overhead, to start from; in round numbers of either system (common practice, no
source)."""

from __future__ import annotations

from ashfell.core.base.document import Data
from ashfell.core.unit.start import Start
from ashfell.core.unit.start_doors import DOOR, DOOR_IN_INCHES, IN_LEAF, IN_LEAF_IN_INCHES, PANEL, PANELS_IN_INCHES

GROUP = "Sliding, folding and overhead doors"
ONE_JAMB: Data = DOOR["frame"] | {"sides": {"sill": "0", "left": "0"}}
ONE_JAMB_IN_INCHES: Data = DOOR_IN_INCHES["frame"] | {"sides": {"sill": "0", "left": "0"}}
PULL: Data = {"kind": "bar-handle", "up": "300", "out": "40", "thickness": "18", "height": "1200", "edge": "20"}
PULL_IN_INCHES: Data = {
    "kind": "bar-handle",
    "up": '12"',
    "out": '1 1/2"',
    "thickness": '3/4"',
    "height": '48"',
    "edge": '3/4"',
}
GLAZED_LEAF: Data = {"face": "90", "sides": {"sill": "180"}, "joint": "jambs", "glazing": IN_LEAF}
GLAZED_LEAF_IN_INCHES: Data = {
    "face": '3 1/2"',
    "sides": {"sill": '7"'},
    "depth": '1 3/4"',
    "joint": "jambs",
    "glazing": IN_LEAF_IN_INCHES,
}

SLIDING: dict[str, Start] = {
    "folding-doors": Start(
        "Folding doors",
        "four glazed leaves that fold to one side",
        DOOR
        | {
            "width": "3200",
            "fill": GLAZED_LEAF | {"kind": "folding", "leaves": 4},
        },
        DOOR_IN_INCHES
        | {
            "width": "10' 8\"",
            "fill": GLAZED_LEAF_IN_INCHES
            | {"kind": "folding", "leaves": 4, "clearance": '3/16"', "gap": '1/8"', "foot": '1/4"', "stop": '1"'}
            | {"hinges": {"radius": '1/4"', "tall": '4"', "foot": '9"', "head": '7"'}},
        },
        group=GROUP,
    ),
    "parting-folds": Start(
        "Folding doors to both sides",
        "six leaves, three to each side",
        DOOR | {"width": "4800", "fill": GLAZED_LEAF | {"kind": "folding", "leaves": 6, "to_right": 3}},
        group=GROUP,
    ),
    "hung-slider": Start(
        "Leaf sliding on the wall",
        "planks on a rail before the opening",
        DOOR
        | {
            "fill": {
                "kind": "sliding-leaf",
                "face": "0",
                "content": {"fill": {"kind": "planks", "ledges": 3, "braces": "to the right"}},
            }
        },
        group=GROUP,
    ),
    "pocket-door": Start(
        "Pocket door",
        "a panelled leaf that slides into the wall",
        DOOR | {"frame": ONE_JAMB, "fill": GLAZED_LEAF | {"kind": "sliding-leaf", "runs": "pocket"}},
        DOOR_IN_INCHES
        | {
            "frame": ONE_JAMB_IN_INCHES,
            "fill": GLAZED_LEAF_IN_INCHES
            | {"kind": "sliding-leaf", "runs": "pocket", "depth": '1 3/8"', "clearance": '5/16"', "gap": '1/8"'}
            | {"jamb": '1 1/2"', "foot": '1/4"'},
        },
        group=GROUP,
    ),
    "rolling": Start(
        "Rolling curtain",
        "slats that roll up onto a coil",
        DOOR
        | {"width": "2580", "height": "2440", "frame": DOOR["frame"] | {"depth": "150"}, "fill": {"kind": "rolling"}},
        DOOR_IN_INCHES
        | {
            "width": "8' 3\"",
            "height": "8' 1 1/2\"",
            "frame": DOOR_IN_INCHES["frame"] | {"depth": '6"'},
            "fill": {"kind": "rolling", "slat": '3"', "thickness": '3/4"', "lap": '1 1/2"'}
            | {"clearance": '1/16"', "barrel": '6"'},
        },
        group=GROUP,
    ),
    "overhead": Start(
        "Overhead door",
        "sections that run up and inwards",
        DOOR
        | {
            "width": "2580",
            "height": "2240",
            "frame": DOOR["frame"] | {"depth": "150"},
            "fill": {
                "kind": "overhead",
                "glazing": IN_LEAF | {"setback": "12"},
                "content": {"columns": {"lights": [{}] * 5, "bars": ["60"] * 4}, "fill": PANEL},
            },
        },
        DOOR_IN_INCHES
        | {
            "width": "8' 3\"",
            "height": "7' 1 1/2\"",
            "frame": DOOR_IN_INCHES["frame"] | {"depth": '6"'},
            "fill": {
                "kind": "overhead",
                "face": '2 1/2"',
                "depth": '1 5/8"',
                "lap": '1"',
                "clearance": '1/4"',
                "apart": '1/16"',
                "radius": '15"',
                "rise": '1"',
                "glazing": IN_LEAF_IN_INCHES | {"setback": '1/2"'},
                "content": {
                    "columns": {"lights": [{}] * 4, "bars": ['2 1/2"'] * 3},
                    "fill": PANELS_IN_INCHES["fill"],
                },
            },
        },
        group=GROUP,
    ),
    "tilting": Start(
        "Tilting door",
        "one piece that tilts up and in",
        DOOR
        | {
            "width": "2580",
            "height": "2240",
            "frame": DOOR["frame"] | {"depth": "150"},
            "fill": {
                "kind": "overhead",
                "sections": 1,
                "radius": "0",
                "rise": "0",
                "content": {"fill": {"kind": "planks", "width": "110"}},
            },
        },
        group=GROUP,
    ),
    "sliding-door": Start(
        "Sliding door",
        "two glazed panels on tracks",
        {
            "width": "2400",
            "height": "2200",
            "frame": {"face": "50", "depth": "140", "sides": {"sill": "30"}},
            "fill": {
                "kind": "sliders",
                "slide": "across",
                "face": "70",
                "depth": "56",
                "hardware": [
                    {
                        "kind": "bar-handle",
                        "up": "300",
                        "out": "40",
                        "thickness": "18",
                        "height": "1200",
                        "edge": "20",
                        "faces": "outside",
                    }
                ],
            },
        },
        group=GROUP,
    ),
}
"""By key."""
