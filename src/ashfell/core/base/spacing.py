"""Exact spacing of lights and bars along one axis.

A span is closed by two perimeter members and divided by inner bars. What is left is shared between the lights, by one
of three rules:

``clear``
    Equal clear lights: what can be seen through is equal.
``centres``
    Equal centres: the bar centre lines are equally far apart, measured from the clear edges of the perimeter. The
    end lights then lose half a bar and the middle ones a whole one, so they are *not* equal.
``sashes``
    Equal sashes: what sits in the lights is equal, the cover behind each neighbouring member included.

All three are one linear rule. A sharing light of share w is ``w x - d`` wide, where d is what the rule lets the light
lose: nothing, half of each bar beside it, or the covers beside it. The sum closes for exactly one x.

>>> from fractions import Fraction as F
>>> spacing = divide(F(2200), bars=[F(50)] * 3, lights=[Wanted()] * 4)
>>> [float(light.size) for light in spacing.lights]
[512.5, 512.5, 512.5, 512.5]
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property
from math import ceil
from typing import Any, Literal, get_args

from ashfell.core.base.lengths import Style, exact, named, show
from ashfell.core.base.refusal import Refusal

Rule = Literal["clear", "centres", "sashes"]


RULES: tuple[Rule, ...] = get_args(Rule)


RULE_NAMES: dict[str, str] = {
    "clear": "equal clear lights",
    "centres": "equal centres",
    "sashes": "equal sashes",
}


@dataclass(frozen=True)
class Wanted:
    """One light as asked for: a fixed clear ``size`` in millimetres, or a ``share`` of what is left."""

    size: Fraction | None = None
    share: Fraction = Fraction(1)


@dataclass(frozen=True)
class Piece:
    """One stretch of the axis: an ``edge`` (perimeter member), a ``light`` or a ``bar``; ``index`` counts its kind from
    0.
    """

    kind: Literal["edge", "light", "bar"]
    index: int
    start: Fraction
    size: Fraction
    fixed: bool = True

    @cached_property
    def end(self) -> Fraction:
        """Where it ends, mm from the start of the span."""
        return self.start + self.size

    @cached_property
    def centre(self) -> Fraction:
        """Its middle, mm from the start of the span."""
        return self.start + self.size / 2


@dataclass(frozen=True)
class Spacing:
    """A divided span: ``pieces`` in order, edge to edge; they touch and their sizes add up to ``span`` exactly."""

    rule: Rule
    span: Fraction
    pieces: tuple[Piece, ...]

    @cached_property
    def lights(self) -> tuple[Piece, ...]:
        """The lights, in order."""
        return tuple(piece for piece in self.pieces if piece.kind == "light")

    @cached_property
    def bars(self) -> tuple[Piece, ...]:
        """The inner bars, in order."""
        return tuple(piece for piece in self.pieces if piece.kind == "bar")

    @property
    def centre_distances(self) -> tuple[Fraction, ...]:
        """Clear edge to first bar centre, from bar centre to bar centre, last bar centre to clear edge."""
        marks = [self.lights[0].start, *(bar.centre for bar in self.bars), self.lights[-1].end]
        return tuple(b - a for a, b in itertools.pairwise(marks))

    @property
    def lights_are_equal(self) -> bool:
        """Whether all sharing lights have the same clear size (fixed lights are what was asked for)."""
        return len({light.size for light in self.lights if not light.fixed}) <= 1

    def sentence(self, style: Style = Style()) -> str:
        """What was done, in one sentence of the trade."""
        fixed = [light.size for light in self.lights if light.fixed]
        sharing = [light.size for light in self.lights if not light.fixed]
        if len(self.lights) == 1:
            return f"One light of {named(self.lights[0].size, style)} clear."
        parts = []
        if sharing:
            how = f"by {RULE_NAMES[self.rule]}" if len(sharing) > 1 else "taking the rest"
            parts.append(f"{len(sharing)} {_plural('light', len(sharing))} of {_sizes(sharing, style)} clear, {how}")
        if fixed:
            parts.append(f"{len(fixed)} fixed at {_sizes(fixed, style)}")
        bars = [bar.size for bar in self.bars]
        parts.append(f"{len(bars)} {_plural('bar', len(bars))} of {_sizes(bars, style)}")
        return f"{'; '.join(parts)}."


FEWEST_TOGETHER = 3
"""How many of one size in a row are told together."""


def in_runs(sizes: Sequence[Fraction], style: Style = Style(), between: str = " · ", unit: bool = False) -> str:
    """Sizes one after the other, several of one together; with the unit behind the last where it is asked for.

    >>> in_runs([Fraction(500), *[Fraction(400)] * 3, Fraction(500)]), in_runs([Fraction(400)] * 2, unit=True)
    ('500 · 3 of 400 · 500', '2 of 400 mm')
    """
    runs = [(size, len(list(run))) for size, run in itertools.groupby(sizes)]
    told: list[str] = []
    for index, (size, count) in enumerate(runs):
        text = named(size, style) if unit and index == len(runs) - 1 else show(size, style)
        if count == 1 or (count < FEWEST_TOGETHER and len(runs) > 1):
            told += [*[show(size, style)] * (count - 1), text]
        else:
            told.append(f"{count} of {text}")
    return between.join(told)


Asked = dict[str, Any]
"""What :func:`divide` is asked besides the span and the rule."""


def divide(
    span: Fraction,
    *,
    start: Fraction = Fraction(0),
    end: Fraction = Fraction(0),
    bars: Sequence[Fraction] = (),
    lights: Sequence[Wanted] = (Wanted(),),
    rule: Rule = "clear",
    edge_covers: tuple[Fraction, Fraction] = (Fraction(0), Fraction(0)),
    bar_cover: Fraction = Fraction(0),
    least: Fraction = Fraction(1),
    entry: str = "",
    span_entry: str = "",
    noun: str = "frame",
    way: str = "wide",
) -> Spacing:
    """Divide a span exactly.

    Parameters
    ----------
    span : Fraction
        From the outer edge of one perimeter member to the outer edge of the other, mm.
    start, end : Fraction
        Faces of the two perimeter members, mm.
    bars : sequence of Fraction
        Face of each inner bar, mm; one fewer than the lights.
    lights : sequence of Wanted
        Fixed clear sizes and shares, in order.
    rule : Rule
        What is made equal; see the module.
    edge_covers, bar_cover : pair of Fraction, Fraction
        How far what sits in a light goes behind both perimeter members and behind a bar, mm; used by ``sashes``.
    least : Fraction
        The smallest light that is allowed, mm.
    entry, span_entry, noun, way : str
        How a refusal names the division, the size that would mend it (where the span is as much more as that is), and
        that size in words.

    Returns
    -------
    Spacing

    Raises
    ------
    Refusal
        When the lights do not fit, with the numbers and the nearest span that would do.
    """
    _check_lights(bars, lights, least, entry)
    taken = start + end + sum(bars, Fraction(0)) + sum((light.size or Fraction(0) for light in lights), Fraction(0))
    loss = _losses(bars, len(lights), rule, edge_covers, bar_cover)
    sharing = [index for index, light in enumerate(lights) if light.size is None]
    if not sharing:
        _refuse_unless_closed(span - taken, taken, lights, least, (entry, span_entry, noun, way))
    sizes = _shared(lights, loss, span - taken)
    if any(size < least for size, _ in sizes):
        nearest = taken + _room_needed(lights, loss, least)
        raise _no_room(span - taken, bars, lights, sharing, nearest, (entry, span_entry, noun, way))
    return _lay_out(rule, span, start, end, bars, sizes)


def alternatives(spacing: Spacing, **asked: Any) -> dict[Rule, Spacing]:
    """The same division by each rule that fits; ``asked`` is what :func:`divide` was given besides the span and
    rule.
    """
    found: dict[Rule, Spacing] = {spacing.rule: spacing}
    for rule in RULES:
        if rule != spacing.rule:
            try:
                found[rule] = divide(spacing.span, rule=rule, **asked)
            except Refusal:
                continue
    return {rule: found[rule] for rule in RULES if rule in found}


def exact_mm(size: Fraction) -> str:
    """A size for messages, unrounded, so that typing it does what the message says."""
    return exact(size).replace("-", "−")


def _check_lights(bars: Sequence[Fraction], lights: Sequence[Wanted], least: Fraction, entry: str) -> None:
    if len(bars) != len(lights) - 1:
        raise Refusal(
            entry, "one bar between two lights", f"{len(lights)} lights need {len(lights) - 1} bars, not {len(bars)}."
        )
    for index, light in enumerate(lights):
        if light.share <= 0:
            raise Refusal(
                f"{entry}.lights.{index}", "share above zero", f"Light {index + 1} has a share of {light.share}."
            )
        if light.size is not None and light.size < least:
            raise Refusal(
                f"{entry}.lights.{index}.size",
                "smallest light",
                f"Light {index + 1} is {exact_mm(light.size)} wide.",
                f"The smallest light is {exact_mm(least)}.",
                least,
            )


def _losses(
    bars: Sequence[Fraction], count: int, rule: Rule, edge_covers: tuple[Fraction, Fraction], bar_cover: Fraction
) -> list[Fraction]:
    if rule == "clear":
        return [Fraction(0)] * count
    if rule == "centres":
        beside = [Fraction(0), *(bar / 2 for bar in bars), Fraction(0)]
    else:
        beside = [edge_covers[0], *([bar_cover] * len(bars)), edge_covers[1]]
    return [beside[index] + beside[index + 1] for index in range(count)]


def _shared(lights: Sequence[Wanted], loss: Sequence[Fraction], left: Fraction) -> list[tuple[Fraction, bool]]:
    """The size of every light and whether it is fixed, when what is ``left`` is shared."""
    sharing = [(light.share, lost) for light, lost in zip(lights, loss, strict=True) if light.size is None]
    shares = sum((share for share, _ in sharing), Fraction(0))
    unit = (left + sum((lost for _, lost in sharing), Fraction(0))) / (shares or 1)
    return [
        (light.share * unit - lost, False) if light.size is None else (light.size, True)
        for light, lost in zip(lights, loss, strict=True)
    ]


def _room_needed(lights: Sequence[Wanted], loss: Sequence[Fraction], least: Fraction) -> Fraction:
    """What must be left for every sharing light to be ``least`` or more."""
    sharing = [(light.share, lost) for light, lost in zip(lights, loss, strict=True) if light.size is None]
    unit = max((least + lost) / share for share, lost in sharing)
    return sum((share * unit - lost for share, lost in sharing), Fraction(0))


def _lay_out(
    rule: Rule,
    span: Fraction,
    start: Fraction,
    end: Fraction,
    bars: Sequence[Fraction],
    sizes: Sequence[tuple[Fraction, bool]],
) -> Spacing:
    pieces = [Piece("edge", 0, Fraction(0), start)]
    for index, (size, fixed) in enumerate(sizes):
        pieces.append(Piece("light", index, pieces[-1].end, size, fixed))
        if index < len(bars):
            pieces.append(Piece("bar", index, pieces[-1].end, bars[index]))
    pieces.append(Piece("edge", 1, pieces[-1].end, end))
    return Spacing(rule, span, tuple(pieces))


def _refuse_unless_closed(
    left: Fraction, taken: Fraction, lights: Sequence[Wanted], least: Fraction, words: tuple[str, str, str, str]
) -> None:
    """Refuse lights that are all fixed and do not come to the span: either the span is another, or, where that is not
    what an entry says, the largest light is."""
    if not left:
        return
    entry, span_entry, noun, way = words
    sizes = [light.size or Fraction(0) for light in lights]
    index = sizes.index(max(sizes))
    size = sizes[index] + left
    if span_entry or size < least:
        entry, nearest = (span_entry, taken) if span_entry else (entry, None)
        other = f"make the {noun} {exact_mm(taken)} {way}"
    else:
        entry, nearest = f"{entry}.lights.{index}.size", size
        other = f"type {exact_mm(size)} for light {index + 1}"
    raise Refusal(
        entry,
        "the sum closes",
        f"All lights are fixed and come to {exact_mm(taken)} with their bars, {exact_mm(abs(left))} "
        f"{'short' if left > 0 else 'over'}.",
        f"Let one light share the rest, or {other}.",
        nearest,
    )


def _no_room(
    left: Fraction,
    bars: Sequence[Fraction],
    lights: Sequence[Wanted],
    sharing: Sequence[int],
    nearest: Fraction,
    words: tuple[str, str, str, str],
) -> Refusal:
    entry, span_entry, noun, way = words
    nearest = Fraction(ceil(nearest))
    what = [f"{len(bars)} {_plural('bar', len(bars))} of {_sizes(list(bars), Style())}"] if bars else []
    if len(sharing) < len(lights):
        what.append(f"{len(lights) - len(sharing)} fixed {_plural('light', len(lights) - len(sharing))}")
    taker = " and ".join(what) or f"The {noun}"
    leave = "leave" if len(what) > 1 or len(bars) > 1 else "leaves"
    return Refusal(
        span_entry or entry,
        "room for every light",
        f"{taker} {leave} {exact_mm(left)} for {len(sharing)} {_plural('light', len(sharing))}.",
        f"The {noun} would have to be at least {exact_mm(nearest)} {way}.",
        nearest if span_entry else None,
    )


def _sizes(sizes: Sequence[Fraction], style: Style) -> str:
    """One size with its unit where all are equal, else the list of them."""
    return named(sizes[0], style) if len(set(sizes)) == 1 else in_runs(sizes, style, ", ", unit=True)


def _plural(word: str, count: int) -> str:
    return word if count == 1 else f"{word}s"
