"""Openings in a row: those that stand at one height of a host, and what is beside one of them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from fractions import Fraction

from ashfell.core.site.opening import Opening


def level_with(opening: Opening, others: Sequence[Opening]) -> list[Opening]:
    """The openings at the height of the middle of one, it among them, none before another, from the start."""
    level = opening.z + opening.height / 2
    near = [one for one in others if one is not opening and one.z < level < one.head]
    before = [*_apart((one for one in reversed(_sorted(near)) if one.right <= opening.x), -1)]
    behind = [*_apart((one for one in _sorted(near) if one.x >= opening.right), 1)]
    return [*reversed(before), opening, *behind]


def _sorted(openings: Sequence[Opening]) -> list[Opening]:
    return sorted(openings, key=lambda one: one.x)


def _apart(openings: Iterator[Opening], way: int) -> Iterator[Opening]:
    """Those that do not reach back over one taken before them, going on one ``way`` along the host."""
    last: Opening | None = None
    for one in openings:
        if last is None or (one.x >= last.right if way > 0 else one.right <= last.x):
            yield one
            last = one


def beside(opening: Opening, others: Sequence[Opening], length: Fraction) -> tuple[Fraction, Fraction]:
    """Where the openings beside it end and begin that stand at its height, or else the host, mm."""
    level = [one for one in others if one is not opening and one.z < opening.head and opening.z < one.head]
    before = [one.right for one in level if one.right <= opening.x]
    behind = [one.x for one in level if one.x >= opening.right]
    return max(before, default=Fraction(0)), min(behind, default=length)
