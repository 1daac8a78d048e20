"""The sheet of a unit as values: everything that is drawn on it, in millimetres of paper from its upper left corner,
and the address of the entry that each number changes. Whoever draws it, on a page or into a file, only draws."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ashfell.core.base.address import stretches
from ashfell.core.drawing.paper import Sheet
from ashfell.core.seen import Shape
from ashfell.core.unit.document.members import AXES, Axis

View = Literal["outside", "inside", "across", "up"]
VIEWS: dict[View, str] = {"outside": "Outside", "inside": "Inside", "across": "Cut across", "up": "Cut up"}
AXES_OF: dict[View, tuple[Axis, ...]] = {"outside": AXES, "inside": AXES, "across": ("columns",), "up": ("rows",)}
"""Along which axes a view has dimensions."""
ELEVATIONS = ("outside", "inside")


Zoom = float
"""How many times as large as the whole sheet is shown."""


@dataclass(frozen=True)
class Figure:
    """A number on the sheet: the address that typing over it changes, as it is shown, its exact size, what it is
    called, and where it stands. ``stretch`` is the column or row it is the size of, ``about`` the address of the
    members it measures.
    """

    id: str
    entry: str
    value: str
    exact: str
    label: str
    x: float
    y: float
    width: float
    height: float
    stretch: str = ""
    about: str = ""
    small: bool = False
    typed: str = ""
    """As it was typed, or its exact size, where that differs from what is shown."""
    zoom: Zoom = 0.0
    """From how near it is shown."""


@dataclass(frozen=True)
class Handle:
    """What makes a bar's stretch movable: along which axis, where it is and how far it can go, mm of the unit."""

    axis: Axis
    label: str
    now: float
    least: float
    most: float
    text: str


@dataclass(frozen=True)
class Box:
    """A stretch of a strip: a light or a member, to scale. ``about`` is the address of the member, ``move`` that of a
    bar that can be moved."""

    kind: str
    x: float
    y: float
    width: float
    height: float
    about: str
    stretch: str = ""
    handle: Handle | None = None
    move: str = ""


@dataclass(frozen=True)
class Lock:
    """A switch that locks a light at its size, or lets it share again; a square of ``size``."""

    id: str
    entry: str
    locked: bool
    label: str
    x: float
    y: float
    size: float
    stretch: str = ""
    zoom: Zoom = 0.0
    """From how near it is shown."""


@dataclass(frozen=True)
class Mark:
    """A small word on the sheet that nobody types over."""

    text: str
    x: float
    y: float
    anchor: Literal["start", "middle", "end"] = "middle"


@dataclass(frozen=True)
class Line:
    """A straight line of a dimension, or a tick at its end."""

    x1: float
    y1: float
    x2: float
    y2: float


Points = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Stroke:
    """An opening symbol: its lines, whether it swings towards the one who looks, and the address it is for."""

    paths: tuple[Points, ...]
    kind: str
    away: bool
    entry: str


@dataclass(frozen=True)
class Pick:
    """A light that can be picked: its outline, its key, the address of its cell, and whether it is looked at."""

    points: Points
    key: str
    at: str
    chosen: bool

    @property
    def label(self) -> str:
        """What it is called."""
        return f"Light {self.key}"

    @property
    def within(self) -> str:
        """The columns and rows that it is in."""
        return " ".join(stretches(self.key))


@dataclass(frozen=True)
class Grip:
    """What something on an elevation is taken hold of by: the address that it is moved by, and where it is."""

    entry: str
    label: str
    x: float
    y: float


@dataclass(frozen=True)
class KeyElevation:
    """A small elevation beside a section, with the line it is taken along; ``now`` is how far along that is."""

    axis: Axis
    outlines: tuple[Points, ...]
    left: float
    top: float
    width: float
    height: float
    line: Line
    now: str


@dataclass(frozen=True)
class UnitSheet:
    """All that is drawn on the sheet of a unit; ``paper`` says where its millimetres are on it."""

    view: View
    paper: Sheet
    shapes: tuple[Shape, ...]
    boxes: tuple[Box, ...]
    figures: tuple[Figure, ...]
    locks: tuple[Lock, ...]
    marks: tuple[Mark, ...]
    lines: tuple[Line, ...]
    strokes: tuple[Stroke, ...]
    picks: tuple[Pick, ...]
    key: KeyElevation | None = None
    grips: tuple[Grip, ...] = ()

    @property
    def told(self) -> tuple[Figure, ...]:
        """The figures that have room on the whole sheet."""
        return tuple(figure for figure in self.figures if figure.zoom <= 1)

    @property
    def mirrored(self) -> bool:
        """Whether left and right change places."""
        return self.view == "inside"
