"""The unit page as somebody uses it: lights picked, filled, divided; sides and sections; measuring; the view; the
library.
"""

import io

import pytest
import trimesh
from PIL import Image

from tests.browser.conftest import VENDOR, pixels, until
from tests.browser.test_story import settled, shown_count, type_over, wait_for_view

pytestmark = pytest.mark.browser


def kept(unit):
    unit.refresh_from_db()
    return unit.data


@pytest.mark.in_3d
def test_a_picked_light_becomes_a_sash_that_opens(page, unit):
    page.get_by_role("button", name="Light c2r1", exact=True).click()
    page.get_by_label("Filling", exact=True).select_option("sash")
    page.get_by_label("Opening", exact=True).wait_for()
    settled(page)
    page.get_by_label("Opening", exact=True).select_option("top-hung")
    settled(page)
    assert kept(unit)["cells"]["c2r1"]["fill"]["opening"] == "top-hung"
    assert page.locator("#elevation .symbol").count() == 1
    assert page.locator(".legend").is_visible()
    page.locator(".finding.clean").wait_for()
    seen = shown_count(page)
    closed = page.evaluate("() => document.querySelector('#view canvas').toDataURL().length")
    with page.expect_response(lambda r: "opened=80" in (r.request.post_data or "")) as answer:
        page.locator("#view-open").fill("80")
    wait_for_view(page, seen)
    opened = trimesh.load(io.BytesIO(answer.value.body()), file_type="glb")
    assert opened.bounds[1][2] > 0.8, "the sash stands out of the wall"
    assert page.evaluate("() => document.querySelector('#view canvas').toDataURL().length") != closed
    assert kept(unit)["cells"]["c2r1"]["fill"]["opened"] == 0


def test_the_strips_of_muntins_are_shown_and_typed_in(page, unit):
    page.get_by_role("button", name="Light c2r1", exact=True).click()
    page.get_by_role("button", name="Give this light a filling of its own").click()
    page.get_by_role("button", name="Put muntins on this glass").click()
    settled(page)
    type_over(page, "Lights across", "3", "li[data-entry$='muntins.columns']")
    page.get_by_role("button", name="Show the strips of the muntins").click()
    page.locator("[id='handle-cells.c2r1.fill.muntins.columns.bars.0']").wait_for()
    type_over(page, "Clear width of column 1", "200", "#elevation")
    assert kept(unit)["cells"]["c2r1"]["fill"]["muntins"]["columns"]["lights"][0]["size"] == "200"
    page.get_by_role("slider", name="Mullion 2").focus()
    page.keyboard.press("ArrowRight")
    settled(page)
    assert kept(unit)["cells"]["c2r1"]["fill"]["muntins"]["columns"]["lights"][1]["size"]
    assert page.locator("#elevation path.muntin").count() >= 2


@pytest.mark.in_3d
def test_a_sash_that_cannot_swing_says_why_when_it_is_opened(page, unit):
    page.get_by_role("button", name="Light c2r1", exact=True).click()
    page.get_by_label("Filling", exact=True).select_option("sash")
    page.get_by_label("Clearance of the sash").wait_for()
    settled(page)
    type_over(page, "Clearance of the sash", "1")
    page.locator("#view-open").fill("50")
    page.locator("#message .refusal").filter(has_text="past its closed edge; the clearance is 1 mm").wait_for()


