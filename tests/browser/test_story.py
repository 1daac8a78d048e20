"""The whole story, as somebody new does it."""

import itertools
import subprocess
import sys

import numpy as np
import pytest
import shapely
import trimesh
from django.db import connection

from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.services.kept.models import Project
from tests.browser.conftest import pixels, until
from tests.conftest import ROOT
from tests.formats.reading import content

pytestmark = pytest.mark.browser


def shown_count(page):
    return int(page.locator("#view canvas").get_attribute("data-shown") or 0)


def wait_for_view(page, beyond=0):
    page.wait_for_function("n => Number(document.querySelector('#view canvas')?.dataset.shown || 0) > n", arg=beyond)
    page.wait_for_timeout(120)


def settled(page):
    """Wait until all changes are kept."""
    page.locator(".bench[data-pending='0']").wait_for()


def type_over(page, label, value, scope="#workspace"):
    """Type over a number and press Enter; waits until the change is kept."""
    with page.expect_response(
        lambda response: "/edit/" in response.url and "keep=1" in (response.request.post_data or "")
    ):
        entry = page.locator(scope).get_by_label(label, exact=True).first
        entry.fill(value)
        entry.press("Enter")
    page.locator(".bench[data-pending='0']").wait_for()


@pytest.fixture
def worker(transactional_db):
    """A worker process on the test's database."""
    command = [sys.executable, str(ROOT / "tests/studio/worker_on.py"), str(connection.settings_dict["NAME"])]
    process = subprocess.Popen(command, cwd=ROOT)
    yield process
    process.terminate()
    process.wait()


def sign_in_by_the_form(page):
    page.goto("/sign-in/")
    page.get_by_label("Name").fill("robin")
    page.get_by_label("Password").fill("still-water-44")
    page.keyboard.press("Enter")


@pytest.mark.in_3d
def test_from_an_empty_project_to_a_picture(page, person, worker, tmp_path):
    sign_in_by_the_form(page)
    page.get_by_label("Name of a new project").fill("Boat store")
    page.get_by_role("button", name="Start project").click()

    page.get_by_role("button", name="Add the first wall").click()
    page.locator("#plan path.wall").first.wait_for()
    type_over(page, "Length", "20 ft", ".list")
    type_over(page, "Thickness", "250", ".list")
    type_over(page, "Height", "2.8 m", ".list")
    assert page.locator("#plan input[data-entry='walls.wall-1.length']").input_value() == "6096"

    page.get_by_placeholder("Name of a new unit").fill("Store window")
    page.get_by_role("button", name="Make unit").click()
    page.locator("#elevation").wait_for()
    wait_for_view(page)
    before = pixels(page, "#view canvas")
    assert before["colours"] > 20, before
    assert before["drawn"] > 0.05

    # Seen while typing, before it is kept.
    seen = shown_count(page)
    page.locator("#elevation").get_by_label("Overall width").fill("2400")
    page.locator(".list").get_by_label("Overall width").and_(page.locator("[value='2400']")).wait_for()
    wait_for_view(page, seen)
    unit = Project.objects.get().units.get()
    assert unit.data["width"] == "1200"
    page.keyboard.press("Enter")
    page.wait_for_function("() => !document.querySelector('[data-move=undo]').disabled")

    type_over(page, "Overall height", "5' 0\"")
    type_over(page, "Lights across", "3")
    type_over(page, "Lights up", "2")
    type_over(page, "Frame face", "60")
    type_over(page, "Glass thickness", "28")
    page.locator("#workspace").get_by_label("Rule across").select_option("centres")
    page.get_by_text("by equal centres").first.wait_for()
    assert page.locator("#elevation path.glass").count() == 6
    unit.refresh_from_db()
    assert (unit.data["height"], unit.data["frame"]["face"], len(unit.data["columns"]["lights"])) == ("5' 0\"", "60", 3)

    page.get_by_label("Finish of the frame").select_option("smoked-oak")
    page.get_by_label("Finish of the glass").select_option("grey-glass")
    settled(page)
    unit.refresh_from_db()
    assert unit.data["finishes"]["frame"] == "smoked-oak"
    page.locator(".finding.note").filter(has_text="equal centres was asked for").wait_for()

    page.get_by_role("link", name="Boat store").click()
    page.get_by_role("button", name="Place it in Wall 1").click()
    page.locator("#plan path.unit").wait_for()
    page.locator(".list").get_by_label("Measured from").select_option("start")
    settled(page)
    type_over(page, "Offset", "1 m", ".list")
    type_over(page, "Sill height", "800", ".list")
    wait_for_view(page, 2)
    placed = Project.objects.get().site.data["placements"][0]
    assert (placed["measured"], placed["offset"], placed["sill"]) == ("start", "1 m", "800")
    page.locator(".finding.clean").wait_for()
    with page.expect_download() as download:
        page.get_by_role("link", name="GLB").click()
    download.value.save_as(tmp_path / "site.glb")
    scene = trimesh.load(tmp_path / "site.glb")
    wall = scene.to_geometry() if hasattr(scene, "to_geometry") else scene.dump(concatenate=True)
    assert wall.bounds[1][:2] == pytest.approx([6.096, 2.8], abs=1e-4)
    told = [
        told for mesh in content((tmp_path / "site.glb").read_bytes())["meshes"] for told in mesh["extras"]["parts"]
    ]
    assert len({part["part"] for part in told}) > 40 > len(scene.geometry)

    page.get_by_role("link", name="Pictures").click()
    wait_for_view(page)
    page.get_by_label("Camera x in metres").fill("2.2")
    page.get_by_label("Camera y in metres").fill("-5")
    page.get_by_label("Azimuth in degrees").fill("230")
    page.evaluate("() => document.querySelector('#size').add(new Option('96 × 60', '96 × 60', true, true))")
    page.get_by_role("button", name="Start picture").click()
    page.locator("figure[data-state='waiting'], figure[data-state='tracing']").wait_for()
    assert page.locator("progress").count() == 1
    page.locator("figure[data-state='done'][data-passes='4']").wait_for(timeout=90_000)
    with page.expect_download() as download:
        page.locator("figure").get_by_role("link", name="PNG").click()
    download.value.save_as(tmp_path / "picture.png")
    from PIL import Image

    image = Image.open(tmp_path / "picture.png")
    assert image.size == (96, 60)
    assert len(set(image.convert("RGB").get_flattened_data())) > 200

    page.get_by_role("button", name="Sign out").click()
    sign_in_by_the_form(page)
    page.get_by_role("link", name="Boat store").click()
    assert page.locator("#plan input[data-entry='walls.wall-1.length']").input_value() == "6096"
    page.locator("#plan path.unit").click()
    page.get_by_role("link", name="Open the unit").click()
    assert page.locator("#elevation").get_by_label("Overall width").input_value() == "2400"


