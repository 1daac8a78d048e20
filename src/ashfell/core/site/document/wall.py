"""Walls in a site document, and the storeys they stand on."""

from __future__ import annotations

from fractions import Fraction
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator
from pydantic_core import PydanticCustomError

from ashfell.core.base.document import Document, Gap, Key, Name, Place, Size, mm
from ashfell.core.base.registry import OneOf
from ashfell.core.kinds.curve import CURVES, Curve

Angle = Annotated[float, Field(ge=-360, le=360)]
"""Degrees, counter-clockwise in plan."""


class Storey(Document):
    """A storey: it stands on the one before it, the first of them at level 0; ``height`` is from floor to floor."""

    id: Key
    name: Name = "Storey"
    height: Size = mm("3000")


class Leaf(Document):
    """A leaf of a wall; without a finish it is a cavity."""

    thickness: Size = mm("50")
    finish: Key | None = None


class Ridge(Document):
    """Where the top of a wall is highest, or lowest: ``at`` so far from its start, in its middle where that is not
    said."""

    at: Size | None = None
    height: Size = mm("4000")


class Wall(Document):
    """A wall. Seen from outside its reference line runs from ``x, y`` to the right.

    The line is ``length`` long from end to end at an ``angle``, or ``curve`` says how it leaves the straight between
    its ends; the wall's ``reference`` face, or its middle, stands on it. The wall stands ``base`` above the level of
    its ``storey`` (above 0 without one) and is ``height`` high at its start; with ``up_to`` it reaches the top of that
    storey instead. Its top runs straight to ``end_height`` at its end, or over a ``ridge``. Behind the outer leaf,
    which takes what is left of the thickness and has the finish ``outside``, stand its ``leaves`` from the outside in,
    and the ``lining`` with the finish ``inside``. At the ``corner`` where it ends and another begins both are mitred,
    or it runs ``through``, or is ``stopped`` at the other. One that is not ``built`` is the line alone that units stand
    on by themselves.
    """

    id: Key
    name: Name = "Wall"
    x: Place = mm("0")
    y: Place = mm("0")
    angle: Angle = 0.0
    length: Size = mm("4000")
    curve: Annotated[Curve, OneOf(CURVES)] | None = None
    reference: Literal["outside", "centre", "inside"] = "outside"
    corner: Literal["mitred", "through", "stopped"] = "mitred"
    storey: Key | None = None
    base: Place = mm("0")
    height: Size = mm("2700")
    up_to: Key | None = None
    end_height: Size | None = None
    ridge: Ridge | None = None
    thickness: Size = mm("300")
    leaves: tuple[Leaf, ...] = ()
    lining: Gap = mm("15")
    outside: Key = "river-brick"
    inside: Key = "lime-plaster"
    built: bool = True

    @property
    def outer_leaf(self) -> Fraction:
        """Thickness of the leaf that its other leaves stand behind, mm."""
        return self.thickness.mm - self.lining.mm - sum(leaf.thickness.mm for leaf in self.leaves)

    @property
    def inner_leaf(self) -> Fraction:
        """Thickness of its last leaf with the lining on it, mm."""
        return self.lining.mm + (self.leaves[-1].thickness.mm if self.leaves else self.outer_leaf)

    @model_validator(mode="after")
    def _leaves_within(self) -> Self:
        behind = sum((leaf.thickness.mm for leaf in self.leaves), self.lining.mm)
        if behind >= self.thickness.mm:
            told = {"lining": self.lining.text, "thickness": self.thickness.text, "behind": f"{float(behind):g}"}
            if self.leaves:
                raise PydanticCustomError(
                    "leaves_within_the_wall",
                    "Leaves and lining of {behind} mm leave nothing for the outer leaf of a wall {thickness} thick.",
                    told,
                )
            raise PydanticCustomError(
                "lining_within_the_wall", "A lining of {lining} leaves nothing of a wall {thickness} thick.", told
            )
        return self

    @property
    def before(self) -> Fraction:
        """How far its outer face stands before its reference line, mm."""
        return {"outside": Fraction(0), "centre": self.thickness.mm / 2, "inside": self.thickness.mm}[self.reference]
