"""Opening kinds: how sashes sit in a light, how each kind moves and how far, and what IFC calls it."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence
from dataclasses import replace
from fractions import Fraction
from math import ceil, cos, radians, sin

import numpy as np
import shapely
from shapely.geometry import Point

from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.plane.cut import band
from ashfell.core.plane.loop import SIDES, Loop
from ashfell.core.plane.points import TOUCH, Floats
from ashfell.core.unit.document import AXES, Axis, Cell, Fill, Sash, Sliders
from ashfell.core.unit.layout import Body, Light, Rect, Ring, SashLayout, entry_below, is_bar
from ashfell.core.unit.own_sections import own_section, worked

Point3 = tuple[float, float, float]
SolveBody = Callable[[Cell, Ring, Rect, "dict[Axis, tuple[Fraction, Fraction]]", tuple[str, str]], Body]

LIMITS: dict[str, float] = {
    "side-hung": 90.0, "side-hung-pair": 90.0, "top-hung": 60.0, "bottom-hung": 35.0, "tilt-and-turn": 90.0,
    "pivot-horizontal": 80.0, "pivot-vertical": 80.0, "fixed": 0.0,
}  # fmt: skip
"""How far each kind turns when it is opened by 100 %, degrees (common practice, no source)."""
TILT = 12.0
"""How far a tilt-and-turn sash tilts, degrees."""
KINDS: dict[str, str] = {
    "fixed": "fixed", "side-hung": "side-hung", "side-hung-pair": "a pair, side-hung", "top-hung": "top-hung",
    "bottom-hung": "bottom-hung", "tilt-and-turn": "tilt-and-turn", "pivot-horizontal": "pivoted about a level axis",
    "pivot-vertical": "pivoted about an upright axis",
}  # fmt: skip
"""Every opening kind as it stands in a sentence."""
SWING_STEP = 12.0
"""How far apart the points of a slanting or curved edge are that are swung, mm."""
LEAST_STOP = Fraction(2)
"""The thinnest strip a sash can close against, mm."""


def ifc_operation(fill: Fill, name: str = "") -> str:
    """The IfcWindowPanelOperationEnum of a filling (IFC4, ISO 16739-1); a hand is the side the hinges are on, seen from
    outside. ``name`` tells the leaves of a pair apart."""
    if isinstance(fill, Sliders):
        return "SLIDINGVERTICAL" if fill.slide == "up" else "SLIDINGHORIZONTAL"
    if not isinstance(fill, Sash):
        return "FIXEDCASEMENT" if fill.kind in ("glass", "panel") else "OTHEROPERATION"
    hand = ("left" if name == "left" else "right" if name == "right" else fill.hand).upper() + "HAND"
    return {
        "fixed": "FIXEDCASEMENT", "side-hung": f"SIDEHUNG{hand}", "side-hung-pair": f"SIDEHUNG{hand}", "top-hung": "TOPHUNG",
        "bottom-hung": "BOTTOMHUNG", "tilt-and-turn": f"TILTANDTURN{hand}", "pivot-horizontal": "PIVOTHORIZONTAL",
        "pivot-vertical": "PIVOTVERTICAL",
    }[fill.opening]  # fmt: skip


def sashes_of(light: Light, solve_body: SolveBody) -> tuple[SashLayout, ...]:
    """The sashes in a light: none, one, a pair, or those that slide.

    Raises
    ------
    Refusal
        When they have no room in the ring or cannot move.
    """
    if isinstance(light.fill, Sash):
        return tuple(_hung(light, light.fill, solve_body))
    if isinstance(light.fill, Sliders):
        return tuple(_sliding(light, light.fill, solve_body))
    return ()


# --- sashes that turn -------------------------------------------------------------------------------------------------


def _hung(light: Light, fill: Sash, solve_body: SolveBody) -> list[SashLayout]:
    front, back = hung_planes(light, fill)
    clearance = fill.clearance.mm
    whole = _named_after_place(light.loop.inset(float(clearance)))
    rect = _inset(light.clear, clearance)
    if fill.opening != "side-hung-pair":
        body = _sash_body(light, fill, whole, rect, (front, back), "sash", solve_body, "content")
        return [SashLayout("", body, _motion(light, fill, fill.hand, body), _hinges(fill, fill.hand, body))]
    middle = rect.x + rect.width / 2
    found = []
    for hand, low, high in (("left", rect.x, middle - clearance / 2), ("right", middle + clearance / 2, rect.right)):
        half = Rect(low, rect.y, high - low, rect.height)
        loop = band(
            whole, 0, float(low) if hand == "right" else -1e7, float(high) if hand == "left" else 1e7, "left", "right"
        )[0]
        body = _sash_body(light, fill, loop, half, (front, back), hand, solve_body, "content")
        found.append(SashLayout(hand, body, _motion(light, fill, hand, body), _hinges(fill, hand, body)))
    return found


def hung_planes(light: Light, fill: Sash) -> tuple[Fraction, Fraction]:
    """Front and back of a sash behind the unit's outer face: set back from the face it swings to."""
    ring, depth, setback = light.ring, fill.depth.mm, fill.setback.mm
    if depth + setback > ring.back - ring.front:
        room = ring.back - ring.front - setback
        raise Refusal(
            f"{light.entry}.depth", "a sash within its frame",
            f"A sash {exact_mm(depth)} deep, set back {exact_mm(setback)}, stands out of a frame {exact_mm(ring.back - ring.front)} deep.",
            f"Make it at most {exact_mm(room)} deep.", room,
        )  # fmt: skip
    rest = ring.back - ring.front - setback - depth
    if fill.stop.mm and fill.opening not in ("fixed", "pivot-horizontal", "pivot-vertical") and rest < LEAST_STOP:
        raise Refusal(
            f"{light.entry}.depth", "a stop behind the sash",
            f"A sash {exact_mm(depth)} deep leaves {exact_mm(rest)} of the frame's depth for the strip it closes against.",
            f"Make it at most {exact_mm(depth + rest - LEAST_STOP)} deep, or the stop 0.", depth + rest - LEAST_STOP,
        )  # fmt: skip
    if swings_in(fill):
        return ring.back - setback - depth, ring.back - setback
    return ring.front + setback, ring.front + setback + depth


