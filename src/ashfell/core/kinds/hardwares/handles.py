"""Handles: bars out from the face, up, and back; levers, knobs."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Literal

from ashfell.core.base.document import Gap, Size, mm
from ashfell.core.kinds.hardware import HARDWARE, HardwareEntry, HardwareKind, Piece
from ashfell.core.solid.form import Box
from ashfell.core.solid.rod import disc, rod, rounded, square, turned

if TYPE_CHECKING:
    from ashfell.core.solid.sweep import Section
    from ashfell.core.unit.say.writer import Writer


class Bar(HardwareEntry):
    """A bar ``thickness`` square or round, carried ``out`` from the face, ``up``, and back along its centre line; its
    turns mitred, or round by a ``radius``."""

    kind: Literal["bar-handle"]
    section: Literal["square", "round"] = "square"
    thickness: Size = mm("25")
    out: Size = mm("75")
    up: Size = mm("600")
    radius: Gap = mm("0")
    to: Literal["middle", "top", "foot"] = "top"
    height: Gap = mm("1300")
    edge: Gap = mm("25")


def _section(kind: str, thickness: float) -> Section:
    return square(thickness) if kind == "square" else disc(thickness)


def _bar(own: Bar) -> list[Piece]:
    out, up = float(own.out.mm), float(own.up.mm)
    path = [(0.0, 0.0, 0.0), (0.0, 0.0, out), (0.0, up, out), (0.0, up, 0.0)]
    section = _section(own.section, float(own.thickness.mm))
    return [Piece("bar", rod(rounded(path, float(own.radius.mm)), section))]


SECTIONS = {"square": "square", "round": "round"}


def _say_bar(w: Writer, path: str, own: Bar) -> list[Any]:
    return [
        w.choice(f"{path}.section", own.section, SECTIONS, "Section of the bar handle"),
        w.length(f"{path}.thickness", own.thickness, "Thickness of the bar handle"),
        "thick,",
        w.length(f"{path}.out", own.out, "How far the bar handle stands out"),
        "out,",
        w.length(f"{path}.up", own.up, "How far up the bar handle goes"),
        "up, turns of",
        w.length(f"{path}.radius", own.radius, "Radius of its turns"),
        ",",
    ]


class Lever(HardwareEntry):
    """A lever on a round rose, or on a plate ``plate`` high: its arm ``arm`` long, ``out`` from the face."""

    kind: Literal["lever"]
    rose: Size = mm("52")
    plate: Size | None = None
    arm: Size = mm("115")
    out: Size = mm("50")
    thickness: Size = mm("18")
    radius: Gap = mm("10")


ROSE = 8.0
"""How thick a rose or a plate is, mm (common practice, no source)."""


def _lever(own: Lever) -> list[Piece]:
    out, thickness = float(own.out.mm), float(own.thickness.mm)
    half = float(own.rose.mm) / 2
    if own.plate:
        high = float(own.plate.mm) / 2
        back = Piece("plate", Box((-half, -high, 0.0), (half, high, ROSE)))
    else:
        back = Piece("rose", turned([(0.0, 0.0), (half, 0.0), (half, ROSE - 2), (half - 2, ROSE), (0.0, ROSE)]))
    path = [
        (0.0, 0.0, ROSE),
        (0.0, 0.0, max(out, ROSE + thickness)),
        (float(own.arm.mm), 0.0, max(out, ROSE + thickness)),
    ]
    return [back, Piece("arm", rod(rounded(path, float(own.radius.mm)), disc(thickness)))]


def _say_lever(w: Writer, path: str, own: Lever) -> list[Any]:
    return [
        "arm",
        w.length(f"{path}.arm", own.arm, "Length of the lever"),
        "long,",
        w.length(f"{path}.out", own.out, "How far the lever stands out"),
        "out, rose",
        w.length(f"{path}.rose", own.rose, "Width of the rose or the plate"),
        "wide, its plate",
        w.length(f"{path}.plate", own.plate, "Height of the plate", "none"),
        ",",
    ]


class Knob(HardwareEntry):
    """A knob on a rose: ``across`` its widest, ``out`` from the face."""

    kind: Literal["knob"]
    across: Size = mm("50")
    out: Size = mm("60")
    rose: Size = mm("56")


def _knob(own: Knob) -> list[Piece]:
    r, out, rose = float(own.across.mm) / 2, float(own.out.mm), float(own.rose.mm) / 2
    neck, start = r * 0.4, ROSE
    deep = max(out - start, 1.0)
    ball = [(r * x, start + deep * z) for x, z in ((0.55, 0.35), (0.9, 0.48), (1.0, 0.65), (0.92, 0.85), (0.6, 0.98))]
    knob = [(0.0, start), (neck, start), (neck, start + deep * 0.28), *ball, (0.0, start + deep)]
    disc_ = [(0.0, 0.0), (rose, 0.0), (rose, start - 2), (rose - 2, start), (0.0, start)]
    return [Piece("rose", turned(disc_)), Piece("knob", turned(knob))]


def _say_knob(w: Writer, path: str, own: Knob) -> list[Any]:
    return [
        w.length(f"{path}.across", own.across, "Width of the knob"),
        "across,",
        w.length(f"{path}.out", own.out, "How far the knob stands out"),
        "out,",
    ]


BAR = HARDWARE.register(HardwareKind("bar-handle", "a bar handle", Bar, _bar, 10, _say_bar))
LEVER = HARDWARE.register(HardwareKind("lever", "a lever", Lever, _lever, 20, _say_lever, by_axis=True))
KNOB = HARDWARE.register(HardwareKind("knob", "a knob", Knob, _knob, 30, _say_knob, by_axis=True))
