"""A unit solved, and the promise of a refusal: the nearest value that it names has been tried at its entry."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from math import ceil, floor

from ashfell.core.base.document import Data, dump, read
from ashfell.core.base.lengths import exact
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.plane.inset import LARGER, REMAINS
from ashfell.core.unit.apart import check_apart
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.edit.change import change
from ashfell.core.unit.layout import Layout
from ashfell.core.unit.solve.unit import laid_out

TRIES = 16
"""How often a nearest value is corrected before none is named."""
AHEAD = 4
"""After how many corrections that creep towards an end that end is tried."""


def solve(document: UnitDocument) -> Layout:
    """Solve a unit: everything in it that has a size, and all the members that are to be made.

    Raises
    ------
    Refusal
        With the entry, the rule, the numbers and the nearest value that would work: with it the same rule does not
        refuse that entry again, though another may.
    """
    try:
        layout = laid_out(document)
        check_apart(document, layout)
        return layout
    except Refusal as refusal:
        raise _kept(document, refusal) from None


def _kept(document: UnitDocument, refusal: Refusal) -> Refusal:
    """The refusal with a nearest value that keeps the promise. A first guess may fall short where a size acts on what
    is curved; it is corrected by what is refused then. Where none is found, words are left."""
    tried, data = refusal, dump(document)
    told: list[Fraction] = []
    for _ in range(TRIES if refusal.nearest is not None else 0):
        assert tried.nearest is not None
        told.append(tried.nearest)
        if len(told) % AHEAD == 0 and (ahead := _ahead(*told[-3:])) is not None:
            tried = _naming(tried, replace(tried, nearest=ahead))
        nearest = tried.nearest
        assert nearest is not None
        try:
            typed = change(data, tried.entry, exact(nearest))
        except Refusal:
            return tried  # a count: not a length that could be typed
        try:
            mended = read(UnitDocument, typed)
        except Refusal:
            break
        try:
            laid_out(mended)
        except Refusal as again:
            if (again.rule, again.entry) != (refusal.rule, refusal.entry):
                return _in_words(refusal) if _opposed(data, refusal, again) else tried
            if again.nearest is None or again.nearest == tried.nearest:
                break
            tried = _naming(refusal, again)
            continue
        return tried
    return _in_words(refusal)


def _in_words(refusal: Refusal) -> Refusal:
    """A refusal that names no value, since none was found that works; of its remedies those without it are left."""
    value = "" if refusal.nearest is None else exact_mm(refusal.nearest)
    kept = [remedy for remedy in refusal.remedy.rstrip(".").split(", or ") if value not in remedy]
    words = ", or ".join(kept)
    remedy = f"{words[0].upper()}{words[1:]}." if value and kept else refusal.remedy
    return replace(refusal, nearest=None, remedy=LARGER if refusal.rule == REMAINS else remedy)


def _opposed(data: Data, refusal: Refusal, again: Refusal) -> bool:
    """Whether two rules are against each other: what the second asks of an entry the first refuses."""
    if again.entry != refusal.entry or again.nearest is None:
        return False
    try:
        laid_out(read(UnitDocument, change(data, again.entry, exact(again.nearest))))
    except Refusal as last:
        return (last.rule, last.entry) == (refusal.rule, refusal.entry)
    return False


def _ahead(first: Fraction, second: Fraction, third: Fraction) -> Fraction | None:
    """Where corrections that shrink by the same share end (Aitken's delta squared, 1926; from memory), up or down to a
    hundredth of a millimetre; None where they do not shrink so."""
    before, after = second - first, third - second
    if not 0 < after * before < before * before:
        return None
    end = third + after * after / (before - after)
    return Fraction(ceil(end * 100) if after > 0 else floor(end * 100), 100)


def _naming(refusal: Refusal, again: Refusal) -> Refusal:
    """The first refusal, with the nearest value of the one that came after it."""
    assert refusal.nearest is not None
    assert again.nearest is not None
    remedy = refusal.remedy.replace(exact_mm(refusal.nearest), exact_mm(again.nearest))
    return replace(refusal, nearest=again.nearest, remedy=remedy if remedy != refusal.remedy else again.remedy)