def swings_in(fill: Sash) -> bool:
    """Whether a sash swings inwards; tilt-and-turn sashes always do."""
    return fill.opening == "tilt-and-turn" or fill.swing == "in"


def _inset(rect: Rect, by: Fraction) -> Rect:
    return Rect(rect.x + by, rect.y + by, rect.width - 2 * by, rect.height - 2 * by)


def _named_after_place(loop: Loop) -> Loop:
    """The loop with edges along bars named after the side they are on."""
    if loop.is_rectangle:
        return replace(loop, tags=SIDES)
    names = []
    for tag, (x, y) in zip(loop.tags, loop.along.tolist(), strict=True):
        side = ("sill" if x > 0 else "head") if abs(x) >= abs(y) else ("right" if y > 0 else "left")
        names.append(side if is_bar(tag) else tag)
    return replace(loop, tags=tuple(names))


def _sash_body(
    light: Light, fill: Sash | Sliders, loop: Loop, rect: Rect, planes: tuple[Fraction, Fraction], name: str,
    solve_body: SolveBody, content: str, faces: dict[str, Fraction] | None = None,
) -> Body:  # fmt: skip
    """The ring of one sash, and what it holds."""
    own = {key: size.mm for key, size in fill.sides.items()} | (faces or {})
    widths = {
        tag: own.get(tag, own.get("jambs", fill.face.mm) if tag in ("left", "right") else fill.face.mm)
        for tag in loop.tags
    }
    along = np.array([float(widths[tag]) for tag in loop.tags])
    try:
        clear = loop.inset(along)
    except Refusal as refusal:
        raise Refusal(
            f"{light.entry}.face",
            refusal.rule,
            f"A sash face of {exact_mm(fill.face.mm)} leaves no glass.",
            refusal.remedy,
        ) from refusal
    glazing, glazing_entry = (
        (fill.glazing, f"{light.entry}.glazing") if fill.glazing else (light.ring.glazing, light.ring.glazing_entry)
    )
    ring = Ring(
        light.key if name == "sash" else f"{light.key}.{name}",
        light.entry,
        "sash",
        loop,
        along,
        clear,
        *planes,
        worked(fill),
        section=own_section(fill.section, f"{light.entry}.section"),
        glazing=glazing,
        glazing_entry=glazing_entry,
    )
    extent: dict[Axis, tuple[Fraction, Fraction]] = {}
    for axis in AXES:
        low, high = (rect.x, rect.right) if axis == "columns" else (rect.y, rect.head)
        k = 0 if axis == "columns" else 1
        ends = ("left", "right") if axis == "columns" else ("sill", "head")
        extent[axis] = (
            _near(clear.bounds[k], low + widths.get(ends[0], fill.face.mm)),
            _near(clear.bounds[k + 2], high - widths.get(ends[1], fill.face.mm)),
        )  # fmt: skip
    return solve_body(fill.content, ring, rect, extent, (entry_below(light.entry, content), f"{light.key}.{name}."))


