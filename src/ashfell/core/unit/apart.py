"""Opened sashes keep clear of those of other lights, and of what other lights have behind the frame."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property
from math import ceil, floor
from typing import ClassVar

import manifold3d
import numpy as np
import shapely

from ashfell.core.base.address import Address
from ashfell.core.base.document import dump, read
from ashfell.core.base.lengths import exact
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.parts import Member, Part, parts_of
from ashfell.core.parts import bounds as bounds_of
from ashfell.core.plane.points import TOUCH, Floats
from ashfell.core.solid.plate import plate
from ashfell.core.solid.topology import Solid
from ashfell.core.unit.beside import staying
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.edit.change import change
from ashfell.core.unit.layout import Layout, Light, SashLayout
from ashfell.core.unit.solve.budget import MOST
from ashfell.core.unit.solve.unit import laid_out

STEP = 10
"""In steps of what an opened amount is looked for that is clear, percent."""
PLANTED = "planted"
"""The last of the id of a stile that is planted on a leaf."""
AROUND = {"casing": "the casing", "sill": "the sill", "board": "the inner board", "support": "what it stands on"}
"""What stands round a unit, by role, and what it is called when something goes through it."""
TAKEN, SLIVER = 1.0, 0.005
"""Sashes that share less than this only touch, and what stands round a unit with what opens or is fitted, mm³."""


@dataclass(frozen=True)
class Stood:
    """A sash of a light where it stands open or shut."""

    light: Light
    sash: SashLayout

    @property
    def told(self) -> str:
        """What it is called when another one goes through it."""
        return f"that in {self.light.key}"

    @property
    def stile(self) -> Member | None:
        """The stile that is planted on it, over the gap to the other leaf of its pair."""
        planted = (one for one in self.sash.body.members if Address(one.id).last == PLANTED)
        return next((one.moved(self.sash.motion) for one in planted), None)

    @property
    def risen(self) -> Iterator[Member]:
        """What stands out of it over its lights."""
        proud = {light.key for light in self.sash.body.lights if light.content.proud}
        return (one.moved(self.sash.motion) for one in self.sash.body.members if proud and one.light in proud)

    @property
    def moved(self) -> bool:
        """Whether it is not shut."""
        return self.sash.motion is not None and self.opened > 0

    @cached_property
    def solid(self) -> Solid:
        """All that is within its outer edge, as deep as it is."""
        ring = self.sash.body.ring
        outline = shapely.remove_repeated_points(ring.loop.polygon, TOUCH)
        whole = plate(outline, -float(ring.back), -float(ring.front))
        return whole if self.sash.motion is None else whole.moved(self.sash.motion)

    @property
    def bounds(self) -> Floats:
        """The box that it fills, (2, 3) mm."""
        return self.solid.bounds

    @property
    def manifold(self) -> manifold3d.Manifold:
        """As booleans take it."""
        return self.solid.manifold()

    @property
    def entry(self) -> str:
        """The address of how far it is opened."""
        together = getattr(self.light.fill, "opens_together", True)
        return f"{self.light.entry if together else self.sash.entry_in(self.light)}.opened"

    @property
    def opened(self) -> float:
        """How far it is opened, percent."""
        return float(self.light.fill.opened_of(self.sash.name)) if hasattr(self.light.fill, "opened_of") else 0.0


@dataclass(frozen=True)
class Kept:
    """What stays where it is, and what it is called when a sash goes through it."""

    light: Light
    members: tuple[Member, ...]
    told: str
    moved: ClassVar[bool] = False
    opened: ClassVar[float] = 0.0

    @cached_property
    def parts(self) -> tuple[Part, ...]:
        """Each on its own: they stand far apart."""
        return parts_of(self.members)

    @cached_property
    def bounds(self) -> Floats:
        """The box around all of them, (2, 3) mm."""
        return bounds_of(self.parts)

    @cached_property
    def manifold(self) -> manifold3d.Manifold:
        """As booleans take it: side by side, as none goes through another."""
        return manifold3d.Manifold.compose([part.solid.manifold() for part in self.parts])


@dataclass(frozen=True)
class Fitted(Kept):
    """The hardware of a sash, the stile planted on it and what stands out of it, where they are."""

    of: Stood

    @property
    def moved(self) -> bool:  # type: ignore[override]
        """Whether its sash is not shut."""
        return self.of.moved

    @property
    def before(self) -> list[Part]:
        """The stile that is planted on it, and what stands out of it."""
        return [part for part in self.parts if part.role != "hardware"]

    @property
    def hardware(self) -> list[Part]:
        """What is fixed to its faces."""
        return [part for part in self.parts if part.role == "hardware"]


class Standing:
    """Parts that stand still, found by where they are on the elevation: what thousands of sashes strike is looked for
    near each of them only."""

    def __init__(self, parts: Sequence[Part]) -> None:
        self._parts = parts
        self._tree = shapely.STRtree([shapely.box(*part.solid.bounds[:, :2].ravel()) for part in parts])

    def struck(self, solid: Solid, least: float) -> Iterator[Part]:
        """Those that share more than so much with a solid, mm³, in their order."""
        near = self._tree.query(shapely.box(*solid.bounds[:, :2].ravel()), predicate="intersects")
        for index in sorted(near.tolist()):
            part = self._parts[index]
            if _meet(solid.bounds, part.solid.bounds) and (solid.manifold() ^ part.solid.manifold()).volume() > least:
                yield part


def check_apart(document: UnitDocument, layout: Layout) -> None:
    """Refuse hardware that stands in that of another light, in what one has behind the frame or in what is round the
    unit; and a sash that is opened so far that it goes through one of another light, or through what is round it.

    Raises
    ------
    Refusal
        Of a sash with an amount that is clear.
    """
    _refuse_in_the_way(document, layout)
    pair = next(meeting(layout), None)
    if pair is None:
        return
    ways = [(moved, met) for moved, met in (pair, pair[::-1]) if isinstance(moved, Stood) and moved.opened]
    found = [(_clear(document, moved, layout.pieces), moved, met) for moved, met in ways]
    clear, moved, met = max(found, key=lambda one: one[0])
    raise Refusal(
        moved.entry,
        f"at most {clear} percent",
        f"Opened by {moved.opened:g} %, the sash in {moved.light.key} goes through {met.told}"
        + (f", opened by {met.opened:g} %." if met.moved else "."),
        f"Open it by {clear} % at most.",
    )


def _refuse_in_the_way(document: UnitDocument, layout: Layout) -> None:
    sashes = [Stood(light, sash) for light in layout.body.lights for sash in light.sashes]
    fitted = [one for one in _fitted(sashes, layout) if not one.moved]
    if not fitted:
        return
    _refuse_round_it(document, layout)
    told = [*((one, one.told) for one in _behind(layout)), *((one, f"what is fitted to {one.told}") for one in fitted)]
    tree = shapely.STRtree([shapely.box(*kept.bounds[:, :2].ravel()) for kept, _ in told])
    for one in fitted:
        parts = [part for part in one.parts if part.role == "hardware"]
        boxes = [shapely.box(*part.solid.bounds[:, :2].ravel()) for part in parts]
        for first, second in tree.query(boxes, predicate="intersects").T.tolist() if parts else ():
            part, (kept, where) = parts[first], told[second]
            solid = part.solid
            if kept.light is one.light or not _meet(solid.bounds, kept.bounds):
                continue
            if (solid.manifold() ^ kept.manifold).volume() > TAKEN:
                hinges = Address(part.entry).last == "hinges"
                raise Refusal(
                    part.entry,
                    "hardware that stands clear",
                    f"A hinge stands in {where}." if hinges else f"It stands in {where}.",
                    "Make the bar between them wider, or leave the hinges out."
                    if hinges
                    else "Move it, put it on the other face, or leave it out.",
                )


def _refuse_round_it(document: UnitDocument, layout: Layout) -> None:
    """Refuse a casing that laps its frame so far that hardware stands in it, and other hardware that stands in what is
    round the unit."""
    hit = next(_in_the_wall(layout), None)
    if hit is None:
        return
    part, other = hit
    side = Address(other.entry).last
    if other.role != "casing" or side not in ("outside", "inside"):
        raise Refusal(
            part.entry,
            "hardware that stands clear",
            f"It stands in {AROUND[other.role]}.",
            "Move it, put it on the other face, or leave it out.",
        )
    casing = getattr(document.trim, side)
    lap = _lap_beside(document, layout, side)
    told = "a hinge" if Address(part.entry).last == "hinges" else "hardware"
    raise Refusal(
        f"{other.entry}.lap",
        "a casing that clears the hardware",
        f"Lapping the frame by {exact_mm(casing.lap.mm)}, the casing {side} runs into {told}.",
        f"Let it lap by {exact_mm(lap)} at most." if lap is not None else "Leave it out, or make the frame wider.",
        lap,
    )


def _in_the_wall(layout: Layout) -> Iterator[tuple[Part, Part]]:
    """Hardware that does not move, and what of what stands round the unit it stands in."""
    moving = {sash.key_in(light) for light in layout.body.lights for sash in light.sashes if sash.motion is not None}
    around = Standing(_round_it(layout))
    fitted = [m for m in layout.members if m.role == "hardware" and m.sash not in moving]
    for part in parts_of(fitted):
        for other in around.struck(part.solid, SLIVER):
            yield part, other


def _round_it(layout: Layout) -> tuple[Part, ...]:
    """What stands round a unit."""
    return parts_of([member for member in layout.members if member.role in AROUND])


def _lap_beside(document: UnitDocument, layout: Layout, side: str) -> Fraction | None:
    """The most that a casing may lap its frame beside the hardware that stands in it, mm; None where lapping less does
    not help."""
    own = f"trim.{side}"
    boxes = [part.solid.bounds for part, other in _in_the_wall(layout) if other.entry == own]
    region = shapely.box(*np.array(boxes)[:, 0, :2].min(axis=0), *np.array(boxes)[:, 1, :2].max(axis=0))
    frame = layout.outermost.loop.polygon
    beyond = max(frame.distance(corner) for corner in shapely.points(shapely.get_coordinates(region)))
    lap = Fraction(floor(100 * (frame.exterior.distance(region) if beyond == 0 else -beyond)), 100)
    try:
        mended = laid_out(read(UnitDocument, change(dump(document), f"{own}.lap", exact(lap))))
    except Refusal:
        return None
    return None if any(other.entry == own for _, other in _in_the_wall(mended)) else lap


def _clear(document: UnitDocument, moved: Stood, pieces: int) -> int:
    """The largest amount, in steps, by which a sash goes through no other, by halving; in coarser steps where the whole
    has so many pieces that laying it out for each would take long."""
    data, tries = dump(document), MOST // pieces

    def is_clear(amount: int) -> bool:
        layout = laid_out(read(UnitDocument, change(data, moved.entry, str(amount))))
        return all(moved.light.key not in (one.light.key, other.light.key) for one, other in meeting(layout))

    low, high = 0, ceil(moved.opened / STEP)
    while high - low > 1 and tries > 0:
        middle, tries = (low + high) // 2, tries - 1
        low, high = (middle, high) if is_clear(STEP * middle) else (low, middle)
    return STEP * low


def meeting(layout: Layout) -> Iterator[tuple[Stood | Kept, Stood | Kept]]:
    """Sashes that go through those of other lights, their hardware, or what other lights have behind the frame."""
    sashes = [Stood(light, sash) for light in layout.body.lights for sash in light.sashes]
    if not any(one.moved for one in sashes):
        return
    behind = [*_behind(layout)]
    fitted = [*_fitted(sashes, layout)]
    several = len({*(one.light.key for one in sashes), *(one.light.key for one in behind)}) > 1
    stood: list[Stood | Kept] = [*sashes, *(fitted if several else ()), *behind]
    bounds = np.array([one.bounds for one in stood])
    boxes = shapely.box(*bounds[:, 0, :2].T, *bounds[:, 1, :2].T)
    near = shapely.STRtree(boxes).query(boxes, predicate="intersects").T.tolist()
    for first, second in near:
        one, other = stood[first], stood[second]
        apart = one.light is other.light or not (one.moved or other.moved)
        if first >= second or apart or not _meet(bounds[first], bounds[second]):
            continue
        if (one.manifold ^ other.manifold).volume() > TAKEN:
            yield (one.of if isinstance(one, Fitted) else one), (other.of if isinstance(other, Fitted) else other)
    yield from _struck(sashes, fitted, layout)


def _fitted(sashes: Sequence[Stood], layout: Layout) -> Iterator[Kept]:
    """What is fitted to sashes, planted on them and stands out of them, and the hinges between them and at their
    jambs."""
    held: dict[str, list[Member]] = defaultdict(list)
    for member in layout.members:
        if member.role == "hardware":
            held[member.sash or member.light].append(member)
    for one in sashes:
        members = [*held[one.sash.key_in(one.light)], *([one.stile] if one.stile else []), *one.risen]
        if members:
            yield Fitted(one.light, tuple(members), one.told, one)
    for light in {one.light.key: one.light for one in sashes}.values():
        if hinges := held[light.key]:
            yield Kept(light, tuple(hinges), f"that in {light.key}")


def _behind(layout: Layout) -> Iterator[Kept]:
    """What lights have behind the frame beside their sashes, or standing out of it."""
    stays = staying(layout.body)
    for light in layout.body.lights:
        content = light.content
        told = "what stands out" if content.proud else "the tracks" if content.stands == "through" else ""
        members = stays.get(light.key) if told else None
        if members:
            yield Kept(light, members, f"{told} in {light.key}")


def _struck(sashes: Sequence[Stood], fitted: Sequence[Kept], layout: Layout) -> Iterator[tuple[Stood, Kept]]:
    """Sashes that strike what stands round the unit, or of which something that stands before the face that they turn
    to strikes what is fixed: a planted stile, or glass that rises, what is round other lights, a handle what is round
    its own."""
    around = Standing(_round_it(layout))
    for one in sashes:
        through = next(around.struck(one.solid, SLIVER), None) if one.moved else None
        if through is not None:
            yield one, Kept(one.light, (), AROUND[through.role])
    moved = [one for one in fitted if isinstance(one, Fitted) and one.moved]
    if not moved:
        return
    fixed = Standing(parts_of([m for m in layout.body.members if not m.sash]))
    for before in moved:
        hit = next(_struck_by(before, around, fixed), None)
        if hit is not None:
            yield before.of, Kept(before.light, (), f"{hit[1].id} with {hit[0].id}")


def _struck_by(fitted: Fitted, around: Standing, fixed: Standing) -> Iterator[tuple[Part, Part]]:
    """What stands before the face of a sash, and what it strikes."""
    own = fitted.light.key
    for part in fitted.parts:
        yield from ((part, other) for other in around.struck(part.solid, TAKEN))
    for part in fitted.before:
        yield from ((part, other) for other in fixed.struck(part.solid, TAKEN) if other.light != own)
    for part in fitted.hardware:
        yield from ((part, other) for other in fixed.struck(part.solid, TAKEN) if other.light in ("", own))


def _meet(one: Floats, other: Floats) -> bool:
    return bool((np.maximum(one[0], other[0]) < np.minimum(one[1], other[1])).all())
