"""A remedy is a promise: the nearest value that a refusal names, typed at its entry, is not refused there by the same
rule again; and no unit that is spoiled anywhere fails in another way than by a refusal."""

from __future__ import annotations

from collections import Counter

import pytest

from ashfell.core.base.document import dump
from ashfell.core.base.lengths import exact, parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit import read_unit, solve
from ashfell.core.unit.edit.change import change
from tests.core.remedied import mended, remedied
from tests.core.spoiled import spoiled
from tests.core.test_any_unit import IN_THE_LONG_RUN

BATCHES, BATCH, MOST = (60, 40, 25) if IN_THE_LONG_RUN else (2, 40, 25)


def followed(seed: int, told: Counter[str]) -> str:
    """What is wrong with the remedies on the way from spoiled unit number ``seed``; empty when each was kept."""
    data = spoiled(seed)
    for _ in range(MOST):
        try:
            solve(read_unit(data))
        except Refusal as refusal:
            told[refusal.rule] += 1
            if not refusal.entry or not refusal.remedy:
                return f"{seed}: {refusal.rule} names no entry or no remedy"
            if refusal.nearest is None:
                try:
                    data = mended(data, refusal)
                except Refusal:
                    return f"{seed}: {refusal.entry}: {refusal} has no remedy that can be applied"
                continue
            data = change(data, refusal.entry, exact(refusal.nearest))
            try:
                solve(read_unit(data))
            except Refusal as again:
                if (again.rule, again.entry) == (refusal.rule, refusal.entry):
                    return f"{seed}: {refusal.entry}: {refusal}, then again: {again}"
        else:
            return ""
    return ""  # some units are refused by two rules in turn: what one asks for the other forbids


@pytest.mark.parametrize("batch", range(BATCHES))
def test_the_nearest_value_is_not_refused_again(batch):
    told: Counter[str] = Counter()
    seeds = range(batch * BATCH, (batch + 1) * BATCH)
    assert [text for seed in seeds if (text := followed(seed, told))] == []
    assert sum(told.values()) >= BATCH
    assert len(told) >= 12


@pytest.mark.parametrize("width", ["333", "1234.567", "87/7", "1999.9"])
def test_a_path_with_arcs_is_made_larger_evenly(width):
    nodes = [
        {"x": x, "y": y, "bulge": b}
        for x, y, b in (("0", "0", 0), ("700", "0", 0.3), ("700", "937.31", 0), ("0", "937.31", 0))
    ]
    unit = {
        "width": width,
        "outline": {"kind": "path", "nodes": nodes},
        "frame": {"face": "1"},
        "fill": {"kind": "open"},
    }
    data = dump(read_unit(unit))
    with pytest.raises(Refusal) as refused:
        solve(read_unit(data))
    assert (refused.value.rule, refused.value.entry) == ("arcs stay arcs", "height")
    mended = change(data, "height", exact(refused.value.nearest))
    try:
        solve(read_unit(mended))
    except Refusal as other:
        assert other.rule != "arcs stay arcs"


def test_a_path_whose_height_is_bound_is_made_wider():
    """The sizes below ask for the height that is there: an even one is reached by the width."""
    nodes = [
        {"x": x, "y": y, "bulge": b}
        for x, y, b in (("0", "0", 0), ("700", "0", 0.2), ("700", "900", 0), ("0", "900", 0))
    ]
    rows = {"lights": [{"size": "700"}, {}], "bars": ["60"]}
    made, met = remedied({"width": "650", "height": "900", "outline": {"kind": "path", "nodes": nodes}, "rows": rows})
    assert [(one.rule, one.entry, one.nearest) for one in met[:1]] == [("arcs stay arcs", "height", None)]
    # The arc's crown is bulge times half its chord beyond the nodes: 0.2 * 450 = 90, so 790 by 900.
    assert abs(float(parse(made["width"])) - 790) < 1e-3
    assert made["height"] == "900"


@pytest.mark.parametrize("outline", [{"kind": "star", "points": 9, "inner": 0.55}, {"kind": "polygon", "points": 5}])
def test_fixed_lights_below_a_point_close_at_once(outline):
    """How deep the point of a frame is changes with its size: a light is named, not the height."""
    rows = {"lights": [{"size": "300"}, {"size": "85.5"}], "bars": ["40"]}
    made, met = remedied({"width": "1200", "height": "1200", "outline": outline, "rows": rows})
    assert [refusal.rule for refusal in met] == ["the sum closes"]
    assert made["height"] == "1200"
    assert made["rows"]["lights"][1]["size"] == "85.5"


def test_two_corners_that_make_up_a_side_fit_it():
    """100.14 and 100.15 add up to a hair more than 200.29 in binary."""
    assert 100.14 + 100.15 > 200.29
    corners = [{"kind": "rounded", "size": "100.14"}, {"kind": "clipped", "size": "125.5"}, {}, {}]
    unit = {"width": "200.29", "height": "900", "frame": {"face": "8"}, "fill": {"kind": "open"}}
    data = dump(read_unit(unit | {"outline": {"kind": "rectangle", "corners": corners}}))
    with pytest.raises(Refusal, match=r"do not fit a side of 200\.29 mm") as refused:
        solve(read_unit(data))
    assert (refused.value.entry, exact(refused.value.nearest)) == ("outline.corners.1.size", "100.15 mm")
    outline = solve(read_unit(change(data, "outline.corners.1.size", "100.15 mm"))).outline
    assert outline.names == ("corner.1", "corner.2", "right", "head", "left")
