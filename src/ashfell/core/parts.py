"""Members and parts: what is to be made, and the closed solid that was made of it, with its role, finish slot and
grain.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ashfell.core.plane.points import Floats
from ashfell.core.solid.form import Form
from ashfell.core.solid.topology import Solid

Direction = tuple[float, float, float]
ALONG_U: Direction = (1.0, 0.0, 0.0)
ALONG_V: Direction = (0.0, 1.0, 0.0)


@dataclass(frozen=True)
class Inner:
    """The finish that a member has on its inner side: where ``normal`` · point is less than ``offset`` mm, in the space
    that it is told in."""

    finish: str
    normal: Direction
    offset: float

    def moved(self, matrix: Floats) -> Inner:
        """The same under a rigid motion (4, 4)."""
        normal = matrix[:3, :3] @ np.array(self.normal)
        return Inner(self.finish, tuple(normal.tolist()), self.offset + float(normal @ matrix[:3, 3]))


@dataclass(frozen=True, eq=False)
class Member:
    """One member of a layout: all that its part will be, but for the solid.

    Attributes
    ----------
    id : str
        Unique in its unit, e.g. ``"mullion.1"``.
    entry : str
        Address of the document entry that made it, e.g. ``"columns.bars.0"``.
    role : str
        What it is, e.g. ``"frame"``, ``"glass"``.
    finish : str
        Key of its finish.
    grain : (3,) tuple
        Unit vector the grain runs along.
    form : Form
        What its solid is made from, mm.
    light : str
        Key of the light that it is in; empty for what belongs to a frame.
    motion : (4, 4) or None
        Where it stands when the sash that it is in is opened.
    sash : str
        Key of the outermost sash that it is in; empty for what stays where it is.
    inner : Inner or None
        The finish of its inner side, where that is another.
    """

    id: str
    entry: str
    role: str
    finish: str
    grain: Direction
    form: Form
    light: str = ""
    motion: Floats | None = None
    sash: str = ""
    inner: Inner | None = None

    def moved(self, motion: Floats | None) -> Member:
        """The member in a sash that stands elsewhere, (4, 4)."""
        if motion is None:
            return self
        return replace(self, motion=motion if self.motion is None else motion @ self.motion)


@dataclass(frozen=True, eq=False)
class Part:
    """One part: a closed solid, mm, in the space of its unit or of the site, and what its member said of it.
    ``shift`` is where along and across its grain the texture of a wall has run to when it begins, mm. ``inner`` is the
    finish of its inner side, where that is another."""

    id: str
    entry: str
    role: str
    finish: str
    grain: Direction
    solid: Solid
    light: str = ""
    sash: str = ""
    shift: tuple[float, float] = (0.0, 0.0)
    inner: Inner | None = None

    def moved(self, matrix: Floats, prefix: str = "") -> Part:
        """The part under a rigid motion (4, 4), its id behind ``prefix``."""
        grain = matrix[:3, :3] @ np.array(self.grain)
        inner = self.inner and self.inner.moved(matrix)
        solid = self.solid.moved(matrix)
        return replace(self, id=prefix + self.id, grain=tuple(grain.tolist()), solid=solid, inner=inner)


def parts_of(members: Sequence[Member]) -> tuple[Part, ...]:
    """The parts of members, in their order; forms of one kind are made together."""
    by_kind: dict[type[Form], list[int]] = defaultdict(list)
    for index, member in enumerate(members):
        by_kind[type(member.form)].append(index)
    made: dict[int, list[Solid]] = {}
    for kind, indices in by_kind.items():
        made |= zip(indices, kind.made([members[index].form for index in indices]), strict=True)
    found = []
    for index, member in enumerate(members):
        for number, solid in enumerate(made[index]):
            name = f"{member.id}.{number + 1}" if number else member.id
            part = Part(
                name, member.entry, member.role, member.finish, member.grain, solid, member.light, member.sash,
                inner=member.inner,
            )  # fmt: skip
            found.append(part if member.motion is None else part.moved(member.motion))
    return tuple(found)


def bounds(parts: Iterable[Part]) -> Floats:
    """(2, 3): least and greatest corner of all parts, mm."""
    boxes = np.array([part.solid.bounds for part in parts])
    return np.array([boxes[:, 0].min(axis=0), boxes[:, 1].max(axis=0)])


def box_corners(box: Floats, matrix: Floats) -> Floats:
    """The eight corners of a box (2, 3), moved by a matrix (4, 4), (8, 3) mm."""
    at = np.array([[box[i, 0], box[j, 1], box[k, 2]] for i in (0, 1) for j in (0, 1) for k in (0, 1)])
    moved: Floats = at @ matrix[:3, :3].T + matrix[:3, 3]
    return moved
