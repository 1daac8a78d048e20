"""Handing over on the page, by mouse and by keyboard."""

import ezdxf
import ifcopenshell
import numpy as np
import pytest
from playwright.sync_api import expect

from ashfell.core.site.document.site import read_site
from ashfell.core.site.surroundings import parts_of
from ashfell.formats.glb import write_scene
from ashfell.studio.handover.models import Handover
from ashfell.studio.handover.tasks import write_file
from ashfell.studio.intake.models import Intake
from ashfell.studio.intake.tasks import read_brought
from tests.browser.test_light import axe
from tests.browser.test_story import type_over
from tests.formats.building import scene
from tests.formats.test_glb_aside import CAMERA, LAMPS
from tests.formats.test_model_in import obj

pytestmark = pytest.mark.browser


def written(page):
    """What a worker does, and the file that the page then fetches."""
    page.locator("#handed [data-state=waiting]").wait_for()
    with page.expect_download() as download:
        made = Handover.objects.first()
        assert write_file.call(made.pk) == "done", made.reason
    return download.value


def read_it():
    """What a worker does with a file that was brought."""
    read_brought.call(Intake.objects.first().pk)


def test_a_file_is_chosen_written_and_fetched(page, sign_in, project, tmp_path):
    sign_in()
    page.goto(f"/projects/{project.pk}/")
    page.get_by_role("link", name="Hand over").click()
    page.get_by_text("3 windows").wait_for()
    assert axe(page) == []
    page.get_by_role("button", name="Write IFC4").click()
    file = written(page)
    assert file.suggested_filename == "heron-reach-boathouse.ifc"
    file.save_as(tmp_path / "site.ifc")
    assert len(ifcopenshell.open(str(tmp_path / "site.ifc")).by_type("IfcWindow")) == 3
    page.locator("#handed a[download]").wait_for()
    assert axe(page) == []


def test_a_unit_by_keyboard_with_its_options(page, sign_in, project, tmp_path):
    sign_in()
    page.goto(f"/projects/{project.pk}/hand-over/")
    page.get_by_label("What is handed over").select_option("unit:clubroom-window")
    page.get_by_label("IFC4").wait_for(state="detached")
    page.get_by_label("DXF").focus()
    page.keyboard.press("Space")
    page.get_by_label("Measured in").select_option("in")
    page.get_by_role("button", name="Write DXF").focus()
    page.keyboard.press("Enter")
    file = written(page)
    file.save_as(tmp_path / "unit.dxf")
    assert ezdxf.readfile(tmp_path / "unit.dxf").units == ezdxf.units.IN
    page.goto(f"/projects/{project.pk}/hand-over/")
    assert page.get_by_label("Measured in").input_value() == "in"
    assert page.get_by_label("What is handed over").input_value() == "unit:clubroom-window"


