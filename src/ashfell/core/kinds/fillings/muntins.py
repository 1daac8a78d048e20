"""Muntins on the faces of the glass: where their strips run, and what they leave to be seen."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property
from math import atan2, cos, hypot, sin
from typing import Annotated, Any, Literal

import numpy as np
import shapely
from pydantic import Field
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ashfell.core.base.document import Document, Size, mm
from ashfell.core.base.lengths import Length
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import Spacing, Wanted, divide, exact_mm
from ashfell.core.kinds.pattern import PATTERNS, Ground, PatternKey, Strip
from ashfell.core.kinds.roles import ROLES, Finishes, Role
from ashfell.core.parts import Direction, Member
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import Floats, polygons
from ashfell.core.solid.boolean import of_manifold
from ashfell.core.solid.ended import bent, straight
from ashfell.core.solid.form import Carved, Form, Region, Sweep
from ashfell.core.solid.plate import plate
from ashfell.core.solid.ring import ring_corners
from ashfell.core.solid.section import Edge, OwnSection, edge_points
from ashfell.core.solid.sweep import Section, tidy
from ashfell.core.solid.topology import Solid
from ashfell.core.unit.document.cell import Cell
from ashfell.core.unit.document.glazing import Gasket
from ashfell.core.unit.document.members import AXES, Axis, Division
from ashfell.core.unit.layout import CellLayout, Light
from ashfell.core.unit.members.glazing import Planes, too_small
from ashfell.core.unit.members.limits import check_edge
from ashfell.core.unit.members.own_section import fitted_section, own_section
from ashfell.core.unit.say.division import say_division
from ashfell.core.unit.say.writer import Action, Writer

ROLES.register(Role("muntin", "Muntins", "white-paint", (246, 243, 235), 40))
LEAST_GLASS = Fraction(5)
"""The narrowest piece of glass between muntins, mm."""
LEAST_PIECE = 1.0
"""A piece of a muntin smaller than this is left out, mm²."""


FACES = {"outer": ("outer",), "inner": ("inner",), "both": ("outer", "inner")}


class MuntinFace(Document):
    """What the muntins on the inner face have of their own (null: as on the outer)."""

    proud: Size | None = None
    edge: Edge | None = None
    section: OwnSection | None = None


class Muntins(Document):
    """Bars on the faces of the glass: a grid by divisions of its own, one set ``inset`` from the edges (perimeter),
    diamonds ``pitch`` wide and ``rise`` high, or ``spokes`` and ``circles`` about the middle of the foot of a head
    (``centre`` sets another point, from the lower left of the light). ``proud`` is how far they stand before the glass.
    A ``section`` of your own takes the place of worked edges: x across, y forwards from the face, so that a plain one
    of 18 by 8 is ``0,-8  0,0  18,0  18,-8``; it is fitted to width and proud. ``inner`` are those on the inner face.
    """

    kind: PatternKey = "grid"
    columns: Division = Division()
    rows: Division = Division()
    width: Size = mm("18")
    proud: Size = mm("8")
    faces: Literal["outer", "inner", "both"] = "both"
    edge: Edge = Edge(kind="square")
    section: OwnSection | None = None
    inner: MuntinFace | None = None
    inset: Size = mm("90")
    pitch: Size = mm("180")
    rise: Size = mm("260")
    spokes: Annotated[int, Field(ge=1, le=24)] = 3
    circles: Annotated[tuple[Size, ...], Field(max_length=60)] = ()
    centre: tuple[Length, Length] | None = None


@dataclass(frozen=True)
class Profile:
    """How the muntins on one face are worked: how far they stand proud, mm, their edge or their own section, and the
    entry that says it."""

    proud: Fraction
    edge: Edge
    section: OwnSection | None
    entry: str

    @property
    def is_plain(self) -> bool:
        """Whether its section is a rectangle."""
        return self.section is None and not self.edge.reach

    def laid(self, width: float) -> Section:
        """Its points (across from the middle, w behind the face) for a muntin of a width, mm.

        Raises
        ------
        Refusal
            When its own section does not go into that.
        """
        proud, half = float(self.proud), width / 2
        if self.section is not None:
            entry = f"{self.entry}.section"
            drawn = own_section(self.section, entry)
            assert drawn is not None
            return tuple((x - half, w) for x, w in fitted_section(drawn, width, proud, entry))
        points = edge_points(self.edge)
        top = [*((half - x, -y) for x, y in reversed(points)), *((x - half, -y) for x, y in points)]
        return tidy([*top, (-half, -proud), (half, -proud)])


def profile_of(muntins: Muntins, face: str, entry: str) -> Profile:
    """How the muntins on a face, ``outer`` or ``inner``, are worked."""
    own = muntins.inner if face == "inner" and muntins.inner else MuntinFace()
    if own.section is not None or own.edge is not None:
        worked = own.edge or muntins.edge, own.section, f"{entry}.inner"
    else:
        worked = muntins.edge, muntins.section, entry
    return Profile((own.proud or muntins.proud).mm, *worked)


@dataclass(frozen=True, eq=False)
class MuntinLayout:
    """Muntins solved: the glass that is seen between the gaskets, how a grid divides it, and the pieces of the strips,
    cut where they cross; those before run through."""

    region: Polygon
    spacing: dict[Axis, Spacing]
    strips: tuple[Strip, ...]
    pieces: tuple[tuple[Strip, Polygon], ...]
    grid: CellLayout | None

    @cached_property
    def seen(self) -> tuple[Polygon, ...]:
        """The pieces of glass that are seen between the muntins, from the lower left."""
        covered = shapely.union_all([one.region for one in self.strips])
        left = polygons(self.region.difference(covered))
        return tuple(sorted(left, key=lambda p: (round(p.bounds[1], 3), p.bounds[0])))


def muntin_pieces(light: Light, muntins: Muntins) -> tuple[int, str]:
    """About how many pieces of muntins there will be on both faces; those with worked edges count twice in a grid, and
    four times elsewhere, where each is cut on its own."""
    pattern = PATTERNS[muntins.kind]
    count = pattern.count(light, muntins) * len(FACES[muntins.faces])
    plain = all(profile_of(muntins, face, "").is_plain for face in FACES[muntins.faces])
    return (1 if plain else 2 if pattern.divides else 4) * count, "pieces of muntins"


def solve_muntins(light: Light, muntins: Muntins, planes: Planes, gasket: Gasket) -> MuntinLayout:
    """Where the muntins on a light's glass are.

    Raises
    ------
    Refusal
        When they leave no glass, stand out of the frame, or their worked edges leave no face.
    """
    entry = f"{light.entry}.muntins"
    pattern = PATTERNS[muntins.kind]
    _check(light, muntins, planes, entry, pattern.divides)
    spacing = {axis: _spacing(light, muntins, gasket, axis) for axis in AXES} if pattern.divides else {}
    region = _seen(light, gasket)
    strips = tuple(pattern.strips(Ground(light, muntins, entry, region, spacing)))
    _check_worked(strips, muntins, entry)
    pieces = [(one, piece) for one, cut in _cut(strips, region) for piece in polygons(cut) if piece.area > LEAST_PIECE]
    grid = _grid(light, muntins, spacing, entry) if pattern.divides else None
    return MuntinLayout(region, spacing, strips, tuple(pieces), grid)


def _check_worked(strips: Sequence[Strip], muntins: Muntins, entry: str) -> None:
    """Refuse worked edges on a muntin that is neither straight nor one ring."""
    if all(one.line or one.round for one in strips):
        return
    for face in FACES[muntins.faces]:
        profile = profile_of(muntins, face, entry)
        if not profile.is_plain:
            drawn = profile.section is not None
            raise Refusal(
                f"{profile.entry}.section" if drawn else f"{profile.entry}.edge.kind",
                "muntins that can be worked",
                "In this hollow light they follow no single line, and cannot be worked.",
                "Leave the section out." if drawn else "Choose square edges.",
            )


def _cut(strips: Sequence[Strip], region: Polygon) -> Iterator[tuple[Strip, BaseGeometry]]:
    """What of each strip lies in a region and in none of the strips before it that it meets."""
    regions = np.array([one.region for one in strips], dtype=object)
    tree = shapely.STRtree(regions)
    for index, one in enumerate(strips):
        met = tree.query(one.region, predicate="intersects")
        yield one, one.region.intersection(region).difference(shapely.union_all(regions[met[met < index]]))


def _spacing(light: Light, muntins: Muntins, gasket: Gasket, axis: Axis) -> Spacing:
    """How a grid of muntins divides the glass that is seen between the gaskets."""
    shows, division = gasket.shows.mm, getattr(muntins, axis)
    return divide(
        light.clear.width if axis == "columns" else light.clear.height,
        start=shows,
        end=shows,
        bars=[bar.face.mm for bar in division.bars],
        rule=division.rule,
        lights=[Wanted(entry.size.mm if entry.size else None, entry.share) for entry in division.lights],
        least=LEAST_GLASS,
        entry=f"{light.entry}.muntins.{axis}",
        noun="glass",
        way="wide" if axis == "columns" else "high",
    )


def _grid(light: Light, muntins: Muntins, spacing: dict[Axis, Spacing], entry: str) -> CellLayout:
    """A grid of muntins as a cell, for its strips."""
    cell, edges = Cell(columns=muntins.columns, rows=muntins.rows), dict.fromkeys(AXES, "")
    return CellLayout(
        entry,
        f"{light.key}.muntins.",
        cell,
        spacing["columns"],
        spacing["rows"],
        light.clear.x,
        light.clear.y,
        light.loop,
        edges,
    )


def _seen(light: Light, gasket: Gasket) -> Polygon:
    nothing, shows = np.zeros(len(light.loop.points)), float(gasket.shows.mm)
    try:
        points = ring_corners([light.loop], nothing, [(0.0, shows, 0.0)], light.entry)
    except Refusal as refusal:
        raise too_small(light) from refusal
    return Polygon(points[0, :, 0, :2]).buffer(0)


def _check(light: Light, muntins: Muntins, planes: Planes, entry: str, divides: bool) -> None:
    widths = [bar.face.mm for axis in AXES for bar in getattr(muntins, axis).bars] if divides else [muntins.width.mm]
    room = {"outer": planes.front - light.ring.front, "inner": light.ring.back - planes.back}
    for face, where in (("outer", "before"), ("inner", "behind")):
        if face not in FACES[muntins.faces]:
            continue
        profile = profile_of(muntins, face, entry)
        if widths and profile.section is None:
            check_edge(profile.edge, min(widths) / 2, profile.proud, f"{profile.entry}.edge", "the muntins")
        for width in widths:
            profile.laid(float(width))
        if profile.proud > room[face]:
            own = face == "inner" and muntins.inner and muntins.inner.proud
            raise Refusal(
                f"{entry}.inner.proud" if own else f"{entry}.proud",
                "muntins within the frame",
                f"Muntins that stand {exact_mm(profile.proud)} proud stand out of the {light.ring.role}: there is "
                f"{exact_mm(room[face])} {where} the glass.",
                f"They can stand {exact_mm(room[face])} proud.",
                room[face],
            )


def muntin_members(
    light: Light, muntins: Muntins, layout: MuntinLayout, planes: Planes, finishes: Finishes
) -> Iterator[Member]:
    """The muntins on one or both faces of a light's glass."""
    entry = f"{light.entry}.muntins"
    for face in FACES[muntins.faces]:
        profile = profile_of(muntins, face, entry)
        top = float(profile.proud - planes.front) if face == "outer" else -float(planes.back + profile.proud)
        for number, (one, piece) in enumerate(layout.pieces):
            form = _form(one, piece, profile, top, 1.0 if face == "outer" else -1.0)
            key = f"muntin.{light.key}.{face}.{number + 1}"
            yield Member(key, one.entry, "muntin", finishes.of("muntin"), _grain(one, piece), form, light.key)


