"""The vertical slider: two sashes of equal height whose meeting rails lap, the upper one outside, so that rain runs
over the lower."""

from __future__ import annotations

from fractions import Fraction
from typing import TYPE_CHECKING, Any

from ashfell.core.kinds.opening import SLIDINGS, Panel, Sliding
from ashfell.core.unit.layout import Light, Rect

if TYPE_CHECKING:
    from ashfell.core.kinds.fillings.sliders import Sliders
    from ashfell.core.unit.say.writer import Writer

OUTER, INNER = 1, 2
"""The tracks, counted from the outside."""
MOVES = {"lower": "the lower one moves", "upper": "the upper one moves", "both": "both move"}


def _panels(light: Light, fill: Sliders) -> list[Panel]:
    """The upper sash slides down, the lower one up, by what their meeting rails leave: half of the height at most is
    clear.
    """
    rect, meeting = light.clear.inset(fill.clearance.mm), (fill.meeting or fill.face).mm
    height = (rect.height + meeting) / 2
    travel = rect.height - height
    share = Fraction(1, 2) if fill.moves == "both" else Fraction(1)
    found = []
    for name, foot, track, side, way in (
        ("upper", rect.head - height, OUTER, "sill", -1),
        ("lower", rect.y, INNER, "head", 1),
    ):
        own = Rect(rect.x, foot, rect.width, height)
        slides = (0.0, float(way * travel * share)) if fill.moves in (name, "both") else (0.0, 0.0)
        found.append(Panel(name, own, track, {side: meeting}, slides))
    return found


def _say(w: Writer, path: str, fill: Sliders) -> list[Any]:
    return [",", w.choice(f"{path}.moves", fill.moves, MOVES, "Which sash moves")]


VERTICAL_SLIDER = SLIDINGS.register(
    Sliding("up", "up and down", _panels, "SLIDINGVERTICAL", _say, meeting="rails", order=10)
)
