"""The plan as somebody uses it: walls drawn by clicking and typing, ends and openings dragged; the schedule and the fit
bench beside it."""

import pytest

from ashfell.core.base.lengths import parse
from tests.browser.conftest import VENDOR, until
from tests.browser.test_story import settled, type_over, wait_for_view

pytestmark = pytest.mark.browser
AXE = "async () => (await axe.run({ runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'] })).violations"
ON_PLAN = """([x, y]) => {
  const sheet = document.querySelector('#plan'), { left, foot, scale } = sheet.dataset;
  const at = new DOMPoint(Number(left) + x * Number(scale), Number(foot) - y * Number(scale));
  const { x: across, y: down } = at.matrixTransform(sheet.getScreenCTM());
  return [across, down];
}"""


def faults(page):
    page.evaluate(VENDOR.joinpath("axe.js").read_text())
    return [(one["id"], one["nodes"][0]["html"]) for one in page.evaluate(AXE)]


def click(page, x, y):
    """Click a point of the plan, in mm of the site."""
    page.mouse.move(*page.evaluate(ON_PLAN, [x, y]))
    page.mouse.click(*page.evaluate(ON_PLAN, [x, y]))
    page.locator(".bench[data-pending='0'], .bench:not([data-pending])").wait_for()


def drag(page, start, end):
    before, behind = (page.evaluate(ON_PLAN, list(point)) for point in (start, end))
    page.mouse.move(*before)
    page.mouse.down()
    page.mouse.move(*behind, steps=6)
    page.mouse.up()
    settled(page)
    page.wait_for_timeout(500)  # what was dragged is picked then, and the page laid out for it


