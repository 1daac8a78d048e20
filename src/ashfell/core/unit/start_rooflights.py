"""Rooflights to start from: a kerb that stands out of the roof, a flashing round it on the roof, glass that opens
(common practice, no source). In a roof they are placed with a recess below zero, by as much as the kerb stands out.
"""

from __future__ import annotations

from ashfell.core.base.document import Data
from ashfell.core.unit.start import Start

KERB: Data = {
    "width": "780",
    "height": "1180",
    "frame": {"face": "45", "depth": "180", "edge": {"kind": "chamfer", "size": "3"}},
    "glazing": {
        "thickness": "24",
        "setback": "14",
        "cover": "10",
        "clearance": "2",
        "gasket": {"thickness": "3", "shows": "1"},
        "bead": {"edge": {"kind": "chamfer", "size": "1"}},
    },
    "trim": {
        "outside": {
            "width": "110",
            "projection": "3",
            "lap": "0",
            "sides": "all",
            "edge": {"kind": "square", "size": "0"},
        }
    },
    "finishes": {"casing": "dull-lead"},
}
KERB_IN_INCHES: Data = {
    "width": "2' 6\"",
    "height": "3' 10\"",
    "frame": {"face": '1 3/4"', "depth": '7"', "edge": {"kind": "chamfer", "size": '1/8"'}},
    "glazing": {
        "thickness": '1"',
        "setback": '9/16"',
        "cover": '3/8"',
        "clearance": '1/16"',
        "gasket": {"thickness": '1/8"', "shows": '1/16"'},
        "bead": {"edge": {"kind": "chamfer", "size": '1/16"'}},
    },
    "trim": {
        "outside": {
            "width": '4 1/2"',
            "projection": '1/8"',
            "lap": "0",
            "sides": "all",
            "edge": {"kind": "square", "size": "0"},
        }
    },
    "finishes": {"casing": "dull-lead"},
}
UPSTAND: Data = {"face": "60", "depth": "400", "edge": {"kind": "chamfer", "size": "3"}}
UPSTAND_IN_INCHES: Data = {"face": '2 1/2"', "depth": '16"', "edge": {"kind": "chamfer", "size": '1/8"'}}
SASH: Data = {"kind": "sash", "face": "50", "depth": "60", "clearance": "6"}
SASH_IN_INCHES: Data = {"kind": "sash", "face": '2"', "depth": '2 3/8"', "clearance": '1/4"', "stop": '3/8"'}

ROOFLIGHTS: dict[str, Start] = {
    "pivoted-rooflight": Start(
        "Pivoted rooflight",
        "turns about its middle",
        KERB | {"fill": SASH | {"opening": "pivot-horizontal"}},
        KERB_IN_INCHES | {"fill": SASH_IN_INCHES | {"opening": "pivot-horizontal"}},
        group="Rooflights",
    ),
    "hinged-rooflight": Start(
        "Hinged rooflight",
        "hung at its head",
        KERB | {"fill": SASH | {"opening": "top-hung"}},
        KERB_IN_INCHES | {"fill": SASH_IN_INCHES | {"opening": "top-hung"}},
        group="Rooflights",
    ),
    "fixed-rooflight": Start("Fixed rooflight", "glass on a kerb", KERB, KERB_IN_INCHES, group="Rooflights"),
    "row-of-rooflights": Start(
        "Row of rooflights",
        "three on one kerb, the middle one opens",
        KERB
        | {
            "width": "2400",
            "columns": {"lights": [{}, {}, {}], "bars": ["60", "60"]},
            "cells": {"c2r1": {"fill": SASH | {"opening": "top-hung"}}},
        },
        group="Rooflights",
    ),
    "flat-rooflight": Start(
        "Flat rooflight",
        "glass on a high upstand",
        KERB | {"width": "1200", "height": "1200", "frame": UPSTAND},
        KERB_IN_INCHES | {"width": "4'", "height": "4'", "frame": UPSTAND_IN_INCHES},
        group="Rooflights",
    ),
    "dome": Start(
        "Dome",
        "a bent shell on an upstand",
        KERB | {"width": "1200", "height": "1200", "frame": UPSTAND, "fill": {"kind": "dome"}},
        KERB_IN_INCHES
        | {"width": "4'", "height": "4'", "frame": UPSTAND_IN_INCHES}
        | {"fill": {"kind": "dome", "rise": '7"', "thickness": '5/16"', "lap": '1 1/4"'}},
        group="Rooflights",
    ),
    "lantern": Start(
        "Lantern",
        "glass that rises to a ridge",
        KERB | {"width": "2400", "height": "1500", "frame": UPSTAND, "fill": {"kind": "lantern"}},
        KERB_IN_INCHES
        | {"width": "8'", "height": "5'", "frame": UPSTAND_IN_INCHES}
        | {
            "fill": {
                "kind": "lantern",
                "bar": '2"',
                "depth": '2 1/2"',
                "apart": "2'",
                "thickness": '1"',
                "lap": '1 1/4"',
            }
        },
        group="Rooflights",
    ),
}
"""By key."""
