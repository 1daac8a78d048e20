"""A sash that turns, or is fixed: in a plain reveal with a clearance, moved about its hinges."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from math import ceil
from typing import Any, Literal

import numpy as np
import shapely
from shapely.geometry import Point

from ashfell.core.base.document import Data, Gap, mm
from ashfell.core.base.lengths import parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.filling import FILLINGS, Filling
from ashfell.core.kinds.fillings.pair import Meeting, opens_after, pair_of
from ashfell.core.kinds.fillings.sashes import (
    SASH_PIECES,
    THINNER,
    Sashes,
    about,
    check_each,
    depth_for,
    fresh_sizes,
    named_after_place,
    sash_body,
    sash_members,
    say_ring,
    thinner_glazing,
)
from ashfell.core.kinds.opening import TURNINGS, Hand, Hinge, Turning, TurningKey
from ashfell.core.kinds.roles import Finishes
from ashfell.core.kinds.symbol import Symbol, hung_symbol
from ashfell.core.parts import Member
from ashfell.core.plane.inset import too_far
from ashfell.core.plane.points import TOUCH, Floats
from ashfell.core.unit.layout import Bed, Body, Content, Light, SashLayout
from ashfell.core.unit.members.own_section import worked
from ashfell.core.unit.members.ring import strips
from ashfell.core.unit.say.writer import Writer
from ashfell.core.unit.solve.body import Solving

SWING_STEP = 12.0
"""How far apart the points of a slanting or curved edge are that are swung, mm."""
LEAST_STOP = Fraction(2)
"""The thinnest strip a sash can close against, mm."""
LEAST_STRIP = 1.0
"""A strip thinner than this is left out, mm."""


class Sash(Sashes):
    """A sash in the light, ``clearance`` from it all round, moved by its ``opening``. ``hand`` is the side its hinges
    are on as seen from outside; it swings ``out`` or ``in``. ``stop`` is how wide the strip is that it closes
    against. Of a pair the ``hand`` is the one that opens first, and ``meeting`` how their stiles meet; the other
    follows once the first is out of its way."""

    kind: Literal["sash"]
    opening: TurningKey = "side-hung"
    hand: Hand = "left"
    swing: Literal["out", "in"] = "out"
    tilted: bool = False
    stop: Gap = mm("10")
    meeting: Meeting = Meeting()

    @property
    def turning(self) -> Turning:
        """The record of its way of opening."""
        return TURNINGS[self.opening]

    @property
    def swings_in(self) -> bool:
        """Whether it swings inwards."""
        return self.turning.swings_in(self)


@dataclass(frozen=True, eq=False)
class Hung(Content):
    """A sash, or a pair, and from where to where the strip is that it closes against, as w, mm; None where there is
    none.
    """

    strip: tuple[float, float] | None = None


def _solve(light: Light, fill: Sash, solving: Solving) -> Hung:
    """The sash or the pair in a light.

    Raises
    ------
    Refusal
        When it has no room in the ring or cannot move.
    """
    planes = _planes(light, fill)
    whole = named_after_place(light.loop.inset(float(fill.clearance.mm), f"{light.entry}.clearance"))
    rect = light.clear.inset(fill.clearance.mm)
    if not fill.turning.pair:
        body = sash_body(light, whole, rect, planes, "sash", solving)
        single = _moved(light, fill, "", fill.hand, body)
        check_each(light, (single,))
        return Hung(sashes=(single,), strip=_strip(light, fill, planes))
    pair = pair_of(light, fill, solving, planes, whole, rect)
    first = next(leaf for leaf in pair if leaf.first)
    angle = _angle(fill, first.hand, first.body, fill.opened_of(first.hand))
    found = [_moved(light, fill, leaf.hand, leaf.hand, leaf.body, opens_after(fill, leaf, angle)) for leaf in pair]
    check_each(light, found)
    return Hung(sashes=tuple(found), strip=_strip(light, fill, planes))


def _angle(fill: Sash, hand: Hand, body: Body, opened: float) -> float:
    """How far a sash is turned, degrees."""
    hinge = fill.turning.hinge(fill, hand, body.ring.loop.bounds)
    return hinge.degrees * opened / 100 if hinge else 0.0


def _planes(light: Light, fill: Sash) -> tuple[Fraction, Fraction]:
    """Front and back of a sash behind the unit's outer face: set back from the face it swings to."""
    ring, depth, setback = light.ring, fill.depth.mm, fill.setback.mm
    if depth + setback > ring.back - ring.front:
        room = ring.back - ring.front - setback
        _check_room(light, fill, room)
        raise Refusal(
            f"{light.entry}.depth",
            "a sash within its frame",
            f"A sash {exact_mm(depth)} deep, set back {exact_mm(setback)}, stands out of a frame "
            f"{exact_mm(ring.back - ring.front)} deep.",
            f"Make it at most {exact_mm(room)} deep.",
            room,
        )
    rest = ring.back - ring.front - setback - depth
    if fill.stop.mm and fill.turning.stopped and rest < LEAST_STOP:
        _check_room(light, fill, depth + rest - LEAST_STOP)
        raise Refusal(
            f"{light.entry}.depth",
            "a stop behind the sash",
            f"A sash {exact_mm(depth)} deep leaves {exact_mm(rest)} of the frame's depth for the strip it closes "
            "against.",
            f"Make it at most {exact_mm(depth + rest - LEAST_STOP)} deep, or the stop 0.",
            depth + rest - LEAST_STOP,
        )
    if fill.swings_in:
        return ring.back - setback - depth, ring.back - setback
    return ring.front + setback, ring.front + setback + depth


