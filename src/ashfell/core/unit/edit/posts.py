"""Posts at given places: a unit divided into columns by them."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from typing import Any

from ashfell.core.base.address import cell_key, cell_place
from ashfell.core.base.document import Data, dump
from ashfell.core.base.lengths import exact
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.edit.divisions import sharing_light
from ashfell.core.unit.solve.unit import laid_out


def with_posts(document: UnitDocument, places: Sequence[Fraction]) -> Data:
    """A unit with the middles of its posts at some places, mm from its left in unit space, from the left on. One that
    is not divided into columns is, by bars as wide as its frame; what its rows hold is held in every column.

    Raises
    ------
    Refusal
        When it is divided into more or fewer columns, or a light between two places would have no width.
    """
    data = dump(document)
    columns, wanted = document.columns, len(places) + 1
    if len(columns.lights) not in (1, wanted):
        raise Refusal(
            "posts",
            "a column for each facet",
            f"The unit has {len(columns.lights)} columns, and the wall folds it into {wanted}.",
            f"Divide it into {wanted} columns, or leave its columns undivided.",
        )
    bars = data["columns"]["bars"] or [{"face": document.frame.face.text} for _ in places]
    faces = [bar.face.mm for bar in columns.bars] or [document.frame.face.mm] * len(places)
    (root,) = laid_out(document).body.cells[:1]
    low, high = root.left + root.columns.lights[0].start, root.left + root.columns.lights[-1].end
    starts = [low, *(at + face / 2 for at, face in zip(places, faces, strict=True))]
    ends = [*(at - face / 2 for at, face in zip(places, faces, strict=True)), high]
    clear = [end - start for start, end in zip(starts, ends, strict=True)]
    _check_widths(clear)
    lights: list[Any] = [{"size": exact(size)} for size in clear[:-1]]
    data["columns"] = {"rule": "clear", "lights": [*lights, sharing_light()], "bars": bars}
    if len(columns.lights) == 1:
        data["cells"] = _in_every_column(data["cells"], wanted)
    return data


def _check_widths(clear: Sequence[Fraction]) -> None:
    """Refuse places between which nothing is left."""
    for number, size in enumerate(clear, 1):
        if size <= 0:
            raise Refusal(
                "posts",
                "a light between two folds",
                f"With a post on each fold light {number} would be {exact_mm(size)} wide.",
                "Move it along the wall, or leave its bars as they are drawn.",
            )


def _in_every_column(cells: Data, count: int) -> Data:
    """What is said of the cells of one column, said of the same rows of them all."""
    found: Data = {}
    for key, cell in cells.items():
        place = cell_place(key)
        assert place is not None
        found |= {cell_key(column, place[1]): cell for column in range(1, count + 1)}
    return found
