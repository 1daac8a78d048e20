"""The same solids as somebody makes them with booleans: what is extruded, where it is cut, what is taken away.

A recipe is neutral; :mod:`bench.by_manifold` and :mod:`bench.by_kernel` carry it out.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np

from ashfell.core.kinds.fillings.closing import Closed
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import Floats
from ashfell.core.solid.ring import Profile
from ashfell.core.unit import UnitDocument
from ashfell.core.unit.layout import BarRun, Body, Light
from ashfell.core.unit.members.bar import bar_section
from ashfell.core.unit.members.glazing import bead_profile, covers, gasket_of, planes_of
from ashfell.core.unit.members.ring import ring_profile, runs_of
from ashfell.core.unit.promise import solve


@dataclass(frozen=True)
class Prism:
    """A polygon (k, 2) in the plane of two axes, extruded along the third by a length, then cut by planes: of each only
    the side that ``normal · x >= offset`` is kept."""

    polygon: Floats
    origin: Floats
    x: Floats
    y: Floats
    z: Floats
    length: float
    planes: tuple[tuple[Floats, float], ...] = ()


@dataclass(frozen=True)
class Recipe:
    """One part: the union of some prisms less that of others."""

    name: str
    add: tuple[Prism, ...]
    less: tuple[Prism, ...] = ()
    within: tuple[Prism, ...] = field(default=())


U, V, W = np.eye(3)


def level(points: Floats, low: float, high: float) -> Prism:
    """A polygon in plan, from one w to another."""
    return Prism(np.asarray(points, dtype=float), np.array([0.0, 0.0, low]), U, V, W, high - low)


def recipes(document: UnitDocument) -> list[Recipe]:
    """A recipe for each part of a unit."""
    layout = solve(document)
    return list(_body(layout.body))


def _body(body: Body) -> Iterator[Recipe]:
    ring = body.ring
    profile, _ = ring_profile(ring)
    yield from _members("ring", ring.loop, ring.faces, profile)
    for run in body.bars:
        yield _bar(run)
    for light in body.lights:
        if light.filling.seated:
            yield from _glazing(light)
        else:
            yield from _plain_members(light)
        for sash in light.sashes:
            yield from _body(sash.body)


def _members(name: str, loop: Loop, faces: Floats, profile: Profile) -> Iterator[Recipe]:
    """Each member facet by facet: its section extruded along the facet and cut at both mitres."""
    along = loop.along
    inwards = np.column_stack([-along[:, 1], along[:, 0]])
    count = len(along)
    for edges, _, _ in runs_of(loop):
        prisms = []
        for k in edges:
            start, end = loop.points[k], loop.points[(k + 1) % count]
            length = float(np.hypot(*(end - start)))
            if length < 1e-6:
                continue
            section = np.array([(share * faces[k] + more, w) for share, more, w in profile])
            deep = 3 * float(np.abs(section[:, 0]).max()) + 10
            planes = []
            for at, other, sign in ((start, (k - 1) % count, 1.0), (end, (k + 1) % count, -1.0)):
                mitre = (along[k] + along[other]) / np.hypot(*(along[k] + along[other])) * sign
                planes.append((np.array([*mitre, 0.0]), float(mitre @ at)))
            d, n = np.array([*along[k], 0.0]), np.array([*inwards[k], 0.0])
            prisms.append(Prism(section, np.array([*start, 0.0]) - d * deep, n, W, d, length + 2 * deep, tuple(planes)))
        if prisms:
            yield Recipe(name, tuple(prisms))


def _bar(run: BarRun) -> Recipe:
    stem_points, section = bar_section(run)
    stem, flange = np.array(section[:stem_points]), np.array(section[stem_points:])
    upright = run.axis == "columns"
    d, across = (V, -U) if upright else (U, V)
    start, end = float(run.start), float(run.end)
    tongue = start - float(run.tongue_start), end + float(run.tongue_end)
    base = np.array([float(run.across), 0.0, 0.0]) if upright else np.array([0.0, float(run.across), 0.0])
    if run.face_region is not None:
        far = 1e4
        face = Prism(flange, base - d * far, across, W, d, 2 * far)
        web = Prism(stem, base - d * far, across, W, d, 2 * far)
        regions = [
            np.array(region.exterior.coords)[:-1] for region in (run.face_region, run.stem_region) if region is not None
        ]
        within = tuple(level(points, -float(run.back) - 1, 1.0) for points in regions)
        return Recipe("bar", (face, web), within=within)
    return Recipe(
        "bar",
        (
            Prism(flange, base + d * start, across, W, d, end - start),
            Prism(stem, base + d * tongue[0], across, W, d, tongue[1] - tongue[0]),
        ),
    )


def _glazing(light: Light) -> Iterator[Recipe]:
    seat, planes = light.ring.seat, planes_of(light)
    assert seat is not None
    pane, inside = light.loop.moved(-covers(light)), light.loop.moved(float(gasket_of(light).shows.mm))
    assert pane is not None
    assert inside is not None
    front, back = -float(planes.front), -float(planes.back)
    lead = getattr(light.fill, "lead", None)
    if lead is None:
        yield Recipe("glass", (level(pane, back, front),))
    else:
        yield from _leaded(light, pane, front, back)
    for near, far in ((planes.stop_back, planes.front), (planes.back, planes.bead_front)):
        low, high = -float(far), -float(near)
        yield Recipe("gasket", (level(pane, low, high),), (level(inside, low - 1, high + 1),))
    profile, _ = bead_profile(seat, planes, "glazing.bead.section")
    yield from _members("bead", light.loop, -np.array(seat.rebates(light.loop), dtype=float), profile)


def _leaded(light: Light, pane: Floats, front: float, back: float) -> Iterator[Recipe]:
    lead = light.fill.lead  # type: ignore[union-attr]
    assert lead is not None
    glass, proud = float(lead.glass.mm), float(lead.proud.mm)
    holes = light.content.lead.holes  # type: ignore[attr-defined]
    middle = (front + back) / 2
    low, high = middle - glass / 2, middle + glass / 2
    less = [
        prism
        for narrow, wide in holes
        for prism in (level(narrow, low - proud - 1, high + proud + 1), level(wide, low, high))
    ]
    yield Recipe("came", (level(pane, low - proud, high + proud),), tuple(less))
    yield from (Recipe("glass", (level(wide, low, high),)) for _, wide in holes)


def _plain_members(light: Light) -> Iterator[Recipe]:
    """Lining and stop of a light with a sash: straight members of a rectangular section."""
    seat, nothing = light.ring.seat, np.zeros(len(light.loop.tags))
    made: list[tuple[str, Floats, float, float, float]] = []
    if seat:
        by = -np.array(seat.rebates(light.loop), dtype=float)
        made.append(("lining", by, 0.0, -float(seat.bead_back), -float(seat.stop_back)))
    if isinstance(light.content, Closed) and light.content.strip:
        made.append(("stop", nothing, float(light.fill.stop.mm), *light.content.strip))  # type: ignore[attr-defined]
    for kind, by, width, low, high in made:
        profile = [(1.0, 0.0, low), (0.0, width, low), (0.0, width, high), (1.0, 0.0, high)]
        yield from _members(kind, light.loop, by, profile)
