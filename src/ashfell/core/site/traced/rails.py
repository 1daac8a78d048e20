"""Lines of a plan as rails: all that lies on one straight line is one rail, and rails of one heading lie in order."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import inf

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Span = tuple[float, float]
"""From where to where along a rail, mm."""

FLAT = 0.5
"""Lines that lie no further apart are one rail, and ends no further apart meet, mm."""
TURN = np.radians(0.02)
"""Lines that turn by less have one heading."""
EXACT = 1e-12
"""A heading nearer to the x axis is along it."""


@dataclass(frozen=True)
class Rail:
    """A straight line ``offset`` to the left of the heading's zero, and where on it something is drawn."""

    offset: float
    spans: tuple[Span, ...]

    def span_at(self, along: float) -> Span | None:
        """The span that a place lies in."""
        at = bisect_right(self.spans, (along + FLAT, inf)) - 1
        return self.spans[at] if at >= 0 and self.spans[at][1] >= along - FLAT else None

    def gap_at(self, along: float) -> Span | None:
        """The gap between two spans that a place lies in."""
        at = bisect_right(self.spans, (along, inf))
        if not 0 < at < len(self.spans) or self.spans[at - 1][1] > along:
            return None
        return self.spans[at - 1][1], self.spans[at][0]

    def covers(self, span: Span) -> bool:
        """Whether it is drawn all along a span."""
        found = self.span_at(span[0])
        return found is not None and found[1] >= span[1] - FLAT


@dataclass(frozen=True)
class Heading:
    """All rails of one direction, in order from right to left."""

    turn: float
    rails: tuple[Rail, ...]

    @property
    def along(self) -> Floats:
        """The direction of its rails."""
        return np.array([np.cos(self.turn), np.sin(self.turn)])

    @property
    def left(self) -> Floats:
        """What is square to them, to the left."""
        return np.array([-np.sin(self.turn), np.cos(self.turn)])

    def point(self, along: float, offset: float) -> Floats:
        """A place in the plan."""
        found: Floats = self.along * along + self.left * offset
        return found


def headings(lines: Floats) -> Iterator[Heading]:
    """The rails of some lines.

    Parameters
    ----------
    lines : (n, 4) array
        x and y of both ends, mm.
    """
    lines = lines[np.hypot(lines[:, 2] - lines[:, 0], lines[:, 3] - lines[:, 1]) > FLAT]
    if not len(lines):
        return
    turns = np.arctan2(lines[:, 3] - lines[:, 1], lines[:, 2] - lines[:, 0]) % np.pi
    # Half a turn is none: what lies beyond the widest gap is counted from there, so that no heading is parted.
    order = np.argsort(turns, kind="stable")
    gaps = np.diff(turns[order], append=turns[order[0]] + np.pi)
    beyond = order[int(np.argmax(gaps)) + 1 :]
    turns[beyond] -= np.pi
    order = np.argsort(turns, kind="stable")
    parts = np.split(order, np.flatnonzero(np.diff(turns[order]) > TURN) + 1)
    for part in parts:
        lengths = np.hypot(lines[part, 2] - lines[part, 0], lines[part, 3] - lines[part, 1])
        turn = float(np.average(turns[part], weights=lengths)) % np.pi
        turn = 0.0 if min(turn, np.pi - turn) < EXACT else turn
        yield Heading(turn, tuple(_rails(lines[part], turn)))


def _rails(lines: Floats, turn: float) -> Iterator[Rail]:
    along, left = np.array([np.cos(turn), np.sin(turn)]), np.array([-np.sin(turn), np.cos(turn)])
    first, last = lines[:, :2] @ along, lines[:, 2:] @ along
    low, high = np.minimum(first, last), np.maximum(first, last)
    offsets = (lines[:, :2] @ left + lines[:, 2:] @ left) / 2
    order = np.argsort(offsets, kind="stable")
    for part in np.split(order, np.flatnonzero(np.diff(offsets[order]) > FLAT) + 1):
        offset = float(np.average(offsets[part], weights=high[part] - low[part]))
        yield Rail(offset, merged(list(zip(low[part].tolist(), high[part].tolist(), strict=True))))


def merged(spans: Sequence[Span]) -> tuple[Span, ...]:
    """Spans in order, those that meet as one."""
    found: list[Span] = []
    for start, end in sorted(spans):
        if found and start <= found[-1][1] + FLAT:
            found[-1] = found[-1][0], max(found[-1][1], end)
        else:
            found.append((start, end))
    return tuple(found)


def common(one: Sequence[Span], other: Sequence[Span], least: float) -> list[Span]:
    """Where both are drawn, as far as that is not shorter than ``least``."""
    found, i, j = [], 0, 0
    while i < len(one) and j < len(other):
        start, end = max(one[i][0], other[j][0]), min(one[i][1], other[j][1])
        if end - start >= least:
            found.append((start, end))
        if one[i][1] < other[j][1]:
            i += 1
        else:
            j += 1
    return found


def without(spans: Sequence[Span], taken: Sequence[Span]) -> tuple[Span, ...]:
    """What is left of spans that are in order."""
    found, j = [], 0
    for start, end in spans:
        at = start
        while j < len(taken) and taken[j][1] <= start:
            j += 1
        k = j
        while k < len(taken) and taken[k][0] < end:
            if taken[k][0] > at:
                found.append((at, taken[k][0]))
            at = max(at, taken[k][1])
            k += 1
        if at < end:
            found.append((at, end))
    return tuple(found)


def between(spans: Sequence[Span]) -> list[Span]:
    """The gaps between spans that are in order."""
    return [(before[1], after[0]) for before, after in pairwise(spans)]
