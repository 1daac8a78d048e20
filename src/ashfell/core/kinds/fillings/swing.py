"""How what hangs in a light moves: about its hinges, where they are, and what it must stay clear of."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from math import ceil, cos, radians, tan
from typing import TYPE_CHECKING, Annotated

import numpy as np
import shapely
from pydantic import Field
from shapely.affinity import affine_transform
from shapely.geometry import Point, Polygon

from ashfell.core.base.document import Document, Gap, Size, mm
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.fillings.sashes import about
from ashfell.core.kinds.opening import Bounds, Hand, Hinge, Swept
from ashfell.core.kinds.roles import Finishes
from ashfell.core.parts import ALONG_V, Member
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import TOUCH, Floats, following
from ashfell.core.solid.form import Placed
from ashfell.core.solid.rod import turned
from ashfell.core.unit.beside import Beside
from ashfell.core.unit.layout import Body, Light, SashLayout

if TYPE_CHECKING:
    from ashfell.core.kinds.fillings.hung import Hung
    from ashfell.core.unit.document.unit import UnitDocument

SWING_STEP = 12.0
"""How far apart the points of a slanting or curved edge are that are swung, mm."""
PIN_CLEAR = 1e-3
"""By how much a knuckle stays clear of the leaf that turns about it, mm."""


class Hinges(Document):
    """Hinges with a knuckle ``tall`` and ``radius`` round, standing out of the face that the leaf swings to, before the
    gap: the leaf turns about its middle. The lowest has its middle ``foot`` above the foot of the leaf, the highest
    ``head`` below its head, the others are spaced evenly between."""

    count: Annotated[int, Field(ge=1, le=8)] = 3
    tall: Size = mm("100")
    radius: Size = mm("7")
    foot: Gap = mm("230")
    head: Gap = mm("180")


def pin_of(fill: Hung, hinge: Hinge) -> float:
    """How far the axis stands out of the face that a sash swings to, mm."""
    return float(fill.hinges.radius.mm) if fill.hinges and hinge.upright and not hinge.pivots else 0.0


def axis_of(fill: Hung, hinge: Hinge, bounds: Bounds) -> float:
    """Where the axis is across it, mm: at the edge, or before the middle of the gap beside it."""
    if not pin_of(fill, hinge):
        return hinge.at
    outwards = -1.0 if hinge.at <= bounds[0] + TOUCH else 1.0
    return hinge.at + outwards * float(fill.clearance.mm) / 2


def hand_of(sash: SashLayout, fill: Hung) -> Hand:
    """The side that a sash is hung on."""
    return "left" if sash.name == "left" else "right" if sash.name == "right" else fill.hand


def knuckles(light: Light, fill: Hung, finishes: Finishes) -> Iterator[Member]:
    """The knuckles of the hinges of what hangs in a light; they stay where they are.

    Raises
    ------
    Refusal
        When the leaf is set back behind its frame's face, or they have no room on its edge.
    """
    if fill.hinges is None:
        return
    entry, own = f"{light.entry}.hinges", fill.hinges
    for sash in light.sashes:
        hand = hand_of(sash, fill)
        bounds = sash.body.ring.loop.bounds
        hinge = fill.turning.hinge(fill, hand, bounds)
        if hinge is None or not pin_of(fill, hinge):
            continue
        if fill.setback.mm:
            raise Refusal(
                f"{entry}",
                "hinges before the frame's face",
                f"Set back {exact_mm(fill.setback.mm)}, the knuckles would stand in the jamb.",
                "Leave the hinges out, or set it back 0.",
            )
        at = axis_of(fill, hinge, bounds)
        ring = sash.body.ring
        plane = -float(ring.back) - pin_of(fill, hinge) if fill.swings_in else pin_of(fill, hinge) - float(ring.front)
        for number, middle in enumerate(middles(ring.loop, hinge.at, own, entry)):
            name = f"hardware.{light.key}.hinge.{sash.name.replace(' ', '') + '.' if sash.name else ''}{number + 1}"
            form = knuckle(own, (at, middle, plane))
            yield Member(name, entry, "hardware", finishes.of("hardware"), ALONG_V, form, light.key)


def knuckle(own: Hinges, place: tuple[float, float, float]) -> Placed:
    """A knuckle round an upright pin, its middle at a place (u, v, w), mm."""
    half, radius = float(own.tall.mm) / 2, float(own.radius.mm) - PIN_CLEAR
    u, v, w = place
    matrix = np.array([[1.0, 0.0, 0.0, u], [0.0, 0.0, 1.0, v], [0.0, -1.0, 0.0, w], [0.0, 0.0, 0.0, 1.0]])
    return Placed(turned([(0.0, -half), (radius, -half), (radius, half), (0.0, half)]), matrix)


def middles(loop: Loop, at: float, own: Hinges, entry: str) -> list[float]:
    """Where hinges have their middles, mm: along the straight stretch of the edge of a leaf that is ``at`` u.

    Raises
    ------
    Refusal
        When they have no room on it.
    """
    ends = [
        sorted((float(a[1]), float(b[1])))
        for a, b in zip(loop.points, following(loop.points), strict=True)
        if abs(a[0] - at) < 1e-4 and abs(b[0] - at) < 1e-4
    ]
    if not ends:
        return []
    foot, head = max(ends, key=lambda span: span[1] - span[0])
    low, high, tall = foot + float(own.foot.mm), head - float(own.head.mm), float(own.tall.mm)
    if own.count == 1:
        low = high = (foot + head) / 2
    step = (high - low) / max(own.count - 1, 1)
    inside = low - tall / 2 >= foot - TOUCH and high + tall / 2 <= head + TOUCH
    if not inside or (own.count > 1 and step < tall):
        most = int((high - low) // tall) + 1 if inside else 0
        raise Refusal(
            f"{entry}.count" if most > 1 else entry,
            f"at most {most} hinges" if most > 1 else "room for the hinges",
            f"{own.count} hinges {exact_mm(own.tall.mm)} tall have no room on an edge {head - foot:.1f} mm high.",
            f"Make them {most} at most." if most > 1 else "Leave them out, or make them less tall.",
        )
    return [low + step * number for number in range(own.count)]


def hung(light: Light, fill: Hung, name: str, hand: Hand, body: Body, free: bool = True) -> SashLayout:
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
    pin = pin_of(fill, hinge)
    out = -pin if inwards else pin
    plane = -float(ring.front + ring.back) / 2 if hinge.pivots else -float(ring.back if inwards else ring.front) + out
    middle = (bounds[0] + bounds[2]) / 2, (bounds[1] + bounds[3]) / 2
    point = (axis_of(fill, hinge, bounds), middle[1], plane) if hinge.upright else (middle[0], hinge.at, plane)
    along = (0.0, 1.0, 0.0) if hinge.upright else (1.0, 0.0, 0.0)
    turn = hinge.degrees * fill.reach(hinge) * opened / 100 * (-1 if inwards else 1)
    return SashLayout(name, body, about(point, along, turn), axis)


def _check_swing(light: Light, fill: Hung, body: Body, hinge: Hinge) -> None:
    """A deep sash swings past its closed edge: every point by what its distance from the axis grows with the depth. The
    clearance must let it, and the light's outline too where that slopes towards the axis."""
    _check_turns(light, fill, hinge)
    ring, points, axis = body.ring, body.ring.loop.points, 0 if hinge.upright else 1
    if not light.is_rectangle:
        points = shapely.get_coordinates(shapely.segmentize(body.ring.loop.polygon, SWING_STEP))
    share = 2 if fill.turning.pair and fill.meeting.kind != "gap" else 1
    depth = float(ring.back - ring.front) / (2 if hinge.pivots else 1) + pin_of(fill, hinge)
    at = axis_of(fill, hinge, body.ring.loop.bounds)
    arm = points[:, axis] - at
    free = 0.0 if hinge.pivots else np.sign(arm[np.abs(arm).argmax()])
    swung = np.where(np.abs(arm) < TOUCH, free, np.sign(arm)) * np.hypot(arm, depth)
    far = np.abs(arm) > np.abs(arm).max() - 1.0
    needed = float(np.abs(swung - arm)[far].max())
    entry, gap = _past(fill, hinge, body.ring.loop.bounds)
    if needed > float(gap) / share:
        least = Fraction(ceil(needed * share * 10), 10)
        name = "clearance at its foot" if entry == "foot" else "clearance"
        raise Refusal(
            f"{light.entry}.{entry}",
            "room to swing",
            f"A sash {exact_mm(ring.back - ring.front)} deep swings {needed:.2f} mm past its closed edge; the "
            f"{name} is {exact_mm(gap)}.",
            f"Make the {name} at least {exact_mm(least)}, or the sash less deep.",
            least,
        )
    if light.is_rectangle:
        return
    frame = light.ring
    way_out = float(frame.back - frame.front) if hinge.pivots else float(fill.setback.mm)
    drawn_in = np.sign(arm) * (np.sqrt(np.maximum(arm**2 - way_out**2, 0.0)) - (depth if hinge.pivots else 0.0))
    over = max(_outside(light, points, axis, at + arms) for arms in (swung, drawn_in))
    if over > 1e-3 or not light.loop.is_convex:
        raise Refusal(
            f"{light.entry}.hand" if hinge.upright else f"{light.entry}.opening",
            "an outline a sash can swing out of",
            f"A sash {exact_mm(ring.back - ring.front)} deep that turns about this side runs into its slanting or "
            "curved edge" + (f" by {over:.1f} mm." if over > 1e-3 else "."),
            "Hang it on the other side, flush with the face it swings to, or choose another opening.",
        )


