"""Screens, folding doors, bays, drawn hardware and the catalogue as somebody makes them, by mouse and by keys."""

import pytest

from ashfell.core.base.lengths import parse
from ashfell.core.unit.starts import start_from
from ashfell.services.kept.models import Record
from tests.browser.conftest import pixels, until
from tests.browser.test_plan import faults
from tests.browser.test_story import settled, type_over, wait_for_view

pytestmark = pytest.mark.browser


@pytest.fixture
def opened(page, sign_in, project, person):
    """Opens a unit begun from a starting point."""
    sign_in()

    def open_it(start):
        record = Record.start(project, "unit", "tried", start_from(start, "Tried").model_dump(mode="json"), person)
        page.goto(f"/projects/{project.pk}/units/tried/")
        wait_for_view(page)
        return record

    return open_it


def kept(record):
    record.refresh_from_db()
    return record.data


def test_a_partition_is_started_and_its_band_and_rings_are_typed(page, opened):
    record = opened("partition")
    type_over(page, "Step to ring 2, left", "500", ".list")
    settled(page)
    assert parse(kept(record)["frame"]["rings"][1]["steps"]["left"]) == 500
    type_over(page, "Thickness of the infill of ring 2", "80", ".list")
    assert "Make it at most 50" in page.locator("#message").inner_text()
    assert kept(record)["frame"]["rings"][1]["infill"]["thickness"] == "10"
    page.get_by_role("button", name="Leave out the infill of ring 2").click()
    settled(page)
    assert kept(record)["frame"]["rings"][1]["infill"] is None
    page.keyboard.press("Control+z")
    settled(page)
    assert kept(record)["frame"]["rings"][1]["infill"]["kind"] == "glass"
    page.get_by_role("button", name="Add: top rail").focus()
    page.keyboard.press("Enter")
    settled(page)
    assert kept(record)["trim"]["rail"]["height"] == "40"
    assert faults(page) == []


@pytest.mark.in_3d
def test_folding_doors_are_folded_with_the_slider_and_parted_by_a_number(page, opened):
    record = opened("folding-doors")
    shut = pixels(page, "#view canvas")
    page.locator("#view-open").fill("70")
    page.locator("#view-open").dispatch_event("change")
    until(page, lambda: pixels(page, "#view canvas")["drawn"] != shut["drawn"])
    type_over(page, "Leaves that fold to the right", "2", ".list")
    settled(page)
    assert kept(record)["fill"]["to_right"] == 2
    type_over(page, "Clearance at the free end", "1", ".list")
    assert "past their free end" in page.locator("#message").inner_text()


def test_a_piece_of_hardware_is_drawn_point_by_point(page, opened):
    record = opened("flush-leaf")
    page.get_by_role("button", name="Add a drawn bar").click()
    settled(page)
    assert [own["kind"] for own in kept(record)["fill"]["hardware"]] == ["lever", "swept-piece"]
    page.get_by_role("button", name="Draw its path").click()
    page.locator("#points").wait_for()
    assert page.locator("#points .path.open").count() == 1
    type_over(page, "y of point 3", "300", ".points")
    settled(page)
    assert parse(kept(record)["fill"]["hardware"][1]["path"][2]["y"]) == 300
    page.locator("#points .node").nth(2).focus()
    page.keyboard.press("ArrowUp")
    settled(page)
    assert parse(kept(record)["fill"]["hardware"][1]["path"][2]["y"]) == 301
    page.get_by_role("button", name="New point behind point 2").click()
    settled(page)
    assert len(kept(record)["fill"]["hardware"][1]["path"]) == 5
    type_over(page, "x of point 2", "-20", ".points")
    assert "behind the face" in page.locator("#message").inner_text()
    assert faults(page) == []


def test_a_wall_becomes_a_bay(page, sign_in, person):
    sign_in()
    page.goto("/")
    page.get_by_label("Name of a new project").fill("Bay house")
    page.get_by_role("button", name="Start project").click()
    page.get_by_role("button", name="Add the first wall").click()
    page.locator("#plan path.wall").first.wait_for()
    type_over(page, "Length", "7 m", ".list")
    settled(page)
    page.locator("[data-do=add-bay]").click()
    settled(page)
    site = person.projects.get(name="Bay house").site
    assert site.data["walls"][0]["curve"]["kind"] == "bent"
    assert [plate["bay"] for plate in site.data["plates"]] == [site.data["walls"][0]["id"]] * 2
    page.keyboard.press("Control+z")
    settled(page)
    site.refresh_from_db()
    assert site.data["walls"][0]["curve"] is None
    assert faults(page) == []


def test_the_catalogue_is_searched_and_an_item_taken_in_a_size_of_its_own(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/units/")
    page.get_by_role("link", name="Catalogue").click()
    page.locator("#items .card-of").first.wait_for()
    page.get_by_label("Search by words, workshop or size").fill("kittiwake porthole")
    page.locator("#items .card-of").nth(1).wait_for(state="detached")
    assert page.locator("#items .card-of").count() == 1
    assert faults(page) == []
    page.get_by_role("link", name="Smithy porthole").focus()
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Take it").wait_for()
    assert faults(page) == []
    page.get_by_label("Width").fill("20")
    page.get_by_role("button", name="Take it").click()
    page.locator(".notice").wait_for()
    page.get_by_label("Width").fill("800")
    page.get_by_label("Height").fill("800")
    page.get_by_role("button", name="Take it").click()
    wait_for_view(page)
    record = project.units.get(key="smithy-porthole")
    assert (record.data["width"], record.data["source"]["item"]) == ("800", "smithy-round")


def test_hardware_of_the_catalogue_is_put_on_a_leaf_and_a_piece_of_it_published(page, opened, project):
    record = opened("panelled-leaf")
    page.get_by_role("link", name="Take hardware from the catalogue").click()
    page.get_by_label("Search by words, workshop or size").fill("cylinder")
    page.keyboard.press("Enter")
    page.wait_for_url("**q=cylinder")
    assert faults(page) == []
    page.get_by_role("button", name="Put the Wrackline cylinder on").focus()
    page.keyboard.press("Enter")
    wait_for_view(page)
    record.refresh_from_db()
    assert [piece["kind"] for piece in record.data["fill"]["hardware"]] == ["lever", "cylinder"]
    page.get_by_role("link", name="Put the cylinder into your catalogue").click()
    page.get_by_label("Name").fill("Our cylinder")
    assert faults(page) == []
    page.keyboard.press("Enter")
    page.get_by_text("Our cylinder is in your catalogue, version 1.").wait_for()
    page.goto(f"/projects/{project.pk}/units/catalogue/?family=Hardware&q=our")
    assert page.get_by_role("link", name="Our cylinder").count() == 1
