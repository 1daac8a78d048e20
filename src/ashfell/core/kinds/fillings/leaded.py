"""Leaded glass: a net of cames and the pieces between them, from a seed."""

from __future__ import annotations

import colorsys
from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise
from math import floor
from typing import Annotated, Any, Literal

import numpy as np
import shapely
from pydantic import Field
from shapely.geometry import LineString, MultiPoint, Polygon, box
from shapely.ops import split

from ashfell.core.base.document import Document, Size, mm
from ashfell.core.base.lengths import exact
from ashfell.core.base.misfit import SMALLEST
from ashfell.core.base.refusal import Refusal
from ashfell.core.finish import tinted
from ashfell.core.kinds.roles import ROLES, Finishes, Role
from ashfell.core.parts import ALONG_V, Member
from ashfell.core.plane.inset import insets, largest_inset
from ashfell.core.plane.loop import inset
from ashfell.core.plane.points import Floats, directions, left_of, polygons, without_repeats, without_straight
from ashfell.core.solid.form import Slab
from ashfell.core.solid.net import Hole, Net
from ashfell.core.solid.ring import ring_corners
from ashfell.core.unit.document.glazing import Gasket
from ashfell.core.unit.layout import Light
from ashfell.core.unit.members.glazing import Planes, covers
from ashfell.core.unit.say.writer import Writer

ROLES.register(Role("came", "Cames", "dull-lead", (96, 97, 98), 110, even=True, sided=False))
LEAST_SHARE = 0.04
"""Pieces smaller than this share of an average one are joined to a neighbour."""


class Range(Document):
    """From one number to another."""

    low: float
    high: float


class Lead(Document):
    """Leaded glass: a grid whose inner crossings are moved at random, or shards; ``jitter`` 0 to 1. Cames are ``came``
    wide and stand ``proud`` of the glass, with a ``heart`` between the pieces; colours come from ranges of hue
    (degrees), saturation and lightness (0 to 1), ``plain`` being the share of pieces left clear."""

    pattern: Literal["grid", "brick", "shards"] = "grid"
    across: Annotated[int, Field(ge=1, le=60)] = 4
    up: Annotated[int, Field(ge=1, le=60)] = 6
    jitter: Annotated[float, Field(ge=0, le=1)] = 0.35
    seed: Annotated[int, Field(ge=0, le=2**31)] = 1
    came: Size = mm("8")
    rim: Size | None = None
    heart: Size = mm("2")
    proud: Size = mm("1.5")
    glass: Size = mm("4")
    hue: Range = Range(low=190, high=260)
    saturation: Annotated[Range, Field()] = Range(low=0.3, high=0.7)
    lightness: Range = Range(low=0.45, high=0.8)
    plain: Annotated[float, Field(ge=0, le=1)] = 0.2

    def with_cames(self, came: Fraction, heart: Fraction) -> Lead:
        """The same with cames of another width, and hearts, mm."""
        return self.model_copy(update={"came": mm(exact(came)), "heart": mm(exact(heart))})


NARROWEST = 4 * SMALLEST
"""The narrowest came whose heart, a quarter of it, can be made, mm."""


@dataclass(frozen=True, eq=False)
class LeadLayout:
    """Leading solved: the whole pane, and the hole of each piece that shows, narrow between the cames and wide between
    their hearts; (n, 2) mm."""

    pane: Floats
    holes: tuple[Hole, ...]


def solve_lead(light: Light, lead: Lead, gasket: Gasket) -> LeadLayout:
    """The pieces of a leaded light.

    Raises
    ------
    Refusal
        When its cames leave no glass, or a heart is no narrower than its came.
    """
    entry = f"{light.entry}.lead"
    pane = without_repeats(ring_corners([light.loop], -covers(light), [(1.0, 0.0, 0.0)], entry)[0, :, 0, :2])
    if lead.heart.mm >= lead.came.mm:
        # Of a came that is hardly one there is no quarter that can be made.
        name, value = ("heart", lead.came.mm / 4) if lead.came.mm >= NARROWEST else ("came", lead.heart.mm * 4)
        raise Refusal(
            f"{entry}.{name}",
            "a came wider than its heart",
            f"A heart of {float(lead.heart.mm):g} mm is no narrower than its came, {float(lead.came.mm):g} mm.",
            f"Make it {float(value):g} mm.",
            value,
        )
    holes = _leaded(light, lead, gasket, entry)
    if not holes:
        raise _no_glass(light, lead, gasket, entry)
    return LeadLayout(pane, tuple(holes))