def _check_room(light: Light, fill: Sash, room: Fraction) -> None:
    """Refuse a sash that would have to be thinner, ``room`` mm, than what holds its glass."""
    glazing, content = fill.glazing or light.ring.glazing, fill.content.fill
    bead = worked(glazing.bead).exact_drop + LEAST_STOP
    least = glazing.setback.mm + glazing.thickness.mm + glazing.gasket.thickness.mm + bead
    if room < least and (content is None or content.kind == "glass") and not fill.content.is_divided:
        raise Refusal(
            f"{light.entry}.kind",
            "a light that takes a sash",
            f"A sash with this glass is at least {exact_mm(least)} deep, and there is room for {exact_mm(room)}.",
            "Make the glass thinner or the frame deeper, or choose another filling.",
        )


def _strip(light: Light, fill: Sash, planes: tuple[Fraction, Fraction]) -> tuple[float, float] | None:
    """The strip a hung sash closes against: behind one that swings out, before one that swings in."""
    if not fill.stop.mm or not fill.turning.stopped:
        return None
    ring, (front, back) = light.ring, planes
    if light.loop.moved(float(fill.stop.mm)) is None:
        raise too_far(light.loop, float(fill.stop.mm), f"{light.entry}.stop")
    if fill.swings_in:
        low, high = -float(front), -float(ring.front) - ring.edge.drop
    else:
        low, high = -float(ring.seat.bead_back if ring.seat else ring.back), -float(back)
    return (low, high) if high - low >= LEAST_STRIP else None


# --- how it moves -----------------------------------------------------------------------------------------------------


