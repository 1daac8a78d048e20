"""The drawing as a form: which numbers stand on the sheet, what they change, and the sentences beside it."""

import itertools
import json

import pytest

from ashfell.core.base.document import dump
from ashfell.core.base.lengths import Style
from ashfell.core.drawing.frame import SIZE
from ashfell.core.drawing.points import points_sheet
from ashfell.core.drawing.unit_sheet import unit_sheet
from ashfell.core.unit import make, read_unit
from ashfell.core.unit.edit.change import change
from ashfell.core.unit.say.build_up import build_up
from ashfell.core.unit.say.writer import Action, Slot
from tests.conftest import DEMO

STYLE = Style()
GRID = {
    "width": "2000",
    "height": "1500",
    "columns": {"lights": [{}, {}, {}], "bars": ["50", "50"]},
    "rows": {"lights": [{}, {}], "bars": ["40"]},
}


def unit(**entries):
    return make(read_unit(GRID | entries))


def figures(made, **looks):
    return {figure.entry: figure for figure in unit_sheet(made, STYLE, **looks).figures}


def text_of(sentence):
    return " ".join(
        part if isinstance(part, str) else part.value if isinstance(part, Slot) else part.words
        for part in sentence.parts
    )


def sentences(made, at=""):
    return {sentence.entry: sentence for sentence in build_up(made, STYLE, {"white-paint": "White paint"}, at)}


def test_there_are_chains_on_all_sides_and_every_number_is_an_input():
    made, found = unit(), figures(unit())
    sheet = unit_sheet(made, STYLE)
    drawn = [figure for figure in found.values() if figure.entry.endswith(".size")]
    left, right = min(figure.x for figure in drawn), max(figure.x for figure in drawn)
    assert found["width"].y < found["columns.lights.0.centres"].y < found["columns.lights.0.size"].y
    assert found["columns.lights.0.size"].y < found["columns.bars.0.running"].y
    assert found["rows.lights.0.centres"].x > right > left > found["rows.bars.0.running"].x
    assert found["height"].x > found["rows.lights.0.centres"].x
    assert [mark.text for mark in sheet.marks] == ["running", "running"]


@pytest.mark.parametrize(
    "entry",
    [
        "columns.lights.0.centres",
        "columns.lights.2.centres",
        "rows.lights.1.centres",
        "columns.bars.1.running",
        "rows.bars.0.running",
    ],
)
def test_typing_over_a_chain_gives_what_was_typed(entry):
    before = figures(unit())[entry]
    wanted = str(float(before.value) + 35)
    after = figures(make(read_unit(change(dump(unit().document), entry, wanted))))[entry]
    assert float(after.value) == pytest.approx(float(wanted))


@pytest.mark.parametrize("key", sorted(path.stem for path in (DEMO / "units").glob("*.json")))
@pytest.mark.parametrize("view", ["outside", "inside", "across", "up"])
def test_every_unit_of_the_library_fits_its_sheet_on_every_side(key, view):
    made = make(read_unit(json.loads((DEMO / "units" / f"{key}.json").read_text())))
    sheet = unit_sheet(made, STYLE, view=view)
    assert len(sheet.shapes) > 1
    for figure in sheet.figures:
        assert -0.3 <= figure.x <= SIZE[0] - figure.width + 0.3, figure.entry
        assert -0.3 <= figure.y <= SIZE[1] - figure.height + 0.3, figure.entry
    assert len({figure.id for figure in sheet.figures}) == len(sheet.figures)
    for a, b in itertools.combinations(sheet.figures, 2):
        beside = a.x + a.width <= b.x + 0.3 or b.x + b.width <= a.x + 0.3
        assert beside or a.y + a.height <= b.y + 0.3 or b.y + b.height <= a.y + 0.3, (a.entry, b.entry)
    assert (sheet.key is not None) == (view in ("across", "up"))


