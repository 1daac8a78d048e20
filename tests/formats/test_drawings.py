"""DXF and PDF read back by libraries that are not ours: true sizes, layers, blocks, dimensions, fonts, scales."""

import io
import itertools
import re

import ezdxf
import numpy as np
import pytest
from ezdxf import bbox
from pypdf import PdfReader

from ashfell.core.base.lengths import STYLES, Style
from ashfell.core.base.refusal import Refusal
from ashfell.core.drawing.drafts import plan_drafts, unit_draft, wall_draft
from ashfell.core.drawing.shaded import Extras
from ashfell.core.finish import LIBRARY
from ashfell.core.unit.document.unit import read_unit
from ashfell.core.unit.make import made
from ashfell.formats.dxf import write_dxf
from ashfell.formats.pdf import PAPERS, SCALES, Page, scale_for, write_pdf
from ashfell.formats.pdf_sheets import drawing_page, picture_pages, schedule_pages, site_pages, unit_page
from tests.formats.building import SITE, scene


@pytest.fixture(scope="module")
def built():
    return scene()


@pytest.fixture(scope="module")
def unit():
    return made(read_unit(SITE["units"]["window"]))


def read_dxf(content):
    return ezdxf.read(io.StringIO(content.decode()))


# --- what is drawn


@pytest.mark.parametrize("view", ["outside", "inside"])
def test_an_elevation_shows_each_place_once(unit, view):
    """What is seen covers the unit's face once: its pieces add up to width by height."""
    draft = unit_draft(unit, Style(), view)
    area = sum(_area(path.points) - sum(_area(hole) for hole in path.holes) for path in draft.paths if path.closed)
    assert area == pytest.approx(1500 * 1200, rel=1e-6)


def _area(points):
    x, y = np.asarray(points).T
    return abs(float(x @ np.roll(y, -1) - y @ np.roll(x, -1))) / 2


def test_dimensions_close(unit):
    """The pieces across add up to the overall width, as typed above."""
    sizes = [size for size in unit_draft(unit, Style()).sizes if size.start[1] == size.end[1]]
    overall = [size for size in sizes if size.text == "1500"]
    assert len(overall) == 1
    assert sum(size.length for size in sizes if size is not overall[0]) == pytest.approx(1500)
    assert [size.text for size in sizes if size is not overall[0]] == ["50", "480", "60", "480", "80", "300", "50"]


def test_the_plan_of_a_storey_shows_what_stands_there(built):
    plans = plan_drafts(built, Style())
    assert [draft.title for draft in plans.values()] == ["Ground", "Loft"]
    ground, loft = ({word.text for word in plan.words} for plan in plans.values())
    assert {"W1", "D1", "D2"} <= ground
    assert "t1" in loft
    assert not ground & loft
    chain = [size.text for size in plans["ground"].sizes]
    assert {"500", "1500", "600", "1000", "8000"} <= set(chain)


def test_the_plan_of_a_selection_shows_that_alone(built):
    """The front is 8 m long on the ground; nothing of it stands in the loft, nor does a sheet for that."""
    plans = plan_drafts(built, Style(), {"front"}.__contains__)
    assert [*plans] == ["ground"]
    whole = plan_drafts(built, Style())["ground"]
    assert {word.text for word in plans["ground"].words} < {word.text for word in whole.words}
    walls = np.concatenate([path.points for path in plans["ground"].paths if path.layer == "wall"])
    assert np.ptp(walls[:, 0]) == pytest.approx(8000)
    assert 0 < np.ptp(walls[:, 1]) < 500
    assert len(site_pages(built, Style(), shows={"front"}.__contains__)) == 2
    of_storey = site_pages(built, Style(), storey="ground", shows={"front"}.__contains__)
    assert len(of_storey[0].shown[0].draft.paths) == len(whole.paths)


def test_a_wall_draws_a_unit_once_and_uses_it(built):
    draft = wall_draft(built, Style(), "front")
    assert len(draft.uses) == 4
    assert len(draft.used) == 3
    assert {use.over for use in draft.uses} == {True, False}
    at = {use.at for use in draft.uses}
    assert (500.0, 900.0) in at
    assert {size.text for size in draft.sizes} >= {"500", "1500", "8000", "2800"}


# --- DXF


@pytest.mark.parametrize(("measure", "per"), [("mm", 1.0), ("in", 25.4)])
def test_dxf_is_at_true_scale(built, measure, per):
    drawing = read_dxf(write_dxf([wall_draft(built, Style(), "front")], measure))
    assert drawing.audit().errors == []
    assert drawing.units == (ezdxf.units.MM if measure == "mm" else ezdxf.units.IN)
    walls = [one for one in drawing.modelspace() if one.dxf.layer == "WALL"]
    (wall,) = walls
    box = bbox.extents([wall])
    assert (box.size.x * per, box.size.y * per) == pytest.approx((8000, 2800), abs=1e-3)
    openings = [bbox.extents([one]).size for one in drawing.modelspace() if one.dxf.layer == "OPENING"]
    assert any((one.x * per, one.y * per) == pytest.approx((1500, 1200), abs=1e-3) for one in openings)


