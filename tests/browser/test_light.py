"""Finishes, paint, lamps, cameras and pictures by mouse and by keyboard."""

import pytest

from ashfell.core.base.document import dump
from ashfell.pictures.settings import PictureSettings
from ashfell.services.kept.models import Record
from ashfell.studio.pictures.models import Picture
from ashfell.studio.pictures.tasks import trace_pass
from tests.browser.conftest import VENDOR
from tests.browser.test_story import shown_count, wait_for_view

pytestmark = pytest.mark.browser


def kept(page):
    page.wait_for_function("() => Number(document.querySelector('.bench').dataset.pending || 0) === 0")


def axe(page):
    page.evaluate(VENDOR.joinpath("axe.js").read_text())
    rules = "['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa']"
    found = page.evaluate(f"async () => (await axe.run({{ runOnly: {rules} }})).violations")
    return [(v["id"], [node["html"][:160] for node in v["nodes"][:3]]) for v in found]


@pytest.fixture
def oak(project, person):
    from ashfell.core.finish import LIBRARY

    return Record.start(project, "finish", "own-oak", dump(LIBRARY["smoked-oak"]) | {"name": "Own oak"}, person)


def test_a_finish_is_changed_in_its_sentences_and_traced_anew(page, sign_in, project, oak):
    sign_in()
    page.goto(f"/projects/{project.pk}/finishes/own-oak/", wait_until="commit")
    page.wait_for_function("() => document.getElementById('still').naturalWidth > 0", timeout=60_000)
    before = page.locator("#still").get_attribute("src")
    page.get_by_label("Varnish, 0 to 1").fill("0.8")
    page.keyboard.press("Enter")
    kept(page)
    page.get_by_label("Kind of surface").select_option("metal")
    kept(page)
    oak.refresh_from_db()
    assert (oak.data["kind"], oak.data["metallic"], oak.data["texture"]) == ("metal", 1.0, None)
    page.wait_for_function(
        "(before) => ![null, before].includes(document.getElementById('still').getAttribute('src'))",
        arg=before,
        timeout=60_000,
    )
    page.keyboard.press("Control+z")
    page.wait_for_function("() => document.getElementById('list-kind').value === 'timber'")
    oak.refresh_from_db()
    assert (oak.data["kind"], oak.data["varnish"]) == ("timber", 0.8)
    page.get_by_label("Roughness, 0 a mirror to 1 chalk").fill("3")
    page.keyboard.press("Enter")
    page.locator("#message .refusal, #message [role=alert]").wait_for()
    assert axe(page) == []


