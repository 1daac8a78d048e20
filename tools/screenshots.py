"""Take one picture of each main view from the demo data: ``make screenshots``."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

import ezdxf
import shapely
from chromium import started
from PIL import Image
from playwright.sync_api import Page, sync_playwright

ROOT = Path(__file__).resolve().parents[1]
OUT = ROOT / "docs/screenshots"
PORT = 8917
HOME = f"http://127.0.0.1:{PORT}"


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        command = [sys.executable, "manage.py", "demo", "--port", str(PORT)]
        server = subprocess.Popen(command, cwd=ROOT, env=os.environ | {"ASHFELL_VAR": folder})
        try:
            _wait()
            with sync_playwright() as playwright:
                browser = started(playwright)
                take(browser.new_page(viewport={"width": 1280, "height": 800}))
                browser.close()
        finally:
            server.terminate()
            server.wait()
    picture = Image.open(ROOT / "demo/heron-reach/pictures/7-river-evening.png")
    picture.resize((960, 600), Image.Resampling.LANCZOS).save(OUT / "picture.png", optimize=True)


def take(page: Page) -> None:
    page.goto(f"{HOME}/sign-in/")
    page.get_by_label("Name").fill("wren")
    page.get_by_label("Password").fill("quiet-water-21")
    page.keyboard.press("Enter")
    page.get_by_role("heading", name="Projects").wait_for()
    _shoot(page, "projects")
    for name, address in (
        ("site", ""),
        ("unit", "units/clubroom-window/"),
        ("finishes", "finishes/"),
        ("pictures", "pictures/"),
    ):
        page.goto(f"{HOME}/projects/1/{address}")
        page.wait_for_load_state("networkidle")
        if name == "site":
            _shoot(page, name)
            page.locator("#line-clubroom").click()
            page.get_by_role("button", name="Outside", exact=True).click()
            page.locator(".hole").first.click()
            page.locator(".hole.chosen").wait_for()
            _shoot(page, "wall")
            page.get_by_role("button", name="Schedule", exact=True).click()
            page.locator("#schedule").wait_for()
            _shoot(page, "schedule")
            page.goto(f"{HOME}/projects/1/fit/")
            for key in ("kitchen-window", "round-window", "stair-door"):
                page.locator(f"[name=at][value={key}]").check()
            page.locator("[name=unit][value=kitchen-window]").check()
            page.locator("#fitted table").wait_for()
            name = "fit"
        if name == "unit":
            page.locator("#elevation .box.bar").nth(1).hover()
        _shoot(page, name)
    page.goto(f"{HOME}/projects/1/units/")
    page.wait_for_load_state("networkidle")
    _shoot(page, "library")
    page.goto(f"{HOME}/projects/1/units/entrance/")
    page.wait_for_load_state("networkidle")
    page.locator("#elevation path.pick[data-at='cells.c2r1']").focus()
    page.keyboard.press("Enter")
    page.locator(".grip").first.wait_for()
    _shoot(page, "entrance")
    page.goto(f"{HOME}/projects/1/units/gallery-window/")
    page.wait_for_load_state("networkidle")
    page.get_by_role("button", name="Cut up").click()
    page.get_by_label("Where the section is taken").fill("450")
    page.keyboard.press("Enter")
    page.locator("#cut[value='450']").wait_for()
    page.get_by_role("button", name="Lines").click()
    _shoot(page, "section")
    page.goto(f"{HOME}/projects/1/units/stair-window/")
    entry = page.locator("#elevation").get_by_label("Overall height")
    entry.fill("500")
    entry.press("Enter")
    page.locator("#message .refusal").wait_for()
    _shoot(page, "refusal")
    page.goto(f"{HOME}/projects/1/units/catalogue/")
    page.wait_for_load_state("networkidle")
    _shoot(page, "catalogue")
    page.goto(f"{HOME}/projects/1/hand-over/?format=pdf")
    for kind in ("PDF", "IFC4"):
        page.get_by_label(kind, exact=True).check()
        page.get_by_role("button", name=f"Write {kind}").click()
        page.locator("#handed [data-state=done]").nth(0 if kind == "PDF" else 1).wait_for(timeout=90_000)
    _shoot(page, "handover")
    page.goto(f"{HOME}/projects/1/finishes/", wait_until="commit")
    page.get_by_role("button", name="Copy Larch, varnished", exact=True).click()
    page.wait_for_function("() => document.getElementById('board')?.getAttribute('href')", timeout=60_000)
    page.wait_for_function("() => document.getElementById('still').naturalWidth > 0", timeout=60_000)
    _shoot(page, "finish")
    _develop(page)
    _take_in(page)
    page.goto(f"{HOME}/projects/1/members/")
    page.get_by_label("Address").fill("finch@example.org")
    page.get_by_role("button", name="Invite").click()
    page.locator("#invitation").wait_for()
    _shoot(page, "members")


def _take_in(page: Page) -> None:
    """A plan in DXF, read and not kept."""
    built = shapely.difference(shapely.box(0, 0, 11_000, 7_500), shapely.box(365, 365, 10_635, 7_135))
    for room in ((4_000, 365, 4_115, 7_135), (4_115, 3_600, 10_635, 3_715)):
        built = shapely.union(built, shapely.box(*room))
    for hole in (
        (1_200, -1, 2_800, 366),
        (5_400, -1, 7_000, 366),
        (8_200, -1, 9_800, 366),
        (10_634, 4_800, 11_001, 6_200),
        (3_999, 1_200, 4_116, 2_085),
        (8_000, 3_599, 8_885, 3_716),
        (1_500, 7_134, 2_510, 7_501),
    ):
        built = shapely.difference(built, shapely.box(*hole))
    drawing = ezdxf.new(units=4)
    space = drawing.modelspace()
    for part in shapely.get_parts(built):
        for ring in (part.exterior, *part.interiors):
            space.add_lwpolyline(ring.coords[:-1], close=True, dxfattribs={"layer": "WALLS"})
    space.add_arc((4_000, 1_200), 885, 90, 180, dxfattribs={"layer": "DOORS"})
    for step in range(6):
        space.add_line((5_000 + step * 280, 5_000), (5_000 + step * 280, 6_000), dxfattribs={"layer": "STAIR"})
    with tempfile.TemporaryDirectory() as folder:
        plan = Path(folder) / "net-loft.dxf"
        drawing.saveas(plan)
        page.goto(f"{HOME}/")
        page.get_by_label("A project in one file").set_input_files(plan)
        page.get_by_role("button", name="Take in").click()
        page.locator("#intake[data-state=read]").wait_for(timeout=60_000)
        _shoot(page, "intake")


def _develop(page: Page) -> None:
    """A picture that is traced here, so that its layers are kept."""
    page.goto(f"{HOME}/projects/1/pictures/?camera=river-evening")
    page.get_by_label("Altitude in degrees").fill("-3")
    page.get_by_label("Azimuth in degrees from north").fill("285")
    page.get_by_label("Size").select_option("960 × 600")
    page.get_by_label("Quality").select_option("draft")
    page.get_by_role("button", name="Start picture").click()
    page.get_by_role("link", name="Develop").first.wait_for(timeout=600_000)
    page.get_by_role("link", name="Develop").first.click()
    page.wait_for_load_state("networkidle")
    page.locator("#frame[tabindex]").wait_for()
    page.get_by_label("Exposure in stops").fill("0.4")
    box = page.locator("#frame").bounding_box()
    assert box
    page.locator("#frame").click(position={"x": box["width"] * 0.65, "y": box["height"] * 0.5})
    page.locator("#seen strong").wait_for(timeout=60_000)
    _shoot(page, "developed")


def _shoot(page: Page, name: str) -> None:
    page.wait_for_timeout(1500)
    page.screenshot(path=OUT / f"{name}.png")


def _wait() -> None:
    for _ in range(120):
        try:
            urllib.request.urlopen(f"{HOME}/sign-in/", timeout=1)
        except OSError:
            time.sleep(0.5)
        else:
            return
    raise SystemExit("The demo did not start.")


if __name__ == "__main__":
    main()
