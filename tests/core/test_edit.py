"""Changes made on the drawing, as functions from document to document."""

import math

import pytest

from ashfell.core.base.document import dump
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit import read_unit, solve
from ashfell.core.unit.edit.change import change, with_opened
from ashfell.core.unit.edit.place import at
from ashfell.core.unit.starts import ordinary_window
from ashfell.core.unit.words import difference_words

START = dump(read_unit({"width": "2300", "columns": {"lights": [{}] * 3, "bars": ["50", "60"]}}))


def faces(data):
    return [bar["face"] for bar in data["columns"]["bars"]]


def test_a_number_changes_one_entry_and_leaves_the_document_it_came_from():
    changed = change(START, "frame.face", "2 in")
    assert changed["frame"]["face"] == "2 in"
    assert START["frame"]["face"] == "50"


def test_counting_lights_adds_bars_like_the_last_and_keeps_the_others():
    more = change(START, "columns.count", "5")
    assert faces(more) == ["50", "60", "60", "60"]
    assert faces(change(more, "columns.count", "2")) == ["50"]


def test_all_bars_at_once():
    assert faces(change(START, "columns.bars", "45")) == ["45", "45"]


def test_typing_a_light_fixes_it_and_emptying_it_lets_it_share():
    fixed = change(START, "columns.lights.0.size", "400")
    assert solve(read_unit(fixed)).columns.lights[0].size == 400
    assert change(fixed, "columns.lights.0.size", " ")["columns"]["lights"][0]["size"] is None


def test_locking_keeps_the_exact_size_even_if_it_never_ends_as_a_decimal():
    size = solve(read_unit(START)).columns.lights[1].size
    assert size.denominator == 1 or size.denominator == 3
    locked = change(START, "columns.lights.1.locked", "")
    assert solve(read_unit(locked)).columns.lights[1].size == size
    assert change(locked, "columns.lights.1.locked", "")["columns"]["lights"][1]["size"] is None


def test_a_bare_number_has_the_projects_unit():
    assert change(START, "width", "90", bare="in")["width"] == "90 in"


@pytest.mark.parametrize(
    ("entry", "value", "words"),
    [
        ("width", "", "missing"),
        ("width", "wide", "number is needed"),
        ("columns.count", "0", "cannot be laid out"),
        ("columns.count", "many", "not a number of lights"),
        ("columns.count", "61", "cannot be laid out"),
        ("frame.colour", "3", "no entry"),
        ("columns.lights.9.size", "30", "no entry"),
        ("", "3", "no entry"),
    ],
)
def test_what_cannot_be_changed_is_refused(entry, value, words):
    with pytest.raises(Refusal, match=words):
        change(START, entry, value)


def test_a_first_bar_is_as_wide_as_the_frame():
    single = change(change(START, "columns.count", "1"), "frame.face", "70")
    assert faces(change(single, "columns.count", "3")) == ["70", "70"]


@pytest.mark.parametrize(("bare", "width"), [("mm", 1200), ("in", "1219.2")])
def test_a_new_unit_starts_from_round_sizes_and_builds(bare, width):
    document = ordinary_window("Window", bare)
    assert float(solve(document).outer.width) == float(width)


def test_moving_a_bar_is_taken_up_by_the_lights_beside_it():
    four = change(START, "columns.count", "4")
    before = solve(read_unit(four)).columns
    moved = change(four, "columns.bars.1.shift", "-30")
    after = solve(read_unit(moved)).columns
    assert [b.size - a.size for a, b in zip(before.lights, after.lights, strict=True)] == [0, -30, 30, 0]
    assert after.bars[1].start == before.bars[1].start - 30
    assert [light.fixed for light in after.lights] == [False, True, True, False]


def test_moving_the_only_bar_leaves_one_light_to_share_the_rest():
    two = change(START, "columns.count", "2")
    moved = change(two, "columns.bars.0.shift", "100")
    wider = change(moved, "width", "2500")
    first, second = (solve(read_unit(data)).columns.lights for data in (moved, wider))
    assert first[0].size - first[1].size == 200
    assert second[0].size == first[0].size
    assert second[1].size == first[1].size + 200