def _grain(one: Strip, piece: Polygon) -> Direction:
    if one.line is None:
        return (0.0, 1.0, 0.0)
    (x, y), (u, v) = one.line
    turn = atan2(v - y, u - x)
    return (cos(turn), sin(turn), 0.0)


def _form(one: Strip, piece: Polygon, profile: Profile, top: float, looks: float) -> Form:
    """A piece of a strip: a plate, or where it is worked a swept section cut to the piece. Its face is at ``top``, and
    looks outwards (1) or inwards (-1)."""
    foot = top - looks * float(profile.proud)
    low, high = min(top, foot), max(top, foot)
    if profile.is_plain:
        return Region(piece, low, high)
    section = profile.laid(one.width)
    whole, made = _worked(one, piece, section, top, looks)
    if made is not None:
        return made

    def cut() -> list[Solid]:
        return of_manifold(whole.solids()[0].manifold() ^ plate(piece, low - 1, high + 1).manifold())

    left, bottom, right, head = piece.bounds
    return Carved(cut, hypot(right - left, head - bottom))


def _worked(one: Strip, piece: Polygon, section: Section, top: float, looks: float) -> tuple[Sweep, Sweep | None]:
    """A worked strip, and what a piece leaves of it; None where that is for booleans."""
    if one.line is not None:
        start, end = one.line
        whole = _along(np.array(start), np.array(end), section, top, looks)
        return whole, straight(piece, whole.corners, whole.section)
    assert one.round is not None
    whole = _round(one.round, section, top, looks)
    if abs(piece.area - one.region.area) < LEAST_PIECE * 1e-6:
        return whole, whole
    return whole, bent(piece, whole.corners, whole.section, whole.bent)