def _leaded(light: Light, lead: Lead, gasket: Gasket, entry: str) -> list[Hole]:
    """The hole of each piece that shows; none where cames leave no glass.

    Raises
    ------
    Refusal
        When the rim leaves nothing, or is no wider than what it holds.
    """
    came, heart = lead.came.mm / 2, lead.heart.mm / 2
    rim, shows, cover = lead.rim.mm if lead.rim else lead.came.mm, gasket.shows.mm, Fraction(float(covers(light).min()))
    if rim + shows + cover <= came - heart:
        raise Refusal(
            f"{entry}.rim",
            "a rim that holds its pieces",
            f"Pieces reach {float(came - heart):g} mm under their cames, and a rim of {float(rim):g} mm with "
            f"{float(cover + shows):g} mm behind the bead is no wider.",
            f"Make it {float(came):g} mm.",
            came,
        )
    by = float(rim + shows - came)
    within = light.loop.moved(by)
    if within is not None:
        return holes_of(pieces_of(without_repeats(within), light.loop.bounds, lead), float(came), float(heart))
    largest = Fraction(floor(largest_inset(light.loop, by) * by * 100), 100) + came - shows
    if not lead.rim or largest <= 0:
        return []
    raise Refusal(
        f"{entry}.rim",
        "glass within the rim",
        f"A rim of {float(rim):g} mm leaves nothing.",
        f"The largest that works is {float(largest):g} mm.",
        largest,
    )


def _no_glass(light: Light, lead: Lead, gasket: Gasket, entry: str) -> Refusal:
    """The refusal of cames that leave no glass, with the widest that do, where there are such."""

    def leaves_glass(came: Fraction) -> bool:
        if came < NARROWEST:
            return False
        heart = min(lead.heart.mm, came / 4)
        try:
            return bool(_leaded(light, lead.with_cames(came, heart), gasket, entry))
        except Refusal:
            return False

    good, bad = Fraction(0), lead.came.mm
    for _ in range(TRIES):
        middle = Fraction(floor((good + bad) * 50), 100)
        good, bad = (middle, bad) if middle and leaves_glass(middle) else (good, middle)
    return Refusal(
        f"{entry}.came" if good else f"{light.entry}.lead",
        "glass between the cames",
        f"Cames of {float(lead.came.mm):g} mm leave no glass.",
        f"Make them {float(good):g} mm." if good else "Take the cames away.",
        good or None,
    )


def lead_members(
    light: Light, lead: Lead, layout: LeadLayout, planes: Planes, finishes: Finishes, plain: str
) -> Iterator[Member]:
    """The cames and pieces of a leaded light, in place of its pane; ``plain`` is the finish of pieces without a
    colour.
    """
    entry, middle = f"{light.entry}.lead", -float(planes.front + planes.back) / 2
    glass, proud = float(lead.glass.mm), float(lead.proud.mm)
    back, front = middle - glass / 2, middle + glass / 2
    net = Net(layout.pane, layout.holes, (back - proud, back, front, front + proud))
    yield Member(f"came.{light.key}", entry, "came", finishes.of("came"), ALONG_V, net, light.key)
    colours = _colours(lead, len(layout.holes), plain)
    for number, ((_, wide), colour) in enumerate(zip(layout.holes, colours, strict=True)):
        form = Slab((without_repeats(wide),), back, front)
        yield Member(f"glass.{light.key}.{number + 1}", entry, "glass", colour, ALONG_V, form, light.key)


def pieces_of(within: Floats, seen: tuple[float, float, float, float], lead: Lead) -> list[Floats]:
    """The pieces as polygons that cover what is within a path (n, 2), from a seed; each counter-clockwise."""
    random = np.random.default_rng(lead.seed)
    region = Polygon(within)
    raw = _shards(seen, lead, random) if lead.pattern == "shards" else _jittered(seen, lead, random)
    cells = np.array(raw, dtype=object)
    shapely.prepare(region)
    whole = shapely.contains_properly(region, cells)
    cut = [
        piece
        for cell, kept in zip(raw, whole, strict=True)
        for piece in ([cell] if kept else polygons(region.intersection(cell)))
    ]
    return [np.array(shapely.orient_polygons(piece).exterior.coords)[:-1] for piece in _joined(cut, region)]


