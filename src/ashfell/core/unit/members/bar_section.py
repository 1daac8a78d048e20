"""Sections of bars: a face before the stops, and a stem behind them between the rebates."""

from __future__ import annotations

import numpy as np
from shapely.geometry import Polygon, box

from ashfell.core.plane.points import polygons, without_straight
from ashfell.core.solid.section import edge_points
from ashfell.core.solid.sweep import Section, tidy
from ashfell.core.unit.layout import BarRun


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
