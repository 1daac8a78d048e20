"""Trim: casings and surrounds round the unit, the sill under it, an apron inside, a drip over the head."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from math import ceil, floor, radians, tan
from typing import Literal

import numpy as np

from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.roles import Finishes
from ashfell.core.parts import ALONG_U, Member
from ashfell.core.plane.inset import too_far
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import TOUCH, Floats
from ashfell.core.solid.form import Sweep
from ashfell.core.solid.ring import ring_corners
from ashfell.core.solid.section import OwnSection, edge_points, own_points
from ashfell.core.solid.sweep import Section, tidy
from ashfell.core.unit.document.trim import Board, Casing, Sill, Trim
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.layout import Layout, Ring
from ashfell.core.unit.members.jambs import has_jambs, stands_on_board
from ashfell.core.unit.members.limits import check_edge
from ashfell.core.unit.members.mitres import oriented
from ashfell.core.unit.members.ring import names_of, runs_of
from ashfell.core.unit.members.support import support_members

NO_TRIM = Trim()


LEAST = 2.0
"""The least thickness of a board anywhere, mm."""


def trim_members(document: UnitDocument, layout: Layout) -> Iterator[Member]:
    """All trim of a unit; it stands before its outer face (above w = 0) or behind its inner one, and under its foot.

    Raises
    ------
    Refusal
        When the outline has not the side that a piece of trim stands on, or its sizes do not go together.
    """
    trim, finishes = document.trim, document.finishes
    if trim == NO_TRIM:
        return
    ring = layout.outermost
    front, back = -float(ring.front), -float(ring.back)
    if trim.sill:
        straight_side(layout, "sill", "trim.sill")
    if trim.outside:
        wall = front + _forward(trim.outside)
        yield from _casing(
            trim.outside, ring, wall, 1.0, ("outside", _over_sill(trim, "outside", layout), 0.0), finishes
        )
    if trim.inside:
        wall = back - _forward(trim.inside)
        above = float(trim.board.thickness.mm) if trim.board else 0.0
        over = _over_sill(trim, "inside", layout)
        yield from _casing(trim.inside, ring, wall, -1.0, ("inside", over, above), finishes)
    if trim.sill:
        yield Member("sill", "trim.sill", "sill", finishes.of("sill"), ALONG_U, _sill(trim, trim.sill, layout))
    if trim.apron:
        foot = _under_sill(trim.sill, -back) if trim.sill else 0.0
        yield Member(
            "apron",
            "trim.apron",
            "casing",
            finishes.of("casing"),
            ALONG_U,
            _apron(trim, trim.apron, layout, foot, back),
        )
    yield from support_members(trim, layout, finishes)
    if trim.head_drip:
        yield Member(
            "head-drip",
            "trim.head_drip",
            "sill",
            finishes.of("sill"),
            ALONG_U,
            _head_drip(trim, trim.head_drip, layout),
        )


def _forward(casing: Casing | None) -> float:
    """How far the wall's face stands before the frame's, mm."""
    return float(casing.forward.mm) if casing and casing.forward else 0.0


def _under_sill(sill: Sill, back: float) -> float:
    """The foot of a sill that reaches out behind the unit, seen from the unit's; 0 where it does not, mm."""
    if sill.section is None:
        return -float(sill.thickness.mm) if float(sill.under.mm) > back else 0.0
    points = own_points(sill.section, "trim.sill.section")
    return min(y for _, y in points) if min(x for x, _ in points) < -back else 0.0


def _over_sill(trim: Trim, side: Literal["outside", "inside"], layout: Layout) -> bool:
    """Whether the casing of a side ends above the sill.

    Raises
    ------
    Refusal
        When it goes round on all sides, and a sill board stands in its way.
    """
    casing = getattr(trim, side)
    depth = float(layout.outermost.back)
    met = trim.sill is not None and (side == "outside" or _under_sill(trim.sill, depth) < 0)
    boarded = trim.board is not None and side == "inside"
    met = met or boarded
    if met and casing.sides == "all":
        raise Refusal(
            f"trim.{side}.sides",
            "a casing that ends above the sill",
            f"The {'board' if boarded else 'sill'} stands where the lower side of the casing {side} would be.",
            "Leave out its lower side.",
        )
    outer = layout.outermost
    bare = "sill" in outer.bare and has_jambs(outer.loop) and not outer.bare & {"left", "right"}
    return casing.sides == "no sill" or ((met or bare) and casing.sides == "fitting")