def test_it_is_stopped_and_what_fails_says_why(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/hand-over/?what=unit:clubroom-window&format=unit-pdf")
    page.get_by_label("Scale").select_option("1")
    page.get_by_label("Paper").select_option("A4")
    page.get_by_role("button", name="Write PDF").click()
    page.get_by_role("button", name="Stop").click()
    page.locator("#handed [data-state=cancelled]").wait_for()
    page.get_by_role("button", name="Write PDF").click()
    page.locator("#handed [data-state=waiting]").wait_for()
    write_file.call(Handover.objects.first().pk)
    page.get_by_text("no room on A4").wait_for()


def test_a_project_is_taken_in_again(page, sign_in, project, tmp_path):
    sign_in()
    page.goto(f"/projects/{project.pk}/hand-over/?format=project")
    page.get_by_role("button", name="Write Project in one file").click()
    file = written(page)
    file.save_as(tmp_path / "room.zip")
    page.goto("/")
    page.get_by_label("A project in one file").set_input_files(tmp_path / "room.zip")
    page.get_by_role("button", name="Take in").click()
    page.get_by_text("It is read as a project in one file").wait_for()
    read_it()
    page.get_by_role("img", name="Plan of what was understood").wait_for()
    page.get_by_role("button", name="Take in").click()
    page.wait_for_url("**/projects/*/")
    assert f"/projects/{project.pk}/" not in page.url
    page.goto("/")
    broken = tmp_path / "broken.zip"
    broken.write_bytes(b"no zip")
    page.get_by_label("A project in one file").set_input_files(broken)
    page.get_by_role("button", name="Take in").click()
    page.get_by_text("Nothing was taken in").wait_for()


def test_a_plan_becomes_walls_is_read_again_and_put_into_a_project(page, sign_in, project, tmp_path):
    outer, inner = (0, 0, 240, 200), (10, 10, 230, 190)
    drawing = ezdxf.new()
    space = drawing.modelspace()
    for left, foot, right, head in (outer, inner):
        corners = [(left, foot), (right, foot), (right, head), (left, head)]
        space.add_lwpolyline(corners, close=True, dxfattribs={"layer": "WALLS"})
    space.add_line((50, 50), (90, 50), dxfattribs={"layer": "BENCH"})
    space.add_line((50, 56), (90, 56), dxfattribs={"layer": "BENCH"})
    drawing.units = 0
    drawing.saveas(tmp_path / "shed.dxf")
    sign_in()
    page.goto("/")
    page.get_by_label("A project in one file").set_input_files(tmp_path / "shed.dxf")
    page.get_by_role("button", name="Take in").click()
    page.get_by_text("It is read as a plan in DXF").wait_for()
    read_it()
    page.get_by_text("does not say in which unit it is").wait_for()
    page.get_by_label("Drawn in").select_option("in")
    page.get_by_label("Walls are thick at least").fill("-3")
    page.get_by_role("button", name="Read again").click()
    page.locator("#message .refusal").wait_for()
    page.get_by_label("Walls are thick at least").fill("60")
    page.get_by_role("button", name="Read again").click()
    page.get_by_text("It is read as").wait_for()
    read_it()
    page.get_by_text("4 walls", exact=True).wait_for()
    assert axe(page) == []
    page.get_by_label("BENCH").check()
    page.get_by_role("button", name="Read again").click()
    page.get_by_text("It is read as").wait_for()
    read_it()
    page.get_by_text("5 walls", exact=True).wait_for()
    before = len(project.site.data["walls"])
    page.get_by_label("Into").select_option(label="Heron Reach")
    page.get_by_role("button", name="Take in").click()
    page.wait_for_url(f"**/projects/{project.pk}/")
    walls = project.site.data["walls"]
    assert len(walls) == before + 5
    assert {wall["length"] for wall in walls[-5:]} == {"6096", "5080", "1016"}


def test_a_model_is_put_beside_the_building_and_scaled(page, sign_in, project, tmp_path):
    """From the list of the site to the file and back, by keyboard; read in another unit, and made 12 m high."""
    (tmp_path / "Jetty.obj").write_bytes(obj(size=(20, 30, 10)))
    sign_in()
    page.goto(f"/projects/{project.pk}/")
    page.get_by_role("link", name="Add model").click()
    assert axe(page) == []
    page.get_by_label("What was modelled elsewhere").set_input_files(tmp_path / "Jetty.obj")
    page.get_by_label("What was modelled elsewhere").focus()
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    page.get_by_text("It is read as a model in glTF or OBJ").wait_for()
    read_it()
    page.get_by_text("20000.0 mm wide, 10000.0 deep, 30000.0 high").wait_for()
    page.get_by_label("Modelled in").select_option("ft")
    page.get_by_role("button", name="Read again").click()
    page.get_by_text("It is read as").wait_for()
    read_it()
    page.get_by_text("6096.0 mm wide, 3048.0 deep, 9144.0 high").wait_for()
    assert axe(page) == []
    page.get_by_role("button", name="Take in").click()
    page.wait_for_url(f"**/projects/{project.pk}/")
    page.get_by_role("button", name="Jetty model, 9144 high").click()
    own = ".list [data-about^='surroundings']"
    page.locator(own).get_by_label("Height", exact=True).wait_for()
    type_over(page, "Height", "12 m", own)
    expect(page.locator(own).get_by_label("Height", exact=True)).to_have_value("12000")
    (own,) = project.site.data["surroundings"]
    assert (own["name"], own["height"]) == ("Jetty", "12 m")
    points = np.concatenate(
        [part.solid.vertices for part in parts_of(read_site(project.composed_site()).surroundings[0])]
    )
    assert np.ptp(points, axis=0) == pytest.approx([8000, 4000, 12000], abs=1)


def test_a_model_stands_in_an_opening_as_it_is(page, sign_in, project, tmp_path):
    """Chosen in its sentence; what does not fit is told, and the opening is drawn with it."""
    (tmp_path / "Hatch.obj").write_bytes(obj(size=(0.7, 0.8, 0.1)))
    record = project.site
    wall = record.data["walls"][0]["id"]
    gap = {"id": "gap", "wall": wall, "offset": "300", "width": "650", "height": "800", "sill": "900"}
    record.save_change(record.data | {"placements": [gap]}, record.current_id, None)
    sign_in()
    page.goto(f"/projects/{project.pk}/")
    page.get_by_role("link", name="Add model").click()
    page.get_by_label("What was modelled elsewhere").set_input_files(tmp_path / "Hatch.obj")
    page.get_by_label("What was modelled elsewhere").focus()
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    page.get_by_text("It is read as").wait_for()
    read_it()
    page.get_by_role("button", name="Take in").click()
    page.wait_for_url(f"**/projects/{project.pk}/")
    page.get_by_role("button", name="Hatch model, 800 high").click()
    page.get_by_label("Opening that it stands in as it is").select_option("gap")
    page.get_by_label("Recess").first.wait_for()
    (own,) = project.site.data["surroundings"]
    assert own["opening"] == "gap"
    page.get_by_text("700 mm wide and 800 mm high; its opening is 650 mm by 800 mm: 50 mm too wide.").wait_for()
    assert axe(page) == []


def test_lamps_and_cameras_are_as_gltf_says(validator):
    report = validator(write_scene("Hut", scene(lamps=LAMPS, cameras=[CAMERA]), aside=True))
    assert report["issues"]["numErrors"] == 0, report["issues"]["messages"][:5]
    assert report["issues"]["numWarnings"] == 0, report["issues"]["messages"][:5]


@pytest.mark.parametrize("level", ["seen", "light"])
def test_files_with_less_in_them_are_as_gltf_says(validator, level):
    report = validator(write_scene("Hut", scene(), level=level))["issues"]
    assert (report["numErrors"], report["numWarnings"]) == (0, 0)


def test_walls_are_selected_one_after_another_by_keyboard(page, sign_in, project):
    """What is selected is counted at once; the list stays where it is, and so does who goes through it."""
    sign_in()
    page.goto(f"/projects/{project.pk}/hand-over/")
    page.get_by_label("What is handed over").select_option("selected")
    boxes = page.locator("input[name=selected]")
    boxes.first.wait_for()
    boxes.first.press("Space")
    page.get_by_text("1 wall, 1 window").wait_for()
    assert page.evaluate("document.activeElement.name") == "selected"
    boxes.nth(1).press("Space")
    page.get_by_text("2 walls, 2 windows").wait_for()
    assert axe(page) == []
    page.keyboard.press("Shift+Tab")
    page.keyboard.press("Space")
    page.get_by_text("1 wall, 1 window").wait_for()
    boxes.nth(1).press("Space")
    page.get_by_role("button", name="Write").press("Enter")
    page.get_by_text("Nothing is selected. Choose a wall, a roof plane or a plate at least.").wait_for()
    assert not Handover.objects.exists()
