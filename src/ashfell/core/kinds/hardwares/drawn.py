"""Hardware that somebody draws: a section carried along a path, or a profile turned round an axis."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise
from math import atan2, hypot, pi, tan
from typing import TYPE_CHECKING, Annotated, Any, Literal

from pydantic import Field

from ashfell.core.base.document import Gap, mm
from ashfell.core.base.lengths import Length
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.hardware import HARDWARE, HardwareEntry, HardwareKind, Piece
from ashfell.core.solid.rod import Skin, rod, rounded, turned
from ashfell.core.solid.section import FINE, OwnSection, SectionPoint, own_points, sampled
from ashfell.core.unit.say.writer import Action

if TYPE_CHECKING:
    from ashfell.core.unit.say.writer import Writer

Path = Annotated[tuple[SectionPoint, ...], Field(min_length=2, max_length=60)]
"""An open path of lines and arcs."""
LEAST = 0.05
"""The shortest stretch of a path, mm."""


def _points(*places: tuple[str, str], bulge: float = 0.0) -> tuple[SectionPoint, ...]:
    return tuple(SectionPoint(x=Length.read(x), y=Length.read(y), bulge=bulge) for x, y in places)


ROUND = 0.41421356
"""The bulge of a quarter of a circle."""


class Swept(HardwareEntry):
    """A ``section`` (x outwards from the turns of the path, y across the leaf) along a ``path`` of points (x off the
    face, y up), whose corners are mitred, or round by a ``radius``."""

    kind: Literal["swept-piece"]
    path: Path = _points(("0", "0"), ("60", "0"), ("60", "240"), ("0", "240"))
    section: OwnSection = _points(("-8", "-8"), ("8", "-8"), ("8", "8"), ("-8", "8"), bulge=ROUND)
    radius: Gap = mm("20")


class Turned(HardwareEntry):
    """A ``profile`` (x from its axis, y off the face) turned round its axis."""

    kind: Literal["turned-piece"]
    profile: Path = _points(("26", "0"), ("26", "5"), ("9", "9"), ("9", "30"), ("24", "40"), ("20", "58"), ("0", "62"))


def _line(path: Path) -> list[tuple[float, float]]:
    placed = [(float(p.x.mm), float(p.y.mm), p.bulge) for p in path]
    line = sampled(placed, FINE, closed=False)
    return [
        line[0],
        *(here for before, here in pairwise(line) if hypot(here[0] - before[0], here[1] - before[1]) > LEAST),
    ]


def _swept(own: Swept) -> list[Piece]:
    section = own_points(own.section, "section")
    line = _line(own.path)
    _check_before(line, "path")
    if len(line) < 2:
        raise Refusal("path", "a path of some length", "Its points are in one place.", "Move one of them.")
    _check_turns(line, 0.0)
    round_line = rounded([(0.0, up, out) for out, up in line], float(own.radius.mm))
    _check_turns([(z, y) for _, y, z in round_line], max(abs(x) for x, _ in section))
    return [Piece("piece", _cut_on_face(rod(round_line, section), [z for _, _, z in round_line]))]


def _cut_on_face(bar: Skin, heights: list[float]) -> Skin:
    """A bar whose ends that lie on the face are cut along it; refused where some of it is behind the face then."""
    levels = bar.levels.copy()
    for end, beside in ((0, 1), (-1, -2)):
        ahead = levels[beside] - levels[end]
        if abs(heights[end]) < LEAST and ahead[:, 2].min() > LEAST:
            levels[end] -= ahead * (levels[end][:, 2] / ahead[:, 2])[:, None]
    behind = -float(levels[..., 2].min())
    if behind > LEAST:
        raise Refusal(
            "path",
            "hardware before its face",
            f"Its section goes {behind:.4g} mm behind the face that it is fixed to.",
            "Make the section narrower, or move the points of the path away from the face.",
        )
    return replace(bar, levels=levels)


def _check_before(line: list[tuple[float, float]], entry: str, axis: int = 0) -> None:
    """Refuse what goes behind the face."""
    least = min(point[axis] for point in line)
    if least < -LEAST:
        raise Refusal(
            entry,
            "hardware before its face",
            f"It goes {-least:.4g} mm behind the face that it is fixed to.",
            "Move its points before the face.",
        )


def _check_turns(line: list[tuple[float, float]], half: float) -> None:
    """Refuse a section too wide for the turns of its path: at its inner side a stretch would have no length left."""
    ways = [atan2(b[1] - a[1], b[0] - a[0]) for a, b in pairwise(line)]
    turns = [abs((after - before + pi) % (2 * pi) - pi) for before, after in pairwise(ways)]
    if any(turn > pi * 0.95 for turn in turns):
        raise Refusal("path", "a path that does not turn back", "It turns back on itself.", "Move one of its points.")
    taken = [0.0, *(half * tan(turn / 2) for turn in turns), 0.0]
    for k, (a, b) in enumerate(pairwise(line)):
        if taken[k] + taken[k + 1] > hypot(b[0] - a[0], b[1] - a[1]) + 1e-9:
            raise Refusal(
                "path",
                "a section that goes round the turns",
                f"A section {2 * half:.4g} mm wide does not go round the turns of its path.",
                "Make the section narrower, the radius larger, or move the points apart.",
            )


def _turned(own: Turned) -> list[Piece]:
    line = _line(own.profile)
    _check_before(line, "profile", axis=1)
    _check_before(line, "profile")
    for k, (before, point) in enumerate(pairwise(own.profile)):
        if point.y.mm < before.y.mm:
            raise Refusal(
                f"profile.{k + 1}.y",
                "a profile that rises",
                f"This point is {exact_mm(point.y.mm)} off the face, and the one before it {exact_mm(before.y.mm)}.",
                f"Put it at least {exact_mm(before.y.mm)} off the face.",
                before.y.mm,
            )
    if any(b[1] < a[1] - 1e-9 for a, b in pairwise(line)) or line[-1][1] - line[0][1] < LEAST:
        raise Refusal(
            "profile",
            "a profile that rises",
            "An arc of it comes back to the face, or all of it lies at one distance from that.",
            "Make its arcs flatter, or put its last point further off the face.",
        )
    ends = [*([(0.0, line[0][1])] if line[0][0] else []), *line, *([(0.0, line[-1][1])] if line[-1][0] else [])]
    return [Piece("piece", turned(ends))]


def _draw(path: str, name: str, count: int, words: str) -> list[Any]:
    return [f"{words} of {count} points", Action(f"{path}.{name}", "Draw", f"Draw its {words}", looks="points"), ","]


def _say_swept(w: Writer, path: str, own: Swept) -> list[Any]:
    return [
        "along a",
        *_draw(path, "path", len(own.path), "path"),
        "with a",
        *_draw(path, "section", len(own.section), "section"),
        "turns of",
        w.length(f"{path}.radius", own.radius, "Radius of its turns"),
        ",",
    ]


def _say_turned(w: Writer, path: str, own: Turned) -> list[Any]:
    return ["turned from a", *_draw(path, "profile", len(own.profile), "profile")]


SWEPT = HARDWARE.register(HardwareKind("swept-piece", "a drawn bar", Swept, _swept, 100, _say_swept, by_axis=True))
TURNED = HARDWARE.register(
    HardwareKind("turned-piece", "a turned piece", Turned, _turned, 110, _say_turned, by_axis=True)
)
