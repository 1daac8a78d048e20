"""Limits: what must remain of rings and bars beside rebates, worked edges, stops and beads."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

from ashfell.core.base.address import entry_below
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.solid.section import Edge
from ashfell.core.unit.document.cell import Cell
from ashfell.core.unit.document.glazing import Glazing
from ashfell.core.unit.document.members import AXES
from ashfell.core.unit.layout import BarRun, Ring
from ashfell.core.unit.members.own_section import (
    LEAST_STOP,
    LEAST_WEB,
    check_rebated,
    fitted_section,
    without_stop,
    worked,
)
from ashfell.core.unit.seat import Seat


def seat_for(ring: Ring, cell: Cell, path: str) -> Seat:
    """How its glazing sits in a ring whose cell has its bars.

    Raises
    ------
    Refusal
        When stop, rebate or bead have no room.
    """
    glazing = ring.glazing
    glass_front = ring.front + glazing.setback.mm
    glass_back = glass_front + glazing.thickness.mm
    ends, set_back, entry = min(_bar_backs(cell, path), default=(ring.back - ring.front, Fraction(0), ""))
    shallow = ring.front + ends < ring.back
    seat = Seat(
        glazing,
        glass_front - glazing.gasket.thickness.mm,
        glass_front,
        glass_back,
        glass_back + glazing.gasket.thickness.mm,
        ring.front + ends if shallow else ring.back,
        _narrow(glazing, cell),
        ring.bare,
        (entry, set_back) if shallow else None,
    )
    _check_seat(seat, ring, cell, path)
    return seat


LEAST_COVER = Fraction(1)
"""The least that glass goes behind a bar, mm."""
GENEROUS = Fraction(6)
"""A cover behind bars down to which the clearance is kept; below, it is a third of the rebate, mm."""


def _narrow(glazing: Glazing, cell: Cell) -> tuple[Fraction, Fraction] | None:
    """The cover and the clearance that the narrowest bar of a cell leaves, where no cover is given for bars and that of
    the ring is too much, mm; a clearance that is given stays.
    """
    if glazing.bar_cover is not None:
        return None
    room = min((face - LEAST_WEB) / 2 for face in [*_bar_faces(cell), Fraction(10**9)])
    if room >= glazing.cover.mm + glazing.clear:
        return None
    clearance = (
        glazing.clear if glazing.clearance or room >= GENEROUS + glazing.clear else max(room / 3, LEAST_COVER / 2)
    )
    return min(max(LEAST_COVER, room - clearance), glazing.cover.mm), clearance


def _bar_faces(cell: Cell) -> Iterator[Fraction]:
    """The faces of the bars of a cell and of those in it, mm."""
    yield from (bar.face.mm for axis in AXES for bar in getattr(cell, axis).bars)
    yield from (bar.face.mm for bar in cell.angled)
    for inner in cell.cells.values():
        yield from _bar_faces(inner)


def _bar_backs(cell: Cell, path: str) -> Iterator[tuple[Fraction, Fraction, str]]:
    """Where the bars of a cell and of those in it end behind their ring's face, if not flush with it; their set-back,
    and the entry of their depth."""
    for axis in AXES:
        for index, bar in enumerate(getattr(cell, axis).bars):
            depth = bar.depth or cell.bars.depth
            if depth:
                setback = (bar.setback if bar.setback is not None else cell.bars.setback).mm
                entry = f"{axis}.bars.{index}.depth" if bar.depth else "bars.depth"
                yield setback + depth.mm, setback, entry_below(path, entry)
    for key, inner in cell.cells.items():
        yield from _bar_backs(inner, entry_below(path, f"cells.{key}"))


def check_plain(ring: Ring) -> None:
    """Refuse a ring without rebates that its edge or own section does not leave whole."""
    if not ring.faces.any():
        return
    if ring.section:
        fitted_section(ring.section, float(ring.least_face), float(ring.back - ring.front), f"{ring.entry}.section")
        return
    room = min(ring.least_face / 2, (ring.back - ring.front) / 2)
    check_edge(ring.edge, room, room, f"{ring.entry}.edge", f"the {ring.role}")


LEAST_GLASS = Fraction(3)
"""How thick a pane of glass is at least that is named as one that fits, mm."""


def _check_seat(seat: Seat, ring: Ring, cell: Cell, path: str) -> None:
    glazing, entry, ring_entry = seat.glazing, ring.glazing_entry, ring.entry
    narrowest = ring.least_face
    least = seat.rebate + LEAST_WEB
    if narrowest < least:
        raise Refusal(
            narrowest_entry(ring),
            "a web beside the rebate",
            f"A {ring.role} face of {exact_mm(narrowest)} has no room for a rebate of {exact_mm(seat.rebate)}.",
            f"Make it at least {exact_mm(least)}.",
            least,
        )
    if ring.section:
        check_rebated(ring, seat, narrowest)
    else:
        web = (narrowest - seat.rebate) / (2 if seat.stopless else 1)
        room = min(narrowest / 2, (ring.back - ring.front) / 2, web)
        check_edge(ring.edge, room, room, f"{ring_entry}.edge", f"the {ring.role}")
    narrow = min(seat.rebate, seat.bar_rebate)
    check_edge(worked(glazing.bead), narrow, narrow, f"{entry}.bead.edge", "the bead")
    front = max(
        ring.edge.exact_drop,
        (cell.bars.setback.mm + worked(cell.bars).exact_drop) if cell.is_divided else Fraction(0),
    )
    least_setback = front + LEAST_STOP + glazing.gasket.thickness.mm
    if glazing.setback.mm < least_setback and not seat.stopless:
        raise Refusal(
            f"{entry}.setback",
            "a stop before the glass",
            f"Glass set back {exact_mm(glazing.setback.mm)} with a gasket of {exact_mm(glazing.gasket.thickness.mm)} "
            f"leaves {exact_mm(seat.stop_back - ring.front)} for the stop, of which the worked edge and set-back take "
            f"{exact_mm(front)}.",
            f"Set the glass back at least {exact_mm(least_setback)}, or as much as its gasket is thick for no stop.",
            least_setback,
        )
    least_depth = seat.bead_front + worked(glazing.bead).exact_drop + LEAST_STOP
    if seat.bead_back < least_depth and seat.bead_back != seat.bead_front:
        raise _no_bead(seat, ring, least_depth)
    _check_panes(glazing, entry)


def _no_bead(seat: Seat, ring: Ring, least_depth: Fraction) -> Refusal:
    """The refusal of a bead for which there is no room behind the glass: of the depth of what holds it, or of glass
    that one sash of several has of its own, where thinner glass would fit."""
    glazing, who, hold = seat.glazing, f"{ring.role}", "holds"
    place, nearest = f"{ring.entry}.depth", least_depth - ring.front
    if seat.bars:
        place, setback = seat.bars
        who, hold, nearest = "bars", "hold", nearest - setback
    remedy = f"Make the {who} at least {exact_mm(nearest)} deep."
    thin = glazing.thickness.mm - (least_depth - seat.bead_back)
    if ring.glazing_entry.startswith(f"{ring.entry}.each.") and thin >= _thinnest(glazing):
        place, nearest = f"{ring.glazing_entry}.thickness", thin
        remedy = f"Make its glass at most {exact_mm(thin)} thick."
    return Refusal(
        place,
        "a bead behind the glass",
        f"Glass {exact_mm(glazing.thickness.mm)} thick, set back {exact_mm(glazing.setback.mm)}, with its gaskets "
        f"ends {exact_mm(seat.bead_front - ring.front)} behind the face; the {who} ending at "
        f"{exact_mm(seat.bead_back - ring.front)} {hold} no bead there.",
        remedy,
        nearest,
    )


def _thinnest(glazing: Glazing) -> Fraction:
    """How thick glass of so many panes is at least, with a millimetre between them, mm."""
    panes, pane = glazing.panes, glazing.pane.mm
    return panes * pane + (panes - 1) if panes > 1 else LEAST_GLASS


def _check_panes(glazing: Glazing, entry: str) -> None:
    if glazing.panes > 1 and glazing.thickness.mm <= glazing.panes * glazing.pane.mm:
        least = _thinnest(glazing)
        raise Refusal(
            f"{entry}.thickness",
            "a cavity between the panes",
            f"{glazing.panes} panes of {exact_mm(glazing.pane.mm)} leave no cavity in "
            f"{exact_mm(glazing.thickness.mm)}.",
            f"Make the glass at least {exact_mm(least)} thick.",
            least,
        )


def narrowest_entry(ring: Ring) -> str:
    """The entry of a ring's narrowest face: that of a side, where one is narrower than the others."""
    tags = ring.loop.tags
    narrow = {tag for tag, face in zip(tags, ring.faces.tolist(), strict=True) if face == float(ring.least_face)}
    if narrow | ring.bare == set(tags):
        return f"{ring.entry}.face"
    beside = narrow | ({"jambs"} if narrow & {"left", "right"} else set())
    own = sorted((tag == "jambs", entry) for tag, entry in ring.own_sides.items() if tag in beside)
    return f"{ring.entry}.{own[0][1] if own else 'face'}"


