"""Where openings stand along their host: from its ends, its middle, from each other, equally, and again."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from itertools import accumulate

from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.site.document.placement import Placement

Stretch = tuple[Fraction, Fraction]
"""From where to where, mm along a host."""


@dataclass
class _Row:
    """What is known of a host's openings while they find their places; ``stretches`` are those that each entry takes
    up."""

    length: Fraction
    widths: Mapping[str, Fraction]
    entries: Mapping[str, list[Placement]]
    places: dict[str, Fraction] = field(default_factory=dict)
    stretches: dict[str, Stretch] = field(default_factory=dict)
    refused: dict[str, Refusal] = field(default_factory=dict)


def places_along(
    placements: Sequence[Placement], widths: Mapping[str, Fraction], length: Fraction
) -> tuple[dict[str, Fraction], dict[str, Refusal]]:
    """Where each opening begins along a host of a length, by the ids of their placements, and why those do not that
    cannot, by the ids of their entries; mm.

    Parameters
    ----------
    placements : sequence of Placement
        Those in the host that have a width.
    widths : mapping
        Of their openings, mm.
    length : Fraction
        Of the host, mm.
    """
    entries: dict[str, list[Placement]] = defaultdict(list)
    for placement in placements:
        entries[placement.entry].append(placement)
    row = _Row(length, widths, entries)
    for entry in _in_order(entries):
        _settle(row, entry)
    return row.places, row.refused


def _in_order(entries: Mapping[str, list[Placement]]) -> Iterator[str]:
    """The entries, each behind those that it stands beside, as far as there is such an order."""
    seen: set[str] = set()
    for entry in entries:
        waiting = [(entry, False)]
        while waiting:
            one, ready = waiting.pop()
            if ready:
                yield one
            elif one in entries and one not in seen:
                seen.add(one)
                first = entries[one][0]
                waiting += [(one, True), *((other, False) for other in (first.after, first.until) if other)]


def _settle(row: _Row, entry: str) -> None:
    """Place all of an entry; those that it stands beside are placed."""
    first = row.entries[entry][0]
    low, high = Fraction(0), row.length
    try:
        if first.after:
            low = _beside(row, entry, "after", first.after)[1]
        if first.until:
            high = _beside(row, entry, "until", first.until)[0]
        if high < low:
            raise Refusal(
                "until",
                "a stretch of the wall",
                f"“{first.until}” begins at {exact_mm(high)}, before {exact_mm(low)} where its stretch begins.",
                "Choose one that stands further along.",
            )
        _spread(row, row.entries[entry], low, high)
    except Refusal as refusal:
        row.refused[entry] = refusal


def _beside(row: _Row, entry: str, name: str, other: str) -> Stretch:
    """The stretch of an opening that another stands beside."""
    if other not in row.entries:
        raise Refusal(
            name,
            "a known opening",
            f"There is no opening “{other}” in this wall.",
            "Choose one of this wall, or none.",
        )
    if other in row.refused:
        raise Refusal(name, "an opening that is there", f"“{other}” has no place itself.", "Mend its place first.")
    if other not in row.stretches:
        raise Refusal(
            name,
            "openings that stand on something",
            f"“{entry}” and “{other}” are placed by each other.",
            "Place one of them from an end of the wall.",
        )
    return row.stretches[other]


def _spread(row: _Row, group: Sequence[Placement], low: Fraction, high: Fraction) -> None:
    """Place all of an entry in a stretch, row by row going up."""
    entry, count = group[0], group[0].repeat.along if group[0].repeat else 1
    if entry.repeat is None and entry.measured == "start":  # nearly all there are
        start = low + entry.offset.mm if low else entry.offset.mm
        row.places[entry.id] = start
        row.stretches[entry.entry] = start, start + row.widths[entry.id]
        return
    reached: list[Stretch] = []
    for first in range(0, len(group), count):
        own = group[first : first + count]
        widths = [row.widths[one.id] for one in own]
        gap = entry.repeat.gap.mm if entry.repeat else Fraction(0)
        whole = sum(widths, Fraction(0))
        if entry.measured == "equal":
            gap = (high - low - whole) / (len(own) + 1)
            if gap < 0:
                raise _too_many(widths, high - low, Fraction(0))
        whole += gap * (len(own) - 1)
        if whole > high - low and len(own) > 1:
            raise _too_many(widths, high - low, gap)
        start = {
            "start": low + entry.offset.mm,
            "end": high - entry.offset.mm - whole,
            "centre": low + (high - low - whole) / 2 + entry.offset.mm,
            "equal": low + gap,
        }[entry.measured]
        reached.append((start, start + whole))
        for one, width in zip(own, widths, strict=True):
            row.places[one.id] = start
            start += width + gap
    row.stretches[entry.entry] = min(start for start, _ in reached), max(end for _, end in reached)


def _too_many(widths: Sequence[Fraction], room: Fraction, gap: Fraction) -> Refusal:
    """The refusal of openings that are together, with the gaps between them, longer than their stretch."""
    reached = [*accumulate(widths, lambda whole, width: whole + gap + width)]
    whole, fitting = reached[-1], sum(1 for one in reached if one <= room)
    several = len(widths) > 1
    count = f"{len(widths)} openings" if several else "The opening"
    return Refusal(
        "repeat.along" if several and fitting else "width",
        "piers between the openings",
        f"{count} of {exact_mm(whole)} together {'do' if several else 'does'} not fit into {exact_mm(room)}.",
        f"Repeat it {fitting} times." if several and fitting else f"Make it at most {exact_mm(room)} wide.",
        Fraction(fitting) if several and fitting else room,
    )
