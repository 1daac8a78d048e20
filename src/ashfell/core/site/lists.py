"""Lists of a site for those who make it: panes to be cut, members with their lengths and mitres, areas of finishes.

A unit that stands many times is told once, with how many there are.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from ashfell.core import finish as finishes
from ashfell.core.coats import coats
from ashfell.core.finish import Finish
from ashfell.core.kinds.roles import ROLES
from ashfell.core.parts import Part
from ashfell.core.site.scene import Scene
from ashfell.core.unit.layout import Pane
from ashfell.core.unit.make import Unit

SAME = 2
"""Decimals of a millimetre, and of a degree, to which two members must agree to be of one row."""


@dataclass(frozen=True)
class Made:
    """A unit that stands on a site: the marks of where it does."""

    unit: Unit
    parts: tuple[Part, ...]
    marks: tuple[str, ...]

    @property
    def count(self) -> int:
        """How often it stands."""
        return len(self.marks)


@dataclass(frozen=True)
class PaneRow:
    """Panes of one size: in which unit and light, how large and thick, mm, of what, and how many of them there are."""

    unit: str
    marks: str
    lights: str
    width: Fraction
    height: Fraction
    rectangular: bool
    thickness: Fraction
    finish: str
    count: int

    @property
    def area(self) -> float:
        """Of all of them, by their overall size, m²."""
        return float(self.width * self.height) * self.count / 1e6


@dataclass(frozen=True)
class MemberRow:
    """Members of one length and one pair of cuts: their section's breadth and depth, mm, the angles of their ends,
    degrees."""

    unit: str
    marks: str
    role: str
    finish: str
    breadth: float
    depth: float
    length: float
    cuts: tuple[float, float]
    count: int


@dataclass(frozen=True)
class FinishRow:
    """A finish: the area of all surfaces in it, m², the volume of what is made of it, m³, and how many parts that
    are."""

    finish: str
    roles: str
    parts: int
    area: float
    volume: float


def made_on(scene: Scene) -> list[Made]:
    """The units that stand on a site, each once, by their names."""
    marks: dict[str, list[str]] = defaultdict(list)
    first: dict[str, str] = {}
    for placement in scene.site.placements:
        instance = scene.instance_of.get(placement.id)
        if instance is not None:
            key = instance.definition.partition("@")[0]
            first.setdefault(key, placement.id)
            marks[key].append(placement.mark or placement.id)
    made = [Made(scene.units[first[key]], scene.definitions[key], tuple(own)) for key, own in marks.items()]
    return sorted(made, key=lambda one: (one.unit.document.name, one.marks))


def pane_rows(scene: Scene) -> list[PaneRow]:
    """The glass list: every pane, those of one size in one unit together."""
    found = []
    for one in made_on(scene):
        panes: dict[tuple[Pane, str], list[str]] = {}
        for light in one.unit.layout.lights:
            glass = [part.finish for part in one.parts if part.light == light.key and part.role == "glass"]
            for pane in light.content.panes if glass else ():
                panes.setdefault((pane, glass[0]), []).append(light.key)
        found += [
            PaneRow(
                one.unit.document.name,
                ", ".join(one.marks),
                ", ".join(dict.fromkeys(lights)),
                pane.width,
                pane.height,
                pane.exact,
                pane.thickness,
                finish,
                len(lights) * one.count,
            )
            for (pane, finish), lights in panes.items()
        ]
    return found


def member_rows(scene: Scene) -> list[MemberRow]:
    """The cutting list: every member that has a length, those that are alike in one unit together."""
    found = []
    for one in made_on(scene):
        counted: Counter[tuple[str, str, float, float, float, tuple[float, float]]] = Counter()
        finish_of = {part.id: part.finish for part in one.parts}
        solids = {part.id: part for part in one.parts}
        for member in one.unit.layout.members:
            length, part = round(member.form.length, SAME), solids.get(member.id)
            if not length or part is None or member.role == "glass":
                continue
            breadth, depth = _section(part, length)
            angles = [round(angle, SAME) for angle in member.form.cuts]
            cuts = (min(angles), max(angles))
            counted[member.role, finish_of[member.id], breadth, depth, length, cuts] += 1
        name, marks = one.unit.document.name, ", ".join(one.marks)
        found += [
            MemberRow(name, marks, _role(role), finish, breadth, depth, length, cuts, count * one.count)
            for (role, finish, breadth, depth, length, cuts), count in counted.items()
        ]
    return found


def _section(part: Part, length: float) -> tuple[float, float]:
    """How broad and how deep a member is across its grain, mm; 0 and 0 where it is bent."""
    if part.solid.flow is not None:
        return 0.0, 0.0
    grain = np.array(part.grain)
    points = part.solid.vertices
    out = np.array([0.0, 0.0, 1.0])
    side = np.cross(grain, out)
    size = np.linalg.norm(side)
    if size < 1e-9:
        spans = np.sort(np.ptp(points, axis=0))
        return round(float(spans[0]), SAME), round(float(spans[1]), SAME)
    return tuple(round(float(np.ptp(points @ axis)), SAME) for axis in (side / size, out))  # type: ignore[return-value]


def _role(role: str) -> str:
    return ROLES[role].label if role in ROLES else role.capitalize()


def finish_rows(scene: Scene, own: Mapping[str, Finish] | None = None) -> list[FinishRow]:
    """How much of each finish there is on a site, in the order of their names."""
    uses: Counter[str] = Counter(instance.definition for instance in scene.building)
    area: dict[str, float] = defaultdict(float)
    volume: dict[str, float] = defaultdict(float)
    count: Counter[str] = Counter()
    roles: dict[str, set[str]] = defaultdict(set)
    for key, times in uses.items():
        for part in scene.definitions[key]:
            volume[part.finish] += times * part.solid.volume / 1e9
            for coat in coats(part):
                area[coat.finish] += times * surface_area(coat) / 1e6
                count[coat.finish] += times
                roles[coat.finish].add(_role(part.role))
    named = {key: finishes.find(key, own or {}).name for key in area}
    return [
        FinishRow(named[key], ", ".join(sorted(roles[key])), count[key], area[key], volume[key])
        for key in sorted(area, key=lambda key: named[key])
    ]


def surface_area(part: Part) -> float:
    """The area of a part's whole surface, mm²."""
    a, b, c = (part.solid.vertices[part.solid.triangles[:, k]] for k in range(3))
    return float(np.linalg.norm(np.cross(b - a, c - a), axis=1).sum() / 2)


