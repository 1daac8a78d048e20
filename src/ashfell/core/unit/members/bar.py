"""The solid of a mullion or transom: a face before the stops, a stem behind them that goes on into the rebates."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import manifold3d
import numpy as np
from shapely.geometry import Polygon, box

from ashfell.core.kinds.roles import Finishes
from ashfell.core.parts import ALONG_U, ALONG_V, Direction, Member
from ashfell.core.plane.points import Floats, polygons, without_straight
from ashfell.core.solid.boolean import of_manifold
from ashfell.core.solid.form import Form, Sweep
from ashfell.core.solid.plate import plate
from ashfell.core.solid.relief import Stem, relief
from ashfell.core.solid.section import edge_points
from ashfell.core.solid.sweep import Section, strip, tidy
from ashfell.core.solid.topology import Solid, Topology, welded
from ashfell.core.solid.triangles import polygon_triangles
from ashfell.core.unit.layout import BarRun


@dataclass(frozen=True, eq=False)
class SquareBar(Form):
    """A bar with square ends and rebates: ``section`` (its stem's points first, of which there are ``stem``), and along
    it the places where its tongue begins, its face begins and ends, and its tongue ends, mm."""

    run: BarRun
    stem: int
    section: Section

    @property
    def stations(self) -> tuple[float, float, float, float]:
        """Where tongue and face begin, and face and tongue end, mm."""
        run = self.run
        ends = run.start - run.tongue_start, run.start, run.end, run.end + run.tongue_end
        return float(ends[0]), float(ends[1]), float(ends[2]), float(ends[3])

    def solids(self) -> list[Solid]:
        return self.made([self])[0]

    @classmethod
    def made(cls, forms: Sequence[Form]) -> list[list[Solid]]:
        """All bars of one section's kind by one array operation."""
        groups: dict[tuple[str, int, Section | None], list[int]] = defaultdict(list)
        held = [form for form in forms if isinstance(form, SquareBar)]
        for index, form in enumerate(held):
            groups[form.run.edge.kind, len(form.section), form.run.section].append(index)
        found: list[list[Solid]] = [[] for _ in held]
        for indices in groups.values():
            own = [held[index] for index in indices]
            across = np.array([float(form.run.across) for form in own])
            upright = [form.run.axis == "columns" for form in own]
            stations = np.array([form.stations for form in own])
            made = bars(np.array([form.section for form in own]), stations, upright, across, own[0].stem)
            for index, solid in zip(indices, made, strict=True):
                found[index] = [solid]
        return found

    @property
    def length(self) -> float:
        """With its tongues, mm."""
        return self.stations[3] - self.stations[0]


@dataclass(frozen=True, eq=False)
class CutBar(Form):
    """A bar cut to what it meets: its face within one region, its stem within another."""

    run: BarRun

    def solids(self) -> list[Solid]:
        return _cut_to_region(self.run)

    @property
    def length(self) -> float:
        """Across the region of its face, mm."""
        assert self.run.face_region is not None
        left, foot, right, head = self.run.face_region.bounds
        return float(np.hypot(right - left, head - foot))


def bar_members(runs: Sequence[BarRun], finishes: Finishes, of: str = "frame") -> list[Member]:
    """The bars of one ring; in that of a leaf they are its rails and muntins, finished as it is."""
    role = "leaf" if of == "leaf" else "bar"
    return [Member(run.id, run.entry, role, finishes.of(role), _grain(run), _form(run)) for run in runs]


def _form(run: BarRun) -> Form:
    if run.face_region is not None:
        return CutBar(run)
    return SquareBar(run, *bar_section(run)) if run.rebate else _plain(run)


def _grain(run: BarRun) -> Direction:
    if run.axis:
        return ALONG_V if run.axis == "columns" else ALONG_U
    ahead = np.array(run.points[-1]) - np.array(run.points[0])
    x, y = (ahead / np.hypot(*ahead)).tolist()
    return (x, y, 0.0)


def bar_section(run: BarRun) -> tuple[int, Section]:
    """How many points its stem has, and the points of a T: the stem's, then the face round from the right; across 0 is
    the bar's centre line, mm."""
    half, stem = float(run.face / 2), float(run.face / 2 - run.rebate)
    front, stop, back = -float(run.front), -float(run.stop), -float(run.back)
    if run.section:
        behind = _from(stem_section(run), (-stem, stop))
        return len(behind), (*behind, *_from(face_section(run), (half, stop)))
    edge = edge_points(run.edge)
    return 4, (
        (-stem, stop),
        (-stem, back),
        (stem, back),
        (stem, stop),
        (half, stop),
        *((half - x, front - y) for x, y in reversed(edge)),
        *((-half + x, front - y) for x, y in edge),
        (-half, stop),
    )


def face_section(run: BarRun) -> Section:
    """What of a bar's section lies before the stop; all of it where it has no rebates."""
    half, front = float(run.face / 2), -float(run.front)
    low = -float(run.stop if run.rebate else run.back)
    if run.section:
        return _within(run.section, -half, low, half, front) if run.rebate else run.section
    points = edge_points(run.edge)
    return tidy(
        [
            *((half - x, front - y) for x, y in reversed(points)),
            *((-half + x, front - y) for x, y in points),
            (-half, low),
            (half, low),
        ]
    )


def stem_section(run: BarRun) -> Section:
    """What of a bar's section lies behind the stop, between its rebates."""
    half = float(run.face / 2 - run.rebate)
    stop, back = -float(run.stop), -float(run.back)
    if run.section:
        return _within(run.section, -half, back, half, stop)
    return tidy([(half, stop), (-half, stop), (-half, back), (half, back)])


def _within(section: Section, left: float, back: float, right: float, front: float) -> Section:
    """The part of a section in a rectangle; without points in line on its front and back."""
    (piece,) = polygons(Polygon(section).intersection(box(left, back, right, front)))
    return tidy([(x, y) for x, y in without_straight(np.array(piece.exterior.coords)[:-1], 1e-9).tolist()])


def _from(section: Section, start: tuple[float, float]) -> Section:
    """The points of a closed section from one of them on."""
    first = min(range(len(section)), key=lambda k: abs(section[k][0] - start[0]) + abs(section[k][1] - start[1]))
    return (*section[first:], *section[:first])


def bars(sections: Floats, stations: Floats, along_v: Sequence[bool], across: Floats, stem: int) -> list[Solid]:
    """Bars of one topology.

    Parameters
    ----------
    sections : (n, k, 2)
        From :func:`bar_section`.
    stations : (n, 4)
        Along the bar: tongue begins, face begins, face ends, tongue ends, mm.
    along_v : n of bool
        Mullions run along v, transoms along u.
    across : (n,)
        Where the centre line is on the other axis, mm.
    stem : int
        How many of a section's points are its stem's.
    """
    count = sections.shape[1]
    vertices = np.empty((len(sections), 4, count, 3))
    vertices[..., 0] = stations[:, :, None]
    vertices[..., 1] = across[:, None, None] + sections[:, None, :, 0]
    vertices[..., 2] = sections[:, None, :, 1]
    upright = np.asarray(along_v)
    vertices[upright] = np.stack(
        [
            2 * across[upright][:, None, None] - vertices[upright][..., 1],
            vertices[upright][..., 0],
            vertices[upright][..., 2],
        ],
        axis=-1,
    )
    topology, used = _topology(stem, tuple(map(tuple, sections[0].tolist())))
    flat = vertices.reshape(len(sections), 4 * count, 3)[:, list(used)]
    return [Solid(bar, topology) for bar in flat]


@lru_cache(maxsize=64)
def _topology(stem: int, model: Section) -> tuple[Topology, tuple[int, ...]]:
    """Faces of the stepped bar, and which points of its 4 stations they use; ``model`` is a section of the kind."""
    count = len(model)
    behind, whole = tuple(range(stem)), tuple(range(count))
    flange = (0, stem - 1, *range(stem, count))
    groups = [*_sides(behind, 0, count), *_sides(whole, 1, count), *_sides(behind, 2, count)]
    groups += [
        _cap(behind, 0, -1, model),
        _cap(flange, 1, -1, model),
        _cap(flange, 2, 1, model),
        _cap(behind, 3, 1, model),
    ]
    used = tuple(sorted({index for group in groups for triangle in group for index in triangle}))
    new = {old: index for index, old in enumerate(used)}
    triangles = [[new[index] for index in triangle] for group in groups for triangle in group]
    owner = [face for face, group in enumerate(groups) for _ in group]
    return Topology(np.array(triangles, dtype=np.int32), np.array(owner, dtype=np.int32)), used


_Group = list[tuple[int, ...]]
"""The triangles of a face, as indices into 4 stations x k points."""


def _sides(ring: Sequence[int], station: int, count: int) -> list[_Group]:
    low, high = count * station, count * (station + 1)
    quads = [(low + a, low + b, high + b, high + a) for a, b in zip(ring, (*ring[1:], ring[0]), strict=True)]
    return [[quad[:3], (quad[0], *quad[2:])] for quad in quads]


def _cap(ring: Sequence[int], station: int, looks: int, model: Section) -> _Group:
    """The face that closes a ring at a station; ``looks`` is 1 for along the bar, -1 for back."""
    points = np.array(model)[list(ring)]
    names = [len(model) * station + index for index in ring]
    return [tuple(names[index] for index in triangle[::looks]) for triangle in polygon_triangles(points, [len(ring)])]


def _plain(run: BarRun) -> Sweep:
    """A bar without rebates: one section from end to end."""
    section = face_section(run)
    corners = np.empty((2, len(section), 3))
    for k, at in enumerate((float(run.start), float(run.end))):
        for index, (across, w) in enumerate(section):
            corners[k, index] = (
                (at, float(run.across) + across, w) if run.axis == "rows" else (float(run.across) - across, at, w)
            )
    return Sweep(corners, section)


BESIDE = 1.0
"""How much wider than a bar's face the region is that it is cut to, mm: across, its section bounds it."""


def around(pieces: Sequence[Polygon], wider: Polygon, light: Polygon) -> list[Polygon]:
    """What each piece of a bar's face is cut to: the part of a light within a ``wider`` strip that holds the piece; the
    piece itself where that holds another, as where a corner of the light ends beside the bar."""
    parts, inside = polygons(wider.intersection(light)), [piece.representative_point() for piece in pieces]
    alone = [part for part in parts if sum(part.contains(point) for point in inside) == 1]
    return [
        next((part for part in alone if part.contains(point)), piece)
        for piece, point in zip(pieces, inside, strict=True)
    ]


RAISED = 1e-3
"""How far a stem is let into its face while the two are made one, mm: faces that only touch may stay apart."""


def _cut_to_region(run: BarRun) -> list[Solid]:
    """A bar cut to what it meets: its face within one region, its stem within another."""
    plain = _as_relief(run)
    if plain is not None:
        return [plain]
    front, back = -float(run.front), -float(run.back)
    line = _line(run)
    face = _swept(line, face_section(run)) ^ _block(run.face_region, back - 1, front + 1)
    if run.stem_region is None or not run.rebate:
        return of_manifold(face)
    stop = -float(run.stop)
    return [_lowered(solid, stop) for solid in of_manifold(face + _stem(run, line))]


def _as_relief(run: BarRun) -> Solid | None:
    """A bent bar cut in plan, where its section rises and falls without steps and it is one piece; a straight one has
    so few faces that booleans are as quick."""
    if len(run.points) < 3 or run.section:
        return None
    assert run.face_region is not None
    section = face_section(run)
    floor = min(w for _, w in section)
    corners = [index for index, point in enumerate(section) if point[1] == floor]
    if len(corners) != 2:
        return None
    first = next(index for index in corners if section[index - 1][1] == floor)
    top = [section[first - step] for step in range(2, len(section))]  # from the right of its line to the left
    stem = Stem(run.stem_region, -float(run.back)) if run.rebate and run.stem_region else None
    lines = np.stack([_beside(_line(run), across) for across, _ in top])
    return relief(lines, [w for _, w in top], run.face_region, floor, stem)


def _stem(run: BarRun, line: Floats) -> manifold3d.Manifold:
    """A bar's stem, let into its face. Without a section of its own it has square sides, as its region has them."""
    back, raised = -float(run.back), -float(run.stop) + RAISED
    if not run.section:
        return _block(run.stem_region, back, raised)
    section = tuple((x, raised if z == -float(run.stop) else z) for x, z in stem_section(run))
    return _swept(line, section) ^ _block(run.stem_region, back - 1, raised + 1)


def _lowered(solid: Solid, stop: float) -> Solid:
    """The top of a stem back on the plane of the stops."""
    vertices = solid.vertices.copy()
    vertices[np.abs(vertices[:, 2] - stop - RAISED) < RAISED / 2, 2] = stop
    return welded(Solid(vertices, solid.topology))


def _block(region: Polygon | None, low: float, high: float) -> manifold3d.Manifold:
    """A region as a block."""
    assert region is not None
    return plate(region, low, high).manifold()


def _line(run: BarRun) -> Floats:
    if run.points:
        return np.array(run.points)
    across = float(run.across)
    low, high = -1e5, 1e5
    return np.array([(across, low), (across, high)] if run.axis == "columns" else [(low, across), (high, across)])


def _swept(line: Floats, section: Section) -> manifold3d.Manifold:
    """A section swept along a line (s, 2), mitred at its points; across is to the left of travel."""
    corners = np.empty((len(line), len(section), 3))
    for index, (across, w) in enumerate(section):
        corners[:, index, :2] = _beside(line, across)
        corners[:, index, 2] = w
    return strip(corners, section).manifold()


def _beside(line: Floats, across: float) -> Floats:
    """The line (s, 2) that goes along another at a distance to the left, mitred at its points."""
    ahead = np.diff(line, axis=0)
    along = ahead / np.hypot(ahead[:, 0], ahead[:, 1])[:, None]
    left = np.stack([-along[:, 1], along[:, 0]], axis=1)
    before, after = np.concatenate([left[:1], left]), np.concatenate([left, left[-1:]])
    return np.asarray(line + (before + after) / (1 + (before * after).sum(axis=1))[:, None] * across)