def _casing(
    casing: Casing,
    ring: Ring,
    wall: float,
    looks: float,
    where: tuple[Literal["outside", "inside"], bool, float],
    finishes: Finishes,
) -> Iterator[Member]:
    side, over_sill, above = where
    entry = f"trim.{side}"
    _check_lap(casing, entry)
    profile = _casing_profile(casing, wall, looks, entry)
    kept, section = oriented([(1.0, more, w) for more, w in profile], 0.0)
    loop, lap = ring.loop, float(casing.lap.mm)
    if loop.moved(lap) is None:
        raise too_far(loop, lap, f"{entry}.lap")
    lapped = np.array([-max(lap, 0.0) if tag in ring.bare else 0.0 for tag in loop.tags])
    corners = ring_corners([loop], lapped, kept, f"{entry}.lap")[0]
    runs = runs_of(loop)
    names = names_of(loop)
    if over_sill:
        if "sill" not in loop.tags:
            raise Refusal(
                f"{entry}.sides",
                "a sill to leave out",
                "This outline has no sill to leave out.",
                "Set the casing on all sides.",
            )
        corners = _down_to(above, corners, loop, entry, casing.sides == "no sill")
    count = len(corners)
    for (name, grain), (edges, closed, bent) in zip(names, runs, strict=True):
        if over_sill and name == "sill":
            continue
        order = [*edges] if closed else [*edges, (edges[-1] + 1) % count]
        form = Sweep(corners[order], section, closed, bent or len(edges) > 1)
        yield Member(f"casing.{side}.{name}", entry, "casing", finishes.of("casing"), grain, form)


def _check_lap(casing: Casing, entry: str) -> None:
    """Refuse a casing that laps a frame which stands before the wall that it is on."""
    if _forward(casing) >= 0 or casing.lap.mm <= 0:
        return
    raise Refusal(
        f"{entry}.lap",
        "a casing beside a frame that stands out",
        f"The frame stands {float(-_forward(casing)):g} mm out of the wall, and a casing that laps it by "
        f"{exact_mm(casing.lap.mm)} would run into it.",
        "Let it lap by 0 mm, or the frame stand no further out than the wall.",
        Fraction(0),
    )


def _casing_profile(casing: Casing, wall: float, looks: float, entry: str) -> Section:
    """Points (inwards from the frame's outer edge, w): the inner edge laps the frame; both front edges are worked."""
    lap, width, off = float(casing.lap.mm), float(casing.width.mm), float(casing.projection.mm)
    if casing.section:
        own = own_points(casing.section, f"{entry}.section")
        return tuple((lap - x, wall + looks * y) for x, y in own)
    edge = casing.edge
    check_edge(edge, casing.width.mm / 2, casing.projection.mm, f"{entry}.edge", "the casing")
    points = edge_points(edge)
    inner = [(lap - x, wall + looks * (off - y)) for x, y in points]
    outer = [(lap - width + x, wall + looks * (off - y)) for x, y in reversed(points)]
    return tidy([(lap - width, wall), *outer, *inner, (lap, wall)])


def _reach(casing: Casing, side: str, entry: str, layout: Layout) -> float:
    """How far a casing goes beyond the frame's outer edge along a side, mm; where the frame has no member there, all of
    it does."""
    lapped = max(float(casing.lap.mm), 0.0) if side in layout.outermost.bare else 0.0
    return lapped - min(inwards for inwards, _ in _casing_profile(casing, 0.0, 1.0, entry))