@pytest.fixture
def site(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/")
    wait_for_view(page)
    return page


@pytest.fixture
def empty(page, sign_in, person):
    from ashfell.services.kept.models import Project

    sign_in()
    page.goto("/")
    page.get_by_label("Name of a new project").fill("Net loft")
    page.keyboard.press("Enter")
    page.locator(".bench:not([inert]) #plan").wait_for()
    made = Project.objects.get(name="Net loft")
    return page, made


def walls(project):
    project.site.refresh_from_db()
    return [(wall["length"], wall["angle"]) for wall in project.site.data["walls"]]


def test_a_room_is_drawn_by_clicking_and_closes(empty):
    page, project = empty
    page.get_by_role("button", name="Draw walls").click()
    for x, y in ((1000, 1000), (7020, 1040), (7010, 5030), (990, 4990), (1010, 1020)):
        click(page, x, y)
    page.locator("[data-end]").nth(7).wait_for(state="attached")
    assert walls(project) == [("6000 mm", 0), ("4000 mm", 90), ("6000 mm", 180), ("4000 mm", 270)]
    page.keyboard.press("Escape")
    assert page.get_by_role("button", name="Draw walls").get_attribute("aria-pressed") == "false"
    page.locator(".finding.clean").wait_for()
    page.keyboard.press("Control+z")
    settled(page)
    assert len(walls(project)) == 3


def test_lengths_and_angles_are_typed_while_drawing(empty):
    page, project = empty
    page.keyboard.press("w")
    click(page, 1000, 1000)
    page.locator("#drafting circle").wait_for(state="attached")
    page.keyboard.type("4")
    length = page.get_by_label("Length", exact=True).last
    length.fill("long")
    length.press("Enter")
    page.locator("#message .refusal").wait_for()
    length.fill("4500")
    page.get_by_label("Angle", exact=True).fill("30")
    page.get_by_label("Angle", exact=True).press("Enter")
    settled(page)
    assert walls(project) == [("4500", 30)]


def test_an_end_is_dragged_and_takes_its_neighbour_along(site, project):
    drag(site, (6000, 0), (7030, 10))
    assert walls(project)[:2] == [("7000 mm", 0), ("5393.514624 mm", pytest.approx(100.6848, abs=1e-3))]
    site.locator("[id='end-walls.clubroom.start']").focus()
    site.keyboard.press("Shift+ArrowLeft")
    settled(site)
    assert walls(project)[0][0] == "7010 mm"


def test_an_opening_is_slid_along_its_wall_and_a_wall_shifted(site, project):
    drag(site, (3000, 100), (3400, 400))
    project.site.refresh_from_db()
    moved = next(one for one in project.site.data["placements"] if one["id"] == "clubroom-window")
    assert float(parse(moved["offset"])) == pytest.approx(400, abs=15)
    assert moved["sill"] == "500"
    type_over(site, "Before clubroom-window", "1500")
    project.site.refresh_from_db()
    assert next(one for one in project.site.data["placements"] if one["id"] == "clubroom-window")["offset"] == "100 mm"
    drag(site, (5850, 3500), (6450, 3500))
    assert float(parse(walls(project)[0][0])) == pytest.approx(6600, abs=20)
    assert float(parse(walls(project)[3][0])) == pytest.approx(6600, abs=20)
    assert [angle for _, angle in walls(project)] == [0, 90, 270, 180]


def test_what_is_refused_is_seen_however_far_down_its_entry_is(site, project):
    """The list is scrolled to the foot of what is picked; the refusal stands over it, and what is mended is kept."""
    site.set_viewport_size({"width": 1280, "height": 500})
    site.locator("#line-landing").click()
    site.locator("[id='list-walls.landing.name']").wait_for()
    site.locator(".list").evaluate("one => one.scrollTo(0, one.scrollHeight)")
    height = site.locator(".list [data-entry='walls.landing.height']")
    height.fill("0")
    height.press("Enter")
    told = site.locator("#message .refusal")
    told.wait_for()
    site.locator(".list").evaluate("one => one.scrollTo(0, one.scrollHeight)")
    around, own = site.locator(".list").bounding_box(), told.bounding_box()
    assert around["y"] - 1 <= own["y"]
    assert own["y"] + own["height"] <= around["y"] + around["height"]
    before = walls(project)
    type_over(site, "Height", "2800", ".list [data-about='walls.landing']")
    told.wait_for(state="detached")
    project.site.refresh_from_db()
    assert next(one for one in project.site.data["walls"] if one["id"] == "landing")["height"] == "2800"
    assert walls(project) == before


def test_walls_are_split_joined_curved_and_put_on_storeys(site, project):
    site.locator("#line-landing").click()
    site.locator("[id='list-walls.landing.name']").wait_for()
    site.get_by_role("button", name="Split", exact=True).click()
    settled(site)
    assert [length for length, _ in walls(project)][2:4] == ["2650 mm", "2650 mm"]
    site.get_by_role("button", name="Join", exact=True).click()
    settled(site)
    assert [length for length, _ in walls(project)][2] == "5300 mm"
    site.get_by_label("Course", exact=True).select_option("arc")
    settled(site)
    type_over(site, "Rise of the arc", "600")
    site.get_by_role("button", name="Add storey").click()
    settled(site)
    site.locator("#line-landing").click()
    site.get_by_label("Storey", exact=True).select_option("storey-1")
    settled(site)
    project.site.refresh_from_db()
    own = next(wall for wall in project.site.data["walls"] if wall["id"] == "landing")
    assert (own["curve"]["kind"], own["curve"]["rise"], own["storey"]) == ("arc", "600", "storey-1")


def test_the_plan_has_no_accessibility_faults(site):
    assert faults(site) == []


# --- the schedule and the fit bench -----------------------------------------------------------------------------------


def test_the_schedule_is_edited_in_place_and_picks(site, project):
    site.get_by_role("button", name="Schedule", exact=True).click()
    row = site.locator("[id='row-placements.stair-window']")
    row.locator(".told").first.click()
    site.locator("[id='row-placements.stair-window'].chosen").wait_for()
    assert site.locator(".list").get_by_label("Sill height").input_value() == "500"
    type_over(site, "Offset", "1500", "[id='row-placements.stair-window']")
    type_over(site, "Mark", "W 02", "[id='row-placements.stair-window']")
    project.site.refresh_from_db()
    own = next(one for one in project.site.data["placements"] if one["id"] == "stair-window")
    assert (own["offset"], own["mark"]) == ("1500", "W 02")
    type_over(site, "Offset", "90 m", "[id='row-placements.stair-window']")
    assert "passes the end" in site.locator("#message").inner_text()
    assert faults(site) == []


def test_a_table_is_taken_in_whole_or_not_at_all(site, project, tmp_path):
    site.get_by_role("button", name="Schedule", exact=True).click()
    table = tmp_path / "facade.csv"
    rows = "mark;wall;unit;offset;sill\nP1;Landing wall;Porthole;500;900\n"
    table.write_text(rows + "P2;Landing wall;Porthole;9 m;900\n")
    site.get_by_label("A table of openings").set_input_files(table)
    site.locator(".schedule-files").get_by_role("button", name="Take in").click()
    site.get_by_text("1 row cannot be taken in, so nothing is.").wait_for()
    assert site.get_by_role("button", name="Take them in").count() == 0
    table.write_text(rows + "P2;Landing wall;Porthole;2 m;900\n")
    site.get_by_label("The table").set_input_files(table)
    site.get_by_role("button", name="Look again").click()
    site.get_by_text("2 openings will be added, 0 changed.").wait_for()
    assert faults(site) == []
    site.get_by_role("button", name="Take them in").click()
    site.locator("[id='row-placements.p1']").wait_for()
    project.site.refresh_from_db()
    assert [one["mark"] for one in project.site.data["placements"]][-2:] == ["P1", "P2"]


def test_a_unit_is_fitted_to_openings(site, project):
    site.get_by_role("link", name="Fit units", exact=True).click()
    for key in ("clubroom-window", "stair-window"):
        site.locator(f"[name=at][value={key}]").check()
    site.locator("[name=unit][value=kitchen-window]").check()
    site.get_by_label("All round").fill("10")
    site.get_by_text("3180 by 1880 mm").wait_for()
    assert "The opening would have to be" in site.locator("#fitted tr.refused").inner_text()
    assert faults(site) == []
    site.get_by_role("button", name="Fit 1 opening").click()
    site.get_by_text("1 openings are fitted.").wait_for()
    project.site.refresh_from_db()
    units = {one["id"]: one["unit"] for one in project.site.data["placements"]}
    assert (units["clubroom-window"], units["stair-window"]) == ("kitchen-window", "stair-window")


# --- traced and looked at ---------------------------------------------------------------------------------------------


def test_a_drawing_is_laid_under_the_plan_and_scaled(site, project, tmp_path):
    drawing = tmp_path / "plan.svg"
    drawing.write_text('<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="50mm" viewBox="0 0 100 50">'
                       '<path d="M0 0h100v50h-100z"/></svg>')  # fmt: skip
    site.locator("#trace").set_input_files(drawing)
    site.locator("#traced path").wait_for(state="attached")
    type_over(site, "Width of the underlay", "6 m")
    project.site.refresh_from_db()
    assert project.site.underlay["width"] == "6 m"
    site.keyboard.press("Control+z")
    settled(site)
    project.site.refresh_from_db()
    assert float(project.site.underlay["width"]) == pytest.approx(100, rel=1e-4)
    site.get_by_role("button", name="Take the underlay away").click()
    settled(site)
    assert site.locator("#traced path").count() == 0


def ink(page):
    """How many pixels of the 3D view are drawn on."""
    return page.evaluate("""() => {
      const canvas = document.querySelector('#view canvas'), paper = document.createElement('canvas');
      Object.assign(paper, { width: canvas.width, height: canvas.height });
      const context = paper.getContext('2d');
      context.drawImage(canvas, 0, 0);
      const { data } = context.getImageData(0, 0, paper.width, paper.height);
      let count = 0;
      for (let k = 3; k < data.length; k += 4) if (data[k] > 40) count += 1;
      return count;
    }""")


@pytest.mark.in_3d
def test_the_building_is_walked_through_cut_and_shown_by_storeys(site, project):
    until(site, lambda: ink(site) > 2000)
    site.wait_for_timeout(300)  # until it stands still
    whole = ink(site)
    site.get_by_role("button", name="Walk", exact=True).click()
    canvas = site.locator("#view canvas")
    before = canvas.get_attribute("data-at")
    assert float(before.split()[1]) == pytest.approx(1.6)
    canvas.focus()
    for _ in range(3):
        site.keyboard.press("ArrowUp")
    after = canvas.get_attribute("data-at")
    moved = sum((float(a) - float(b)) ** 2 for a, b in zip(before.split(), after.split(), strict=True)) ** 0.5
    assert moved == pytest.approx(1.5, abs=1e-2)
    site.get_by_role("button", name="Walk", exact=True).click()
    site.get_by_label("Cut away from above, in percent").fill("60")
    until(site, lambda: 200 < ink(site) < whole)
    site.get_by_label("Cut away from above, in percent").fill("0")
    shown = int(canvas.get_attribute("data-shown"))
    slider = site.get_by_label("Open all sashes, in percent")
    slider.fill("50")
    slider.dispatch_event("change")
    wait_for_view(site, shown)
    site.get_by_role("button", name="From inside").click()
    until(site, lambda: ink(site) > 2000)


@pytest.mark.in_3d
def test_many_units_of_a_kind_are_drawn_at_once(page, sign_in, project):
    """300 windows of one unit: a few draw calls for each of its finishes; each is still its own."""
    data = project.site.data
    window = data["placements"][0] | {"measured": "start", "unit": "stair-window", "sill": "500"}
    many = [window | {"id": f"p{n}", "wall": "long", "offset": str(500 + 1000 * n)} for n in range(300)]
    wall = data["walls"][0] | {"id": "long", "length": "301 m"}
    record = project.site
    record.save_change(data | {"walls": [wall], "plates": [], "placements": many}, record.current_id, None, "many")
    sign_in()
    page.goto(f"/projects/{project.pk}/")
    wait_for_view(page)
    canvas = page.locator("#view canvas")
    assert int(canvas.get_attribute("data-parts")) > 300
    assert 0 < int(canvas.get_attribute("data-drawn")) <= 30
    page.get_by_role("button", name="Outside", exact=True).click()
    page.get_by_role("button", name="From outside").click()
    box = canvas.bounding_box()

    def picked():
        page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        return page.locator("#picked").inner_text()

    until(page, picked, often=300)  # as soon as it has turned there
    assert page.locator("#picked").inner_text().startswith(("placements.p", "walls.long"))


def place_of(project):
    project.site.refresh_from_db()
    (one,) = project.site.data["placements"]
    return [float(parse(one[key])) for key in ("offset", "sill")]


@pytest.mark.in_3d
def test_the_opening_that_is_worked_on_is_drawn_along_its_wall_in_3d(page, sign_in, project):
    """Square on, to the right means along the wall and up means up; what is not worked on turns the view instead."""
    data = project.site.data
    window = data["placements"][0] | {"id": "p", "measured": "start", "unit": "stair-window", "wall": "long"}
    wall = data["walls"][0] | {"id": "long", "length": "6 m"}
    alone = data | {"walls": [wall], "plates": [], "placements": [window | {"offset": "2500", "sill": "700"}]}
    project.site.save_change(alone, project.site.current_id, None, "one")
    sign_in()
    page.goto(f"/projects/{project.pk}/#placements.p")
    wait_for_view(page)
    canvas, box = page.locator("#view canvas"), page.locator("#view canvas").bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.get_by_role("button", name="Outside", exact=True).click()
    page.get_by_role("button", name="From outside").click()

    def worked_on():
        page.mouse.click(x, y)
        return page.locator("#workspace[data-at='placements.p']").count()

    until(page, worked_on, often=300)
    before = place_of(project)
    for way, keys in (((40, 0), ()), ((0, 6), ()), ((30, 0), ("Escape",))):
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + way[0], y + way[1], steps=5)
        for key in keys:
            page.keyboard.press(key)
        page.mouse.up()
        settled(page)
        page.wait_for_timeout(500)
        along, up = (now - was for now, was in zip(place_of(project), before, strict=True))
        if keys:
            assert (along, up) == (0, 0)
        elif way[0]:
            assert 200 < along < 2500
            assert abs(up) <= 2
        else:
            assert abs(along) <= 2
            assert -600 < up < -30
        before, x, y = place_of(project), x + way[0] * (not keys), y + way[1]
    assert page.locator("#workspace").get_attribute("data-at") == "placements.p"
    assert canvas.get_attribute("data-shown")


