"""The horizontal slider: panels on tracks. Those on different tracks lap by their meeting stiles, those on one track
stand a clearance apart. Panels of the first track stay; each of the others slides in front of or behind one of them, as
near as may be, none two of a track to the same, and stops a clearance before the next on its own track."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from itertools import combinations, pairwise
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
    x, found = rect.x, []
    for lap in (*laps, Fraction(0)):
        found.append(x)
        x += width - lap
    slid = _slides(tracks, found, width + fill.clearance.mm)
    panels = []
    for index, track in enumerate(tracks):
        faces = {}
        if index and tracks[index - 1] != track:
            faces["left"] = meeting
        if index + 1 < len(tracks) and tracks[index + 1] != track:
            faces["right"] = meeting
        own = Rect(found[index], rect.y, width, rect.height)
        panels.append(Panel(f"panel {index + 1}", own, track, faces, (float(slid[index]), 0.0)))
    return panels


def _slides(tracks: Sequence[int], places: Sequence[Fraction], apart: Fraction) -> list[Fraction]:
    """How far each panel slides, mm; ``places`` are their left edges, and two on a track stay ``apart``."""
    homes = [index for index, track in enumerate(tracks) if track == min(tracks)]
    slid = [Fraction(0)] * len(tracks)
    for track in {*tracks} - {min(tracks)}:
        own = [index for index, at in enumerate(tracks) if at == track]
        ends = {index: places[index] for index in own} | _nearest(own, homes, places)
        for left, right in reversed([*pairwise(own)]):
            if ends[left] > places[left]:
                ends[left] = max(places[left], min(ends[left], ends[right] - apart))
        for left, right in pairwise(own):
            if ends[right] < places[right]:
                ends[right] = min(places[right], max(ends[right], ends[left] + apart))
        for index in own:
            slid[index] = ends[index] - places[index]
    return slid


def _nearest(own: Sequence[int], homes: Sequence[int], places: Sequence[Fraction]) -> dict[int, Fraction]:
    """Where the panels of one track go: as many as can, in order, each to another home, all together the shortest
    way.
    """
    count = min(len(own), len(homes))
    ways = (
        [*zip(movers, ends, strict=True)] for movers in combinations(own, count) for ends in combinations(homes, count)
    )
    best = min(ways, key=lambda way: sum(abs(places[end] - places[index]) for index, end in way))
    return {index: places[end] for index, end in best}


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
