"""The spacing strip: bars dragged with the mouse and moved with the arrow keys."""

import pytest

from tests.browser.test_story import settled

pytestmark = pytest.mark.browser


def sizes(page):
    return [float(page.get_by_label(f"Clear width of column {n}").input_value()) for n in (1, 2, 3, 4)]


def test_a_dragged_bar_follows_the_pointer_and_its_lights_take_it_up(page, unit):
    box = page.get_by_role("slider", name="Mullion 2").bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    scale = float(page.locator("#elevation").get_attribute("data-scale"))
    shown = page.evaluate("() => document.querySelector('#elevation').getScreenCTM().a")
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 20, y, steps=4)
    page.wait_for_function("() => document.querySelector('[aria-label=\"Clear width of column 2\"]').value !== '732.5'")
    page.mouse.move(x + 30, y, steps=4)
    unit.refresh_from_db()
    assert unit.data["columns"]["lights"][1]["size"] is None
    page.mouse.up()
    page.get_by_role("button", name="Let column 2 share the rest").wait_for()
    moved = round(30 / (scale * shown))
    page.wait_for_function(
        f"() => document.querySelector('[aria-label=\"Clear width of column 2\"]').value == {732.5 + moved}"
    )
    assert sizes(page) == [732.5, 732.5 + moved, 732.5 - moved, 732.5]
    settled(page)
    unit.refresh_from_db()
    assert unit.data["columns"]["lights"][1]["size"] == f"{732.5 + moved} mm"


def test_a_bar_moves_with_the_arrow_keys_and_is_let_back(page, unit):
    slider = page.get_by_role("slider", name="Mullion 1")
    slider.focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+ArrowRight")
    page.locator("[aria-label='Clear width of column 1'][value='743.5']").wait_for()
    assert page.evaluate("() => document.activeElement.id") == "handle-columns.bars.0"
    assert sizes(page) == [743.5, 721.5, 732.5, 732.5]
    page.get_by_role("button", name="Mirror the lights across").click()
    page.locator("[aria-label='Clear width of column 4'][value='743.5']").wait_for()
    page.get_by_role("button", name="Equalise the lights across").click()
    page.locator("[aria-label='Clear width of column 4'][value='732.5']").wait_for()
    assert sizes(page) == [732.5] * 4


def test_a_bar_dragged_into_the_frame_is_refused_and_stays(page, unit):
    box = page.get_by_role("slider", name="Mullion 1").bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 260, y, steps=6)
    page.mouse.up()
    page.locator("#message .refusal").wait_for()
    settled(page)
    unit.refresh_from_db()
    assert unit.data["columns"]["lights"][0]["size"] is None