def _down_to(above: float, corners: Floats, loop: Loop, entry: str, asked: bool) -> Floats:
    """The jambs' lower ends cut level so far above the foot, as is ``asked`` or a sill or board there makes necessary;
    each line of them still goes where it went."""
    cut, foot = corners.copy(), loop.bounds[1] + above
    first = loop.tags.index("sill")
    last = len(loop.tags) - 1 - loop.tags[::-1].index("sill")
    if not has_jambs(loop):
        raise Refusal(
            f"{entry}.sides" if asked else "trim.sill",
            "jambs that stand on a sill",
            "Beside the sill this outline has no jambs.",
            "Set the casing on all sides that have room." if asked else "Leave out the sill.",
        )
    for k, to in ((first, first - 1), (last + 1, last + 2)):
        low, high = corners[k % len(corners)], corners[to % len(corners)]
        if high[:, 1].min() < foot + TOUCH:
            raise stands_on_board()
        share = (foot - low[:, 1]) / (high[:, 1] - low[:, 1])
        cut[k % len(corners)] = low + share[:, None] * (high - low)
        cut[k % len(corners), :, 1] = foot
    return cut


def straight_side(layout: Layout, side: str, entry: str) -> tuple[float, float, float]:
    """From, to and height of a level side of the outermost ring, mm.

    Raises
    ------
    Refusal
        When the outline has none.
    """
    loop = layout.outermost.loop
    edges = [k for k, tag in enumerate(loop.tags) if tag == side]
    points = loop.points[[*edges, (edges[-1] + 1) % len(loop.points)]] if edges else np.zeros((0, 2))
    if not edges or float(np.ptp(points[:, 1])) > 1e-6:
        raise Refusal(
            entry, f"a level {side}", f"This outline has no level {side}.", "Leave it out, or choose another outline."
        )
    left, _, right, _ = loop.bounds
    low, high = (left, right) if side == "sill" else (float(points[:, 0].min()), float(points[:, 0].max()))
    return low, high, float(points[0, 1])


def _sill(trim: Trim, sill: Sill, layout: Layout) -> Sweep:
    left, right, foot = straight_side(layout, "sill", "trim.sill")
    section = _sill_section(sill, foot) if sill.section is None else _own_sill(sill.section, foot)
    return along_u(section, left - float(sill.horns.mm), right + float(sill.horns.mm))


def _own_sill(drawn: OwnSection, foot: float) -> list[tuple[float, float]]:
    """Points (w, v) of a sill's own section.

    Raises
    ------
    Refusal
        When it rises above the frame's foot.
    """
    points = own_points(drawn, "trim.sill.section")
    above = max(y for _, y in points)
    if above > 1e-9:
        raise Refusal(
            "trim.sill.section",
            "a sill below the frame",
            f"The section rises {above:g} mm above the foot of the frame.",
            "Keep y at 0 or below, or leave it out.",
        )
    return [(x, foot + y) for x, y in points]


def _sill_section(sill: Sill, foot: float) -> list[tuple[float, float]]:
    """Points (w, v) of a sill as its sizes make it."""
    out, thick, fall, under = (float(size.mm) for size in (sill.projection, sill.thickness, sill.fall, sill.under))
    if sill.slope is not None:
        fall = out * tan(radians(sill.slope))
    nose = sill.nosing
    front_height = thick - fall
    check_edge(nose, sill.projection.mm, sill.thickness.mm, "trim.sill.nosing", "the sill")
    if front_height - nose.drop < LEAST:
        least = Fraction(ceil((fall + nose.drop + LEAST) * 100), 100)
        raise Refusal(
            "trim.sill.thickness",
            "a front below the nosing",
            f"A sill {exact_mm(sill.thickness.mm)} thick that falls {fall:g} mm has {front_height:g} mm left at its "
            f"front; the nosing takes {nose.drop:g}.",
            f"Make it at least {float(least):g} mm thick.",
            least,
        )
    slope = fall / out
    worked = [(out - x, -fall - y + slope * x) for x, y in edge_points(nose)]
    section = [(-under, 0.0), (0.0, 0.0), *worked, (out, -thick), *_groove(sill, out, thick, fall), (-under, -thick)]
    return [(w, foot + v) for w, v in section]


