"""A wall's elevation as somebody uses it: openings picked, dragged, moved by keys, typed, arranged; a room."""

import pytest

from ashfell.core.base.lengths import parse
from tests.browser.conftest import VENDOR
from tests.browser.test_story import settled, wait_for_view

pytestmark = pytest.mark.browser
WINDOW = "placements.clubroom-window"


@pytest.fixture
def wall(page, sign_in, project):
    """The clubroom wall from outside, its window picked."""
    sign_in()
    page.goto(f"/projects/{project.pk}/")
    wait_for_view(page)
    page.get_by_role("button", name="Outside", exact=True).click()
    page.locator(f"[id='hole-{WINDOW}']").click()
    page.locator(f"[id='hole-{WINDOW}'].chosen").wait_for()
    return page


def kept(project, key="clubroom-window"):
    project.site.refresh_from_db()
    return next(one for one in project.site.data["placements"] if one["id"] == key)


def test_an_opening_is_dragged_along_and_up(wall, project):
    hole = wall.locator(f"[id='hole-{WINDOW}']")
    before, scale = hole.bounding_box(), wall.evaluate("Number(document.querySelector('#elevation').dataset.scale)")
    screen = wall.evaluate("document.querySelector('#elevation').getScreenCTM().a")
    x, y = before["x"] + before["width"] / 2, before["y"] + before["height"] / 2
    wall.mouse.move(x, y)
    wall.mouse.down()
    wall.mouse.move(x + 40, y - 15, steps=5)
    wall.mouse.up()
    settled(wall)
    along, up = round(40 / screen / scale), round(15 / screen / scale)
    own = kept(project)
    assert parse(own["offset"]) == pytest.approx(along, abs=1)
    assert parse(own["sill"]) == pytest.approx(500 + up, abs=1)
    assert hole.bounding_box()["x"] == pytest.approx(before["x"] + 40, abs=1.5)
    wall.keyboard.press("Control+z")
    settled(wall)
    assert kept(project)["offset"] == "0"


def test_arrow_keys_move_it_by_a_step_and_by_ten(wall, project):
    wall.locator(f"[id='hole-{WINDOW}']").focus()
    wall.keyboard.press("ArrowRight")
    settled(wall)
    wall.keyboard.press("Shift+ArrowUp")
    settled(wall)
    assert (parse(kept(project)["offset"]), parse(kept(project)["sill"])) == (1, 510)
    wall.get_by_role("button", name="Inside", exact=True).click()
    wall.get_by_label("The wall from inside").wait_for()
    wall.locator(f"[id='hole-{WINDOW}']").focus()
    wall.keyboard.press("ArrowRight")
    settled(wall)
    assert parse(kept(project)["offset"]) == 0


def test_piers_heights_and_sizes_are_typed_on_the_drawing(wall, project):
    """A window of 3200 in a wall of 6000."""
    drawing = wall.locator("#elevation")
    for label, value in (
        ("Before clubroom-window", "1 m"),
        ("Sill of clubroom-window", "450"),
        ("Width of clubroom-window", "3 m"),
    ):
        field = drawing.get_by_label(label, exact=True)
        field.fill(value)
        field.press("Enter")
        settled(wall)
    own = kept(project)
    assert (own["sill"], own["width"]) == ("450", "3 m")
    wall.reload()
    wall.get_by_role("button", name="Outside", exact=True).click()
    wall.locator(f"[id='hole-{WINDOW}']").click()
    assert drawing.get_by_label("Width of clubroom-window", exact=True).input_value() == "3000"
    assert drawing.get_by_label("Behind clubroom-window", exact=True).input_value() == "1900"


def test_wrong_input_is_told_and_keeps_what_is_there(wall, project):
    before = kept(project)
    for label, value, words in (
        ("Before clubroom-window", "4 m", "passes the end"),
        ("Sill of clubroom-window", "low", "low"),
        ("Width of clubroom-window", "150", ""),
    ):
        field = wall.locator("#elevation").get_by_label(label, exact=True)
        field.fill(value)
        field.press("Enter")
        wall.locator("#message .refusal").wait_for()
        assert words in wall.locator("#message").inner_text()
        field.press("Escape")
        wall.locator("#message .refusal").wait_for(state="detached")
    assert kept(project) == before


def test_its_sentence_gives_it_another_hand_and_place(wall, project):
    wall.get_by_label("Where it stands in the wall", exact=True).select_option("centred")
    settled(wall)
    wall.get_by_label("Hand", exact=True).select_option("yes")
    settled(wall)
    wall.get_by_role("button", name="Give its frame a finish of its own").click()
    settled(wall)
    own = kept(project)
    assert (own["stands"], own["mirrored"]) == ("centred", True)
    assert "frame" in own["finishes"]
    assert wall.get_by_label("Recess", exact=True).count() == 0
    wall.locator(".finding.clean").wait_for()