def test_a_bar_moved_too_far_is_refused():
    with pytest.raises(Refusal):
        solve(read_unit(change(START, "columns.bars.0.shift", "2 m")))
    with pytest.raises(Refusal, match="no bar 8"):
        change(START, "columns.bars.7.shift", "10")


def test_equalising_lets_all_lights_share_and_mirroring_turns_them_round():
    fixed = change(START, "columns.lights.0.size", "400")
    mirrored = change(fixed, "columns.mirrored", "")
    assert solve(read_unit(mirrored)).columns.lights[2].size == 400
    assert faces(mirrored) == ["60", "50"]
    assert solve(read_unit(change(fixed, "columns.equal", ""))).columns.lights_are_equal


def act(data, *steps):
    for entry, value in steps:
        data = change(data, entry, value)
    return data


def test_a_light_is_split_filled_and_opened_and_each_step_builds():
    steps = [
        ("cells.c1r1.split", "rows"),
        ("cells.c1r1.rows.bars.0.shift", "120"),
        ("cells.c1r1.cells.c1r2.fill.kind", "sash"),
        ("cells.c1r1.cells.c1r2.fill.opening", "top-hung"),
        ("cells.c1r1.cells.c1r2.fill.sides.sill", "70"),
        ("cells.c1r1.cells.c1r2.fill.clearance", "6"),
        ("cells.c2r1.fill.kind", "panel"),
        ("cells.c3r1.fill.muntins", "yes"),
        ("cells.c3r1.fill.muntins.columns.count", "3"),
        ("cells.c3r1.fill.muntins.columns.bars.1.shift", "15"),
        ("trim.sill", "yes"),
        ("trim.sill.slope", "8"),
        ("frame.rings.added", ""),
        ("frame.rings.0.place", "outside"),
        ("frame.rings.0.duplicated", ""),
        ("columns.bars.0.setback", "4"),
        ("columns.bars.0.edge", "yes"),
        ("outline.kind", "segmental"),
        ("outline.rise", "180"),
        ("frame.joint", "mitred"),
    ]
    data = START
    for step in steps:
        data = act(data, step)
        solve(read_unit(data))
    sash = data["cells"]["c1r1"]["cells"]["c1r2"]["fill"]
    assert (sash["opening"], sash["sides"]) == ("top-hung", {"sill": "70"})
    assert [ring["place"] for ring in data["frame"]["rings"]] == ["outside", "outside"]
    opened = solve(read_unit(with_opened(data, 50)))
    assert any(sash.motion is not None for light in opened.lights for sash in light.sashes)


def test_a_new_sash_fits_its_frame_even_when_that_is_shallow():
    """With glass as thick as the unit's where there is room, else with thinner glass of its own."""
    for depth in ("90", "80", "60", "52"):
        shallow = change(change(START, "glazing.thickness", "6"), "glazing.setback", "14")
        shallow = change(shallow, "frame.depth", depth)
        for kind in ("sash", "sliders") if depth != "52" else ("sash",):  # two tracks need 54
            solve(read_unit(change(shallow, "cells.c2r1.fill.kind", kind)))


def test_lights_merge_part_again_and_take_what_was_in_them_along():
    merged = act(START, ("cells.c2r1.fill.kind", "open"), ("cells.c1r1.merged", "right"))
    assert merged["cells"] == {"c1r1": merged["cells"]["c1r1"]}
    assert [light.key for light in solve(read_unit(merged)).lights] == ["c1r1", "c3r1"]
    assert len(solve(read_unit(change(merged, "cells.c1r1.merged", "none"))).lights) == 3
    with pytest.raises(Refusal, match="no light on that side"):
        change(START, "cells.c3r1.merged", "right")


def test_mirroring_turns_fillings_and_hands_round():
    hung = act(START, ("cells.c1r1.fill.kind", "sash"), ("cells.c1r1.fill.hand", "left"), ("columns.mirrored", ""))
    assert hung["cells"]["c3r1"]["fill"]["hand"] == "right"
    assert "c1r1" not in hung["cells"]


