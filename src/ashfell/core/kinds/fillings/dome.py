"""A dome: a bent shell over a light on a flat rim that lies on the frame.

Over the rectangle between its rims it is as high as ``rise`` times (1 - x^4)(1 - y^4), x and y running from -1 to 1;
over another outline it falls to the edge in the same way along the rays from its middle.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from fractions import Fraction
from typing import Literal

import numpy as np
from shapely.geometry import Polygon

from ashfell.core.base.document import Gap, Key, Size, mm
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.filling import FILLINGS, FillEntry, Filling
from ashfell.core.kinds.fillings.over import Over, check_lap, clears_over
from ashfell.core.kinds.roles import Finishes
from ashfell.core.parts import ALONG_V, Member
from ashfell.core.plane.points import Floats, following
from ashfell.core.solid.form import Form
from ashfell.core.solid.rod import creased
from ashfell.core.solid.topology import OfCorners, Solid, Topology
from ashfell.core.unit.layout import Bed, Light
from ashfell.core.unit.say.writer import Writer
from ashfell.core.unit.solve.body import Solving

RINGS = 14
"""How many rings of facets a dome has from its rim to its crown."""
ROUND = 4.0
"""How fast it falls to its edge: the power of the way from the crown."""


class Dome(FillEntry):
    """A shell ``thickness`` thick, ``rise`` high over the frame; its rim lies on the frame by ``lap``."""

    kind: Literal["dome"]
    rise: Size = mm("180")
    thickness: Size = mm("8")
    lap: Gap = mm("30")
    finish: Key | None = None


@dataclass(frozen=True, eq=False)
class Shell(Form):
    """A shell between an upper and a lower skin, each one face: ``rings`` (s, c, 3) from the outer edge to the crown,
    of the upper one, whose crown is ``top`` high; the lower one is ``thickness`` under it."""

    rings: Floats
    thickness: float
    top: float

    def solids(self) -> list[Solid]:
        count, around = self.rings.shape[:2]
        crown = np.array([*self.rings[-1, :, :2].mean(axis=0), self.top])
        upper = np.vstack([self.rings.reshape(-1, 3), crown])
        lower = upper - (0.0, 0.0, self.thickness)
        i, j = (grid.reshape(-1) for grid in np.meshgrid(np.arange(count - 1), np.arange(around), indexing="ij"))
        ahead = (j + 1) % around
        a, b, c, d = i * around + j, i * around + ahead, (i + 1) * around + ahead, (i + 1) * around + j
        last = (count - 1) * around + np.arange(around)
        tip = np.stack([last, following(last), np.full(around, count * around)], axis=1)
        skin = np.concatenate([np.stack([a, b, c], axis=1), np.stack([a, c, d], axis=1), tip])
        size, edge = len(upper), np.arange(around)
        side = np.concatenate(
            [
                np.stack([edge + size, following(edge) + size, following(edge)], axis=1),
                np.stack([edge + size, following(edge), edge], axis=1),
            ]
        )
        triangles = np.concatenate([skin, skin[:, ::-1] + size, side]).astype(np.int32)
        faces = np.repeat([0, 1, 2], [len(skin), len(skin), len(side)])
        faces[-len(side) :] += np.tile(edge, 2)
        made = Solid(np.vstack([upper, lower]), Topology(triangles, faces.astype(np.int32)))
        return [replace(made, shading=OfCorners(lambda: creased(made)))]

    @property
    def length(self) -> float:
        """Its longer side, mm."""
        return float(np.ptp(self.rings[0], axis=0).max())


@dataclass(frozen=True, eq=False)
class Domed(Over):
    """The rings of a dome's upper skin, (s, c, 3) mm."""

    rings: Floats = field(default_factory=lambda: np.zeros((0, 0, 3)))


