"""Curved walls among straight ones: where a straight wall ends at one, and which line of it the two meet on."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import chain, pairwise
from math import cos, pi, tan
from typing import Literal

import numpy as np
import shapely

from ashfell.core.site.traced.bows import Bow, facets_round
from ashfell.core.site.traced.faces import Pair
from ashfell.core.site.traced.rails import FLAT, Floats, Span, between

SPARE = 5.0
"""What a corner leaves of a facet at least, mm."""

Reference = Literal["outside", "centre"]


@dataclass(frozen=True)
class Lead:
    """A place where a straight wall ends or begins, the way it goes there, radians, and how thick it is, mm."""

    place: Floats
    heading: float
    thickness: float


class Leads:
    """Where straight walls end, or where they begin, found by an index."""

    def __init__(self, leads: Sequence[Lead]) -> None:
        self.leads = leads
        self.tree = shapely.STRtree(shapely.points([one.place for one in leads])) if leads else None

    def near(self, place: Floats) -> Lead | None:
        """What ends, or begins, at a place."""
        found = self.tree.query(shapely.Point(place), "dwithin", 2 * FLAT) if self.tree is not None else ()
        return self.leads[min(found)] if len(found) else None


@dataclass(frozen=True)
class BowRun:
    """A curved wall with the line that it stands on: its outside or its middle, counter-clockwise or ``back``."""

    bow: Bow
    reference: Reference
    back: bool
    facets: int

    @property
    def radius(self) -> float:
        """Of its line, mm."""
        return self.bow.radius if self.reference == "centre" else self.bow.inner if self.back else self.bow.outer

    @property
    def span(self) -> Span:
        """From which angle to which its line runs, counter-clockwise."""
        if self.reference == "centre":
            return self.bow.start, self.bow.end
        return self.bow.inner_span if self.back else self.bow.outer_span

    @property
    def ends(self) -> tuple[Floats, Floats]:
        """Where in the plan it starts and ends."""
        low, high = (self.bow.point(at, self.radius) for at in self.span)
        return (high, low) if self.back else (low, high)

    @property
    def rise(self) -> float:
        """By how much its line leaves the straight between its ends, outwards, mm."""
        low, high = self.span
        return (-1 if self.back else 1) * self.radius * (1 - cos((high - low) / 2))

    def along(self, gap: Span) -> Span:
        """An opening from its start, along its facets, mm."""
        low, high = self.span
        share = self.facets * 2 * self.radius * float(np.sin((high - low) / self.facets / 2)) / (high - low)
        return ((high - gap[1]) * share, (high - gap[0]) * share) if self.back else (
            (gap[0] - low) * share, (gap[1] - low) * share)  # fmt: skip


def parted(pairs: Sequence[Pair], bows: Sequence[Bow]) -> list[Pair]:
    """Straight walls, ended where a curved one goes on from both faces: no opening is there."""
    if not bows:
        return list(pairs)
    rims = shapely.STRtree(shapely.points([place for bow in bows for place in bow.corners]))
    return [*chain.from_iterable(_parted(pair, rims) for pair in pairs)]


def _parted(pair: Pair, rims: shapely.STRtree) -> Iterator[Pair]:
    """A straight wall in the pieces between curved ones."""
    cuts = []
    for low, high in between(pair.runs):
        edges = [(face, face.span_at(at)) for at in (low - FLAT, high + FLAT) for face in (pair.right, pair.left)]
        ends = [(face, span[k // 2 == 0]) for k, (face, span) in enumerate(edges) if span]
        places = [pair.heading.point(at, face.offset) for face, at in ends]
        met = [bool(len(rims.query(shapely.Point(place), "dwithin", 4 * FLAT))) for place in places]
        if len(met) == 4 and (all(met[:2]) or all(met[2:])):
            cuts.append((low + high) / 2)
    stops = [-np.inf, *cuts, np.inf]
    for first, last in pairwise(stops):
        runs, gaps = (tuple(one for one in some if first < one[0] < last) for some in (pair.runs, pair.gaps))
        kept = tuple(gap for gap in gaps if not any(gap[0] < cut < gap[1] for cut in cuts))
        yield Pair(pair.heading, pair.right, pair.left, runs, kept, pair.reach)


def laid(bow: Bow, ending: Leads, beginning: Leads) -> BowRun:
    """The line of a curved wall: that on which straight ones meet it, or its middle where none does."""
    for back in (False, True):
        run = BowRun(bow, "outside", back, facets_round(bow.start, bow.end))
        start, end = run.ends
        before, after = ending.near(start), beginning.near(end)
        if before or after:
            for facets in range(run.facets, 1, -1):
                fewer = BowRun(bow, "outside", back, facets)
                if _holds(fewer, before, after):
                    return fewer
    return BowRun(bow, "centre", False, facets_round(bow.start, bow.end))


def _holds(run: BowRun, before: Lead | None, after: Lead | None) -> bool:
    """Whether its corners leave something of the facets beside them at both faces."""
    low, high = run.span
    step = (high - low) / run.facets
    ways = (high - pi / 2 - step / 2, low - pi / 2 + step / 2) if run.back else (
        low + pi / 2 + step / 2, high + pi / 2 - step / 2)  # fmt: skip
    room = 2 * run.bow.inner * float(np.sin(step / 2)) - SPARE
    for lead, way, turn in ((before, ways[0], 1), (after, ways[1], -1)):
        if lead is not None:
            bend = abs((turn * (way - lead.heading) + pi) % (2 * pi) - pi)
            if bend > pi * 0.8 or tan(bend / 2) * max(run.bow.thickness, lead.thickness) > room:
                return False
    return True