def _past(fill: Hung, hinge: Hinge, bounds: tuple[float, float, float, float]) -> tuple[str, Fraction]:
    """What is clear past the edge that a sash swings by, and which entry says so, mm: beside an edge that turns on its
    middle, the smaller of two."""
    all_round = "clearance", fill.clearance.mm
    if fill.foot is None or hinge.upright or (not hinge.pivots and hinge.at < (bounds[1] + bounds[3]) / 2):
        return all_round
    under = "foot", fill.foot.mm
    return min(all_round, under, key=lambda one: one[1]) if hinge.pivots else under


def sweeps(light: Light) -> Iterator[Swept]:
    """What the leaves of a light sweep over that turn about an upright edge."""
    fill: Hung = light.fill  # type: ignore[assignment]
    for sash in light.sashes:
        bounds, ring = sash.body.ring.loop.bounds, sash.body.ring
        hinge = fill.turning.hinge(fill, hand_of(sash, fill), bounds)
        if hinge is None or not hinge.upright or hinge.pivots:
            continue
        pin, at = pin_of(fill, hinge), axis_of(fill, hinge, bounds)
        front, back = -float(ring.front), -float(ring.back)
        plane = back - pin if fill.swings_in else front + pin
        left, foot, right, head = bounds
        corners = np.array([(left, back), (right, back), (right, front), (left, front)])
        edge = np.array([right if hinge.at == left else left, plane])
        turns = hinge.degrees * fill.reach(hinge) * (-1 if fill.swings_in else 1)
        opened = turns * fill.opened_of(sash.name) / 100 if sash.motion is not None else 0.0
        yield Swept(corners, np.array([at, plane]), edge, turns, opened, foot, head)


