"""Polygons as arrays of points (c, 2), mm, counter-clockwise: area, directions, normals, pieces."""

from __future__ import annotations

from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import Polygon

Floats = NDArray[np.float64]


TOUCH = 1e-6
"""Points nearer than this are one point, mm."""


def area(points: Floats) -> float:
    """Signed area of a polygon (c, 2), mm²."""
    x, y = points[:, 0], points[:, 1]
    return float((x[:-1] @ y[1:] - x[1:] @ y[:-1] + x[-1] * y[0] - x[0] * y[-1]) / 2)


def directions(points: Floats) -> Floats:
    """Unit vectors along the edges of polygons (..., c, 2)."""
    ahead = steps(points)
    length = np.sqrt(ahead[..., :1] ** 2 + ahead[..., 1:] ** 2)
    return np.asarray(ahead / np.where(length > 0, length, 1))


def steps(points: Floats) -> Floats:
    """From each point of closed paths (..., c, 2) to the next."""
    ahead = np.empty_like(points)
    ahead[..., :-1, :] = points[..., 1:, :]
    ahead[..., -1, :] = points[..., 0, :]
    ahead -= points
    return ahead


Rows = TypeVar("Rows", bound=NDArray[Any])


def previous(rows: Rows) -> Rows:
    """For each row of a closed path the one before it; numpy's own ``roll`` takes several times as long."""
    return np.concatenate((rows[-1:], rows[:-1]))  # type: ignore[return-value]


def following(rows: Rows) -> Rows:
    """For each row of a closed path the one after it."""
    return np.concatenate((rows[1:], rows[:1]))  # type: ignore[return-value]


def without_straight(points: Floats, within: float = 1e-4) -> Floats:
    """A polygon without corners that stand within a distance of the line between their neighbours, mm."""
    kept = points
    while len(kept) > 3:
        behind = previous(kept)
        ahead = following(kept) - behind
        away = np.abs(cross(ahead, kept - behind)) / np.maximum(np.hypot(ahead[:, 0], ahead[:, 1]), 1e-12)
        least = int(away.argmin())
        if away[least] > within:
            break
        kept = np.concatenate((kept[:least], kept[least + 1 :]))
    return kept


def polygons(shape: object) -> list[Polygon]:
    """The polygons with area in whatever shapely answered."""
    if isinstance(shape, Polygon):
        return [shape] if shape.area > TOUCH else []
    return [piece for part in getattr(shape, "geoms", ()) for piece in polygons(part)]


def left_of(along: Floats) -> Floats:
    """The normals to the left of directions: inwards."""
    turned = np.empty_like(along)
    np.negative(along[..., 1], out=turned[..., 0])
    turned[..., 1] = along[..., 0]
    return turned


def cross(a: Floats, b: Floats) -> Floats:
    """Cross products of vectors (..., 2), mm²; positive where b turns left of a."""
    return np.asarray(a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0])


def apart(a: Floats, b: Floats) -> bool:
    """Whether two points are further apart than what counts as touching."""
    return abs(float(a[0] - b[0])) + abs(float(a[1] - b[1])) > TOUCH


def without_repeats(points: Floats) -> Floats:
    """A path (n, 2) without points that are one with the point before."""
    apart = np.abs(points - previous(points)).sum(axis=1) > TOUCH
    return np.asarray(points[apart])
