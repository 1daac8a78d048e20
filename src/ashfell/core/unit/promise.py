"""A unit solved, and the promise of a refusal: the nearest value that it names has been tried at its entry."""

from __future__ import annotations

from dataclasses import replace

from ashfell.core.base.document import dump, read
from ashfell.core.base.lengths import exact
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.unit.apart import check_apart
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.edit.change import change
from ashfell.core.unit.layout import Layout
from ashfell.core.unit.solve.unit import laid_out

TRIES = 16
"""How often a nearest value is corrected before none is named."""


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
    for _ in range(TRIES if refusal.nearest is not None else 0):
        assert tried.nearest is not None
        try:
            typed = change(data, tried.entry, exact(tried.nearest))
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
                return tried
            if again.nearest is None or again.nearest == tried.nearest:
                break
            tried = _naming(refusal, again)
            continue
        return tried
    return replace(refusal, nearest=None)


def _naming(refusal: Refusal, again: Refusal) -> Refusal:
    """The first refusal, with the nearest value of the one that came after it."""
    assert refusal.nearest is not None
    assert again.nearest is not None
    remedy = refusal.remedy.replace(exact_mm(refusal.nearest), exact_mm(again.nearest))
    return replace(refusal, nearest=again.nearest, remedy=remedy if remedy != refusal.remedy else again.remedy)
