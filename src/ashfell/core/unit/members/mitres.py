"""Mitres that bend: where sides of a loop end within a section that is laid round it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from ashfell.core.plane.inset import vanishings
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import TOUCH, Floats, following
from ashfell.core.solid.ring import Profile
from ashfell.core.solid.sweep import LEVEL, Section, tidy

APART = 1e-6
"""How far from each other the places are at which mitres bend, mm."""

Level = tuple[float, float]
"""How far inwards a point of a profile lies: the share of the face, and further, mm."""


def bends(loop: Loop, corners: Floats) -> bool:
    """Whether mitres bend where a profile is laid round a loop: ``corners`` (c, k, 3) of which a side is there at some
    points of the profile and not at others. One member that goes all round has none."""
    if loop.is_rectangle or len(set(loop.tags)) == 1:
        return False
    lengths = np.linalg.norm((following(corners) - corners)[..., :2], axis=2)
    return bool(((lengths.max(axis=1) > TOUCH) & (lengths.min(axis=1) < TOUCH)).any())


def following_bends(
    loop: Loop, by: Floats, profile: Profile, face: float, bare: NDArray[np.bool_] | None = None
) -> tuple[Profile, Section]:
    """A profile laid by distances ``by`` (c,) mm, with a point wherever one of its edges goes over or under another
    point or a place where a mitre bends: all that has a section of its own round one loop then ends on the same
    mitres. ``face`` is that of its section, and ``bare`` the edges on which all of it lies."""
    across = {round(share * face + more, LEVEL): (share, more) for share, more, _ in profile}
    for (_, one), (_, other) in pairwise(sorted(across.items())):
        for part, points in _bends_between(loop, _laid(by, one, bare), _laid(by, other, bare)):
            share, more = (a + (b - a) * part for a, b in zip(one, other, strict=True))
            place = round(share * face + more, LEVEL)
            if all(abs(place - known) > APART for known in across):
                across[place] = share, more
                if points is not None:
                    loop.keep(_laid(by, (share, more), bare), points)
    found: list[tuple[float, float, float]] = []
    for point, ahead in zip(profile, (*profile[1:], profile[0]), strict=True):
        start, end = (round(share * face + more, LEVEL) for share, more, _ in (point, ahead))
        found.append((*across[start], point[2]))
        for place in sorted((x for x in across if min(start, end) < x < max(start, end)), reverse=start > end):
            found.append((*across[place], point[2] + (ahead[2] - point[2]) * (place - start) / (end - start)))
    return oriented(found, face)


def _laid(by: Floats, level: Level, bare: NDArray[np.bool_] | None) -> Floats:
    """How far inwards of each edge a level lies, (c,) mm."""
    laid = level[0] * by + level[1]
    return laid if bare is None else np.where(bare, 0.0, laid)


def _bends_between(loop: Loop, start: Floats, end: Floats) -> Iterator[tuple[float, Floats | None]]:
    """The shares of the way from distances (c,) to others, mm, at which sides vanish, or come to be, and the points of
    the loop then."""
    yield from vanishings(loop, start, end)
    yield from ((1 - share, points) for share, points in vanishings(loop, end, start))


def oriented(points: Sequence[tuple[float, float, float]], face: float) -> tuple[Profile, Section]:
    """A profile without repeated points, counter-clockwise, and the section it makes with a face."""
    kept = [p for p, q in zip(points, (*points[1:], points[0]), strict=True) if p != q]
    flat = [(share * face + more, w) for share, more, w in kept]
    section = tidy(flat)
    if len(section) == len(flat) and section[0] != flat[0]:
        kept = kept[::-1]
    return kept, section
