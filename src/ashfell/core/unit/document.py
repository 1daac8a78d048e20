"""The unit document: what somebody typed, kept as typed.

A unit is a ring (the frame) round a cell; a cell is divided into cells to any depth; what fills a light may be a sash, which
is again a ring round a cell.
"""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction
from typing import Annotated, Any, Literal, Self

from pydantic import Field, StringConstraints, model_validator
from pydantic_core import PydanticCustomError

from ashfell.core.base.document import Document, Gap, Key, Name, Share, Size, read
from ashfell.core.base.lengths import Length
from ashfell.core.base.spacing import Rule
from ashfell.core.solid.section import Edge, OwnSection
from ashfell.core.unit.outlines import OutlineEntry, Rectangle

Axis = Literal["columns", "rows"]
AXES: tuple[Axis, Axis] = ("columns", "rows")
CellKey = Annotated[str, StringConstraints(pattern=r"^c\d{1,2}r\d{1,2}$")]
Percent = Annotated[float, Field(ge=0, le=100)]


def _mm(value: str) -> Length:
    return Length.read(value)


class ExtraRing(Document):
    """Rings that follow the frame's outline inside or outside it: ``count`` of them, each ``step`` from the one before (or
    by its own ``steps`` for a side), ``setback`` behind the frame's face. A depth of null is the frame's."""

    place: Literal["inside", "outside"] = "inside"
    face: Size = _mm("20")
    depth: Size | None = None
    setback: Length = _mm("0")
    step: Gap = _mm("0")
    steps: dict[Key, Gap] = {}
    count: Annotated[int, Field(ge=1, le=20)] = 1
    edge: Edge = Edge()
    section: OwnSection | None = None


class Frame(Document):
    """The ring round the outline. A ``section`` of your own takes the place of its worked edges: x inwards from the outer
    edge, y forwards from the face; it is fitted to whatever face and depth there is, and the rebate is cut into it. So it is
    with extra rings, bars and sashes. ``sides`` have faces of their own by name (``head``, ``left``, ``right``, ``sill``);
    ``joint`` is mitred, or butted with the jambs or with head and sill running through."""

    face: Size = _mm("50")
    sides: dict[Key, Size] = {}
    depth: Size = _mm("80")
    edge: Edge = Edge()
    joint: Literal["mitred", "jambs", "head"] = "mitred"
    section: OwnSection | None = None
    rings: tuple[ExtraRing, ...] = ()


class Bars(Document):
    """What the mullions and transoms of a cell have in common; without a depth they end flush with the ring inside."""

    depth: Size | None = None
    setback: Gap = _mm("0")
    edge: Edge = Edge()
    section: OwnSection | None = None
    through: Axis = "columns"


class BarEntry(Document):
    """One bar; what it does not say, it has in common with the others."""

    face: Size
    depth: Size | None = None
    setback: Gap | None = None
    edge: Edge | None = None
    section: OwnSection | None = None

    @model_validator(mode="before")
    @classmethod
    def _from_its_face(cls, value: Any) -> Any:
        return {"face": value} if isinstance(value, (str, int, float, Length)) else value


class LightEntry(Document):
    """One light along an axis: a fixed clear size, or a share of what is left."""

    size: Size | None = None
    share: Share = Fraction(1)


class Division(Document):
    """The lights along one axis, and the bar between each two. Columns run from the left as seen from outside, rows from
    the sill up."""

    rule: Rule = "clear"
    lights: Annotated[tuple[LightEntry, ...], Field(min_length=1, max_length=60)] = (LightEntry(),)
    bars: tuple[BarEntry, ...] = ()

    @model_validator(mode="after")
    def _one_bar_between_two_lights(self) -> Self:
        if len(self.bars) != len(self.lights) - 1:
            raise PydanticCustomError(
                "one_bar_between_two_lights",
                "{lights} lights need {needed} bars between them, not {bars}.",
                {"lights": len(self.lights), "needed": len(self.lights) - 1, "bars": len(self.bars)},
            )
        return self


class AngledBar(Document):
    """A bar along the line (or, with a bulge, the arc) between two points, measured from the lower left corner of its
    cell's clear size; it goes on to the cell's edges."""

    x1: Length
    y1: Length
    x2: Length
    y2: Length
    bulge: Annotated[float, Field(ge=-1, le=1)] = 0.0
    face: Size = _mm("40")


class Gasket(Document):
    """The seal on both faces of the glass: its thickness, and how far it shows past the edge of the light."""

    thickness: Size = _mm("4")
    shows: Gap = _mm("2")


class Bead(Document):
    """What holds the glass from inside."""

    edge: Edge = Edge()


class Glazing(Document):
    """Glass in a rebate: ``setback`` from the ring's outer face, ``cover`` behind the ring, ``clearance`` from the bottom
    of the rebate. Bars may cover less or more than the ring does. ``thickness`` is of all ``panes`` together; with more
    than one each is ``pane`` thick and the cavities share the rest."""

    thickness: Size = _mm("24")
    setback: Size = _mm("24")
    cover: Size = _mm("12")
    bar_cover: Size | None = None
    clearance: Gap = _mm("3")
    panes: Annotated[int, Field(ge=1, le=3)] = 1
    pane: Size = _mm("4")
    gasket: Gasket = Gasket()
    bead: Bead = Bead()