def check_edge(edge: Edge, across: Fraction, deep: Fraction, entry: str, who: str) -> None:
    """Refuse a worked edge that leaves no face: it must take less than ``across`` of the face and less than ``deep`` of
    the side, mm. ``entry`` is the edge's own.
    """
    if not edge.exact_reach:
        return
    both = (edge.exact_reach, min(across, deep), "size")
    apart = (edge.exact_reach, across, "size"), (edge.exact_drop, deep, "down" if deep > 0 else "size")
    for taken, room, name in apart if edge.down else (both,):
        if taken >= room:
            raise Refusal(
                f"{entry}.{name}",
                "a face between worked edges",
                f"An edge worked by {exact_mm(taken)} is too large for {who}.",
                f"It must stay below {exact_mm(max(room, Fraction(0)))}.",
                max(Fraction(0), room - Fraction(1, 10) if room > Fraction(1, 5) else room / 2),
            )


def check_bar(ring: Ring, bar: BarRun, edge_entry: str, depth_entry: str) -> None:
    """Refuse a bar with no web between its rebates, no stop behind its worked edge, or one that stands out of its ring;
    ``edge_entry`` and ``depth_entry`` are where those are given, for the bar alone or for all bars of its cell.
    """
    if bar.back > ring.back:
        most = ring.back - bar.front
        if most < LEAST_STOP:
            shallow = max(Fraction(0), ring.back - ring.front - (bar.back - bar.front))
            raise Refusal(
                depth_entry.removesuffix("depth") + "setback",
                "a bar within its ring's depth",
                f"A bar set back {exact_mm(bar.front - ring.front)} stands behind a {ring.role} "
                f"{exact_mm(ring.back - ring.front)} deep.",
                f"Set it back {exact_mm(shallow)} at most.",
                shallow,
            )
        raise Refusal(
            depth_entry,
            "a bar within its ring's depth",
            f"A bar {exact_mm(bar.back - bar.front)} deep, {exact_mm(bar.front - ring.front)} behind the face, stands "
            f"out of a {ring.role} {exact_mm(ring.back - ring.front)} deep.",
            f"Make it at most {exact_mm(most)} deep, or leave its depth out.",
            most,
        )
    entry = f"{bar.entry}.face"
    plain = without_stop(bar)
    if plain is not bar and plain.face >= LEAST_WEB:
        check_edge(bar.edge, plain.face / 2, bar.back - bar.front, edge_entry, "a bar without a stop")
    reach = 2 * bar.edge.exact_reach + LEAST_STOP if plain is bar else Fraction(0)
    least = max(2 * bar.rebate + LEAST_WEB, reach)
    if bar.face < least:
        raise Refusal(
            entry,
            "a web between the rebates",
            f"A bar of {exact_mm(bar.face)} has no room for two rebates of {exact_mm(bar.rebate)}.",
            f"Make it at least {exact_mm(least)}.",
            least,
        )
    depth = bar.stop - bar.front if bar.stop > bar.front else bar.back - bar.front
    room = max(depth - LEAST_STOP, Fraction(0))
    if bar.edge.exact_drop > room:
        raise Refusal(
            f"{edge_entry}.{'down' if bar.edge.down and room else 'size'}",
            "a stop behind the worked edge",
            f"An edge worked by {exact_mm(bar.edge.exact_drop)} leaves nothing of the {exact_mm(depth)} before the "
            "glass.",
            f"It must be at most {exact_mm(room)}.",
            room,
        )
