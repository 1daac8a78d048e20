"""What hangs in a light, a sash or a leaf: in a plain reveal with a clearance, moved about its hinges."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from fractions import Fraction
from math import pi, radians
from typing import Annotated, Any

from pydantic import Field
from shapely.affinity import translate
from shapely.geometry import Point, Polygon, box
from shapely.ops import unary_union

from ashfell.core.base.document import Data, Size
from ashfell.core.base.lengths import parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.fillings.closing import Closed, Closing, planes_of, stop_members, strip_of, within_clearance
from ashfell.core.kinds.fillings.over import Over
from ashfell.core.kinds.fillings.pair import Meeting, opens_after, pair_of, parted
from ashfell.core.kinds.fillings.sashes import (
    THINNER,
    check_each,
    depth_for,
    fresh_sizes,
    sash_body,
    sash_members,
    sash_pieces,
    say_ring,
    thinner_glazing,
)
from ashfell.core.kinds.fillings.swing import Hinges, axis_of, hand_of, hung, knuckles, middles, passes, pin_of
from ashfell.core.kinds.hardware import FreeFace
from ashfell.core.kinds.opening import TURNINGS, Hand, Hinge, Turning, TurningKey
from ashfell.core.kinds.roles import Finishes
from ashfell.core.kinds.symbol import Symbol, hung_symbol
from ashfell.core.parts import Member
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import TOUCH
from ashfell.core.unit.layout import Bed, Body, Light, Rect, SashLayout
from ashfell.core.unit.say.writer import Action, Writer
from ashfell.core.unit.solve.body import Solving


class Hung(Closing):
    """What sashes and leaves share that turn or are fixed: they stand in the light, ``clearance`` from it all round, or
    ``foot`` above its foot, moved by their ``opening``. ``hand`` is the side the hinges are on as seen from outside;
    one swings ``out`` or ``in``, by ``turns`` degrees at most where it is hung at a side. ``stop`` is how wide the
    strip is that it closes against. Of a pair the ``hand`` is the one that opens first, and ``meeting`` how their
    stiles meet; the other follows once the first is out of its way. ``active`` is how wide the first of a pair is, or
    how high the lower part of one that is parted across; null: half. With ``hinges`` it turns about their pins, else
    about its edge."""

    opening: TurningKey = "side-hung"
    hand: Hand = "left"
    turns: Annotated[float, Field(gt=0, le=180)] = 90.0
    tilted: bool = False
    meeting: Meeting = Meeting()
    hinges: Hinges | None = None
    active: Size | None = None

    @property
    def turning(self) -> Turning:
        """The record of its way of opening."""
        return TURNINGS[self.opening]

    @property
    def swings_in(self) -> bool:
        """Whether it swings inwards."""
        return self.turning.swings_in(self)

    @property
    def stopped(self) -> bool:
        """Whether it closes against a strip at all."""
        return self.turning.stopped

    def free_face(self, light: Light, sash: SashLayout, face: str) -> FreeFace:
        """What of a face takes hardware: on the one that it closes with, what the strip leaves; beside the gap of a
        pair, what a planted stile leaves."""
        region = sash.body.ring.loop.polygon
        swings_to = (face == "inside") == self.swings_in
        if not swings_to and self.stop.mm and self.turning.stopped:
            inner = light.loop.moved(float(self.stop.mm))
            region = region.intersection(Polygon(inner)) if inner is not None else region
        if swings_to:
            region = self.fitted_on(light, sash, region, float(self.meeting.width.mm))
        hinge = self.turning.hinge(self, hand_of(sash, self), sash.body.ring.loop.bounds)
        if hinge and hinge.upright and not hinge.pivots and swings_to:
            turned = radians(self.turns * self.opened_of(sash.name) / 100)
            if turned > pi / 2:
                at = axis_of(self, hinge, sash.body.ring.loop.bounds)
                return FreeFace(region, laid=(at, pin_of(self, hinge), turned))
        if hinge and (hinge.pivots or not swings_to) and self.opened_of(sash.name):
            bounds, ring, axis = sash.body.ring.loop.bounds, sash.body.ring, 0 if hinge.upright else 1
            depth = float(ring.back - ring.front) / (2 if hinge.pivots else 1) + pin_of(self, hinge)
            at = axis_of(self, hinge, bounds)
            far = max(abs(bounds[axis] - at), abs(bounds[axis + 2] - at)) + float(self.clearance.mm)
            return FreeFace(region, swing=(axis, at, depth, far))
        return FreeFace(region)

    def fitted_on(self, light: Light, sash: SashLayout, region: Polygon, stile: float) -> Polygon:
        """What of a region of the face that a sash swings to its knuckles leave, and a planted stile that is so wide
        from the edge, mm."""
        if self.turning.pair and self.meeting.kind == "planted":
            region = region.intersection(translate(region, -stile if sash.name == "left" else stile))
        hinge = self.turning.hinge(self, hand_of(sash, self), sash.body.ring.loop.bounds)
        if hinge and self.hinges is not None and pin_of(self, hinge):
            loop, radius = sash.body.ring.loop, float(self.hinges.radius.mm)
            at = axis_of(self, hinge, loop.bounds)
            half = float(self.hinges.tall.mm) / 2
            places = middles(loop, hinge.at, self.hinges, f"{light.entry}.hinges")
            region = region.difference(unary_union([box(at - radius, v - half, at + radius, v + half) for v in places]))
        return region

    def reach(self, hinge: Hinge) -> float:
        """How far it turns at most, as a multiple of what is usual for its hinge."""
        return self.turns / 90 if hinge.upright and not hinge.pivots else 1.0


def solve_hung(light: Light, fill: Hung, solving: Solving) -> Closed:
    """The sash or the pair in a light.

    Raises
    ------
    Refusal
        When it has no room in the ring or cannot move.
    """
    planes = planes_of(light, fill)
    whole, rect = within_clearance(light, fill)
    if fill.turning.stacked:
        return _stacked(light, fill, solving, planes, whole, rect)
    if not fill.turning.pair:
        body = sash_body(light, whole, rect, planes, "sash", solving)
        single = hung(light, fill, "", fill.hand, body)
        check_each(light, (single,))
        _check_risen(light, fill, single)
        return Closed(sashes=(single,), strip=strip_of(light, fill, planes))
    pair = pair_of(light, fill, solving, planes, whole, rect)
    first = next(leaf for leaf in pair if leaf.first)
    angle = _angle(fill, first.hand, first.body, fill.opened_of(first.hand))
    past = sum(passes(fill, leaf.body, leaf.hand) for leaf in pair)
    together = fill.meeting.kind == "gap" and past <= float(fill.clearance.mm)
    found = [
        hung(light, fill, leaf.hand, leaf.hand, leaf.body, together or opens_after(fill, leaf, angle)) for leaf in pair
    ]
    check_each(light, found)
    for leaf in found:
        _check_risen(light, fill, leaf)
    return Closed(sashes=tuple(found), strip=strip_of(light, fill, planes))


def _check_risen(light: Light, fill: Hung, sash: SashLayout) -> None:
    """Refuse what rises over a light of a sash where hinges or a planted stile are on its face, or does not pass what
    is beside the sash when that turns."""
    over = [one for one in sash.body.lights if isinstance(one.content, Over)]
    if not over:
        return
    free, face = fill.free_face(light, sash, "outside"), sash.body.ring.loop.polygon
    if not fill.swings_in:
        face = fill.fitted_on(light, sash, face, float(fill.meeting.width.mm - fill.clearance.mm) / 2)
    for one in over:
        assert isinstance(one.content, Over)
        if one.content.covers.difference(face).area > TOUCH:
            raise Refusal(
                f"{one.entry}.kind",
                "nothing before what rises",
                "It laps onto its sash where hinges or a planted stile are.",
                "Choose another filling, or let it swing the other way.",
            )
        if not all(free.swings_clear(Point(u, v), height) for u, v, height in one.content.crown.tolist()):
            raise Refusal(
                f"{one.entry}.kind",
                "nothing before what rises",
                "It rises so far that it strikes what is beside the sash when that turns.",
                "Choose another filling, or let the sash be shut.",
            )


def _stacked(
    light: Light, fill: Hung, solving: Solving, planes: tuple[Fraction, Fraction], whole: Loop, rect: Rect
) -> Closed:
    """A leaf parted across: each part hung on the same side, opened by itself."""
    parts = parted(light, fill, solving, planes, (whole, rect))
    found = [hung(light, fill, name, fill.hand, body) for name, body in parts]
    check_each(light, found)
    for part in found:
        _check_risen(light, fill, part)
    return Closed(sashes=tuple(found), strip=strip_of(light, fill, planes))


def _angle(fill: Hung, hand: Hand, body: Body, opened: float) -> float:
    """How far a sash is turned, degrees."""
    hinge = fill.turning.hinge(fill, hand, body.ring.loop.bounds)
    return hinge.degrees * fill.reach(hinge) * opened / 100 if hinge else 0.0


# --- what is made of it, said of it, and drawn of it ------------------------------------------------------------------


def hung_members(light: Light, finishes: Finishes, bed: Bed | None) -> Iterator[Member]:
    """The strip that it closes against, all that hangs, and its hinges."""
    assert isinstance(light.fill, Hung)
    yield from stop_members(light, finishes)
    yield from sash_members(light, finishes, bed)
    yield from knuckles(light, light.fill, finishes)


def hung_symbols(light: Light) -> Iterable[Symbol]:
    """The lines that meet at the hinges."""
    assert isinstance(light.fill, Hung)
    fill = light.fill
    return [
        hung_symbol(sash, fill.swings_in, light.entry, pivots=not fill.turning.stopped, tilts=fill.turning.tilts)
        for sash in light.sashes
        if sash.axis
    ]


def hung_operation(fill: Hung, name: str) -> str:
    """As IFC4 names the way that one opens."""
    hand = name if name in ("left", "right") else fill.hand
    return fill.turning.operation(hand.upper())


REBATED_PIECES = 8
"""How many pieces more a pair counts as whose stiles meet in rebates, which are cut out of them."""


def hung_pieces(light: Light, fill: Hung) -> tuple[int, str]:
    """How many pieces there will be."""
    count = 2 if fill.turning.pair or fill.turning.stacked else 1
    rebates = REBATED_PIECES if fill.turning.pair and fill.meeting.kind == "rebated" else 0
    return sash_pieces(fill, count, fill.hinges.count if fill.hinges else 0) + rebates, "parts of sashes"


def fresh_hung(data: Data, fill: Data, fits: Any) -> None:
    """Sizes for a new one with which it fits."""
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


def _say_hinges(w: Writer, path: str, hinges: Hinges | None) -> None:
    """The sentence of the hinges."""
    entry = f"{path}.hinges"
    if hinges is None:
        w.say(entry, Action(entry, "Hinges", "Show its hinges, and turn it about them", "yes"), nested=True)
        return
    w.say(
        entry,
        w.number(f"{entry}.count", hinges.count, "Hinges"),
        "hinges",
        w.length(f"{entry}.tall", hinges.tall, "Height of a hinge"),
        "tall, the lowest",
        w.length(f"{entry}.foot", hinges.foot, "From the foot to the lowest hinge"),
        "above the foot, the highest",
        w.length(f"{entry}.head", hinges.head, "From the head to the highest hinge"),
        "below the head, knuckles of a radius of",
        w.length(f"{entry}.radius", hinges.radius, "Radius of a knuckle"),
        ".",
        Action(entry, "×", "Leave the hinges out", ""),
        nested=True,
    )


def say_hung(w: Writer, path: str, light: Light) -> None:
    """How it opens, and its ring."""
    fill, turning = light.fill, light.fill.turning  # type: ignore[attr-defined]
    assert isinstance(fill, Hung)
    kinds = {key: record.words for key, record in TURNINGS.items()}
    parts: list[Any] = ["It is", w.choice(f"{path}.opening", fill.opening, kinds, "Opening")]
    if turning.handed:
        parts += ["on the", w.choice(f"{path}.hand", fill.hand, HANDS, "Hinged side")]
    if turning.stacked:
        parts += [
            ", its lower part",
            w.length(f"{path}.active", fill.active, "Height of the lower part", "half"),
            "high",
        ]
    if turning.moves and turning.swings:
        parts += [", swings", w.choice(f"{path}.swing", fill.swing, {"out": "out", "in": "in"}, "Swing")]
    if turning.moves and turning.stopped and (turning.handed or turning.pair):
        parts += ["by", w.number(f"{path}.turns", fill.turns, "How far it turns at most, in degrees"), "° at most"]
    if turning.tilts:
        ways = {"no": "turned", "yes": "tilted"}
        parts += [",", w.choice(f"{path}.tilted", "yes" if fill.tilted else "no", ways, "Turned or tilted")]
    if turning.pair:
        parts += [", the", w.choice(f"{path}.hand", fill.hand, HANDS, "Leaf that opens first"), "one first,"]
        parts += [w.length(f"{path}.active", fill.active, "Width of the one that opens first", "half"), "wide,"]
        parts += _say_meeting(w, f"{path}.meeting", fill.meeting)
    stop = w.length(f"{path}.stop", fill.stop, "Stop of the sash")
    foot = w.length(f"{path}.foot", fill.foot, "Clearance under it", "as all round")
    deep = w.length(f"{path}.stop_depth", fill.stop_depth, "Depth of the stop", "all the way")
    stops = (", against a stop", stop, "wide and", deep, "deep; clear of the foot", foot, ".")
    w.say(f"{path}.opening", *parts, *stops, nested=True)
    if turning.moves and turning.stopped and (turning.handed or turning.pair):
        _say_hinges(w, path, fill.hinges)
    say_ring(w, path, light)