def _near(value: float, exact: Fraction) -> Fraction:
    return exact if abs(float(exact) - value) < 0.02 else Fraction(round(value, 3)).limit_denominator(1000)


def _hinges(fill: Sash, hand: str, body: Body) -> tuple[tuple[float, float], ...]:
    left, foot, right, head = body.ring.loop.bounds
    x = left if hand == "left" else right
    return {
        "side-hung": ((x, foot), (x, head)), "side-hung-pair": ((x, foot), (x, head)), "tilt-and-turn": ((x, foot), (x, head)),
        "top-hung": ((left, head), (right, head)), "bottom-hung": ((left, foot), (right, foot)),
        "pivot-horizontal": ((left, (foot + head) / 2), (right, (foot + head) / 2)),
        "pivot-vertical": (((left + right) / 2, foot), ((left + right) / 2, head)),
    }.get(fill.opening, ())  # fmt: skip


def _motion(light: Light, fill: Sash, hand: str, body: Body) -> Floats | None:
    """How a sash stands when it is opened; None while it is closed."""
    if not fill.opened or fill.opening == "fixed":
        return None
    (left, foot, right, head), ring = body.ring.loop.bounds, body.ring
    inwards = swings_in(fill)
    plane = -float(ring.back if inwards else ring.front)
    turn = LIMITS[fill.opening] * fill.opened / 100 * (-1 if inwards else 1)
    upright, level = (0.0, 1.0, 0.0), (1.0, 0.0, 0.0)
    if fill.opening == "tilt-and-turn" and fill.tilted:
        _check_swing(light, fill, body, 1, foot)
        return about((0.0, foot, plane), level, -TILT * fill.opened / 100)
    if fill.opening in ("side-hung", "side-hung-pair", "tilt-and-turn"):
        at = left if hand == "left" else right
        _check_swing(light, fill, body, 0, at)
        return about((at, 0.0, plane), upright, -turn if hand == "left" else turn)
    if fill.opening in ("top-hung", "bottom-hung"):
        at = head if fill.opening == "top-hung" else foot
        _check_swing(light, fill, body, 1, at)
        return about((0.0, at, plane), level, -turn if fill.opening == "top-hung" else turn)
    middle = ((left + right) / 2, (foot + head) / 2, -float(ring.front + ring.back) / 2)
    _check_swing(light, fill, body, 1 if fill.opening == "pivot-horizontal" else 0, None)
    return (
        about(middle, level, -turn)
        if fill.opening == "pivot-horizontal"
        else about(middle, upright, turn if hand == "left" else -turn)
    )


