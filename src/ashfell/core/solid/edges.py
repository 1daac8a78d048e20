"""Edges: what the corner of two faces can be worked to, each kind as one record."""

from __future__ import annotations

from dataclasses import dataclass
from math import pi, tan
from typing import Annotated

from ashfell.core.base.registry import KeyOf, Registry

QUARTER = tan(pi / 8)
"""The bulge of a quarter of a circle."""

Nodes = tuple[tuple[float, float, float], ...]
"""Points in a square of side 1, from the first face to the second as (along the first, down the second), and the bulge
of what leaves each."""


@dataclass(frozen=True)
class EdgeKind:
    """One way to work an edge: its key, its word in a sentence, its nodes; a square edge has none."""

    key: str
    words: str
    nodes: Nodes
    order: int


EDGES: Registry[EdgeKind] = Registry("edge")
"""Every kind of edge, by key."""

for _order, (_key, _words, _nodes) in enumerate(
    (
        ("square", "square", ()),
        ("chamfer", "chamfered", ((1, 0, 0), (0, 1, 0))),
        ("round", "rounded", ((1, 0, -QUARTER), (0, 1, 0))),
        ("rebate", "rebated", ((1, 0, 0), (1, 1, 0), (0, 1, 0))),
        (
            "stepped",
            "stepped",
            (
                (1, 0, 0),
                (1, 1 / 3, 0),
                (1 / 2, 1 / 3, 0),
                (1 / 2, 2 / 3, 0),
                (1 / 6, 2 / 3, 0),
                (1 / 6, 1, 0),
                (0, 1, 0),
            ),
        ),
        ("ovolo", "ovolo", ((1, 0, 0), (1, 0.2, 0), (0.8, 0.2, -QUARTER), (0.2, 0.8, 0), (0.2, 1, 0), (0, 1, 0))),
        ("ogee", "ogee", ((1, 0, 0), (1, 0.1, -QUARTER), (0.55, 0.5, QUARTER), (0.1, 1, 0), (0, 1, 0))),
        ("cove", "cove", ((1, 0, QUARTER), (0, 1, 0))),
        ("bead", "beaded", ((1, 0, 0), (1, 0.3, 0), (0.85, 0.3, -1.0), (0.15, 1, 0), (0, 1, 0))),
    )
):
    EDGES.register(EdgeKind(_key, _words, _nodes, _order))

EdgeKey = Annotated[str, KeyOf(EDGES)]