def _jittered(seen: tuple[float, float, float, float], lead: Lead, random: np.random.Generator) -> list[Polygon]:
    """A grid over the seen light whose inner crossings are moved; its outer cells go on beyond it."""
    left, foot, right, head = seen
    columns, rows = lead.across, lead.up
    xs, ys = np.linspace(left, right, columns + 1), np.linspace(foot, head, rows + 1)
    grid = np.stack(np.meshgrid(xs, ys, indexing="ij"), axis=-1)
    shift = random.uniform(-0.5, 0.5, (columns + 1, rows + 1, 2)) * lead.jitter * 0.8
    shift[[0, -1]] = 0
    shift[:, [0, -1]] = 0
    grid += shift * (np.diff(xs)[0], np.diff(ys)[0])
    for k, far in ((0, -1e3), (-1, 1e3)):
        grid[k, :, 0] += far
        grid[:, k, 1] += far
    if lead.pattern == "brick":
        return _bricks(grid)
    corners = [(i, j) for j in range(rows) for i in range(columns)]
    return [Polygon([grid[i, j], grid[i + 1, j], grid[i + 1, j + 1], grid[i, j + 1]]) for i, j in corners]


def _bricks(grid: Floats) -> list[Polygon]:
    """Cells whose upright edges are moved by half a cell in every second row."""
    columns, rows = grid.shape[0] - 1, grid.shape[1] - 1
    found = []
    for j in range(rows):
        stops = list(range(columns + 1)) if j % 2 == 0 else [0, *(k + 0.5 for k in range(columns)), columns]
        for a, b in pairwise(stops):
            marks = sorted(
                {
                    a,
                    b,
                    *(k for k in range(columns + 1) if a < k < b),
                    *(k + 0.5 for k in range(columns) if a < k + 0.5 < b),
                }
            )
            foot = [_on_row(grid, mark, j) for mark in marks]
            head = [_on_row(grid, mark, j + 1) for mark in reversed(marks)]
            found.append(Polygon([*foot, *head]))
    return found


def _on_row(grid: Floats, mark: float, j: int) -> tuple[float, float]:
    low = int(mark)
    share = mark - low
    point = grid[low, j] if not share else grid[low, j] * (1 - share) + grid[low + 1, j] * share
    return float(point[0]), float(point[1])


def _shards(seen: tuple[float, float, float, float], lead: Lead, random: np.random.Generator) -> list[Polygon]:
    """The regions nearest to scattered points."""
    left, foot, right, head = seen
    count = lead.across * lead.up
    even = [((i + 0.5) / lead.across, (j + 0.5) / lead.up) for j in range(lead.up) for i in range(lead.across)]
    jitter = random.uniform(-0.5, 0.5, (count, 2)) * max(lead.jitter, 0.05) / (lead.across, lead.up)
    points = (np.array(even) + jitter) * (right - left, head - foot) + (left, foot)
    reach = max(right - left, head - foot) * 4
    found = shapely.voronoi_polygons(
        MultiPoint(points), extend_to=box(left - reach, foot - reach, right + reach, head + reach)
    )
    return [Polygon(cell.exterior) for cell in found.geoms]


def _joined(pieces: list[Polygon], region: Polygon) -> list[Polygon]:
    """Slivers joined to the neighbour they share most of their edge with, within a region."""
    least = LEAST_SHARE * sum(piece.area for piece in pieces) / max(1, len(pieces))
    good = [piece for piece in pieces if piece.area >= least]
    for small in (piece for piece in pieces if piece.area < least):
        shared = shapely.area(shapely.intersection(small.buffer(1e-3), np.array(good, dtype=object)))
        best = int(shared.argmax()) if len(good) else -1
        if best >= 0 and shared[best] > 0:
            united = polygons(region.intersection(shapely.union(small.buffer(1e-6, join_style="mitre"), good[best])))
            good[best] = united[0] if len(united) == 1 and not united[0].interiors else good[best]
    return good


TRIES = 14
"""How often the widest came that leaves glass is looked for."""
PARTINGS = 4
"""How often a piece is parted whose inset would not be one path."""


def holes_of(cells: Sequence[Floats], came: float, heart: float) -> list[Hole]:
    """The hole of each piece that shows. A hollow piece that loses a side when it is inset is parted by a came from its
    hollow corner, as glass that cannot be cut in one piece is.
    """
    found: dict[tuple[int, ...], Hole] = {}
    left: list[tuple[tuple[int, ...], Floats]] = [
        ((index,), without_straight(cell)) for index, cell in enumerate(cells)
    ]
    for _ in range(PARTINGS):
        made = _holes(left, came, heart)
        found |= made
        left = [((*key, n), part) for key, cell in left if key not in made for n, part in enumerate(_parted(cell))]
    return [found[key] for key in sorted(found)]