def clear_width(light: Light) -> Fraction | None:
    """What is clear between the first leaf to open, open square or as far as it turns, and what is across from it: the
    strip that it closes against, or the other leaf shut; None where none hangs at a side, mm."""
    fill: Hung = light.fill  # type: ignore[assignment]
    swept = [*sweeps(light)]
    if not swept:
        return None
    names = [sash.name for sash in light.sashes]
    first = names.index(fill.hand) if fill.hand in names else 0
    leaf = swept[first]
    opened = leaf.at(float(np.copysign(min(abs(leaf.turns), 90.0), leaf.turns)))[:, 0]
    stop = float(fill.stop.mm) if fill.turning.stopped else 0.0
    left, _, right, _ = light.loop.bounds
    left, right = left + stop, right - stop
    if fill.turning.pair:
        other = light.sashes[1 - first].body.ring.loop.bounds
        left, right = (left, other[0]) if first == 0 else (other[2], right)
    clear = right - opened.max() if leaf.axis[0] < leaf.edge[0] else opened.min() - left
    return Fraction(max(0, round(clear * 10)), 10)


def passes(fill: Hung, body: Body, hand: Hand) -> float:
    """By how much a sash swings past its closed edge, mm."""
    bounds = body.ring.loop.bounds
    hinge = fill.turning.hinge(fill, hand, bounds)
    if hinge is None or not hinge.upright:
        return 0.0
    at, depth = axis_of(fill, hinge, bounds), float(body.ring.back - body.ring.front) + pin_of(fill, hinge)
    arm = max(abs(bounds[0] - at), abs(bounds[2] - at))
    return float(np.hypot(arm, depth)) - arm


