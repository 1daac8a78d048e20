"""Reading the drawing: nearer without larger numbers, lengths in another unit, what was typed, and room for it."""

import pytest

from tests.browser.test_story import settled, type_over

pytestmark = pytest.mark.browser


def box(page, selector):
    return page.locator(selector).first.bounding_box()


def test_coming_nearer_enlarges_the_drawing_and_not_its_numbers(page, unit):
    light, figure, lock = "#elevation .strip .light", "#sheet-width", "#elevation .lock"
    before = [box(page, one) for one in (light, figure, lock)]
    centre = before[1]["x"] + before[1]["width"] / 2, before[1]["y"] + before[1]["height"] / 2
    page.mouse.move(*centre)
    for _ in range(6):
        page.mouse.wheel(0, -100)
    page.wait_for_function("document.querySelector('#elevation').style.getPropertyValue('--nearer') > 1.9")
    after = [box(page, one) for one in (light, figure, lock)]
    assert after[0]["width"] > 1.9 * before[0]["width"]
    assert after[1]["width"] == pytest.approx(before[1]["width"], rel=0.02)
    assert after[2]["height"] == pytest.approx(before[2]["height"], rel=0.02)
    assert after[1]["x"] + after[1]["width"] / 2 == pytest.approx(centre[0], abs=3)
    line = "getComputedStyle(document.querySelector('#elevation .lines line')).vectorEffect"
    assert page.evaluate(line) == "non-scaling-stroke"
    page.keyboard.press("0")
    assert box(page, light)["width"] == pytest.approx(before[0]["width"], rel=0.01)


def test_lengths_are_shown_in_another_unit_and_stay_so(page, unit):
    with page.expect_navigation():
        page.get_by_label("Lengths are shown in").select_option("in")
    width = page.locator("#list-width")
    assert width.input_value().endswith('"')
    page.reload()
    assert page.get_by_label("Lengths are shown in").input_value() == "in"
    unit.refresh_from_db()
    assert unit.data["width"] == "3200"
    width.focus()
    assert width.input_value() == "3200 mm"
    page.keyboard.press("Tab")
    assert width.input_value().endswith('"')
    assert page.locator("#list-width[aria-invalid=true]").count() == 0


def test_what_was_typed_is_seen_when_its_field_is_entered(page, unit):
    type_over(page, "Frame face", "2 1/2 in", ".list")
    settled(page)
    face = page.locator("#list-frame\\.face")
    page.locator("#list-frame\\.depth").focus()
    assert face.input_value() == "63.5"
    face.focus()
    assert face.input_value() == "2 1/2 in"
    page.keyboard.press("Enter")
    settled(page)
    unit.refresh_from_db()
    assert unit.data["frame"]["face"] == "2 1/2 in"
    sheet = page.locator("#elevation [data-entry='frame.face']").first
    sheet.focus()
    assert sheet.input_value() == "2 1/2 in"


def test_a_rounded_size_is_seen_exactly_when_it_is_entered(page, unit):
    """3200 wide, three lights beside bars of 60: a third of 2980 is not a decimal."""
    type_over(page, "Lights across", "3", ".list")
    light = page.locator("#sheet-columns-lights-0-size")
    shown = light.input_value()
    light.focus()
    assert "1/3" in light.input_value() or "2/3" in light.input_value() or light.input_value() == shown
    title = light.get_attribute("title")
    assert light.input_value() in (shown, title)
    if "/" in title:
        assert light.input_value() == title


def test_the_list_is_made_wider_by_dragging_and_by_keys_and_stays_so(page, unit):
    splitter = page.get_by_role("separator", name="Width of the list")
    before = box(page, ".list")["width"]
    at = splitter.bounding_box()
    page.mouse.move(at["x"] + 4, 300)
    page.mouse.down()
    page.mouse.move(at["x"] + 84, 300)
    page.mouse.up()
    assert box(page, ".list")["width"] == pytest.approx(before + 80, abs=2)
    splitter.focus()
    page.keyboard.press("ArrowLeft")
    assert box(page, ".list")["width"] == pytest.approx(before + 64, abs=2)
    page.reload()
    assert box(page, ".list")["width"] == pytest.approx(before + 64, abs=2)
    splitter.dblclick()
    assert box(page, ".list")["width"] == pytest.approx(before, abs=2)
    side = page.get_by_role("separator", name="Width of the 3D view")
    side.focus()
    wide = box(page, ".side")["width"]
    page.keyboard.press("ArrowLeft")
    assert box(page, ".side")["width"] == pytest.approx(wide + 16, abs=2)


def test_the_drawing_fills_the_page_and_a_refusal_is_still_told(page, unit):
    page.keyboard.press("f")
    assert box(page, "#elevation")["width"] == pytest.approx(1280, abs=2)
    assert not page.locator(".side").is_visible()
    page.locator("#sheet-width").fill("20")
    page.keyboard.press("Enter")
    page.locator("#message .refusal").wait_for()
    assert page.locator("#message .refusal").is_visible()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Fill", exact=True).click()
    assert page.locator(".side").is_visible()


def test_what_is_typed_slowly_is_kept_all_the_same(page, unit):
    """What is shown meanwhile of a length that is typed with its unit is not what was there before."""
    depth = page.locator("#list-frame\\.depth")
    depth.focus()
    depth.press_sequentially("4 in", delay=150)
    page.locator("#list-frame\\.depth[data-typed='4 in']").wait_for()
    depth.press("Enter")
    settled(page)
    unit.refresh_from_db()
    assert unit.data["frame"]["depth"] == "4 in"
    depth.fill("90")
    depth.press("Enter")
    settled(page)
    depth.fill("4 in")
    depth.press("Enter")
    settled(page)
    unit.refresh_from_db()
    assert unit.data["frame"]["depth"] == "4 in"
