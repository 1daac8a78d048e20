"""Units that go round corners to start from, and storefronts (common practice, no source). They fold where the wall
does that they are placed in; the bay's posts are at the corners of a bay as it begins.
"""

from __future__ import annotations

from ashfell.core.base.document import Data
from ashfell.core.unit.start import Start
from ashfell.core.unit.start_doors import IN_LEAF

GROUP = "Bays, corners and storefronts"
PAIR: Data = {
    "kind": "leaf",
    "opening": "side-hung-pair",
    "face": "80",
    "sides": {"sill": "160"},
    "clearance": "4",
    "glazing": IN_LEAF,
    "hardware": [
        {"kind": "bar-handle", "up": "600", "out": "60", "height": "1400", "of": "left"},
        {"kind": "bar-handle", "up": "600", "out": "60", "height": "1400", "of": "right"},
    ],
}

CORNERS: dict[str, Start] = {
    "bay-window": Start(
        "Bay window",
        "three faces, posts where a bay bends",
        {
            "width": "2697",
            "height": "1500",
            "columns": {"lights": [{"size": "668.5"}, {}, {"size": "668.5"}], "bars": ["60", "60"]},
            "cells": {"c1r1": {"fill": {"kind": "sash"}}, "c3r1": {"fill": {"kind": "sash", "hand": "right"}}},
        },
        group=GROUP,
    ),
    "post-corner": Start(
        "Corner window with a post",
        "two lights that meet at a post",
        {"width": "2400", "height": "1500", "columns": {"lights": [{}, {}], "bars": ["80"]}},
        group=GROUP,
    ),
    "glass-corner": Start(
        "Corner of glass",
        "one light that goes round the corner",
        {"width": "2400", "height": "1500", "frame": {"face": "40", "depth": "90"}},
        group=GROUP,
    ),
    "storefront": Start(
        "Storefront",
        "a grid over two storeys, a pair of leaves in it",
        {
            "width": "6000",
            "height": "5400",
            "frame": {"face": "60", "depth": "140", "sides": {"sill": "0"}, "joint": "jambs"},
            "columns": {"lights": [{}, {}, {"size": "1700"}, {}, {}], "bars": ["60"] * 4},
            "rows": {"lights": [{"size": "2300"}, {}, {"size": "1700"}], "bars": ["60", "200"]},
            "cells": {"c3r1": {"fill": PAIR}},
            "finishes": {"frame": "slate-paint", "bar": "slate-paint", "leaf": "slate-paint"},
        },
        group=GROUP,
    ),
}
"""By key."""