def _moved(light: Light, fill: Sash, name: str, hand: Hand, body: Body, free: bool = True) -> SashLayout:
    """A sash where it stands when it is opened; shut where it is not ``free`` to."""
    bounds = body.ring.loop.bounds
    shut = fill.turning.hinge(fill.model_copy(update={"tilted": False}), hand, bounds)
    axis = shut.line(bounds) if shut else ()
    hinge = fill.turning.hinge(fill, hand, bounds)
    opened = fill.opened_of(name) if free else 0.0
    if hinge is None or not opened:
        return SashLayout(name, body, None, axis)
    _check_swing(light, fill, body, hinge)
    ring, inwards = body.ring, fill.swings_in
    plane = -float(ring.front + ring.back) / 2 if hinge.pivots else -float(ring.back if inwards else ring.front)
    middle = (bounds[0] + bounds[2]) / 2, (bounds[1] + bounds[3]) / 2
    point = (hinge.at, middle[1], plane) if hinge.upright else (middle[0], hinge.at, plane)
    along = (0.0, 1.0, 0.0) if hinge.upright else (1.0, 0.0, 0.0)
    turn = hinge.degrees * opened / 100 * (-1 if inwards else 1)
    return SashLayout(name, body, about(point, along, turn), axis)


def _check_swing(light: Light, fill: Sash, body: Body, hinge: Hinge) -> None:
    """A deep sash swings past its closed edge: every point by what its distance from the axis grows with the depth. The
    clearance must let it, and the light's outline too where that slopes towards the axis."""
    ring, points, axis = body.ring, body.ring.loop.points, 0 if hinge.upright else 1
    if not light.is_rectangle:
        points = shapely.get_coordinates(shapely.segmentize(body.ring.loop.polygon, SWING_STEP))
    share = 2 if fill.turning.pair else 1
    depth = float(ring.back - ring.front) / (2 if hinge.pivots else 1)
    arm = points[:, axis] - hinge.at
    free = 0.0 if hinge.pivots else np.sign(arm[np.abs(arm).argmax()])
    swung = np.where(np.abs(arm) < TOUCH, free, np.sign(arm)) * np.hypot(arm, depth)
    far = np.abs(arm) > np.abs(arm).max() - 1.0
    needed = float(np.abs(swung - arm)[far].max())
    if needed > float(fill.clearance.mm) / share:
        least = Fraction(ceil(needed * share * 10), 10)
        raise Refusal(
            f"{light.entry}.clearance",
            "room to swing",
            f"A sash {exact_mm(ring.back - ring.front)} deep swings {needed:.2f} mm past its closed edge; the "
            "clearance is "
            f"{exact_mm(fill.clearance.mm)}.",
            f"Make the clearance at least {exact_mm(least)}, or the sash less deep.",
            least,
        )
    if light.is_rectangle:
        return
    frame = light.ring
    way_out = float(frame.back - frame.front) if hinge.pivots else float(fill.setback.mm)
    drawn_in = np.sign(arm) * (np.sqrt(np.maximum(arm**2 - way_out**2, 0.0)) - (depth if hinge.pivots else 0.0))
    over = max(_outside(light, points, axis, hinge.at + arms) for arms in (swung, drawn_in))
    if over > 1e-3 or not light.loop.is_convex:
        raise Refusal(
            f"{light.entry}.hand" if hinge.upright else f"{light.entry}.opening",
            "an outline a sash can swing out of",
            f"A sash {exact_mm(ring.back - ring.front)} deep that turns about this side runs into its slanting or "
            "curved edge" + (f" by {over:.1f} mm." if over > 1e-3 else "."),
            "Hang it on the other side, flush with the face it swings to, or choose another opening.",
        )


def _outside(light: Light, points: Floats, axis: int, reached: Floats) -> float:
    """How far points come out of a light when their coordinate on one axis becomes another, mm."""
    moved = points.copy()
    moved[:, axis] = reached
    inside, edge = light.loop.polygon.buffer(1e-6), light.loop.polygon.exterior
    return max((edge.distance(Point(x, y)) for x, y in moved.tolist() if not inside.contains(Point(x, y))), default=0.0)


# --- what is made of it, said of it, and drawn of it
# --------------------------------------------------------------------


