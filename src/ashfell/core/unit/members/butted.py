"""Members cut square: those that run through end at the outline, the others against them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import manifold3d
import numpy as np

from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import TOUCH, Floats, following, without_repeats
from ashfell.core.solid.boolean import of_manifold
from ashfell.core.solid.form import Form
from ashfell.core.solid.plate import extrusions
from ashfell.core.solid.ring import Profile
from ashfell.core.solid.stack import OUTWARDS, SAME, Stack
from ashfell.core.solid.sweep import Section, strip
from ashfell.core.solid.topology import Solid
from ashfell.core.unit.layout import Ring

FAR, BEYOND = 1e4, 1.0
"""How far a member goes on before it is cut, and what cuts it beyond the outline, so that no two planes that cut are
one, mm."""


def butted(ring: Ring, profile: Profile, section: Section) -> Sequence[Form]:
    """The forms of the four members of a ring: stacks where it is a rectangle and its profile allows it.

    Raises
    ------
    Refusal
        When it has not four straight sides.
    """
    loop = ring.loop
    if any(loop.curved) or len(loop.runs()) != 4:
        raise Refusal(
            f"{ring.entry}.joint",
            "four straight members for butted joints",
            "Only two straight jambs with a straight head and sill can be butted.",
            "Choose mitred joints.",
        )
    zones = _zones(profile) if loop.is_rectangle and len(set(loop.tags)) == 4 else None
    if zones is not None:
        stacks = [_stack(ring, side, *zones) for side in range(4)]
        if all(stack.is_sound for stack, face in zip(stacks, ring.faces, strict=True) if face):
            return stacks
    joints = Joints(ring, profile, section)
    return [Butted(joints, number) for number in range(4)]


def _zones(profile: Profile) -> tuple[Floats, Floats] | None:
    """Where a profile that has one width at every depth has its corners: w (z, 2), where each zone between them begins
    and ends, and its two edges there, (z, 2, 2, 2): begin and end; outer and inner; share of the face and more, mm."""
    points = np.array(profile)
    ahead = following(points)
    depths = np.sort(points[:, 2])
    depths = depths[np.concatenate([[True], np.diff(depths) > SAME])]
    heights = np.column_stack([depths[:-1], depths[1:]])
    edges = np.empty((len(heights), 2, 2, 2))
    for k, (low, high) in enumerate(heights.tolist()):
        middle = (low + high) / 2
        (across,) = np.nonzero((points[:, 2] - middle) * (ahead[:, 2] - middle) < 0)
        if len(across) != 2:
            return None
        start, end = points[across], ahead[across]
        for n, w in enumerate((low, high)):
            share = ((w - start[:, 2]) / (end[:, 2] - start[:, 2]))[:, None]
            edges[k, n] = (start + (end - start) * share)[:, :2]
        # An outline that is counter-clockwise goes down at its outer side.
        if start[0, 2] < end[0, 2]:
            edges[k] = edges[k, :, ::-1]
    return heights, edges


def _stack(ring: Ring, side: int, heights: Floats, edges: Floats) -> Stack:
    """The member along a side of a rectangle (foot, right, head, left)."""
    left, foot, right, head = ring.loop.bounds
    outline = np.array([foot, right, head, left])
    reach = edges[..., 0] * ring.faces[:, None, None, None] + edges[..., 1]
    reach[ring.faces == 0] = 0.0
    sides = np.broadcast_to(outline, (*heights.shape, 4)).copy()
    through = (side % 2 == 1) == (ring.joint == "jambs")
    if not through:
        for other in ((side + 1) % 4, (side + 3) % 4):
            sides[..., other] = outline[other] - OUTWARDS[other] * reach[other, ..., 1]
    outer, inner = (outline[side] - OUTWARDS[side] * reach[side, ..., k] for k in (0, 1))
    sides[..., side], sides[..., (side + 2) % 4] = outer, inner
    return Stack(heights, sides)


@dataclass(frozen=True, eq=False)
class Joints:
    """Four members cut against each other by booleans, all at once."""

    ring: Ring
    profile: Profile
    section: Section

    @cached_property
    def solids(self) -> list[list[Solid]]:
        """Those of each member."""
        ring, loop = self.ring, self.ring.loop
        sides = [edges[0] for _, edges, _ in loop.runs()]
        through = [_is_jamb(loop, edge) == (ring.joint == "jambs") for edge in sides]
        made: dict[int, list[Solid]] = {}
        cutters: list[manifold3d.Manifold] = []
        for number in sorted(range(len(sides)), key=lambda number: not through[number]):
            edge = sides[number]
            if not ring.faces[edge] or loop.lengths[edge] < TOUCH:
                made[number] = []
                continue
            long = self._long(edge)
            left = long
            for cutter in cutters:
                left = left - cutter
            beside = np.full(len(loop.tags), 0.0)
            beside[edge] = BEYOND
            left = left ^ self._block(beside)
            cutters.append(long ^ self._block(np.full(len(loop.tags), BEYOND)))
            # What the worked edges of another leave beside it are slivers.
            made[number] = sorted(of_manifold(left), key=lambda piece: -piece.volume)[:1]
        return [made[number] for number in range(len(sides))]

    def _block(self, beyond: Floats) -> manifold3d.Manifold:
        """The outline as a block, further out along each edge."""
        points = self.ring.loop.moved(-beyond)
        shape = self.ring.loop.points if points is None else points
        return extrusions([without_repeats(shape)], float(-self.ring.back) - 1, float(-self.ring.front) + 1).manifold()

    def _long(self, edge: int) -> manifold3d.Manifold:
        """The member along one edge, going on far beyond its ends."""
        loop, face = self.ring.loop, float(self.ring.faces[edge])
        start = loop.points[edge]
        ahead = loop.points[(edge + 1) % len(loop.points)] - start
        along = ahead / np.hypot(*ahead)
        inwards = np.array([-along[1], along[0]])
        across = np.array([share * face + more for share, more, _ in self.profile])
        corners = np.empty((2, len(across), 3))
        for k, at in enumerate((start - along * FAR, start + ahead + along * FAR)):
            corners[k, :, :2] = at + across[:, None] * inwards
            corners[k, :, 2] = [w for _, _, w in self.profile]
        return strip(corners, self.section).manifold()


def _is_jamb(loop: Loop, edge: int) -> bool:
    return bool(abs(loop.along[edge, 1]) > abs(loop.along[edge, 0]))


@dataclass(frozen=True, eq=False)
class Butted(Form):
    """One of the members of a ring that are cut against each other."""

    joints: Joints
    number: int

    def solids(self) -> list[Solid]:
        return self.joints.solids[self.number]

    @property
    def length(self) -> float:
        """Along its outer edge, mm."""
        loop = self.joints.ring.loop
        return float(loop.lengths[list(loop.runs()[self.number][1])].sum())
