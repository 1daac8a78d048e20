"""Walls: of one facet or many, their ends square, mitred or stopped, their tops level, raked or over a ridge."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from fractions import Fraction
from functools import cached_property
from math import ceil, cos, radians, sin

import manifold3d
import numpy as np
from shapely.geometry import box

from ashfell.core.base.address import Address
from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.curve import CURVES, Curve
from ashfell.core.parts import ALONG_U, Part
from ashfell.core.plane.points import Floats
from ashfell.core.site.course import facets_of, folds_of
from ashfell.core.site.document.wall import Wall
from ashfell.core.site.hosts.chain import SQUARE_ENDS, End, Ends
from ashfell.core.site.hosts.cut import less, parts_beside, shapes
from ashfell.core.site.hosts.face import Face, face_solids
from ashfell.core.site.hosts.host import Host, Layer, TopLine
from ashfell.core.site.opening import Opening
from ashfell.core.solid.fold import ON, Fold, facet_of, smoothed
from ashfell.core.solid.plate import plate
from ashfell.core.solid.topology import OfCorners, Solid


def _radius(wall: Wall) -> Fraction | None:
    """The radius of its line, where that is an arc, to 0.01 mm."""
    told = CURVES[wall.curve.kind].radius if wall.curve else None  # type: ignore[attr-defined]
    return Fraction(round(told(wall.curve, float(wall.length.mm)) * 100), 100) if told else None


SPARE = 20.0
"""How much is to be left of a facet when fewer are proposed, mm."""


class WallHost(Host):
    """A wall of the document, with the ends that its neighbours give it.

    Raises
    ------
    Refusal
        When its curve is none, or its ridge is not between its ends.
    """

    def __init__(self, wall: Wall, ends: Ends = SQUARE_ENDS) -> None:
        self.wall, self.ends = wall, ends
        self.id, self.entry, self.name = wall.id, Address("walls") / wall.id, wall.name
        self.facets = facets_of(wall)
        self.folds = folds_of(self.facets, float(wall.before))
        self.smooth = bool(wall.curve and wall.curve.smooth)
        self.radius = _radius(wall)
        self.built = wall.built
        self.length, self.thickness = self.facets[-1].end, wall.thickness.mm
        self._refuse_vanished()
        self.top = _top_line(wall, self.length)
        self.height = max(height for _, height in self.top)

    @cached_property
    def _planes(self) -> Bounded:
        """What bounds each facet, as it is seen from there: the wall's ends, and its folds."""
        return _bounded(self.folds, self.ends, self.length, self.thickness, float(self.wall.before))

    def _refuse_vanished(self) -> None:
        """Refuse a wall of whose facets a corner or a fold leaves nothing on one of its faces."""
        lacking = _lacking(self._planes, float(self.thickness))
        if lacking <= 0:
            return
        wall, curve = self.wall, self.wall.curve
        told = f"The corners and folds of “{wall.name}” leave nothing of a facet at one of its faces: "
        told += f"{lacking:.4g} mm are lacking."
        rule = "a wall between its corners"
        if curve is None:
            longer = Fraction(ceil(float(wall.length.mm) + lacking + 1))
            raise Refusal("length", rule, told, f"Make it {longer} mm or longer.", longer)
        most = len(self.facets) - 1
        fewer = next((count for count in range(most, 1, -1) if self._holds_in(count, lacking + SPARE)), None)
        if fewer is None:
            raise Refusal("thickness", rule, told, "Make it thinner, or bend it less.")
        if CURVES[curve.kind].ends is not None:  # type: ignore[attr-defined]
            raise Refusal("thickness", rule, told, "Make it thinner, or bend it less.")
        if curve.chord is None:
            raise Refusal("curve.facets", rule, told, f"Make it of {fewer} facets.", Fraction(fewer))
        whole = Fraction(ceil(float(self.length) * 1.01 / fewer))
        raise Refusal("curve.chord", rule, told, f"Let a facet be {whole} mm long.", whole)

    def _holds_in(self, count: int, spare: float) -> bool:
        """Whether its corners and folds would leave so much of every one of fewer facets, mm."""
        curve = (self.wall.curve or Curve()).model_copy(update={"facets": count, "chord": None})
        fewer = facets_of(self.wall.model_copy(update={"curve": curve}))
        before = float(self.wall.before)
        planes = _bounded(folds_of(fewer, before), self.ends, fewer[-1].end, self.thickness, before)
        return _lacking(planes, float(self.thickness)) < -spare

    @cached_property
    def clear(self) -> tuple[Fraction, Fraction]:
        """Between what its neighbours take of its ends."""
        start, end = self.ends.start, self.ends.end
        low, high = max(0.0, start.outer, start.inner), min(0.0, end.outer, end.inner)
        return Fraction(round(low * 100), 100), self.length + Fraction(round(high * 100), 100)

    @cached_property
    def _frames(self) -> list[Floats]:
        """From the wall laid out flat to the site, for each facet."""
        return [self._frame(index) for index in range(len(self.facets))]

    def _frame(self, index: int) -> Floats:
        facet = self.facets[index]
        turn = radians(facet.heading)
        along, out = np.array([cos(turn), sin(turn), 0.0]), np.array([sin(turn), -cos(turn), 0.0])
        matrix = np.eye(4)
        matrix[:3, 0], matrix[:3, 1], matrix[:3, 2] = along, (0.0, 0.0, 1.0), out
        foot = (facet.x, facet.y, float(self.wall.base.mm))
        matrix[:3, 3] = foot + out * float(self.wall.before) - along * float(facet.start)
        return matrix

    def facet_at(self, u: float) -> int:
        """Which facet a place along it is in."""
        return sum(1 for fold in self.folds if u >= fold.at)

    def frame(self, u: float = 0.0) -> Floats:
        return self._frames[self.facet_at(u)]

    @property
    def section(self) -> tuple[Layer, ...]:
        """Its outer leaf, the leaves behind it but for cavities, and its lining."""
        wall, found, reached = self.wall, list[Layer](), -float(self.thickness)
        if wall.lining.mm:
            found.append(("lining", wall.inside, reached, reached + float(wall.lining.mm)))
            reached = found[-1][3]
        for index, leaf in reversed([*enumerate(wall.leaves)]):
            if leaf.finish:
                found.append((f"leaf.{index + 1}", leaf.finish, reached, reached + float(leaf.thickness.mm)))
            reached += float(leaf.thickness.mm)
        return (("body", wall.outside, reached, 0.0), *reversed(found))

    def seated(self, opening: Opening) -> Floats | None:
        """The seat's plane goes through both edges of the opening on the outer face."""
        first, last = (self.facet_at(float(u)) for u in (opening.x, opening.right))
        if first == last:
            return None
        ends = [
            self._frames[index] @ (float(u), 0.0, 0.0, 1.0) for index, u in ((first, opening.x), (last, opening.right))
        ]
        along = (ends[1] - ends[0])[:3]
        along /= np.linalg.norm(along)
        matrix = np.eye(4)
        matrix[:3, 0], matrix[:3, 1], matrix[:3, 2] = along, (0.0, 0.0, 1.0), np.cross(along, (0.0, 0.0, 1.0))
        matrix[:3, 3] = (ends[0] + ends[1])[:3] / 2 - along * float(opening.x + opening.width / 2)
        return matrix

    def parts(self, openings: Sequence[Opening]) -> tuple[Part, ...]:
        if not self.built:
            return ()
        through, seats = list[Opening](), list[manifold3d.Manifold]()
        for one in openings:
            if one.flat and self.folds and self.seated(one) is not None:
                seats.append(self._seat(one))
            else:
                through.append(one)
        taken = through, shapes(through)
        return tuple(
            piece for layer in self.section for part in self._layer(layer, *taken) for piece in _cut(part, seats)
        )

    def _seat(self, opening: Opening) -> manifold3d.Manifold:
        """What a flat opening takes of the wall, in the space of its first facet."""
        deep = float(self.thickness) * 2 + float(self.length)
        seat = self.seated(opening)
        assert seat is not None
        matrix = np.linalg.inv(self._frames[0]) @ seat
        return plate(opening.polygon, -deep, deep).moved(matrix).manifold()

    def _layer(
        self, layer: Layer, openings: Sequence[Opening], shaped: Sequence[manifold3d.Manifold]
    ) -> Iterator[Part]:
        """A layer with its openings, and what they take besides."""
        name, finish, low, high = layer
        solids = [
            solid
            for index in range(len(self.facets))
            for whole in self._facet(index, openings, low, high)
            for flat in less(whole, shaped)
            for solid in self._ended(flat, index)
        ]
        for index, solid in enumerate(solids):
            key = f"{name}.{index + 1}" if len(solids) > 1 else name
            yield Part(key, self.entry, "wall", finish, ALONG_U, solid, shift=(self.ends.reached, 0.0))

    def _facet(self, index: int, openings: Sequence[Opening], low: float, high: float) -> Iterator[Solid]:
        """A facet of a layer with its openings, laid out flat."""
        start, end = self._planes[index]
        own = openings
        if len(self.facets) > 1:
            own = [one for one in openings if float(one.right) > start.at and float(one.x) < end.at]
        plain = [one for one in own if one.reveal is None]
        yield from face_solids(self._face.between(start.at, end.at), plain, low, high)

    def _ended(self, flat: Solid, index: int) -> Iterator[Solid]:
        """What of a facet laid out flat lies between its mitres, where it stands, in the space of the first."""
        start, end = self._planes[index]
        for solid in _ended(flat, start, end):
            yield self._placed(solid, index)

    def _placed(self, solid: Solid, index: int) -> Solid:
        """A solid laid out flat where its facet stands, in the space of the first; its texture runs on from there."""
        if index == 0 and len(self.facets) == 1:
            return solid
        flat = solid
        if self.smooth:
            start, end = self._planes[index]
            solid = smoothed(solid, start if index else None, end if index < len(self.folds) else None)
        moved = solid.moved(np.linalg.inv(self._frames[0]) @ self._frames[index])
        return replace(moved, flow=OfCorners(lambda: _laid(flat)))

    @cached_property
    def _face(self) -> Face:
        return Face(0.0, float(self.length), tuple((float(u), float(v)) for u, v in self.top))

    def around(
        self, opening: Opening, margin: float, others: Sequence[Opening] = (), section: tuple[Layer, ...] = ()
    ) -> list[Part]:
        if not self.built:
            return []
        left, foot, right, head = opening.polygon.bounds
        face = self._face.between(max(0.0, left - margin), min(float(self.length), right + margin))
        near = face.polygon.intersection(box(face.left, max(0.0, foot - margin), face.right, head + margin))
        return parts_beside(self.entry, near, section or self.section, (opening, *others))

    def plan(self, openings: Sequence[Opening]) -> list[Floats]:
        back, length = -float(self.thickness), float(self.length)
        return [piece for low, high in _between(openings, length) for piece in self.on_plan(low, high, back, 0.0)]

    def on_plan(self, low: float, high: float, back: float, front: float) -> list[Floats]:
        length, pieces = float(self.length), []
        for index, (start, end) in enumerate(self._planes):
            first, last = index == 0, index == len(self.facets) - 1
            own = 0.0 if first else start.at, length if last else end.at
            if high <= own[0] or low >= own[1]:
                continue
            corners = np.array(
                [
                    (start.along(w) if low <= own[0] else low, 0.0, w)
                    if left
                    else (end.along(w) if high >= own[1] else high, 0.0, w)
                    for left, w in ((True, back), (False, back), (False, front), (True, front))
                ]
            )
            matrix = self._frames[index]
            pieces.append(np.asarray((corners @ matrix[:3, :3].T + matrix[:3, 3])[:, :2]))
        return pieces


