"""The horizontal slider: panels on tracks. Those on different tracks lap by their meeting stiles, those on one track
stand a clearance apart; each slides in front of or behind the nearest on the first track."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from itertools import pairwise
from typing import TYPE_CHECKING, Any

from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.opening import SLIDINGS, Panel, Sliding
from ashfell.core.unit.layout import Light, Rect

if TYPE_CHECKING:
    from ashfell.core.kinds.fillings.sliders import Sliders
    from ashfell.core.unit.say.writer import Writer

USUAL_TRACKS = {2: (1, 2), 3: (1, 2, 1), 4: (1, 2, 2, 1)}
"""The tracks of so many panels, from the left (common practice, no source)."""


def _panels(light: Light, fill: Sliders) -> list[Panel]:
    tracks = _tracks(light, fill)
    rect, meeting = light.clear.inset(fill.clearance.mm), (fill.meeting or fill.face).mm
    laps = [meeting if a != b else -fill.clearance.mm for a, b in pairwise(tracks)]
    width = (rect.width + sum(laps, Fraction(0))) / len(tracks)
    first = [index for index, track in enumerate(tracks) if track == min(tracks)]
    x, found = rect.x, []
    for index, track in enumerate(tracks):
        faces = {}
        if index and tracks[index - 1] != track:
            faces["left"] = meeting
        if index + 1 < len(tracks) and tracks[index + 1] != track:
            faces["right"] = meeting
        home = min(first, key=lambda at: abs(at - index))
        slides = (float((home - index) * (width - meeting)), 0.0)
        found.append(Panel(f"panel {index + 1}", Rect(x, rect.y, width, rect.height), track, faces, slides))
        x += width - (laps[index] if index < len(laps) else 0)
    return found


def _tracks(light: Light, fill: Sliders) -> Sequence[int]:
    if not fill.tracks:
        return USUAL_TRACKS.get(fill.panels, tuple(1 + k % 2 for k in range(fill.panels)))
    if len(fill.tracks) != fill.panels:
        raise Refusal(
            f"{light.entry}.tracks",
            "a track for each panel",
            f"{fill.panels} panels need {fill.panels} tracks, not {len(fill.tracks)}.",
            "Name the track of each, from the left.",
        )
    return fill.tracks


def _say(w: Writer, path: str, fill: Sliders) -> list[Any]:
    return [",", w.number(f"{path}.panels", fill.panels, "Panels"), "panels"]


HORIZONTAL_SLIDER = SLIDINGS.register(
    Sliding("across", "across", _panels, "SLIDINGHORIZONTAL", _say, meeting="stiles", order=20)
)