Cell = str | float


def glass_table(scene: Scene, names: Mapping[str, str]) -> Iterator[tuple[Cell, ...]]:
    """The glass list as a table, its headings first."""
    yield "unit", "marks", "lights", "width mm", "height mm", "shape", "thickness mm", "glass", "number", "area m²"
    for row in pane_rows(scene):
        shape = "rectangle" if row.rectangular else "of a shape, overall"
        size = float(row.width), float(row.height)
        glass = names.get(row.finish, row.finish)
        yield row.unit, row.marks, row.lights, *size, shape, float(row.thickness), glass, row.count, round(row.area, 4)


def member_table(scene: Scene, names: Mapping[str, str]) -> Iterator[tuple[Cell, ...]]:
    """The cutting list as a table, its headings first."""
    yield (
        "unit", "marks", "member", "finish", "breadth mm", "depth mm", "length mm", "cut °", "other cut °", "number",
        "together m",
    )  # fmt: skip
    for row in member_rows(scene):
        together = round(row.length * row.count / 1000, 4)
        section = row.breadth or "bent", row.depth or "bent", row.length
        finish = names.get(row.finish, row.finish)
        yield row.unit, row.marks, row.role, finish, *section, *row.cuts, row.count, together


def finish_table(scene: Scene, own: Mapping[str, Finish]) -> Iterator[tuple[Cell, ...]]:
    """The areas of the finishes as a table, its headings first."""
    yield "finish", "of", "parts", "surface m²", "volume m³"
    for row in finish_rows(scene, own):
        yield row.finish, row.roles, row.parts, round(row.area, 4), round(row.volume, 6)
