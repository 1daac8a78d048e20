"""Two people at once, in two browsers: each sees that the other is there, and what the other changes."""

import pytest
from django.conf import settings
from django.db import OperationalError
from django.test import Client

from ashfell.services.kept import records
from ashfell.services.kept.models import Role
from tests.browser.test_story import settled, type_over, wait_for_view

pytestmark = pytest.mark.browser


@pytest.fixture
def other(browser, live_server, project, stranger):
    """The second person's page."""
    project.memberships.create(user=stranger, role=Role.EDITOR)
    client = Client()
    client.force_login(stranger)
    context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=live_server.url)
    context.set_default_timeout(15_000)
    name = settings.SESSION_COOKIE_NAME
    context.add_cookies([{"name": name, "value": client.cookies[name].value, "url": live_server.url}])
    yield context.new_page()
    context.close()


def test_what_another_changes_appears_without_loading_the_page(unit, page, other, project):
    other.goto(page.url)
    wait_for_view(other)
    other.locator("#others", has_text="robin").wait_for()
    page.locator("#others", has_text="rook").wait_for()
    type_over(other, "Overall width", "3000", ".list")
    settled(other)
    page.get_by_text("Changed by rook.").wait_for()
    page.locator(".list").get_by_label("Overall width").and_(page.locator("[value='3000']")).wait_for()
    type_over(page, "Overall height", "1800", ".list")
    settled(page)
    assert unit.project.units.get(key=unit.key).data["width"] == "3000"
    other.locator(".list").get_by_label("Overall height").and_(other.locator("[value='1800']")).wait_for()


def test_what_somebody_is_typing_is_not_taken_away(unit, page, person):
    entry = page.locator(".list").get_by_label("Overall height")
    entry.focus()
    entry.fill("17")
    unit.save_change(unit.data | {"width": "3000"}, unit.current_id, person, "width: 3000")
    page.wait_for_timeout(5000)
    assert entry.input_value() == "17"
    entry.fill("1700")
    entry.press("Enter")
    page.get_by_label("Take mine of Overall height").wait_for()
    page.get_by_role("button", name="Take what is ticked").click()
    page.locator(".list").get_by_label("Overall width").and_(page.locator("[value='3000']")).wait_for()
    data = unit.project.units.get(key=unit.key).data
    assert (data["width"], data["height"]) == ("3000", "1700")


def test_a_full_disk_is_told_what_was_typed_stays_and_is_kept_once_there_is_room(unit, page, monkeypatch):
    def full(*args, **kwargs):
        raise OperationalError("database or disk is full")

    entry = page.locator(".list").get_by_label("Overall height")
    before = unit.data["height"]
    with monkeypatch.context() as there:
        there.setattr(records, "save", full)
        entry.fill("1750")
        entry.press("Enter")
        page.get_by_text("The disk of the server is full").wait_for()
        assert entry.input_value() == "1750"
        unit.refresh_from_db()
        assert unit.data["height"] == before
        page.goto(page.url)
        wait_for_view(page)  # what is kept can be read
    type_over(page, "Overall height", "1750", ".list")
    settled(page)
    unit.refresh_from_db()
    assert unit.data["height"] == "1750"


def test_a_viewer_is_told_that_nothing_is_kept(page, sign_in, project, stranger):
    project.memberships.create(user=stranger, role=Role.VIEWER)
    sign_in("rook")
    page.goto(f"/projects/{project.pk}/units/clubroom-window/")
    wait_for_view(page)
    entry = page.locator(".list").get_by_label("Overall height")
    entry.fill("1800")
    entry.press("Enter")
    page.locator("#message", has_text="Ask one of its owners").wait_for()
    assert project.units.get(key="clubroom-window").data["height"] == "1900"