class Range(Document):
    """From one number to another."""

    low: float
    high: float


class Lead(Document):
    """Leaded glass: a grid whose inner crossings are moved at random, or shards; ``jitter`` 0 to 1. Cames are ``came`` wide
    and stand ``proud`` of the glass, with a ``heart`` between the pieces; colours come from ranges of hue (degrees),
    saturation and lightness (0 to 1), ``plain`` being the share of pieces left clear."""

    pattern: Literal["grid", "brick", "shards"] = "grid"
    across: Annotated[int, Field(ge=1, le=60)] = 4
    up: Annotated[int, Field(ge=1, le=60)] = 6
    jitter: Annotated[float, Field(ge=0, le=1)] = 0.35
    seed: Annotated[int, Field(ge=0, le=2**31)] = 1
    came: Size = _mm("8")
    rim: Size | None = None
    heart: Size = _mm("2")
    proud: Size = _mm("1.5")
    glass: Size = _mm("4")
    hue: Range = Range(low=190, high=260)
    saturation: Annotated[Range, Field()] = Range(low=0.3, high=0.7)
    lightness: Range = Range(low=0.45, high=0.8)
    plain: Annotated[float, Field(ge=0, le=1)] = 0.2


class Muntins(Document):
    """Bars on the faces of the glass: a grid by divisions of its own, one set ``inset`` from the edges (perimeter),
    diamonds ``pitch`` wide and ``rise`` high, or ``spokes`` and ``circles`` about the middle of the foot of a head
    (``centre`` sets another point, from the lower left of the light). ``proud`` is how far they stand before the glass."""

    kind: Literal["grid", "perimeter", "diamond", "radial"] = "grid"
    columns: Division = Division()
    rows: Division = Division()
    width: Size = _mm("18")
    proud: Size = _mm("8")
    faces: Literal["outer", "inner", "both"] = "both"
    edge: Edge = Edge(kind="square")
    inset: Size = _mm("90")
    pitch: Size = _mm("180")
    rise: Size = _mm("260")
    spokes: Annotated[int, Field(ge=1, le=24)] = 3
    circles: tuple[Size, ...] = ()
    centre: tuple[Length, Length] | None = None


class Glass(Document):
    """Fixed glass; what it does not say is as in the unit's glazing."""

    kind: Literal["glass"] = "glass"
    thickness: Size | None = None
    setback: Size | None = None
    gasket: Gasket | None = None
    finish: Key | None = None
    lead: Lead | None = None
    muntins: Muntins | None = None


class Open(Document):
    """Nothing."""

    kind: Literal["open"]


class Panel(Document):
    """A panel in the rebate: flat, raised (``margin`` to the foot of a ``bevel`` up to a field ``rise`` higher), or flat and
    framed by a moulding ``margin`` wide that stands ``rise`` proud."""

    kind: Literal["panel"]
    style: Literal["flat", "raised", "framed"] = "raised"
    thickness: Size = _mm("24")
    margin: Size = _mm("30")
    bevel: Size = _mm("25")
    rise: Size = _mm("8")
    edge: Edge = Edge(kind="ovolo", size=_mm("6"))
    finish: Key | None = None


class Louvres(Document):
    """Blades across the light: a ``pitch`` apart, ``blade`` wide, ``thickness`` thick, at an ``angle`` from level in degrees,
    falling towards the outside."""

    kind: Literal["louvres"]
    pitch: Size = _mm("60")
    blade: Size = _mm("70")
    thickness: Size = _mm("8")
    angle: Annotated[float, Field(ge=0, le=80)] = 35.0
    setback: Gap = _mm("8")
    finish: Key | None = None


class _Sashes(Document):
    """What all sashes share: their ring, how it sits in the light, and their glazing (null: as the unit's)."""

    face: Size = _mm("45")
    sides: dict[Key, Size] = {}
    depth: Size = _mm("60")
    setback: Gap = _mm("0")
    clearance: Gap = _mm("4")
    edge: Edge = Edge()
    section: OwnSection | None = None
    opened: Percent = 0.0
    glazing: Glazing | None = None


Opening = Literal[
    "fixed",
    "side-hung",
    "side-hung-pair",
    "top-hung",
    "bottom-hung",
    "tilt-and-turn",
    "pivot-horizontal",
    "pivot-vertical",
]


class Sash(_Sashes):
    """A sash in the light, ``clearance`` from it all round, moved by its ``opening``. ``hand`` is the side its hinges are on
    as seen from outside; it swings ``out`` or ``in``. ``stop`` is how wide the strip is that it closes against."""

    kind: Literal["sash"]
    opening: Opening = "side-hung"
    hand: Literal["left", "right"] = "left"
    swing: Literal["out", "in"] = "out"
    tilted: bool = False
    stop: Gap = _mm("10")
    content: Cell = Field(default_factory=lambda: Cell())