def _check_swing(light: Light, fill: Sash, body: Body, axis: int, hinge: float | None) -> None:
    """A deep sash swings past its closed edge: every point by what its distance from the axis grows with the depth. The
    clearance must let it, and the light's outline too where that slopes towards the axis."""
    ring, points = body.ring, body.ring.loop.points
    if not light.is_rectangle:
        points = shapely.get_coordinates(shapely.segmentize(body.ring.loop.polygon, SWING_STEP))
    pair = fill.opening == "side-hung-pair"
    depth = float(ring.back - ring.front) / (1 if hinge is not None else 2)
    at = (points[:, axis].min() + points[:, axis].max()) / 2 if hinge is None else hinge
    arm = points[:, axis] - at
    free = 0.0 if hinge is None else np.sign(arm[np.abs(arm).argmax()])
    swung = np.where(np.abs(arm) < TOUCH, free, np.sign(arm)) * np.hypot(arm, depth)
    far = np.abs(arm) > np.abs(arm).max() - 1.0
    needed = float(np.abs(swung - arm)[far].max())
    room = float(fill.clearance.mm) / (2 if pair else 1)
    if needed > room:
        least = Fraction(ceil(needed * (2 if pair else 1) * 10), 10)
        raise Refusal(
            f"{light.entry}.clearance", "room to swing",
            f"A sash {exact_mm(ring.back - ring.front)} deep swings {needed:.2f} mm past its closed edge; the clearance is {exact_mm(fill.clearance.mm)}.",
            f"Make the clearance at least {exact_mm(least)}, or the sash less deep.", least,
        )  # fmt: skip
    if light.is_rectangle:
        return
    frame = light.ring
    way_out = float(fill.setback.mm) if hinge is not None else float(frame.back - frame.front)
    drawn_in = np.sign(arm) * (np.sqrt(np.maximum(arm**2 - way_out**2, 0.0)) - (depth if hinge is None else 0.0))
    over = max(_outside(light, points, axis, at + arms) for arms in (swung, drawn_in))
    if over > 1e-3 or not light.loop.is_convex:
        raise Refusal(
            f"{light.entry}.hand" if axis == 0 else f"{light.entry}.opening", "an outline a sash can swing out of",
            f"A sash {exact_mm(ring.back - ring.front)} deep that turns about this side runs into its slanting or curved edge"
            + (f" by {over:.1f} mm." if over > 1e-3 else "."),
            "Hang it on the other side, flush with the face it swings to, or choose another opening.",
        )  # fmt: skip


def _outside(light: Light, points: Floats, axis: int, reached: Floats) -> float:
    """How far points come out of a light when their coordinate on one axis becomes another, mm."""
    moved = points.copy()
    moved[:, axis] = reached
    inside, edge = light.loop.polygon.buffer(1e-6), light.loop.polygon.exterior
    return max((edge.distance(Point(x, y)) for x, y in moved.tolist() if not inside.contains(Point(x, y))), default=0.0)


def about(point: Point3, axis: Point3, degrees: float) -> Floats:
    """The turn (4, 4) about an axis through a point, by the right-hand rule (Rodrigues' formula)."""
    x, y, z = axis
    c, s = cos(radians(degrees)), sin(radians(degrees))
    cross = np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
    turn = np.eye(3) * c + s * cross + (1 - c) * np.outer(axis, axis)
    matrix = np.eye(4)
    matrix[:3, :3] = turn
    matrix[:3, 3] = np.array(point) - turn @ np.array(point)
    return matrix


# --- sashes that slide ------------------------------------------------------------------------------------------------


def _sliding(light: Light, fill: Sliders, solve_body: SolveBody) -> list[SashLayout]:
    if not light.is_rectangle:
        raise Refusal(
            f"{light.entry}.kind", "sliding sashes in a rectangle", "Sashes can slide only in a rectangular light.",
            "Divide the light with a transom, or choose another opening.",
        )  # fmt: skip
    return _sliding_up(light, fill, solve_body) if fill.slide == "up" else _sliding_across(light, fill, solve_body)


def _track(light: Light, fill: Sliders, track: int, of: int) -> tuple[Fraction, Fraction]:
    step = fill.depth.mm + fill.gap.mm
    front = light.ring.front + fill.setback.mm + (track - 1) * step
    needed = fill.setback.mm + of * step - fill.gap.mm
    if needed > light.ring.back - light.ring.front:
        most = (light.ring.back - light.ring.front - fill.setback.mm + fill.gap.mm) / of - fill.gap.mm
        raise Refusal(
            f"{light.entry}.depth", "all tracks within the frame",
            f"{of} tracks of sashes {exact_mm(fill.depth.mm)} deep need {exact_mm(needed)}; the frame is "
            f"{exact_mm(light.ring.back - light.ring.front)} deep.",
            f"Make the sashes at most {exact_mm(most)} deep, or the frame {exact_mm(needed)}.", most,
        )  # fmt: skip
    return front, front + fill.depth.mm