def test_a_project_begins_with_a_room_and_openings_are_arranged(page, sign_in, project):
    sign_in()
    page.goto("/")
    page.get_by_label("Name of a new project").fill("Net loft")
    page.keyboard.press("Enter")
    page.get_by_label("Length of the room").fill("7 m")
    page.get_by_role("button", name="Make the room").click()
    settled(page)
    page.get_by_role("button", name="Outside", exact=True).click()
    page.locator(".hole").first.click()
    page.locator(".hole.chosen").wait_for()
    for name in ("Put another like it behind it", "Make the piers between the openings at this height equal"):
        page.get_by_role("button", name=name).click()
        settled(page)
    piers = [page.locator("#elevation input[aria-label^='Before']").nth(k).input_value() for k in (0, 1)]
    assert {round(float(pier), 1) for pier in piers} == {1666.7}
    page.locator(".finding.clean").wait_for()


def test_the_elevation_has_no_accessibility_faults(wall):
    wall.evaluate(VENDOR.joinpath("axe.js").read_text())
    rules = "['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa']"
    found = wall.evaluate(f"async () => (await axe.run({{ runOnly: {rules} }})).violations")
    assert [(one["id"], one["nodes"][0]["html"]) for one in found] == []


def test_an_opening_with_the_focus_is_picked_by_key(wall, project):
    wall.get_by_role("button", name="Gable wall").click()
    wall.locator("#workspace[data-host=gable]").wait_for()
    hole = wall.locator(".hole").first
    hole.focus()
    wall.keyboard.press("Enter")
    wall.locator(".hole.chosen").wait_for()
    assert wall.locator(".list").get_by_label("Sill height").count() == 1


def test_a_unit_is_put_where_somebody_clicks(wall, project):
    """On the court wall from inside: 2 m along its own line from outside, in line with the sill that is there."""
    wall.locator("#line-court").click()
    wall.locator("[id='hole-placements.changing-room-window']").wait_for()
    wall.get_by_role("button", name="Inside", exact=True).click()
    wall.get_by_label("The wall from inside").wait_for()
    wall.get_by_label("Unit to put where you click").select_option("porthole")
    wall.keyboard.press("p")
    where = wall.evaluate("""() => {
      const sheet = document.querySelector('#elevation'), { left, foot, scale } = sheet.dataset;
      const at = new DOMPoint(Number(left) - 4500 * scale, Number(foot) - 2170 * scale);
      const { x, y } = at.matrixTransform(sheet.getScreenCTM());
      return [x, y];
    }""")
    wall.mouse.click(*where)
    settled(wall)
    project.site.refresh_from_db()
    put = project.site.data["placements"][-1]
    assert (put["wall"], put["unit"]) == ("court", "porthole")
    assert float(parse(put["offset"])) == pytest.approx(4500 - 450, abs=20)
    assert float(parse(put["sill"])) == pytest.approx(1828.8)
    wall.locator(".hole.chosen").wait_for()


def test_a_pier_is_locked_on_the_strip(wall, project):
    wall.get_by_role("button", name="Put another like it behind it").click()
    settled(wall)
    assert "wide" in wall.locator("#message").inner_text()  # the clubroom's window leaves no room for another
    wall.locator("#line-court").click()
    wall.locator("[id='hole-placements.changing-room-window']").click()
    wall.locator("[id='hole-placements.changing-room-window'].chosen").wait_for()
    wall.get_by_role("button", name="Put another like it behind it").click()
    settled(wall)
    lock = wall.locator("#elevation .lock")
    assert lock.get_attribute("aria-pressed") == "false"
    lock.click()
    settled(wall)
    wall.locator("#elevation .lock[aria-pressed='true']").wait_for()
    project.site.refresh_from_db()
    assert project.site.data["placements"][-1]["after"] == "changing-room-window"


def test_the_chain_is_laid_out_flat_and_another_wall_of_it_worked_on(wall, project):
    before = kept(project)
    wall.get_by_role("button", name="Unroll").click()
    wall.locator(".beside-it").first.wait_for()
    assert wall.locator(".beside-it").count() >= 3
    assert wall.locator(f"[id='hole-{WINDOW}'].chosen").count() == 1
    other = wall.locator(".beside-it").first
    name = other.get_attribute("data-at")
    other.focus()
    wall.keyboard.press("Enter")
    wall.locator(f"#workspace[data-wall='{name}']").wait_for()
    assert wall.locator(f".beside-it[data-at='{name}']").count() == 0
    assert wall.evaluate("document.activeElement !== null")
    hole = wall.locator(f"[id='hole-{WINDOW}']")  # of a wall beside it: it is moved all the same, and worked on then
    hole.focus()
    wall.keyboard.press("ArrowRight")
    settled(wall)
    assert parse(kept(project)["offset"]) == parse(before["offset"]) + 1
    wall.get_by_role("button", name="Unroll").click()
    wall.locator(".beside-it").first.wait_for(state="detached")
