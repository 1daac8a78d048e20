"""Figures that stand in a row: from how near each is shown, so that none runs into another while all can be reached by
going nearer."""

from __future__ import annotations

from bisect import bisect_left
from collections import deque
from collections.abc import Iterator, Sequence
from dataclasses import replace

from ashfell.core.drawing.sheet import Figure, Lock, Zoom
from ashfell.core.unit.document.members import Axis

ALWAYS: Zoom = 0.0
"""What is shown from however far away."""
NEVER: Zoom = 1e4
"""What stands on another; nobody goes so near."""
REACH = 2
"""How many of those that come first are looked at on either side of one."""


def halved(count: int) -> Iterator[int]:
    """The order in which things in a row are thinned out: the ends, then always the middle of what is between.

    >>> list(halved(6))
    [0, 5, 2, 1, 3, 4]
    """
    yield from range(min(count, 1))
    if count > 1:
        yield count - 1
    between = deque([(0, count - 1)])
    while between:
        low, high = between.popleft()
        if high - low > 1:
            middle = (low + high) // 2
            yield middle
            between += [(low, middle), (middle, high)]


def zooms(middles: Sequence[float], sizes: Sequence[float]) -> list[Zoom]:
    """From how near each of a row has room beside those that come before it when they are thinned out: how many times
    as large as the whole sheet is shown. Going nearer, what is between the middles grows; the things do not.

    Parameters
    ----------
    middles, sizes : Sequence of float
        Where each stands along the row, and how much room it takes there, mm of paper.
    """
    found: list[Zoom] = [ALWAYS] * len(middles)
    along: list[tuple[float, float]] = []
    for index in halved(len(middles)):
        own = (middles[index], sizes[index])
        at = bisect_left(along, own)
        for middle, size in along[max(0, at - REACH) : at + REACH]:
            apart = abs(middle - own[0])
            needed = (size + own[1]) / 2
            found[index] = max(found[index], needed / apart if apart > needed * 1e-6 else NEVER)
        along.insert(at, own)
    return found


def thinned(axis: Axis, figures: Sequence[Figure]) -> list[Figure]:
    """Figures of one kind along an axis, each with the zoom from which it is shown; those across that are at different
    heights are rows of their own."""
    rows: dict[float, list[Figure]] = {}
    for figure in figures:
        rows.setdefault(round(figure.y, 2) if axis == "columns" else 0.0, []).append(figure)
    found: dict[str, Zoom] = {}
    for row in rows.values():
        places = [(f.x, f.width) if axis == "columns" else (f.y, f.height) for f in row]
        own = zooms([start + size / 2 for start, size in places], [size for _, size in places])
        found |= {figure.id: zoom for figure, zoom in zip(row, own, strict=True)}
    return [replace(figure, zoom=found[figure.id]) for figure in figures]


def lock_zoom(lock: Lock, room: float) -> Lock:
    """A lock on a stretch that takes so much room, mm of paper."""
    return replace(lock, zoom=lock.size / room if room > lock.size / NEVER else NEVER)
