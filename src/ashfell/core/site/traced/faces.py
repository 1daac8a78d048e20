"""Pairs of faces: which two rails are the faces of a wall, from where to where, and where both of them are open."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import shapely

from ashfell.core.site.traced.rails import FLAT, Floats, Heading, Rail, Span, between, common, headings, without

LEAST = 20.0
"""Faces that run beside each other for less are no wall, mm."""


@dataclass(frozen=True)
class Rules:
    """What counts as a wall and as an opening, mm."""

    thinnest: float = 60.0
    thickest: float = 500.0
    narrowest: float = 300.0
    widest: float = 6000.0


@dataclass(frozen=True)
class Pair:
    """Two faces of a wall, right and left of its heading: where they run, and where both are open between."""

    heading: Heading
    right: Rail
    left: Rail
    runs: tuple[Span, ...]
    gaps: tuple[Span, ...]
    reach: float

    @property
    def thickness(self) -> float:
        """From face to face, mm."""
        return self.left.offset - self.right.offset

    @property
    def length(self) -> float:
        """From where both faces begin to where one of them ends, mm."""
        return self.runs[-1][1] - self.runs[0][0]

    def ends(self, face: Rail) -> Span:
        """From where to where one of its faces runs: past the other at a corner, no further than walls are thick."""
        start, end = self.runs[0][0], self.runs[-1][1]
        first, last = face.span_at(start + FLAT), face.span_at(end - FLAT)
        if first and start - first[0] <= self.reach:
            start = first[0]
        if last and last[1] - end <= self.reach:
            end = last[1]
        return start, end

    @property
    def box(self) -> Floats:
        """Its four corners in the plan, (4, 2) mm, as long as its longer face."""
        (a, b), (c, d) = self.ends(self.right), self.ends(self.left)
        low, high, of = min(a, c), max(b, d), self.heading.point
        right, left = self.right.offset, self.left.offset
        return np.array([of(low, right), of(high, right), of(high, left), of(low, left)])


@dataclass(frozen=True)
class Found:
    """The walls of some lines, and those lines of which nothing was made."""

    pairs: tuple[Pair, ...]
    left: Floats


def pairs(lines: Floats, rules: Rules) -> Found:
    """The pairs of faces among some lines, (n, 4) mm. The nearest faces are one wall; a face is that of one."""
    jambs = Jambs(lines, rules)
    found = [pair for heading in headings(lines) for pair in _pairs(heading, rules, jambs)]
    kept = _by_themselves(found)
    return Found(tuple(kept), _left(lines, kept))


class Jambs:
    """Short lines across walls."""

    def __init__(self, lines: Floats, rules: Rules) -> None:
        lengths = np.hypot(lines[:, 2] - lines[:, 0], lines[:, 3] - lines[:, 1])
        self.lines = lines[(lengths >= rules.thinnest - FLAT) & (lengths <= 2 * rules.thickest)]
        self.tree = shapely.STRtree(shapely.linestrings(self.lines.reshape(-1, 2, 2)))

    def across(self, pair: Pair) -> list[float]:
        """Where lines run square across a wall from face to face, in order, mm along it."""
        near = self.lines[self.tree.query(shapely.polygons(pair.box))]
        first, last = (near[:, at : at + 2] @ pair.heading.along for at in (0, 2))
        sides = np.sort(np.stack([near[:, at : at + 2] @ pair.heading.left for at in (0, 2)], axis=1), axis=1)
        faces = np.array([pair.right.offset, pair.left.offset])
        square = (np.abs(first - last) < 2 * FLAT) & (np.abs(sides - faces) < 2 * FLAT).all(axis=1)
        places = np.sort((first[square] + last[square]) / 2)
        return [float(at) for k, at in enumerate(places) if k == 0 or at - places[k - 1] > 2 * FLAT]


def _pairs(heading: Heading, rules: Rules, jambs: Jambs) -> Iterator[Pair]:
    """The walls of one heading, thin ones first."""
    rails = heading.rails
    near = []
    for i, right in enumerate(rails):
        for j in range(i + 1, len(rails)):
            thick = rails[j].offset - right.offset
            if thick > rules.thickest + FLAT:
                break
            if thick >= rules.thinnest - FLAT:
                near.append((round(thick, 3), i, j))
    free = [rail.spans for rail in rails]
    for thick, i, j in sorted(near):
        runs = common(free[i], free[j], LEAST)
        if sum(end - start for start, end in runs) < max(LEAST, thick / 2):
            continue
        for chain in _chains(runs, rails[i], rails[j], thick, rules):
            made = Pair(heading, rails[i], rails[j], tuple(chain), (), rules.thickest + FLAT)
            if sum(end - start for start, end in chain) < thick / 2 and not made.gaps:
                continue
            yield _with_gaps(made, rules, jambs)
            taken = [(chain[0][0], chain[-1][1])]
            free[i], free[j] = without(free[i], taken), without(free[j], taken)


def _chains(runs: Sequence[Span], right: Rail, left: Rail, thick: float, rules: Rules) -> Iterator[list[Span]]:
    """Runs that are one wall: what parts them is an opening, or another wall that joins."""
    chain = [runs[0]]
    for before, after in pairwise(runs):
        gap = before[1], after[0]
        wide = gap[1] - gap[0]
        joined = wide <= rules.thickest + FLAT
        # Both faces are open there, one no further from the other than a reveal is splayed.
        own = [face.gap_at((gap[0] + gap[1]) / 2) for face in (right, left)]
        open_at_both = all(one and abs(gap[0] - one[0]) + abs(gap[1] - one[1]) <= 2 * thick for one in own)
        if joined or (open_at_both and wide <= rules.widest):
            chain.append(after)
        else:
            yield chain
            chain = [after]
    yield chain


def _with_gaps(pair: Pair, rules: Rules, jambs: Jambs) -> Pair:
    """A wall with its openings: gaps in both faces, and what is between two jambs where faces run on."""
    across = jambs.across(pair)

    def closed(at: float) -> bool:
        near = bisect_left(across, at - 2 * FLAT)
        return near < len(across) and across[near] <= at + 2 * FLAT

    gaps: list[Span] = []
    for gap in between(pair.runs):
        through = pair.right.covers(gap) or pair.left.covers(gap)
        crossed = gap[1] - gap[0] <= rules.thickest and not (closed(gap[0]) or closed(gap[1]))
        if not through and not crossed and gap[1] - gap[0] >= rules.narrowest - FLAT:
            gaps.append(gap)
    ends = pair.runs[0][0] + FLAT, pair.runs[-1][1] - FLAT
    beside = [edge for start, end in gaps for edge in (start - 2 * FLAT, end + 2 * FLAT)]
    inside = [at for at in across if ends[0] < at < ends[1] and bisect_left(beside, at) % 2 == 0]
    if len(inside) % 2 == 0:
        for start, end in zip(inside[::2], inside[1::2], strict=True):
            if rules.narrowest <= end - start <= rules.widest and pair.right.covers((start, end)):
                gaps.append((start, end))
    return Pair(pair.heading, pair.right, pair.left, pair.runs, tuple(sorted(gaps)), pair.reach)


def _by_themselves(found: Sequence[Pair]) -> list[Pair]:
    """Without those that lie in a longer one: jambs, piers and closed ends look like walls, too."""
    if not found:
        return []
    boxes = shapely.polygons([pair.box for pair in found])
    tree, areas = shapely.STRtree(boxes), shapely.area(boxes)
    kept = []
    for k, pair in enumerate(found):
        others = [int(other) for other in tree.query(boxes[k]) if other != k]
        longer = [one for one in others if (found[one].length, -one) > (pair.length, -k)]
        covered = shapely.area(shapely.intersection(boxes[k], shapely.union_all(boxes[longer]))) if longer else 0.0
        if covered < 0.95 * areas[k]:
            kept.append(pair)
    return kept


def _left(lines: Floats, kept: Sequence[Pair]) -> Floats:
    """The lines that lie in none of the walls."""
    if not kept or not len(lines):
        return lines
    whole = shapely.STRtree(shapely.buffer(shapely.polygons([pair.box for pair in kept]), 2 * FLAT))
    covered = whole.query(shapely.linestrings(lines.reshape(-1, 2, 2)), predicate="covered_by")[0]
    return np.delete(lines, np.unique(covered), axis=0)
