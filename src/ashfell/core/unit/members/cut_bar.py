"""Bars that are cut to what they meet: at a curve, at a slope, by another bar."""

from __future__ import annotations

from dataclasses import dataclass

import manifold3d
import numpy as np
from shapely.geometry import Polygon

from ashfell.core.plane.points import Floats, left_of, polygons
from ashfell.core.solid.boolean import of_manifold
from ashfell.core.solid.ended import straight
from ashfell.core.solid.form import Form
from ashfell.core.solid.plate import plate
from ashfell.core.solid.relief import Stem, relief
from ashfell.core.solid.stepped import cut
from ashfell.core.solid.sweep import Section, strip
from ashfell.core.solid.topology import Solid, welded
from ashfell.core.unit.layout import BarRun
from ashfell.core.unit.members.bar_section import bar_section, face_section, stem_section


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


RAISED = 1e-3
"""How far a stem is let into its face while the two are made one, mm: faces that only touch may stay apart."""


def _cut_to_region(run: BarRun) -> list[Solid]:
    """A bar cut to what it meets: its face within one region, its stem within another."""
    plain = _straight(run) if len(run.points) < 3 else _as_relief(run)
    if plain is not None:
        return [plain]
    front, back = -float(run.front), -float(run.back)
    line = _line(run)
    face = _swept(line, face_section(run)) ^ _block(run.face_region, back - 1, front + 1)
    if run.stem_region is None or not run.rebate:
        return of_manifold(face)
    stop = -float(run.stop)
    return [_lowered(solid, stop) for solid in of_manifold(face + _stem(run, line))]


def _straight(run: BarRun) -> Solid | None:
    """A straight bar of one piece that is as wide as it is all along."""
    assert run.face_region is not None
    line, half = _line(run), float(run.face / 2)
    aside = half * left_of((line[1] - line[0]) / np.hypot(*(line[1] - line[0])))
    pieces = polygons(run.face_region.intersection(Polygon([*(line - aside), *(line + aside)[::-1]])))
    if len(pieces) != 1:
        return None
    if not run.rebate:
        section = face_section(run)
        made = straight(pieces[0], _laid(line, section), section)
        return made.solids()[0] if made else None
    if run.section or run.stem_region is None:
        return None
    stem, section = bar_section(run)
    return cut(pieces[0], run.stem_region, line, section, stem)


def _as_relief(run: BarRun) -> Solid | None:
    """A bent bar cut in plan, where its section rises and falls without steps and it is one piece."""
    if run.section:
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
    """A section swept along a line (s, 2), mitred at its points."""
    return strip(_laid(line, section), section).manifold()


def _laid(line: Floats, section: Section) -> Floats:
    """The corners (s, k, 3) of a section along a line (s, 2); across is to the left of travel."""
    corners = np.empty((len(line), len(section), 3))
    for index, (across, w) in enumerate(section):
        corners[:, index, :2] = _beside(line, across)
        corners[:, index, 2] = w
    return corners


def _beside(line: Floats, across: float) -> Floats:
    """The line (s, 2) that goes along another at a distance to the left, mitred at its points."""
    ahead = np.diff(line, axis=0)
    along = ahead / np.hypot(ahead[:, 0], ahead[:, 1])[:, None]
    left = np.stack([-along[:, 1], along[:, 0]], axis=1)
    before, after = np.concatenate([left[:1], left]), np.concatenate([left, left[-1:]])
    return np.asarray(line + (before + after) / (1 + (before * after).sum(axis=1))[:, None] * across)
