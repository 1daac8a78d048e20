"""Glass in its rebate: what a light may have of its own, panes with cavities, and what goes round them."""

from fractions import Fraction

import numpy as np
import pytest

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.document import dump
from ashfell.core.base.lengths import Style
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit import make, read_unit
from ashfell.core.unit.edit.change import change
from ashfell.core.unit.say.build_up import build_up

TWO = {"width": "1600", "height": "1200", "columns": {"lights": [{}, {}], "bars": ["50"]}}


def unit(fill=None, **entries):
    cells = {"c1r1": {"fill": {"kind": "glass", **fill}}} if fill else {}
    return make(read_unit(TWO | entries | {"cells": cells}))


def depth(part):
    return float(np.ptp(part.solid.bounds[:, 2]))


def by_id(made):
    return {part.id: part for part in made.parts}


def test_a_light_has_a_gasket_of_its_own_on_both_faces():
    parts = by_id(unit({"gasket": {"thickness": "7", "shows": "5"}}))
    assert [depth(parts[f"gasket.c1r1.{face}"]) for face in ("outer", "inner")] == pytest.approx([7, 7])
    assert [depth(parts[f"gasket.c2r1.{face}"]) for face in ("outer", "inner")] == pytest.approx([4, 4])
    assert parts["gasket.c1r1.outer"].entry == "cells.c1r1.fill.gasket"
    assert parts["gasket.c2r1.outer"].entry == "glazing.gasket"


@pytest.mark.parametrize("shows", ["0", "2", "6"])
def test_how_far_it_shows_is_what_is_seen_of_it(shows):
    made = unit({"gasket": {"thickness": "4", "shows": shows}})
    light = next(light for light in made.layout.lights if light.key == "c1r1")
    inner = by_id(made)["gasket.c1r1.outer"].solid.vertices
    clear_left = float(light.clear.x)
    assert inner[inner[:, 0] < clear_left + 50, 0].max() == pytest.approx(clear_left + float(shows))
    assert audit_unit(made) == []


def test_the_glass_lies_on_its_own_gasket_and_the_bead_behind_it():
    parts = by_id(unit({"gasket": {"thickness": "7", "shows": "2"}}))
    gasket, glass, bead = (
        parts[name].solid.bounds[:, 2] for name in ("gasket.c1r1.outer", "glass.c1r1", "bead.c1r1.sill")
    )
    assert glass[1] == pytest.approx(gasket[0])
    assert bead[1] == pytest.approx(glass[0] - 7)
    other = parts["glass.c2r1"].solid.bounds[:, 2]
    assert other[1] - glass[1] == pytest.approx(3)


def test_glass_of_its_own_thickness_and_set_back():
    parts = by_id(unit({"thickness": "12", "setback": "30"}))
    assert depth(parts["glass.c1r1"]) == pytest.approx(12)
    assert parts["glass.c1r1"].solid.bounds[1][2] == pytest.approx(-30)
    assert depth(parts["gasket.c1r1.outer"]) == pytest.approx(10)
    assert audit_unit(unit({"thickness": "12", "setback": "30"})) == []


@pytest.mark.parametrize(
    ("fill", "entry", "words"),
    [
        ({"setback": "21"}, "setback", "no less than 24 mm"),
        ({"setback": "25", "gasket": {"thickness": "6", "shows": "2"}}, "setback", "no less than 26 mm"),
        ({"thickness": "60"}, "thickness", "at most 49 mm thick"),
        ({"gasket": {"thickness": "20", "shows": "2"}}, "thickness", "leaves no bead"),
    ],
)
def test_what_has_no_room_is_refused_with_what_works(fill, entry, words):
    with pytest.raises(Refusal, match=words) as caught:
        unit(fill)
    assert caught.value.entry == f"cells.c1r1.fill.{entry}"


def test_two_panes_share_the_thickness_with_a_spacer_between():
    parts = by_id(unit(glazing={"panes": 2, "thickness": "24", "pane": "4"}))
    outer, inner, spacer = (parts[name] for name in ("glass.c1r1.pane1", "glass.c1r1.pane2", "spacer.c1r1.1"))
    assert [depth(part) for part in (outer, spacer, inner)] == pytest.approx([4, 16, 4])
    assert outer.solid.bounds[0][2] == pytest.approx(spacer.solid.bounds[1][2])
    assert spacer.solid.bounds[0][2] == pytest.approx(inner.solid.bounds[1][2])
    assert spacer.role == "spacer"


def test_three_panes_have_two_spacers():
    made = unit(glazing={"panes": 3, "thickness": "36", "pane": "4"}, frame={"depth": "100"})
    assert sum(part.role == "spacer" for part in made.parts) == 4
    assert audit_unit(made) == []


def test_a_gasket_is_given_and_taken_back_on_the_page():
    data = change(dump(unit({}).document), "cells.c1r1.fill.gasket", "yes")
    data = change(data, "cells.c1r1.fill.gasket.thickness", "6")
    assert depth(by_id(make(read_unit(data)))["gasket.c1r1.inner"]) == pytest.approx(6)
    assert change(data, "cells.c1r1.fill.gasket", "")["cells"]["c1r1"]["fill"]["gasket"] is None


def test_what_shows_of_a_gasket_is_taken_from_muntins_and_cames():
    grid = {"columns": {"lights": [{}, {}], "bars": ["20"]}}
    narrow, wide = (
        by_id(unit({"muntins": grid, "gasket": {"thickness": "4", "shows": shows}})) for shows in ("1", "9")
    )
    lengths = [
        max(np.ptp(part.solid.bounds[:, 1]) for key, part in parts.items() if key.startswith("muntin."))
        for parts in (narrow, wide)
    ]
    assert lengths[0] - lengths[1] == pytest.approx(16)


def test_a_narrow_bar_is_covered_by_as_much_as_it_leaves():
    """A bar of half an inch keeps a web of 4 mm between its rebates of (12.7 - 4) / 2 = 4.35 mm, of which
    the glass fills two thirds."""
    narrow = {"columns": {"lights": [{}, {}], "bars": ["1/2 in"]}}
    made = make(read_unit(narrow))
    assert audit_unit(made) == []
    assert made.layout.body.ring.seat.bar_cover == Fraction(29, 10)
    assert made.layout.body.ring.seat.bar_clearance == Fraction(29, 20)
    assert made.layout.body.ring.seat.clearance == 3
    light = made.layout.lights[0]
    assert light.content.panes[0].width == light.clear.width + 12 + Fraction(29, 10)
    sentence = next(s for s in build_up(made, Style(), {}, "") if s.entry == "glazing")
    assert any("2.9, 1.45 clear, as they leave" in str(part) for part in sentence.parts)
    given = make(read_unit(narrow | {"glazing": {"bar_cover": "1"}}))
    assert given.layout.body.ring.seat.bar_cover == 1
    with pytest.raises(Refusal) as refused:
        make(read_unit({"columns": {"lights": [{}, {}], "bars": ["6"]}, "glazing": {"bead": {"edge": {"size": "1"}}}}))
    assert (refused.value.entry, refused.value.nearest) == ("columns.bars.0.face", 7)
    with pytest.raises(Refusal) as refused:
        make(read_unit({"columns": {"lights": [{}, {}], "bars": ["8"]}, "glazing": {"clearance": "3"}}))
    assert (refused.value.entry, refused.value.nearest) == ("columns.bars.0.face", 12)
    small = {"bead": {"edge": {"size": "1"}}}
    assert audit_unit(make(read_unit({"columns": {"lights": [{}, {}], "bars": ["7"]}, "glazing": small}))) == []
