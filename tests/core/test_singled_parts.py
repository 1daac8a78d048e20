"""Grain turned by a quarter, stops of a depth of their own, and where leaves are when they are open."""

import numpy as np
import pytest

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.document import dump
from ashfell.core.base.lengths import Style
from ashfell.core.base.refusal import Refusal
from ashfell.core.drawing.unit_sheet import unit_sheet
from ashfell.core.surface import surface
from ashfell.core.unit import read_unit
from ashfell.core.unit.edit.change import change
from ashfell.core.unit.make import make
from ashfell.core.unit.sash_uses import sashes_of
from ashfell.core.unit.say.build_up import build_up
from ashfell.core.unit.starts import start_from

DOOR = dump(start_from("panelled-leaf", "Door"))


def part(unit, key):
    return next(one for one in unit.parts if one.id == key)


def test_one_part_is_turned_and_turned_back():
    data = change(DOOR, "grain", "leaf.c1r1.left")
    unit, plain = make(read_unit(data)), make(read_unit(DOOR))
    assert part(plain, "leaf.c1r1.left").grain == (0, 1, 0)
    assert part(unit, "leaf.c1r1.left").grain == (-1, 0, 0)
    assert part(unit, "leaf.c1r1.right").grain == (0, 1, 0)
    # A stile 100 wide and 2100 high: along the grain its texture runs as far as it is long that way.
    runs = [float(np.ptp(surface(part(made, "leaf.c1r1.left")).texture[:, 0])) for made in (plain, unit)]
    assert runs[0] > 2
    assert runs[1] < 0.2
    assert change(data, "grain", "leaf.c1r1.left")["grain"] == []
    said = [sentence.text for sentence in build_up(unit, Style(), {}, "")]
    assert any("Grain turned by a quarter on leaf c1r1 left" in text for text in said)
    assert read_unit(change(data, "grain.cleared", "")).grain == ()


def test_a_part_that_is_gone_is_told_and_does_no_harm():
    unit = make(read_unit(change(DOOR, "grain", "leaf.c9r9.left")))
    (finding,) = audit_unit(unit)
    assert (finding.level, finding.rule) == ("note", "grain of a part")
    with pytest.raises(Refusal):
        change(DOOR, "grain", "")
    with pytest.raises(Refusal):
        read_unit(DOOR | {"grain": ["no such name!"]})


@pytest.mark.parametrize("swing", ["out", "in"])
def test_a_planted_stop_is_as_deep_as_it_says(swing):
    data = DOOR | {"fill": DOOR["fill"] | {"swing": swing, "stop_depth": "15"}}
    unit = make(read_unit(data))
    stop = next(one for one in unit.parts if one.id.startswith("frame.stop") or "stop." in one.id)
    assert np.ptp(stop.solid.bounds[:, 2]) == pytest.approx(15)
    assert audit_unit(unit) == []


@pytest.mark.parametrize(
    ("start", "across"),
    [("pocket-door", (-902, 40)), ("hung-slider", (-946, 40)), ("panelled-leaf", (34.5, 92.5))],
)
def test_where_an_open_leaf_is_stands_on_the_elevation(start, across):
    """In millimetres of the unit: a pocket door's leaf is beside it, a hung one at its hinges."""
    sheet = unit_sheet(make(start_from(start, "Door")), Style())
    (ghost,) = [stroke for stroke in sheet.strokes if stroke.kind == "ghost"]
    xs = [(x - sheet.paper.left) / sheet.paper.scale for x, _ in ghost.paths[0]]
    assert (min(xs), max(xs)) == pytest.approx(across, abs=60)


def test_one_part_has_a_finish_of_its_own_and_lets_it_go():
    data = change(DOOR, "painted", "leaf.c1r1.left; ember-paint")
    unit = make(read_unit(data))
    assert part(unit, "leaf.c1r1.left").finish == "ember-paint"
    assert part(unit, "leaf.c1r1.right").finish == part(make(read_unit(DOOR)), "leaf.c1r1.right").finish
    said = [sentence.text for sentence in build_up(unit, Style(), {"ember-paint": "Ember red paint"}, "")]
    assert "Leaf c1r1 left in Ember red paint" in said
    again = change(data, "painted.leaf.c1r1.left", "navy-paint")
    assert again["painted"] == {"leaf.c1r1.left": "navy-paint"}
    assert change(again, "painted", "leaf.c1r1.left")["painted"] == {}
    with pytest.raises(Refusal):
        change(DOOR, "painted", "; navy-paint")
    with pytest.raises(Refusal):
        read_unit(DOOR | {"painted": {"leaf.c1r1.left": "no such key!"}})


def test_a_painted_part_that_is_gone_is_told():
    unit = make(read_unit(DOOR | {"painted": {"leaf.c9r9.left": "navy-paint"}}))
    (finding,) = audit_unit(unit)
    assert (finding.level, finding.rule) == ("note", "finish of a part")


def test_of_two_equal_sashes_one_is_painted_or_turned_alone():
    """They are no longer one definition; the other one stays as it is."""
    pair = {
        "width": "2000",
        "height": "1200",
        "columns": {"lights": [{}, {}], "bars": ["50"]},
        "fill": {"kind": "sash"},
    }
    plain = make(read_unit(pair))
    name = next(one.id for one in plain.parts if one.sash and one.role == "sash")
    for own in ({"painted": {name: "navy-paint"}}, {"grain": [name]}):
        unit = make(read_unit(pair | own))
        definitions, uses = sashes_of(unit.layout, unit.parts)
        assert len(definitions) == len(uses) == 2
    definitions, uses = sashes_of(plain.layout, plain.parts)
    assert (len(definitions), len(uses)) == (1, 2)