def test_dxf_dimensions_measure_what_they_say(built):
    drawing = read_dxf(write_dxf([wall_draft(built, Style(), "front"), *plan_drafts(built, Style()).values()]))
    found = [one for one in drawing.modelspace() if one.dxftype() == "DIMENSION"]
    assert len(found) > 20
    for one in found:
        assert one.dxf.layer == "DIMENSION"
        assert one.get_measurement() == pytest.approx(float(one.dxf.text), abs=0.01)


def test_dxf_units_are_blocks(built):
    drawing = read_dxf(write_dxf([wall_draft(built, Style(), "front")]))
    inserts = [one for one in drawing.modelspace() if one.dxftype() == "INSERT"]
    assert len(inserts) == 4
    doors = [one for one in inserts if "DOOR" in one.dxf.name]
    assert len({one.dxf.name for one in doors}) == 1
    assert sorted(one.dxf.xscale for one in doors) == [-1, 1]
    layers = {one.dxf.layer for one in drawing.blocks[doors[0].dxf.name]}
    assert "OPENING-SYMBOL" in layers
    assert any(layer.startswith("UNIT-") for layer in layers)


def test_dxf_walls_are_hatched_where_they_are_cut(built):
    drawing = read_dxf(write_dxf([plan_drafts(built, Style())["ground"]]))
    hatches = [one for one in drawing.modelspace() if one.dxftype() == "HATCH"]
    walls = [one for one in drawing.modelspace() if one.dxf.layer == "WALL"]
    assert len(hatches) == len(walls) > 5
    assert all(one.dxf.pattern_name == "ANSI31" for one in hatches)


def test_dxf_shadows_are_fills_that_one_sees_through_and_streaks_are_lines(built):
    drawing = read_dxf(write_dxf([wall_draft(built, Style(), "front", extras=Extras(streaks=True, shadows=True))]))
    assert drawing.audit().errors == []
    inside = [one for block in drawing.blocks if block.name.startswith("UNIT") for one in block]
    fills = [one for one in inside if one.dxftype() == "HATCH"]
    assert len(fills) > 10
    assert {one.dxf.layer for one in fills} == {"SHADOW"}
    assert all(one.dxf.solid_fill == 1 and 0 < one.transparency < 1 for one in fills)
    lines = [one for one in inside if one.dxf.layer == "GLASS-STREAK"]
    assert len(lines) >= 3
    for one in lines:
        (ax, ay), (bx, by) = one.get_points("xy")
        assert abs(bx - ax) == pytest.approx(abs(by - ay), abs=1e-5)


def test_dxf_is_the_same_each_time(built):
    drafts = [wall_draft(built, Style(), "front")]
    assert write_dxf(drafts) == write_dxf([wall_draft(scene(), Style(), "front")])
    assert read_dxf(write_dxf([])).audit().errors == []


def test_words_with_codes_in_them_stay_words():
    unit = made(read_unit(SITE["units"]["window"] | {"name": "50%%c ^I \\P 漢"}))
    drawing = read_dxf(write_dxf([unit_draft(unit, Style())]))
    texts = [one.dxf.text for one in drawing.modelspace() if one.dxftype() == "TEXT"]
    assert not any("%%" in text or "\\" in text or "^" in text for text in texts)


# --- PDF


def pages_of(content):
    return PdfReader(io.BytesIO(content)).pages


def test_a_sheet_has_its_paper_and_says_its_scale(unit):
    for paper, (width, height) in PAPERS.items():
        (page,) = pages_of(write_pdf("Hut", [unit_page(unit, Style(), LIBRARY, paper)]))
        assert (float(page.mediabox.width), float(page.mediabox.height)) == pytest.approx(
            (width * 72 / 25.4, height * 72 / 25.4), abs=0.01
        )
        text = page.extract_text()
        assert "Hut window" in text
        assert re.search(r"1 : \d+", text)


def test_a_drawing_measures_right_on_paper(built):
    """At 1 : 50 a wall of 8000 by 2800 mm is 160 by 56 mm of paper: as a rectangle in the file, whose numbers are
    millimetres."""
    content = write_pdf("Hut", [drawing_page(wall_draft(built, Style(), "front"), "A3", 50)])
    (page,) = pages_of(content)
    numbers = re.findall(rb"([\d.]+) ([\d.]+) ([ml])\b", page.get_contents().get_data())
    rings, now = [], []
    for x, y, way in numbers:
        if way == b"m":
            rings.append(now := [])
        now.append((float(x), float(y)))
    sizes = [tuple(np.round(np.ptp(np.array(ring), axis=0), 2)) for ring in rings if len(ring) >= 4]
    assert (160.0, 56.0) in sizes
    assert (30.0, 24.0) in sizes


def test_the_bar_of_the_scale_measures_right(built):
    """Five pieces of a round length each: at 1 : 50 of 500 mm, which are 10 mm of paper."""
    (page,) = pages_of(write_pdf("Hut", [drawing_page(wall_draft(built, Style(), "front"), "A3", 50)]))
    boxes = re.findall(rb"n ([\d.]+) ([\d.]+) ([\d.]+) ([\d.]+) re", page.get_contents().get_data())
    pieces = [float(width) for _, _, width, height in boxes if float(height) == 1.2]
    assert pieces == [10.0] * 5
    assert "2.5" in page.extract_text()


