"""What all sashes share: their ring and how it sits in the light, what it holds, and how one is moved."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import replace
from fractions import Fraction
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ashfell.core.base.address import entry_below
from ashfell.core.base.document import Data, Document, Gap, Key, Side, Size, dump, mm
from ashfell.core.base.lengths import exact, parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.filling import FillEntry
from ashfell.core.kinds.hardware import FreeFace, OneHardware, hardware_members, pieces_counted, say_hardware
from ashfell.core.kinds.opening import Hand
from ashfell.core.kinds.roles import Finishes
from ashfell.core.parts import Member
from ashfell.core.plane.loop import SIDES, Loop
from ashfell.core.plane.points import Floats
from ashfell.core.solid.section import Edge, OwnSection
from ashfell.core.unit.document.cell import Cell
from ashfell.core.unit.document.glazing import Glazing
from ashfell.core.unit.document.members import AXES, Percent
from ashfell.core.unit.layout import Bed, Body, Light, Rect, Ring, SashLayout
from ashfell.core.unit.members.faces import exact_face, side_faces
from ashfell.core.unit.members.own_section import LEAST_WEB, own_section, worked
from ashfell.core.unit.say.writer import Action, Writer
from ashfell.core.unit.seat import is_bar
from ashfell.core.unit.solve.body import Solving
from ashfell.core.unit.solve.extent import Extent

Point3 = tuple[float, float, float]


class OneSash(Document):
    """What one of several sashes has of its own: what it holds, its glazing, how far it is opened (null: as the
    others), and of panels that slide across the ``hand`` to which one slides as seen from outside (null: to the nearest
    place)."""

    content: Cell | None = None
    glazing: Glazing | None = None
    opened: Percent | None = None
    hand: Hand | None = None


class Sashes(FillEntry):
    """What all sashes share: their ring, how it sits in the light, what it holds, and their glazing (null: as the
    unit's). ``each`` are those that differ, by name: ``upper`` and ``lower``, ``left`` and ``right``, ``panel-3``.
    Where it ``opens_together`` all of them are opened as far.
    """

    face: Size = mm("45")
    sides: dict[Side, Size] = {}
    depth: Size = mm("60")
    setback: Gap = mm("0")
    clearance: Gap = mm("4")
    edge: Edge = Edge()
    joint: Literal["mitred", "jambs", "head"] = "mitred"
    section: OwnSection | None = None
    opened: Percent = 0.0
    glazing: Glazing | None = None
    content: Cell = Field(default_factory=Cell)
    each: Annotated[dict[Key, OneSash], Field(max_length=8)] = {}
    hardware: Annotated[tuple[OneHardware, ...], Field(max_length=24)] = ()
    role: ClassVar[Literal["sash", "leaf"]] = "sash"
    opens_together: ClassVar[bool] = False

    def one(self, name: str) -> OneSash:
        """What a sash of a name has of its own."""
        return self.each.get(key_of(name), OTHERWISE)

    def free_face(self, light: Light, sash: SashLayout, face: str) -> FreeFace:
        """What of a face of a sash takes hardware."""
        return FreeFace(sash.body.ring.loop.polygon)

    def opened_of(self, name: str) -> float:
        """How far a sash of a name is opened, percent."""
        own = self.one(name).opened
        return self.opened if own is None else own


OTHERWISE = OneSash()


def key_of(name: str) -> str:
    """What a sash is called in ``each``."""
    return name.replace(" ", "-")


def check_each(light: Light, sashes: Sequence[SashLayout], handed: bool = False) -> None:
    """Refuse what is said of a sash that is not there, and a hand where sashes are not ``handed`` one by one."""
    assert isinstance(light.fill, Sashes)
    names = [key_of(sash.name) for sash in sashes if sash.name]
    for key in light.fill.each:
        if key not in names:
            there = f"Name one of {', '.join(names)}, or leave it out." if names else "Say it of the sash itself."
            raise Refusal(f"{light.entry}.each.{key}", "a sash that is there", f"There is no sash “{key}”.", there)
        if light.fill.each[key].hand and not handed:
            raise Refusal(
                f"{light.entry}.each.{key}.hand",
                "a hand that means something",
                "Only a panel that slides across has a hand of its own.",
                "Leave it out.",
            )
        if light.fill.each[key].opened is not None and light.fill.opens_together:
            raise Refusal(
                f"{light.entry}.each.{key}.opened",
                "leaves that open together",
                "Leaves that are hinged to each other open together.",
                "Leave it out.",
            )


def check_rectangle(light: Light, what: str, told: str) -> None:
    """Refuse what runs, slides or folds only in a rectangle, in any other light."""
    if not light.is_rectangle:
        remedy = "Divide the light with a transom, or choose another filling."
        raise Refusal(f"{light.entry}.kind", f"{what} in a rectangle", told, remedy)


def named_after_place(loop: Loop) -> Loop:
    """The loop with edges along bars named after the side they are on."""
    if loop.is_rectangle:
        return replace(loop, tags=SIDES)
    names = []
    for tag, (x, y) in zip(loop.tags, loop.along.tolist(), strict=True):
        side = ("sill" if x > 0 else "head") if abs(x) >= abs(y) else ("right" if y > 0 else "left")
        names.append(side if is_bar(tag) else tag)
    return replace(loop, tags=tuple(names))


def sash_body(
    light: Light,
    loop: Loop,
    rect: Rect,
    planes: tuple[Fraction, Fraction],
    name: str,
    solving: Solving,
    faces: Mapping[str, Fraction] | None = None,
) -> Body:
    """The ring of one sash, and what it holds.

    Parameters
    ----------
    light : Light
        The light that it is in.
    loop, rect : Loop, Rect
        Its outer edge, and the exact size of that, mm.
    planes : pair of Fraction
        Its front and back, mm behind the unit's outer face.
    name : str
        What tells it apart in its light: ``"sash"``, ``"left"``.
    solving : Solving
    faces : mapping, optional
        Those of the sides where it meets another sash, as its ``meeting`` says, mm.

    Raises
    ------
    Refusal
        When its ring leaves nothing inside, or what it holds cannot be built.
    """
    fill = light.fill
    assert isinstance(fill, Sashes)
    own = {key: size.mm for key, size in fill.sides.items()} | dict(faces or {})
    along = side_faces(loop, fill.face.mm, own, f"{light.entry}.sides")
    try:
        clear = loop.inset(along, f"{light.entry}.face")
    except Refusal as refusal:
        raise _no_glass(light, fill, refusal) from refusal
    one, mine = fill.one(name), f"{light.entry}.each.{key_of(name)}"
    glazing, glazing_entry = _glazing_of(light, fill, name)
    name = name.replace(" ", "")
    ring = Ring(
        light.key if name == "sash" else f"{light.key}.{name}",
        light.entry,
        fill.role,
        loop,
        along,
        clear,
        *planes,
        worked(fill),
        fill.joint,
        section=own_section(fill.section, f"{light.entry}.section"),
        own_sides={side: f"sides.{side}" for side in fill.sides} | dict.fromkeys(faces or {}, "meeting"),
        glazing=glazing,
        glazing_entry=glazing_entry,
    )
    content, entry = (one.content, mine) if one.content else (fill.content, light.entry)
    where = entry_below(entry, "content"), f"{light.key}.{name}."
    return solving.body(content, ring, rect, ring_extent(clear, rect, fill.face.mm, own), where)


def _glazing_of(light: Light, fill: Sashes, name: str) -> tuple[Glazing, str]:
    """The glazing of a sash, and the entry that says it: its own, that of all sashes here, or that around them."""
    if own := fill.one(name).glazing:
        return own, f"{light.entry}.each.{key_of(name)}.glazing"
    return (fill.glazing, f"{light.entry}.glazing") if fill.glazing else (light.ring.glazing, light.ring.glazing_entry)


def _no_glass(light: Light, fill: Sashes, refusal: Refusal) -> Refusal:
    """The refusal of a sash with nothing inside; of any sash where the largest face has no web beside the rebate."""
    glazing = fill.glazing or light.ring.glazing
    least = glazing.cover.mm + glazing.clear + LEAST_WEB
    if refusal.nearest is not None and refusal.nearest < least:
        return Refusal(
            f"{light.entry}.kind",
            "a light that takes a sash",
            f"A sash face is at least {exact_mm(least)} here, and the light takes {exact_mm(refusal.nearest)}.",
            "Make the light larger, or choose another filling.",
        )
    widest = max(fill.sides, key=lambda side: fill.sides[side].mm, default=None)
    if widest is not None and fill.sides[widest].mm > fill.face.mm:
        message = f"A {fill.role} face of {exact_mm(fill.sides[widest].mm)} leaves nothing inside."
        return Refusal(
            f"{light.entry}.sides.{widest}",
            "room for its own side",
            message,
            "Leave its own face out, or make it narrower.",
        )
    message = f"A {fill.role} face of {exact_mm(fill.face.mm)} leaves nothing inside."
    return Refusal(f"{light.entry}.face", refusal.rule, message, refusal.remedy, refusal.nearest)


def ring_extent(clear: Loop, rect: Rect, face: Fraction, own: Mapping[str, Fraction]) -> Extent:
    """The bounds of a ring's clear opening; exact where they lie one face inside its outer size."""
    extent: Extent = {}
    for k, (axis, ends) in enumerate(zip(AXES, (("left", "right"), ("sill", "head")), strict=True)):
        low, high = (rect.x, rect.right) if axis == "columns" else (rect.y, rect.head)
        first, last = (exact_face(side, face, own) for side in ends)
        extent[axis] = _near(clear.bounds[k], low + first), _near(clear.bounds[k + 2], high - last)
    return extent


def _near(value: float, exactly: Fraction) -> Fraction:
    return exactly if abs(float(exactly) - value) < 0.02 else Fraction(round(value, 3)).limit_denominator(1000)


def sash_members(light: Light, finishes: Finishes, bed: Bed | None) -> Iterator[Member]:
    """All that the sashes of a light are made of; what an opened one holds moves with it."""
    for sash in light.sashes:
        for member in sash.body.members:
            yield replace(member.moved(sash.motion), sash=sash.key_in(light))
    if isinstance(light.fill, Sashes):
        for sash, member in hardware_members(light, light.fill, finishes):
            yield replace(member.moved(sash.motion), sash=sash.key_in(light))


SASH_PIECES, BUTTED_PIECES, HINGE_PIECES = 13, 4, 2
"""How many pieces a sash counts as beside what it holds, how many more one whose members are not mitred, and a
hinge."""


def sash_pieces(fill: Sashes, count: int, hinges: int = 0) -> int:
    """How many pieces the ``count`` sashes of a light count as, with so many hinges of each and all that is fixed to
    them."""
    each = SASH_PIECES + (BUTTED_PIECES if fill.joint != "mitred" else 0) + HINGE_PIECES * hinges
    return each * count + sum(pieces_counted(own) for own in fill.hardware)


def about(point: Point3, axis: Point3, degrees: float) -> Floats:
    """The turn (4, 4) about an axis through a point, by the right-hand rule."""
    from scipy.spatial.transform import Rotation  # slow to read, and only what is opened wants it

    turn = Rotation.from_rotvec(degrees * np.array(axis), degrees=True).as_matrix()
    matrix = np.eye(4)
    matrix[:3, :3] = turn
    matrix[:3, 3] = np.array(point) - turn @ np.array(point)
    return matrix


# --- on the page ------------------------------------------------------------------------------------------------------

THINNER = ("", "20", "16", "10", "6")
"""Glass that a new sash tries in turn, mm; the first is the unit's own."""


def thinner_glazing(data: Data, thickness: str) -> Data:
    """The unit's glazing with thinner glass, and a rebate that goes with it."""
    glazing = dict(data["glazing"])
    if thickness:
        glazing |= {"thickness": thickness, "setback": "14", "cover": "8", "clearance": "2", "panes": 1}
        glazing["gasket"] = {"thickness": "3", "shows": "1"}
        glazing["bead"] = {"edge": dump(Edge(size=mm("1")))}
    return glazing


def depth_for(glazing: Data) -> Fraction:
    """The least depth of a ring that holds a glazing, mm."""
    sizes = (glazing["setback"], glazing["thickness"], glazing["gasket"]["thickness"], glazing["bead"]["edge"]["size"])
    return sum((parse(str(size)) for size in sizes), Fraction(1))


def fresh_sizes(data: Data, fill: Data, depths: Iterable[tuple[str, Fraction]], fits: Any) -> None:
    """Sizes for a new sash with which it fits its frame: the first of ``depths`` (glass, and how deep its ring then is)
    with which ``fits`` says so. Where none does it stays as it is, and is refused with the reason."""
    usual = dict(fill)
    for thickness, depth in depths:
        glazing = thinner_glazing(data, thickness) if thickness else None
        fill |= usual | {"depth": exact(Fraction(-(-depth.numerator // depth.denominator))), "glazing": glazing}
        if fits():
            return
    fill |= usual


JOINTS = {"mitred": "mitred", "jambs": "with stiles running through", "head": "with rails running through"}
RAILS = {"sill": "bottom rail", "head": "top rail"}


WAYS = {"": "the nearest way", "left": "to the left", "right": "to the right"}


def which_of(name: str) -> str:
    """A sash of several in a sentence."""
    return name if name[-1].isdigit() else f"the {name} sash"


def _say_each(w: Writer, path: str, light: Light, fill: Sashes, handed: bool) -> list[Any]:
    """What of several sashes may be given to one of them."""
    own: list[Any] = []
    several = [sash.name for sash in light.sashes if sash.name]
    for name in several:
        entry, which = f"{path}.each.{key_of(name)}.content", which_of(name)
        if fill.one(name).content is None:
            own.append(Action(entry, f"Own {name}", f"Let {which} hold something of its own", "yes"))
        else:
            own.append(Action(entry, f"Into {which}", f"Look at what {which} holds", looks="at"))
    for name in several:
        label = f"How far {which_of(name)} is opened, in percent"
        own += [f"{name} opened", w.number(f"{path}.each.{key_of(name)}.opened", fill.opened_of(name), label), "%"]
        if handed:
            value = fill.one(name).hand or ""
            own += [w.choice(f"{path}.each.{key_of(name)}.hand", value, WAYS, f"The way {which_of(name)} slides")]
        own += [","]
    return own


def say_ring(w: Writer, path: str, light: Light, handed: bool = False, clear: str = "clear all round,") -> None:
    """The sentences of a sash's ring; where sashes are ``handed`` one by one, to which hand each slides. ``clear`` is
    what its clearance is from."""
    fill = light.fill
    assert isinstance(fill, Sashes)
    told = tuple(
        f"{sash.name.capitalize() or 'It'} is {w.size(sash.body.ring.loop)}, {w.size(sash.body.ring.clear)} clear "
        "within."
        for sash in light.sashes
    )
    w.say(
        f"{path}.ring",
        "Its ring",
        w.length(f"{path}.face", fill.face, "Sash face"),
        "wide,",
        w.length(f"{path}.depth", fill.depth, "Sash depth"),
        "deep, set back",
        w.length(f"{path}.setback", fill.setback, "Sash set-back"),
        ",",
        w.length(f"{path}.clearance", fill.clearance, "Clearance of the sash"),
        clear,
        w.section(path, fill.section, w.edge(f"{path}.edge", fill.edge, "Sash"), "the sash"),
        ", joints",
        w.choice(f"{path}.joint", fill.joint, JOINTS, "Joints of the ring"),
        ". Opened",
        w.number(f"{path}.opened", fill.opened, "Opened in percent"),
        "%.",
        nested=True,
        told=told,
    )
    own = _say_each(w, path, light, fill, handed)
    for side, words in RAILS.items():
        if side in fill.sides:
            own += [
                words,
                w.length(f"{path}.sides.{side}", fill.sides[side], f"Face of the {words}", "as the ring"),
                ",",
            ]
        else:
            own += [
                Action(f"{path}.sides.{side}", f"Own {words}", f"Give the {words} a face of its own", fill.face.text)
            ]
    inside = Action(f"{path}.content", "Into the sash", "Look at what the sash holds", looks="at")
    w.say(f"{path}.sides", *own, inside, nested=True)
    say_hardware(w, path, fill)
