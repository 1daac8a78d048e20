"""Overhead doors: sections behind the frame, hinged to each other, whose hinges run up a track, round its curve, and
inwards under the ceiling; a single section tilts up.

Hinges are on the inner face, so that joints open where the door bends. Every hinge is on the track, however far the
door is opened: from one to the next it is a straight section's length, which round a curve is a chord.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from math import atan2, cos, inf, pi, sin
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ashfell.core.base.document import Data, Gap, Size, mm
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.filling import FILLINGS, Filling
from ashfell.core.kinds.fillings.behind import Behind, chord_behind, clears_behind
from ashfell.core.kinds.fillings.sashes import (
    Sashes,
    check_each,
    check_rectangle,
    sash_body,
    sash_members,
    sash_pieces,
    say_ring,
)
from ashfell.core.kinds.hardware import FreeFace
from ashfell.core.kinds.roles import Finishes
from ashfell.core.kinds.symbol import Symbol, arrow
from ashfell.core.parts import ALONG_U, ALONG_V, Member
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import Floats
from ashfell.core.solid.form import Placed
from ashfell.core.solid.rod import disc, rod, rounded, square
from ashfell.core.unit.layout import Bed, Light, Rect, SashLayout
from ashfell.core.unit.say.writer import Writer
from ashfell.core.unit.solve.body import Solving

if TYPE_CHECKING:
    pass

LEAST_SECTION = Fraction(100)
"""The least height of a section, mm."""
TRACK = (24.0, 50.0)
"""How wide and deep a track is, mm (common practice, no source)."""
BESIDE = 4.0
"""Between the sections and their track, mm."""
SHAFT = 30.0
"""How thick the shaft of the springs is, and that of a spring, mm (common practice, no source)."""
SPRING = 52.0
OVER = 60.0
"""How far the middle of the shaft is over the highest section, and behind the frame, mm."""


class Overhead(Sashes):
    """Sections, from the foot up: as many as ``sections``, equal but for the lowest, which have the ``heights`` that
    are given; each a ring round its content. They lap the frame by ``lap`` at the sides and at the head, ``clearance``
    behind it, ``apart`` by a joint. Their hinges run up a track that turns inwards by a ``radius`` once it is ``rise``
    above the door; at 100 % the lowest is as high as the opening."""

    opens_together: ClassVar[bool] = True
    kind: Literal["overhead"]
    sections: Annotated[int, Field(ge=1, le=12)] = 4
    heights: Annotated[tuple[Size, ...], Field(max_length=11)] = ()
    face: Size = mm("60")
    depth: Size = mm("40")
    lap: Gap = mm("25")
    clearance: Gap = mm("5")
    apart: Gap = mm("2")
    radius: Gap = mm("380")
    rise: Gap = mm("20")

    def free_face(self, light: Light, sash: SashLayout, face: str) -> FreeFace:
        """What of a face takes hardware: what is seen in the opening; while the door is opened no more than what
        passes behind the frame."""
        region = sash.body.ring.loop.polygon
        if face == "outside":
            return FreeFace(region.intersection(light.loop.polygon), float(self.clearance.mm) if self.opened else inf)
        return FreeFace(region)


@dataclass(frozen=True)
class Track:
    """The way of the hinges in the plane of v and w: up from ``foot`` at ``w``, from ``turn`` on round a ``radius``,
    then level inwards. Places on it are told by how far along it they are, mm."""

    foot: float
    w: float
    turn: float
    radius: float

    def at(self, along: float) -> tuple[float, float]:
        """Where it is: v and w, mm."""
        up, arc = self.turn - self.foot, self.radius * pi / 2
        if along <= up:
            return self.foot + along, self.w
        if along < up + arc:
            angle = (along - up) / self.radius
            return self.turn + self.radius * sin(angle), self.w - self.radius * (1 - cos(angle))
        return self.turn + self.radius, self.w - self.radius - (along - up - arc)

    def after(self, along: float, chord: float) -> float:
        """Where the point is that is a chord behind another, along it."""
        return chord_behind(self.at, along, chord)


@dataclass(frozen=True, eq=False)
class Sections(Behind):
    """The sections of a door, and the track of their hinges."""

    track: Track = Track(0.0, 0.0, 0.0, 0.0)
    ends: tuple[float, float] = (0.0, 0.0)
    """The left and the right edge of the sections, mm."""
    reach: float = 0.0
    """How far the track goes, mm."""


def _solve(light: Light, fill: Overhead, solving: Solving) -> Sections:
    """The sections where they are.

    Raises
    ------
    Refusal
        When the light is no rectangle, or they have no room.
    """
    check_rectangle(light, "an overhead door", "Sections can run only behind a rectangular light.")
    clear, lap = light.clear, fill.lap.mm
    whole = Rect(clear.x - lap, clear.y, clear.width + 2 * lap, clear.height + lap)
    heights = _heights(light, fill, whole.height)
    front = light.ring.back + fill.clearance.mm
    planes = front, front + fill.depth.mm
    track = Track(float(whole.y), -float(planes[1]), float(whole.head + fill.rise.mm), float(fill.radius.mm))
    along = float(clear.height) * fill.opened / 100
    foot, found = whole.y, []
    for number, height in enumerate(heights):
        own = Rect(whole.x, foot, whole.width, height)
        name = "section" if len(heights) == 1 else f"section {number + 1}"
        loop = Loop.rectangle(float(own.x), float(own.y), float(own.right), float(own.head))
        body = sash_body(light, loop, own, planes, name, solving)
        step = float(height + fill.apart.mm) if number + 1 < len(heights) else float(height)
        ahead = track.after(along, step)
        motion = _motion(track, float(foot), (along, ahead)) if fill.opened else None
        found.append(SashLayout(name if len(heights) > 1 else "", body, motion, (), slides=(0.0, float(clear.height))))
        along, foot = ahead, foot + height + fill.apart.mm
    check_each(light, found)
    reach = max(along, float(whole.height) * 2) + track.radius
    ends, aside = (float(whole.x), float(whole.right)), BESIDE + TRACK[0]
    across = ends[0] - aside, ends[1] + aside
    return Sections(sashes=tuple(found), across=across, track=track, ends=ends, reach=reach)


def _heights(light: Light, fill: Overhead, whole: Fraction) -> list[Fraction]:
    """The height of each section, from the foot up, mm."""
    given = [height.mm for height in fill.heights]
    joints = fill.apart.mm * (fill.sections - 1)
    if len(given) >= fill.sections:
        raise Refusal(
            f"{light.entry}.heights",
            "a section that takes the rest",
            f"{len(given)} heights are given to {fill.sections} sections.",
            "Leave out the height of the highest: it takes what is left.",
        )
    rest = whole - joints - sum(given, Fraction(0))
    own = rest / (fill.sections - len(given))
    if own < LEAST_SECTION:
        if given:
            most = given[-1] - (LEAST_SECTION - own) * (fill.sections - len(given))
            raise Refusal(
                f"{light.entry}.heights.{len(given) - 1}",
                "room for every section",
                f"The heights that are given leave {exact_mm(own)} for each of the others.",
                f"Make it at most {exact_mm(most)}." if most > 0 else "Leave the heights out.",
                most if most > 0 else None,
            )
        count = int((whole + fill.apart.mm) // (LEAST_SECTION + fill.apart.mm))
        raise Refusal(
            f"{light.entry}.sections" if count else f"{light.entry}.kind",
            f"at most {count} sections" if count else "a light that takes a sash",
            f"{fill.sections} sections of a door {exact_mm(whole)} high would be {exact_mm(own)} high each.",
            f"Make them {count} at most." if count else "Make the light higher, or choose another filling.",
        )
    return [*given, *[own] * (fill.sections - len(given))]


def _motion(track: Track, foot: float, along: tuple[float, float]) -> Floats:
    """From where a section hangs shut, its foot at a height, to where its two hinges are along the track, (4, 4)."""
    (v0, w0), (v1, w1) = track.at(along[0]), track.at(along[1])
    lean = atan2(w1 - w0, v1 - v0)
    matrix = np.eye(4)
    matrix[1:3, 1:3] = [[cos(lean), -sin(lean)], [sin(lean), cos(lean)]]
    matrix[1:3, 3] = np.array([v0, w0]) - matrix[1:3, 1:3] @ np.array([foot, track.w])
    return matrix


def _members(light: Light, finishes: Finishes, bed: Bed | None) -> Iterator[Member]:
    yield from sash_members(light, finishes, bed)
    fill, content = light.fill, light.content
    assert isinstance(fill, Overhead)
    assert isinstance(content, Sections)
    track, finish = content.track, finishes.of("track")
    end = track.at(content.reach)
    corner = (track.turn + track.radius, track.w)
    path = [(track.foot, track.w, 0.0), (*corner, 0.0), (*end, 0.0)]
    form = rod(rounded(path, track.radius), square(*TRACK[::-1]))
    aside = BESIDE + TRACK[0] / 2
    for name, u in (("left", content.ends[0] - aside), ("right", content.ends[1] + aside)):
        # The path is drawn in v and w; it is carried to where its track is across.
        matrix = np.array([[0.0, 0.0, 1.0, u], [1.0, 0.0, 0.0, 0.0], [0.0, 1.0, 0.0, 0.0], [0.0, 0.0, 0.0, 1.0]])
        key = f"track.{light.key}.{name}"
        yield Member(key, light.entry, "track", finish, ALONG_V, Placed(form, matrix), light.key)
    over = track.turn + track.radius + float(fill.depth.mm) + OVER
    behind = track.w + float(fill.depth.mm) - OVER
    left, right = content.ends
    places = np.linspace(left, right, 5).tolist()
    for number, (thick, low, high) in enumerate(zip((SHAFT, SPRING, SPRING, SHAFT), places, places[1:], strict=False)):
        straight = rod([(low, over, behind), (high, over, behind)], disc(thick))
        key = f"track.{light.key}.shaft.{number + 1}"
        yield Member(key, light.entry, "track", finish, ALONG_U, straight, light.key)


def _symbols(light: Light) -> Iterable[Symbol]:
    middle = light.sashes[len(light.sashes) // 2]
    return [Symbol(arrow(middle), True, light.entry, "slides")]


def _fresh(data: Data, fill: Data, fits: Any) -> None:
    """A new door holds flush boards, which fit whatever the unit's glass."""
    fill["content"] = fill["content"] | {"fill": {"kind": "flush"}}