def _cut(part: Part, seats: Sequence[manifold3d.Manifold]) -> Iterator[Part]:
    """A part less some seats; it may fall apart, or be taken away."""
    pieces = less(part.solid, seats)
    for number, piece in enumerate(pieces):
        yield replace(part, id=f"{part.id}.{number + 1}" if len(pieces) > 1 else part.id, solid=piece)


Bounded = list[tuple[Fold, Fold]]
"""Facets by the planes that bound them, as they are seen from each."""


def _bounded(folds: Sequence[Fold], ends: Ends, length: Fraction, thickness: Fraction, before: float) -> Bounded:
    """The facets of a wall of a length between its ends."""
    start, end = (_end_plane(one, float(thickness), before) for one in (ends.start, ends.end))
    starts = [start, *(fold.behind for fold in folds)]
    behind = [*folds, replace(end, at=float(length) + end.at)]
    return list(zip(starts, behind, strict=True))


def _end_plane(end: End, thickness: float, before: float) -> Fold:
    """The plane that an end of a wall is cut by, told from its reference line."""
    slope = (end.outer - end.inner) / thickness
    return Fold(end.outer - slope * before, slope, -before)


def _lacking(planes: Bounded, thickness: float) -> float:
    """How much the shortest facet lacks on the face where it is shortest, mm; below zero where it is there."""
    return max(start.along(w) - end.along(w) for start, end in planes for w in (0.0, -thickness)) + ON


