"""The unit core: what is built, what is refused, and that typed sizes come out exactly."""

from fractions import Fraction as F

import numpy as np
import pytest

from ashfell.core.audit.solids import audit_overlaps, audit_solids
from ashfell.core.base.document import dump
from ashfell.core.base.refusal import Refusal
from ashfell.core.surface import surface
from ashfell.core.unit import build, read_unit, solve
from ashfell.core.unit.edit.change import change

SQUARE_BEAD = {"bead": {"edge": {"kind": "square"}}}
FOUR_BY_TWO = {
    "name": "Four by two",
    "width": "2300",
    "height": "1600",
    "frame": {"face": "50", "depth": "90"},
    "columns": {"lights": [{}] * 4, "bars": ["50"] * 3},
    "rows": {"lights": [{}] * 2, "bars": ["50"]},
}


def part_of(parts, key):
    return next(part for part in parts if part.id == key)


def test_every_part_has_role_finish_grain_entry_and_is_closed_and_outward():
    parts = build(read_unit(FOUR_BY_TWO))
    assert {part.role for part in parts} == {"frame", "bar", "glass", "gasket", "bead"}
    assert len({part.id for part in parts}) == len(parts) == 4 + 3 + 4 + 8 + 16 + 32
    assert not list(audit_solids(parts))
    assert not list(audit_overlaps(parts))
    assert all(abs(np.linalg.norm(part.grain) - 1) < 1e-12 for part in parts)


def test_members_know_their_own_grain():
    parts = build(read_unit(FOUR_BY_TWO))
    assert part_of(parts, "frame.head").grain == part_of(parts, "transom.1.c1").grain == (1.0, 0.0, 0.0)
    assert part_of(parts, "frame.left").grain == part_of(parts, "mullion.2").grain == (0.0, 1.0, 0.0)


def test_texture_coordinates_are_metres_along_the_grain():
    jamb = part_of(build(read_unit(FOUR_BY_TWO)), "frame.left")
    shown = surface(jamb)
    long_faces = np.abs(shown.normals[:, 1]) < 0.05
    along = shown.texture[long_faces, 0]
    assert np.ptp(along) == pytest.approx(1.6, abs=1e-9)


def test_glass_sits_in_the_rebate_and_not_through_it():
    document = read_unit(FOUR_BY_TWO | {"glazing": {"cover": "12", "clearance": "3"}})
    layout = solve(document)
    light, glass = layout.lights[0], part_of(build(document), "glass.c1r1")
    low, high = glass.solid.bounds
    assert low[0] == float(light.clear.x - 12)
    assert high[0] == float(light.clear.right + 12)
    assert high[2] == -24
    assert low[2] == -48


def test_mullions_run_through_or_transoms_do():
    parts = build(read_unit(FOUR_BY_TWO))
    assert part_of(parts, "mullion.1").solid.bounds[:, 1] == pytest.approx([50 - 15, 1550 + 15])
    turned = build(read_unit(FOUR_BY_TWO | {"bars": {"through": "rows"}}))
    assert part_of(turned, "transom.1").solid.bounds[:, 0] == pytest.approx([50 - 15, 2250 + 15])
    assert not list(audit_overlaps(turned))


def test_chamfer_is_as_far_in_as_it_goes_back():
    document = read_unit(FOUR_BY_TWO | {"frame": {"face": "50", "depth": "90", "edge": {"size": "3"}}})
    sill = part_of(build(document), "frame.sill").solid.vertices
    front, side = sill[sill[:, 2] == 0.0], sill[sill[:, 1] == 0.0]
    assert front[:, 1].min() == 3
    assert front[:, 1].max() == 47
    assert side[:, 2].max() == -3


def test_a_square_edge_needs_no_chamfer():
    edge = {"edge": {"kind": "square"}}
    square = {"frame": edge, "bars": edge, "glazing": {"bead": edge}}
    parts = build(read_unit(FOUR_BY_TWO | square))
    assert not [*audit_solids(parts), *audit_overlaps(parts)]


def test_resolved_for_another_size_only_glass_and_shares_change():
    narrow, wide = (solve(read_unit(FOUR_BY_TWO | {"width": width})) for width in ("2300", "3100"))
    assert [bar.size for bar in narrow.columns.bars] == [bar.size for bar in wide.columns.bars]
    assert narrow.columns.pieces[0].size == wide.columns.pieces[0].size
    assert wide.columns.lights[0].size - narrow.columns.lights[0].size == F(800, 4)


@pytest.mark.parametrize(
    ("entries", "entry", "words"),
    [
        ({"width": "-5"}, "width", "cannot be built"),
        ({"width": ""}, "width", "missing"),
        ({"width": "5 bananas"}, "width", "not a unit"),
        ({"width": "12 ells"}, "width", "not a unit"),
        ({"width": "200"}, "width", "at least"),
        ({"width": "99999999999"}, "width", "10 km"),
        ({"frame": {"face": "10"}}, "frame.face", "Make it at least 19 mm"),
        ({"frame": {"depth": "40"}}, "frame.depth", "at least 55 mm deep"),
        ({"frame": {"edge": {"size": "40"}}}, "frame.edge.size", "must stay below 25 mm"),
        ({"frame": {"face": "20", "edge": {"size": "5"}}}, "frame.edge.size", "must stay below 5 mm"),
        ({"frame": {"edge": {"size": "22"}}}, "glazing.setback", "Set the glass back"),
        ({"glazing": {"setback": "5"}}, "glazing.setback", "at least 7 mm"),
        (
            {"columns": {"lights": [{}] * 4, "bars": ["50", "6", "50"]}, "glazing": SQUARE_BEAD},
            "columns.bars.1.face",
            "two rebates of 1.5 mm",
        ),
        ({"columns": {"lights": [{}] * 4, "bars": ["50"]}}, "columns", "4 lights need 3 bars"),
        ({"colums": {}}, "colums", "no entry"),
        ({"bars": {"depth": "20"}}, "bars.depth", "hold no bead"),
    ],
)
def test_refusals_name_entry_numbers_and_remedy(entries, entry, words):
    with pytest.raises(Refusal) as caught:
        solve(read_unit(FOUR_BY_TWO | entries))
    assert caught.value.entry == entry
    assert words in str(caught.value)


def test_the_nearest_value_of_a_refusal_works():
    for entries in (
        {"frame": {"face": "10"}},
        {"frame": {"depth": "40"}},
        {"glazing": {"setback": "5"}},
        {"width": "200"},
    ):
        data = dump(read_unit(FOUR_BY_TWO | entries))
        with pytest.raises(Refusal) as caught:
            solve(read_unit(data))
        mended = change(data, caught.value.entry, str(float(caught.value.nearest)))
        solve(read_unit(mended))


def test_same_document_same_bytes():
    first, second = (build(read_unit(FOUR_BY_TWO)) for _ in range(2))
    assert all(a.solid.vertices.tobytes() == b.solid.vertices.tobytes() for a, b in zip(first, second, strict=True))


def test_document_reads_back_as_it_was_typed():
    typed = FOUR_BY_TWO | {"width": "7' 6 1/2\"", "height": 1600.5}
    assert dump(read_unit(dump(read_unit(typed))))["width"] == "7' 6 1/2\""
