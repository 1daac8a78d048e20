"""How headless Chromium is started: for tests of the pages and for their screenshots."""

import shutil

from playwright.sync_api import Browser, Playwright

NAME = "chromium-headless-shell"
"""Debian's Chromium without what shows windows: it starts sooner and works less for the same page."""
FLAGS = [
    "--use-angle=swiftshader",
    "--enable-unsafe-swiftshader",
    "--disable-gpu-compositing",
    "--no-sandbox",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
]


def started(playwright: Playwright) -> Browser:
    """A browser that shows no window."""
    return playwright.chromium.launch(executable_path=shutil.which(NAME), args=FLAGS)