def _members(light: Light, finishes: Finishes, bed: Bed | None) -> Iterator[Member]:
    assert isinstance(light.content, Hung)
    assert isinstance(light.fill, Sash)
    if light.content.strip:
        low, high = light.content.strip
        width, nothing = float(light.fill.stop.mm), np.zeros(len(light.loop.points))
        profile = [(0.0, 0.0, low), (0.0, width, low), (0.0, width, high), (0.0, 0.0, high)]
        yield from strips(light, nothing, profile, ("frame", f"stop.{light.key}", light.entry, finishes.of("frame")))
    yield from sash_members(light, finishes, bed)


def _symbols(light: Light) -> Iterable[Symbol]:
    assert isinstance(light.fill, Sash)
    fill = light.fill
    return [
        hung_symbol(sash, fill.swings_in, light.entry, pivots=not fill.turning.stopped, tilts=fill.turning.tilts)
        for sash in light.sashes
        if sash.axis
    ]


def _operation(fill: Sash, name: str) -> str:
    hand = name if name in ("left", "right") else fill.hand
    return fill.turning.operation(hand.upper())


def _fresh(data: Data, fill: Data, fits: Any) -> None:
    usual = parse(fill["depth"])
    tried = []
    for thickness in THINNER:
        needed = depth_for(thinner_glazing(data, thickness))
        tried.append((thickness, max(needed, usual) if thickness in THINNER[:2] else needed))
    fresh_sizes(data, fill, tried, fits)


MEETINGS = {"gap": "with a gap", "rebated": "in rebates", "planted": "under a planted stile"}


def _say_meeting(w: Writer, path: str, meeting: Meeting) -> list[Any]:
    """How the stiles of a pair meet."""
    said: list[Any] = [
        "their stiles meeting",
        w.choice(f"{path}.kind", meeting.kind, MEETINGS, "Meeting of the stiles"),
    ]
    if meeting.kind == "rebated":
        said += ["that lap", w.length(f"{path}.lap", meeting.lap, "Lap of the stiles")]
    if meeting.kind == "planted":
        said += [w.length(f"{path}.width", meeting.width, "Width of the planted stile"), "wide,"]
        said += [w.length(f"{path}.thickness", meeting.thickness, "Thickness of the planted stile"), "thick"]
    return said


HANDS = {"left": "left", "right": "right"}


def _say(w: Writer, path: str, light: Light) -> None:
    fill, turning = light.fill, light.fill.turning  # type: ignore[attr-defined]
    assert isinstance(fill, Sash)
    kinds = {key: record.words for key, record in TURNINGS.items()}
    parts: list[Any] = ["It is", w.choice(f"{path}.opening", fill.opening, kinds, "Opening")]
    if turning.handed:
        parts += ["on the", w.choice(f"{path}.hand", fill.hand, HANDS, "Hinged side")]
    if turning.moves and turning.swings:
        parts += [", swings", w.choice(f"{path}.swing", fill.swing, {"out": "out", "in": "in"}, "Swing")]
    if turning.tilts:
        ways = {"no": "turned", "yes": "tilted"}
        parts += [",", w.choice(f"{path}.tilted", "yes" if fill.tilted else "no", ways, "Turned or tilted")]
    if turning.pair:
        parts += [", the", w.choice(f"{path}.hand", fill.hand, HANDS, "Leaf that opens first"), "one first,"]
        parts += _say_meeting(w, f"{path}.meeting", fill.meeting)
    stop = w.length(f"{path}.stop", fill.stop, "Stop of the sash")
    w.say(f"{path}.opening", *parts, ", against a stop", stop, "wide.", nested=True)
    say_ring(w, path, light)


KIND = FILLINGS.register(
    Filling(
        "sash",
        Sash,
        "a sash",
        lambda fill: fill.turning.words,
        _solve,
        _members,
        order=20,
        say=_say,
        symbols=_symbols,
        operation=_operation,
        pieces=lambda light, fill: (SASH_PIECES * (2 if fill.turning.pair else 1), "parts of sashes"),
        fresh=_fresh,
    )
)