def _groove(sill: Sill, out: float, thick: float, fall: float) -> list[tuple[float, float]]:
    if sill.drip is None:
        return []
    back, width, depth = (float(size.mm) for size in (sill.drip.back, sill.drip.width, sill.drip.depth))
    deepest = Fraction(floor((thick - fall - sill.nosing.drop - LEAST) * 100), 100)
    widest, furthest = sill.projection.mm / 2, sill.projection.mm - sill.drip.width.mm - 1
    if deepest <= 0 or sill.projection.mm <= 3:
        raise Refusal(
            "trim.sill.drip",
            "a drip within the sill",
            f"A sill with {thick - fall - sill.nosing.drop:g} mm below its nosing has no room for a drip.",
            "Leave out the drip, or make the sill thicker.",
        )
    for name, size, most in (("depth", depth, deepest), ("width", width, widest), ("back", back, furthest)):
        if size > most:
            raise Refusal(
                f"trim.sill.drip.{name}",
                "a drip within the sill",
                f"A groove {width:g} by {depth:g} mm, {back:g} behind the front, does not fit under a sill that "
                f"projects {out:g} mm.",
                f"The largest that works is {exact_mm(most)}.",
                most,
            )
    start, end = out - back, out - back - width
    return [(start, -thick), (start, -thick + depth), (end, -thick + depth), (end, -thick)]


def along_u(section: list[tuple[float, float]], left: float, right: float) -> Sweep:
    """A section (w, v) from left to right."""
    turned = tidy([(v, w) for w, v in section])
    corners = np.array([[(u, v, w) for v, w in turned] for u in (left, right)])
    return Sweep(corners, turned)


def _board_section(
    board: Board, low: float, high: float, wall: float, front: float, entry: str
) -> list[tuple[float, float]]:
    """A board between two heights, from a wall plane to its front; the lower and upper front edges are worked. One of
    its own section hangs from, or stands on, the side of it that is next to the unit."""
    edge, sign = board.edge, 1.0 if front > wall else -1.0
    if board.section is not None:
        return _own_board(board.section, low, high, wall, sign, entry)
    check_edge(edge, board.height.mm / 2, board.projection.mm, f"{entry}.edge", "this board")
    points = edge_points(edge)
    lower = [(front - sign * y, low + x) for x, y in reversed(points)]
    upper = [(front - sign * y, high - x) for x, y in points]
    return [(wall, low), *lower, *upper, (wall, high)]


def _own_board(
    drawn: OwnSection, low: float, high: float, wall: float, sign: float, entry: str
) -> list[tuple[float, float]]:
    """Points (w, v) of a board's own section: under the unit (inside) its top, over it its foot keeps its place.

    Raises
    ------
    Refusal
        When it goes into the wall.
    """
    points = own_points(drawn, f"{entry}.section")
    within = -min(x for x, _ in points)
    if within > 1e-9:
        raise Refusal(
            f"{entry}.section",
            "a section off the wall",
            f"The section goes {within:g} mm into the wall.",
            "Keep x at 0 or above, or leave it out.",
        )
    heights = [y for _, y in points]
    shift = high - max(heights) if sign < 0 else low - min(heights)
    return [(wall + sign * x, y + shift) for x, y in points]


def _apron(trim: Trim, apron: Board, layout: Layout, head: float, back: float) -> Sweep:
    left, right, foot = straight_side(layout, "sill", "trim.apron")
    wall = back - _forward(trim.inside)
    over = float(apron.over.mm)
    below = foot + head
    if trim.inside and not _over_sill(trim, "inside", layout):
        below = min(below, foot - _reach(trim.inside, "sill", "trim.inside", layout))
    section = _board_section(
        apron, below - float(apron.height.mm), below, wall, wall - float(apron.projection.mm), "trim.apron"
    )
    return along_u(section, left - over, right + over)


def _head_drip(trim: Trim, board: Board, layout: Layout) -> Sweep:
    left, right, head = straight_side(layout, "head", "trim.head_drip")
    over = float(board.over.mm)
    wall = _forward(trim.outside)
    foot = head + (_reach(trim.outside, "head", "trim.outside", layout) if trim.outside else 0.0)
    section = _board_section(
        board, foot, foot + float(board.height.mm), wall, wall + float(board.projection.mm), "trim.head_drip"
    )
    return along_u(section, left - over, right + over)
