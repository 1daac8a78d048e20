"""Plates: kick plates, push plates, letter plates with their flap, cylinders, closers."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Literal

from ashfell.core.base.document import Gap, Size, mm
from ashfell.core.kinds.hardware import HARDWARE, HardwareEntry, HardwareKind, Piece
from ashfell.core.solid.form import Box
from ashfell.core.solid.rod import turned

if TYPE_CHECKING:
    from ashfell.core.unit.say.writer import Writer


class Plate(HardwareEntry):
    """A plate on the face: ``width`` by ``tall``, ``thickness`` thick."""

    kind: Literal["plate"]
    width: Size = mm("750")
    tall: Size = mm("150")
    thickness: Size = mm("2")
    to: Literal["middle", "top", "foot"] = "foot"


def _plate(own: Plate) -> list[Piece]:
    return [Piece("plate", Box((0.0, 0.0, 0.0), (float(own.width.mm), float(own.tall.mm), float(own.thickness.mm))))]


class LetterPlate(Plate):
    """A letter plate: a plate with a flap ``margin`` from its edges."""

    kind: Literal["letter-plate"]  # type: ignore[assignment]
    width: Size = mm("250")
    tall: Size = mm("60")
    thickness: Size = mm("4")
    margin: Size = mm("12")
    to: Literal["middle", "top", "foot"] = "middle"


def _letter(own: LetterPlate) -> list[Piece]:
    width, tall, thick, margin = (float(one.mm) for one in (own.width, own.tall, own.thickness, own.margin))
    inset = min(margin, width / 2 - 1, tall / 2 - 1)
    flap = Box((inset, inset, thick), (width - inset, tall - inset, thick + 4.0))
    return [*_plate(own), Piece("flap", flap)]


def _say_plate(w: Writer, path: str, own: Plate) -> list[Any]:
    return [
        w.length(f"{path}.width", own.width, "Width of the plate"),
        "by",
        w.length(f"{path}.tall", own.tall, "Height of the plate"),
        ",",
        w.length(f"{path}.thickness", own.thickness, "Thickness of the plate"),
        "thick,",
    ]


class Cylinder(HardwareEntry):
    """A lock cylinder on a round rose: ``across`` of it, ``out`` from the face."""

    kind: Literal["cylinder"]
    across: Size = mm("50")
    out: Size = mm("10")


def _cylinder(own: Cylinder) -> list[Piece]:
    r, out = float(own.across.mm) / 2, float(own.out.mm)
    rose = [(0.0, 0.0), (r, 0.0), (r, out * 0.6), (r * 0.92, out * 0.8), (0.0, out * 0.8)]
    core = [(0.0, out * 0.8), (r * 0.35, out * 0.8), (r * 0.35, out), (0.0, out)]
    return [Piece("rose", turned(rose)), Piece("core", turned(core))]


def _say_cylinder(w: Writer, path: str, own: Cylinder) -> list[Any]:
    return [w.length(f"{path}.across", own.across, "Width of the cylinder's rose"), "across,"]


class Closer(HardwareEntry):
    """The body of a closer: ``width`` by ``tall``, standing ``out``."""

    kind: Literal["closer"]
    width: Size = mm("220")
    tall: Size = mm("60")
    out: Size = mm("45")
    height: Gap = mm("2000")
    side: Literal["opening", "hinged"] = "hinged"
    faces: Literal["both", "outside", "inside"] = "inside"


def _closer(own: Closer) -> list[Piece]:
    return [Piece("body", Box((0.0, 0.0, 0.0), (float(own.width.mm), float(own.tall.mm), float(own.out.mm))))]


def _say_closer(w: Writer, path: str, own: Closer) -> list[Any]:
    return [
        w.length(f"{path}.width", own.width, "Width of the closer"),
        "by",
        w.length(f"{path}.tall", own.tall, "Height of the closer"),
        ",",
    ]


PLATE = HARDWARE.register(HardwareKind("plate", "a plate", Plate, _plate, 60, _say_plate))
LETTER_PLATE = HARDWARE.register(HardwareKind("letter-plate", "a letter plate", LetterPlate, _letter, 50, _say_plate))
CYLINDER = HARDWARE.register(
    HardwareKind("cylinder", "a cylinder", Cylinder, _cylinder, 40, _say_cylinder, by_axis=True)
)
CLOSER = HARDWARE.register(HardwareKind("closer", "a closer", Closer, _closer, 70, _say_closer))