def test_the_unit_page_without_a_mouse(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/units/clubroom-window/")
    wait_for_view(page)
    keyboard = page.keyboard

    def tab_to(label):
        for _ in range(90):
            keyboard.press("Tab")
            if page.evaluate("() => document.activeElement.getAttribute('aria-label')") == label:
                return
        raise AssertionError(f"{label} is not reached by Tab")

    tab_to("Overall width")
    keyboard.press("ArrowUp")
    keyboard.press("Shift+ArrowUp")
    keyboard.press("Enter")
    page.locator("#elevation").get_by_label("Overall width").and_(page.locator("[value='3211']")).wait_for()
    tab_to("Clear width of column 2")
    keyboard.type("900")
    keyboard.press("Enter")
    page.get_by_role("button", name="Let column 2 share the rest").wait_for()
    tab_to("Let column 2 share the rest")
    keyboard.press("Enter")
    page.get_by_role("button", name="Lock column 2 at 735.25").wait_for()
    for _ in range(3):
        keyboard.press("Control+z")
    page.locator("#elevation").get_by_label("Overall width").and_(page.locator("[value='3200']")).wait_for()
    keyboard.press("Control+Shift+z")
    page.locator("#elevation").get_by_label("Overall width").and_(page.locator("[value='3211']")).wait_for()


def test_wrong_input_is_told_and_loses_nothing(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/units/clubroom-window/")
    wait_for_view(page)
    entry = page.locator("#elevation").get_by_label("Overall width")
    for typed, words in (
        ("-300", "cannot be built"),
        ("12 bananas", "not a unit"),
        ("", "missing"),
        ("250", "3 bars of 50 mm leave −20 mm for 4 lights"),
        ("99999999999", "longest length is 10 km"),
    ):
        entry.fill(typed)
        entry.press("Enter")
        page.locator("#message .refusal").filter(has_text=words).wait_for()
        assert entry.get_attribute("aria-invalid") == "true"
        assert entry.input_value() == typed
        assert page.locator("#elevation path.glass").count() == 4
    entry.press("Escape")
    page.wait_for_function("() => !document.querySelector('#message .refusal')")
    assert entry.input_value() == "3200"
    assert project.units.get(key="clubroom-window").data["width"] == "3200"


def test_a_stale_page_offers_both_versions(page, sign_in, project, person):
    sign_in()
    page.goto(f"/projects/{project.pk}/units/clubroom-window/")
    wait_for_view(page)
    record = project.units.get(key="clubroom-window")
    record.save_change(record.data | {"width": "3000"}, record.current_id, person, "width: 3000")
    entry = page.locator(".list").get_by_label("Overall height")
    entry.fill("1800")
    entry.press("Enter")
    page.get_by_text("changed by robin since you opened it").wait_for()
    assert page.get_by_label("Take mine of Overall height").is_checked()
    page.get_by_role("button", name="Take what is ticked").click()
    page.locator(".list").get_by_label("Overall height").and_(page.locator("[value='1800']")).wait_for()
    page.locator(".list").get_by_label("Overall width").and_(page.locator("[value='3000']")).wait_for()
    page.get_by_role("button", name="Undo").click()
    page.locator(".list").get_by_label("Overall height").and_(page.locator("[value='1900']")).wait_for()


@pytest.mark.in_3d
def test_drawing_list_and_view_light_up_together(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/units/clubroom-window/")
    wait_for_view(page)
    dark = pixels(page, "#view canvas")["ember"]
    page.locator("#elevation path[data-part='frame.head']").nth(1).hover()
    page.locator("#elevation path.frame.lit").first.wait_for()
    page.locator(".build-up > li[data-entry='frame'].lit").wait_for()
    until(page, lambda: pixels(page, "#view canvas")["ember"] > dark + 20)
    page.locator(".build-up > li[data-entry='columns']").hover()
    until(page, lambda: page.locator("#elevation path.bar.lit").count() >= 3)
    assert page.locator("#elevation path.frame.lit").count() == 0
    page.locator("#view canvas").hover(position={"x": 160, "y": 300})
    until(page, lambda: page.locator("#elevation .drawn path.lit").count() >= 1)


@pytest.mark.in_3d
def test_turning_the_view_changes_the_picture_of_it_and_the_camera(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/pictures/")
    wait_for_view(page)
    before = page.get_by_label("Camera x in metres").input_value()
    box = page.locator("#view canvas").bounding_box()
    page.mouse.move(box["x"] + 200, box["y"] + 150)
    page.mouse.down()
    page.mouse.move(box["x"] + 320, box["y"] + 150, steps=5)
    page.mouse.up()
    page.wait_for_function("before => document.querySelector('#eye_x').value !== before", arg=before)
    assert pixels(page, "#view canvas")["drawn"] > 0.05


def test_cancelling_a_picture_from_the_page(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/pictures/")
    wait_for_view(page)
    page.get_by_role("button", name="Start picture").click()
    page.get_by_role("button", name="Stop").click()
    page.locator("figure[data-state='cancelled']").wait_for()
    page.get_by_role("button", name="Go on").click()
    page.locator("figure[data-state='waiting']").wait_for()


def test_a_picture_with_a_wrong_number_is_refused_on_the_page(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/pictures/")
    wait_for_view(page)
    page.get_by_label("Altitude in degrees").fill("high")
    page.get_by_role("button", name="Start picture").click()
    page.locator("#message .refusal").wait_for()
    assert page.locator("figure").count() == 0


def test_another_members_project_is_not_here(page, sign_in, project, stranger):
    sign_in("rook")
    page.goto(f"/projects/{project.pk}/")
    page.get_by_role("heading", name="Not here").wait_for()


def test_a_server_that_cannot_be_reached_is_told_and_what_was_typed_stays(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/units/clubroom-window/")
    wait_for_view(page)
    page.route("**/edit/", lambda route: route.abort())
    entry = page.locator("#elevation").get_by_label("Overall width")
    entry.fill("3300")
    entry.press("Enter")
    page.get_by_text("The server cannot be reached").wait_for()
    assert entry.input_value() == "3300"
    page.unroute("**/edit/")
    entry.press("Enter")
    page.locator(".list").get_by_label("Overall width").and_(page.locator("[value='3300']")).wait_for()
    page.problems.clear()


def test_signed_out_meanwhile_leads_to_signing_in(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/units/clubroom-window/")
    wait_for_view(page)
    page.context.clear_cookies()
    entry = page.locator("#elevation").get_by_label("Overall width")
    entry.fill("3300")
    page.wait_for_url("**/sign-in/**")
    page.problems.clear()


def test_enter_on_a_rounded_number_does_not_replace_the_exact_one(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/units/changing-room-window/")
    wait_for_view(page)
    before = project.units.get(key="changing-room-window").current_id
    page.locator(".list").get_by_label("Lights across", exact=True).fill("7")
    page.keyboard.press("Enter")
    page.get_by_label("Clear width of column 7").wait_for()
    for label in ("Clear width of column 2", "Frame edge size"):
        page.get_by_label(label).first.focus()
        page.keyboard.press("Enter")
    settled(page)
    record = project.units.get(key="changing-room-window")
    assert record.current.parent_id == before
    assert record.data["columns"]["lights"][1]["size"] is None


def test_a_unit_too_wide_for_its_wall_is_not_placed_and_says_why(page, sign_in, project, person):
    record = project.units.get(key="stair-window")
    record.save_change(record.data | {"width": "5600"}, record.current_id, person)
    sign_in()
    page.goto(f"/projects/{project.pk}/")
    wait_for_view(page)
    page.locator(".finding.fault").first.wait_for()
    page.locator("#line-landing").click()
    page.get_by_label("Unit for Landing wall").select_option("stair-window")
    page.get_by_role("button", name="Place it in Landing wall").click()
    page.locator("#message .refusal").filter(has_text="5600 mm wide and “Landing wall” only 5300 mm long").wait_for()
    assert len(project.site.data["placements"]) == 3


def test_the_site_is_undone_and_redone(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/")
    wait_for_view(page)
    page.get_by_role("button", name="Remove Clubroom wall").click()
    page.get_by_label("Name of Gable wall").wait_for()
    assert page.locator("#plan path.unit").count() == 2
    page.get_by_role("button", name="Undo").click()
    page.get_by_label("Name of Clubroom wall").or_(page.locator("#line-clubroom")).wait_for()
    assert page.locator("#plan path.unit").count() == 3


def test_what_is_picked_opens_in_the_list_and_the_rest_is_one_line_each(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/")
    wait_for_view(page)
    assert page.locator(".list input.name").count() == 1
    page.locator("#plan path.unit[data-at='placements.changing-room-window']").click()
    opened = page.locator(".list [data-about='placements.changing-room-window']")
    opened.get_by_label("Sill height").wait_for()
    assert page.locator(".list").get_by_label("Sill height").count() == 1
    opened.get_by_label("Sill height").fill("850")
    page.keyboard.press("Enter")
    page.wait_for_function("() => !document.querySelector('[data-move=undo]').disabled")
    placed = {one["id"]: one["sill"] for one in project.site.data["placements"]}
    assert placed["changing-room-window"] == "850"
    # By keyboard: the line of another wall, then of what stands in it.
    page.locator("#line-gable").focus()
    page.keyboard.press("Enter")
    page.locator("[data-about='walls.gable'] input.name").wait_for()
    assert opened.get_by_label("Sill height").count() == 0
    page.locator(".placed .line").first.focus()
    page.keyboard.press("Enter")
    page.locator(".list").get_by_label("Sill height").wait_for()


@pytest.mark.in_3d
def test_the_viewfinder_shows_the_house_and_nothing_beside_it(page, sign_in, project):
    """What is drawn fills the house's bounds as the typed camera sees them, kept upright by shift, within a few
    hundredths of the canvas."""
    sign_in()
    page.goto(f"/projects/{project.pk}/pictures/")
    wait_for_view(page)
    typed = {
        "eye_x": -4,
        "eye_y": -12,
        "eye_z": 3,
        "target_x": 3,
        "target_y": 2.5,
        "target_z": 1.5,
        "lens": round(18 / np.tan(np.radians(30)), 4),
    }
    for name, value in typed.items():
        page.locator(f"#{name}").fill(str(value))
        page.keyboard.press("Tab")
    scene = build_scene(read_site(project.composed_site()))
    bounds = [part.solid.bounds for part in scene.parts]
    low, high = np.min([b[0] for b in bounds], axis=0) / 1000, np.max([b[1] for b in bounds], axis=0) / 1000
    eye, target = np.array([-4, -12, 3.0]), np.array([3, 2.5, 1.5])
    level = (target - eye) * [1, 1, 0]
    shift = (target - eye)[2] / np.linalg.norm(level)
    ahead = level / np.linalg.norm(level)
    right, up = np.cross(ahead, [0, 0, 1]), np.array([0, 0, 1])
    box, frame = (page.locator(one).bounding_box() for one in ("#view canvas", "#framed"))
    width, height = map(int, page.locator("#size").input_value().split(" × "))
    assert frame["width"] / frame["height"] == pytest.approx(width / height, rel=0.01)
    assert frame["width"] == pytest.approx(min(box["width"], box["height"] * width / height), abs=2)
    wide = np.tan(np.radians(30)) * box["width"] / frame["width"]
    high_angle = wide * box["height"] / box["width"]
    corners = [np.array(corner) - eye for corner in itertools.product(*zip(low, high, strict=True))]
    seen = [((c @ right) / (c @ ahead) / wide, ((c @ up) / (c @ ahead) - shift) / high_angle) for c in corners]
    share = shapely.MultiPoint(seen).convex_hull.intersection(shapely.box(-1, -1, 1, 1)).area / 4
    assert 0.1 < share < 0.6
    until(page, lambda: pixels(page, "#view canvas")["drawn"] == pytest.approx(share, abs=0.04))