def test_the_tile_is_drawn_to_scale_beside_its_rule(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/finishes/larch-timber/", wait_until="commit")
    page.wait_for_function("() => document.getElementById('board').getAttribute('href')", timeout=60_000)
    board, tile = (page.locator(one).evaluate("(shape) => shape.getBBox().width") for one in ("#board", ".looks .tile"))
    assert tile / board == pytest.approx(1 / 1.15, abs=0.001)
    assert page.locator(".looks .figure").all_text_contents() == ["900 mm", "900 mm"]
    assert axe(page) == []


@pytest.mark.in_3d
def test_a_part_is_painted_where_it_is_picked(page, unit):
    canvas = page.locator("#view canvas")
    box = canvas.bounding_box()
    part = ""
    for x, y in ((0.5, 0.5), (0.3, 0.4), (0.7, 0.6), (0.45, 0.3)):
        canvas.click(position={"x": box["width"] * x, "y": box["height"] * y})
        part = page.locator("#paint").get_attribute("data-part") or ""
        if part:
            break
    assert part
    page.get_by_label("Finish of the picked part").select_option("navy-paint")
    page.wait_for_function("(id) => document.getElementById(id)", arg=f"list-painted.{part}")
    kept(page)
    unit.refresh_from_db()
    assert unit.data["painted"] == {part: "navy-paint"}
    page.locator(f'[data-set="painted"][data-value="{part}"]').press("Enter")
    page.wait_for_function("(id) => !document.getElementById(id)", arg=f"list-painted.{part}")
    kept(page)
    unit.refresh_from_db()
    assert unit.data["painted"] == {}


@pytest.mark.in_3d
def test_an_inner_side_is_painted_and_given_to_every_unit(page, unit, project):
    page.get_by_role("button", name="Give the frame another finish on the inner side").click()
    inner = page.get_by_label("Finish of the frame, inside")
    seen = shown_count(page)
    inner.select_option("smoked-oak")
    wait_for_view(page, seen)
    kept(page)
    unit.refresh_from_db()
    assert unit.data["inner"] == {"frame": "smoked-oak"}
    canvas = page.locator("#view canvas")
    box = canvas.bounding_box()
    page.mouse.move(box["x"] + 0.5 * box["width"], box["y"] + 0.5 * box["height"])
    page.mouse.down()
    page.mouse.move(box["x"] + 3.0 * box["width"], box["y"] + 0.5 * box["height"], steps=5)
    page.mouse.up()
    paint, what = page.get_by_label("Finish of the picked part"), page.get_by_label("What is given that finish")
    for share in [k / 40 for k in range(1, 20)]:
        canvas.click(position={"x": box["width"] * share, "y": box["height"] * 0.45})
        if paint.is_visible() and "inside" in (paint.locator("option").first.text_content() or ""):
            break
    assert paint.locator("option").first.text_content() == "Smoked oak, as its role, inside"
    assert what.locator("option").nth(2).text_content() == "all parts: frame, inside, in every unit"
    what.select_option("units")
    paint.select_option("larch-timber")
    page.get_by_text("other units changed.").wait_for()
    units = [one.data["inner"] for one in project.units]
    assert len(units) > 3
    assert all(one == {"frame": "larch-timber"} for one in units)
    page.get_by_role("button", name="Undo in all of them").press("Enter")
    page.get_by_text(f"{len(units) - 1} documents as before.").wait_for()
    assert {one.key: one.data["inner"] for one in project.units if one.data["inner"]} == {
        unit.key: {"frame": "larch-timber"}
    }
    page.get_by_label("Finish of the frame, inside").select_option("")
    kept(page)
    unit.refresh_from_db()
    assert unit.data["inner"] == {}


def test_a_lamp_is_hung_dragged_and_typed(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/")
    wait_for_view(page)
    page.get_by_role("button", name="Add lamp").click()
    handle = page.locator('[data-end="lamps.lamp-1.place"]')
    handle.wait_for()
    kept(page)
    (first,) = project.site.data["lamps"]
    box = handle.bounding_box()
    page.mouse.move(box["x"] + 5, box["y"] + 5)
    page.mouse.down()
    page.mouse.move(box["x"] + 65, box["y"] - 40, steps=4)
    page.mouse.up()
    kept(page)
    (moved,) = project.site.data["lamps"]
    assert (moved["x"], moved["y"]) != (first["x"], first["y"])
    page.get_by_label("Kind of lamp").select_option("spot")
    page.get_by_label("Light in lumens").fill("1200")
    page.keyboard.press("Enter")
    kept(page)
    (lamp,) = project.site.data["lamps"]
    assert (lamp["kind"], lamp["beam"], lamp["lumens"]) == ("spot", 36.0, 1200)
    assert (lamp["x"], lamp["y"]) == (moved["x"], moved["y"])


def test_a_camera_is_aimed_with_the_arrow_keys_and_looked_through(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/")
    wait_for_view(page)
    page.get_by_role("button", name="Add camera").press("Enter")
    aim = page.locator('[data-end="cameras.camera-1.aim"]')
    aim.wait_for()
    kept(page)
    before = project.site.data["cameras"][0]
    aim.focus()
    page.keyboard.press("ArrowRight")
    kept(page)
    after = project.site.data["cameras"][0]
    assert float(after["to_x"].split()[0]) - float(before["to_x"].split()[0]) == pytest.approx(1)
    page.goto(f"/projects/{project.pk}/pictures/")
    page.get_by_role("button", name="Look through it").click()
    page.wait_for_url("**/pictures/?camera=camera-1")
    assert page.get_by_label("Camera y in metres").input_value() == "-8.00"


def test_where_one_stands_is_kept_as_a_camera(page, sign_in, project):
    sign_in()
    page.goto(f"/projects/{project.pk}/pictures/")
    page.get_by_label("Camera z in metres").fill("2.5")
    page.get_by_label("Keep as").fill("From the bank")
    page.get_by_role("button", name="Keep camera").click()
    page.wait_for_url("**/pictures/?camera=camera-1")
    (camera,) = project.site.data["cameras"]
    assert (camera["name"], camera["z"]) == ("From the bank", "2500")


@pytest.fixture
def picture(project, trace_once):
    settings = PictureSettings(camera={"eye": (3, -7, 1.6), "target": (3, 0, 1.5)}, width=96, height=60)
    made = Picture.objects.create(project=project, settings=dump(settings), site=project.composed_site())
    return trace_once("light", made)


def shown(page):
    """The mean colour of the picture that is shown."""
    return page.evaluate(
        """() => {
            const image = document.getElementById('developed');
            const copy = Object.assign(document.createElement('canvas'), { width: 24, height: 15 });
            const context = copy.getContext('2d');
            context.drawImage(image, 0, 0, 24, 15);
            const data = context.getImageData(0, 0, 24, 15).data;
            const sums = [0, 0, 0];
            for (let k = 0; k < data.length; k += 1) if (k % 4 < 3) sums[k % 4] += data[k] / 360;
            return sums;
        }"""
    )


def developed(page):
    page.wait_for_function(
        "() => { const one = document.getElementById('developed');"
        " return one.src.startsWith('blob:') && one.complete && one.naturalWidth > 0; }"
    )


def test_a_picture_is_developed_again_looked_into_and_kept(page, sign_in, project, picture):
    sign_in()
    page.goto(f"/projects/{project.pk}/pictures/{picture.pk}/")
    page.wait_for_function("() => document.getElementById('developed').naturalWidth > 0")
    before = shown(page)
    page.get_by_label("Exposure in stops").fill("2")
    developed(page)
    assert sum(shown(page)) > sum(before) + 20
    assert page.get_by_label("Exposure, dragged").input_value() == "2"
    page.get_by_label("Strength of Sky").fill("much")
    page.locator("#message [role=alert]").wait_for()
    page.get_by_label("Strength of Sky").fill("0")
    page.wait_for_function("() => !document.querySelector('#message [role=alert]')")
    frame = page.locator("#frame")
    frame.focus()
    page.keyboard.press("Enter")
    page.wait_for_function("() => !document.getElementById('seen').innerText.includes('Click')")
    assert axe(page) == []
    page.get_by_role("button", name="Keep", exact=True).press("Enter")
    page.wait_for_load_state("load")
    picture.refresh_from_db()
    assert (picture.developed_as.exposure, picture.developed_as.layers["sky"].strength) == (2, 0)


def test_two_pictures_are_compared_by_a_slider_and_by_difference(page, sign_in, project, picture):
    other = Picture.objects.create(
        project=project, settings=picture.settings, site=picture.site, state="done", passes_done=2
    )
    other.folder.mkdir(parents=True, exist_ok=True)
    other.image.write_bytes(picture.image.read_bytes())
    sign_in()
    page.goto(f"/projects/{project.pk}/pictures/{picture.pk}/?with={other.pk}")
    beside = page.locator("#beside")
    beside.wait_for()
    share = page.get_by_label(f"How much of picture {picture.pk} is shown, in percent")
    share.focus()
    page.keyboard.press("Home")
    assert beside.evaluate("(one) => one.style.clipPath") in ("inset(0px 0px 0px 0%)", "inset(0px 0px 0px)")
    page.locator("#way").select_option("difference")
    assert beside.evaluate("(one) => getComputedStyle(one).mixBlendMode") == "difference"
    assert axe(page) == []


def test_a_region_is_drawn_traced_again_and_shown_when_it_is_done(page, sign_in, project, picture):
    sign_in()
    page.goto(f"/projects/{project.pk}/pictures/{picture.pk}/")
    region, button = page.locator("#region"), page.get_by_role("button", name="Draw it")
    assert region.is_hidden()
    button.click()
    box = page.locator("#developed").bounding_box()
    at = [(box["x"] + box["width"] * x, box["y"] + box["height"] * y) for x, y in ((0.75, 0.8), (0.25, 0.3))]
    page.mouse.move(*at[0])
    page.mouse.down()
    page.mouse.move(*at[1], steps=3)
    page.mouse.up()
    fields = {name: page.get_by_label(name) for name in ("Left edge", "Right edge", "Upper edge", "Lower edge")}
    drawn = [float(field.input_value()) for field in fields.values()]
    assert drawn == pytest.approx([25, 75, 30, 80], abs=1)
    assert page.locator("#seen").text_content().strip() == "Click in the picture."  # it was not looked into
    fields["Left edge"].fill("10")
    assert region.bounding_box()["x"] == pytest.approx(box["x"] + 0.1 * box["width"], abs=2)
    button.press("Enter")
    assert region.is_hidden()
    page.locator("#again select").select_option("draft")
    page.get_by_role("button", name="Trace it again").click()
    page.get_by_text("It is still being traced: 0 of 4 passes.").wait_for()
    made = Picture.objects.get(base=picture)
    assert made.asked_for.region == pytest.approx((0.1, 0.3, 0.75, 0.8), abs=0.02)
    trace_pass.call(made.pk, 0)
    page.get_by_text("1 of 4 passes").wait_for()
    page.locator("#developed").wait_for()
    for number in range(1, made.passes):
        trace_pass.call(made.pk, number)
    page.locator("#look").wait_for()
    page.wait_for_function("() => document.getElementById('developed').naturalWidth > 0")
    assert shown(page)[0] > 0