def test_fewer_lights_drop_the_cells_that_were_in_them():
    data = act(START, ("cells.c3r1.fill.kind", "open"), ("cells.c1r1.merged", "right"), ("columns.count", "2"))
    assert list(data["cells"]) == ["c1r1"]
    assert data["cells"]["c1r1"]["span"] == [2, 1]


def test_what_is_said_of_the_last_light_is_said_of_the_whole():
    data = act(START, ("cells.c1r1.fill.kind", "sash"), ("cells.c2r1.fill.kind", "open"), ("columns.count", "1"))
    assert data["cells"] == {}
    assert data["fill"]["kind"] == "sash"
    assert [light.fill.kind for light in solve(read_unit(data)).body.lights] == ["sash"]


def test_a_filling_is_copied_along_and_reset():
    copied = act(START, ("cells.c1r1.fill.kind", "open"), ("cells.c1r1.fill.copied", "row"))
    assert {cell["fill"]["kind"] for cell in copied["cells"].values()} == {"open"}
    assert len(copied["cells"]) == 3
    assert "c2r1" not in change(copied, "cells.c2r1.cleared", "")["cells"]


@pytest.mark.parametrize(
    ("entry", "value", "words"),
    [
        ("cells.c1r1.fill.kind", "curtain", "no filling"),
        ("outline.kind", "cloud", "no outline"),
        ("frame.joint", "glued", "not one of"),
        ("cells.c1r1.fill.hand", "up", "not one of"),
        ("glazing.panes", "two", "not a whole number"),
        ("frame.rings.4.removed", "", "no entry"),
        ("cells.c1r1.split", "sideways", "no entry"),
        ("trim.sill.fall", "5 degrees", "not a unit"),
    ],
)
def test_what_cannot_be_done_is_refused_in_words(entry, value, words):
    data = act(START, ("trim.sill", "yes"), ("cells.c1r1.fill.kind", "glass" if "hand" not in entry else "sash"))
    with pytest.raises(Refusal, match=words):
        change(data, entry, value)


def test_differences_are_told_in_words():
    after = act(START, ("frame.face", "60"), ("cells.c2r1.fill.kind", "open"))
    told = difference_words(START, after)
    assert "Frame, face: 50 became 60." in told
    assert any(line.startswith("Light c2r1, filling, kind: open") for line in told)


def clear(data):
    return [float(light.size) for light in solve(read_unit(data)).columns.lights]


def test_a_distance_of_centres_typed_over_moves_the_bar_behind_it():
    spacing = solve(read_unit(START)).columns
    moved = solve(read_unit(change(START, "columns.lights.0.centres", "800"))).columns
    assert moved.centre_distances[0] == 800
    assert sum(moved.centre_distances) == sum(spacing.centre_distances)
    last = solve(read_unit(change(START, "columns.lights.2.centres", "650"))).columns
    assert last.centre_distances[2] == 650
    assert last.centre_distances[0] == spacing.centre_distances[0]


def test_a_running_size_typed_over_moves_its_bar():
    moved = solve(read_unit(change(START, "columns.bars.1.running", "1500"))).columns
    assert moved.bars[1].centre == 1500
    assert moved.bars[0].centre == solve(read_unit(START)).columns.bars[0].centre


@pytest.mark.parametrize("entry", ["columns.lights.7.centres", "rows.lights.0.centres", "columns.bars.5.running"])
def test_there_must_be_a_bar_to_move(entry):
    with pytest.raises(Refusal, match="no bar"):
        change(START, entry, "500")


WITH_SASH = START | {"cells": {"c2r1": {"fill": {"kind": "sash", "opening": "top-hung"}, "span": [1, 1]}}}
WIDTHS = change(change(WITH_SASH, "columns.lights.0.size", "500"), "columns.lights.1.size", "700")


