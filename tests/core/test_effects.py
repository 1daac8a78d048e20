"""What a change did to the spacing, in words."""

import pytest

from ashfell.core.base.document import dump
from ashfell.core.base.lengths import Style
from ashfell.core.unit import read_unit, solve
from ashfell.core.unit.edit.change import change
from ashfell.core.unit.effects import MOST, clear_sizes, effects

START = dump(
    read_unit(
        {
            "width": "2300",
            "height": "1600",
            "columns": {"lights": [{}] * 3, "bars": ["50", "50"]},
            "cells": {"c2r1": {"fill": {"kind": "sash", "depth": "60"}}},
        }
    )
)


def told(*changes, style=Style()):
    data = START
    for entry, value in changes:
        data = change(data, entry, value)
    return effects(*(clear_sizes(solve(read_unit(one))) for one in (START, data)), style)


def test_a_wider_unit_has_wider_lights_and_its_sash_too():
    assert told(("width", "2600")) == (
        "Lights across: 3 of 700 became 3 of 800 mm clear.",
        "Light c2r1, sash, lights across: 602 became 702 mm clear.",
    )


def test_lights_that_differ_are_all_named():
    (line,) = told(("columns.lights.0.size", "500"))[:1]
    assert line == "Lights across: 3 of 700 became 500 · 800 · 800 mm clear."


def test_another_count_is_told_with_both():
    assert told(("columns.count", "5"))[0] == "Lights across: 3 of 700 became 5 of 400 mm clear."


@pytest.mark.parametrize("entry", ["frame.depth", "glazing.thickness", "finishes.frame", "name"])
def test_what_leaves_the_spacing_alone_says_nothing(entry):
    value = {"frame.depth": "95", "glazing.thickness": "20", "finishes.frame": "ash-timber", "name": "Other"}[entry]
    assert told((entry, value)) == ()


def test_sizes_are_told_in_the_projects_unit():
    lines = told(("width", "2600"), style=Style("cm"))
    assert lines[0] == "Lights across: 3 of 70 became 3 of 80 cm clear."


def test_with_many_cells_the_rest_is_counted():
    cells = {f"c{k}r1": {"columns": {"lights": [{}, {}], "bars": ["40"]}} for k in range(1, 9)}
    data = {"width": "6000", "columns": {"lights": [{}] * 8, "bars": ["50"] * 7}, "cells": cells}
    before, after = (clear_sizes(solve(read_unit({**data, "width": width}))) for width in ("6000", "6400"))
    lines = effects(before, after)
    assert len(lines) == MOST + 1
    assert lines[-1] == f"And {9 - MOST} more."