def _along(start: Floats, end: Floats, section: Section, top: float, looks: float) -> Sweep:
    """A section laid along a line; its face is at ``top``."""
    along = (end - start) / np.hypot(*(end - start))
    left = np.array([-along[1], along[0]])
    placed = tidy([(across, top + looks * w) for across, w in section])
    corners = np.empty((2, len(placed), 3))
    for k, at in enumerate((start, end)):
        corners[k, :, :2] = at + np.array([across for across, _ in placed])[:, None] * left
        corners[k, :, 2] = [w for _, w in placed]
    return Sweep(corners, placed)


def _round(loop: Loop, section: Section, top: float, looks: float) -> Sweep:
    """A section laid round a loop; its face is at ``top``."""
    placed = tidy([(across, top + looks * w) for across, w in section])
    profile = [(0.0, across, w) for across, w in placed]
    corners = ring_corners([loop], np.zeros(len(loop.points)), profile)[0]
    return Sweep(corners, placed, True, any(loop.curved))


FACE_WORDS = {"outer": "the outer face", "inner": "the inner face", "both": "both faces"}


def _say_inner(w: Writer, path: str, muntins: Muntins) -> None:
    """The sentence of what the inner face has of its own, or the way to it."""
    own = muntins.inner
    if own is None:
        w.say(path, Action(path, "Own inner face", "Let the muntins inside differ", "yes"), nested=True)
        return
    edge = w.edge(f"{path}.edge", own.edge or muntins.edge, "Inner muntin")
    w.say(
        path,
        "Inside they stand",
        w.length(f"{path}.proud", own.proud, "How far muntins stand proud inside", "as outside"),
        "proud,",
        w.section(path, own.section, edge, "the muntins inside"),
        ".",
        Action(path, "×", "Let the muntins inside be as those outside"),
        nested=True,
    )