@pytest.mark.parametrize("count", [3, 9, 40])
def test_numbers_of_a_dense_chain_keep_clear_of_each_other_on_paper(count):
    """The numbers of the lights of a unit, told apart by what they say, as an independent reader finds them."""
    grid = {"lights": [{}] * count, "bars": ["11"] * (count - 1)}
    dense = made(read_unit({"width": "3001", "height": "2 m", "columns": grid}))
    clear = f"{(3001 - 100 - 11 * (count - 1)) / count:.2f}".rstrip("0").rstrip(".")
    found = []
    pages_of(write_pdf("Hut", [unit_page(dense, Style(), LIBRARY)]))[0].extract_text(
        visitor_text=lambda text, at, *_: found.append(at) if text.strip() == clear else None
    )
    places = sorted({(round(at[5], 1), round(at[4], 1)) for at in found if abs(at[1]) < 1e-6})
    assert 6 <= len(places) <= 3 * count  # from outside, from inside, and cut
    for (level, before), (other, after) in itertools.pairwise(places):
        if level == other:
            assert after - before > len(clear) * 0.4 * 2.2 * 72 / 25.4


def test_fonts_are_embedded(unit):
    reader = PdfReader(io.BytesIO(write_pdf("Hut", [unit_page(unit, Style(), LIBRARY)])))
    fonts = reader.pages[0]["/Resources"]["/Font"]
    embedded = [font.get_object().get("/FontDescriptor") for font in fonts.values()]
    named = [one.get_object() for one in embedded if one is not None]
    assert len(named) >= 2
    assert all("/FontFile2" in one and "Barlow" in one["/FontName"] for one in named)


def test_the_same_document_is_the_same_pdf(built, unit):
    for make in (lambda: [unit_page(unit, Style(), LIBRARY)], lambda: schedule_pages(scene(), Style())):
        assert write_pdf("Hut", make()) == write_pdf("Hut", make())


def test_a_site_has_a_sheet_for_each_plan_and_wall(built):
    pages = site_pages(built, Style())
    assert [page.title for page in pages] == ["Ground", "Loft", "River front", *[page.title for page in pages[3:]]]
    assert len(pages) == 2 + sum(bool(one.parts and one.openings) for one in built.standing.values())
    loft = site_pages(built, Style(), storey="loft", shows=lambda key: key in {"above", "t1"})
    assert [page.title for page in loft] == ["Loft", built.standing["above"].host.name]


def test_the_schedule_tells_each_unit_with_its_marks(built):
    text = " ".join(page.extract_text() for page in pages_of(write_pdf("Hut", schedule_pages(built, Style()))))
    for words in ("Hut window", "1500 × 1200", "W1", "D1, D2", "1000 × 2100"):
        assert words in text
    inches = schedule_pages(built, STYLES["in"])
    assert any('59 1/16"' in cell for row in inches[0].tables[0].rows for cell in row)


def test_a_schedule_goes_on_to_the_next_sheet():
    many = [
        {"id": f"p{n}", "wall": "front", "unit": f"u{n}", "offset": f"{200 + 380 * n}", "sill": "500"}
        for n in range(20)
    ]
    units = {f"u{n}": {"width": "300", "height": f"{400 + n}", "name": f"Slot {n}"} for n in range(20)}
    pages = schedule_pages(scene(placements=many, units=units), Style(), "A3")
    assert len(pages) == 2
    assert sum(len(page.tables[0].rows) - 1 for page in pages) == 20


def test_a_scale_without_room_is_refused_with_one_that_has(unit):
    with pytest.raises(Refusal) as refusal:
        unit_page(unit, Style(), LIBRARY, "A4", 5)
    fitting = float(re.search(r"1 : (\d+)", refusal.value.remedy)[1])
    assert unit_page(unit, Style(), LIBRARY, "A4", fitting).shown[0].per == fitting
    with pytest.raises(Refusal):
        unit_page(unit, Style(), LIBRARY, "A4", max(one for one in SCALES if one < fitting))


def test_usual_scales_are_the_largest_that_have_room():
    assert scale_for((0, 0, 1000, 500), (100, 100)) == 10
    assert scale_for((0, 0, 1001, 500), (100, 100)) == 20
    assert scale_for((0, 0, 5_000_000, 1), (100, 100)) == 50_000


def test_pictures_stand_on_sheets():
    held = io.BytesIO()
    from PIL import Image

    Image.new("RGB", (64, 40), (180, 70, 30)).save(held, "PNG")
    (page,) = pages_of(write_pdf("Hut", picture_pages([("River side", held.getvalue())])))
    (image,) = page.images
    assert image.image.size == (64, 40)
    assert "River side" in page.extract_text()


def test_no_pages_is_an_empty_sheet_that_can_be_opened():
    assert len(pages_of(write_pdf("Hut", [Page(PAPERS["A4"], "Nothing")]))) == 1
