"""Hardware: what is fixed to the face of a sash or a leaf, each kind as one record, placed by its height above the foot
and its distance from an edge."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import cached_property, lru_cache
from math import ceil, cos, floor, hypot, inf, sin
from typing import TYPE_CHECKING, Annotated, Any, Literal

import numpy as np
from pydantic import Field
from shapely.geometry import MultiPoint, Polygon

from ashfell.core.base.document import Document, Gap, Key, mm
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.registry import OneOf, Registry
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.fillings.over import Over
from ashfell.core.kinds.roles import ROLES, Finishes, Role
from ashfell.core.parts import Member
from ashfell.core.plane.points import TOUCH, Floats
from ashfell.core.solid.form import Form, Placed
from ashfell.core.unit.layout import Light, SashLayout
from ashfell.core.unit.say.writer import Action, Writer

if TYPE_CHECKING:
    from ashfell.core.kinds.fillings.sashes import Sashes

ROLES.register(Role("hardware", "Hardware", "brushed-metal", (176, 174, 170), 110))


class HardwareEntry(Document):
    """Where a piece is: its ``height`` above the foot of its sash, told of its ``to``; its distance from the ``edge``
    on the ``side`` that opens or is hinged; on which faces; turned about its own place in degrees. ``of`` names the
    sash of several it is on (null: the first)."""

    kind: str
    height: Gap = mm("1000")
    to: Literal["middle", "top", "foot"] = "middle"
    edge: Gap = mm("60")
    side: Literal["opening", "hinged"] = "opening"
    faces: Literal["both", "outside", "inside"] = "both"
    turned: Annotated[float, Field(ge=-360, le=360)] = 0.0
    of: Key | None = None
    finish: Key | None = None


@dataclass(frozen=True, eq=False)
class Piece:
    """A piece of hardware in its own space: x from its edge towards the middle of the sash, y up, z off the face that
    it is fixed to, mm."""

    name: str
    form: Form


@dataclass(frozen=True)
class HardwareKind:
    """One kind of hardware.

    Attributes
    ----------
    key : str
        Its ``kind`` in documents.
    words : str
        As the page offers it: "a lever".
    entry : type of HardwareEntry
    pieces : callable
        What it is made of, from its entry.
    order : int
        Where it stands among the others.
    by_axis : bool
        Whether its distance from the edge is told of its axis; else of its side.
    say : callable
        What the list says of its own sizes.
    """

    key: str
    words: str
    entry: type[HardwareEntry]
    pieces: Callable[[Any], list[Piece]]
    order: int
    say: Callable[[Writer, str, Any], list[Any]]
    by_axis: bool = False


HARDWARE: Registry[HardwareKind] = Registry("piece of hardware", "ashfell.core.kinds.hardwares")
"""Every kind of hardware, by key."""

OneHardware = Annotated[HardwareEntry, OneOf(HARDWARE)]
"""The type of a piece of hardware in a document."""


@dataclass(frozen=True, eq=False)
class _Standing:
    """A piece and its sash."""

    light: Light
    sash: SashLayout
    own: HardwareEntry
    entry: str

    @cached_property
    def _whole(self) -> tuple[tuple[Piece, ...], Floats]:
        try:
            return made_of(self.own)
        except Refusal as refusal:
            raise replace(refusal, entry=f"{self.entry}.{refusal.entry}") from None

    @property
    def made(self) -> tuple[Piece, ...]:
        return self._whole[0]

    @cached_property
    def bounds(self) -> Floats:
        """(2, 3): least and greatest corner of the piece, turned, in its own space, mm."""
        points = self._whole[1]
        return np.array([points.min(axis=0), points.max(axis=0)])

    @property
    def on_left(self) -> bool:
        """Whether its edge is the left one."""
        return (_hinged(self.light, self.sash) == "left") == (self.own.side == "hinged")

    def place(self) -> tuple[float, float]:
        """Its own place from its edge and above the foot of the sash, mm.

        Raises
        ------
        Refusal
            When the piece reaches over the edge of its sash.
        """
        (x0, y0, _), (x1, y1, _) = self.bounds.tolist()
        left, foot, right, head = self.sash.body.ring.loop.bounds
        edge, height = float(self.own.edge.mm), float(self.own.height.mm)
        x = edge if HARDWARE[self.own.kind].by_axis else edge - x0
        y = height - {"middle": (y0 + y1) / 2, "top": y1, "foot": y0}[self.own.to]
        self._check("edge", "wide", (x + x0, x + x1, right - left), edge)
        self._check("height", "high", (y + y0, y + y1, head - foot), height)
        return x, y

    def footprint(self, x: float, y: float) -> Polygon:
        """What it covers of the face that it is on, in the space of its unit, mm."""
        flat = made_of(self.own)[1][:, :2] + (x, y)
        left, foot, right, _ = self.sash.body.ring.loop.bounds
        across = left + flat[:, 0] if self.on_left else right - flat[:, 0]
        return MultiPoint(np.column_stack([across, foot + flat[:, 1]])).convex_hull.buffer(-TOUCH)

    def _check(self, name: str, along: str, reach: tuple[float, float, float], given: float) -> None:
        low, high, room = reach
        if low >= -1e-6 and high <= room + 1e-6:
            return
        moved = ceil((given - low) * 100) if low < 0 else floor((given - (high - room)) * 100)
        nearest = None if high - low > room else Fraction(moved, 100)
        raise Refusal(
            f"{self.entry}.{name}",
            "hardware on its sash",
            f"From {low:.1f} to {high:.1f} mm it reaches over the edge of a sash {room:.1f} mm {along}.",
            f"Make it {exact_mm(nearest)}." if nearest is not None else "Leave it out, or make it smaller.",
            nearest,
        )


@lru_cache(maxsize=256)
def made_of(own: HardwareEntry) -> tuple[tuple[Piece, ...], Floats]:
    """What a piece is made of, and its points turned as it is, (n, 3) in its own space, mm.

    Raises
    ------
    Refusal
        When it cannot be made.
    """
    pieces = tuple(HARDWARE[own.kind].pieces(own))
    points = np.concatenate([solid.vertices for piece in pieces for solid in piece.form.solids()])
    return pieces, points @ _about_z(own.turned)[:3, :3].T


TRIANGLES = 30
"""How many triangles of a piece are counted as one piece more in its unit."""


def pieces_counted(own: HardwareEntry) -> int:
    """How many pieces it counts as in its unit, on all its faces; one where it cannot be made, which is told later."""
    try:
        made, _ = made_of(own)
    except Refusal:
        return 1
    triangles = sum(len(solid.triangles) for piece in made for solid in piece.form.solids())
    return len(FACES_OF[own.faces]) * (len(made) + triangles // TRIANGLES)


def _about_z(degrees: float) -> Floats:
    matrix = np.eye(4)
    cosine, sine = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    matrix[:2, :2] = [[cosine, -sine], [sine, cosine]]
    return matrix


def _hinged(light: Light, sash: SashLayout) -> str:
    """The side that a sash is hinged on."""
    return sash.name if sash.name in ("left", "right") else getattr(light.fill, "hand", "left")


def hardware_members(light: Light, fill: Sashes, finishes: Finishes) -> Iterator[tuple[SashLayout, Member]]:
    """The hardware of the sashes of a light where it is on them shut, with its sash.

    Raises
    ------
    Refusal
        When a piece is on a sash that is not there, or reaches over its edge.
    """
    taken: dict[tuple[str, str], list[Polygon]] = {}
    for index, own in enumerate(fill.hardware):
        entry = f"{light.entry}.hardware.{index}"
        sash = _sash_of(light, fill, own, entry)
        standing = _Standing(light, sash, own, entry)
        x, y = standing.place()
        footprint = standing.footprint(x, y)
        for face in FACES_OF[own.faces]:
            _check_clear(standing, fill, face, footprint, taken.setdefault((sash.name, face), []))
            matrix = _on_face(standing, x, y, face)
            for piece in standing.made:
                name = f"hardware.{light.key}.{index + 1}.{piece.name}.{face}"
                finish = own.finish or finishes.of("hardware")
                grain = (0.0, 1.0, 0.0)
                yield sash, Member(name, entry, "hardware", finish, grain, Placed(piece.form, matrix), light.key)


def _sash_of(light: Light, fill: Sashes, own: HardwareEntry, entry: str) -> SashLayout:
    """The sash that a piece is on: the one it names, or the first to open."""
    names = {sash.name.replace(" ", "-"): sash for sash in light.sashes}
    first = next((sash for sash in light.sashes if sash.name == getattr(fill, "hand", "")), None)
    sash = names.get(own.of) if own.of else (first or (light.sashes[0] if light.sashes else None))
    if sash is None:
        there = [name for name in names if name]
        raise Refusal(
            f"{entry}.of",
            "a sash that is there",
            f"There is no sash “{own.of}”.",
            f"Name one of {', '.join(there)}, or leave it out." if there else "Leave it out.",
        )
    return sash


@dataclass(frozen=True)
class HardwarePlace:
    """Where a piece is told to be: its entry and its name, where its height and its distance are told to, as ``v`` and
    ``u``, and from where: the foot and the ``edge`` of its sash, shut, mm."""

    entry: str
    name: str
    own: HardwareEntry
    u: float
    v: float
    edge: float
    foot: float


def hardware_places(light: Light, fill: Sashes) -> Iterator[HardwarePlace]:
    """Where the hardware of the sashes of a light is told to be."""
    for index, own in enumerate(fill.hardware):
        entry = f"{light.entry}.hardware.{index}"
        standing = _Standing(light, _sash_of(light, fill, own, entry), own, entry)
        left, foot, right, _ = standing.sash.body.ring.loop.bounds
        edge, away = (left, 1.0) if standing.on_left else (right, -1.0)
        name = HARDWARE[own.kind].words.partition(" ")[2]
        u, v = edge + away * float(own.edge.mm), foot + float(own.height.mm)
        yield HardwarePlace(entry, name, own, u, v, edge, foot)


FACES_OF: dict[str, tuple[str, ...]] = {"both": ("outside", "inside"), "outside": ("outside",), "inside": ("inside",)}


def _check_clear(standing: _Standing, fill: Sashes, face: str, footprint: Polygon, taken: list[Polygon]) -> None:
    """Refuse a piece that stands in something: over the outline of its sash, in the strip that the sash closes against,
    in another piece, or where another sash moves."""
    sash, high = standing.sash, float(standing.bounds[1, 2])
    free = fill.free_face(standing.light, sash, face)
    where = ""
    if not footprint.within(free.region):
        where = "over the edge of what is free of this face"
    elif any(footprint.intersects(other) for other in taken):
        where = "in another piece"
    elif high > free.height:
        where = f"{high:.1f} mm out, and another sash moves {free.height:.1f} mm before this one"
    elif face == "outside" and any(footprint.intersects(over) for over in _risen(sash)):
        where = "in what rises over the face"
    elif not free.lies_clear(footprint, high):
        where = "so far out that it strikes what is beside the opening when the sash is turned onto that"
    elif not free.swings_clear(footprint, high):
        where = "so far out that it strikes the jamb when the sash swings"
    taken.append(footprint)
    if where:
        raise Refusal(
            standing.entry,
            "hardware that stands clear",
            f"On the {face} it stands {where}.",
            "Move it, put it on the other face, or leave it out.",
        )


def _risen(sash: SashLayout) -> Iterator[Polygon]:
    """What of the outer face of a sash something that it holds rises over."""
    for light in sash.body.lights:
        if isinstance(light.content, Over):
            yield light.content.covers


@dataclass(frozen=True)
class FreeFace:
    """What of a face of a sash takes hardware, and how far that may stand out of it, mm."""

    region: Polygon
    height: float = inf
    swing: tuple[int, float, float, float] | None = None
    """On which axis it swings (0: across, 1: up), where that is, how far before the face, and how far what swings about
    it may reach, mm."""

    laid: tuple[float, float, float] | None = None
    """Of a face that comes to lie beside its opening: where the axis is across, how far before the face, mm, and by how
    much it is turned, radians."""

    def lies_clear(self, footprint: Polygon, height: float) -> bool:
        """Whether a piece stays before what is beside the opening when its sash is turned onto that."""
        if self.laid is None:
            return True
        at, pin, turned = self.laid
        low, _, high, _ = footprint.bounds
        near = 0.0 if low <= at <= high else min(abs(low - at), abs(high - at))
        return near * sin(turned) + (height - pin) * cos(turned) >= -pin - TOUCH

    def swings_clear(self, footprint: Polygon, height: float) -> bool:
        """Whether a piece stays within what its sash may reach while that swings."""
        if self.swing is None:
            return True
        axis, at, before, far = self.swing
        low, high = footprint.bounds[axis], footprint.bounds[axis + 2]
        return hypot(max(abs(low - at), abs(high - at)), before + height) <= far


def _on_face(standing: _Standing, x: float, y: float, face: str) -> Floats:
    """From a piece's own space onto a face of its sash, (4, 4): on the inside it is its mirror image."""
    ring = standing.sash.body.ring
    left, foot, right, _ = ring.loop.bounds
    inwards = 1.0 if standing.on_left else -1.0
    out = 1.0 if face == "outside" else -1.0
    matrix = np.diag((inwards, 1.0, out, 1.0))
    matrix[:3, 3] = (
        (left if standing.on_left else right) + inwards * x,
        foot + y,
        -float(ring.front if face == "outside" else ring.back),
    )
    return np.asarray(matrix @ _about_z(standing.own.turned))


