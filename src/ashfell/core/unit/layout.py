"""The exact two-dimensional layout of a unit: where every member and every light is, in rational millimetres, and the
loops they are made from."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from functools import cached_property
from typing import TYPE_CHECKING, Literal

from shapely.geometry import Polygon

from ashfell.core.base.address import entry_below
from ashfell.core.base.spacing import Asked, Rule, Spacing, alternatives
from ashfell.core.kinds.filling import FillEntry, Filling, filling_of
from ashfell.core.parts import Member
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.outline import Outline
from ashfell.core.plane.points import Floats
from ashfell.core.solid.section import Edge
from ashfell.core.solid.sweep import Section
from ashfell.core.unit.document.glazing import Glazing
from ashfell.core.unit.document.members import Axis
from ashfell.core.unit.seat import Seat

if TYPE_CHECKING:
    from ashfell.core.unit.document.cell import Cell


@dataclass(frozen=True)
class Rect:
    """A rectangle in unit space, mm: lower left corner, width, height."""

    x: Fraction
    y: Fraction
    width: Fraction
    height: Fraction

    @property
    def right(self) -> Fraction:
        """The right edge, mm."""
        return self.x + self.width

    @property
    def head(self) -> Fraction:
        """The upper edge, mm."""
        return self.y + self.height

    def inset(self, by: Fraction) -> Rect:
        """The rectangle inside it, a distance from every side, mm."""
        return Rect(self.x + by, self.y + by, self.width - 2 * by, self.height - 2 * by)


USUAL_GLAZING = Glazing()


@dataclass(frozen=True, eq=False)
class Ring:
    """A closed ring of members: the frame, an extra ring, a sash. ``faces`` (c,) are the widths along its edges;
    ``front`` and ``back`` are planes behind the unit's outer face, mm. Without a ``seat`` its section is plain."""

    key: str
    entry: str
    role: Literal["frame", "sash", "leaf"]
    loop: Loop
    faces: Floats
    clear: Loop
    front: Fraction
    back: Fraction
    edge: Edge
    joint: Literal["mitred", "jambs", "head"] = "mitred"
    glazing: Glazing = USUAL_GLAZING
    glazing_entry: str = "glazing"
    seat: Seat | None = None
    section: Section | None = None
    """One of its own instead of a face between worked edges: (inwards from the outer edge, w from its front), mm; not
    yet fitted to its face and depth, nor rebated."""
    own_sides: Mapping[str, str] = field(default_factory=dict)
    """The names of its sides whose faces are given apart, and the entry of each below its own."""

    @cached_property
    def exact_faces(self) -> tuple[Fraction, ...]:
        """The different faces along its edges, mm; those of its straight ones, where it has such."""
        straight = [face for face, curved in zip(self.faces.tolist(), self.loop.curved, strict=True) if not curved]
        return tuple(Fraction(f).limit_denominator(10**9) for f in dict.fromkeys(straight or self.faces.tolist()))

    @cached_property
    def least_face(self) -> Fraction:
        """The narrowest face of its members, mm: of a curved one where that is narrower than the straight."""
        straight = min((face for face in self.exact_faces if face), default=Fraction(0))
        curved = min((face for face in self.faces.tolist() if face), default=0.0)
        return Fraction(curved).limit_denominator(10**6) if curved < straight - Fraction(1, 10**6) else straight

    @cached_property
    def bare(self) -> frozenset[str]:
        """The names of its sides that have no member."""
        return frozenset(tag for tag, face in zip(self.loop.tags, self.faces.tolist(), strict=True) if not face)


@dataclass(frozen=True)
class BarRun:
    """One bar, or a stretch of one between two that run through.

    ``start`` and ``end`` are where its face begins and ends along its axis; behind the stops of the members it meets it
    goes on by ``tongue_start`` and ``tongue_end``, into their rebates. ``rebate`` is the depth of the rebates on its
    two sides. A bar that something cuts has ``face_region`` and ``stem_region``, and one that does not run along u
    or v the ``points`` of its centre line (two, or those of an arc).
    """

    id: str
    entry: str
    axis: Axis | None
    across: Fraction
    face: Fraction
    start: Fraction
    end: Fraction
    tongue_start: Fraction
    tongue_end: Fraction
    rebate: Fraction
    front: Fraction
    stop: Fraction
    back: Fraction
    edge: Edge
    section: Section | None = None
    """One of its own, fitted: (across from its centre line, w from the unit's outer face), mm."""
    face_region: Polygon | None = None
    stem_region: Polygon | None = None
    points: tuple[tuple[float, float], ...] = ()


