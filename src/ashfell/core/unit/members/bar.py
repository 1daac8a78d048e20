"""The solid of a mullion or transom: a face before the stops, a stem behind them that goes on into the rebates."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from shapely.geometry import Polygon

from ashfell.core.kinds.roles import Finishes
from ashfell.core.parts import ALONG_U, ALONG_V, Direction, Member
from ashfell.core.plane.points import polygons
from ashfell.core.solid.form import Form, Sweep
from ashfell.core.solid.stepped import square
from ashfell.core.solid.sweep import Section
from ashfell.core.solid.topology import Solid
from ashfell.core.unit.layout import BarRun
from ashfell.core.unit.members.bar_section import bar_section, face_section
from ashfell.core.unit.members.cut_bar import CutBar


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
            made = square(np.array([form.section for form in own]), stations, upright, across, own[0].stem)
            for index, solid in zip(indices, made, strict=True):
                found[index] = [solid]
        return found

    @property
    def length(self) -> float:
        """With its tongues, mm."""
        return self.stations[3] - self.stations[0]


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
