"""What is too much is refused before any of it is made."""

from __future__ import annotations

import pytest

from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.fillings.muntins import muntin_pieces
from ashfell.core.unit import make, read_unit, solve
from ashfell.core.unit.solve.budget import Budget

SIXTY = {
    "width": "60 m",
    "height": "60 m",
    **{axis: {"lights": [{}] * 60, "bars": ["60"] * 59} for axis in ("columns", "rows")},
}
TEN = {axis: {"lights": [{}] * 10, "bars": ["60"] * 9} for axis in ("columns", "rows")}
FOUR = {axis: {"lights": [{}] * 4, "bars": ["20"] * 3} for axis in ("columns", "rows")}
TOO_MUCH = {
    "diamonds of a hundredth": {
        "fill": {"kind": "glass", "muntins": {"kind": "diamond", "pitch": "0.01", "rise": "0.01"}}
    },
    "diamonds of five": {
        "fill": {"kind": "glass", "muntins": {"kind": "diamond", "pitch": "5", "rise": "5", "width": "1"}}
    },
    "blades": {"fill": {"kind": "louvres", "pitch": "0.05", "thickness": "0.01", "blade": "1"}},
    "sashes": SIXTY | {"fill": {"kind": "sash"}},
    "muntins": SIXTY | {"fill": {"kind": "glass", "muntins": FOUR}},
    "leading": SIXTY | {"fill": {"kind": "glass", "lead": {}}},
    "grids in a grid": SIXTY | TEN | {"cells": {f"c{i}r{j}": TEN for i in range(1, 11) for j in range(1, 11)}},
}


@pytest.mark.parametrize("what", TOO_MUCH)
def test_too_much_is_refused_with_the_numbers(what):
    with pytest.raises(Refusal) as refused:
        solve(read_unit(TOO_MUCH[what]))
    assert refused.value.rule in ("a unit of bounded size", "room for every light", "glass in the diamonds")
    assert refused.value.remedy
    if refused.value.rule == "a unit of bounded size":
        assert "10,000" in refused.value.message


@pytest.mark.parametrize(
    ("edge", "kind", "counted"), [("square", "diamond", 1), ("chamfer", "diamond", 4), ("chamfer", "grid", 2)]
)
def test_worked_muntins_count_for_what_they_cost(edge, kind, counted):
    """A square edge is a plate; a worked one in a grid is swept, and elsewhere cut to its neighbours."""
    pattern = {"pitch": "100", "rise": "100"} if kind == "diamond" else FOUR
    muntins = {"kind": kind, "width": "10", **pattern}
    light = solve(read_unit({"fill": {"kind": "open"}})).lights[0]
    plain, worked = (
        muntin_pieces(
            light, read_unit({"fill": {"kind": "glass", "muntins": muntins | {"edge": of_edge}}}).fill.muntins
        )
        for of_edge in ({"kind": "square"}, {"kind": edge, "size": "2"})
    )
    assert worked[0] == counted * plain[0] > 0


SASH = {"kind": "sash", "opening": "side-hung", "depth": "60", "swing": "in"}
LEVERS = {"kind": "lever", "height": "450"}


@pytest.mark.parametrize(
    ("fill", "counted"),
    [
        ({"hinges": {"count": 3}}, 6),
        ({"hinges": {"count": 2}, "turning": "pair"}, 8),
        ({"hardware": [LEVERS | {"faces": "inside"}]}, 14),
        ({"hardware": [LEVERS | {"faces": "both"}]}, 28),
    ],
)
def test_hinges_and_hardware_count(fill, counted):
    """A hinge counts twice. A lever is a rose and a swept bar, of 384 triangles, of which thirty count as a piece."""
    own = dict(fill)
    pair = {"opening": "side-hung-pair"} if own.pop("turning", "") else {}
    body = {"width": "1600", "height": "1400", "frame": {"face": "60", "depth": "110"}}
    with_them, without = (solve(read_unit(body | {"fill": SASH | pair | more})).pieces for more in (own, {}))
    assert with_them - without == counted


def test_the_last_one_of_too_many_is_told_as_one():
    spent = Budget(9_999)
    spent.spend(1, "columns", "lights")
    with pytest.raises(Refusal, match=r"makes 1 light, with 10,000 pieces of the rest; there are at most 10,000"):
        spent.spend(1, "columns", "lights")
    with pytest.raises(Refusal, match=r"makes 1 strip of a dome, with"):
        spent.spend(1, "fill", "strips of a dome")


def test_nothing_of_it_is_made(monkeypatch):
    """Diamonds are counted before the first of their lines is drawn."""

    def drawn(*_):
        raise AssertionError("a line was drawn")

    monkeypatch.setattr("ashfell.core.kinds.patterns.diamond.LineString", drawn)
    with pytest.raises(Refusal):
        solve(read_unit(TOO_MUCH["diamonds of five"]))
    few = {"fill": {"kind": "glass", "muntins": {"kind": "diamond"}}}
    with pytest.raises(AssertionError):
        make(read_unit(few))


def test_cells_are_counted_as_they_nest():
    inner = {}
    for _ in range(12):
        bars = {"lights": [{}, {}], "bars": ["40"]}
        inner = {"columns": bars, "cells": {"c1r1": inner}}
    with pytest.raises(Refusal) as refused:
        solve(read_unit({"width": "900 m", "height": "900 m", **inner}))
    assert refused.value.rule == "cells in each other"


@pytest.mark.parametrize(
    ("entries", "entry", "remedy"),
    [
        ({"tags": ["word"] * 50}, "tags", "at most 40"),
        ({"name": "n" * 90}, "name", "at most 80"),
        ({"width": "2000 m"}, "width", "1 km"),
        ({"frame": {"face": "0.001"}}, "frame.face", "0.01 mm"),
        ({"frame": {"joint": "glued"}}, "frame.joint", "mitred"),
        ({"frame": {"rings": [{"count": 10**9}]}}, "frame.rings.0.count", "at most 20"),
        ({"angled": [{"x1": "0", "y1": "0", "x2": "1", "y2": "9"}] * 300}, "angled", "at most 12"),
        ({"fill": {"kind": "sash", "depth": {}}}, "fill.depth", ""),
        ({"columns": {"lights": [{"share": "1e999999999"}]}}, "columns.lights.0.share", "a number"),
        ({"cells": []}, "cells", "an object"),
    ],
)
def test_what_cannot_stand_in_a_document_is_told_in_words_of_the_trade(entries, entry, remedy):
    with pytest.raises(Refusal) as refused:
        read_unit(entries)
    assert refused.value.entry == entry
    assert remedy in refused.value.remedy
    for library in ("Input", "validation", "pydantic", "dictionary", "instance"):
        assert library not in str(refused.value)