@dataclass(frozen=True, eq=False)
class CellLayout:
    """A divided (or whole) cell: its spacing along both axes, measured from ``left`` and ``foot`` in unit space.

    ``path`` is the document path of the cell, ``key`` what its lights' keys begin with."""

    path: str
    key: str
    cell: Cell
    columns: Spacing
    rows: Spacing
    left: Fraction
    foot: Fraction
    loop: Loop
    edges: dict[Axis, str]
    asked: Mapping[Axis, Asked] = field(default_factory=dict)

    def spacing(self, axis: Axis) -> Spacing:
        """The division along an axis."""
        return self.columns if axis == "columns" else self.rows

    def origin(self, axis: Axis) -> Fraction:
        """Where the spacing along an axis is measured from, in unit space, mm."""
        return self.left if axis == "columns" else self.foot

    def rules(self, axis: Axis) -> dict[Rule, Spacing]:
        """What each rule that fits gives along an axis, its own among them."""
        return alternatives(self.spacing(axis), **self.asked.get(axis, {}))


@dataclass(frozen=True)
class Pane:
    """A piece of glass, or a panel, as it is cut: its overall size, exact where its light is a rectangle, and how thick
    it is, mm.
    """

    width: Fraction
    height: Fraction
    thickness: Fraction
    exact: bool = True


Point3 = tuple[float, float, float]


@dataclass(frozen=True, eq=False)
class Content:
    """What fills a light, solved: the panes and the sashes in it. Each filling has a content of its own with what else
    of it has a size."""

    panes: tuple[Pane, ...] = ()
    sashes: tuple[SashLayout, ...] = ()
    pockets: tuple[tuple[Point3, Point3], ...] = ()
    """What the wall beside the unit must leave free for it: boxes from corner to corner, mm."""
    hidden: frozenset[str] = frozenset()
    """The sides, ``outside`` and ``inside``, from which the wall hides all of it but what the opening shows."""
    stands: str = ""
    """How its unit is placed in a wall where nobody says otherwise."""
    proud: Fraction = Fraction(0)
    """How far it stands before and behind the planes that it lies between, mm."""

    @property
    def seen(self) -> tuple[Polygon, ...]:
        """The pieces of glass that are seen between muntins, from the lower left; none where there are no muntins."""
        return ()

    @property
    def spread(self) -> Polygon | None:
        """What it takes up of the elevation where that is more than its light."""
        return None

    @property
    def grid(self) -> CellLayout | None:
        """A grid of muntins as a cell, for its strips."""
        return None


EMPTY = Content()


@dataclass(frozen=True, eq=False)
class Bed:
    """What a seated filling lies in: the edge of the glass behind the members round it, (c, 2) mm."""

    pane: Floats


@dataclass(frozen=True, eq=False)
class Light:
    """One light: its loop, its exact clear size, and what fills it. ``path`` is the document path of its cell, in which
    ``fill`` may or may not be said; ``cell`` that of the cell it is a light of."""

    key: str
    path: str
    cell: str
    column: int
    row: int
    clear: Rect
    loop: Loop
    fill: FillEntry
    ring: Ring
    content: Content = EMPTY

    @property
    def entry(self) -> str:
        """The entry of its filling."""
        return entry_below(self.path, "fill")

    @property
    def is_rectangle(self) -> bool:
        """Whether its clear outline is a rectangle along the axes."""
        return self.loop.is_rectangle

    @property
    def filling(self) -> Filling:
        """The record of its kind of filling."""
        return filling_of(self.fill)

    @property
    def sashes(self) -> tuple[SashLayout, ...]:
        """The sashes that hang or slide in it."""
        return self.content.sashes

    @property
    def seat(self) -> Seat:
        """How glass sits in its ring; only a ring that holds seated fillings has one."""
        assert self.ring.seat is not None
        return self.ring.seat


