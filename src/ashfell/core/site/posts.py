"""Where posts stand of units that fold with their wall and are divided where it folds."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from fractions import Fraction

from ashfell.core.base.refusal import Refusal
from ashfell.core.site.along import places_along
from ashfell.core.site.course import facets_of
from ashfell.core.site.document.placement import Placement
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.document.wall import Wall
from ashfell.core.site.opening import flipped, gap_of, width_of
from ashfell.core.unit.layout import Layout

FINE = 10_000
"""Posts stand at whole parts of so many of a millimetre."""


def posts_of(site: SiteDocument, layouts: Mapping[str, Layout]) -> Iterator[tuple[Placement, tuple[Fraction, ...]]]:
    """The placements that have posts on the folds of their wall, each with where the middles of those are, mm in unit
    space from the left; those between whose jambs no fold goes through are left out.

    Parameters
    ----------
    site : SiteDocument
        Settled.
    layouts : mapping
        Of the unit of each placement, as far as it could be made, by the id of the placement.
    """
    for wall in site.walls:
        placed = [one for one in site.placements_in.get(wall.id, ()) if one.unit is None or one.id in layouts]
        if any(one.posts and one.folded for one in placed):
            yield from _in_wall(wall, placed, layouts)


def _clear(layout: Layout) -> tuple[Fraction, Fraction]:
    """Between the jambs of a unit, mm in unit space: a fold that runs through one needs no post."""
    root = layout.body.cells[0]
    return root.left + root.columns.lights[0].start, root.left + root.columns.lights[-1].end


def _in_wall(
    wall: Wall, placed: list[Placement], layouts: Mapping[str, Layout]
) -> Iterator[tuple[Placement, tuple[Fraction, ...]]]:
    widths: dict[str, Fraction] = {}
    for placement in placed:
        try:
            widths[placement.id] = width_of(placement, layouts.get(placement.id))
        except Refusal:  # told where the wall is built
            continue
    try:
        facets = facets_of(wall)
    except Refusal:
        return
    places, _ = places_along([one for one in placed if one.id in widths], widths, facets[-1].end)
    for placement in placed:
        if placement.posts and placement.folded and placement.id in places and placement.unit is not None:
            layout = layouts[placement.id]
            size, left = layout.overall, places[placement.id] + gap_of(placement, "left")
            folds = [facet.end - left for facet in facets[:-1]]
            low, high = _clear(layout)
            own = [
                at for fold in folds if low < (at := size.right - fold if flipped(placement) else size.x + fold) < high
            ]
            if own:
                yield placement, tuple(sorted(Fraction(round(at * FINE), FINE) for at in own))
