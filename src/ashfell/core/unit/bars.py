"""The solid of a mullion or transom: a face before the stops, a stem behind them that goes on into the rebates."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from functools import lru_cache

import manifold3d
import numpy as np
from shapely.geometry import Polygon

from ashfell.core.parts import Direction, Part
from ashfell.core.plane import Floats
from ashfell.core.section import Edge, edge_points
from ashfell.core.solid import Section, Solid, Topology, of_manifold, plate, polygon_triangles, strip, tidy
from ashfell.core.unit.document import Finishes
from ashfell.core.unit.layout import BarRun

ALONG_U: Direction = (1.0, 0.0, 0.0)
ALONG_V: Direction = (0.0, 1.0, 0.0)
STEM = (0, 1, 2, 3)


def bar_parts(runs: Sequence[BarRun], finishes: Finishes) -> list[Part]:
    """The bars of one ring; those with square ends and the same section topology are made at once."""
    solids: dict[str, list[Solid]] = {}
    groups: dict[int, list[BarRun]] = defaultdict(list)
    for run in runs:
        if run.face_region is not None:
            solids[run.id] = _cut_to_region(run)
        elif not run.rebate:
            solids[run.id] = [_plain(run)]
        else:
            groups[len(edge_points(run.edge))].append(run)
    for points, own in groups.items():
        sections = np.array([bar_section(run) for run in own])
        stations = np.array([
            (run.start - run.tongue_start, run.start, run.end, run.end + run.tongue_end) for run in own
        ], dtype=float)  # fmt: skip
        across = np.array([float(run.across) for run in own])
        made = bars(sections, stations, [run.axis == "columns" for run in own], across, points)
        solids |= {run.id: [solid] for run, solid in zip(own, made, strict=True)}
    return [
        Part(run.id if not number else f"{run.id}.{number + 1}", run.entry, "bar", finishes.bar, _grain(run), solid)
        for run in runs
        for number, solid in enumerate(solids[run.id])
    ]


def _grain(run: BarRun) -> Direction:
    if run.axis:
        return ALONG_V if run.axis == "columns" else ALONG_U
    ahead = np.array(run.points[-1]) - np.array(run.points[0])
    x, y = (ahead / np.hypot(*ahead)).tolist()
    return (x, y, 0.0)


def bar_section(run: BarRun) -> Section:
    """The points of a T: stem 0 to 3, then the face round from the right; across 0 is the bar's centre line, mm."""
    half, stem = float(run.face / 2), float(run.face / 2 - run.rebate)
    front, stop, back = -float(run.front), -float(run.stop), -float(run.back)
    edge = edge_points(run.edge)
    return (
        (-stem, stop), (-stem, back), (stem, back), (stem, stop), (half, stop), *((half - x, front - y) for x, y in reversed(edge)),
        *((-half + x, front - y) for x, y in edge), (-half, stop),
    )  # fmt: skip


def bars(sections: Floats, stations: Floats, along_v: Sequence[bool], across: Floats, edge_count: int) -> list[Solid]:
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
    edge_count : int
        How many points each worked edge has.
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
    topology, used = _topology(edge_count, tuple(map(tuple, sections[0].tolist())))
    flat = vertices.reshape(len(sections), 4 * count, 3)[:, list(used)]
    return [Solid(bar, topology) for bar in flat]


@lru_cache(maxsize=64)
def _topology(edge_count: int, model: Section) -> tuple[Topology, tuple[int, ...]]:
    """Faces of the stepped bar, and which points of its 4 stations they use; ``model`` is a section of the kind."""
    count = len(model)
    flange = (0, 3, *range(4, count))
    whole = (0, 1, 2, 3, *range(4, count))
    groups = [*_sides(STEM, 0, count), *_sides(whole, 1, count), *_sides(STEM, 2, count)]
    groups += [_cap(STEM, 0, -1, model), _cap(flange, 1, -1, model), _cap(flange, 2, 1, model), _cap(STEM, 3, 1, model)]
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


def _plain(run: BarRun) -> Solid:
    """A bar without rebates: one section from end to end."""
    section = _face_section(run.face, run.edge, -float(run.front), -float(run.back))
    corners = np.empty((2, len(section), 3))
    for k, at in enumerate((float(run.start), float(run.end))):
        for index, (across, w) in enumerate(section):
            corners[k, index] = (
                (at, float(run.across) + across, w) if run.axis == "rows" else (float(run.across) - across, at, w)
            )
    return strip(corners, section)


def _face_section(face: object, edge: Edge, front: float, back: float) -> Section:
    half = float(face) / 2  # type: ignore[arg-type]
    points = edge_points(edge)
    return tidy([
        *((half - x, front - y) for x, y in reversed(points)), *((-half + x, front - y) for x, y in points), (-half, back), (half, back),
    ])  # fmt: skip


def _cut_to_region(run: BarRun) -> list[Solid]:
    """A bar cut to what it meets: its face within one region, its stem within another."""
    front, stop, back = -float(run.front), -float(run.stop), -float(run.back)
    line = _line(run)
    face = _swept(line, _face_section(run.face, run.edge, front, stop)) ^ _block(run.face_region, back - 1, front + 1)
    if run.stem_region is not None and run.rebate:
        half = float(run.face / 2 - run.rebate)
        stem = _swept(line, tidy([(half, stop), (-half, stop), (-half, back), (half, back)]))
        face = face + (stem ^ _block(run.stem_region, back - 1, front + 1))
    return of_manifold(face)


def _block(region: Polygon | None, low: float, high: float) -> manifold3d.Manifold:
    """A region as a block; it is bounded across the bar by the section alone, so it may be a hair wider."""
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
    ahead = np.diff(line, axis=0)
    along = ahead / np.hypot(ahead[:, 0], ahead[:, 1])[:, None]
    left = np.stack([-along[:, 1], along[:, 0]], axis=1)
    before, after = np.concatenate([left[:1], left]), np.concatenate([left, left[-1:]])
    mitre = (before + after) / (1 + (before * after).sum(axis=1))[:, None]
    corners = np.empty((len(line), len(section), 3))
    for index, (across, w) in enumerate(section):
        corners[:, index, :2] = line + mitre * across
        corners[:, index, 2] = w
    return strip(corners, section).manifold()