def _check_turns(light: Light, fill: Hung, hinge: Hinge) -> None:
    """Behind its frame's face a leaf strikes the jamb once it is turned by more than 90 degrees."""
    if fill.reach(hinge) > 1 and fill.setback.mm:
        raise Refusal(
            f"{light.entry}.turns",
            "at most 90 degrees",
            f"Set back {exact_mm(fill.setback.mm)}, it strikes the jamb at 90°.",
            "Let it turn by 90 at most, or set it back 0.",
        )


def _outside(light: Light, points: Floats, axis: int, reached: Floats) -> float:
    """How far points come out of a light when their coordinate on one axis becomes another, mm."""
    moved = points.copy()
    moved[:, axis] = reached
    inside, edge = light.loop.polygon.buffer(1e-6), light.loop.polygon.exterior
    return max((edge.distance(Point(x, y)) for x, y in moved.tolist() if not inside.contains(Point(x, y))), default=0.0)


LAPPED = 30.0
"""How far a casing may lap its frame, at most, mm."""


def clears_casing(document: UnitDocument, beside: Beside, light: Light) -> None:
    """Refuse a casing that a leaf of the frame strikes as far as it is opened.

    Raises
    ------
    Refusal
        With the radius of knuckles that would clear it.
    """
    fill: Hung = light.fill  # type: ignore[assignment]
    side = "inside" if fill.swings_in else "outside"
    casing = document.trim.inside if fill.swings_in else document.trim.outside
    front, back = beside.layout.depth
    beyond = back - light.ring.back if fill.swings_in else light.ring.front - front
    for sash in light.sashes:
        if casing is not None:
            high = float(casing.projection.mm + (casing.forward.mm if casing.forward else 0))
            around = beside.layout.outermost.loop.polygon.buffer(-LAPPED)
            over = _over(fill, sash, around)
            if over is not None and over + TOUCH < high:
                raise _struck(light, fill, f"trim.{side}", over, high)
        if beyond > 0:
            over = _over(fill, sash, light.ring.loop.polygon)
            if over is not None and over + TOUCH < float(beyond):
                raise Refusal(
                    f"{light.entry}.turns",
                    "at most 90 degrees",
                    f"Turned by {_angle_of(fill, sash):g}°, the leaf {light.key} lies {over:.1f} mm off the frame; a "
                    f"ring round that stands {exact_mm(beyond)} beyond it.",
                    "Let it turn by 90° at most, or give the ring no setback.",
                )


def _angle_of(fill: Hung, sash: SashLayout) -> float:
    return float(fill.turns * fill.opened_of(sash.name) / 100)


def _over(fill: Hung, sash: SashLayout, around: Polygon) -> float | None:
    """How far off the frame's face a leaf that turns back over it lies where it first leaves an outline, mm; None where
    it does not."""
    bounds = sash.body.ring.loop.bounds
    hinge = fill.turning.hinge(fill, hand_of(sash, fill), bounds)
    angle = _angle_of(fill, sash)
    if hinge is None or sash.motion is None or not hinge.upright or hinge.pivots or angle <= 90:
        return None
    at, pin, lean = axis_of(fill, hinge, bounds), pin_of(fill, hinge), radians(180 - angle)
    lying = affine_transform(sash.body.ring.loop.polygon, [-cos(lean), 0, 0, 1, at * (1 + cos(lean)), 0])
    struck = lying.difference(around)
    if struck.area < TOUCH:
        return None
    apart = max(struck.bounds[0] - at, at - struck.bounds[2], 0.0)
    return float(pin + pin / cos(lean) + apart * tan(lean))


def _struck(light: Light, fill: Hung, entry: str, over: float, high: float) -> Refusal:
    angle = max(_angle_of(fill, sash) for sash in light.sashes)
    return Refusal(
        entry,
        "a casing that clears the leaf",
        f"Turned by {angle:g}°, the leaf {light.key} lies {over:.1f} mm off the frame; the casing {high:g}.",
        "Leave the casing out, let the leaf turn by 90° at most, or give it knuckles of "
        f"{exact_mm(Fraction(ceil(high / 2)))} radius.",
    )
