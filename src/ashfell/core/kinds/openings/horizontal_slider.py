"""The horizontal slider: panels on tracks. Those on different tracks lap by their meeting stiles, those on one track
stand a clearance apart. Panels of the first track stay; each of the others slides in front of or behind one of them, as
near as may be, none two of a track to the same, and stops a clearance before the next on its own track. A panel that is
given a hand slides that way, whatever its track, behind or in front of the nearest panel there that stays."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from itertools import combinations, pairwise
from typing import TYPE_CHECKING, Any

from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.opening import SLIDINGS, Hand, Panel, Sliding
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
    hands = [fill.one(f"panel {index + 1}").hand for index in range(len(tracks))]
    _check_hands(light, hands, tracks)
    slid = _slides(tracks, found, width + fill.clearance.mm, hands)
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


Hands = Sequence[Hand | None]


def _homes(tracks: Sequence[int], hands: Hands) -> list[int]:
    """The panels that stay: those of the first track that have no hand."""
    return [index for index, track in enumerate(tracks) if track == min(tracks) and hands[index] is None]


def _reached(index: int, tracks: Sequence[int], hands: Hands) -> list[int]:
    """Before which panels one with a hand can come to stand: those on other tracks to that side; those that stay, where
    there are any."""
    aside = [k for k in range(len(tracks)) if tracks[k] != tracks[index] and (k < index) == (hands[index] == "left")]
    return [k for k in aside if k != index and k in _homes(tracks, hands)] or [k for k in aside if k != index]


def _check_hands(light: Light, hands: Hands, tracks: Sequence[int]) -> None:
    for index, hand in enumerate(hands):
        if hand and not _reached(index, tracks, hands):
            other = "right" if hand == "left" else "left"
            raise Refusal(
                f"{light.entry}.each.panel-{index + 1}.hand",
                "a panel to slide past",
                f"To the {hand} of panel {index + 1} there is none on another track.",
                f"Let it slide to the {other}, or leave the hand out.",
            )


def _slides(tracks: Sequence[int], places: Sequence[Fraction], apart: Fraction, hands: Hands) -> list[Fraction]:
    """How far each panel slides, mm; ``places`` are their left edges, and two on a track stay ``apart``."""
    homes = _homes(tracks, hands)
    slid = [Fraction(0)] * len(tracks)
    for track in {*tracks}:
        own = [index for index, at in enumerate(tracks) if at == track]
        free = [index for index in own if hands[index] is None and index not in homes]
        ends = {index: places[index] for index in own} | _nearest(free, homes, places)
        for index in own:
            if hands[index]:
                ways = [places[k] for k in _reached(index, tracks, hands)]
                ends[index] = min(ways, key=lambda end: abs(end - places[index]))
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
    if not count:
        return {}
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
    Sliding("across", "across", _panels, "SLIDINGHORIZONTAL", _say, meeting="stiles", order=20, handed=True)
)
