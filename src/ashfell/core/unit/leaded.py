"""Leaded glass: a net of cames and the pieces between them, from a seed."""

from __future__ import annotations

import colorsys
import itertools
from collections import defaultdict
from collections.abc import Iterator, Sequence
from functools import lru_cache

import numpy as np
import shapely
from shapely.geometry import LinearRing, LineString, MultiPoint, Polygon, box
from shapely.ops import split

from ashfell.core.base.refusal import Refusal
from ashfell.core.finish import tinted
from ashfell.core.parts import Part
from ashfell.core.plane.inset import insets
from ashfell.core.plane.loop import inset
from ashfell.core.plane.points import Floats, directions, left_of, polygons, steps, without_straight
from ashfell.core.solid.plate import extrusions
from ashfell.core.solid.ring import ring_corners
from ashfell.core.solid.topology import Indices, Paths, Solid, Topology, welded
from ashfell.core.solid.triangles import polygon_triangles
from ashfell.core.unit.document import Finishes, Glass, Lead
from ashfell.core.unit.glazing import covers, gasket_of, planes_of, without_repeats
from ashfell.core.unit.layout import Light

ALONG_V = (0.0, 1.0, 0.0)
SMALLEST = 0.04
"""Pieces smaller than this share of an average one are joined to a neighbour."""


def leaded_parts(light: Light, finishes: Finishes) -> Iterator[Part]:
    """The cames and pieces of a leaded light, in place of its pane."""
    if not isinstance(light.fill, Glass) or light.fill.lead is None:
        return
    lead, planes = light.fill.lead, planes_of(light)
    entry = f"{light.entry}.lead"
    glass, proud = float(lead.glass.mm), float(lead.proud.mm)
    pane = without_repeats(ring_corners([light.loop], -covers(light), [(1.0, 0.0, 0.0)], entry)[0, :, 0, :2])
    cells = pieces_of(pane, light.loop.bounds, lead)
    came, heart = float(lead.came.mm) / 2, float(lead.heart.mm) / 2
    if heart >= came:
        raise Refusal(
            f"{entry}.heart",
            "a came wider than its heart",
            f"A heart of {2 * heart:g} mm is no narrower than its came.",
            "Make it narrower.",
        )
    rim = (float(lead.rim.mm) if lead.rim else float(lead.came.mm)) + float(gasket_of(light).shows.mm)
    middle = -float(planes.front + planes.back) / 2
    rim += float(covers(light).mean())
    holes = holes_of(cells, Polygon(pane).exterior, came, heart, rim)
    if not holes:
        raise Refusal(
            f"{entry}.came",
            "glass between the cames",
            f"Cames of {2 * came:g} mm leave no glass.",
            "Make them narrower, or the pieces fewer.",
        )
    net = _net(
        pane, holes, (middle - glass / 2 - proud, middle - glass / 2, middle + glass / 2, middle + glass / 2 + proud)
    )
    yield Part(f"came.{light.key}", entry, "came", finishes.came, ALONG_V, net)
    colours = _colours(lead, len(holes), light.fill.finish or finishes.glass)
    for number, ((_, wide), colour) in enumerate(zip(holes, colours, strict=True)):
        solid = extrusions([without_repeats(wide)], middle - glass / 2, middle + glass / 2)
        yield Part(f"glass.{light.key}.{number + 1}", entry, "glass", colour, ALONG_V, solid)


def pieces_of(pane: Floats, seen: tuple[float, float, float, float], lead: Lead) -> list[Floats]:
    """The pieces as polygons that cover the pane, from a seed; each counter-clockwise."""
    random = np.random.default_rng(lead.seed)
    region = Polygon(pane)
    raw = _shards(seen, lead, random) if lead.pattern == "shards" else _jittered(seen, lead, random)
    cut = [piece for cell in raw for piece in polygons(region.intersection(cell))]
    return [np.array(shapely.orient_polygons(piece).exterior.coords)[:-1] for piece in _joined(cut)]


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
        for a, b in itertools.pairwise(stops):
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


def _joined(pieces: list[Polygon]) -> list[Polygon]:
    """Slivers joined to the neighbour they share most of their edge with."""
    least = SMALLEST * sum(piece.area for piece in pieces) / max(1, len(pieces))
    good = [piece for piece in pieces if piece.area >= least]
    for small in (piece for piece in pieces if piece.area < least):
        shared = shapely.area(shapely.intersection(small.buffer(1e-3), np.array(good, dtype=object)))
        best = int(shared.argmax()) if len(good) else -1
        if best >= 0 and shared[best] > 0:
            united = polygons(shapely.union(small.buffer(1e-6, join_style="mitre"), good[best]))
            good[best] = united[0] if len(united) == 1 and not united[0].interiors else good[best]
    return good


Hole = tuple[Floats, Floats]
"""Where the cames leave a piece open, and the piece itself between their hearts: paths of as many points."""


PARTINGS = 4
"""How often a piece is parted whose inset would not be one path."""


def holes_of(cells: Sequence[Floats], edge: LinearRing, came: float, heart: float, rim: float) -> list[Hole]:
    """The hole of each piece that shows; ``edge`` is the pane's own edge, along which the rim came runs. A hollow piece that
    loses a side when it is inset is parted by a came from its hollow corner, as glass that cannot be cut in one piece is."""
    found: dict[tuple[int, ...], Hole] = {}
    left: list[tuple[tuple[int, ...], Floats]] = [
        ((index,), without_straight(cell)) for index, cell in enumerate(cells)
    ]
    for _ in range(PARTINGS):
        made = _holes(left, edge, came, heart, rim)
        found |= made
        left = [((*key, n), part) for key, cell in left if key not in made for n, part in enumerate(_parted(cell))]
    return [found[key] for key in sorted(found)]