def _top_line(wall: Wall, length: Fraction) -> TopLine:
    """The height of a wall from its start to its end."""
    end = wall.end_height.mm if wall.end_height else wall.height.mm
    if wall.ridge is None:
        return (Fraction(0), wall.height.mm), (length, end)
    at = wall.ridge.at.mm if wall.ridge.at else length / 2
    if at >= length:
        raise Refusal(
            "ridge.at",
            "a ridge between the ends",
            f"The ridge stands at {float(at):.10g} mm and the wall is {float(length):.10g} mm long.",
            "Put it before the end.",
            length / 2,
        )
    return (Fraction(0), wall.height.mm), (at, wall.ridge.height.mm), (length, end)


def _ended(flat: Solid, start: Fold, end: Fold) -> list[Solid]:
    """A solid laid out flat, taken to the mitres of its facet: by moving what lies on them where nothing else is in
    their way."""
    places, depths = flat.vertices[:, 0], flat.vertices[:, 2]
    moved = flat.vertices.copy()
    inside = np.ones(len(moved), dtype=bool)
    for plane in (start, end):
        on = np.abs(places - plane.at) < ON
        moved[on, 0] = plane.at + plane.slope * (depths[on] - plane.pivot)
        inside &= ~on
    own, w = places[inside], depths[inside]
    low, high = (plane.at + plane.slope * (w - plane.pivot) for plane in (start, end))
    if bool((own > low + ON).all() and (own < high - ON).all()):
        return [Solid(moved, flat.topology)]
    return facet_of(flat, start, end)


def _laid(solid: Solid) -> Floats:
    """The texture of a solid laid out flat: along it and up, or along it and inwards where it is seen from above, or
    inwards and up at its ends; (3m, 2) mm."""
    corners, normals = solid.vertices[solid.triangles], np.abs(solid.normals)
    first = np.where(normals[:, :1] > 0.7, corners[..., 2], corners[..., 0])
    second = np.where(normals[:, 1:2] > 0.7, corners[..., 2], corners[..., 1])
    return np.asarray(np.stack([first, second], axis=-1).reshape(-1, 2))


def _between(openings: Sequence[Opening], length: float) -> Iterator[tuple[float, float]]:
    """The stretches without an opening."""
    reached = 0.0
    for opening in sorted(openings, key=lambda one: one.x):
        if float(opening.x) > reached:
            yield reached, float(opening.x)
        reached = max(reached, float(opening.right))
    if reached < length:
        yield reached, length
