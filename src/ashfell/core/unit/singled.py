"""What single parts have of their own: a finish, and the way that their grain runs."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from dataclasses import replace

from ashfell.core.base.address import Address
from ashfell.core.base.document import Data
from ashfell.core.base.lengths import Unit
from ashfell.core.base.refusal import Refusal
from ashfell.core.parts import Member
from ashfell.core.unit.layout import Layout


def grained(members: tuple[Member, ...], turned: Collection[str]) -> tuple[Member, ...]:
    """The members with the grain of some turned by a quarter in the plane of the elevation."""
    own = {*turned}
    return tuple(_turned(member) if _is_of(member.id, own) else member for member in members)


def painted(members: tuple[Member, ...], finishes: Mapping[str, str]) -> tuple[Member, ...]:
    """The members with the finishes that some have of their own, all over."""
    return tuple(
        replace(member, finish=own, inner=None) if (own := _finish_of(member.id, finishes)) else member
        for member in members
    )


def _finish_of(name: str, finishes: Mapping[str, str]) -> str:
    """The finish of a member of its own; one in several pieces has that of any of them."""
    if name in finishes:
        return finishes[name]
    return next((own for piece, own in finishes.items() if _is_of(name, {piece})), "")


def paint(data: Data, address: Address, value: str, bare: Unit) -> None:
    """A part given a finish of its own, ``"part; finish"``, or that of its role again where that is empty.

    Raises
    ------
    Refusal
        When no part is named.
    """
    name, _, finish = (text.strip() for text in value.partition(";"))
    if not name:
        raise Refusal("painted", "a part", "No part is named.", "Pick one in 3D first.")
    held = {part: own for part, own in data["painted"].items() if part != name}
    data["painted"] = held | {name: finish} if finish else held


def _is_of(name: str, turned: set[str]) -> bool:
    """Whether a member is one of them; of one in several pieces any piece stands for it."""
    return name in turned or any(piece.rpartition(".")[0] == name and piece[-1].isdigit() for piece in turned)


def _turned(member: Member) -> Member:
    x, y, z = member.grain
    return replace(member, grain=(-y, x, z))


def unknown_parts(turned: Collection[str], layout: Layout) -> Iterator[str]:
    """Those of some parts that are not there."""
    there = {member.id for member in layout.members}
    yield from (name for name in turned if name not in there and name.rpartition(".")[0] not in there)


def turn_grain(data: Data, address: Address, value: str, bare: Unit) -> None:
    """The grain of a part turned by a quarter, or back.

    Raises
    ------
    Refusal
        When no part is named.
    """
    if not value:
        raise Refusal("grain", "a part", "No part is named.", "Pick one in 3D first.")
    held = data["grain"]
    data["grain"] = [one for one in held if one != value] if value in held else [*held, value]
