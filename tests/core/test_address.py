"""Addresses: one way to write and read them, and every one that a refusal names can be typed at."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ashfell.core.base.address import Address, cell_key, cell_place, entry_below
from ashfell.core.base.document import dump
from ashfell.core.base.lengths import exact
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit import read_unit, solve
from ashfell.core.unit.edit.change import change
from ashfell.core.unit.starts import ordinary_window

steps = st.lists(st.sampled_from(["cells", "c1r2", "fill", "columns", "lights", "0", "size", "face"]), min_size=1)


@given(steps)
def test_steps_put_together_are_the_address(found):
    address = Address("")
    for step in found:
        address = address / step
    assert address.steps == tuple(found)
    assert (address.parent / address.last) == address
    assert address.is_within(address.parent)


@pytest.mark.parametrize(
    ("address", "parent", "last"),
    [
        ("frame.sides.corner.1", "frame.sides", "corner.1"),
        ("cells.c1r1.fill.sides.side.3", "cells.c1r1.fill.sides", "side.3"),
        ("frame.sides.sill", "frame.sides", "sill"),
        ("trim.outside.sides", "trim.outside", "sides"),
        ("width", "", "width"),
    ],
)
def test_the_name_of_a_side_is_one_step(address, parent, last):
    assert (Address(address).parent, Address(address).last) == (parent, last)


@given(st.integers(1, 99), st.integers(1, 99))
def test_the_key_of_a_light_is_its_place(column, row):
    assert cell_place(cell_key(column, row)) == (column, row)


def unit(**entries):
    return dump(read_unit(dump(ordinary_window("Plain")) | entries))


def test_the_face_of_a_polygons_side_is_typed_and_taken_back():
    data = unit(outline={"kind": "polygon", "points": 6}, width="1600", height="1600", cells={})
    own = change(data, "frame.sides.side.2", "70")
    assert own["frame"]["sides"] == {"side.2": "70"}
    faces = dict(zip(solve(read_unit(own)).frame.loop.tags, solve(read_unit(own)).frame.faces.tolist(), strict=True))
    assert faces["side.2"] == 70
    assert change(own, "frame.sides.side.2", "")["frame"]["sides"] == {}


def test_a_light_without_a_filling_of_its_own_takes_that_around_it_when_it_is_typed_at():
    data = change(change(unit(cells={}), "columns.count", "2"), "fill.kind", "louvres")
    typed = change(data, "cells.c1r1.fill.pitch", "75")
    assert typed["cells"]["c1r1"]["fill"] == data["fill"] | {"pitch": "75"}


@pytest.mark.parametrize("address", ["cells.c50r50.fill.kind", "cells.c3r1.fill.kind", "cells.c0r1.split", "cells.x"])
def test_a_light_that_is_not_there_is_refused(address):
    with pytest.raises(Refusal) as caught:
        change(unit(columns={"lights": [{}, {}], "bars": [{"face": "50"}]}, cells={}), address, "panel")
    assert str(caught.value)


def test_the_width_that_a_unit_with_rings_is_told_is_wide_enough():
    rings = [{"place": "inside", "face": "40", "step": "5"}]
    narrow = {"face": "50", "depth": "140", "rings": rings}
    data = unit(width="260", frame=narrow, columns={"lights": [{}, {}], "bars": [{"face": "50"}]}, cells={})
    with pytest.raises(Refusal) as caught:
        solve(read_unit(data))
    assert caught.value.entry == "width"
    assert exact(caught.value.nearest) in str(caught.value)
    solve(read_unit(change(data, "width", exact(caught.value.nearest))))
    with pytest.raises(Refusal):
        solve(read_unit(change(data, "width", exact(caught.value.nearest - Fraction(2)))))


def test_the_edge_of_a_bar_is_refused_where_it_is_given():
    worked = {"edge": {"kind": "ovolo", "size": "40"}}
    data = unit(columns={"lights": [{}, {}], "bars": [{"face": "120"}]}, bars=worked, cells={})
    with pytest.raises(Refusal) as caught:
        solve(read_unit(data))
    assert caught.value.entry.startswith("bars.edge") or caught.value.entry.startswith("glazing.setback")


@given(st.sampled_from(["", "frame", "cells.c1r1"]), st.sampled_from(["face", "fill.kind"]))
def test_an_entry_below_nothing_is_itself(path, entry):
    assert entry_below(path, entry) == (f"{path}.{entry}" if path else entry)
