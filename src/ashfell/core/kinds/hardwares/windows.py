"""Hardware of windows and sliding leaves: stays, fasteners, lifts, locks, long bolts, recessed pulls (sizes are common
practice, no source)."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Literal

import numpy as np

from ashfell.core.base.document import Gap, Size, mm
from ashfell.core.kinds.hardware import HARDWARE, HardwareEntry, HardwareKind, Piece
from ashfell.core.solid.form import Box, Form, Placed
from ashfell.core.solid.rod import disc, rod, rounded, square, turned

if TYPE_CHECKING:
    from ashfell.core.unit.say.writer import Writer

PLATE = 3.0
"""How thick a small plate is, mm."""


class Stay(HardwareEntry):
    """A casement stay: a flat bar ``long`` on two feet, along the foot of its sash, with a knob at its end."""

    kind: Literal["stay"]
    long: Size = mm("250")
    height: Gap = mm("25")
    edge: Gap = mm("80")
    side: Literal["opening", "hinged"] = "hinged"
    faces: Literal["both", "outside", "inside"] = "inside"


def _stay(own: Stay) -> list[Piece]:
    long = float(own.long.mm)
    feet = [Piece(f"foot-{k + 1}", Box((x - 9, -9.0, 0.0), (x + 9, 9.0, 12.0))) for k, x in enumerate((9.0, long - 30))]
    bar = Piece("bar", Box((0.0, -6.0, 12.0), (long, 6.0, 18.0)))
    knob = turned([(0.0, 18.0), (5.0, 18.0), (5.0, 22.0), (9.0, 26.0), (9.0, 32.0), (0.0, 35.0)])
    return [*feet, bar, Piece("knob", _at(knob, long - 12.0))]


def _at(form: Form, x: float, y: float = 0.0) -> Placed:
    """A form moved along a face."""
    matrix = np.eye(4)
    matrix[:2, 3] = x, y
    return Placed(form, matrix)


class Fastener(HardwareEntry):
    """A casement fastener: a plate, a neck, and a handle ``long`` that hangs down."""

    kind: Literal["fastener"]
    long: Size = mm("110")
    height: Gap = mm("500")
    edge: Gap = mm("24")
    faces: Literal["both", "outside", "inside"] = "inside"


def _fastener(own: Fastener) -> list[Piece]:
    long = float(own.long.mm)
    handle = rod(rounded([(0.0, 0.0, PLATE), (0.0, 0.0, 24.0), (0.0, -long, 24.0)], 8.0), disc(11.0))
    return [Piece("plate", Box((-11.0, -28.0, 0.0), (11.0, 28.0, PLATE))), Piece("handle", handle)]


class Lift(HardwareEntry):
    """A sash lift: a hooked lip ``wide``, ``out`` from the face."""

    kind: Literal["sash-lift"]
    wide: Size = mm("60")
    out: Size = mm("22")
    height: Gap = mm("22")
    edge: Gap = mm("150")
    faces: Literal["both", "outside", "inside"] = "inside"


def _lift(own: Lift) -> list[Piece]:
    wide, out = float(own.wide.mm), float(own.out.mm)
    lip = rod([(0.0, 0.0, PLATE), (0.0, 0.0, out), (0.0, 12.0, out)], square(4.0, wide))
    return [Piece("plate", Box((-wide / 2, -12.0, 0.0), (wide / 2, 12.0, PLATE))), Piece("lip", lip)]


class SashLock(HardwareEntry):
    """A sash lock: a plate and a cam with its arm ``long``."""

    kind: Literal["sash-lock"]
    long: Size = mm("45")
    height: Gap = mm("600")
    edge: Gap = mm("300")
    faces: Literal["both", "outside", "inside"] = "inside"


def _sash_lock(own: SashLock) -> list[Piece]:
    cam = turned([(0.0, PLATE), (13.0, PLATE), (13.0, 12.0), (10.0, 14.0), (0.0, 14.0)])
    arm = Box((-4.0, -5.0, 14.0), (float(own.long.mm), 5.0, 18.0))
    return [Piece("plate", Box((-28.0, -14.0, 0.0), (28.0, 14.0, PLATE))), Piece("cam", cam), Piece("arm", arm)]


class Bolt(HardwareEntry):
    """An espagnolette: a rod ``tall`` in guides at most ``apart``, and a handle in its middle."""

    kind: Literal["espagnolette"]
    tall: Size = mm("1200")
    apart: Size = mm("400")
    height: Gap = mm("700")
    edge: Gap = mm("30")
    faces: Literal["both", "outside", "inside"] = "inside"


def _bolt(own: Bolt) -> list[Piece]:
    tall, middle = float(own.tall.mm), 12.0
    count = max(2, int(-(-tall // float(own.apart.mm))) + 1)
    places = [-tall / 2 + 20 + (tall - 40) * k / (count - 1) for k in range(count)]
    places = [place for place in places if abs(place) > 45]
    halves = [
        Piece("rod-upper", rod([(0.0, 40.0, middle), (0.0, tall / 2, middle)], disc(12.0))),
        Piece("rod-lower", rod([(0.0, -tall / 2, middle), (0.0, -40.0, middle)], disc(12.0))),
    ]
    guides = [
        Piece(f"guide-{k + 1}.{side}", Box((low, y - 8, 0.0), (high, y + 8, 20.0)))
        for k, y in enumerate(places)
        for side, low, high in (("left", -12.0, -6.0), ("right", 6.0, 12.0))
    ]
    handle = rod(rounded([(0.0, 0.0, 20.0), (0.0, 0.0, 46.0), (0.0, -110.0, 46.0)], 9.0), disc(13.0))
    case = Piece("case", Box((-15.0, -40.0, 0.0), (15.0, 40.0, 20.0)))
    return [*halves, *guides, case, Piece("handle", handle)]


class Recessed(HardwareEntry):
    """A recessed pull for leaves that slide: a rim ``across`` by ``tall`` that stands off the face by no more than its
    ``rim``."""

    kind: Literal["recessed-pull"]
    across: Size = mm("50")
    tall: Size = mm("120")
    rim: Size = mm("2")
    to: Literal["middle", "top", "foot"] = "middle"
    edge: Gap = mm("45")


def _recessed(own: Recessed) -> list[Piece]:
    half, high, rim = float(own.across.mm) / 2, float(own.tall.mm) / 2, float(own.rim.mm)
    wide = min(6.0, half / 2, high / 2)
    dish = Box((-half + wide, -high + wide, 0.0), (half - wide, high - wide, rim / 4))
    sides = (
        Box((-half, -high, 0.0), (-half + wide, high, rim)),
        Box((half - wide, -high, 0.0), (half, high, rim)),
        Box((-half + wide, -high, 0.0), (half - wide, -high + wide, rim)),
        Box((-half + wide, high - wide, 0.0), (half - wide, high, rim)),
    )
    return [Piece("dish", dish), *(Piece(f"rim-{k + 1}", side) for k, side in enumerate(sides))]


def _long(words: str) -> Any:
    def say(w: Writer, path: str, own: Any) -> list[Any]:
        return [w.length(f"{path}.long", own.long, f"Length of the {words}"), "long,"]

    return say


def _say_lift(w: Writer, path: str, own: Lift) -> list[Any]:
    wide, out = w.length(f"{path}.wide", own.wide, "Width of the lift"), w.length(f"{path}.out", own.out, "How far out")
    return [wide, "wide,", out, "out,"]


def _say_bolt(w: Writer, path: str, own: Bolt) -> list[Any]:
    tall = w.length(f"{path}.tall", own.tall, "Height of the espagnolette")
    return [tall, "tall, guides at most", w.length(f"{path}.apart", own.apart, "Distance of its guides"), "apart,"]


def _say_recessed(w: Writer, path: str, own: Recessed) -> list[Any]:
    across = w.length(f"{path}.across", own.across, "Width of the recessed pull")
    tall = w.length(f"{path}.tall", own.tall, "Height of the recessed pull")
    return [across, "by", tall, ", its rim", w.length(f"{path}.rim", own.rim, "How far its rim stands out"), "out,"]


HARDWARE.register(HardwareKind("stay", "a casement stay", Stay, _stay, 70, _long("stay"), by_axis=True))
HARDWARE.register(
    HardwareKind("fastener", "a casement fastener", Fastener, _fastener, 72, _long("fastener"), by_axis=True)
)
HARDWARE.register(HardwareKind("sash-lift", "a sash lift", Lift, _lift, 74, _say_lift, by_axis=True))
HARDWARE.register(HardwareKind("sash-lock", "a sash lock", SashLock, _sash_lock, 76, _long("lock"), by_axis=True))
HARDWARE.register(HardwareKind("espagnolette", "an espagnolette", Bolt, _bolt, 78, _say_bolt, by_axis=True))
HARDWARE.register(
    HardwareKind("recessed-pull", "a recessed pull", Recessed, _recessed, 80, _say_recessed, by_axis=True)
)