def _solve(light: Light, fill: Dome, solving: Solving) -> Domed:
    """The skin of a dome.

    Raises
    ------
    Refusal
        When its outline is hollow, or its rim has no room on the frame.
    """
    if not light.loop.is_convex:
        raise Refusal(
            f"{light.entry}.kind",
            "a dome over a full outline",
            "A dome cannot be drawn over an outline with a hollow corner.",
            "Divide the light, or choose another filling.",
        )
    ring = light.ring
    check_lap(light, fill)
    if fill.thickness.mm > fill.rise.mm:
        raise Refusal(
            f"{light.entry}.thickness",
            "a dome thinner than it is high",
            f"A shell {exact_mm(fill.thickness.mm)} thick is thicker than its rise of {exact_mm(fill.rise.mm)}.",
            f"Make it at most {exact_mm(fill.rise.mm)}.",
            fill.rise.mm,
        )
    inner = _fine(light.loop.points)
    rim = light.loop.moved(-float(fill.lap.mm)) if fill.lap.mm else None
    front, thick = -float(ring.front), float(fill.thickness.mm)
    middle = (inner.min(axis=0) + inner.max(axis=0)) / 2
    rings = (
        [np.column_stack([_stretched(inner, light.loop.points, rim), np.full(len(inner), front + thick)])]
        if (rim is not None)
        else []
    )
    half = np.ptp(inner, axis=0) / 2
    for share in np.linspace(1.0, 0.0, RINGS, endpoint=False):
        flat = middle + (inner - middle) * share
        x, y = np.abs((flat - middle) / half).clip(0, 1).T
        high = (1 - x**ROUND) * (1 - y**ROUND) if light.is_rectangle else np.full(len(flat), 1 - share**ROUND)
        rings.append(np.column_stack([flat, front + thick + float(fill.rise.mm - fill.thickness.mm) * high]))
    covers = Polygon(rings[0][:, :2])
    crown = np.concatenate(rings) - (0.0, 0.0, front)
    return Domed(rings=np.array(rings), covers=covers, crown=crown, proud=Fraction(1))


def _fine(points: Floats) -> Floats:
    """A path with points between its own where they are far apart."""
    found = []
    for start, end in zip(points, following(points), strict=True):
        count = max(1, int(np.hypot(*(end - start)) // (np.ptp(points, axis=0).max() / RINGS)))
        found += [start + (end - start) * k / count for k in range(count)]
    return np.array(found)


def _stretched(fine: Floats, corners: Floats, outer: Floats) -> Floats:
    """The points of a path on the one that was moved from it, corner to corner."""
    found = []
    for k, (start, end) in enumerate(zip(corners, following(corners), strict=True)):
        far, ahead = outer[k], outer[(k + 1) % len(outer)]
        length = float(np.hypot(*(end - start)))
        count = max(1, int(length // (np.ptp(corners, axis=0).max() / RINGS)))
        found += [far + (ahead - far) * j / count for j in range(count)]
    return np.array(found)


def _members(light: Light, finishes: Finishes, bed: Bed | None) -> Iterator[Member]:
    assert isinstance(light.fill, Dome)
    assert isinstance(light.content, Domed)
    finish = light.fill.finish or finishes.of("glass")
    top = float(light.fill.rise.mm) - float(light.ring.front)
    form = Shell(light.content.rings, float(light.fill.thickness.mm), top)
    yield Member(f"glass.{light.key}.dome", light.entry, "glass", finish, ALONG_V, form, light.key)


def _say(w: Writer, path: str, light: Light) -> None:
    fill = light.fill
    assert isinstance(fill, Dome)
    w.say(
        f"{path}.rise",
        "A dome",
        w.length(f"{path}.rise", fill.rise, "Rise of the dome"),
        "high over the frame,",
        w.length(f"{path}.thickness", fill.thickness, "Thickness of the dome"),
        "thick, its rim on the frame by",
        w.length(f"{path}.lap", fill.lap, "Lap on the frame"),
        ".",
        w.finish(f"{path}.finish", fill.finish, "Finish of the dome", usual=w.of_role("glass")),
        nested=True,
    )


KIND = FILLINGS.register(
    Filling(
        "dome",
        Dome,
        "a dome",
        lambda fill: "dome",
        _solve,
        _members,
        order=60,
        say=_say,
        clears=clears_over,
        operation=lambda fill, name: "FIXEDCASEMENT",
        pieces=lambda light, fill: (25, "strips of a dome"),
    )
)
