"""Variants: a unit as a placement asks for it, at its own size, opened, in its own finishes, its casings on the wall's
faces. Placements that ask for the same share one."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from ashfell.core.base.document import dump, read
from ashfell.core.base.lengths import Length, exact
from ashfell.core.site.document.placement import Placement
from ashfell.core.site.opening import gap_of
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.edit.change import with_opened
from ashfell.core.unit.edit.posts import with_posts
from ashfell.core.unit.layout import Layout

Forward = tuple[Fraction, Fraction]
"""How far the wall's faces stand before a frame, outside and inside, mm."""


@dataclass(frozen=True)
class Variant:
    """What a placement has of its own, besides where it stands."""

    unit: str
    width: str = ""
    height: str = ""
    opened: float | None = None
    finishes: tuple[tuple[str, str], ...] = ()
    inner: tuple[tuple[str, str], ...] = ()
    forward: Forward | None = None
    depth: str = ""
    posts: tuple[Fraction, ...] = ()

    @property
    def is_plain(self) -> bool:
        """Whether it is the unit as it is."""
        return self == Variant(self.unit)

    def document(self, unit: UnitDocument) -> UnitDocument:
        """The unit's document with what is its own.

        Raises
        ------
        Refusal
            When that cannot be read.
        """
        if self.is_plain:
            return unit
        data = dump(unit)
        data |= {name: size for name, size in (("width", self.width), ("height", self.height)) if size}
        if self.depth:
            data["frame"]["depth"] = self.depth
        data["finishes"] = data["finishes"] | dict(self.finishes)
        data["inner"] = data["inner"] | dict(self.inner)
        if self.posts:
            data = with_posts(read(UnitDocument, data), self.posts)
        if self.opened is not None:
            data = with_opened(data, self.opened)
        for names, by in zip((("outside",), ("inside", "board")), self.forward or (), strict=False):
            for own in (data["trim"][name] for name in names):
                if own and own["forward"] is None:
                    own["forward"] = exact(by)
        return read(UnitDocument, data)


def variant_of(
    placement: Placement, unit: UnitDocument, thickness: Fraction, posts: tuple[Fraction, ...] = ()
) -> Variant:
    """The variant of a unit that a placement in a host of a thickness asks for; it has one. ``posts`` are where folds
    of its host are, mm in unit space."""
    assert placement.unit is not None
    return Variant(
        placement.unit,
        _size(placement.width, ("left", "right"), placement),
        _size(placement.height, ("sill", "head"), placement),
        placement.opened,
        tuple(sorted(placement.finishes.items())),
        tuple(sorted(placement.inner.items())),
        _forward(placement, unit, thickness),
        exact(thickness) if placement.stands == "through" else "",
        posts,
    )


def _size(size: Length | None, sides: tuple[str, str], placement: Placement) -> str:
    """A size of a unit's own, as its document is given it; what the gaps leave of its opening where it fits that."""
    if size is None:
        return ""
    if not placement.fits:
        return size.text
    return exact(size.mm - sum(gap_of(placement, side) for side in sides))


def _forward(placement: Placement, unit: UnitDocument, thickness: Fraction) -> Forward | None:
    """Where the wall's faces are before the frame, for casings and boards that follow them; None where none does."""
    trim = unit.trim
    if not any(piece and piece.forward is None for piece in (trim.outside, trim.inside, trim.board)):
        return None
    depth = thickness if placement.stands == "through" else unit.frame.depth.mm
    before = _before(placement, depth, thickness)
    return None if before == 0 and thickness == depth else (before, thickness - depth - before)


def _before(placement: Placement, depth: Fraction, thickness: Fraction) -> Fraction:
    """How far a frame stands behind the face it shows its outside to, mm."""
    match placement.stands:
        case "flush outside":
            return thickness - depth if placement.turned else Fraction(0)
        case "flush inside":
            return Fraction(0) if placement.turned else thickness - depth
        case "centred":
            return (thickness - depth) / 2
        case "through":
            return Fraction(0)
    return placement.recess.mm


def recess_of(placement: Placement, layout: Layout, thickness: Fraction) -> Fraction:
    """How far the outer face of a unit stands behind the face of its host that it shows its outside to, mm."""
    front, back = layout.depth
    match placement.stands:
        case "flush outside":
            return thickness - back if placement.turned else -front
        case "flush inside":
            return -front if placement.turned else thickness - back
        case "centred":
            return (thickness - front - back) / 2
        case "behind the leaf":
            return placement.recess.mm - front
        case "through":
            return Fraction(0)
    return placement.recess.mm


def planes_in(placement: Placement, layout: Layout, thickness: Fraction) -> tuple[Fraction, Fraction]:
    """Front and back of a frame with its rings behind the outer face of its host, mm."""
    recess = recess_of(placement, layout, thickness)
    front, back = (recess + plane for plane in layout.depth)
    return (thickness - back, thickness - front) if placement.turned else (front, back)
