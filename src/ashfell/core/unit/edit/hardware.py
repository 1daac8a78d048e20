"""Changes to the hardware of sashes and leaves: added, moved."""

from __future__ import annotations

import json
from fractions import Fraction

from ashfell.core.base.address import Address
from ashfell.core.base.document import Data, dump, read
from ashfell.core.base.lengths import LengthError, Unit, exact, parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.hardware import HARDWARE, HardwareEntry
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.edit.place import at, unknown
from ashfell.core.unit.layout import Layout
from ashfell.core.unit.piece import PieceDocument
from ashfell.core.unit.solve.unit import laid_out


def add_hardware(data: Data, address: Address, value: str) -> None:
    """Another piece: of a kind with its usual sizes, or one that is given as JSON, higher or lower where others are in
    its way.

    Raises
    ------
    Refusal
        When there is no such kind, or what is given is no piece.
    """
    own = dump(_given(address, value) if value.startswith("{") else _usual(address, value))
    at(data, address).append(own)
    usual = parse(own["height"])
    for shift in (0, *SHIFTS):
        own["height"] = exact(max(Fraction(0), usual + shift))
        if _can_be_built(data):
            return
    own["height"] = exact(usual)  # it is refused then, with the reason


def _usual(address: Address, kind: str) -> HardwareEntry:
    if kind not in HARDWARE:
        raise Refusal(address, "a known piece", f"There is no “{kind}”.", f"Add one of {', '.join(HARDWARE)}.")
    return HARDWARE[kind].entry.model_validate({"kind": kind})


def _given(address: Address, text: str) -> HardwareEntry:
    try:
        return read(PieceDocument, {"name": "piece", "hardware": json.loads(text)}).hardware
    except (ValueError, RecursionError) as error:
        raise Refusal(address, "a piece of hardware", "It cannot be read as JSON.", "Give one piece.") from error


def piece_at(data: Data, address: str) -> Data:
    """The piece at an address as another unit may have it: in the finish of its role, on the first sash.

    Raises
    ------
    Refusal
        When there is none.
    """
    if Address(address).parent.last != "hardware":
        raise unknown(address)
    return {**at(data, address, make=False), "finish": None, "of": None}


def first_with_hardware(layout: Layout) -> str:
    """The address of the list of hardware of the first light that can have some.

    Raises
    ------
    Refusal
        When there is none.
    """
    for light in layout.lights:
        if hasattr(light.fill, "hardware"):
            return f"{light.entry}.hardware"
    raise Refusal("fill", "a sash or a leaf", "Nothing in this unit takes hardware.", "Hang a sash or a leaf first.")


SHIFTS = tuple(way * step * 90 for step in range(1, 11) for way in (1, -1))
"""How far from its usual height a new piece may be put to be clear of others, mm."""


def _can_be_built(data: Data) -> bool:
    try:
        laid_out(read(UnitDocument, data))
    except Refusal:
        return False
    return True


def move(data: Data, address: Address, value: str, bare: Unit) -> None:
    """A piece moved to the right and up by ``"right; up"``, as seen from outside: its distance from its edge and its
    height are set.

    Raises
    ------
    Refusal
        When there is none, or the value cannot be read.
    """
    if address.parent.last != "hardware":
        raise unknown(address)
    fill, own = at(data, address.parent.parent), at(data, address)
    right, mark, up = value.partition(";")
    if not mark:
        raise Refusal(address, "how far it is moved", f"“{value}” is no move.", "Put it as right; up.")
    hinged = own["of"] if own["of"] in ("left", "right") else fill.get("hand", "left")
    inwards = 1 if (hinged == "left") == (own["side"] == "hinged") else -1
    own["edge"] = exact(max(Fraction(0), parse(str(own["edge"])) + inwards * _length(address, right, bare)))
    own["height"] = exact(max(Fraction(0), parse(str(own["height"])) + _length(address, up, bare)))


def _length(address: Address, text: str, bare: Unit) -> Fraction:
    try:
        return parse(text, bare)
    except LengthError as error:
        raise Refusal(address, "a length", error.reason, position=error.position) from error
