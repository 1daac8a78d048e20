"""Sections through units as they stand: told by what the document types, and by shapely."""

import io
import zipfile
from xml.etree import ElementTree

import ezdxf
import numpy as np
import pytest
from pypdf import PdfReader
from shapely.geometry import Polygon
from shapely.ops import unary_union

from ashfell.core.base.lengths import Style
from ashfell.core.base.refusal import Refusal
from ashfell.core.drawing.drafts import plan_drafts, wall_draft
from ashfell.core.drawing.sections import BEYOND, section_drafts
from ashfell.formats.dxf import write_dxf
from ashfell.formats.pdf import write_pdf
from ashfell.formats.pdf_sheets import section_pages
from ashfell.formats.svg_drafts import write_svg
from ashfell.services.handover import FORMATS, of_site
from ashfell.services.handover.format import chosen
from tests.formats.building import SITE, scene

SVG = "{http://www.w3.org/2000/svg}"


@pytest.fixture(scope="module")
def built():
    return scene()


@pytest.fixture(scope="module")
def drafts(built):
    return {draft.title: draft for draft in section_drafts(built, Style())}


def areas(draft, layer):
    return [Polygon(path.points, path.holes) for path in draft.paths if path.layer == layer]


def test_what_stands_alike_is_cut_once(drafts):
    """A door and its mirror image are. A second window of a kind at one sill adds nothing; one with another does."""
    named = [title.partition(", section through ")[::2] for title in drafts]
    assert [mark for wall, mark in named if wall == "River front"] == ["W1", "D1", "a1"]
    assert {wall for wall, _ in named} == {"River front", "Wall", "Roof"}
    longer = [wall | {"length": "14 m"} if wall["id"] == "front" else wall for wall in SITE["walls"]]
    for sill, more in (("900", 0), ("1100", 1)):
        window = SITE["placements"][0] | {"id": "w2", "offset": "9 m", "sill": sill, "mark": "W2"}
        again = scene(walls=longer, placements=[*SITE["placements"], window])
        assert len(section_drafts(again, Style())) == len(drafts) + more


def test_the_wall_is_cut_below_and_above_its_window(drafts):
    """A sill of 900, an opening of 1,200 and what is left of 2,800; leaves of 300 less a cavity of 50."""
    draft = drafts["River front, section through W1"]
    wall = unary_union([one for one in areas(draft, "wall") if one.bounds[0] > -1 and one.bounds[2] < 301])
    below, above = (
        wall.intersection(Polygon([(0, a), (300, a), (300, b), (0, b)])) for a, b in ((0, 900), (2100, 2800))
    )
    assert below.area == pytest.approx(250 * 900)
    assert above.area == pytest.approx(250 * 700)
    assert wall.intersection(Polygon([(0, 901), (300, 901), (300, 2099), (0, 2099)])).area == pytest.approx(0, abs=1)
    texts = [size.text for size in draft.sizes]
    assert texts[:4] == ["900", "1200", "700", "2800"]
    thick = [size for size in draft.sizes if size.start[1] == size.end[1]]
    assert sum(size.length for size in thick if size.text != "300") == pytest.approx(300)


def test_a_unit_is_cut_through_its_glass(drafts):
    """The middle of the window is in a light: from the frame's foot to its head glass is cut, less two faces of 50."""
    glass = unary_union(
        [one for one in areas(drafts["River front, section through W1"], "glass") if one.bounds[1] < 2100]
    )
    low, high = glass.bounds[1] - 900, glass.bounds[3] - 900
    assert 30 < low < 50
    assert 1150 < high < 1170
    assert any(path.hatched for path in drafts["River front, section through W1"].paths)


def test_slabs_show_beside_the_wall_no_further_than_is_looked_at(drafts):
    draft = drafts["River front, section through W1"]
    everything = np.concatenate([path.points for path in draft.paths])
    assert everything[:, 0].min() >= -BEYOND - 1e-6
    assert everything[:, 0].max() <= 300 + BEYOND + 1e-6
    floor = [one for one in areas(draft, "wall") if one.bounds[3] < 1e-6]
    assert any(one.bounds[1] == pytest.approx(-200) for one in floor)


def test_a_roof_is_cut_up_its_slope(drafts):
    """35 degrees: the longest edge of what is cut rises by its tangent."""
    draft = drafts["Roof, section through r1"]
    slopes = []
    for one in areas(draft, "wall"):
        x, y = np.diff(np.array(one.exterior.coords), axis=0).T
        k = int(np.argmax(np.hypot(x, y)))
        slopes.append(abs(y[k] / x[k]))
    assert any(slope == pytest.approx(np.tan(np.radians(35)), rel=1e-6) for slope in slopes)


