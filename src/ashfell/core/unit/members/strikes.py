"""What would be in the way of what moves: the casing round the frame of a leaf that turns by more than 90 degrees, and
what stands where an overhead door runs."""

from __future__ import annotations

from fractions import Fraction
from math import ceil, cos, radians, tan

from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.fillings.hung import Hung
from ashfell.core.kinds.fillings.overhead import Sections
from ashfell.core.kinds.fillings.swing import axis_of, hand_of, pin_of
from ashfell.core.plane.points import TOUCH
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.layout import Layout, Light, SashLayout

LAPPED = 30.0
"""How far a casing may lap its frame, at most, mm."""


def check_strikes(document: UnitDocument, layout: Layout) -> None:
    """Refuse a casing that a leaf of the frame strikes as far as it is opened, and what stands where an overhead door
    runs.

    Raises
    ------
    Refusal
    """
    _check_overhead(document, layout)
    for side, casing in (("outside", document.trim.outside), ("inside", document.trim.inside)):
        if casing is None:
            continue
        high = float(casing.projection.mm + (casing.forward.mm if casing.forward else 0))
        for light in layout.body.lights:
            if isinstance(light.fill, Hung) and light.fill.swings_in == (side == "inside"):
                for sash in light.sashes:
                    _check(light, light.fill, sash, (f"trim.{side}", high, layout))


def _check(light: Light, fill: Hung, sash: SashLayout, of: tuple[str, float, Layout]) -> None:
    entry, high, layout = of
    bounds = sash.body.ring.loop.bounds
    hinge = fill.turning.hinge(fill, hand_of(sash, fill), bounds)
    if hinge is None or sash.motion is None or not hinge.upright or hinge.pivots:
        return
    angle = fill.turns * fill.opened_of(sash.name) / 100
    if angle <= 90:
        return
    # The face of the leaf that comes to lie on the wall, over the casing's edge: where the frame's outer edge is, or
    # the far edge of the leaf where that does not reach as far.
    at, pin, lean = axis_of(fill, hinge, bounds), pin_of(fill, hinge), radians(180 - angle)
    outer = layout.outermost.loop.bounds
    apart = min(abs(at - outer[0]), abs(outer[2] - at))
    over = pin + pin / cos(lean) + max(apart - LAPPED, 0.0) * tan(lean)
    if over + TOUCH < high and bounds[2] - bounds[0] > apart - LAPPED:
        raise Refusal(
            entry,
            "a casing that clears the leaf",
            f"Turned by {angle:g}°, the leaf {light.key} lies {over:.1f} mm off the frame; the casing {high:g}.",
            "Leave the casing out, let the leaf turn by 90° at most, or give it knuckles of "
            f"{exact_mm(Fraction(ceil(high / 2)))} radius.",
        )


def _check_overhead(document: UnitDocument, layout: Layout) -> None:
    """Behind the frame there is one overhead door with its tracks, and no casing."""
    taken: list[tuple[float, float]] = []
    for light in layout.body.lights:
        if not isinstance(light.content, Sections):
            continue
        if document.trim.inside or document.trim.apron:
            raise Refusal(
                f"trim.{'inside' if document.trim.inside else 'apron'}",
                "a casing that clears the leaf",
                "An overhead door runs behind the frame, where the casing or the apron would be.",
                "Leave it out.",
            )
        low, high = light.content.across
        if any(low < other_high and high > other_low for other_low, other_high in taken):
            raise Refusal(
                f"{light.entry}.kind",
                "a light that takes a sash",
                "Its sections and tracks would stand in those of the overhead door beside, above or below it.",
                "Make the bar between them wider, or choose another filling.",
            )
        taken.append((low, high))