def test_a_light_is_split_its_strip_shown_and_merged_back(page, unit):
    page.get_by_role("button", name="Light c1r1", exact=True).click()
    page.get_by_role("button", name="Split this light one above the other").click()
    page.get_by_label("Clear height of row 2").wait_for()
    settled(page)
    type_over(page, "Clear height of row 1", "400", "#elevation")
    assert kept(unit)["cells"]["c1r1"]["rows"]["lights"][0]["size"] == "400"
    assert page.get_by_role("slider", name="Transom 1").get_attribute("id") == "handle-cells.c1r1.rows.bars.0"
    page.get_by_role("slider", name="Transom 1").focus()
    page.keyboard.press("ArrowUp")
    page.locator("[aria-label='Clear height of row 1'][value='401']").wait_for()
    page.get_by_role("button", name="Look at the whole unit").click()
    page.get_by_label("Clear width of column 4").wait_for()
    page.get_by_role("button", name="Light c2r1", exact=True).click()
    page.get_by_role("button", name="Merge with the light to the right").click()
    page.get_by_role("button", name="Part the merged light again").wait_for()
    settled(page)
    assert kept(unit)["cells"]["c2r1"]["span"] == [2, 1]
    assert page.locator("#elevation path.bar").count() > 0
    page.locator(".finding.clean").wait_for()


def test_without_a_mouse_a_light_is_picked_filled_and_copied(page, unit):
    """Tab reaches the lights of the drawing, Enter picks one, and its sentence takes the filling."""
    keyboard = page.keyboard

    def tab_to(label):
        for _ in range(120):
            keyboard.press("Tab")
            if page.evaluate("() => document.activeElement.getAttribute('aria-label')") == label:
                return
        raise AssertionError(f"{label} is not reached by Tab")

    tab_to("Light c3r1")
    keyboard.press("Enter")
    page.locator("path.pick.chosen[data-light='c3r1']").wait_for()
    page.locator("#list-name").focus()
    tab_to("Filling")
    keyboard.press("p")  # “a panel” does not begin with it: letters choose in a list by what they begin
    page.get_by_label("Filling", exact=True).select_option("panel")
    page.get_by_label("Style of the panel").wait_for()
    settled(page)
    page.locator("#list-name").focus()
    tab_to("Copy to all of lights")
    keyboard.press("Enter")
    page.wait_for_function("() => document.querySelectorAll('#elevation path.panel').length >= 4")
    settled(page)
    assert {cell["fill"]["kind"] for cell in kept(unit)["cells"].values()} == {"panel"}
    keyboard.press("Control+z")
    page.wait_for_function("() => document.querySelectorAll('#elevation path.glass').length >= 3")


def test_inside_and_sections_are_drawn_and_their_numbers_are_inputs(page, unit):
    page.get_by_role("button", name="Inside", exact=True).click()
    page.locator("#elevation[data-mirrored='1']").wait_for()
    first, last = (page.get_by_label(f"Clear width of column {n}").bounding_box()["x"] for n in (1, 4))
    assert first > last
    page.get_by_role("button", name="Cut across").click()
    depth = page.locator("#elevation").get_by_label("Frame depth")
    depth.wait_for()
    assert page.locator("#elevation .drawn path.glass").count() == 4
    type_over(page, "Frame depth", "110", "#elevation")
    assert kept(unit)["frame"]["depth"] == "110"
    page.get_by_role("button", name="Cut up").click()
    page.get_by_label("Where the section is taken").fill("640")
    page.keyboard.press("Enter")
    page.locator("#cut[value='640']").wait_for()
    assert page.locator("#elevation .drawn path.glass").count() == 1


