"""Sections: what an edge is worked to, and the profile of a ring or a bar.

An edge lies in the corner of two faces. Its points run from the first face to the second in ``(along the first face,
down the second)``, mm, the corner being the origin; everything from there on is laid out by who uses it.
"""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from functools import cached_property, lru_cache
from itertools import pairwise
from typing import Annotated

from pydantic import Field
from shapely.geometry import Polygon, box

from ashfell.core.base.document import Document, Gap, Size
from ashfell.core.base.lengths import Length
from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.points import polygons
from ashfell.core.plane.segment import Segment
from ashfell.core.solid.edges import EDGES, EdgeKey
from ashfell.core.solid.sweep import Section, tidy

FINE = 0.05
"""Chord tolerance of mouldings, mm."""


class Edge(Document):
    """How an edge is worked: ``size`` along the face and down the side, or ``down`` for another depth."""

    kind: EdgeKey = "chamfer"
    size: Gap = Length.read("2")
    down: Size | None = None

    @cached_property
    def exact_reach(self) -> Fraction:
        """How far it takes of the face, mm; 0 for a square edge."""
        return Fraction(0) if self.kind == "square" else self.size.mm

    @cached_property
    def exact_drop(self) -> Fraction:
        """How far it takes of the side, mm."""
        return self.down.mm if self.down and self.exact_reach else self.exact_reach

    @cached_property
    def reach(self) -> float:
        return float(self.exact_reach)

    @cached_property
    def drop(self) -> float:
        return float(self.exact_drop)


SQUARE = Edge(kind="square", size=Length.read("0"))


class SectionPoint(Document):
    """A point of an own section: across, and how far it stands forward."""

    x: Length
    y: Length
    bulge: Annotated[float, Field(ge=-1, le=1)] = 0.0


OwnSection = Annotated[tuple[SectionPoint, ...], Field(min_length=3, max_length=120)]


def edge_points(edge: Edge) -> list[tuple[float, float]]:
    """The points of an edge from the face to the side, mm; a single point where it is square."""
    if not edge.reach:
        return [(0.0, 0.0)]
    return [(x * edge.reach, y * edge.drop) for x, y in _unit_points(edge.kind, round(max(edge.reach, edge.drop), 1))]


@lru_cache(maxsize=256)
def _unit_points(kind: str, size: float) -> tuple[tuple[float, float], ...]:
    """The same in a square of side 1, curves sampled as finely as the size asks for."""
    return tuple(sampled(EDGES[kind].nodes, FINE / max(size, FINE), closed=False))


def sampled(nodes: Sequence[tuple[float, float, float]], chord: float, closed: bool) -> list[tuple[float, float]]:
    """Points along nodes with bulges, within a chord of them."""
    ahead = [*nodes[1:], nodes[0]]
    found: list[tuple[float, float]] = []
    for k, (a, b) in enumerate(zip(nodes, ahead, strict=True)):
        if not closed and k == len(nodes) - 1:
            found.append((a[0], a[1]))
            break
        segment = Segment((a[0], a[1]), (b[0], b[1]), a[2])
        count = segment.pieces(chord)
        found += [segment.point_at(step / count) for step in range(count)]
    return found


def own_points(section: OwnSection, entry: str) -> Section:
    """An own section as points (across, w), counter-clockwise, mm.

    Raises
    ------
    Refusal
        When it crosses itself or has no area.
    """
    points = tidy(sampled([(float(p.x.mm), float(p.y.mm), p.bulge) for p in section], FINE, closed=True))
    if len(points) < 3 or not Polygon(points).is_valid:
        raise Refusal(
            entry,
            "a closed section",
            "The section crosses itself or has no area.",
            "Put its points in order, or leave it out.",
        )
    return points


def fitted(section: Section, face: float, depth: float) -> Section:
    """An own section (across from 0, w from 0 backwards) laid into a member of another face or depth, mm: what is in
    the half towards its far edge keeps its distance from there, and so at its back."""
    width, deep = max(x for x, _ in section), -min(w for _, w in section)
    across, down = stretched_at([x for x, _ in section], width / 2), stretched_at([w for _, w in section], -deep / 2)
    return tuple((x if x <= across else x - width + face, w if w >= down else w + deep - depth) for x, w in section)


def stretched_at(places: Sequence[float], middle: float) -> float:
    """Where an outline, told by the places of its corners along one way, can be stretched so that its edges do not
    cross: nearest to the ``middle`` where it is two edges and no more that go over from one side to the other."""

    def crossed(at: float) -> int:
        return sum((one <= at) != (other <= at) for one, other in pairwise([*places, places[0]]))

    if crossed(middle) <= 2:
        return middle
    between = [(low + high) / 2 for low, high in pairwise(sorted(set(places)))]
    return min((at for at in between if crossed(at) == 2), key=lambda at: abs(at - middle), default=middle)


def without(section: Section, left: float, right: float, stop: float) -> list[Section]:
    """What is left of a section without what lies behind ``stop``, before ``left`` and beyond ``right``: its
    rebates.
    """
    polygon, far = Polygon(section), 1e4
    for start, end in ((-far, left), (right, far)):
        polygon = polygon.difference(box(start, -far, end, stop))
    return [tidy(list(piece.exterior.coords)[:-1]) for piece in polygons(polygon) if not piece.interiors]


def fills(section: Section, left: float, back: float, right: float, front: float) -> bool:
    """Whether a section has material all over a rectangle."""
    return bool(Polygon(section).buffer(1e-6).contains(box(left, back, right, front)))


def drawn(edge: Edge, face: float, depth: float, both: bool = True) -> list[tuple[float, float, float]]:
    """The nodes (across, w, bulge) of a plain member with ``both`` front edges worked, or the inner one: what an own
    section is begun from.
    """
    corner = (
        [(x * edge.reach, y * edge.drop, bulge) for x, y, bulge in EDGES[edge.kind].nodes]
        if edge.reach
        else [(0.0, 0.0, 0.0)]
    )
    bulges = [bulge for _, _, bulge in corner]
    outer = [(x, -y, bulge) for (x, y, _), bulge in zip(reversed(corner), [*reversed(bulges[:-1]), 0.0], strict=True)]
    inner = [(face - x, -y, bulge) for x, y, bulge in corner]
    return [(0.0, -depth, 0.0), *(outer if both else [(0.0, 0.0, 0.0)]), *inner, (face, -depth, 0.0)]


def front_edge(edge: Edge, face: float) -> list[tuple[float, float, float]]:
    """Profile points (share, further, w) of a front face between two worked edges, from the outer side to the inner, at
    a front of w = 0."""
    points = edge_points(edge)
    outer = [(0.0, x, -y) for x, y in reversed(points)]
    inner = [(face, -x, -y) for x, y in points]
    return [*outer, *inner]