def test_two_points_on_the_plan_are_measured(site, project):
    before = walls(project)
    site.keyboard.press("m")
    for x, y in ((20, -30), (5980, 20)):
        click(site, x, y)
        site.wait_for_timeout(300)
    site.locator("#measured text", has_text="6000 mm").wait_for()
    for mouse, place in ((site.mouse.down, (3000, 100)), (site.mouse.up, (3400, 400))):
        site.mouse.move(*site.evaluate(ON_PLAN, list(place)))
        mouse()
    assert site.locator(".bench[data-pending]").count() == 0
    assert walls(project) == before
    site.get_by_role("button", name="Outside", exact=True).click()
    site.locator("#elevation").wait_for()
    assert site.locator("#measure").get_attribute("aria-pressed") == "true"
    site.keyboard.press("Escape")
    assert site.locator("#measured circle").count() == 0


@pytest.mark.in_3d
def test_a_tree_is_put_beside_the_building_moved_and_made_larger(site, project):
    """By mouse and keys: added, its size typed, dragged on the plan, seen in 3D, taken away again."""
    canvas = site.locator("#view canvas")
    shown, parts = int(canvas.get_attribute("data-shown")), int(canvas.get_attribute("data-parts"))
    site.get_by_role("button", name="Add tree").focus()
    site.keyboard.press("Enter")
    site.locator("#workspace[data-at='surroundings.surrounding-1']").wait_for()
    wait_for_view(site, shown)
    assert int(canvas.get_attribute("data-parts")) >= parts + 2
    assert site.locator(".round-it.chosen").count() == 1
    type_over(site, "Height", "12 m")
    type_over(site, "Height of its trunk", "14 m")
    assert "leaves no crown" in site.locator("#message").inner_text()
    project.site.refresh_from_db()
    (tree,) = project.site.data["surroundings"]
    assert (tree["height"], tree["trunk"]) == ("12 m", "2200 mm")
    x, y = (float(parse(tree[way])) for way in "xy")
    drag(site, (x, y), (x - 3000, y + 2000))
    project.site.refresh_from_db()
    (tree,) = project.site.data["surroundings"]
    assert parse(tree["x"]) == pytest.approx(x - 3000, abs=300)  # it snaps to what is near
    assert parse(tree["y"]) == pytest.approx(y + 2000, abs=300)
    assert faults(site) == []
    site.get_by_role("button", name="Remove Broad tree 1").click()
    settled(site)
    project.site.refresh_from_db()
    assert project.site.data["surroundings"] == []