def _holes(cells: Sequence[tuple[tuple[int, ...], Floats]], came: float, heart: float) -> dict[tuple[int, ...], Hole]:
    """The holes that are there; pieces of as many corners are inset at once."""
    groups: dict[int, list[tuple[tuple[int, ...], Floats]]] = defaultdict(list)
    for key, cell in cells:
        groups[len(cell)].append((key, cell))
    found: dict[tuple[int, ...], Hole] = {}
    for group in groups.values():
        points = np.array([cell for _, cell in group] * 2)
        along = directions(points)
        rest = (points * left_of(along)).sum(axis=2)
        by = np.repeat([[came], [heart]], len(group), axis=0)
        moved, sound = insets(points, np.broadcast_to(by, rest.shape), along, rest)
        made = [
            one if kept else inset(cell, at, vanishing=True)
            for one, kept, cell, at in zip(moved, sound, points, by[:, 0], strict=True)
        ]
        for (key, _), own, piece in zip(group, made, made[len(group) :], strict=False):
            if own is not None and piece is not None:
                found[key] = own, piece
    return found


def _parted(cell: Floats) -> list[Floats]:
    """A hollow polygon in two, along the bisector of its hollowest corner; nothing of one that is not hollow."""
    along = directions(cell)
    before = along[np.arange(-1, len(cell) - 1)]
    turns = before[:, 0] * along[:, 1] - before[:, 1] * along[:, 0]
    corner = int(turns.argmin())
    if turns[corner] > -1e-4:
        return []
    inwards = before[corner] - along[corner]
    at, reach = cell[corner], 1e5 / np.hypot(*inwards)
    line = LineString([at - inwards * 1e-3, at + inwards * reach])
    pieces = polygons(split(Polygon(cell), line))
    return [
        without_straight(np.array(shapely.orient_polygons(piece).exterior.coords)[:-1])
        for piece in sorted(pieces, key=lambda piece: piece.bounds)
    ]


def _colours(lead: Lead, count: int, plain: str) -> list[str]:
    """A finish for each piece, from ranges of hue, saturation and lightness; the same seed gives the same."""
    random = np.random.default_rng([lead.seed, 7])
    found = []
    for clear, hue, saturation, lightness in random.uniform(size=(count, 4)).tolist():
        if clear < lead.plain:
            found.append(plain)
            continue
        h = (lead.hue.low + (lead.hue.high - lead.hue.low) * hue) % 360 / 360
        s = lead.saturation.low + (lead.saturation.high - lead.saturation.low) * saturation
        v = lead.lightness.low + (lead.lightness.high - lead.lightness.low) * lightness
        found.append(tinted(colorsys.hls_to_rgb(h, min(1.0, max(0.0, v)), min(1.0, max(0.0, s)))))
    return found


LEADINGS = {"grid": "a grid", "brick": "courses", "shards": "shards"}


def say_lead(w: Writer, path: str, lead: Lead) -> None:
    """The sentences of leading."""
    w.about = path
    w.say(
        path,
        "Leaded in",
        w.choice(f"{path}.pattern", lead.pattern, LEADINGS, "Pattern of the leading"),
        "of",
        w.number(f"{path}.across", lead.across, "Pieces across"),
        "by",
        w.number(f"{path}.up", lead.up, "Pieces up"),
        ", jittered",
        w.number(f"{path}.jitter", lead.jitter, "Jitter"),
        "from seed",
        w.number(f"{path}.seed", lead.seed, "Seed"),
        "; cames",
        w.length(f"{path}.came", lead.came, "Width of the cames"),
        "wide,",
        w.length(f"{path}.proud", lead.proud, "How far cames stand proud"),
        "proud, rim",
        w.length(f"{path}.rim", lead.rim, "Width of the rim came", "as the cames"),
        ".",
        nested=True,
    )
    ranges: list[Any] = []
    for name, words, unit in (("hue", "Hue", "°"), ("saturation", "Saturation", ""), ("lightness", "Lightness", "")):
        own, span = f"{path}.{name}", getattr(lead, name)
        ranges += [
            words.lower() if ranges else "Colours: hue",
            w.number(f"{own}.low", span.low, f"{words} from"),
            "to",
            w.number(f"{own}.high", span.high, f"{words} to"),
            f"{unit}," if name != "lightness" else ";",
        ]
    w.say(
        f"{path}.colours",
        *ranges,
        w.number(f"{path}.plain", lead.plain, "Share left clear"),
        "left clear.",
        nested=True,
    )
