"""The members of a ring: frame, extra rings, sashes."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from ashfell.core.kinds.roles import Finishes
from ashfell.core.parts import Direction, Member
from ashfell.core.plane.loop import SIDES, Loop
from ashfell.core.plane.points import Floats, cross
from ashfell.core.solid.form import Form, members
from ashfell.core.solid.ring import Profile, ring_corners
from ashfell.core.solid.section import edge_points, fitted, front_edge, stretched_at, without
from ashfell.core.solid.sweep import Run, Section, cap_triangles
from ashfell.core.solid.topology import Indices
from ashfell.core.unit.layout import Light, Ring
from ashfell.core.unit.members.butted import butted
from ashfell.core.unit.members.faces import check_uneven
from ashfell.core.unit.members.mitres import bends, following_bends, oriented
from ashfell.core.unit.seat import is_bar

ROUND_A_RECTANGLE: list[tuple[str, Direction]] = [
    ("sill", (1.0, 0.0, 0.0)),
    ("right", (0.0, 1.0, 0.0)),
    ("head", (1.0, 0.0, 0.0)),
    ("left", (0.0, 1.0, 0.0)),
]
"""Name and grain of the members of a rectangle."""


FAR_WIDER = 20
"""How many times the widest face a section is stretched to as the last that is tried."""
TURNED = 1e-6
"""Triangles of a section turned over by less than this are flat, twice their area in mm²."""


def ring_members(ring: Ring, finishes: Finishes) -> list[Member]:
    """The members of a ring, jointed as it says.

    Raises
    ------
    Refusal
        When its profile leaves nothing somewhere, or it is to be butted and has not four straight sides.
    """
    if not ring.faces.any():
        return []
    profile, section = ring_profile(ring)
    bare = ring.faces == 0 if ring.bare else None
    corners = ring_corners([ring.loop], ring.faces, profile, f"{ring.entry}.face", bare)
    if bends(ring.loop, corners[0]):
        profile, section = following_bends(ring.loop, ring.faces, profile, float(ring.least_face), bare)
        corners = ring_corners([ring.loop], ring.faces, profile, f"{ring.entry}.face", bare)
    if len(set(ring.faces.tolist())) > 1:
        section = _for_every_face(profile, section, sorted({*ring.faces.tolist()} - {0.0}))
        check_uneven(ring.loop, corners[0], f"{ring.entry}.sides")
    forms: Sequence[Form] = members(corners, section, runs_of(ring.loop))[0]
    if ring.joint != "mitred":
        forms = butted(ring, profile, section)
    stem = ring.role if not ring.key else f"ring.{ring.key}" if ring.role == "frame" else f"{ring.role}.{ring.key}"
    light = "" if ring.role == "frame" else ring.key
    return [
        Member(f"{stem}.{name}", ring.entry, ring.role, finishes.of(ring.role), grain, form, light)
        for (name, grain), form, (tag, _, _) in zip(names_of(ring.loop), forms, ring.loop.runs(), strict=True)
        if tag not in ring.bare
    ]


def ring_profile(ring: Ring) -> tuple[Profile, Section]:
    """A ring's profile: front edges worked, and either a stop with a rebate behind it or worked edges at the
    back too.
    """
    front, back = -float(ring.front), -float(ring.back)
    if ring.section:
        return _own_profile(ring, ring.section)
    edge = edge_points(ring.edge)
    points = [(share, x, front + w) for share, x, w in front_edge(ring.edge, 1.0)]
    if ring.seat and ring.seat.stopless:
        rebate = -float(ring.seat.rebate)
        points = [(share, x + (rebate if share else 0.0), w) for share, x, w in points]
        points += [(1.0, rebate, back)]
    elif ring.seat:
        stop, rebate = -float(ring.seat.stop_back), -float(ring.seat.rebate)
        points += [(1.0, 0.0, stop), (1.0, rebate, stop), (1.0, rebate, back)]
    else:
        points += [(1.0, -x, back + y) for x, y in reversed(edge)]
    points += [(0.0, x, back + y) for x, y in edge]
    return oriented(points, float(ring.least_face))


def _for_every_face(profile: Profile, section: Section, faces: Sequence[float]) -> Section:
    """The section with a face at which its ends are closed by triangles that close it with all the others too: they are
    the same all round the ring. A worked front that is hollow is stretched between its halves."""
    for face in (*faces, FAR_WIDER * faces[-1]):
        model = tuple((share * face + more, w) for share, more, w in profile)
        if all(_closed_by(cap_triangles(model), profile, other) for other in faces):
            return model
    return section


def _closed_by(triangles: Indices, profile: Profile, face: float) -> bool:
    """Whether no triangle of a section is turned over with a face."""
    corners = np.array([(share * face + more, w) for share, more, w in profile])[triangles]
    return bool((cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]) > -TURNED).all())


def _own_profile(ring: Ring, section: Section) -> tuple[Profile, Section]:
    """An own section, fitted and with its rebate; what is in its inner half follows the inner edge where sides
    differ.
    """
    face, depth = float(ring.least_face), float(ring.back - ring.front)
    whole = fitted(section, face, depth)
    if ring.seat:
        stop = float(ring.front - ring.seat.stop_back)
        (whole,) = without(whole, -1.0, face - float(ring.seat.rebate), stop)
    front = -float(ring.front)
    at = stretched_at([x for x, _ in whole], face / 2)
    points = [(1.0, x - face, front + w) if x > at else (0.0, x, front + w) for x, w in whole]
    return oriented(points, face)


def runs_of(loop: Loop) -> list[Run]:
    """The members along a loop, for :func:`~ashfell.core.solid.members`."""
    return [(edges, closed, any(loop.curved[k] for k in edges)) for _, edges, closed in loop.runs()]


def names_of(loop: Loop) -> list[tuple[str, Direction]]:
    """Name and grain of each member along a loop: sides of a rectangle by place, others by what they run along."""
    if loop.is_rectangle and len(set(loop.tags)) == 4:
        return ROUND_A_RECTANGLE
    found: list[tuple[str, Direction]] = []
    runs = loop.runs()
    for index, (tag, edges, _) in enumerate(runs):
        name = SIDES[edges[0]] if loop.is_rectangle else str(index + 1) if is_bar(tag) else tag
        taken = [other for other, _ in found]
        found.append((name if name not in taken else f"{name}.{index + 1}", _grain(loop, edges)))
    return found


def _grain(loop: Loop, edges: Sequence[int]) -> Direction:
    """Along the member, to the right or upwards."""
    ahead = loop.points[(edges[-1] + 1) % len(loop.points)] - loop.points[edges[0]]
    if np.hypot(*ahead) < 1e-6:
        return (1.0, 0.0, 0.0)
    x, y = (ahead / np.hypot(*ahead)).tolist()
    sign = -1.0 if x < -1e-9 or (abs(x) <= 1e-9 and y < 0) else 1.0
    return (sign * x + 0.0, sign * y + 0.0, 0.0)


Naming = tuple[str, str, str, str]
"""Role, what ids begin with, entry, finish."""


def strips(
    light: Light, by: Floats, profile: Profile, naming: Naming, bare: frozenset[str] | None = None
) -> Iterator[Member]:
    """Plain members round a light: ``profile`` laid by distances of its own for each edge, (c,) mm; none along sides
    that are ``bare``, which are those where its ring has no member when nothing is said."""
    role, stem, entry, finish = naming
    without = light.ring.bare if bare is None else bare
    left_out = np.array([tag in without for tag in light.loop.tags])
    if left_out.all():
        return
    face, bare_ones = float(by[~left_out][0]), left_out if left_out.any() else None
    kept, section = oriented(profile, face)
    corners = ring_corners([light.loop], by, kept, entry, bare_ones)
    if bends(light.loop, corners[0]):
        kept, section = following_bends(light.loop, by, kept, face, bare_ones)
        corners = ring_corners([light.loop], by, kept, entry, bare_ones)
    made = members(corners, section, runs_of(light.loop))[0]
    for (name, grain), form, (tag, _, _) in zip(names_of(light.loop), made, light.loop.runs(), strict=True):
        if tag not in without:
            yield Member(f"{stem}.{name}", entry, role, finish, grain, form, light.key)