def lamp_of(project):
    project.site.refresh_from_db()
    (lamp,) = project.site.data["lamps"]
    return [float(parse(lamp[axis])) for axis in "xyz"]


def drawn(page, start, end):
    """Drawn along from one place of the page to another."""
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(*end, steps=4)
    page.mouse.up()
    settled(page)
    page.wait_for_timeout(300)


@pytest.mark.in_3d
def test_a_lamp_is_hung_and_moved_in_3d_and_before_its_wall(page, sign_in, project):
    """A wall along x, looked at square on: a click on it hangs a lamp 200 mm before it; drawn along it stays on its
    level, with Shift where it is on the plan; on the elevation it goes along the wall and up."""
    data = project.site.data
    wall = data["walls"][0] | {"id": "long", "length": "6 m", "height": "3 m", "x": "0", "y": "0", "angle": 0}
    alone = data | {"walls": [wall], "plates": [], "placements": [], "lamps": [], "storeys": []}
    project.site.save_change(alone, project.site.current_id, None, "one")
    sign_in()
    page.goto(f"/projects/{project.pk}/#walls.long")
    wait_for_view(page)
    page.get_by_role("button", name="From outside").click()
    page.wait_for_timeout(500)
    box = page.locator("#view canvas").bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    hang = page.get_by_role("button", name="Hang", exact=True)
    hang.click()
    assert hang.get_attribute("aria-pressed") == "true"
    page.mouse.click(x, y)
    page.locator("#hung [data-entry]").wait_for(state="attached")
    settled(page)
    assert hang.get_attribute("aria-pressed") == "false"
    assert lamp_of(project) == pytest.approx([3000, -200, 1500], abs=60)

    def worked_on():
        page.mouse.click(x, y)
        return page.locator("#workspace[data-at='lamps.lamp-1']").count()

    until(page, worked_on, often=200)  # as soon as it is drawn there
    settled(page)
    assert page.locator("#picked").inner_text() == "lamps.lamp-1 · Lamp"
    hung = lamp_of(project)
    drawn(page, (x, y), (x + 40, y))
    settled(page)
    along = lamp_of(project)
    assert along[0] > hung[0] + 100
    assert along[2] == hung[2]
    page.get_by_role("button", name="Outside", exact=True).click()
    lamp = page.locator("#elevation").get_by_role("button", name="Lamp; arrow keys move it")
    lamp.press("ArrowRight")
    settled(page)
    lamp.press("Shift+ArrowUp")
    settled(page)
    assert lamp_of(project) == pytest.approx([along[0] + 1, along[1], along[2] + 10])
    at = lamp.bounding_box()
    middle = at["x"] + at["width"] / 2, at["y"] + at["height"] / 2
    before = lamp_of(project)
    drawn(page, middle, (middle[0] - 30, middle[1] + 20))
    settled(page)
    after = lamp_of(project)
    scale = float(page.locator("#elevation").evaluate("one => one.getScreenCTM().a * Number(one.dataset.scale)"))
    assert after == pytest.approx([before[0] - 30 / scale, before[1], before[2] - 20 / scale], abs=2)
    page.keyboard.press("Control+z")
    settled(page)
    assert lamp_of(project) == pytest.approx(before)
    assert faults(page) == []