def test_a_selection_is_cut_alone(built):
    assert {draft.title for draft in section_drafts(built, Style(), {"slope"}.__contains__)} == {
        "Roof, section through r1"
    }


def test_sections_are_written_and_read_back(built, drafts):
    drawing = ezdxf.read(io.StringIO(write_dxf([*drafts.values()]).decode()))
    assert drawing.audit().errors == []
    assert len([one for one in drawing.modelspace() if one.dxftype() == "HATCH"]) > len(drafts)
    pages = section_pages(built, Style())
    read = PdfReader(io.BytesIO(write_pdf("Ferry hut", pages)))
    text = " ".join(page.extract_text() for page in read.pages).replace("\n", " ")
    for title in drafts:
        assert title in text
    assert sum(len(page.shown) for page in pages) == len(drafts)


# --- SVG


def numbers(svg):
    return [float(one) for one in svg.get("viewBox").split()]


def test_svg_is_as_large_as_what_it_shows(built):
    """Width and viewBox agree, so that a user unit is a millimetre; the wall in it is 8,000 by 2,800."""
    root = ElementTree.fromstring(write_svg(wall_draft(built, Style(), "front")))
    left, top, wide, high = numbers(root)
    assert root.get("width") == f"{wide:.4f}mm"
    assert root.get("height") == f"{high:.4f}mm"
    (wall,) = [group for group in root.iter(f"{SVG}g") if group.get("class") == "WALL"]
    path = wall.find(f"{SVG}path").get("d")
    points = np.array([[float(one) for one in pair.split(",")] for pair in path.strip("MZ").split()])
    assert tuple(np.ptp(points, axis=0)) == pytest.approx((8000, 2800))
    assert points[:, 0].min() > left
    assert points[:, 1].min() > top


def test_svg_uses_a_unit_where_it_stands(built):
    draft = wall_draft(built, Style(), "front")
    root = ElementTree.fromstring(write_svg(draft))
    uses = [*root.iter(f"{SVG}use")]
    assert len(uses) == len(draft.uses) == 4
    defined = {group.get("id") for group in root.find(f"{SVG}defs").iter(f"{SVG}g")}
    assert {use.get("href")[1:] for use in uses} <= defined
    assert len([use for use in uses if "scale(-1 1)" in use.get("transform")]) == sum(use.over for use in draft.uses)


def test_svg_says_all_dimensions(built):
    draft = plan_drafts(built, Style())["ground"]
    root = ElementTree.fromstring(write_svg(draft))
    told = [node.text for node in root.iter(f"{SVG}text")]
    assert sorted(told) == sorted([size.text for size in draft.sizes] + [word.text for word in draft.words])


def test_a_name_with_marks_of_xml_is_only_a_name():
    named = SITE["units"]["window"] | {"name": 'A<b> & "c"'}
    draft = wall_draft(scene(units=SITE["units"] | {"window": named}), Style(), "front")
    ElementTree.fromstring(write_svg(draft))


@pytest.mark.parametrize(("key", "option"), [("svg-drawings", "drawn"), ("dxf", "drawn"), ("pdf", "sheets")])
def test_sections_of_what_has_none_are_refused_and_of_one_unit_are_one(key, option):
    """A wall alone, then one with an opening in it, then with a window there: as the refusal says, a unit placed."""
    kind, wall = FORMATS[key], {"id": "a", "length": "4 m", "height": "2700"}
    empty = {"id": "o", "wall": "a", "offset": "1 m", "width": "900", "height": "1200", "sill": "900"}
    for placements in ([], [empty]):
        with pytest.raises(Refusal, match="no sections through units") as refusal:
            kind.write(of_site({"walls": [wall], "placements": placements}), chosen(kind, {option: "sections"}))
        assert refusal.value.entry == option
        assert refusal.value.remedy.endswith("place a unit first.")
    placed = {"walls": [wall], "units": SITE["units"], "placements": [SITE["placements"][0] | {"wall": "a"}]}
    assert kind.write(of_site(placed), chosen(kind, {option: "sections"}))


def test_drawings_come_as_a_file_each():
    kind = FORMATS["svg-drawings"]
    content = kind.write(of_site(SITE), chosen(kind, {}))
    assert content == kind.write(of_site(SITE), chosen(kind, {}))
    with zipfile.ZipFile(io.BytesIO(content)) as held:
        names = held.namelist()
        assert all(ElementTree.fromstring(held.read(name)).tag == f"{SVG}svg" for name in names)
    assert names[0] == "001-ground.svg"
    assert any("section-through-w1" in name for name in names)
    plans = kind.write(of_site(SITE), chosen(kind, {"drawn": "plans"}))
    with zipfile.ZipFile(io.BytesIO(plans)) as held:
        assert held.namelist() == ["001-ground.svg", "002-loft.svg"]