class Sliders(_Sashes):
    """Sashes that slide past each other: ``up`` (two, the upper one outside the lower), or ``across`` (two or more, on
    ``tracks`` counted from the outside). ``meeting`` is the face of the rails or stiles that lap; ``gap`` lies between tracks."""

    kind: Literal["sliders"]
    slide: Literal["up", "across"] = "up"
    panels: Annotated[int, Field(ge=2, le=8)] = 2
    tracks: tuple[Annotated[int, Field(ge=1, le=8)], ...] = ()
    moves: Literal["lower", "upper", "both"] = "lower"
    meeting: Size | None = None
    gap: Gap = _mm("4")
    depth: Size = _mm("34")
    content: Cell = Field(default_factory=lambda: Cell())


Fill = Annotated[Glass | Sash | Sliders | Panel | Louvres | Open, Field(discriminator="kind")]


class Cell(Document):
    """A part of a unit: divided into columns and rows, each light of which may be a cell of its own, or filled.

    ``cells`` are the lights that differ, by key: ``"c2r1"`` is the second column's lowest light. ``span`` lets one take the
    place of its neighbours to the right and above. What a cell does not say of its fill is that of the cell it is in.
    """

    columns: Division = Division()
    rows: Division = Division()
    bars: Bars = Bars()
    angled: Annotated[tuple[AngledBar, ...], Field(max_length=12)] = ()
    cells: dict[CellKey, Cell] = {}
    span: tuple[Annotated[int, Field(ge=1, le=60)], Annotated[int, Field(ge=1, le=60)]] = (1, 1)
    fill: Fill | None = None

    @property
    def is_divided(self) -> bool:
        return len(self.columns.lights) > 1 or len(self.rows.lights) > 1


class Casing(Document):
    """A surround on a face of the wall: ``width`` across, ``projection`` off the wall, its inner edge lapping the frame by
    ``lap`` (negative leaves a step), on all sides or without the sill. ``forward`` is how far the wall's face stands before
    the frame's (behind it, inside). ``section`` is an own one: x outwards from the inner edge, y off the wall."""

    width: Size = _mm("70")
    projection: Size = _mm("18")
    lap: Length = _mm("10")
    sides: Literal["all", "no sill"] = "all"
    forward: Length = _mm("0")
    edge: Edge = Edge(kind="chamfer", size=_mm("4"))
    section: OwnSection | None = None


class Drip(Document):
    """A groove under the front of a sill."""

    width: Size = _mm("8")
    depth: Size = _mm("6")
    back: Size = _mm("15")


class Sill(Document):
    """A board under the unit: it stands ``projection`` out of the frame's face, slopes by ``fall`` over that (or by ``slope`` in degrees), is ``thickness``
    thick at its back, goes ``under`` the frame, and has ``horns`` past the sides, a worked nosing and a drip."""

    projection: Size = _mm("60")
    thickness: Size = _mm("45")
    fall: Gap = _mm("8")
    slope: Annotated[float, Field(ge=0, le=60)] | None = None
    under: Gap = _mm("80")
    horns: Gap = _mm("50")
    nosing: Edge = Edge(kind="round", size=_mm("6"))
    drip: Drip | None = Drip()


class Board(Document):
    """A plain board: an apron under the unit inside, or a drip over the head outside."""

    height: Size = _mm("90")
    projection: Size = _mm("20")
    over: Gap = _mm("40")
    edge: Edge = Edge(kind="chamfer", size=_mm("3"))


class Trim(Document):
    """What goes round a unit."""

    outside: Casing | None = None
    inside: Casing | None = None
    sill: Sill | None = None
    apron: Board | None = None
    head_drip: Board | None = None


class Finishes(Document):
    """The finish of each role, by key."""

    frame: Key = "white-paint"
    bar: Key = "white-paint"
    sash: Key = "white-paint"
    muntin: Key = "white-paint"
    glass: Key = "clear-glass"
    gasket: Key = "black-rubber"
    bead: Key = "white-paint"
    spacer: Key = "brushed-metal"
    panel: Key = "white-paint"
    louvre: Key = "white-paint"
    came: Key = "dull-lead"
    casing: Key = "white-paint"
    sill: Key = "white-paint"


class UnitDocument(Cell):
    """A window or door unit."""

    format: Literal["ashfell/unit/2"] = "ashfell/unit/2"
    name: Name = "Window"
    tags: tuple[Name, ...] = ()
    width: Size = _mm("1200")
    height: Size = _mm("1200")
    outline: OutlineEntry = Rectangle()
    frame: Frame = Frame()
    glazing: Glazing = Glazing()
    trim: Trim = Trim()
    finishes: Finishes = Finishes()


for _model in (Sash, Sliders, Cell, UnitDocument):
    _model.model_rebuild()


def read_unit(data: Mapping[str, Any]) -> UnitDocument:
    """A unit document from JSON data; :class:`~ashfell.core.refusal.Refusal` names the first wrong entry."""
    return read(UnitDocument, data)
