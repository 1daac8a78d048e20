"""Curved walls from the arcs of a plan: two about one centre are the faces of a wall, gaps in both its openings."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import ceil, pi, radians

import numpy as np

from ashfell.core.site.traced.faces import LEAST, Rules
from ashfell.core.site.traced.rails import FLAT, Floats, Span, between, common, without

WHOLE = 2 * pi
MOST = radians(350)
"""A wall that goes further round is none: it has no ends."""
MOST_RINGS = 200
"""About one centre there are no more faces of walls."""
LEAF = 1500.0
"""A larger arc is that of no leaf, mm."""
FACET = radians(5)
"""How far round a facet of a wall goes at most."""


@dataclass(frozen=True)
class Bow:
    """A curved wall about a centre: the radii of its faces, from where to where both of them go, counter-clockwise, and
    its openings, radians; each face may go further, to a corner."""

    centre: tuple[float, float]
    inner: float
    outer: float
    start: float
    end: float
    gaps: tuple[Span, ...]
    inner_span: Span
    outer_span: Span

    @property
    def radius(self) -> float:
        """Of its middle, mm."""
        return (self.inner + self.outer) / 2

    @property
    def thickness(self) -> float:
        """From face to face, mm."""
        return self.outer - self.inner

    def point(self, angle: float, radius: float = 0.0) -> Floats:
        """A place on its middle, or at another radius."""
        return np.array(self.centre) + (radius or self.radius) * np.array([np.cos(angle), np.sin(angle)])

    @property
    def corners(self) -> list[Floats]:
        """Where its faces end."""
        spans = (self.inner, self.inner_span), (self.outer, self.outer_span)
        return [self.point(at, radius) for radius, span in spans for at in span]

    @property
    def outline(self) -> Floats:
        """What it covers in the plan, openings and all, (n, 2) mm."""
        count = 2 * facets_round(self.start, self.end) + 1
        spans = (self.outer, self.outer_span), (self.inner, self.inner_span[::-1])
        return np.array([self.point(float(at), radius) for radius, span in spans for at in np.linspace(*span, count)])


def facets_round(start: float, end: float) -> int:
    """How many facets a wall from one angle to another is made in."""
    return max(2, ceil((end - start) / FACET))


def bows(arcs: Floats, rules: Rules) -> tuple[list[Bow], int]:
    """The curved walls among arcs (n, 5): x and y of the centre, radius, mm, and from which angle to which they go
    counter-clockwise, radians; and of how many arcs nothing was made, but for those that a leaf may swing over."""
    found: list[Bow] = []
    unused = 0
    for centre, own in _by_centre(arcs):
        made = [*_about(centre, own, rules)]
        found += made
        radii = np.array([radius for bow in made for radius in (bow.inner, bow.outer)])
        large = own[own[:, 0] > LEAF, 0]
        unused += sum(not len(radii) or np.abs(radii - radius).min() > FLAT for radius in large)
    return sorted(found, key=lambda bow: (bow.point(bow.start)[1], bow.point(bow.start)[0])), unused


def _by_centre(arcs: Floats) -> Iterator[tuple[tuple[float, float], Floats]]:
    """The arcs about each centre: radius, start and end (k, 3)."""
    left = np.asarray(arcs, dtype=float).reshape(-1, 5)
    order = np.lexsort((left[:, 1], left[:, 0]))
    left = left[order]
    done = np.zeros(len(left), dtype=bool)
    lasts = np.searchsorted(left[:, 0], left[:, 0] + 2 * FLAT, side="right")
    for first, last in enumerate(lasts.tolist()):
        if done[first]:
            continue
        near = ~done[first:last] & (np.abs(left[first:last, 1] - left[first, 1]) <= 2 * FLAT)
        done[first:last] |= near
        own = left[first:last][near]
        yield (float(own[0, 0]), float(own[0, 1])), own[:, 2:]


def _about(centre: tuple[float, float], arcs: Floats, rules: Rules) -> Iterator[Bow]:
    """The walls about one centre, thin ones first."""
    zero = _open_at(arcs)
    if zero is None:
        return
    rails = _rails(arcs, zero)
    if len(rails) > MOST_RINGS:
        return
    near = [
        (round(outer - inner, 3), i, j)
        for i, (inner, _) in enumerate(rails)
        for j, (outer, _) in enumerate(rails)
        if rules.thinnest - FLAT <= outer - inner <= rules.thickest + FLAT
    ]
    free = [spans for _, spans in rails]
    for _, i, j in sorted(near):
        inner, outer = rails[i][0], rails[j][0]
        middle = (inner + outer) / 2
        one, other = ([(low * middle, high * middle) for low, high in free[k]] for k in (i, j))
        for chain in _chains(common(one, other, LEAST), rules):
            low, high = chain[0][0] / middle, chain[-1][1] / middle
            if high - low > MOST:
                continue
            gaps = tuple((a / middle + zero, b / middle + zero) for a, b in between(chain) if b - a >= rules.narrowest)
            reach = (rules.thickest + FLAT) / inner
            faces = [_reached(rails[k][1], (low, high), reach, zero) for k in (i, j)]
            yield Bow(centre, inner, outer, low + zero, high + zero, gaps, *faces)
            for k in (i, j):
                free[k] = tuple(without(free[k], [(low, high)]))


def _reached(spans: Sequence[Span], both: Span, reach: float, zero: float) -> Span:
    """From where to where a face goes that both faces go along a part of: past the other at a corner, no further than
    walls are thick."""
    low = min((a for a, b in spans if a <= both[0] < b and both[0] - a <= reach), default=both[0])
    high = max((b for a, b in spans if a < both[1] <= b and b - both[1] <= reach), default=both[1])
    return low + zero, high + zero


def _chains(runs: Sequence[Span], rules: Rules) -> Iterator[list[Span]]:
    """Runs that are one wall: what parts them is no wider than an opening may be."""
    if not runs:
        return
    chain = [runs[0]]
    for before, after in pairwise(runs):
        if after[0] - before[1] <= rules.widest:
            chain.append(after)
        else:
            yield chain
            chain = [after]
    yield chain


def _open_at(arcs: Floats) -> float | None:
    """An angle at which no arc is; None where they go all round."""
    spans = sorted((start % WHOLE, start % WHOLE + (end - start) % WHOLE) for _, start, end in arcs.tolist())
    reached, widest, at = max(end for _, end in spans) - WHOLE, 0.0, None
    for start, end in spans:
        if start - reached > widest:
            widest, at = start - reached, (start + reached) / 2
        reached = max(reached, end)
    return at


def _rails(arcs: Floats, zero: float) -> list[tuple[float, tuple[Span, ...]]]:
    """What is drawn at each radius, from an angle at which nothing is: as spans that do not meet."""
    found: list[tuple[float, list[Span]]] = []
    for radius, start, end in sorted(arcs.tolist()):
        low = (start - zero) % WHOLE
        span = low, low + (end - start) % WHOLE
        if found and radius - found[-1][0] <= FLAT:
            found[-1][1].append(span)
        else:
            found.append((radius, [span]))
    return [(radius, tuple(_joined(spans, FLAT / radius))) for radius, spans in found]


def _joined(spans: Sequence[Span], near: float) -> list[Span]:
    made: list[Span] = []
    for low, high in sorted(spans):
        if made and low <= made[-1][1] + near:
            made[-1] = made[-1][0], max(made[-1][1], high)
        else:
            made.append((low, high))
    return made
