"""One headless Chromium for all tests of the pages."""

import base64
import os

import pytest
from django.conf import settings
from django.contrib.auth import get_user_model
from django.test import Client
from playwright.sync_api import sync_playwright
from tools.chromium import started

from tests import flat
from tests.conftest import ROOT

os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"

VENDOR = ROOT / "tests/vendor"
USUAL = {"width": 1280, "height": 800}
PARKED = "/static/studio/keys.js"
"""Where the tab waits between tests: of the same server, so that it stays in its process."""
UNSMOOTHED = """
    const real = HTMLCanvasElement.prototype.getContext;
    HTMLCanvasElement.prototype.getContext = function (kind, how) {
        return real.call(this, kind, kind.startsWith("webgl") ? { ...how, antialias: false } : how);
    };
"""
"""Edges are not smoothed in tests: it is half of the work of the software renderer."""


@pytest.fixture(scope="session")
def browser():
    with sync_playwright() as playwright:
        chromium = started(playwright)
        yield chromium
        chromium.close()


@pytest.fixture(scope="session")
def context(browser, live_server):
    """One person's browser for all tests, so that scripts and styles are read once."""
    made = browser.new_context(viewport=USUAL, base_url=live_server.url)
    made.set_default_timeout(60_000)
    made.add_init_script(UNSMOOTHED)
    yield made
    made.close()


@pytest.fixture(scope="session")
def tab(context):
    """One tab for all tests, so that the scripts it has read stay compiled."""
    shown = context.new_page()
    shown.problems = []
    shown.on("pageerror", lambda error: shown.problems.append(str(error)))
    shown.on("console", lambda message: message.type == "error" and shown.problems.append(message.text))
    return shown


@pytest.fixture
def page(request, context, tab, transactional_db, monkeypatch):
    """A page of 1280 x 800 that fails its test on any error the browser reports; nothing is left of it afterwards."""
    monkeypatch.setitem(flat.state, "flat", not request.node.get_closest_marker("in_3d"))
    yield tab
    problems = [*tab.problems]
    if tab.url.startswith("http"):
        tab.evaluate("() => localStorage.clear()")
    for one in context.pages:
        if one is not tab:
            one.close()
    context.clear_cookies()
    tab.unroute_all()
    tab.mouse.move(0, 0)
    if tab.viewport_size != USUAL:
        tab.set_viewport_size(USUAL)
    tab.goto(PARKED, wait_until="commit")
    tab.problems.clear()
    told = ("status of 4", "status of 507")  # what is refused, and a full disk, are told on the page
    assert [text for text in problems if not any(part in text for part in told)] == []


@pytest.fixture
def sign_in(page, live_server):
    """Signs somebody in without the form; no page is shown yet."""

    def enter(name="robin"):
        client = Client()
        client.force_login(get_user_model().objects.get(username=name))
        session = client.cookies[settings.SESSION_COOKIE_NAME].value
        page.context.add_cookies([{"name": settings.SESSION_COOKIE_NAME, "value": session, "url": live_server.url}])

    return enter


@pytest.fixture
def unit(page, sign_in, project):
    """The clubroom window on its page, its view drawn."""
    from tests.browser.test_story import wait_for_view

    sign_in()
    page.goto(f"/projects/{project.pk}/units/clubroom-window/")
    wait_for_view(page)
    return project.units.get(key="clubroom-window")


@pytest.fixture(scope="session")
def validator(browser):
    """The glTF format's own validator, run in the browser: bytes to its report."""
    files = {
        "/": "<!doctype html><script>globalThis.exports = {}</script><script src='/validator.js'></script>",
        "/validator.js": (VENDOR / "gltf_validator.dart.js").read_text(),
    }
    page = browser.new_page()

    def serve(route):
        name = "/" + route.request.url.split("/", 3)[3]
        kind = "text/html" if name == "/" else "text/javascript"
        route.fulfill(body=files.get(name, ""), content_type=kind)

    page.route("http://validator.test/**", serve)
    page.goto("http://validator.test/")

    def validate(data):
        text = base64.b64encode(data).decode()
        return page.evaluate(
            "(text) => exports.validateBytes(Uint8Array.from(atob(text), (one) => one.charCodeAt(0)), {})", text
        )

    yield validate
    page.close()


def until(page, holds, often=100):
    """Wait until something holds, asked every so many milliseconds: a busy machine takes a while to draw."""
    for _ in range(60_000 // often):
        if holds():
            return
        page.wait_for_timeout(often)
    pytest.fail("it did not come to hold within a minute")


def pixels(page, selector):
    """How many different colours a WebGL canvas shows, and the share of it that is not empty."""
    return page.evaluate(
        """(selector) => {
            const source = document.querySelector(selector);
            const copy = Object.assign(document.createElement('canvas'), { width: 160, height: 120 });
            const context = copy.getContext('2d');
            context.drawImage(source, 0, 0, 160, 120);
            const data = context.getImageData(0, 0, 160, 120).data;
            const colours = new Set();
            let drawn = 0, ember = 0;
            for (let k = 0; k < data.length; k += 4) {
                if (data[k + 3] > 10) { drawn += 1; colours.add((data[k] << 16) | (data[k + 1] << 8) | data[k + 2]); }
                if (data[k + 3] > 10 && data[k] > data[k + 2] + 70) ember += 1;
            }
            return { colours: colours.size, drawn: drawn / 19200, ember };
        }""",
        selector,
    )
