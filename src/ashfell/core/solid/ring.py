"""Profiles laid round loops: the corners of rings, for many loops at once."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction

import numpy as np
from numpy.typing import NDArray

from ashfell.core.plane.inset import insets, too_far
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import TOUCH, Floats

Profile = Sequence[tuple[float, float, float]]
"""A section for a ring of any face: points (share of the face, further inwards, w), mm. ``(1, -2, 0)`` is 2 mm before
the inner edge."""


def ring_corners(
    loops: Sequence[Loop], faces: Floats, profile: Profile, entry: str = "offset", bare: NDArray[np.bool_] | None = None
) -> Floats:
    """A profile laid round loops of as many corners.

    Parameters
    ----------
    loops : n loops of c corners
        Outer edges.
    faces : (n, c) or (c,)
        Face of the ring along each edge, mm.
    profile : Profile
        k points.
    entry : str
        What is refused when an inset leaves nothing.
    bare : (n, c) or (c,) of bool, optional
        Which edges have no member: the whole profile lies on them.

    Returns
    -------
    (n, c, k, 3)
    """
    points = np.array([loop.points for loop in loops])
    laid = np.array(profile)
    kinds = {kind: index for index, kind in enumerate(dict.fromkeys((share, more) for share, more, _ in profile))}
    shares = np.array(list(kinds))
    by = shares[:, 0, None, None] * faces + shares[:, 1, None, None]
    if bare is not None:
        by = np.where(bare, 0.0, by)
    if by.shape[1] != len(points):
        by = by.repeat(len(points), axis=1)
    moved = _rectangles_inset(points, by) if all(loop.is_rectangle for loop in loops) else None
    if moved is None:
        moved = _loops_inset(loops, points, by, entry)
    placed = np.empty((*points.shape[:2], len(profile), 3))
    placed[..., :2] = moved[[kinds[share, more] for share, more, _ in profile]].transpose(1, 2, 0, 3)
    placed[..., 2] = laid[:, 2]
    return placed


INWARDS = np.array([[3, 0], [1, 0], [1, 2], [3, 2]])
"""For each corner of a rectangle the sides that move it along x and along y."""


TOWARDS = np.array([[1.0, 1.0], [-1.0, 1.0], [-1.0, -1.0], [1.0, -1.0]])
"""And which way, when they move inwards."""


def _rectangles_inset(points: Floats, by: Floats) -> Floats | None:
    """Rectangles (n, 4, 2) inset by (m, n, 4): sill, right, head, left; None where one has nothing left."""
    moved = points + by[..., INWARDS] * TOWARDS
    return None if (moved[..., 2, :] - moved[..., 0, :]).min() < TOUCH else moved


def _loops_inset(loops: Sequence[Loop], points: Floats, by: Floats, entry: str) -> Floats:
    """Loops (n, c, 2) inset by (m, n, c), all at once; those in which edges vanish one by one."""
    kinds, count = by.shape[:2]
    along, rest = np.array([loop.along for loop in loops]), np.array([loop.rest for loop in loops])
    flat = by.reshape(kinds * count, -1)
    moved, sound = insets(
        *(np.concatenate([values] * kinds) if values is not flat else flat for values in (points, flat, along, rest))
    )
    for index in np.flatnonzero(~sound):
        loop = loops[index % count]
        one = loop.moved(flat[index], vanishing=True) if flat[index].any() else loop.points
        if one is None:
            raise too_far(loop, flat[index], entry, exact=False)
        moved[index] = one
    return moved.reshape(kinds, count, -1, 2)


def between(loops: Sequence[Floats], depths: Sequence[float | Fraction]) -> Floats:
    """The corners (n, c, k, 3) of a section whose k points each follow a closed path (n, c, 2) of their own, at a w of
    their own: for rings whose sides differ."""
    placed = np.empty((*loops[0].shape[:2], len(loops), 3))
    for index, (loop, depth) in enumerate(zip(loops, depths, strict=True)):
        placed[:, :, index, :2] = loop
        placed[:, :, index, 2] = float(depth)
    return placed