def _say(w: Writer, path: str, light: Light) -> None:
    fill = light.fill
    assert isinstance(fill, Overhead)
    first = light.sashes[0].body.ring.loop
    w.say(
        f"{path}.sections",
        w.number(f"{path}.sections", fill.sections, "Sections"),
        "sections, lapping the frame by",
        w.length(f"{path}.lap", fill.lap, "Lap behind the frame"),
        ",",
        w.length(f"{path}.apart", fill.apart, "Joint between sections"),
        "apart; the track turns by a radius of",
        w.length(f"{path}.radius", fill.radius, "Radius of the track"),
        ",",
        w.length(f"{path}.rise", fill.rise, "Rise of the track above the door"),
        "above the door.",
        nested=True,
        told=(f"The lowest is {w.size(first)}.",),
    )
    say_ring(w, path, light, clear="behind the frame,")


KIND = FILLINGS.register(
    Filling(
        "overhead",
        Overhead,
        "an overhead door",
        lambda fill: "overhead door",
        _solve,
        _members,
        order=28,
        say=_say,
        symbols=_symbols,
        door=lambda fill: ("USERDEFINED", "USERDEFINED"),
        pieces=lambda light, fill: (sash_pieces(fill, fill.sections), "sections"),
        fresh=_fresh,
        clears=clears_behind,
    )
)
