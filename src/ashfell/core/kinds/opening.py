"""Openings: the ways a sash can move, each kind as one record.

Sashes that turn and sashes that slide are two families; a document names the first by its ``opening``, the second by
its ``slide``.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal

import numpy as np

from ashfell.core.base.registry import KeyOf, Registry
from ashfell.core.plane.points import Floats

if TYPE_CHECKING:
    from ashfell.core.kinds.fillings.hung import Hung
    from ashfell.core.kinds.fillings.sliders import Sliders
    from ashfell.core.unit.layout import Light, Rect

Bounds = tuple[float, float, float, float]
"""Left, foot, right and head of a sash, mm."""
Hand = Literal["left", "right"]


@dataclass(frozen=True)
class Hinge:
    """The line a sash turns about.

    Attributes
    ----------
    upright : bool
        Whether it runs along v; else along u.
    at : float
        Where it is on the other axis, mm.
    degrees : float
        How far the sash turns about it when it is opened by 100 %, by the right-hand rule about +u or +v when it swings
        outwards.
    pivots : bool
        Whether it lies in the middle of the sash and of its depth; else at the edge, on the face the sash swings to.
    """

    upright: bool
    at: float
    degrees: float
    pivots: bool = False

    def line(self, bounds: Bounds) -> tuple[tuple[float, float], tuple[float, float]]:
        """From end to end of a sash, on the elevation."""
        left, foot, right, head = bounds
        return ((self.at, foot), (self.at, head)) if self.upright else ((left, self.at), (right, self.at))


@dataclass(frozen=True, eq=False)
class Swept:
    """What a leaf sweeps over, as (u, w) in its unit: its corners shut, (4, 2) mm, the axis that it turns about, the
    corner that goes farthest, by how many degrees it turns and stands open by the right-hand rule about +v, and from
    where to where it reaches up, mm."""

    corners: Floats
    axis: Floats
    edge: Floats
    turns: float
    opened: float
    foot: float
    head: float
    strikes: bool = True
    """Whether it moves where other things may stand; not in a pocket."""
    step: ClassVar[float] = 2.5
    """By how much it is moved from one look at it to the next."""
    unit: ClassVar[str] = "°"
    """In what its way is told."""

    def on_the_way(self) -> list[float]:
        """How far it is open from one look to the next, until it is as far as it goes."""
        count = int(abs(self.turns) // self.step)
        way = float(np.sign(self.turns)) * self.step
        return [*(way * k for k in range(1, count + 1)), self.turns]

    def at(self, degrees: float, points: Floats | None = None) -> Floats:
        """Where its corners, or other points of it, are when it is turned so far."""
        cosine, sine = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
        turn = np.array([[cosine, sine], [-sine, cosine]])
        return np.asarray(((self.corners if points is None else points) - self.axis) @ turn.T + self.axis)

    def line(self, most: float) -> Floats:
        """From the axis along the leaf where it is open by ``most`` degrees at most, and back along the arc of its edge
        to where that is shut, (n, 2)."""
        far = np.copysign(min(abs(self.turns), most), self.turns)
        arc = [self.at(degrees, self.edge[None])[0] for degrees in np.linspace(far, 0.0, 25)]
        return np.vstack([self.axis, *arc])


@dataclass(frozen=True)
class Turning:
    """One way a sash can turn, or be fixed.

    Attributes
    ----------
    key : str
        Its ``opening`` in documents.
    words : str
        As it stands in a sentence: "side-hung".
    hinge : callable
        The line a sash turns about, from its entry, the hand it is hung on and its bounds; None for one that is fixed.
    operation : callable
        The IfcWindowPanelOperationEnum (IFC4, ISO 16739-1) for a hand, ``LEFT`` or ``RIGHT`` as seen from outside.
    order : int
        Where it stands among the others.
    pair : bool
        Whether two leaves share the light, one hung on each side.
    handed : bool
        Whether the page asks for a hand.
    swings : bool
        Whether it may swing either way; else ``inwards`` says which.
    inwards : bool
        Which way one swings that cannot do both.
    stopped : bool
        Whether it closes against a stop.
    tilts : bool
        Whether it can be tilted instead of turned.
    moves : bool
        Whether it opens at all.
    stacked : bool
        Whether it is parted across, each part opened by itself.
    """

    key: str
    words: str
    hinge: Callable[[Hung, Hand, Bounds], Hinge | None]
    operation: Callable[[str], str]
    order: int
    pair: bool = False
    handed: bool = False
    swings: bool = True
    inwards: bool = False
    stopped: bool = True
    tilts: bool = False
    moves: bool = True
    stacked: bool = False

    def swings_in(self, fill: Hung) -> bool:
        """Whether a sash swings inwards."""
        return fill.swing == "in" if self.swings else self.inwards


@dataclass(frozen=True)
class Panel:
    """One sliding sash: its name, where it is when it is closed, its track counted from the outside, the faces that
    differ from its ring's, and how far it slides when it is fully open, mm."""

    name: str
    rect: Rect
    track: int
    faces: dict[str, Fraction]
    slides: tuple[float, float]


@dataclass(frozen=True)
class Sliding:
    """One way sashes can slide past each other.

    Attributes
    ----------
    key : str
        Its ``slide`` in documents.
    words : str
        As it stands in a sentence: "up and down".
    panels : callable
        The sashes, from the light that they are in and its entry. Refuses what cannot slide.
    operation : str
        The IfcWindowPanelOperationEnum (IFC4, ISO 16739-1).
    say : callable
        What the list says of it: a few words and slots between the way of sliding and the meeting rails.
    meeting : str
        What its meeting members are called: "rails".
    order : int
        Where it stands among the others.
    handed : bool
        Whether each sash may be told to which hand it slides.
    """

    key: str
    words: str
    panels: Callable[[Light, Sliders], list[Panel]]
    operation: str
    say: Callable[[Any, str, Sliders], list[Any]]
    meeting: str
    order: int
    handed: bool = False


TURNINGS: Registry[Turning] = Registry("opening", "ashfell.core.kinds.openings")
"""Every way a sash can turn, by key."""
SLIDINGS: Registry[Sliding] = Registry("way of sliding", "ashfell.core.kinds.openings")
"""Every way sashes can slide, by key."""

TurningKey = Annotated[str, KeyOf(TURNINGS)]
SlidingKey = Annotated[str, KeyOf(SLIDINGS)]