def _holes(
    cells: Sequence[tuple[tuple[int, ...], Floats]], edge: LinearRing, came: float, heart: float, rim: float
) -> dict[tuple[int, ...], Hole]:
    """The holes that are there; pieces of as many corners are inset at once."""
    groups: dict[int, list[tuple[tuple[int, ...], Floats]]] = defaultdict(list)
    for key, cell in cells:
        groups[len(cell)].append((key, cell))
    found: dict[tuple[int, ...], Hole] = {}
    for group in groups.values():
        points = np.array([cell for _, cell in group])
        along = directions(points)
        rest = (points * left_of(along)).sum(axis=2)
        middles = points + steps(points) / 2
        on_rim = shapely.distance(edge, shapely.points(middles)) < 1e-4
        narrow, narrow_sound = insets(points, by := np.where(on_rim, rim, came), along, rest)
        wide, wide_sound = insets(points, hearts := np.where(on_rim, 2 * heart, heart), along, rest)
        for k, (key, cell) in enumerate(group):
            own = narrow[k] if narrow_sound[k] else inset(cell, by[k])
            piece = wide[k] if wide_sound[k] else inset(cell, hearts[k])
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


def _net(pane: Floats, holes: list[tuple[Floats, Floats]], levels: tuple[float, float, float, float]) -> Solid:
    """The cames as one closed solid: an outer and an inner flange with narrow holes, and hearts with wide ones between.

    Each hole is a shaft of four levels: narrow, wide, wide, narrow; the annuli between narrow and wide are the flanges'
    inner faces.
    """
    low, heart_low, heart_high, high = levels
    count = len(pane)
    flat = [pane, pane, *(path for narrow, wide in holes for path in (narrow, narrow, wide, wide, narrow, narrow))]
    heights = [low, high, *[low, heart_low, heart_low, heart_high, heart_high, high] * len(holes)]
    placed = np.empty((sum(map(len, flat)), 3))
    placed[:, :2] = np.concatenate(flat)
    placed[:, 2] = np.repeat(heights, [len(path) for path in flat])
    here = np.arange(count, dtype=np.int32)
    ahead = (here + 1) % count
    triangles = [np.stack([here, ahead, ahead + count, here, ahead + count, here + count], axis=1).reshape(-1, 3)]
    faces = [np.repeat(here, 2) + 2]
    base, face = 2 * count, count + 2
    caps: tuple[list[Indices], list[Indices]] = ([here], [here + count])
    known: dict[int, Paths] = {}
    for narrow, _ in holes:
        size = len(narrow)
        sides, owners = _shaft(size)
        round_ = np.arange(size, dtype=np.int32)
        triangles.append(sides + base)
        faces.append(owners + face)
        known |= {
            face + flange: (base + ring * size + round_, base + (ring + 1) * size + round_)
            for flange, ring in ((0, 1), (1, 3))
        }
        for cap, level in zip(caps, (0, 5), strict=True):
            cap.append(base + level * size + round_[::-1])
        base, face = base + 6 * size, face + 2 + 3 * size
    lower, upper = (np.concatenate(rings) for rings in caps)
    cap_triangles = polygon_triangles(placed[lower][:, :2], np.cumsum([len(ring) for ring in caps[0]]).tolist())
    triangles += [lower[cap_triangles][:, ::-1], upper[cap_triangles]]
    faces += [np.full(len(cap_triangles), which) for which in (0, 1)]
    known |= {which: tuple(rings) for which, rings in enumerate(caps)}
    topology = Topology(np.concatenate(triangles).astype(np.int32), np.concatenate(faces).astype(np.int32), known)
    return welded(Solid(placed, topology))


@lru_cache(maxsize=64)
def _shaft(size: int) -> tuple[Indices, Indices]:
    """The five rings between the six paths of a hole, and the face each triangle is of: the two flanges, then the walls."""
    k = np.arange(size)
    after = (k + 1) % size
    triangles, faces = [], []
    for ring in range(5):
        a, b = ring * size + k, ring * size + after
        c, d = b + size, a + size
        triangles.append(np.stack([a, c, b, a, d, c], axis=1).reshape(-1, 3))
        faces.append(np.full(2 * size, ring // 2) if ring in (1, 3) else np.repeat(k, 2) + 2 + ring // 2 * size)
    return np.concatenate(triangles).astype(np.int32), np.concatenate(faces).astype(np.int32)


def _colours(lead: Lead, count: int, plain: str) -> list[str]:
    """A finish for each piece, from ranges of hue, saturation and lightness; the same seed gives the same."""
    random = np.random.default_rng([lead.seed, 7])
    found = []
    for _ in range(count):
        clear, hue, saturation, lightness = random.uniform(size=4)
        if clear < lead.plain:
            found.append(plain)
            continue
        h = (lead.hue.low + (lead.hue.high - lead.hue.low) * hue) % 360 / 360
        s = lead.saturation.low + (lead.saturation.high - lead.saturation.low) * saturation
        v = lead.lightness.low + (lead.lightness.high - lead.lightness.low) * lightness
        found.append(tinted(colorsys.hls_to_rgb(h, min(1.0, max(0.0, v)), min(1.0, max(0.0, s)))))
    return found