@dataclass(frozen=True, eq=False)
class Body:
    """What one ring holds, and the members of all of it: its own ring's first, those of the sashes in it where they
    are.
    """

    ring: Ring
    cells: tuple[CellLayout, ...]
    lights: tuple[Light, ...]
    bars: tuple[BarRun, ...]
    members: tuple[Member, ...] = ()

    @property
    def all_bodies(self) -> Iterator[Body]:
        """This one, then those of its sashes, from the outside inwards."""
        yield self
        for light in self.lights:
            for sash in light.sashes:
                yield from sash.body.all_bodies


@dataclass(frozen=True, eq=False)
class SashLayout:
    """A sash: what it holds, and the motion (4, 4) that opens it."""

    name: str
    body: Body
    motion: Floats | None
    axis: tuple[tuple[float, float], ...]
    """Where its hinges are on the elevation, for opening symbols: two points, none for a sliding sash."""
    slides: tuple[float, float] = (0.0, 0.0)
    """How far it slides when it is fully open, mm."""
    entry: str = ""
    """Its own address, where that is not one of those in ``each``."""

    def key_in(self, light: Light) -> str:
        """Its key in its unit: that of its light and its name."""
        return f"{light.key}.{self.name.replace(' ', '') or 'sash'}"

    def entry_in(self, light: Light) -> str:
        """Its address: that of its filling, or where there are several that of its own entry in it."""
        if self.entry:
            return self.entry
        return f"{light.entry}.each.{self.name.replace(' ', '-')}" if self.name else light.entry


@dataclass(frozen=True, eq=False)
class Layout:
    """A solved unit: everything in it that has a size. Its ``members`` are all that is to be made, and ``pieces`` what
    was counted of them."""

    outer: Rect
    outline: Outline
    rings: tuple[Ring, ...]
    body: Body
    members: tuple[Member, ...] = ()
    pieces: int = 0

    @property
    def root(self) -> CellLayout:
        """The cell that the frame encloses."""
        return self.body.cells[0]

    @property
    def columns(self) -> Spacing:
        """The division of the whole unit into columns."""
        return self.root.columns

    @property
    def rows(self) -> Spacing:
        """The division of the whole unit into rows."""
        return self.root.rows

    def spacing(self, axis: Axis) -> Spacing:
        """The division of the whole unit along an axis."""
        return self.root.spacing(axis)

    @property
    def holder(self) -> Ring:
        """The ring that holds everything: the frame, or one inside it."""
        return self.body.ring

    @property
    def frame(self) -> Ring:
        """The frame itself, whatever rings there are."""
        return next((ring for ring in self.rings if ring.entry == "frame"), self.holder)

    @property
    def outermost(self) -> Ring:
        """The frame, or the outermost ring round it."""
        return max((*self.rings, self.holder), key=lambda ring: ring.loop.area)

    @cached_property
    def overall(self) -> Rect:
        """The size over the outermost ring, in unit space; that of the document where the frame is outermost."""
        ring = self.outermost
        if ring.entry == "frame" or not self.rings:
            return self.outer
        left, foot, right, head = (Fraction(round(value, 6)).limit_denominator(10**6) for value in ring.loop.bounds)
        return Rect(left, foot, right - left, head - foot)

    @cached_property
    def depth(self) -> tuple[Fraction, Fraction]:
        """Front and back of the frame with its rings, mm behind the unit's outer face."""
        rings = (*self.rings, self.holder)
        return min(ring.front for ring in rings), max(ring.back for ring in rings)

    @cached_property
    def bodies(self) -> tuple[Body, ...]:
        """What every ring holds, from the frame inwards."""
        return tuple(self.body.all_bodies)

    @cached_property
    def cells(self) -> dict[str, CellLayout]:
        """Every cell by its document path."""
        return {cell.path: cell for body in self.bodies for cell in body.cells}

    @cached_property
    def lights(self) -> tuple[Light, ...]:
        """Every light, those of sashes behind the one the sash is in."""
        return tuple(light for body in self.bodies for light in body.lights)

    @property
    def all_rings(self) -> tuple[Ring, ...]:
        """Frame, extra rings and sashes."""
        return (*self.rings, *(body.ring for body in self.bodies))

    @property
    def bars(self) -> tuple[BarRun, ...]:
        """Every bar, those of sashes behind those of the frame."""
        return tuple(bar for body in self.bodies for bar in body.bars)
