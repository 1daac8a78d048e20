"""A block: a neighbouring house as a mass, with a level top or a ridge."""

from __future__ import annotations

import numpy as np

from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.surrounding import SURROUNDINGS, Pieces, Sizes, SurroundingKind
from ashfell.core.plane.points import Floats
from ashfell.core.solid.plate import loft


def _outline(one: Sizes) -> Floats:
    across, deep = float(one.width.mm) / 2, float(one.depth.mm) / 2
    return np.array([(-across, -deep), (across, -deep), (across, deep), (-across, deep)])


def _made(one: Sizes) -> Pieces:
    """A box; with a ridge it is a gable drawn out along its width."""
    if one.ridge.mm >= one.height.mm:
        raise Refusal(
            "ridge",
            "eaves above the ground",
            f"A roof that rises {exact_mm(one.ridge.mm)} leaves nothing of a block {exact_mm(one.height.mm)} high.",
            f"Let it rise by less than {exact_mm(one.height.mm)}.",
            one.height.mm - 1,
        )
    across, deep = float(one.width.mm) / 2, float(one.depth.mm) / 2
    top = float(one.height.mm)
    eaves = top - float(one.ridge.mm)
    gable = [(-deep, 0.0), (deep, 0.0), (deep, eaves), *([(0.0, top)] if eaves < top else []), (-deep, eaves)]
    # Drawn out upwards, and laid down: what was up is along the width.
    levels = np.array([[(y, z, at) for y, z in gable] for at in (0.0, 2 * across)])
    lying = np.array([[0.0, 0, 1, -across], [1.0, 0, 0, 0], [0, 1.0, 0, 0], [0, 0, 0, 1.0]])
    return [("block", one.finish, loft(levels).moved(lying))]


BLOCK = SURROUNDINGS.register(
    SurroundingKind(
        "block",
        "block",
        10,
        ("width", "depth", "ridge"),
        _made,
        _outline,
        {"width": "8 m", "depth": "8 m", "height": "6 m", "ridge": "0", "finish": "white-plaster"},
    )
)
