"""The exact two-dimensional layout of a unit: where every member and every light is, in rational millimetres."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from ashfell.core.outline import Outline
from ashfell.core.spacing import Spacing
from ashfell.core.unit.document import Axis


@dataclass(frozen=True)
class Rect:
    """A rectangle in unit space, mm: lower left corner, width, height."""

    x: Fraction
    y: Fraction
    width: Fraction
    height: Fraction

    def grown(self, left: Fraction, right: Fraction, below: Fraction, above: Fraction) -> Rect:
        """Larger by its own amount on each side."""
        return Rect(self.x - left, self.y - below, self.width + left + right, self.height + below + above)


@dataclass(frozen=True)
class LightCell:
    """One light: its clear rectangle, and the pane in it."""

    column: int
    row: int
    clear: Rect
    pane: Rect

    @property
    def key(self) -> str:
        return f"c{self.column + 1}r{self.row + 1}"


@dataclass(frozen=True)
class BarRun:
    """One mullion or transom, or a stretch of one between two that run through.

    ``start`` and ``end`` are where its face begins and ends along its axis; behind the stops of the members it meets
    it goes on by ``tongue_start`` and ``tongue_end``, into their rebates. ``rebate`` is the depth of
    the rebates on its two sides.
    """

    axis: Axis
    index: int
    stretch: int | None
    across: Fraction
    face: Fraction
    start: Fraction
    end: Fraction
    tongue_start: Fraction
    tongue_end: Fraction
    rebate: Fraction

    @property
    def id(self) -> str:
        kind, cell = ("mullion", "r") if self.axis == "columns" else ("transom", "c")
        return f"{kind}.{self.index + 1}" + ("" if self.stretch is None else f".{cell}{self.stretch + 1}")

    @property
    def entry(self) -> str:
        return f"{self.axis}.bars.{self.index}"


@dataclass(frozen=True)
class Depths:
    """Planes across the depth of the unit, as distances behind the frame's outer face, mm."""

    bar_front: Fraction
    stop_back: Fraction
    glass_front: Fraction
    glass_back: Fraction
    bead_front: Fraction
    bead_back: Fraction
    bar_back: Fraction
    frame_back: Fraction


@dataclass(frozen=True)
class Layout:
    """A solved unit."""

    outer: Rect
    columns: Spacing
    rows: Spacing
    lights: tuple[LightCell, ...]
    bars: tuple[BarRun, ...]
    depths: Depths
    frame_rebate: Fraction

    @property
    def outline(self) -> Outline:
        """The outer edge of the frame."""
        return Outline.rectangle(float(self.outer.width), float(self.outer.height))

    def spacing(self, axis: Axis) -> Spacing:
        return self.columns if axis == "columns" else self.rows