SIDES = {"opening": "the opening edge", "hinged": "the hinged edge"}
FACES = {"both": "on both faces", "outside": "outside", "inside": "inside"}
TOLD = {"middle": "its middle", "top": "its top", "foot": "its foot"}


def say_hardware(w: Writer, path: str, fill: Sashes) -> None:
    """The sentences of the hardware of a sash, and what can be added."""
    for index, own in enumerate(fill.hardware):
        entry, record = f"{path}.hardware.{index}", HARDWARE[own.kind]
        name = record.words.partition(" ")[2]
        publish = Action(entry, "Publish", f"Put the {name} into your catalogue", looks="publish")
        w.say(
            entry,
            name.capitalize(),
            w.choice(f"{entry}.faces", own.faces, FACES, f"Faces of the {name}"),
            ",",
            w.choice(f"{entry}.to", own.to, TOLD, f"What of the {name} is measured"),
            w.length(f"{entry}.height", own.height, f"Height of the {name}"),
            "above the foot,",
            w.length(f"{entry}.edge", own.edge, f"Distance of the {name} from its edge"),
            "from",
            w.choice(f"{entry}.side", own.side, SIDES, f"Edge of the {name}"),
            ", turned",
            w.number(f"{entry}.turned", own.turned, f"Turn of the {name}, in degrees"),
            "°,",
            *record.say(w, entry, own),
            w.finish(f"{entry}.finish", own.finish, f"Finish of the {name}", usual=w.of_role("hardware")),
            publish,
            Action(f"{entry}.duplicated", "Copy", f"Duplicate the {name}"),
            Action(f"{entry}.removed", "×", f"Remove the {name}"),
            nested=True,
        )
    adding = [
        Action(f"{path}.hardware.added", record.words, f"Add {record.words}", key) for key, record in HARDWARE.items()
    ]
    taking = Action(f"{path}.hardware", "one of the catalogue", "Take hardware from the catalogue", looks="catalogue")
    w.say(f"{path}.hardware", "Add", *adding, taking, nested=True)