@pytest.mark.parametrize(
    ("entry", "sizes", "sashes"),
    [
        ("columns.lights.1.raised", [700, 500, 890], ["c1r1"]),
        ("columns.lights.1.lowered", [500, 890, 700], ["c3r1"]),
        ("columns.lights.0.raised", [500, 700, 890], ["c2r1"]),
        ("columns.lights.2.lowered", [500, 700, 890], ["c2r1"]),
        ("columns.lights.0.removed", [700, 1450], ["c1r1"]),
        ("columns.lights.1.removed", [500, 1650], []),
        ("columns.lights.1.duplicated", [500, 700, 700, 130], ["c2r1", "c3r1"]),
    ],
)
def test_lights_are_moved_copied_and_taken_away_with_what_fills_them(entry, sizes, sashes):
    changed = change(WIDTHS, entry, "")
    assert clear(changed) == pytest.approx(sizes)
    assert sorted(changed["cells"]) == sashes
    assert all(cell["fill"]["opening"] == "top-hung" for cell in changed["cells"].values())


def test_a_merged_light_is_parted_before_its_column_is_moved():
    merged = change(WITH_SASH, "cells.c2r1.merged", "right")
    with pytest.raises(Refusal, match="Part the merged light first"):
        change(merged, "columns.lights.0.lowered", "")


def test_the_last_light_cannot_be_taken_away():
    one = dump(read_unit({}))
    with pytest.raises(Refusal, match="0 lights"):
        change(one, "columns.lights.0.removed", "")


@pytest.mark.parametrize(
    "holder", ["frame", "bars", "columns.bars.0", "trim.outside", "cells.c2r1.fill", "frame.rings.0"]
)
def test_a_section_of_ones_own_begins_from_what_is_there_and_can_be_given_up(holder):
    data = dump(
        read_unit(
            WITH_SASH
            | {
                "trim": {"outside": {}},
                "frame": {"rings": [{"place": "outside"}]},
                "cells": {"c2r1": {"fill": {"kind": "sash", "depth": "60"}}},
            }
        )
    )
    begun = change(data, f"{holder}.section.drawn", "")
    assert solve(read_unit(begun))
    assert len(at(begun, f"{holder}.section")) >= 4
    assert at(change(begun, f"{holder}.section", ""), holder)["section"] is None


def test_a_new_point_lies_in_the_middle_of_its_line_or_arc():
    data = change(START, "frame.section.drawn", "")
    halved = at(change(data, "frame.section.2.halved", ""), "frame.section")
    assert (halved[3]["x"], halved[3]["y"]) == ("25", "0")
    arc = change(change(START, "frame.edge.kind", "round"), "frame.edge.size", "10")
    arc = change(arc, "frame.section.drawn", "")
    before = at(arc, "frame.section")
    index = next(k for k, node in enumerate(before) if node["bulge"])
    after = at(change(arc, f"frame.section.{index}.halved", ""), "frame.section")
    middle = complex(float(after[index + 1]["x"]) - 10, float(after[index + 1]["y"]) + 10)
    assert abs(middle) == pytest.approx(10)
    assert after[index]["bulge"] == after[index + 1]["bulge"] == pytest.approx(-math.tan(math.pi / 16), abs=1e-6)


def test_a_point_is_put_somewhere_else_at_once():
    data = change(START, "frame.section.drawn", "")
    put = at(change(data, "frame.section.1.placed", '1/8"; -3'), "frame.section")[1]
    assert put["x"] == '1/8"'
    assert put["y"] == "-3"
    with pytest.raises(Refusal, match="is no place"):
        change(data, "frame.section.1.placed", "4")
    with pytest.raises(Refusal, match="no entry"):
        change(START, "columns.lights.0.halved", "")


def test_a_free_paths_overall_size_follows_its_nodes_in_its_scale():
    path = change(START, "outline.kind", "path")
    moved = change(path, "outline.nodes.1.placed", "2500 mm; 0 mm")
    assert moved["width"] == "2500"
    scaled = change(path, "width", "4600")
    assert float(change(scaled, "outline.nodes.1.x", "2500")["width"]) == pytest.approx(5000)
    assert change(scaled, "outline.nodes.1.bulge", "0")["width"] == "4600"
