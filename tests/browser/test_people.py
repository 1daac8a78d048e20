"""Members, invitations, the bin and links, by mouse and keyboard; no accessibility faults on their pages."""

import time

import pytest
from django_otp.oath import TOTP
from django_otp.plugins.otp_totp.models import TOTPDevice

from ashfell.services.kept.models import Project
from tests.browser.test_light import axe

pytestmark = pytest.mark.browser


@pytest.fixture
def other(browser, live_server):
    """The page of somebody who is not signed in."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=live_server.url)
    context.set_default_timeout(15_000)
    yield context.new_page()
    context.close()


def test_somebody_is_invited_makes_an_account_and_becomes_a_viewer(page, sign_in, project, other):
    sign_in()
    page.goto(f"/projects/{project.pk}/")
    page.get_by_role("link", name="Members").click()
    page.get_by_label("Address").fill("finch@example.org")
    page.keyboard.press("Enter")
    link = page.locator("#invitation").inner_text()
    other.goto(link)
    other.get_by_text("robin invites you as editor").wait_for()
    other.get_by_label("Name").fill("finch")
    other.get_by_label("Password", exact=True).fill("low-tide-at-noon")
    other.get_by_label("Password again").fill("low-tide-at-noo")
    other.get_by_role("button", name="Join").click()
    other.get_by_role("alert").wait_for()
    other.get_by_label("Password", exact=True).fill("low-tide-at-noon")
    other.get_by_label("Password again").fill("low-tide-at-noon")
    other.keyboard.press("Enter")
    other.wait_for_url(f"**/projects/{project.pk}/")
    page.reload()
    page.get_by_label("What finch may do").select_option("viewer")
    page.get_by_role("button", name="Let finch do this").click()
    page.locator("[data-member=finch] option[selected]", has_text="viewer").wait_for(state="attached")
    other.goto(f"/projects/{project.pk}/units/")
    other.get_by_role("button", name="Duplicate Clubroom window").click()
    other.get_by_text("Ask one of its owners").wait_for()
    page.get_by_role("button", name="Remove finch").click()
    page.locator("[data-member=finch]").wait_for(state="detached")
    other.goto(f"/projects/{project.pk}/")
    other.get_by_role("heading", name="Not here").wait_for()


def test_a_unit_goes_into_the_bin_and_back(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/units/")
    page.get_by_role("button", name="Put Clubroom window into the bin").click()
    page.get_by_text("is used by opening").wait_for()
    page.get_by_role("button", name="Duplicate Clubroom window").click()
    page.goto(f"/projects/{project.pk}/units/")
    page.get_by_role("button", name="Put Clubroom window, copy into the bin").click()
    page.get_by_text("“Clubroom window, copy” is in the bin.").wait_for()
    page.get_by_role("link", name="Bin", exact=True).click()
    page.get_by_role("button", name="Put Clubroom window, copy back").click()
    page.get_by_text("Nothing is in the bin").wait_for()
    assert project.units.filter(key="clubroom-window-copy").exists()


def test_a_project_is_deleted_by_typing_its_name(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/bin/")
    page.get_by_role("button", name="Put Heron Reach into the bin").click()
    name = page.get_by_label("Type Heron Reach to delete it for good")
    name.fill("Heron Beach")
    name.press("Enter")
    page.get_by_text("nothing is deleted").wait_for()
    assert Project.everything.filter(pk=project.pk).exists()
    page.get_by_role("button", name="Put Heron Reach back").click()
    page.wait_for_url(f"**/projects/{project.pk}/")
    page.goto(f"/projects/{project.pk}/bin/")
    page.get_by_role("button", name="Put Heron Reach into the bin").click()
    name.fill("Heron Reach")
    name.press("Enter")
    page.get_by_text("“Heron Reach” is deleted.").wait_for()
    assert not Project.everything.exists()


@pytest.mark.parametrize("address", ["members/", "bin/", "links/", "/account/", "/licences/", "/", "/reset/"])
def test_axe_finds_nothing(page, sign_in, project, address):
    sign_in()
    page.goto(address if address.startswith("/") else f"/projects/{project.pk}/{address}")
    assert axe(page) == []


def test_a_second_factor_is_turned_on_and_asked_for(page, sign_in, person):
    sign_in()
    page.goto("/account/")
    assert axe(page) == []
    page.get_by_role("link", name="Ask for a code too").click()
    page.locator(".code-square svg").wait_for()
    assert axe(page) == []
    page.get_by_label("Code").fill("000000")
    page.keyboard.press("Enter")
    page.get_by_text("This is not the code of now.").wait_for()
    TOTPDevice.objects.update(throttling_failure_count=0, throttling_failure_timestamp=None)
    device = TOTPDevice.objects.get(user=person)
    made = TOTP(device.bin_key, device.step, device.t0, device.digits, device.drift)
    made.time = time.time()
    page.get_by_label("Code").fill(f"{made.token():06d}")
    page.keyboard.press("Enter")
    page.get_by_role("heading", name="Codes to write down").wait_for()
    codes = page.locator("main code").all_inner_texts()
    assert len(codes) == 8
    assert axe(page) == []
    page.get_by_role("button", name="Sign out").click()
    page.get_by_label("Name").fill(person.username)
    page.get_by_label("Password").fill("still-water-44")
    page.keyboard.press("Enter")
    page.get_by_role("heading", name="Code").wait_for()
    assert axe(page) == []
    page.locator("#code").fill(codes[0])
    page.keyboard.press("Enter")
    page.get_by_role("heading", name="Projects").wait_for()
