"""How the line of a wall leaves the straight between its ends, each kind as one record."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from math import ceil
from typing import TYPE_CHECKING, Annotated, Any

import numpy as np
from pydantic import Field

from ashfell.core.base.document import Document, Size
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.registry import Registry
from ashfell.core.plane.points import Floats

if TYPE_CHECKING:
    from ashfell.core.unit.say.writer import Writer

MOST_FACETS = 720
"""The most facets of one wall."""


class Curve(Document):
    """A curve between the ends of a wall, in ``facets``; with a ``chord`` in as many as make none of them longer. Its
    folds are crisp, or look ``smooth``."""

    smooth: bool = False
    facets: Annotated[int, Field(ge=2, le=MOST_FACETS)] = 12
    chord: Size | None = None


@dataclass(frozen=True)
class CurveKind:
    """One kind of curve.

    Attributes
    ----------
    key : str
        Its ``kind`` in documents.
    words : str
        As it stands in a sentence: "an arc".
    entry : type of Curve
        What a document says of it.
    path : callable
        A close path along the true curve from (0, 0) to (length, 0), mm: along the straight, and outwards from it; of
        as many points as are asked for. Refuses what is no curve.
    say : callable
        What the list says of it behind its words.
    order : int
        Where it stands among the others.
    ends : callable or None
        The ends of its facets themselves, (n + 1, 2), where it says those; it has then no number of facets.
    radius : callable or None
        The radius of one that has the same everywhere, over a straight of a length, mm.
    """

    key: str
    words: str
    entry: type[Curve]
    path: Callable[[Any, float, int], Floats]
    say: Callable[[Writer, str, Any], list[Any]]
    order: int
    ends: Callable[[Any, float], Floats] | None = None
    radius: Callable[[Any, float], float] | None = None


CURVES: Registry[CurveKind] = Registry("curve", "ashfell.core.kinds.curves")
"""Every curve, by key."""

CLOSE = 64
"""Points of the true curve for each facet, by which lengths along it are told."""


def faceted(curve: Any, length: float) -> Floats:
    """The ends of a curve's facets over a straight of a length, (n + 1, 2) mm: equally far from each other along the
    curve.

    Raises
    ------
    Refusal
        When the curve is none, or would have too many facets.
    """
    kind, count = CURVES[curve.kind], curve.facets
    if kind.ends is not None:
        return kind.ends(curve, length)
    if curve.chord is not None:
        whole = _along(kind.path(curve, length, CLOSE * CLOSE))[-1]
        count = max(2, ceil(whole / float(curve.chord.mm) - 1e-9))
        if count > MOST_FACETS:
            least = Fraction(ceil(whole / MOST_FACETS))
            raise Refusal(
                "curve.chord",
                "a number of facets",
                f"Chords of {curve.chord.text} make {count} facets; {MOST_FACETS} are the most.",
                f"Make the chord {least} mm or longer.",
                least,
            )
    close = kind.path(curve, length, CLOSE * count + 1)
    along = _along(close)
    places = np.linspace(0.0, along[-1], count + 1)
    ends = np.column_stack([np.interp(places, along, close[:, axis]) for axis in (0, 1)])
    ends[0], ends[-1] = (0.0, 0.0), (length, 0.0)
    return ends


def _along(points: Floats) -> Floats:
    """How far along a path each of its points is, mm."""
    return np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