def say_muntins(w: Writer, path: str, muntins: Muntins, layout: MuntinLayout) -> None:
    """The sentences of muntins."""
    w.about = path
    pattern = PATTERNS[muntins.kind]
    kinds = {key: record.words for key, record in PATTERNS.items()}
    parts: list[Any] = [
        "Muntins",
        w.length(f"{path}.width", muntins.width, "Width of the muntins"),
        "wide,",
        w.length(f"{path}.proud", muntins.proud, "How far muntins stand proud"),
        "proud on",
        w.choice(f"{path}.faces", muntins.faces, FACE_WORDS, "Faces with muntins"),
        ",",
        w.section(path, muntins.section, w.edge(f"{path}.edge", muntins.edge, "Muntin"), "the muntins"),
        ", in",
        w.choice(f"{path}.kind", muntins.kind, kinds, "Pattern of the muntins"),
    ]
    w.say(path, *parts, *pattern.say(w, path, muntins), ".", nested=True)
    if "inner" in FACES[muntins.faces]:
        _say_inner(w, f"{path}.inner", muntins)
    if pattern.divides:
        w.say(f"{path}.strip", Action(path, "Their strips", "Show the strips of the muntins", looks="at"), nested=True)
        for axis, member in zip(AXES, ("upright muntin", "level muntin"), strict=True):
            say_division(w, f"{path}.{axis}", getattr(muntins, axis), layout.spacing[axis], axis, member)
