"""Doors as somebody makes them: an entrance from a leaf, a handle placed and moved, an overhead door opened."""

import pytest

from ashfell.core.base.lengths import parse
from ashfell.core.unit.starts import start_from
from ashfell.services.kept.models import Record
from tests.browser.test_plan import faults
from tests.browser.test_story import settled, type_over, wait_for_view

pytestmark = pytest.mark.browser


SCALE = """() => {
  const sheet = document.querySelector('#elevation');
  return sheet.dataset.scale * sheet.getScreenCTM().a;
}"""


@pytest.fixture
def door(page, sign_in, project, person):
    """The page of a panelled leaf, and its record."""
    sign_in()

    def opened(start="panelled-leaf"):
        document = start_from(start, "Garden door").model_dump(mode="json")
        record = Record.start(project, "unit", "garden-door", document, person)
        page.goto(f"/projects/{project.pk}/units/garden-door/")
        wait_for_view(page)
        return page, record

    return opened


def kept(record):
    record.refresh_from_db()
    return record.data


def test_a_door_is_started_from_its_picture(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/units/")
    page.get_by_role("heading", name="Doors", exact=True).wait_for()
    page.get_by_role("button", name="Plank leaf").click()
    page.locator("#elevation .part.plank").first.wait_for()
    assert page.locator("#findings .clean").inner_text().startswith("clean") or page.locator(".finding.clean").count()
    assert faults(page) == []


def test_a_leaf_becomes_an_entrance_and_back(door):
    page, record = door()
    page.get_by_role("button", name="Put the leaf between two sidelights").click()
    page.locator("#elevation .pick[data-at='cells.c3r1']").wait_for(state="attached")
    settled(page)
    assert len(kept(record)["columns"]["lights"]) == 3
    assert kept(record)["cells"]["c2r1"]["fill"]["kind"] == "leaf"
    page.keyboard.press("Control+z")
    settled(page)
    assert len(kept(record)["columns"]["lights"]) == 1


def test_a_piece_is_added_where_nothing_is_in_its_way_and_taken_away(door):
    page, record = door()
    page.get_by_role("button", name="Add a knob").click()
    page.locator(".grip").nth(1).wait_for(state="attached")
    settled(page)
    lever, knob = kept(record)["fill"]["hardware"]
    assert knob["kind"] == "knob"
    assert parse(knob["height"]) == parse("1000") + 90  # clear of the lever
    page.get_by_role("button", name="Remove the lever").click()
    settled(page)
    assert [own["kind"] for own in kept(record)["fill"]["hardware"]] == ["knob"]
    assert lever["kind"] == "lever"


def test_hardware_has_its_two_distances_on_the_drawing(door):
    page, record = door()
    own = lambda: kept(record)["fill"]["hardware"][0]  # noqa: E731
    page.locator(".grip").wait_for()
    type_over(page, "Height of the lever", "1100")
    assert own()["height"] == "1100"
    grip = page.locator(".grip")
    box = grip.bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    scale = page.evaluate(SCALE)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 20 * scale, y + 200 * scale, steps=4)
    page.mouse.up()
    settled(page)
    assert float(parse(own()["height"])) == pytest.approx(900, abs=3)
    assert float(parse(own()["edge"])) == pytest.approx(80, abs=3)
    before = parse(own()["height"])
    page.locator(".grip").focus()
    page.keyboard.press("Shift+ArrowUp")
    settled(page)
    assert parse(own()["height"]) - before == 10
    type_over_refused(page, "Distance from the edge of the lever", "5")
    assert faults(page) == []


def type_over_refused(page, label, value):
    """Type a number that is refused: it is told, and nothing is kept."""
    field = page.locator("#workspace").get_by_label(label, exact=True).last
    field.fill(value)
    field.press("Enter")
    page.locator("#message .refusal").wait_for()


def test_an_overhead_door_is_opened_with_the_slider(door):
    page, record = door("overhead")
    page.get_by_label("Sections", exact=True).fill("6")
    page.get_by_label("Sections", exact=True).press("Enter")
    settled(page)
    assert kept(record)["fill"]["sections"] == 6
    with page.expect_response(lambda response: ".glb" in response.url and response.request.method == "POST"):
        page.locator("#view-open").fill("60")
    page.locator("#findings .clean, .finding.clean").first.wait_for()
    type_over(page, "Opened in percent", "60")
    assert kept(record)["fill"]["opened"] == 60
    assert faults(page) == []
