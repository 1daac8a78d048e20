"""The sheet of a unit is drawn once while nothing about it changes."""

import gc

from ashfell.core.base.lengths import STYLES
from ashfell.core.unit import make, read_unit
from ashfell.studio.units import sheet


def test_a_sheet_is_drawn_again_when_something_else_is_asked_for(monkeypatch):
    made, draw = [], sheet.drawn
    monkeypatch.setattr(sheet, "drawn", lambda of: made.append(1) or draw(of))
    unit, other = (make(read_unit({"width": width})) for width in ("900", "1200"))
    asked = [
        (unit, "mm", "", "outside", 0.5),
        (unit, "in", "", "outside", 0.5),
        (unit, "in", "frame", "outside", 0.5),
        (unit, "in", "frame", "inside", 0.5),
        (unit, "in", "frame", "across", 0.5),
        (unit, "in", "frame", "across", 0.25),
        (other, "in", "frame", "across", 0.25),
    ]
    for number, (of, style, at, side, cut) in enumerate(asked, 1):
        one, again = (sheet.sheet_of(of, STYLES[style], at, side, cut) for _ in range(2))
        assert one is again
        assert len(made) == number
    before = len(sheet._LAST)
    del unit, of, asked, one, again
    gc.collect()
    assert len(sheet._LAST) < before
