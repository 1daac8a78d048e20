"""Hosts standing with their openings cut; that of the same host, placements and units is kept."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import cached_property

import numpy as np
import shapely
from shapely.geometry import box

from ashfell.core.base.kept import kept
from ashfell.core.base.refusal import Refusal
from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats
from ashfell.core.site.along import places_along
from ashfell.core.site.document.placement import Placement
from ashfell.core.site.document.roof import Roof
from ashfell.core.site.document.wall import Wall
from ashfell.core.site.fit import as_measured, fit_openings
from ashfell.core.site.hosts.chain import Ends
from ashfell.core.site.hosts.host import Host
from ashfell.core.site.hosts.roof import RoofHost
from ashfell.core.site.hosts.wall import WallHost
from ashfell.core.site.opening import Opening, flipped, gap_of, opening_for, width_of
from ashfell.core.site.reveal import revealed
from ashfell.core.site.variant import recess_of
from ashfell.core.solid.plate import boxes
from ashfell.core.unit.layout import Layout
from ashfell.core.unit.make import Unit

HOSTS_KEPT = 32e6
"""How much of hosts with their openings is kept, bytes."""


@dataclass(frozen=True, eq=False)
class Standing:
    """A host with its openings cut, and the placements that could not be fitted with the reason."""

    host: Host
    openings: tuple[Opening, ...]
    refused: tuple[tuple[str, Refusal], ...]

    @cached_property
    def parts(self) -> tuple[Part, ...]:
        """Its parts in its own space; made when they are first asked for: a plan shows none of them."""
        return self.host.parts(self.openings)

    @property
    def weight(self) -> float:
        """About how much memory it takes, bytes."""
        return 20_000.0 + 3_000.0 * len(self.openings)

    @cached_property
    def starts(self) -> list[float]:
        """Where each opening begins along the host, sorted as they are, mm."""
        return [float(opening.x) for opening in self.openings]

    @cached_property
    def widest(self) -> float:
        """The width of the widest opening, mm."""
        return max((float(opening.width) for opening in self.openings), default=0.0)


@kept(HOSTS_KEPT, lambda standing, *_: standing.weight)
def stand(
    one: Wall | Roof,
    ends: Ends,
    placements: tuple[Placement, ...],
    names: tuple[str, ...],
    units: tuple[tuple[str, Unit], ...],
) -> Standing:
    """One wall or roof with its openings, fitted and cut.

    Parameters
    ----------
    one, ends : Wall or Roof, Ends
    placements : tuple of Placement
        Those in it.
    names : tuple of str
        The name of what each of them places; empty for an opening without a unit.
    units : tuple of pairs
        The units that they place, by name.

    Raises
    ------
    Refusal
        When the host itself cannot be.
    """
    host = WallHost(one, ends) if isinstance(one, Wall) else RoofHost(one)
    layouts = {name: unit.layout for name, unit in units}
    of = dict(zip((placement.id for placement in placements), map(layouts.get, names), strict=True))
    by_name = dict(units)
    made = {placement.id: by_name[name] for placement, name in zip(placements, names, strict=True) if name}
    wanted, bad, widths = [], [], dict[str, Fraction]()
    for placement in placements:
        try:
            widths[placement.id] = width_of(placement, of[placement.id])
        except Refusal as refusal:
            bad.append((placement.id, refusal))
    places, astray = places_along([one for one in placements if one.id in widths], widths, host.length)
    for placement in placements:
        if placement.id in places:
            opening = opening_for(placement, of[placement.id], places[placement.id])
            try:
                opening = revealed(opening, placement, of[placement.id], host.thickness, host.slope)
                wanted.append(with_pockets(opening, placement, made.get(placement.id), host.thickness))
            except Refusal as refusal:
                bad.append((placement.id, refusal))
    good, unfit = fit_openings(host, wanted)
    good, crowded = _with_room(host, good)
    unfit = [*unfit, *crowded]
    by_id, asked = {placement.id: placement for placement in placements}, {one.placement: one for one in wanted}
    bad += [(key, as_measured(refusal, by_id[key], asked[key])) for key, refusal in unfit]
    return Standing(host, tuple(good), (*bad, *astray.items()))


LEAST_SKIN = 10.0
"""The least of a host that is left before and behind a pocket, mm."""
OUT = 1.0
"""How far a pocket that goes through a face of a host is cut beyond it, mm."""
LET_IN = ("sill",)
"""The roles of what is let into a host where it reaches beyond its opening."""


def with_pockets(opening: Opening, placement: Placement, unit: Unit | None, thickness: Fraction) -> Opening:
    """An opening with what of its unit is let into the host beside it: a pocket as large as that."""
    let = [part.solid.bounds for part in unit.parts if part.role in LET_IN] if unit else []
    free = [np.array(box) for light in unit.layout.body.lights for box in light.content.pockets] if unit else []
    if not unit or not (let or free):
        return opening
    (matrix,) = in_host([placement], [opening], [unit.layout], thickness)
    ends = np.stack([*let, *free]) @ matrix[:3, :3].T + matrix[:3, 3]
    extents = np.stack([ends.min(axis=1), ends.max(axis=1)], axis=1)
    for extent in extents[len(let) :]:
        _check_holds(extent, thickness)
    hollows = [box(*extent[:, :2].ravel()) for extent in extents[len(let) :]]
    deep = [(low, high) for low, high in extents if low[2] < 0 and high[2] > -float(thickness)]
    if not deep:
        return opening
    lows = np.array([(*low[:2], max(low[2], -float(thickness) - OUT)) for low, _ in deep])
    highs = np.array([(*high[:2], OUT if high[2] >= 0 else high[2]) for _, high in deep])
    return replace(opening, pockets=tuple(boxes(lows, highs)), hollows=tuple(hollows))


def _with_room(host: Host, openings: Sequence[Opening]) -> tuple[list[Opening], list[tuple[str, Refusal]]]:
    """The openings whose pockets have room in their host, and why others have none."""
    if not any(one.hollows for one in openings):
        return list(openings), []
    taken = [(shape, one) for one in openings for shape in (one.reach, *one.hollows)]
    tree = shapely.STRtree([shape for shape, _ in taken])
    good, crowded = list[Opening](), list[tuple[str, Refusal]]()
    for one in openings:
        near = {taken[k][1].placement for hollow in one.hollows for k in tree.query(hollow, "intersects")}
        near -= {one.placement}
        ends = [bound for hollow in one.hollows for bound in (hollow.bounds[0], hollow.bounds[2])]
        if not near and all(LEAST_SKIN <= end <= float(host.length) - LEAST_SKIN for end in ends):
            good.append(one)
            continue
        reason = f"That of {', '.join(sorted(near))} is in its way." if near else f"{host.name} ends before it does."
        refusal = Refusal(
            "offset",
            "a wall that holds the pocket",
            f"Its leaf slides into a pocket from {min(ends):.4g} to {max(ends):.4g} mm along the wall. {reason}",
            "Move it, or let it slide the other way.",
        )
        crowded.append((one.placement, refusal))
    return good, crowded


def _check_holds(extent: Floats, thickness: Fraction) -> None:
    """Refuse a pocket that comes out of a face of its host."""
    if extent[1, 2] > -LEAST_SKIN or extent[0, 2] < LEAST_SKIN - float(thickness):
        room = f"{-extent[1, 2]:.4g} and {extent[0, 2] + float(thickness):.4g} mm"
        raise Refusal(
            "recess",
            "a wall that holds the pocket",
            f"A pocket {extent[1, 2] - extent[0, 2]:.4g} mm deep would leave {room} of a wall {float(thickness):.10g} "
            f"mm thick before and behind it; at least {LEAST_SKIN:g}.",
            "Make the wall thicker or the leaf thinner, or move the frame to the middle of the wall.",
        )


def in_host(
    placements: Sequence[Placement], openings: Sequence[Opening], layouts: Sequence[Layout], thickness: Fraction
) -> Floats:
    """Where units stand in their host's space, (n, 4, 4) mm; mirror images where they are the other hand."""
    matrices = np.tile(np.eye(4), (len(placements), 1, 1))
    for index, (placement, opening, layout) in enumerate(zip(placements, openings, layouts, strict=True)):
        size, recess = layout.overall, recess_of(placement, layout, thickness)
        left, foot = opening.x + gap_of(placement, "left"), opening.z + gap_of(placement, "sill")
        over = left + size.right if flipped(placement) else left - size.x
        behind = thickness - recess if placement.turned else recess
        matrices[index, 0, 0] = -1.0 if flipped(placement) else 1.0
        matrices[index, 2, 2] = -1.0 if placement.turned else 1.0
        matrices[index, :3, 3] = float(over), float(foot - size.y), -float(behind)
    return matrices