def test_the_line_of_a_section_stands_where_it_is_cut():
    made = unit()
    low, high = (unit_sheet(made, STYLE, view="across", cut=cut).key for cut in (0.2, 0.8))
    assert low.line.y1 > high.line.y1
    assert low.now == "300"
    assert low.line.y1 == pytest.approx(low.top + low.height * 0.8, abs=0.1)
    upright = unit_sheet(made, STYLE, view="up", cut=0.25).key
    assert (upright.now, upright.axis) == ("500", "columns")
    assert upright.line.x1 == pytest.approx(upright.left + upright.width / 4, abs=0.1)


def test_points_of_a_section_are_laid_out_with_what_they_are_fitted_to():
    made = make(read_unit(change(dump(unit().document), "frame.section.drawn", "")))
    sheet = points_sheet(made, STYLE, "frame.section")
    assert [point.number for point in sheet.points] == [1, 2, 3, 4, 5, 6]
    assert [guide.kind for guide in sheet.guides] == ["member", "rebate"]
    member = sheet.guides[0]
    assert member.width == pytest.approx(50 * sheet.paper.scale, abs=0.02)
    assert member.height == pytest.approx(80 * sheet.paper.scale, abs=0.02)
    assert all(0 <= point.left <= SIZE[0] and 0 <= point.top <= SIZE[1] for point in sheet.points)


@pytest.mark.parametrize(
    ("holder", "guides"), [("bars", 3), ("columns.bars.1", 3), ("frame.rings.0", 1), ("trim.outside", 0)]
)
def test_each_kind_of_member_shows_its_own_guides(holder, guides):
    data = dump(unit(frame={"rings": [{"place": "outside"}]}, trim={"outside": {}}).document)
    made = make(read_unit(change(data, f"{holder}.section.drawn", "")))
    assert len(points_sheet(made, STYLE, f"{holder}.section").guides) == guides


@pytest.mark.parametrize(
    "entry", ["", "frame.section", "frame.face", "outline.nodes", "nowhere.section", "bars.0.section"]
)
def test_there_are_no_points_where_nothing_is_drawn(entry):
    assert points_sheet(unit(), STYLE, entry) is None


def test_the_list_says_what_each_entry_leaves():
    made = unit(frame={"face": "60", "rings": [{"place": "outside", "face": "20", "step": "5"}]}, trim={"outside": {}})
    said = sentences(made)
    assert said["frame"].told == ("Leaves 1880 by 1380 mm clear.",)
    assert said["frame.rings.0"].told == ("Makes it 2050 by 1550 mm over all.",)
    assert said["columns"].told[0].startswith("3 lights of 593.33 mm clear")
    assert said["glazing"].told == ("Cut to 6 of 617.33 by 694 mm.",)


def test_a_sash_says_how_large_it_is():
    made = unit(cells={"c1r1": {"fill": {"kind": "sash", "depth": "60"}}})
    ring = sentences(made, "cells.c1r1")["cells.c1r1.fill.ring"]
    assert ring.told == ("It is 592 by 672 mm, 502 by 582 mm clear within.",)


def test_worked_edges_and_a_section_of_ones_own_take_each_others_place():
    plain = sentences(unit())["frame"]
    assert any(isinstance(part, Action) and part.entry == "frame.section.drawn" for part in plain.parts)
    made = make(read_unit(change(dump(unit().document), "frame.section.drawn", "")))
    own = sentences(made)["frame"]
    assert "own section of 6 points" in text_of(own)
    assert not any(isinstance(part, Slot) and part.entry.startswith("frame.edge") for part in own.parts)


def test_columns_and_rows_can_be_ordered_where_there_are_several():
    made = unit(cells={"c2r1": {"fill": {"kind": "open"}}})
    place = sentences(made, "cells.c2r1")["cells.c2r1.place"]
    acts = {part.entry for part in place.parts if isinstance(part, Action)}
    assert {
        "columns.lights.1.raised",
        "columns.lights.1.lowered",
        "columns.lights.1.duplicated",
        "rows.lights.0.lowered",
        "rows.lights.0.removed",
    } <= acts
    assert "rows.lights.0.raised" not in acts