def _sliding_up(light: Light, fill: Sliders, solve_body: SolveBody) -> list[SashLayout]:
    """Two sashes of equal height whose meeting rails lap; the upper one is outside, so that rain runs over the lower."""
    rect, meeting = _inset(light.clear, fill.clearance.mm), (fill.meeting or fill.face).mm
    height = (rect.height + meeting) / 2
    travel = rect.height - height
    share = Fraction(fill.opened).limit_denominator(10**6) / 100
    half = Fraction(1, 2) if fill.moves == "both" else Fraction(1)
    found = []
    for name, foot, track, side, sign in (
        ("upper", rect.head - height, 1, "sill", -1),
        ("lower", rect.y, 2, "head", 1),
    ):
        own = Rect(rect.x, foot, rect.width, height)
        body = _sash_body(
            light,
            fill,
            _box(own),
            own,
            _track(light, fill, track, 2),
            f"{name}",
            solve_body,
            "content",
            {side: meeting},
        )
        moves = fill.moves in (name, "both")
        slides = (0.0, float(sign * travel * half)) if moves else (0.0, 0.0)
        found.append(SashLayout(name, body, _slid(slides, float(share)), (), slides))
    return found


def _sliding_across(light: Light, fill: Sliders, solve_body: SolveBody) -> list[SashLayout]:
    """Panels on tracks: those on different tracks lap by their meeting stiles, those on one track stand a clearance apart;
    each slides in front of or behind the nearest on the first track."""
    tracks = _tracks(light, fill)
    rect, meeting = _inset(light.clear, fill.clearance.mm), (fill.meeting or fill.face).mm
    pairs = list(itertools.pairwise(tracks))
    taken = sum((meeting if a != b else -fill.clearance.mm for a, b in pairs), Fraction(0))
    width = (rect.width + taken) / len(tracks)
    first = [index for index, track in enumerate(tracks) if track == min(tracks)]
    x, found = rect.x, []
    for index, track in enumerate(tracks):
        own = Rect(x, rect.y, width, rect.height)
        faces = {}
        if index and tracks[index - 1] != track:
            faces["left"] = meeting
        if index + 1 < len(tracks) and tracks[index + 1] != track:
            faces["right"] = meeting
        home = min(first, key=lambda at: abs(at - index))
        slides = (float((home - index) * (width - meeting)), 0.0)
        body = _sash_body(
            light,
            fill,
            _box(own),
            own,
            _track(light, fill, track, max(tracks)),
            f"panel{index + 1}",
            solve_body,
            "content",
            faces,
        )
        found.append(SashLayout(f"panel {index + 1}", body, _slid(slides, fill.opened / 100), (), slides))
        if index + 1 < len(tracks):
            x += width - (meeting if tracks[index + 1] != track else -fill.clearance.mm)
    return found


def _tracks(light: Light, fill: Sliders) -> Sequence[int]:
    if fill.tracks:
        if len(fill.tracks) != fill.panels:
            raise Refusal(
                f"{light.entry}.tracks", "a track for each panel",
                f"{fill.panels} panels need {fill.panels} tracks, not {len(fill.tracks)}.", "Name the track of each, from the left.",
            )  # fmt: skip
        return fill.tracks
    return {2: (1, 2), 3: (1, 2, 1), 4: (1, 2, 2, 1)}.get(fill.panels, tuple(1 + k % 2 for k in range(fill.panels)))


def _box(rect: Rect) -> Loop:
    return Loop.rectangle(float(rect.x), float(rect.y), float(rect.right), float(rect.head))


def _slid(by: tuple[float, float], share: float) -> Floats | None:
    if not share or by == (0.0, 0.0):
        return None
    matrix = np.eye(4)
    matrix[:2, 3] = by[0] * share, by[1] * share
    return matrix