def test_the_line_of_a_section_is_dragged_moved_by_key_and_typed(page, unit):
    page.get_by_role("button", name="Cut across").click()
    line = page.get_by_role("slider", name="Line of the section")
    line.wait_for()
    knob = page.locator("#cut-line circle").first.bounding_box()
    x, y = knob["x"] + knob["width"] / 2, knob["y"] + knob["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y - 20, steps=5)
    page.wait_for_function("() => Number(document.querySelector('#cut').value) > 1000")
    page.mouse.up()
    page.get_by_label("Where the section is taken").fill("9 cm")
    page.keyboard.press("Enter")
    page.locator("#cut[value='90']").wait_for()
    assert page.locator("#elevation .drawn path.bar").count() == 3
    line.focus()
    page.keyboard.press("ArrowUp")
    page.locator("#cut[value='109']").wait_for()
    page.get_by_label("Where the section is taken").fill("half way")
    page.keyboard.press("Enter")
    page.locator("#message", has_text="how far the section is from the sill").wait_for()


def test_centres_and_running_sizes_are_typed_over(page, unit):
    type_over(page, "Distance of centres 1 across", "700", "#elevation")
    assert page.get_by_label("Clear width of column 1").input_value() == "675"
    assert page.locator("#did").inner_text().startswith("Lights across: 4 of 732.5 became 675 ·")
    type_over(page, "Running size of mullion 3", "2400", "#elevation")
    assert page.get_by_label("Running size of mullion 3").input_value() == "2400"
    assert page.locator("#elevation .lines line").count() > 8
    page.locator(".finding.clean").wait_for()


def test_a_section_is_drawn_point_by_point_with_mouse_keys_and_numbers(page, unit):
    page.get_by_role("button", name="Draw a section of its own for the frame").click()
    page.get_by_role("group", name="Section with its points").wait_for()
    settled(page)
    assert len(kept(unit)["frame"]["section"]) == 6
    page.get_by_role("button", name="New point behind point 3").click()
    page.locator("[data-node='frame.section.6']").wait_for()
    settled(page)
    scale = float(page.locator("#points").get_attribute("data-scale"))
    shown = page.evaluate("() => document.querySelector('#points').getScreenCTM().a")
    knob = page.locator("[data-node='frame.section.3'] circle").bounding_box()
    x, y = knob["x"] + knob["width"] / 2, knob["y"] + knob["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + 10 * scale * shown, steps=5)
    page.mouse.up()
    page.locator("[id='y-frame.section.3'][value='-10']").wait_for()
    settled(page)
    assert kept(unit)["frame"]["section"][3] == {"x": "30 mm", "y": "-10 mm", "bulge": 0.0}
    page.locator("[data-node='frame.section.3']").focus()
    page.keyboard.press("Shift+ArrowRight")
    page.locator("[id='x-frame.section.3'][value='40']").wait_for()
    type_over(page, "Bulge behind point 4", "0.2", "#workspace")
    assert kept(unit)["frame"]["section"][3]["bulge"] == 0.2
    page.locator("[data-node='frame.section.3']").focus()
    page.keyboard.press("Shift+ArrowRight")
    page.locator("[id='x-frame.section.3'][value='50']").wait_for()
    page.keyboard.press("Shift+ArrowDown")
    page.locator("[id='y-frame.section.3'][value='-20']").wait_for()
    page.keyboard.press("Shift+ArrowDown")
    page.locator("#message", has_text="leaves no stop 1 mm thick before the glass").wait_for()
    page.locator(".finding.clean").wait_for()
    page.get_by_role("button", name="Drawing").click()
    page.locator("#elevation").wait_for()
    assert page.locator("#elevation path.part.frame").count() > 12
    page.get_by_role("button", name="Go back to worked edges for the frame").click()
    settled(page)
    assert kept(unit)["frame"]["section"] is None


def test_the_nodes_of_a_free_outline_are_moved(page, unit):
    page.get_by_label("Outline", exact=True).select_option("path")
    page.get_by_role("button", name="Draw the nodes of the outline").click()
    page.get_by_role("group", name="Outline with its points").wait_for()
    page.locator("[data-node='outline.nodes.2']").focus()
    page.keyboard.press("Shift+ArrowDown")
    settled(page)
    page.locator("[id='y-outline.nodes.2'][value='1890']").wait_for()
    assert kept(unit)["height"] == "1900"
    page.get_by_role("button", name="New point behind point 3").click()
    page.locator("[data-node='outline.nodes.4']").wait_for()
    settled(page)
    page.keyboard.press("Control+z")
    page.locator("[data-node='outline.nodes.4']").wait_for(state="detached")


def test_an_image_is_laid_under_the_drawing_scaled_and_moved_and_kept(page, unit, tmp_path):
    photo = tmp_path / "site photo.png"
    Image.new("RGB", (800, 400), (200, 190, 170)).save(photo)
    page.locator("#trace").set_input_files(photo)
    page.locator("#traced image").wait_for()
    width = page.get_by_label("Width of the underlay")
    assert width.input_value() == "3200"

    def click(u, v):
        x, y = page.evaluate(
            """([u, v]) => { const s = document.querySelector('#elevation'), d = s.dataset;
            const p = new DOMPoint(Number(d.left) + u * d.scale, Number(d.foot) - v * d.scale)
                .matrixTransform(s.getScreenCTM());
            return [p.x, p.y]; }""",
            [u, v],
        )
        page.mouse.click(x, y)

    page.get_by_role("button", name="Scale", exact=True).click()
    click(400, 300)
    click(2000, 300)
    page.get_by_label("True distance of the two points").fill("800")
    page.keyboard.press("Enter")
    page.wait_for_function("() => Math.abs(document.getElementById('underlay.width').value - 1600) < 12")
    left = float(page.get_by_label("Left of the underlay").input_value())
    assert left == pytest.approx(200, abs=8)
    page.get_by_role("button", name="Move", exact=True).focus()
    page.keyboard.press("Shift+ArrowRight")
    page.wait_for_function("left => document.getElementById('underlay.x').value - left > 9", arg=left)
    type_over(page, "Foot of the underlay", "-50", "#workspace")
    page.reload()
    page.locator("#traced image").wait_for()
    assert page.get_by_label("Foot of the underlay").input_value() == "-50"
    drawn = page.evaluate("() => document.querySelector('#traced image').getBoundingClientRect().width")
    assert drawn == pytest.approx(1600 * float(page.locator("#elevation").get_attribute("data-scale")), rel=0.3)
    page.get_by_role("button", name="Take the underlay away").click()
    page.locator("#traced image").wait_for(state="detached")


def test_columns_are_moved_in_the_list(page, unit):
    type_over(page, "Clear width of column 2", "500", "#elevation")
    page.get_by_role("button", name="Light c2r1", exact=True).click()
    page.get_by_role("button", name="Move column 2 on").click()
    page.locator("[aria-label='Clear width of column 3'][value='500']").wait_for()
    settled(page)
    page.get_by_role("button", name="Remove column 2").click()
    page.get_by_label("Clear width of column 4").wait_for(state="detached")
    assert page.get_by_label("Clear width of column 2").input_value() == "500"


def test_measuring_gives_the_exact_value_between_two_edges(page, unit):
    page.get_by_role("button", name="Measure").click()
    box = page.locator("#elevation").bounding_box()
    shown = page.evaluate(
        "() => { const m = document.querySelector('#elevation').getScreenCTM(); return [m.a, m.e, m.f]; }"
    )
    data = {name: float(page.locator("#elevation").get_attribute(f"data-{name}")) for name in ("scale", "left", "foot")}

    def click(u, v):
        x, y = data["left"] + u * data["scale"], data["foot"] - v * data["scale"]
        page.mouse.click(shown[1] + x * shown[0], shown[2] + y * shown[0])

    assert box["width"] > 300
    click(62, 950)
    page.locator("#measured circle").first.wait_for()
    click(1573, 950)
    page.locator("#measured text", has_text="1515 mm").wait_for()
    page.keyboard.press("Escape")
    assert page.locator("#measured circle").count() == 0


def test_zoom_and_pan_move_the_sheet_and_fit_brings_it_back(page, unit):
    sheet = page.locator("#elevation")
    whole = sheet.get_attribute("viewBox")
    sheet.hover(position={"x": 300, "y": 300})
    page.mouse.wheel(0, -400)
    page.wait_for_function("whole => document.querySelector('#elevation').getAttribute('viewBox') !== whole", arg=whole)
    assert float(sheet.get_attribute("viewBox").split()[2]) < float(whole.split()[2])
    page.get_by_role("button", name="Fit").click()
    assert [float(v) for v in sheet.get_attribute("viewBox").split()] == [float(v) for v in whole.split()]


@pytest.mark.in_3d
def test_lines_explode_and_cut_change_the_view(page, unit):
    shaded = pixels(page, "#view canvas")
    page.get_by_role("button", name="Lines").click()
    until(page, lambda: pixels(page, "#view canvas")["colours"] != shaded["colours"])
    lines = pixels(page, "#view canvas")
    page.locator("#view-explode").fill("60")
    until(page, lambda: pixels(page, "#view canvas")["drawn"] != lines["drawn"])
    exploded = pixels(page, "#view canvas")
    page.locator("#view-cut").fill("60")
    until(page, lambda: pixels(page, "#view canvas")["drawn"] < exploded["drawn"])


@pytest.mark.in_3d
def test_a_part_picked_in_the_view_says_its_size_and_place(page, unit):
    page.locator("#view canvas").click(position={"x": 160, "y": 280})
    page.wait_for_function("() => document.getElementById('picked').textContent.includes('mm')")
    text = page.locator("#picked").inner_text()
    assert "×" in text
    assert text.split(" ")[0].split(".")[0] in ("glass", "bead", "mullion", "frame", "gasket")


def test_the_library_finds_starts_and_names(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/units/")
    page.get_by_label("Search by name, size or tag").fill("leaded")
    page.wait_for_function("() => document.querySelectorAll('.card-of').length === 2")
    page.get_by_label("Name", exact=True).fill("Harbour office slider")
    page.get_by_role("button", name="Vertical slider two sashes").click()
    page.locator("#elevation").wait_for()
    assert page.locator("#elevation .symbol.slides").count() == 1
    page.get_by_role("link", name="History").click()
    page.get_by_placeholder("name it").fill("As sent")
    page.get_by_role("button", name="Keep name").click()
    page.locator("input[value='As sent']").wait_for()
    assert project.units.get(key="harbour-office-slider").revisions.get().label == "As sent"


@pytest.mark.parametrize(
    "address",
    [
        "units/",
        "units/compare/",
        "units/bar-window/",
        "units/round-window/",
        "units/bar-window/history/",
        "units/bar-window/sizes/",
        "units/bar-window/outline/",
    ],
)
def test_axe_finds_no_violation_on_the_unit_and_library_pages(page, sign_in, project, address):
    sign_in()
    page.goto(f"/projects/{project.pk}/{address}")
    page.wait_for_load_state("networkidle")
    page.evaluate(VENDOR.joinpath("axe.js").read_text())
    found = page.evaluate(
        "async () => (await axe.run({ runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'] })).violations"
    )
    assert [(v["id"], [node["html"][:120] for node in v["nodes"][:3]]) for v in found] == []


@pytest.mark.parametrize("key", ["bar-window", "round-window", "lookout-window", "gallery-window"])
def test_every_unit_fits_a_window_of_1280_by_800_without_scrolling(page, sign_in, project, key):
    sign_in()
    page.goto(f"/projects/{project.pk}/units/{key}/")
    wait_for_view(page)
    assert page.evaluate("() => [document.documentElement.scrollWidth, document.documentElement.scrollHeight]") == [
        1280,
        800,
    ]
    for part in (".list", "#elevation", "#view canvas", ".strip .box"):
        box = page.locator(part).first.bounding_box()
        assert box["width"] > 4
        assert 0 <= box["y"] < 800


def test_the_drawing_is_panned_only_while_the_button_is_down(page, unit):
    def shown():
        return [float(number) for number in page.locator("#elevation").get_attribute("viewBox").split()]

    whole = shown()
    page.locator("#zoom-in").click()
    near = shown()
    assert near[2] == pytest.approx(whole[2] / 1.25)
    box = page.locator("#elevation").bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down(button="middle")
    page.mouse.move(x + 40, y + 30, steps=4)
    page.mouse.up(button="middle")
    moved = shown()
    scale = near[2] / box["width"]
    assert moved[:2] == pytest.approx([near[0] - 40 * scale, near[1] - 30 * scale], abs=2)
    page.mouse.move(x - 60, y, steps=3)
    assert shown() == moved
    page.keyboard.press("0")
    assert shown() == whole