def test_the_corners_of_a_plate_are_given_added_and_moved(page, sign_in, project):
    """By its sentence, with the mouse, and with the arrow keys."""
    sign_in()
    page.goto(f"/projects/{project.pk}/")
    page.get_by_role("button", name="Clubroom floor").click()
    page.get_by_role("button", name="Let it go round corners of its own").click()
    handle = page.locator("[data-end='plates.floor.corners.2.place']")
    handle.wait_for()
    settled(page)
    box = handle.bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    drawn(page, (x, y), (x - 60, y + 30))
    settled(page)

    def corners():
        (floor,) = (one for one in project.site.data["plates"] if one["id"] == "floor")
        return [(float(parse(one["x"])), float(parse(one["y"]))) for one in floor["corners"]]

    moved = corners()
    assert len(moved) == 4
    assert moved[2][0] < 5900
    assert moved[2][1] < 5250
    assert [moved[0], moved[1], moved[3]] == [(0, 0), (6000, 0), (0, 5300)]
    handle.press("ArrowRight")
    settled(page)
    assert corners()[2][0] > moved[2][0]
    page.get_by_role("button", name="Add a corner between the last and the first").click()
    page.locator("[data-end='plates.floor.corners.4.place']").wait_for()
    settled(page)
    assert len(corners()) == 5
    page.keyboard.press("Control+z")
    page.locator("[data-end='plates.floor.corners.4.place']").wait_for(state="detached")
